"""A colour profile file that a receiver supplies, as part of a size (ICC.1:2022)."""

from __future__ import annotations

import base64
import binascii
import struct
from typing import Literal, Self

from pydantic import Field, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.values import Value

Colours = Literal["RGB", "grey", "CMYK"]


# Bytes; a printer's largest tables stay under it.
MOST_ICC = 4_000_000


# In 65536ths.
_D50 = (63190, 65536, 54061)


# ICC.1, 7.2: the header; its colour space at 16, its signature at 36.
_HEAD = 128


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
    """Return what kind of colours a profile describes.

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


def grey_profile(name: str) -> bytes:
    """Put together a grey profile with the tone curve of sRGB (ICC.1:2001-04, 6.1, 6.4.2).

    White is that of the profile connection space, D50; the curve is IEC 61966-2-1 at 1024 places.
    """
    curve = [round(_linear(place / 1023) * 65535) for place in range(1024)]
    words = name.encode("ascii")
    parts = [
        (b"cprt", b"text" + bytes(4) + b"no copyright\0"),
        (b"desc", struct.pack(">4s4xI", b"desc", len(words) + 1) + words + bytes(80)),
        (b"kTRC", struct.pack(">4s4xI1024H", b"curv", 1024, *curve)),
        (b"wtpt", struct.pack(">4s4xiii", b"XYZ ", *_D50)),
    ]
    table, body = struct.pack(">I", len(parts)), b""
    for tag, part in parts:
        at = _HEAD + 4 + 12 * len(parts) + len(body)
        table += struct.pack(">4sII", tag, at, len(part))
        body += part + bytes(-len(part) % 4)
    head = struct.pack(">I4xI", _HEAD + len(table) + len(body), 0x02100000) + b"mntrGRAYXYZ "
    head = head.ljust(36, b"\0") + b"acsp"
    head = head.ljust(68, b"\0") + struct.pack(">iii", *_D50)
    return head.ljust(_HEAD, b"\0") + table + body


def _linear(value: float) -> float:
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4
