"""A head as the bench shows it: its points on the photo, its lines on the piece, its figures."""

from __future__ import annotations

from fractions import Fraction

from pydantic import BaseModel

from oak_ledge.core.heads.face_points import FacePoints, Faces
from oak_ledge.core.measures.lengths import PER_INCH
from oak_ledge.core.measures.numbers import plain, rounded
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.head import HeadOnPiece, face_on, head_on_piece, is_as_asked
from oak_ledge.core.planes.points import Point
from oak_ledge.core.sheets.copies import most_copies
from oak_ledge.core.sizes.geometry import inches


class FaceShown(BaseModel):
    """A face where the placement's crop is meant: left and right eye as they are seen there, chin, crown."""

    points: tuple[Point, Point, Point, Point]
    chin_within: float
    """± of the chin along the face, in the same pixels; 0 where a person set it"""
    crown_within: float


class SmallSheet(BaseModel):
    """How often a piece lies on a small paper, and what is asked of `sheets` for that."""

    copies: int
    words: str
    """`8 on 10 × 15 cm`"""
    paper: str
    margin: str
    gap: str


class HeadShown(BaseModel):
    """The head of a piece whose size asks for one."""

    face: FaceShown | None
    """the one that is meant; none where it is still to be set or chosen"""
    others: tuple[FaceShown, ...]
    """faces that were found, to choose from; none where there is nothing to choose"""
    asks: bool
    """points were found, and nobody has looked at them yet"""
    on_piece: tuple[Point, Point, Point, Point] | None
    """left eye, right eye, chin and crown as shares of the piece"""
    height: str
    """of the head, as it is typed"""
    unit: str
    height_words: str
    """`34.0 mm`"""
    asked: str
    """`32 to 36 mm`"""
    of_piece: str
    """`of 45 · 76 %`"""
    eyes: str
    """per cent of the piece's height, as it is typed"""
    eyes_asked: str
    eyes_words: str
    """`= 25.4 mm`; empty on a piece without lengths"""
    within: bool
    """head and eyes are as they are asked"""
    sheet: SmallSheet | None
    """as many of it as a small paper holds; None where it holds no two"""


def head_shown(lying: Lying, faces: Faces | None) -> HeadShown | None:
    """Return the head of a piece as it is shown; None where its size asks for none."""
    size = lying.size
    if size.head is None:
        return None
    faces = faces or Faces()
    face = faces.meant
    head = None if face is None else head_on_piece(lying, face)
    choices = faces.found if faces.set is None and len(faces.found) > 1 else ()
    shown = [_face(lying, other) for other in choices]
    figures = _figures(lying, head) if head is not None else dict.fromkeys(_TYPED, "")
    return HeadShown(
        face=None if face is None else _face(lying, face),
        others=tuple(other for other in shown if other is not None),
        asks=faces.asks,
        on_piece=None if head is None else head.points,
        unit=size.head.low.unit,
        asked=size.head.words,
        eyes_asked="" if size.eyes is None else size.eyes.words,
        within=face is not None and is_as_asked(lying, face),
        sheet=_small_sheet(lying),
        **figures,
    )


# The paper that identity pictures are printed on, millimetres, with its margin and the gap between pieces.
_PAPER, _SPACE = (Fraction(100), Fraction(150)), Fraction(2)


def _small_sheet(lying: Lying) -> SmallSheet | None:
    size = lying.size
    lengths = inches(size)
    if lengths is None or size.ppi is None:
        return None
    wide, high = (edge * PER_INCH["mm"] for edge in lengths)
    copies = most_copies((wide, high), _PAPER, _SPACE, _SPACE)
    if copies < 2:
        return None
    space = f"{_SPACE}mm"
    return SmallSheet(
        copies=copies,
        words=f"{copies} on 10 × 15 cm",
        paper=f"10x15cm@{plain(size.ppi)}",
        margin=space,
        gap=space,
    )


_TYPED = ("height", "height_words", "of_piece", "eyes", "eyes_words")


def _face(lying: Lying, face: FacePoints) -> FaceShown | None:
    points = face_on(lying, face)
    if points is None:
        return None
    left, right, chin, crown = points
    found = face.found
    return FaceShown(
        points=(left, right, chin, crown),
        chin_within=0 if found is None else found.chin_within,
        crown_within=0 if found is None else found.crown_within,
    )


def _figures(lying: Lying, head: HeadOnPiece) -> dict[str, str]:
    size, whole = lying.size, float(lying.asked[1])
    eyes, edge = head.eye_line * whole, ""
    lengths = inches(size)
    if head.unit != "px" and lengths is not None and size.ppi is not None:
        scale = float(PER_INCH[head.unit] / size.ppi)
        whole, eyes = whole * scale, eyes * scale
        edge = f"= {eyes:.1f} {head.unit}"
    share = rounded(head.pixels / lying.asked[1] * 100, 0)
    places = 0 if head.unit == "px" else 2 if head.unit == "in" else 1
    return {
        "height": f"{head.height:.{places}f}",
        "height_words": f"{head.height:.{places}f} {head.unit}",
        "of_piece": f"of {rounded(whole, places)} · {share} %",
        "eyes": rounded(head.eye_line * 100),
        "eyes_words": edge,
    }
