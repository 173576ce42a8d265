"""Pictures for the screen: photos and finished pieces, drawn once and kept in a cache."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import numpy as np
from pydantic import BaseModel

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.crop import strip
from oak_ledge.core.notes.note import Note
from oak_ledge.core.pixels.encode.encode import encode_preview
from oak_ledge.core.pixels.finish.sharpen import sharpening_of
from oak_ledge.core.pixels.look.dropper import Edge, average_at, average_of_edge, pixels_of
from oak_ledge.core.pixels.look.edge_strip import Picture, strip_at_edge
from oak_ledge.core.pixels.look.estimate import Weights, weigh
from oak_ledge.core.pixels.open.photo import Decoded, Source, in_memory, open_photo, upright_size
from oak_ledge.core.pixels.open.preview import draw_preview, draw_turned
from oak_ledge.core.pixels.render import render, share_beyond
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.placement import photo_quartered
from oak_ledge.core.planes.surface import Squared
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import profile_words
from oak_ledge.flows.workspace import NotFoundError, Workspace
from oak_ledge.store.folders import bytes_in, is_fresh, prune, replace_file
from oak_ledge.store.photos import Photo, present
from oak_ledge.store.placements import Placed

STRAIGHT_ON = 0.9  # of the budget is left after pruning, so that it is not at once due again


PREVIEW_EDGE = 2048


PIECE_MOST_EDGE = 1600


def prune_previews(workspace: Workspace) -> None:
    """Keep previews within their budget; they are drawn again when they are asked for."""
    most = workspace.limits.preview_bytes
    if bytes_in(workspace.previews) > most:
        prune(workspace.previews, int(most * STRAIGHT_ON))


def photo_preview(
    workspace: Workspace, photo: Photo, edge: int, *, source: Path | None = None
) -> Path:
    """An upright sRGB picture of a photo, its longer edge at most `edge` pixels."""
    path = workspace.previews / photo.hash[:2] / f"{photo.hash}-{edge}.jpg"
    if not is_fresh(path):
        largest = workspace.previews / photo.hash[:2] / f"{photo.hash}-{PREVIEW_EDGE}.jpg"
        if source is None:
            from_largest = edge < PREVIEW_EDGE and largest.exists()
            source = largest if from_largest else present(workspace.originals, photo)
        replace_file(path, draw_preview(source, edge))
    return path


def turned_preview(
    workspace: Workspace, photo: Photo, edge: int, quarter: int, *, mirror: bool
) -> Path:
    """A photo's picture turned by quarters clockwise, then mirrored."""
    plain = photo_preview(workspace, photo, edge)
    if not quarter and not mirror:
        return plain
    path = plain.with_name(f"{plain.stem}-{quarter}{'m' if mirror else ''}.jpg")
    if not is_fresh(path):
        replace_file(path, draw_turned(plain, quarter, mirror=mirror))
    return path


@dataclass(frozen=True)
class _Shown:
    """What is drawn of a placement: a size at work, a crop, the pixels to show of it and its own."""

    size: Size
    crop: Crop
    shown: Pixels
    whole: Pixels
    marks: bool = False
    """stripe what the file's profile cannot hold"""
    rough: bool = False
    """the photo's preview will do, however little of it is seen"""


def plane_preview(workspace: Workspace, placed: Placed, edge: int) -> Path:
    """The whole photo on the plane that four corners define, squared up."""
    size, plane = placed.lying.size, placed.lying.surface
    if not isinstance(plane, Squared):
        msg = f"Placement {placed.id} has no corners squared up."
        raise NotFoundError(msg)
    left, top, width, height = plane.bounds
    shown = _fitted(width, height, edge)
    plain = size.model_copy(update={"sharpen_for": "off", "method": "auto"})
    crop = Crop(left, top, width, height)
    return _kept_piece(workspace, placed, _Shown(plain, crop, shown, shown, rough=True))


def piece_preview(workspace: Workspace, placed: Placed, edge: int, *, marks: bool = False) -> Path:
    """The finished piece as it will look, its longer edge at most `edge` pixels.

    Cut by the same code as the file. From the photo's preview where that holds as many pixels
    as are shown, else from the original. With `marks`, what the file's profile cannot hold is
    striped; the preview is sRGB already, so that is always found in the original.
    """
    return _kept_piece(workspace, placed, replace(_shown(placed, edge), marks=marks))


def _fitted(width: float, height: float, edge: int) -> Pixels:
    """Give the pixels of a picture that is no larger than an edge, and never enlarged."""
    fit = min(1.0, edge / max(width, height))
    return max(1, round(width * fit)), max(1, round(height * fit))


class Beyond(BaseModel):
    """What of a piece its file's profile cannot hold: the share, 0 to 1, and that in words."""

    share: float
    text: str


def beyond_profile(workspace: Workspace, placed: Placed) -> Beyond:
    """Measure what of a piece lies beyond its file's profile, on a small picture of it."""
    one = _shown(placed, 600)
    path = present(workspace.originals, placed.photo)
    share = share_beyond(path, one.size, one.crop, one.shown, placed.lying.surface)
    name = profile_words(one.size.file)
    if share == 0:
        return Beyond(share=0, text=f"{name} holds every colour of this piece.")
    per_cent = rounded(share * 100) if share >= 0.0005 else "under 0.1"
    return Beyond(share=share, text=f"{per_cent} % of the piece lies beyond {name}: striped above.")


def _shown(placed: Placed, edge: int) -> _Shown:
    lying = placed.lying
    shown = _fitted(*lying.asked, min(edge, PIECE_MOST_EDGE))
    return _Shown(lying.size, lying.crop, shown, lying.asked)


def _kept_piece(workspace: Workspace, placed: Placed, one: _Shown) -> Path:
    size = one.size
    turns = placed.placement.model_dump_json(include={"quarter", "mirror", "corners"})
    profile = f"{size.file.profile} {size.file.icc and size.file.icc.data} {one.marks}"
    how = f"{size.ground} {profile} {size.method} {sharpening_of(size, one.whole)} {one.rough}"
    of = f"{placed.photo.hash} {turns} {one.crop} {one.shown} {how}"
    key = hashlib.sha256(of.encode()).hexdigest()
    path = workspace.previews / "pieces" / key[:2] / f"{key}.jpg"
    if not is_fresh(path):
        replace_file(path, _draw_piece(workspace, placed, one))
    return path


def _draw_piece(workspace: Workspace, placed: Placed, one: _Shown) -> bytes:
    photo, crop, surface = placed.photo, one.crop, placed.lying.surface
    source: Source = present(workspace.originals, photo)
    share = min(1.0, PREVIEW_EDGE / max(surface.photo))
    enough = crop.width * share >= one.shown[0] and not isinstance(surface, Squared)
    if (enough or one.rough) and not one.marks:
        source = _decoded(photo_preview(workspace, photo, PREVIEW_EDGE))
        seen = photo_quartered(upright_size(source.path), placed.placement)
        crop = crop if isinstance(surface, Squared) else _smaller(crop, surface.photo, seen)
        surface = surface.smaller(seen)
    made = render(source, one.size, crop, one.shown, surface, whole=one.whole, marks=one.marks)
    return encode_preview(*made)


@lru_cache(maxsize=2)  # the photo on the bench is cut anew after every gesture
def _decoded(path: Path) -> Decoded:
    return Decoded(path, in_memory(open_photo(path)))


def _smaller(crop: Crop, photo: Pixels, seen: Pixels) -> Crop:
    """Give a crop of a photo on a smaller picture of it, `seen` pixels large."""
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
    found = strip_at_edge(seen, shown @ surface.onto @ lying.crop.matrix((1, 1)))
    return None if found is None else strip(*found)


@lru_cache(maxsize=16)  # each step of a placement looks at the same
def _small_picture(path: Path) -> Picture:
    found: Picture = pixels_of(path)
    return found


class Tone(BaseModel):
    """A colour of a photo, as a ground takes it."""

    fill: str


def tone_at(workspace: Workspace, placed: Placed, x: float, y: float) -> Tone:
    """The colour about a point, by shares of the photo as turned, or of the plane squared up."""
    surface = placed.lying.surface
    if isinstance(surface, Squared):
        (across, along), (wide, high) = surface.extent, surface.photo
        ((x, y),) = surface.to_photo([(x * across, y * along)])
        x, y = x / wide, y / high
    within = (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))
    return Tone(fill=average_at(_turned_picture(workspace, placed), *within))


def tone_of_edge(workspace: Workspace, placed: Placed, edge: Edge) -> Tone:
    """The average colour along an edge of a photo as turned."""
    return Tone(fill=average_of_edge(_turned_picture(workspace, placed), edge))


def _turned_picture(workspace: Workspace, placed: Placed) -> Path:
    quarter, mirror = placed.placement.quarter, placed.placement.mirror
    return turned_preview(workspace, placed.photo, PREVIEW_EDGE, quarter, mirror=mirror)


def weights_of(workspace: Workspace, photo: Photo, *, measure: bool = False) -> Weights | None:
    """What a photo's files weigh per pixel; measured once, when first asked to `measure`."""
    path = (
        workspace.previews / photo.hash[:2] / f"{photo.hash}-weights-3.json"
    )  # what is measured is another since 2
    if not is_fresh(path):
        if not measure:
            return None
        weights = weigh(present(workspace.originals, photo))
        replace_file(path, weights.model_dump_json().encode())
    return _weights_in(path)


@lru_cache(maxsize=64)  # a drag asks for the same at every frame
def _weights_in(path: Path) -> Weights:
    return Weights.model_validate_json(path.read_bytes())
