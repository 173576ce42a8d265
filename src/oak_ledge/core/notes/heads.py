"""Notes on the head that a size asks for: its height, its eyes, and what of an identity picture can be measured.

Nothing here judges a person: a turned head or an open mouth is for people to see.
"""

from __future__ import annotations

from collections.abc import Iterator

from oak_ledge.core.heads.face_points import FaceMeasured, FacePoints, Faces
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.note import Note, Way
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.head import (
    HeadOnPiece,
    head_length,
    head_on_piece,
    laid_by_head,
)
from oak_ledge.core.reports.tally import Tally

# Of the width, to either side: ISO/IEC 19794-5:2005, 8.3.3 (the head's middle between 45 and 55 %).
MOST_ASIDE = 0.05

# Degrees: ISO/IEC 19794-5:2005, 7.2.2 (rotation in the picture's plane within ±5°).
MOST_TILT = 5.0

# Degrees from which a head that was turned level is said to have been.
FAR_TURN = 20.0

# ΔE*ab of the ground around a head: further apart its parts are seen as another tone at first sight.
MOST_SPREAD = 10.0

# Millimetres of a print, or pixels of a screen, by which the eyes' edges may be blurred (σ).
MOST_BLUR_MM, MOST_BLUR_PX = 0.12, 2.5

# Of a face, burnt out or without any tone.
MOST_CLIPPED = 0.02

# Of the head's height: a crown found within more asks to be looked at by itself.
CROWN_ROUGHLY = 0.05

# The ways of `face-found`.
RIGHT, RIGHT_FOR_ALL = "right", "right_for_all"

_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}


def head_notes(lying: Lying, faces: Faces | None, tally: Tally) -> tuple[Note, ...]:
    """Return every note on the head of a piece; none on a size that asks for no head."""
    if lying.size.head is None:
        return ()
    faces = faces or Faces()
    face = faces.meant
    if face is None:
        return (_unknown(faces),)
    head = head_on_piece(lying, face)
    if head is None:
        text = "The head lies where the squared-up photo does not reach. Remove squaring."
        return (Note(level="stop", code="head", text=text),)
    checks = (
        _asked(lying, face, head),
        _to_check(face, faces),
        _tilt(face, head),
        _aside(lying, head),
        *_pixels(lying, face.measured, head),
        _measured(lying, face.measured, head, tally),
    )
    return tuple(note for note in checks if note is not None)


def _unknown(faces: Faces) -> Note:
    if faces.found:
        text = f"{len(faces.found)} faces were found. Click the one that is meant."
    else:
        text = "No face was found. Set eyes, chin and crown on the photo yourself."
    return Note(level="stop", code="head", text=text)


def _asked(lying: Lying, face: FacePoints, head: HeadOnPiece) -> Note | None:
    """Return by how much head and eyes miss what their size asks, and the one step that comes nearer."""
    asked, eyes = lying.size.head, lying.size.eyes
    assert asked is not None  # it was asked for
    missed, stops = [], False
    if not _between(head.height, asked.allowed()):
        missed.append(f"The head is {rounded(head.height, 1)} {head.unit}, not {asked.words}.")
        stops = not _between(head.height, asked.halting())
    if eyes is not None and not _between(head.eye_line * 100, eyes.allowed()):
        missed.append(
            f"The eyes lie at {rounded(head.eye_line * 100)} % of the height, not {eyes.words}."
        )
        stops = stops or not _between(head.eye_line * 100, eyes.halting())
    if not missed:
        return None
    laid = head_on_piece(laid_by_head(lying, face), face)
    way = None
    if laid is not None and _miss(lying, laid) < _miss(lying, head) - 1e-6:
        height = f"{rounded(laid.height, 1)} {laid.unit}"
        way = f"Make it {height}, eyes at {rounded(laid.eye_line * 100)} %"
    text = " ".join(missed)
    return Note(level="stop" if stops else "look", code="head", text=text, way=way)


def _between(value: float, ends: tuple[float, float]) -> bool:
    return ends[0] - 1e-6 <= value <= ends[1] + 1e-6


def _miss(lying: Lying, head: HeadOnPiece) -> float:
    """Return how far a head and its eyes miss what is asked, as shares of it."""
    asked, eyes = lying.size.head, lying.size.eyes
    assert asked is not None
    wrong = _beyond(head.height, asked.allowed())
    return wrong if eyes is None else wrong + _beyond(head.eye_line * 100, eyes.allowed())


def _beyond(value: float, ends: tuple[float, float]) -> float:
    return max(ends[0] - value, value - ends[1], 0.0) / ends[1]


def _to_check(face: FacePoints, faces: Faces) -> Note | None:
    """Ask for one look at points that were found: nothing found is taken for sure."""
    if not faces.asks or face.found is None:
        return None
    rough = not surely_found(faces)
    text = "Eyes, chin and crown were found. Check the three lines; drag one to put it right."
    if rough:
        text = "The top of the head could not be found for sure: put its line there. Eyes and chin were found; check them too."
    ways = (Way(key=RIGHT, words="They are right"), Way(key=RIGHT_FOR_ALL, words="Right for all"))
    return Note(level="look", code="face-found", text=text, ways=ways[:1] if rough else ways)


def surely_found(faces: Faces | None) -> bool:
    """Return whether the points of a photo were found so surely that one look over many may confirm them."""
    face = None if faces is None or not faces.asks else faces.meant
    if face is None or face.found is None:
        return False
    return face.found.crown_seen and face.found.crown_within <= CROWN_ROUGHLY * face.height


def _tilt(face: FacePoints, head: HeadOnPiece) -> Note | None:
    if abs(head.tilt) > MOST_TILT:
        text = f"The line of the eyes is {rounded(abs(head.tilt))}° off level."
        return Note(level="look", code="head-tilt", text=text, way="Level the eyes")
    if abs(face.tilt) >= FAR_TURN:
        text = f"The photo is turned by {rounded(abs(face.tilt))}° to level the eyes: shoulders and light lean with it."
        return Note(level="look", code="head-tilt", text=text)
    return None


def _aside(lying: Lying, head: HeadOnPiece) -> Note | None:
    if abs(head.aside) <= MOST_ASIDE:
        return None
    away, unit = head_length(lying.size, abs(head.aside) * lying.asked[0])
    side = "right" if head.aside > 0 else "left"
    text = f"The eyes lie {rounded(away)} {unit} to the {side} of the middle."
    return Note(level="look", code="head-aside", text=text)


def _pixels(lying: Lying, measured: FaceMeasured | None, head: HeadOnPiece) -> Iterator[Note]:
    """Return what the face's own pixels say: its ground, its eyes, its tones."""
    if measured is None:
        return
    if (measured.ground_spread or 0) > MOST_SPREAD:
        text = f"The ground behind the head is not even: its tones lie ΔE {rounded(measured.ground_spread or 0)} apart."
        yield Note(level="look", code="ground-uneven", text=text)
    blur, unit, most = _blur(measured, head)
    if blur is not None and blur > most:
        text = f"The eyes are not sharp: their edges are {rounded(blur, 2)} {unit} wide."
        yield Note(level="look", code="eyes-soft", text=text)
    if (measured.clipped or 0) > MOST_CLIPPED:
        text = f"{rounded((measured.clipped or 0) * 100)} % of the face is burnt out or without any tone."
        yield Note(level="look", code="face-clipped", text=text)


def _blur(measured: FaceMeasured, head: HeadOnPiece) -> tuple[float | None, str, float]:
    """Return how wide the eyes' edges are blurred on the piece, the unit, and what of it is too much."""
    if head.unit == "px":
        unit, most, height = "px", MOST_BLUR_PX, head.height
    else:
        unit, most, height = "mm", MOST_BLUR_MM, head.height * _MM[head.unit]
    return None if measured.eye_blur is None else measured.eye_blur * height, unit, most


def _measured(lying: Lying, measured: FaceMeasured | None, head: HeadOnPiece, tally: Tally) -> Note:
    """Return the note that holds every figure of the head."""
    away, unit = head_length(lying.size, abs(head.aside) * lying.asked[0])
    parts = [
        f"Head {rounded(head.height, 1)} {head.unit}",
        f"eyes at {rounded(head.eye_line * 100)} % of the height",
        f"{rounded(abs(head.tilt))}° off level",
        f"{rounded(away, 1)} {unit} off the middle",
    ]
    if measured is not None:
        blur, blur_unit, _ = _blur(measured, head)
        if measured.ground_spread is not None:
            parts.append(f"ground within ΔE {rounded(measured.ground_spread)}")
        if blur is not None:
            parts.append(f"eyes sharp to {rounded(blur, 2)} {blur_unit}")
        if measured.clipped is not None:
            parts.append(f"{rounded(measured.clipped * 100)} % of the face without detail")
    if tally.real_ppi is not None:
        parts.append(f"{rounded(tally.real_ppi, 0)} real ppi")
    return Note(level="fine", code="head-measured", text=f"{', '.join(parts)}.")
