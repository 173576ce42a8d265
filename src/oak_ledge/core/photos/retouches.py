"""What is painted over or copied on a photo (rules, section 6): kept beside it, never in its file."""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot
from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from oak_ledge.core.errors import FillError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.strokes import Polygons, Strokes, box_of
from oak_ledge.core.values import Coordinate, Value

# Retouches of one photo.
MOST_RETOUCHES = 100

# Of the numbers that stay as they come: others can still be given behind it.
HIGHEST = 10**9 - MOST_RETOUCHES

TRIES = 4

Try = Annotated[int, Field(alias="try", ge=1, le=TRIES)]

Seed = Annotated[int, Field(ge=1, le=10_000)]


class Tried(Value):
    """Something made by one of several tries: which, and the seed they all began with."""

    model_config = ConfigDict(validate_by_name=True, serialize_by_alias=True)

    attempt: Try = 1
    seed: Seed = 1


class Retouch(Tried):
    """One retouch, in photo pixels as stored upright.

    `paint_over` fills what is brushed from what surrounds it, or only from `take_from`;
    `copy_texture` lays there what lies `offset` away, with a soft edge of `soft` of the brush's radius.
    `cut_out` frees a thing from its ground: its polygons say where the thing lies, its strokes what is
    it and, taken away, what is not. `number` names it for good; one that is not `shown` stays in the
    list.
    """

    kind: Literal["paint_over", "copy_texture", "cut_out"]
    strokes: Strokes = ()
    polygons: Polygons = ()
    offset: tuple[Coordinate, Coordinate] | None = None
    soft: float = Field(default=0.5, ge=0, le=1)
    take_from: Strokes = ()
    shown: bool = True
    number: int = Field(default=0, ge=0, le=10**9)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of all that it may change."""
        return box_of(self.strokes, self.polygons)


class Retouches(Value):
    """All retouches of a photo, in the order they were made; `version` counts its changes."""

    retouches: tuple[Retouch, ...] = Field(default=(), max_length=MOST_RETOUCHES)
    version: int = Field(default=0, ge=0)

    @property
    def shown(self) -> tuple[Retouch, ...]:
        """Those that are to be seen."""
        return tuple(retouch for retouch in self.retouches if retouch.shown)

    @property
    def painted(self) -> tuple[Retouch, ...]:
        """Those that are to be seen and change pixels of the photo."""
        return tuple(retouch for retouch in self.shown if retouch.kind != "cut_out")

    @property
    def cut(self) -> Retouch | None:
        """What is cut out of the photo: the last that says so."""
        cuts = [retouch for retouch in self.shown if retouch.kind == "cut_out"]
        return cuts[-1] if cuts else None


NO_RETOUCHES = Retouches()


class RetouchStep(Value):
    """What one step of a placement's history changed of its photo's retouches."""

    before: tuple[Retouch, ...] = Field(default=(), max_length=MOST_RETOUCHES)
    after: tuple[Retouch, ...] = Field(default=(), max_length=MOST_RETOUCHES)


def checked(retouches: Sequence[Retouch], upright: Pixels) -> tuple[Retouch, ...]:
    """Return retouches that a photo can have, each with a number of its own.

    Raises
    ------
    FillError
        If one says nothing, or lies beyond the photo.
    """
    highest = max((earlier.number for earlier in retouches if earlier.number <= HIGHEST), default=0)
    taken: set[int] = set()
    checked_ones = []
    for place, retouch in enumerate(retouches, 1):
        _check(place, retouch, upright)
        number = retouch.number
        if number == 0 or number in taken or number > HIGHEST:
            highest += 1
            number = highest
        taken.add(number)
        checked_ones.append(retouch.model_copy(update={"number": number}))
    return tuple(checked_ones)


def _check(place: int, retouch: Retouch, upright: Pixels) -> None:
    if retouch.kind == "cut_out":
        return
    if all(stroke.away for stroke in retouch.strokes) and not retouch.polygons:
        msg = f"retouch {place} brushes nothing. Brush over a place, or remove it"
        raise FillError(msg)
    left, top, right, bottom = retouch.box
    if right <= 0 or bottom <= 0 or left >= upright[0] or top >= upright[1]:
        msg = f"retouch {place} lies beyond the photo. Brush on the photo, or in a continued ground"
        raise FillError(msg)
    if retouch.kind == "copy_texture" and (retouch.offset is None or hypot(*retouch.offset) < 1):
        msg = f"retouch {place} has no spot to copy from. Choose one at least a pixel away"
        raise FillError(msg)


def needed(retouches: Sequence[Retouch], retouch: Retouch) -> tuple[Retouch, ...]:
    """Return the earlier retouches, shown, that lie under one or under what it copies; all, under a cut-out."""
    if retouch.kind == "cut_out":
        return tuple(other for other in retouches if other.shown and other.kind != "cut_out")
    boxes = [retouch.box]
    if retouch.offset is not None:
        left, top, right, bottom = retouch.box
        across, along = retouch.offset
        boxes.append((left + across, top + along, right + across, bottom + along))
    earlier = []
    for other in retouches:
        if other.number == retouch.number:
            break
        meets = any(_meet(other.box, box) for box in boxes)
        if other.shown and other.kind != "cut_out" and meets:
            earlier.append(other)
    return tuple(earlier)


def _meet(box: tuple[float, ...], other: tuple[float, ...]) -> bool:
    room = 4.0  # what an edge is blended over, and a little
    return (
        box[0] < other[2] + room
        and other[0] < box[2] + room
        and box[1] < other[3] + room
        and other[1] < box[3] + room
    )


def undone(
    now: Sequence[Retouch], before: Sequence[Retouch], after: Sequence[Retouch]
) -> tuple[Retouch, ...]:
    """Take back what one step changed, `before` → `after`, and nothing that came since."""
    was, became = ({retouch.number: retouch for retouch in some} for some in (before, after))
    kept = [
        was.get(retouch.number, retouch) if became.get(retouch.number) == retouch else retouch
        for retouch in now
        if not (
            retouch.number in became
            and retouch.number not in was
            and became[retouch.number] == retouch
        )
    ]
    there = {retouch.number for retouch in kept}
    back = [
        retouch for number, retouch in was.items() if number not in became and number not in there
    ]
    return tuple(sorted((*kept, *back), key=lambda retouch: retouch.number))
