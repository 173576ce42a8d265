"""Whether arrays that were kept, or came from elsewhere, are what they say: kind, shape and size.

Their headers are looked at before any of them is taken into memory, and nothing in them is executed.
"""

from __future__ import annotations

import re
import zipfile
from collections.abc import Mapping
from typing import IO, TYPE_CHECKING, Any

import numpy as np
from numpy.lib import format as npy

if TYPE_CHECKING:
    import numpy.typing as npt

# Of all arrays of a file: the largest ground that is made, at 16 bits.
MOST_BYTES = 4_000_000_000

# Four patches of a ground, or one of a retouch, and what orders a try.
_MOST_ARRAYS = 420

# Bytes before an array's values.
_MOST_HEADER = 4096

# Pixels of the squares that tries are compared on.
_THUMB = 240

# A side that is filled by itself, or from a source of its own.
_SIDE = "((own_)?(left|top|right|bottom)_)?"

# What each array may hold: kinds of values, and how many axes.
_KNOWN: tuple[tuple[re.Pattern[str], tuple[type, ...], tuple[int, ...]], ...] = (
    (re.compile(r"at\d{1,3}"), (np.int64,), (1,)),
    (re.compile(r"pixels\d{1,3}"), (np.uint8, np.uint16), (3,)),
    (re.compile("figures"), (np.float64,), (1,)),
    (re.compile("thumb"), (np.float32,), (3,)),
    (re.compile("hole"), (np.float32,), (2,)),
    (re.compile(f"{_SIDE}scalars"), (np.float64,), (1,)),
    (re.compile(f"{_SIDE}(from_y|from_x)"), (np.int16,), (2,)),
    (re.compile(f"{_SIDE}colours|picture"), (np.float32,), (3,)),
    (re.compile(f"{_SIDE}light"), (np.float32,), (2,)),
)


def is_sound_file(file: IO[bytes]) -> bool:
    """Return whether a file holds known arrays of the sizes it says, by its headers alone.

    Each array is stored as it is, so that a file takes no more memory than it has bytes.
    """
    try:
        with zipfile.ZipFile(file) as held:
            members = held.infolist()
            if not members or len(members) > _MOST_ARRAYS:
                return False
            if sum(member.file_size for member in members) > MOST_BYTES:
                return False
            if len({member.filename for member in members}) < len(members):
                return False
            return all(_is_sound_member(held, member) for member in members)
    except (
        zipfile.BadZipFile,
        OSError,
        ValueError,
        EOFError,
        KeyError,
        RuntimeError,
        NotImplementedError,
    ):
        return False


def _is_sound_member(held: zipfile.ZipFile, member: zipfile.ZipInfo) -> bool:
    stored = member.compress_type == zipfile.ZIP_STORED and member.file_size == member.compress_size
    if not stored or not member.filename.endswith(".npy") or member.flag_bits & 1:
        return False
    with held.open(member) as array:
        major, _ = npy.read_magic(array)
        read = npy.read_array_header_1_0 if major == 1 else npy.read_array_header_2_0
        shape, _, kind = read(array, max_header_size=_MOST_HEADER)
        begins = array.tell()
    whole = 1
    for edge in shape:
        whole *= edge
    return _is_known(member.filename.removesuffix(".npy"), kind, shape) and (
        begins + whole * kind.itemsize == member.file_size
    )


def _is_known(name: str, kind: np.dtype[Any], shape: tuple[int, ...]) -> bool:
    return any(
        known.fullmatch(name) and kind.type in kinds and kind.isnative and len(shape) in axes
        for known, kinds, axes in _KNOWN
    )


Arrays = Mapping[str, "npt.NDArray[Any]"]


def are_patches(
    arrays: Arrays, like: npt.NDArray[Any], *, within: bool, more_bands: int = 0
) -> bool:
    """Return whether arrays are patches for a photo, (H, W, C); `within` it, or beside it.

    They have `more_bands` than the photo.
    """
    count = sum(name.startswith("at") for name in arrays)
    high, wide, bands = like.shape
    for n in range(count):
        at, pixels = arrays.get(f"at{n}"), arrays.get(f"pixels{n}")
        if at is None or pixels is None or at.shape != (2,) or pixels.dtype != like.dtype:
            return False
        if pixels.ndim != 3 or pixels.shape[2] != bands + more_bands or not pixels.size:
            return False
        left, top = int(at[0]), int(at[1])
        ends = (left + pixels.shape[1], top + pixels.shape[0])
        if within and not (left >= 0 and top >= 0 and ends[0] <= wide and ends[1] <= high):
            return False
    return count > 0


def are_look(arrays: Arrays) -> bool:
    """Return whether arrays hold what orders a try."""
    figures, thumb, hole = (arrays.get(name) for name in ("figures", "thumb", "hole"))
    if figures is None or thumb is None or hole is None:
        return False
    return (
        figures.shape == (2,)
        and thumb.shape == (_THUMB, _THUMB, 3)
        and hole.shape == (_THUMB, _THUMB)
        and bool(np.isfinite(figures).all())
    )


def is_picture(arrays: Arrays, hole: npt.NDArray[np.bool_]) -> bool:
    """Return whether arrays hold the picture of a grid with such a hole, (h, w)."""
    picture = arrays.get("picture")
    return picture is not None and picture.shape == (*hole.shape, 3)


def are_solved(arrays: Arrays, which: str, hole: npt.NDArray[np.bool_]) -> bool:
    """Return whether arrays fill a grid with such a hole, (h, w): every place they name is in it.

    Their names begin with `which`.
    """
    high, wide = hole.shape
    shapes = {"from_y": (high, wide), "from_x": (high, wide), "colours": (high, wide, 3)}
    arrays = {
        name.removeprefix(which): array for name, array in arrays.items() if name.startswith(which)
    }
    if any(name not in arrays or arrays[name].shape != shape for name, shape in shapes.items()):
        return False
    light, scalars = arrays.get("light"), arrays.get("scalars")
    if light is not None and light.shape != (high, wide):
        return False
    if scalars is None or scalars.shape != (2,) or not np.isfinite(scalars).all() or not scalars[0]:
        return False
    from_y, from_x = arrays["from_y"][hole], arrays["from_x"][hole]
    if not from_y.size:
        return True
    inside = from_y.min() >= 0 and from_y.max() < high and from_x.min() >= 0
    return bool(inside and from_x.max() < 2 * wide)
