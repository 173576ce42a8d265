"""Pictures of grounds and retouches, drawn as they are made."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from pathlib import Path

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.pixels.ground.sketch import sketch
from oak_ledge.core.pixels.open.layers import Scene
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.core.pixels.show.preview import draw_preview
from oak_ledge.flows.errors import NotMadeError
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.photos.scenes import ask, maker_of, missing, named, of_work, uncut
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.photos import Photo

# Pixels of the picture of a place that is retouched.
SPOT_EDGE = 640


def ground_preview(
    workspace: Workspace, photo: Photo, ground: Continued, *, asks: bool
) -> tuple[Path, bool] | None:
    """Return a picture of a photo with a continued ground around it, as large as the photo's own is.

    Made at full size, else (False) as its grid shows it; None where it isn't even solved. Where it
    `asks`, the full size is made then.
    """
    maker = maker_of(workspace, photo, make=False)
    for full in (True, False):
        work = FillWork(retouches=photo.retouches, ground=ground, full=full)
        path = picture_of(workspace, photo, work)
        if is_fresh(path):
            return path, full
        with suppress(NotMadeError):
            _draw_ground(workspace, photo, maker, work)
            return path, full
        if full and asks:
            ask(workspace, photo, missing(workspace, photo, ground), f"photo {photo.id}")
    return None


def picture_of(workspace: Workspace, photo: Photo, work: FillWork) -> Path:
    """Where the picture of something made lies."""
    return workspace.previews / photo.hash[:2] / f"{named(photo.hash, of_work(work))}.jpg"


def _draw_ground(workspace: Workspace, photo: Photo, maker: Maker, work: FillWork) -> None:
    ground, path = work.ground, picture_of(workspace, photo, work)
    assert ground is not None
    shown = photo_preview(workspace, uncut(photo), PREVIEW_EDGE)
    if work.full:
        scene = maker.scene(ground)
        assert isinstance(scene, Scene)
        longer = max(photo.facts.upright)
        edge = PREVIEW_EDGE * max(ground.edges) / longer if longer > PREVIEW_EDGE else longer
        replace_file(path, draw_preview(scene, round(edge)))
    else:
        filled, grid, _ = maker.solved(ground)
        icc = open_photo(maker.path).icc
        replace_file(path, sketch(filled.picture, grid, ground, shown, photo.facts.upright, icc))


def prime(workspace: Workspace, photo: Photo, maker: Maker, work: FillWork) -> None:
    """Draw the picture of something just made, while its photo is at hand."""
    if work.ground is not None:
        photo = replace(photo, retouches=work.retouches)
        _draw_ground(workspace, photo, maker, work)
    elif work.one is not None:
        picture = maker.spot(work.one, SPOT_EDGE)
        replace_file(picture_of(workspace, photo, work), picture)
