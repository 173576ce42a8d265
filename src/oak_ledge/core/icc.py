"""A colour profile file that a receiver supplies, as part of a size (ICC.1:2022)."""

from __future__ import annotations

import base64
import binascii
from typing import Literal, Self

from pydantic import Field, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.values import Value

Colours = Literal["RGB", "grey", "CMYK"]
MOST_ICC = 4_000_000  # bytes; a printer's largest tables stay under it
_HEAD = 128  # ICC.1, 7.2: the header; its colour space at 16, its signature at 36
_COLOURS: dict[bytes, Colours] = {b"RGB ": "RGB", b"GRAY": "grey", b"CMYK": "CMYK"}


class ReceiverProfile(Value):
    """The receiver's own profile: its name as people say it, and the file in base64."""

    name: str = Field(min_length=1, max_length=80)
    data: str = Field(repr=False)

    @model_validator(mode="after")
    def _can_be_used(self) -> Self:
        colours_of(self.icc)
        return self

    @property
    def icc(self) -> bytes:
        """The bytes of the profile file."""
        try:
            return base64.b64decode(self.data, validate=True)
        except binascii.Error as exc:
            msg = "the profile is not base64"
            raise SizeError(msg) from exc

    @property
    def colours(self) -> Colours:
        """The kind of colours it describes; of the whole file only the head is looked at."""
        return _COLOURS[base64.b64decode(self.data[: 4 * _HEAD // 3 + 2])[16:20]]


def receiver_profile(name: str, icc: bytes) -> ReceiverProfile:
    """Take in a profile file.

    Raises
    ------
    SizeError
        If it is none, or of a kind that no file can be made in.
    """
    colours_of(icc)
    return ReceiverProfile(name=name[:80], data=base64.b64encode(icc).decode())


def colours_of(icc: bytes) -> Colours:
    """Say what kind of colours a profile describes.

    Raises
    ------
    SizeError
        If it is no colour profile, is too large, or is for other colours.
    """
    if len(icc) > MOST_ICC:
        msg = f"the profile has {len(icc) / 1e6:.1f} MB; at most {MOST_ICC / 1e6:.0f} MB are taken"
        raise SizeError(msg)
    if len(icc) < _HEAD or icc[36:40] != b"acsp":
        msg = "that is not a colour profile; the receiver's file usually ends in .icc or .icm"
        raise SizeError(msg)
    colours = _COLOURS.get(icc[16:20])
    if colours is None:
        msg = "the profile is neither for RGB, grey nor CMYK; ask the receiver for one of these"
        raise SizeError(msg)
    return colours
