"""What a receiver takes: sizes, pixels, resolution, formats, colours, bytes, how many."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import AfterValidator, Field, PlainSerializer, model_validator

from oak_ledge.core.errors import ReceiverError
from oak_ledge.core.measures.bytes import ByteLimit, limit_words
from oak_ledge.core.measures.lengths import Box, ExactBox, ExactLength
from oak_ledge.core.sizes.file.formats import FORMATS, FileFormat
from oak_ledge.core.values import Value

# Pixels along an edge, ppi, and how many of a thing a receiver may name.
MOST_EDGE, MOST_PPI, MOST_NAMED = 1_000_000, 100_000, 200

Edge = Annotated[int, Field(ge=1, le=MOST_EDGE)]
Ppi = Annotated[float, Field(gt=0, le=MOST_PPI)]


def _limit_text(count: int) -> str:
    return limit_words(count).replace(" ", "")


# A limit that travels as people write it: `5MB`.
BytesText = Annotated[ByteLimit, PlainSerializer(_limit_text)]

# Names of profiles that say themselves what they are, as people and files write them.
PROFILES = {"srgb": "sRGB", "p3": "Display P3", "grey": "grey"}


def _some(values: tuple[object, ...] | None) -> tuple[object, ...] | None:
    """Refuse an empty list: it would take nothing at all. Leave the rule out instead."""
    if values is not None and not values:
        msg = "an empty list takes nothing; leave it out to take any"
        raise ReceiverError(msg)
    return values


_Some = AfterValidator(_some)


class Takes(Value):
    """The rules of a receiver; what is left out may be anything.

    `sizes` are printed sizes, turned either way; `pixels` are met exactly, as written; `long_edge` are
    the least and the most pixels of the longer edge; `bleed` is what a print may be larger on every side.
    """

    sizes: Annotated[tuple[ExactBox, ...] | None, _Some] = Field(None, max_length=MOST_NAMED)
    pixels: Annotated[tuple[tuple[Edge, Edge], ...] | None, _Some] = Field(
        None, max_length=MOST_NAMED
    )
    long_edge: tuple[Edge | None, Edge | None] | None = None
    ppi: tuple[Ppi, Ppi] | None = None
    formats: Annotated[tuple[FileFormat, ...] | None, _Some] = Field(None, max_length=len(FORMATS))
    profiles: Annotated[
        tuple[Annotated[str, Field(min_length=1, max_length=80)], ...] | None, _Some
    ] = Field(None, max_length=20)
    at_most: BytesText | None = Field(None, description="bytes of a file, such as 5MB")
    most_files: int | None = Field(None, ge=1, le=100_000, description="that come together")
    first_on_plain_ground: bool = False
    bleed: ExactLength | None = None

    @model_validator(mode="after")
    def _can_be_met(self) -> Self:
        for name, ends in (("long_edge", self.long_edge), ("ppi", self.ppi)):
            if ends and ends[0] is not None and ends[1] is not None and ends[0] > ends[1]:
                words = name.replace("_", " ")
                msg = f"the least {words} ({ends[0]:g}) is above the most ({ends[1]:g})"
                raise ReceiverError(msg)
        if self.bleed is not None and self.sizes is None:
            msg = "a bleed needs the sizes it is added to"
            raise ReceiverError(msg)
        return self

    @property
    def papers(self) -> tuple[Box, ...]:
        """The printed sizes it takes, none where any is taken."""
        return self.sizes or ()


def is_meant(takes: Takes, group: str) -> bool:
    """Return whether a piece of a group of sizes is meant for who takes this, where nobody said so.

    A lab is not handed what is for a screen, a sign no prints; a size of one's own may go to anyone.
    """
    if takes.sizes is not None or takes.ppi is not None:
        return group not in ("marketplace", "screen")
    if takes.pixels is not None:
        return group not in ("print", "frame", "marketplace")
    if takes.long_edge is not None or takes.most_files or takes.first_on_plain_ground:
        return group not in ("print", "frame", "screen")
    return True
