"""Pictures for the screen: photos and finished pieces, drawn once and kept in a cache."""

from __future__ import annotations

import hashlib
from contextlib import ExitStack
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
from oak_ledge.core.pixels.open.photo import OpenPhoto, held_size, holding, in_memory, open_photo
from oak_ledge.core.pixels.open.preview import draw_preview, draw_turned
from oak_ledge.core.pixels.render import Held, held_like, render, share_beyond
from oak_ledge.core.placements.crop import Crop, asked_pixels, crop_of
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import photo_held, size_at
from oak_ledge.core.planes.surface import Plane, mapped
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


def held_preview(
    workspace: Workspace, photo: Photo, edge: int, *, quarter: int, mirror: bool
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
    size = size_at(placed.size, placed.placement)
    plane = held_at(placed.size, placed.photo.facts.held, placed.placement)
    if not isinstance(plane, Plane):
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
    held = held_like(placed.placement, one.size, placed.photo.facts.held)
    path = present(workspace.originals, placed.photo)
    share = share_beyond(path, one.size, one.crop, one.shown, held)
    name = profile_words(one.size.file)
    if share == 0:
        return Beyond(share=0, text=f"{name} holds every colour of this piece.")
    told = rounded(share * 100) if share >= 0.0005 else "under 0.1"
    return Beyond(share=share, text=f"{told} % of the piece lies beyond {name}: striped above.")


def _shown(placed: Placed, edge: int) -> _Shown:
    size = size_at(placed.size, placed.placement)
    held = held_at(placed.size, placed.photo.facts.held, placed.placement)
    W, H = asked_pixels(size, held, placed.placement)
    shown = _fitted(W, H, min(edge, PIECE_MOST_EDGE))
    return _Shown(size, crop_of(size, held, placed.placement), shown, (W, H))


def _kept_piece(workspace: Workspace, placed: Placed, one: _Shown) -> Path:
    size = one.size
    lying = placed.placement.model_dump_json(include={"quarter", "mirror", "corners"})
    profile = f"{size.file.profile} {size.file.icc and size.file.icc.data} {one.marks}"
    how = f"{size.ground} {profile} {size.method} {sharpening_of(size, one.whole)} {one.rough}"
    of = f"{placed.photo.hash} {lying} {one.crop} {one.shown} {how}"
    key = hashlib.sha256(of.encode()).hexdigest()
    path = workspace.previews / "pieces" / key[:2] / f"{key}.jpg"
    if not is_fresh(path):
        replace_file(path, _draw_piece(workspace, placed, one))
    return path


def _draw_piece(workspace: Workspace, placed: Placed, one: _Shown) -> bytes:
    photo, crop = placed.photo, one.crop
    held = held_like(placed.placement, one.size, photo.facts.held)
    source = present(workspace.originals, photo)
    share = min(1.0, PREVIEW_EDGE / max(held.extent))
    enough = crop.width * share >= one.shown[0] and held.corners is None
    with ExitStack() as several:
        if (enough or one.rough) and not one.marks:
            source = photo_preview(workspace, photo, PREVIEW_EDGE)
            held, crop = _smaller(held, crop, photo_held(held_size(source), placed.placement))
            several.enter_context(holding(source, _decoded(source)))
        made = render(source, one.size, crop, one.shown, held, whole=one.whole, marks=one.marks)
    return encode_preview(*made)


@lru_cache(maxsize=2)  # the photo on the bench is cut anew after every gesture
def _decoded(source: Path) -> OpenPhoto:
    return in_memory(open_photo(source))


def _smaller(held: Held, crop: Crop, seen: Pixels) -> tuple[Held, Crop]:
    """Give how a smaller picture of a photo is held, and the crop there; a plane stays as it is."""
    across, along = seen[0] / held.extent[0], seen[1] / held.extent[1]
    if held.corners is not None:
        nw, ne, se, sw = ((x * across, y * along) for x, y in held.corners)
        return replace(held, extent=seen, corners=(nw, ne, se, sw)), crop
    left, top = crop.left * across, crop.top * along
    smaller = Crop(left, top, crop.width * across, crop.height * along, crop.angle)
    return replace(held, extent=seen), smaller


def strip_note(workspace: Workspace, placed: Placed) -> Note | None:
    """Look for a narrow strip of other content at the edges of a placement's crop."""
    lying, size = placed.placement, size_at(placed.size, placed.placement)
    held = held_at(placed.size, placed.photo.facts.held, lying)
    seen = _small_picture(
        held_preview(workspace, placed.photo, 1024, quarter=lying.quarter, mirror=lying.mirror)
    )
    wide, high = photo_held(placed.photo.facts.held, lying)
    shown = np.diag([seen.shape[1] / wide, seen.shape[0] / high, 1.0])
    matrix = crop_of(size, held, lying).matrix((1, 1))
    onto = held.onto @ matrix if isinstance(held, Plane) else matrix
    found = strip_at_edge(seen, shown @ onto)
    return None if found is None else strip(*found)


@lru_cache(maxsize=16)  # each step of a placement looks at the same
def _small_picture(path: Path) -> Picture:
    found: Picture = pixels_of(path)
    return found


class Tone(BaseModel):
    """A colour of a photo, as a ground takes it."""

    fill: str


def tone_at(workspace: Workspace, placed: Placed, x: float, y: float) -> Tone:
    """The colour about a point, by shares of the photo as held, or of the plane squared up."""
    upright = placed.photo.facts.held
    held = held_at(placed.size, upright, placed.placement)
    if isinstance(held, Plane):
        ((x, y),) = mapped(held.onto, [(x * held[0], y * held[1])])
        wide, high = held.photo
        x, y = x / wide, y / high
    within = (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))
    return Tone(fill=average_at(_held_picture(workspace, placed), *within))


def tone_of_edge(workspace: Workspace, placed: Placed, edge: Edge) -> Tone:
    """The average colour along an edge of a photo as held."""
    return Tone(fill=average_of_edge(_held_picture(workspace, placed), edge))


def _held_picture(workspace: Workspace, placed: Placed) -> Path:
    lying = placed.placement
    return held_preview(
        workspace, placed.photo, PREVIEW_EDGE, quarter=lying.quarter, mirror=lying.mirror
    )


def weights_of(workspace: Workspace, photo: Photo, *, measure: bool = False) -> Weights | None:
    """What a photo's files weigh per pixel; measured once, when first asked to `measure`."""
    path = workspace.previews / photo.hash[:2] / f"{photo.hash}-weights.json"
    if not is_fresh(path):
        if not measure:
            return None
        weights = weigh(present(workspace.originals, photo))
        replace_file(path, weights.model_dump_json().encode())
    return _weights_in(path)


@lru_cache(maxsize=64)  # a drag asks for the same at every frame
def _weights_in(path: Path) -> Weights:
    return Weights.model_validate_json(path.read_bytes())
