"""The points of a face on its photo: both eyes, the chin, the crown (rules, section 6, "Head").

Points are photo pixels of the upright photo, x right, y down. "Left" and "right" are those of the picture.
"""

from __future__ import annotations

from math import atan2, degrees, hypot
from typing import Self

from pydantic import Field, ValidationError, model_validator

from oak_ledge.core.errors import FaceError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.planes.points import Point
from oak_ledge.core.values import Coordinate, Value, says_nothing

PhotoPoint = tuple[Coordinate, Coordinate]

# Of eyes to chin: a head whose crown is not this far above its eyes is none.
LOWEST_CROWN = 0.2

# Faces that are kept of one photo.
MOST_FACES = 40


class FaceFound(Value):
    """How sure a found face is: shares of 0…1, and ± in photo pixels along the face's own axis."""

    sure: float = Field(ge=0, le=1)
    chin_within: float = Field(ge=0)
    crown_within: float = Field(ge=0)
    crown_seen: bool = Field(
        description="false: reckoned from eyes and chin, as it could not be seen"
    )


class FaceMeasured(Value):
    """What was measured of a face's pixels, so far as it needs no judgement of a person.

    `ground_spread`: how far the ground around the head strays from its middle colour, in CIE ΔE*ab, 19 of 20 parts
    of it; `eye_blur`: how wide edges at the eyes are blurred (σ), as a share of the head's height; `clipped`: which
    share of the face is burnt out or without any tone. None where it could not be measured.
    """

    ground_spread: float | None = Field(default=None, ge=0)
    eye_blur: float | None = Field(default=None, ge=0)
    clipped: float | None = Field(default=None, ge=0, le=1)


class FacePoints(Value):
    """Both eyes, chin and crown of one face. `found` is None where a hand put them."""

    left_eye: PhotoPoint
    right_eye: PhotoPoint
    chin: PhotoPoint
    crown: PhotoPoint
    found: FaceFound | None = Field(default=None, exclude_if=says_nothing)
    measured: FaceMeasured | None = Field(default=None, exclude_if=says_nothing)

    @model_validator(mode="after")
    def _is_a_face(self) -> Self:
        across, down = self._axes()
        if hypot(*across) < 1:
            msg = "both eyes lie on one point. Put one on either eye"
            raise FaceError(msg)
        chin, crown = self._below(self.chin, across, down), self._below(self.crown, across, down)
        if chin < 1:
            msg = "the chin lies above the eyes. Give both eyes from left to right, then chin and crown"
            raise FaceError(msg)
        if crown > -LOWEST_CROWN * chin:
            msg = "the crown does not lie above the eyes. Give both eyes from left to right, then chin and crown"
            raise FaceError(msg)
        return self

    @property
    def eyes(self) -> Point:
        """The midpoint of both eyes."""
        (x0, y0), (x1, y1) = self.left_eye, self.right_eye
        return (x0 + x1) / 2, (y0 + y1) / 2

    @property
    def height(self) -> float:
        """From crown to chin as a straight line, in photo pixels."""
        return hypot(self.crown[0] - self.chin[0], self.crown[1] - self.chin[1])

    @property
    def tilt(self) -> float:
        """Degrees by which the line of the eyes falls to the right, −180…180."""
        (x0, y0), (x1, y1) = self.left_eye, self.right_eye
        return degrees(atan2(y1 - y0, x1 - x0))

    @property
    def points(self) -> tuple[Point, Point, Point, Point]:
        """Left eye, right eye, chin and crown."""
        return self.left_eye, self.right_eye, self.chin, self.crown

    def _axes(self) -> tuple[Point, Point]:
        (x0, y0), (x1, y1) = self.left_eye, self.right_eye
        across = (x1 - x0, y1 - y0)
        return across, (-across[1], across[0])

    def _below(self, point: Point, across: Point, down: Point) -> float:
        """Return how far a point lies below the line of the eyes, in photo pixels."""
        x, y = self.eyes
        return ((point[0] - x) * down[0] + (point[1] - y) * down[1]) / hypot(*across)


class Faces(Value):
    """The faces of a photo: those `found`, the tallest first, which of them was `picked`, and the one a person `set`.

    What is `set` was put there, or confirmed, by a person; nothing found is ever taken for sure.
    """

    found: tuple[FacePoints, ...] = Field(default=(), max_length=MOST_FACES)
    picked: int | None = Field(default=None, ge=0)
    set: FacePoints | None = None

    @model_validator(mode="after")
    def _is_there(self) -> Self:
        if self.picked is not None and self.picked >= len(self.found):
            msg = f"{len(self.found)} faces were found, so there is no face {self.picked}"
            raise FaceError(msg)
        return self

    @property
    def meant(self) -> FacePoints | None:
        """The face that pieces are laid by; None where there is none, or one is still to be chosen."""
        if self.set is not None:
            return self.set
        if self.picked is not None:
            return self.found[self.picked]
        return self.found[0] if len(self.found) == 1 else None

    @property
    def asks(self) -> bool:
        """Whether a person should look: at points that were found, or at which face is meant."""
        return self.set is None and bool(self.found)


NO_FACES = Faces()


class FaceStep(Value):
    """What one step of a placement's history changed of its photo's faces."""

    before: Faces
    after: Faces


def on_photo(face: FacePoints, upright: Pixels) -> FacePoints:
    """Return a face that lies on its photo: eyes and chin on it, the crown beyond by no more than the photo is large.

    Raises
    ------
    FaceError
        If it does not.
    """
    wide, high = upright
    seen = all(
        0 <= x <= wide and 0 <= y <= high for x, y in (face.left_eye, face.right_eye, face.chin)
    )
    x, y = face.crown
    near = -high <= y <= 2 * high and -wide <= x <= 2 * wide
    if not (seen and near):
        msg = "eyes and chin lie beyond the photo. Put both on it; only the crown may be cut off"
        raise FaceError(msg)
    return face


def read_face(text: str) -> FacePoints:
    """Read `EX,EY,EX,EY,CX,CY,TX,TY`: both eyes, chin, crown, in photo pixels upright.

    Raises
    ------
    FaceError
        If they are not eight numbers, or no face.
    """
    try:
        values = [float(part) for part in text[:400].split(",")]
        left, right, chin, crown = zip(values[::2], values[1::2], strict=True)
    except ValueError as exc:
        msg = "these are not four points. Write eight numbers like 410,520,590,515,505,760,500,300: both eyes, chin, crown"
        raise FaceError(msg) from exc
    return face_at((left, right, chin, crown))


def face_at(points: tuple[Point, Point, Point, Point]) -> FacePoints:
    """Return the face a hand put: left eye, right eye, chin, crown.

    Raises
    ------
    FaceError
        If they are no face.
    """
    left, right, chin, crown = points
    try:
        return FacePoints(left_eye=left, right_eye=right, chin=chin, crown=crown)
    except ValidationError as exc:
        msg = exc.errors()[0]["msg"].removeprefix("Value error, ")
        raise FaceError(msg) from exc
