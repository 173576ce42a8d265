"""Pictures for the screen: photos and finished pieces, drawn once and kept in a cache."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.pixels.files import encode_preview
from oak_ledge.core.pixels.photos import draw_preview, draw_turned, held_size
from oak_ledge.core.pixels.render import held_like, render, share_beyond
from oak_ledge.core.pixels.sharpen import sharpening_of
from oak_ledge.core.pixels.tones import Edge, average_at, average_of_edge
from oak_ledge.core.pixels.weight import Weights, weigh
from oak_ledge.core.placements import Crop, asked_pixels, crop_of, held_at, photo_held, size_at
from oak_ledge.core.size_text import profile_words
from oak_ledge.core.sizes import Size
from oak_ledge.core.units import Pixels, rounded
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.folders import replace_file
from oak_ledge.store.photos import Photo, original
from oak_ledge.store.placements import Placed

PREVIEW_EDGE = 2048
PIECE_MOST_EDGE = 1600


def photo_preview(
    workspace: Workspace, photo: Photo, edge: int, *, source: Path | None = None
) -> Path:
    """An upright sRGB picture of a photo, its longer edge at most `edge` pixels."""
    path = workspace.previews / photo.hash[:2] / f"{photo.hash}-{edge}.jpg"
    if not path.exists():
        largest = workspace.previews / photo.hash[:2] / f"{photo.hash}-{PREVIEW_EDGE}.jpg"
        if source is None:
            from_largest = edge < PREVIEW_EDGE and largest.exists()
            source = largest if from_largest else original(workspace.originals, photo)
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
    if not path.exists():
        replace_file(path, draw_turned(plain, quarter, mirror=mirror))
    return path


def plane_preview(workspace: Workspace, placed: Placed, edge: int) -> Path:
    """The whole plane that four corners define, squared up."""
    size = size_at(placed.size, placed.placement)
    width, height = held_at(placed.size, placed.photo.facts.held, placed.placement)
    fit = min(1.0, edge / max(width, height))
    shown = (max(1, round(width * fit)), max(1, round(height * fit)))
    plain = size.model_copy(update={"sharpen_for": "off", "method": "auto"})
    return _kept_piece(workspace, placed, plain, Crop(0, 0, width, height), shown, shown)


def piece_preview(workspace: Workspace, placed: Placed, edge: int, *, marks: bool = False) -> Path:
    """The finished piece as it will look, its longer edge at most `edge` pixels.

    Cut by the same code as the file. From the photo's preview where that holds as many pixels
    as are shown, else from the original. With `marks`, what the file's profile cannot hold is
    striped; the preview is sRGB already, so that is always found in the original.
    """
    size, crop, shown, whole = _shown(placed, edge)
    return _kept_piece(workspace, placed, size, crop, shown, whole, marks=marks)


class Beyond(BaseModel):
    """What of a piece its file's profile cannot hold: the share, 0 to 1, and that in words."""

    share: float
    text: str


def beyond_profile(workspace: Workspace, placed: Placed) -> Beyond:
    """Measure what of a piece lies beyond its file's profile, on a small picture of it."""
    size, crop, shown, _ = _shown(placed, 600)
    held = held_like(placed.placement, size, placed.photo.facts.held)
    path = original(workspace.originals, placed.photo)
    share = share_beyond(path, size, crop, shown, held)
    name = profile_words(size.file)
    if share == 0:
        return Beyond(share=0, text=f"{name} holds every colour of this piece.")
    told = rounded(share * 100) if share >= 0.0005 else "under 0.1"
    return Beyond(share=share, text=f"{told} % of the piece lies beyond {name}: striped above.")


def _shown(placed: Placed, edge: int) -> tuple[Size, Crop, Pixels, Pixels]:
    """Give a piece's size and crop, the pixels to show of it, and its own."""
    size = size_at(placed.size, placed.placement)
    held = held_at(placed.size, placed.photo.facts.held, placed.placement)
    W, H = asked_pixels(size, held, placed.placement)
    fit = min(1.0, min(edge, PIECE_MOST_EDGE) / max(W, H))
    shown = (max(1, round(W * fit)), max(1, round(H * fit)))
    return size, crop_of(size, held, placed.placement), shown, (W, H)


def _kept_piece(
    workspace: Workspace,
    placed: Placed,
    size: Size,
    crop: Crop,
    shown: Pixels,
    whole: Pixels,
    *,
    marks: bool = False,
) -> Path:
    lying = placed.placement.model_dump_json(include={"quarter", "mirror", "corners"})
    profile = f"{size.file.profile} {size.file.icc and size.file.icc.data} {marks}"
    how = f"{size.ground} {profile} {size.method} {sharpening_of(size, whole)}"
    of = f"{placed.photo.hash} {lying} {crop} {shown} {how}"
    key = hashlib.sha256(of.encode()).hexdigest()
    path = workspace.previews / "pieces" / key[:2] / f"{key}.jpg"
    if not path.exists():
        replace_file(path, _draw_piece(workspace, placed, size, crop, shown, whole, marks=marks))
    return path


def _draw_piece(
    workspace: Workspace,
    placed: Placed,
    size: Size,
    crop: Crop,
    shown: Pixels,
    whole: Pixels,
    *,
    marks: bool,
) -> bytes:
    photo, placement = placed.photo, placed.placement
    held, source = (
        held_like(placement, size, photo.facts.held),
        original(workspace.originals, photo),
    )
    share = min(1.0, PREVIEW_EDGE / max(held.extent))
    if crop.width * share >= shown[0] and held.corners is None and not marks:
        source = photo_preview(workspace, photo, PREVIEW_EDGE)
        seen = photo_held(held_size(source), placement)
        across, along = seen[0] / held.extent[0], seen[1] / held.extent[1]
        crop = replace(
            crop,
            left=crop.left * across,
            top=crop.top * along,
            width=crop.width * across,
            height=crop.height * along,
        )
        held = replace(held, extent=seen)
    return encode_preview(*render(source, size, crop, shown, held, whole=whole, marks=marks))


class Tone(BaseModel):
    """A colour of a photo, as a ground takes it."""

    fill: str


def tone_at(workspace: Workspace, placed: Placed, x: float, y: float) -> Tone:
    """The colour about a point of a photo as held, by shares of its edges."""
    return Tone(fill=average_at(_held_picture(workspace, placed), x, y))


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
    if not path.exists():
        if not measure:
            return None
        weights = weigh(original(workspace.originals, photo))
        replace_file(path, weights.model_dump_json().encode())
    return _weights_in(path)


@lru_cache(maxsize=64)  # a drag asks for the same at every frame
def _weights_in(path: Path) -> Weights:
    return Weights.model_validate_json(path.read_bytes())
