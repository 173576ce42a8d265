"""Notes on the crop: what is blank, trimmed, stretched, left empty, a strip at an edge."""

from __future__ import annotations

from math import log

from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.note import Note
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.geometry import edges_of
from oak_ledge.core.sizes.size import Size

# Of the photo: less is the hair by which a shape differs.
CUT = 0.005


def blank_corners(size: Size, tally: Tally) -> Note | None:
    """Stop a crop that reaches beyond the photo where no ground fills."""
    if tally.uncovered == 0 or size.differ == "extend":
        return None
    share = rounded(tally.uncovered * 100, 1 if tally.uncovered >= 0.001 else 3)
    return Note(
        level="stop",
        code="blank-corners",
        text=(
            f"{share} % of the piece lies beyond the photo, and nothing fills it. "
            "Choose a ground, or move the crop inside."
        ),
    )


def strip(side: str, share: float) -> Note:
    """Look where a narrow strip of other content is caught at an edge."""
    text = (
        f"A strip of {rounded(share * 100)} % at the {side} edge looks unlike what is beside it. "
        "Tighten the crop, or take more of it in."
    )
    return Note(level="look", code="sliver", text=text)


def trimmed(size: Size, tally: Tally) -> Note | None:
    """Look where a crop keeps little of its shape, or the shape costs much of the photo.

    A window is as large as it is, a free crop as it was drawn, and one by a head as the head asks: none is a slip.
    """
    if size.shape.whole_pixels or size.shape.open_ratio or size.head is not None:
        return None
    if tally.kept >= 0.60 and tally.shape_cost <= 0.45:
        return None
    sides = _sides(tally)
    if tally.kept < 0.60:
        why = f"The crop keeps {rounded(tally.kept * 100, 0)} % of the largest of its shape"
    else:
        why = f"This shape alone costs {rounded(tally.shape_cost * 100, 0)} % of the photo"
    return Note(level="look", code="trimmed", text=f"{why}; trimmed: {sides}.")


def _sides(tally: Tally) -> str:
    """Name the sides that are trimmed, with their shares."""
    return ", ".join(
        f"{rounded(share * 100, 0)} % {name}"
        for name, share in tally.trimmed_sides.model_dump().items()
        if share >= 0.005
    )


def cut_by_extend(size: Size, tally: Tally) -> Note | None:
    """Look where a size that extends, so that all of a photo is there, trims it all the same."""
    extends = size.differ == "extend" and size.shape.fixes_shape and not size.shape.whole_pixels
    if not extends or size.fills is not None or tally.trimmed < CUT:
        return None
    share = rounded(tally.trimmed * 100, 1 if tally.trimmed < 0.1 else 0)
    return Note(
        level="look",
        code="cut-by-extend",
        text=(
            f"This size takes the whole photo in, but the crop leaves {share} % of it out: "
            f"{_sides(tally)}. Loosen it, or put it back in the middle."
        ),
        way="Take the whole photo in",
    )


def stretched(tally: Tally) -> Note | None:
    """Flag every stretch over a thousandth, measured against the dots of its screen.

    Four corners made to fit are flagged beyond what is known of their true proportions.
    """
    if abs(log(1 + tally.stretch)) <= max(0.001, log(tally.unsure)):
        return None
    wider = tally.stretch > 0
    share = tally.stretch if wider else 1 / (1 + tally.stretch) - 1
    return Note(
        level="look",
        code="stretched",
        text=(
            f"The picture is stretched: {rounded(share * 100)} % "
            f"{'wider' if wider else 'taller'} than it is."
        ),
    )


def face_unused(size: Size, tally: Tally) -> Note | None:
    """Look where over a tenth of a screen's face would stay empty."""
    if size.group != "screen" or size.differ != "inside":
        return None
    (_, wide), (_, high) = edges_of(size)
    empty = 1 - tally.width * tally.height / (wide * high)
    if empty <= 0.10:
        return None
    return Note(
        level="look",
        code="face-unused",
        text=(
            f"{rounded(empty * 100, 0)} % of the screen's face stays empty: the picture is "
            f"{tally.width} × {tally.height} px of {wide} × {high}."
        ),
    )
