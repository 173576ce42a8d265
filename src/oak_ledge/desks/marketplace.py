"""A marketplace: large enough, on a plain ground where it is square, not too heavy, not too many."""

from __future__ import annotations

from oak_ledge.core.files.proof import Measured
from oak_ledge.core.files.wishes import Wish
from oak_ledge.core.pixels.subject.dropper import plain_edges
from oak_ledge.core.sizes.file.formats import FileFormat
from oak_ledge.desks.desk import Answer, Fix, Parcel

LEAST_EDGE, MOST_BYTES, MOST_PICTURES = 1600, 5_000_000, 12
FORMATS = ("jpeg", "png", "webp")


class Marketplace:
    """A stall of a marketplace."""

    name, title = "marketplace", "Marketplace"
    wants = (
        "longest edge 1600 px or more, at most 5 MB and 12 pictures, the first on a plain ground"
    )

    def is_for(self, parcel: Parcel) -> bool:
        """Return whether such a file is meant for this desk at all."""
        return parcel.group == "marketplace" or (
            parcel.group == "own" and parcel.measured.ppi is None
        )

    def check(self, parcel: Parcel) -> Answer:
        """Return what it would answer to a file."""
        measured, reasons, fixes = parcel.measured, [], []
        if measured.format not in FORMATS:
            reasons.append(
                f"it is {measured.format.upper()}; this marketplace takes JPEG, PNG and WebP"
            )
            fixes.append(Fix("Make it a JPEG", Wish(format="jpeg")))
        if max(measured.width, measured.height) < LEAST_EDGE:
            reasons.append(
                f"longest edge {max(measured.width, measured.height)} px; this marketplace wants {LEAST_EDGE}"
            )
            larger = LEAST_EDGE / max(measured.width, measured.height)
            pixels = f"{round(measured.width * larger)}x{round(measured.height * larger)}px"
            fixes.append(Fix(f"Make it {pixels}", Wish(lay_on=pixels)))
        if measured.bytes > MOST_BYTES:
            reasons.append(f"it has {measured.bytes / 1e6:.2f} MB; at most 5 MB are taken")
            fixes.append(
                Fix("Make it at most 5MB", Wish(format=_lossy(measured), at_most=MOST_BYTES))
            )
        if parcel.number > MOST_PICTURES:
            reasons.append(f"it is picture {parcel.number}; a listing shows {MOST_PICTURES}")
        if parcel.number == 1 and not plain_edges(parcel.path):
            reasons.append(
                "the first picture must stand on a plain ground to its very edges, or another be first"
            )
            fixes.append(Fix("Cut the thing out, on white", Wish(on_white=True, cut_out=True)))
        return Answer(tuple(reasons), tuple(fixes))


def _lossy(measured: Measured) -> FileFormat:
    """Return a format whose bytes can be limited."""
    return "webp" if measured.format == "webp" else "jpeg"
