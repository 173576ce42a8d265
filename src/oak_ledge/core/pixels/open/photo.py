"""Open photos: their pixels, streaming or in memory, and what is laid over them."""

from __future__ import annotations

import os
from dataclasses import dataclass, replace
from pathlib import Path
from threading import Semaphore
from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips

from oak_ledge.core.pixels.containers.truncation import refuse_cut_short
from oak_ledge.core.pixels.open.ahead import Ahead
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.decoding import Decoding, dtype_of
from oak_ledge.core.pixels.open.header import channels_of, fits_pixels, icc_of, load, orientation_of
from oak_ledge.core.pixels.open.layers import Scene, laid_out
from oak_ledge.core.pixels.open.orientation import turn_upright

if TYPE_CHECKING:
    import numpy.typing as npt


@dataclass(frozen=True)
class OpenPhoto:
    """A photo's pixels, not yet decoded: stored as in the file, orientation still to apply.

    `image` streams from top to bottom once; `shrink` tells by how much its edges were divided
    on load. Where the photo is decoded into memory, `decoding` has its pixels, and `image` shows those
    that are there; where it streams, `ahead` may have its first rows. `spare` counts the cores that
    nothing is drawn on, where several pieces are cut at once and share them.
    """

    image: Any
    orientation: int
    shrink: int
    icc: bytes | None
    alpha: bool
    decoding: Decoding | None = None
    ahead: Ahead | None = None
    spare: Semaphore | None = None
    cut: bool = False
    """a thing is cut out of it: it is laid on its ground"""


@dataclass(frozen=True)
class Decoded:
    """A photo's file, and its pixels in memory, or on their way there."""

    path: Path
    photo: OpenPhoto
    scene: Scene | None = None


# Where a photo is opened from: its file, its pixels, or its file and what is laid over it.
Source = Path | Decoded | Scene


def open_photo(source: Source, *, shrink: int = 1, colours: bool = False) -> OpenPhoto:
    """Open a photo for one pass from top to bottom; CMYK and other spaces come as sRGB.

    `shrink` 2, 4 or 8 lets a JPEG be decoded at that part of its edges; other formats ignore it, and
    so does what is decoded already. With `colours` a grey photo comes as sRGB too, so that it can stand on a colour.

    Raises
    ------
    PhotoError
        If the header cannot be read. Damage further on appears when pixels are read.
    """
    if isinstance(source, Decoded) and not colours:
        return source.photo
    scene = scene_in(source)
    opened = _opened(path_of(source), 1 if scene else shrink)
    if scene is not None:
        with reading_pixels():
            image = laid_out(opened.image, opened.orientation, scene)
            opened = replace(opened, image=image, alpha=bool(image.hasalpha()))
    opened = replace(opened, cut=is_cut(source))
    return _in_colours(opened) if colours else opened


def _opened(path: Path, shrink: int) -> OpenPhoto:
    """Open a file; its pixels are grey, or RGB of some profile."""
    refuse_cut_short(path)
    image = load(path)
    while shrink > min(image.width, image.height):  # nothing would be left of it
        shrink //= 2
    if shrink > 1 and str(image.get("vips-loader")).startswith("jpeg"):
        image = load(path, shrink=shrink)
    else:
        shrink = 1
    tag = orientation_of(image)
    icc = icc_of(image)
    if channels_of(image) == "CMYK":
        alpha = image.hasalpha()
        with reading_pixels():
            image = image.icc_transform("srgb", embedded=icc is not None, input_profile="cmyk")
        return OpenPhoto(image, tag, shrink, icc_of(image), bool(alpha))
    if image.interpretation not in ("srgb", "rgb16", "b-w", "grey16", "rgb"):
        image = image.colourspace("srgb")
    if icc is not None and not fits_pixels(icc, channels_of(image)):
        icc = None  # a note says so
    return OpenPhoto(image, tag, shrink, icc, bool(image.hasalpha()))


def _in_colours(opened: OpenPhoto) -> OpenPhoto:
    """Return a grey photo as sRGB; one of colours stays as it is."""
    image = opened.image
    if channels_of(image) != "grey":
        return opened
    with reading_pixels():
        if opened.icc is not None:
            depth = 16 if image.format == "ushort" else 8
            image = image.icc_transform("srgb", embedded=True, depth=depth)
        else:
            image = image.colourspace("rgb16" if image.format == "ushort" else "srgb")
    return replace(opened, image=image, icc=icc_of(image), alpha=bool(image.hasalpha()))


def read_ahead(photo: OpenPhoto) -> OpenPhoto:
    """Begin to read an open photo, while whoever wants its rows gets ready for them."""
    if photo.decoding is not None:
        photo.decoding.begin()
        return photo
    return replace(photo, ahead=Ahead(photo.image))


def path_of(source: Source) -> Path:
    """Return the file of a photo."""
    return source if isinstance(source, Path) else source.path


def scene_in(source: Source) -> Scene | None:
    """Return what is laid over a photo, where something is."""
    if isinstance(source, Decoded):
        return source.scene
    return source if isinstance(source, Scene) else None


def is_cut(source: Source) -> bool:
    """Return whether a thing is cut out of a photo."""
    if isinstance(source, Decoded) and source.photo.cut:
        return True
    scene = scene_in(source)
    return scene is not None and scene.cut


def cores_for(source: Source) -> int:
    """Return how many cores a piece may take by itself: all, or one where other pieces share them."""
    return 1 if isinstance(source, Decoded) else os.cpu_count() or 1


def decoded_once(
    source: Path | Scene, *, most_bytes: int, spare: Semaphore | None = None
) -> Source:
    """Decode a photo that pieces will be cut from, each on one core, and on those to spare.

    Photos of more than `most_bytes` are decoded anew each time, so that memory stays flat.
    """
    photo = open_photo(source)
    image = photo.image
    if image.width * image.height * image.bands * np.dtype(dtype_of(image)).itemsize > most_bytes:
        return source
    scene = source if isinstance(source, Scene) else None
    return Decoded(path_of(source), replace(_begun(photo), spare=spare or Semaphore(0)), scene)


def in_memory(photo: OpenPhoto) -> OpenPhoto:
    """Decode a photo whole, so that it can be cut again and again.

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    begun = _begun(photo)
    wait_for(begun)
    return begun


def upright_pixels(source: Path | Scene) -> npt.NDArray[Any]:
    """Decode a photo whole: its own pixels, (H, W, C), upright.

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    opened = in_memory(open_photo(source))
    assert opened.decoding is not None
    return turn_upright(opened.decoding.pixels, opened.orientation)


def wait_for(photo: OpenPhoto) -> None:
    """Wait until a photo that is decoded into memory is there whole; others stream as they are read.

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    if photo.decoding is not None:
        with reading_pixels():
            photo.decoding.wait(photo.image.height)


def _begun(photo: OpenPhoto) -> OpenPhoto:
    """Begin to decode a photo into memory."""
    decoding = Decoding(photo.image)
    kept = pyvips.Image.new_from_array(decoding.pixels, interpretation=photo.image.interpretation)
    return replace(photo, image=kept, decoding=decoding)


def on_white(image: Any) -> Any:
    """Lay transparent parts on white; a picture without any stays as it is."""
    if not image.hasalpha():
        return image
    return image.flatten(background=[255 if image.format == "uchar" else 65535])
