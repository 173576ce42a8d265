"""Frames and mats: what of a print will be seen (rules, section 6).

Frame opening, mat outer size, mat window and print are separate lengths. The opening takes the
print, or the mat with the print behind it; the frame's lip laps over its edge all round.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from pydantic import Field, model_validator

from oak_ledge.core.measures.lengths import ExactBox, ExactLength, Length
from oak_ledge.core.values import Value, says_nothing

# Width and height, exact.
Inches = tuple[Fraction, Fraction]


NO_LENGTH = Length(Fraction(0), "mm")


USUAL_MOULDING = Length(Fraction(20), "mm")


class Mat(Value):
    """A mat: its outer size, and the window cut into it; a round one is as wide and as high as it says."""

    outer: ExactBox
    window: ExactBox
    round: bool = Field(default=False, exclude_if=says_nothing)

    @model_validator(mode="before")
    @classmethod
    def _read_round(cls, value: Any) -> Any:
        """Take `28x38cm round` for a round window, as it is written."""
        window = value.get("window") if isinstance(value, dict) else None
        if not isinstance(window, str) or not window.strip().lower().endswith("round"):
            return value
        return value | {"window": window.strip()[: -len("round")], "round": True}

    @property
    def window_text(self) -> str:
        """How the window is written: `28x38cm`, `28x38cm round`."""
        return f"{self.window} round" if self.round else str(self.window)


class Frame(Value):
    """A frame, its lengths the way the print is written, width first."""

    opening: ExactBox | None = Field(
        default=None, description="what the frame takes; None: as large as the mat or the print"
    )
    lip: ExactLength = Field(default=NO_LENGTH, description="hides so much of each edge")
    moulding: ExactLength = Field(default=USUAL_MOULDING, description="width of the wood")
    mat: Mat | None = None


def turned_frame(frame: Frame) -> Frame:
    """Return a frame with width and height traded everywhere."""
    mat = frame.mat
    if mat is not None:
        mat = mat.model_copy(update={"outer": mat.outer.turned, "window": mat.window.turned})
    opening = None if frame.opening is None else frame.opening.turned
    return frame.model_copy(update={"opening": opening, "mat": mat})


def seen_in(frame: Frame, printed: Inches) -> Inches:
    """Return what will be seen of a print: the mat's window, else the print less the lip all round.

    A window larger than the print shows the whole print. Not above 0 where nothing is left.
    """
    if frame.mat is not None:
        window = frame.mat.window.inches
        return min(window[0], printed[0]), min(window[1], printed[1])
    lip = frame.lip.inches
    return printed[0] - 2 * lip, printed[1] - 2 * lip


def outer_of(frame: Frame, printed: Inches) -> Inches:
    """Return the outer edge of the frame: its opening less the lip, and the moulding all round.

    The opening is the rebate the print lies in; the moulding's width counts from its sight edge.
    """
    opening = frame.opening or (frame.mat.outer if frame.mat else None)
    width, height = printed if opening is None else opening.inches
    more = 2 * (frame.moulding.inches - frame.lip.inches)
    return width + more, height + more
