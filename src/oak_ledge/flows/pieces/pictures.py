"""Pictures of finished pieces as they will look, cut by the code that makes their files."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import numpy as np
from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.marks.laid import LaidMark
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.crop import strip
from oak_ledge.core.notes.note import Note
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.draft import finest_step
from oak_ledge.core.pixels.encode.encode import encode_picture, encode_preview
from oak_ledge.core.pixels.finish.sharpen import sharpening_of
from oak_ledge.core.pixels.finish.sides import preview_with_sides
from oak_ledge.core.pixels.marks.lay import lay_mark
from oak_ledge.core.pixels.open.header import upright_size
from oak_ledge.core.pixels.open.photo import Decoded, Source, in_memory, open_photo
from oak_ledge.core.pixels.render import Behind, render, share_beyond
from oak_ledge.core.pixels.subject.dropper import pixels_of
from oak_ledge.core.pixels.subject.edge_strip import Picture, strip_at_edge
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import changed, photo_quartered
from oak_ledge.core.placements.scene_geometry import on_scene
from oak_ledge.core.placements.sides import with_continued_sides
from oak_ledge.core.planes.surface import Squared, Surface
from oak_ledge.core.sizes.file_geometry import side_shares
from oak_ledge.core.sizes.ground import CLEAR
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import profile_words
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.marks.laid import boxes_on, laid_here
from oak_ledge.flows.photos.backdrops import behind
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview, turned_preview
from oak_ledge.flows.photos.scene_pictures import ground_preview
from oak_ledge.flows.photos.scenes import scene_if_made
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.photos import present
from oak_ledge.store.placements import Placed

PIECE_MOST_EDGE = 1600


@dataclass(frozen=True)
class _Shown:
    """What is drawn of a placement: a size at work, a crop, the pixels to show of it and its own."""

    size: Size
    surface: Surface
    crop: Crop
    shown: Pixels
    whole: Pixels
    picture: Path
    """the photo's preview, or that of its scene, on which the crop is meant"""
    marks: bool = False
    """stripe what the file's profile cannot hold"""
    rough: bool = False
    """the picture will do, however little of it is seen"""
    mark: LaidMark | None = None
    """what is laid over it"""
    behind: Behind | None = None
    """the photo behind it"""

    @property
    def cut(self) -> bool:
        """Whether the picture is of a thing cut out, all else of it clear."""
        return self.picture.suffix == ".png"

    @property
    def clear(self) -> bool:
        """Whether it is a thing cut out, on a clear ground."""
        return self.cut and self.size.ground == CLEAR and self.behind is None


def plane_preview(workspace: Workspace, placed: Placed, edge: int) -> Path:
    """Return the whole photo on the plane that four corners define, squared up."""
    size, plane = placed.lying.size, placed.lying.surface
    if not isinstance(plane, Squared):
        msg = f"Placement {placed.id} has no corners squared up."
        raise NotFoundError(msg)
    left, top, width, height = plane.bounds
    shown = _fitted(width, height, edge)
    plain = size.model_copy(update={"sharpen_for": "off", "method": "auto", "outline": None})
    crop = Crop(left, top, width, height)
    picture = photo_preview(workspace, placed.photo, PREVIEW_EDGE)
    whole = (max(1, round(width)), max(1, round(height)))
    drawn = _Shown(plain, plane, crop, shown, whole, picture, rough=True)
    return _kept_piece(workspace, placed, drawn)


def piece_preview(
    workspace: Workspace,
    placed: Placed,
    edge: int,
    *,
    marks: bool = False,
    asks: bool = True,
    with_mark: bool = True,
) -> Path:
    """Return the finished piece as it will look, its longer edge at most `edge` pixels.

    Cut by the same code as the file. From the photo's preview where that holds as many pixels
    as are shown, else from the original. With `marks`, what the file's profile cannot hold is
    striped; the preview is sRGB already, so that is always found in the original. Where it `asks`,
    what of its scene is missing is made for the next look. Its mark is on it, if it is `with_mark`.
    """
    mark = None
    if with_mark:
        with suppress(CoreError):  # one that can't be laid is told by a note
            mark = laid_here(workspace, placed)
    shown = replace(_shown(workspace, placed, edge, asks=asks), marks=marks, mark=mark)
    return _kept_piece(workspace, placed, shown)


def passing_preview(workspace: Workspace, placed: Placed, edge: int) -> bytes:
    """Return the piece as it would look, as a JPEG that is kept nowhere: the hand is still moving it."""
    shown = replace(_shown(workspace, placed, edge, asks=False), rough=True)
    return _draw_piece(workspace, placed, shown)


def sides_preview(workspace: Workspace, placed: Placed, edge: int) -> bytes:
    """Return a stretched canvas with the sides it is turned over by, as a JPEG.

    Raises
    ------
    NotFoundError
        If it has none of its own.
    """
    lying = placed.lying
    share, sides = side_shares(lying.size, lying.asked), lying.size.sides
    if share is None or sides is None:
        msg = f"Placement {placed.id} has no sides of its own."
        raise NotFoundError(msg)
    opened = with_continued_sides(lying)
    if opened is lying:
        return preview_with_sides(
            piece_preview(workspace, placed, edge, with_mark=False), share, sides.ground
        )
    placement = changed(opened.placement, continued=None)
    whole = replace(placed, size=opened.size, placement=placement)
    return piece_preview(workspace, whole, edge, with_mark=False).read_bytes()


def _fitted(width: float, height: float, edge: int) -> Pixels:
    """Return the pixels of a picture that is no larger than an edge, and never enlarged."""
    fit = min(1.0, edge / max(width, height))
    return max(1, round(width * fit)), max(1, round(height * fit))


class Beyond(BaseModel):
    """What of a piece its file's profile cannot hold: the share, 0 to 1, and that in words."""

    share: float
    text: str


def beyond_profile(workspace: Workspace, placed: Placed) -> Beyond:
    """Measure what of a piece lies beyond its file's profile, on a small picture of it."""
    shown = _shown(workspace, placed, 600)
    source, shown = _from_scene(workspace, placed, shown)
    share = share_beyond(source, shown.size, shown.crop, shown.shown, shown.surface)
    name = profile_words(shown.size.file)
    if share == 0:
        return Beyond(share=0, text=f"{name} holds every colour of this piece.")
    per_cent = rounded(share * 100) if share >= 0.0005 else "under 0.1"
    return Beyond(share=share, text=f"{per_cent} % of the piece lies beyond {name}: striped above.")


def _shown(workspace: Workspace, placed: Placed, edge: int, *, asks: bool = True) -> _Shown:
    photo_behind = behind(workspace, placed.size, placed.placement)
    shown = _alone(workspace, placed, edge, asks=asks)
    return replace(shown, behind=None if photo_behind is None else Behind(photo_behind))


def _alone(workspace: Workspace, placed: Placed, edge: int, *, asks: bool) -> _Shown:
    lying, photo = placed.lying, placed.photo
    shown = _fitted(*lying.asked, min(edge, PIECE_MOST_EDGE))
    size, surface, crop, ground = on_scene(lying)
    if ground is not None:
        ground_file = ground_preview(workspace, photo, ground, asks=asks)
        if ground_file is not None:
            picture, full = ground_file
            return _Shown(size, surface, crop, shown, lying.asked, picture, rough=not full)
    picture = photo_preview(workspace, photo, PREVIEW_EDGE)
    return _Shown(lying.size, lying.surface, lying.crop, shown, lying.asked, picture)


def _kept_piece(workspace: Workspace, placed: Placed, shown: _Shown) -> Path:
    size = shown.size
    turns = placed.placement.model_dump_json(include={"quarter", "mirror", "corners"})
    profile = f"{size.file.profile} {size.file.icc and size.file.icc.data} {shown.marks}"
    how = f"{size.ground} {profile} {size.method} {sharpening_of(size, shown.whole)} {shown.rough}"
    if shown.behind is not None:
        how += f" {shown.behind.path.name}"
    if size.outline is not None:
        how += f" {size.outline.text} {size.ppi} {size.file.format == 'jpeg'} {shown.whole}"
    if shown.mark is not None:
        how += f" {shown.mark.how} {shown.mark.keeps}"
    of = f"{shown.picture.stem} {turns} {shown.crop} {shown.shown} {how}"
    key = hashlib.sha256(of.encode()).hexdigest()
    path = workspace.previews / "pieces" / key[:2] / f"{key}{'.png' if shown.clear else '.jpg'}"
    if not is_fresh(path):
        replace_file(path, _draw_piece(workspace, placed, shown))
    return path


def _draw_piece(workspace: Workspace, placed: Placed, shown: _Shown) -> bytes:
    share = min(1.0, PREVIEW_EDGE / max(placed.photo.facts.upright))
    if isinstance(shown.surface, Squared):
        matrix = shown.surface.onto @ shown.crop.matrix(shown.shown)
        enough = finest_step(matrix, shown.shown, shown.surface.photo) * share >= 1
    else:
        enough = shown.crop.width * share >= shown.shown[0]
    if (enough or shown.rough) and not shown.marks:
        source: Source = _decoded(shown.picture)
        seen = photo_quartered(upright_size(shown.picture), placed.placement)
        squared = isinstance(shown.surface, Squared)
        crop = shown.crop if squared else _smaller(shown.crop, shown.surface.photo, seen)
        shown = replace(shown, crop=crop, surface=shown.surface.smaller(seen))
    else:
        source, shown = _from_scene(workspace, placed, shown)
    pixels = render(
        source,
        shown.size,
        shown.crop,
        shown.shown,
        shown.surface,
        whole=shown.whole,
        marks=shown.marks,
        behind=shown.behind,
    )
    encode = encode_picture if shown.clear else encode_preview
    return encode(*_marked(placed.lying, shown, *pixels))


def _marked(
    lying: Lying, shown: _Shown, pixels: Array, icc: bytes | None
) -> tuple[Array, bytes | None]:
    if shown.mark is None:
        return pixels, icc
    with suppress(CoreError):  # one that can't be laid is told by a note
        at, barred = boxes_on(lying, shown.mark, (pixels.shape[1], pixels.shape[0]))
        pixels = lay_mark(pixels, icc, shown.mark, at, barred)
    return pixels, icc


def at_full_size(
    workspace: Workspace, placed: Placed
) -> tuple[Lying, tuple[Source, Size, Surface, Crop]]:
    """Return what a piece is cut from, and how it lies there; a stand-in while its scene is not made."""
    lying = placed.lying
    size, surface, crop, ground = on_scene(lying)
    source = scene_if_made(workspace, placed.photo, ground)
    if source is None:
        source, size = present(workspace.originals, placed.photo), lying.size
        surface, crop = lying.surface, lying.crop
    return lying, (source, size, surface, crop)


def _from_scene(workspace: Workspace, placed: Placed, shown: _Shown) -> tuple[Source, _Shown]:
    _, (source, size, surface, crop) = at_full_size(workspace, placed)
    return source, replace(shown, size=size, surface=surface, crop=crop)


@lru_cache(maxsize=2)  # the photo on the bench is cut anew after every gesture
def _decoded(path: Path) -> Decoded:
    return Decoded(path, replace(in_memory(open_photo(path)), cut=path.suffix == ".png"))


def _smaller(crop: Crop, photo: Pixels, seen: Pixels) -> Crop:
    """Return a crop of a photo on a smaller picture of it, `seen` pixels large."""
    across, along = seen[0] / photo[0], seen[1] / photo[1]
    left, top = crop.left * across, crop.top * along
    return Crop(left, top, crop.width * across, crop.height * along, crop.angle)


def strip_note(workspace: Workspace, placed: Placed) -> Note | None:
    """Look for a narrow strip of other content at the edges of a placement's crop."""
    lying, surface = placed.lying, placed.lying.surface
    seen = _small_picture(
        turned_preview(workspace, placed.photo, 1024, surface.quarter, mirror=surface.mirror)
    )
    wide, high = surface.photo
    shown = np.diag([seen.shape[1] / wide, seen.shape[0] / high, 1.0])
    edge_strip = strip_at_edge(seen, shown @ surface.onto @ lying.crop.matrix((1, 1)))
    return None if edge_strip is None else strip(*edge_strip)


@lru_cache(maxsize=16)  # each step of a placement looks at the same
def _small_picture(path: Path) -> Picture:
    picture: Picture = pixels_of(path)
    return picture
