"""One placement on the bench: look at it, move it, approve it; every step can be undone."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.formats import ENDINGS
from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import Asked
from oak_ledge.core.files.relabelled import is_relabelled
from oak_ledge.core.gestures.beyond_photo import SideName, ground_shown
from oak_ledge.core.gestures.typed import TypedUnit, typed_units
from oak_ledge.core.measures.bytes import bytes_words, limit_words
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import decimal, rounded
from oak_ledge.core.measures.ratios import shape_words
from oak_ledge.core.notes.note import in_order
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.pixels.finish.sharpen import sharpening_of
from oak_ledge.core.pixels.weight.estimate import estimate, part_in
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import tightness
from oak_ledge.core.placements.lying import Lying, lying_on, squared_up
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.scene_geometry import ground_taken, is_unmade
from oak_ledge.core.placements.zones.on_surface import Shape, zones_on
from oak_ledge.core.planes.four_corners import square_words
from oak_ledge.core.planes.points import Point
from oak_ledge.core.reports.hanging import Hung, hung
from oak_ledge.core.reports.sentence import measured_lengths, output_edges, output_lengths
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.file.file_settings import FileSettings, may_lose_colours
from oak_ledge.core.sizes.file_geometry import (
    file_pixels,
    joints_path,
    one_panel,
    panel_boxes,
    side_shares,
)
from oak_ledge.core.sizes.geometry import edge_path, outside_of, written_pixels
from oak_ledge.core.sizes.hidden_edges import insets
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import METHOD_WORDS, SHARPEN_WORDS, profile_words
from oak_ledge.flows.bench.stations import Station, stations
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.library.views import SizeView, size_view
from oak_ledge.flows.photos import previews
from oak_ledge.flows.photos.photos import PhotoView, photo_view
from oak_ledge.flows.photos.scenes import missing, not_made
from oak_ledge.flows.pieces.figures import Figures, compute, figures_with
from oak_ledge.flows.pieces.pictures import strip_note
from oak_ledge.flows.pieces.pieces import STATE_WORDS
from oak_ledge.flows.pieces.weight_notes import limit_told
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed, State


class Output(BaseModel):
    """What comes out, each figure in words, and as it stands in the fields one can type in."""

    pixels: str
    lengths: str
    ppi: str
    weight: str
    fields: dict[str, str]
    """`ppi`, `width`, `height`, the `unit` of these two, `width_px`, `height_px`, `percent`"""


class Live(Figures):
    """What a gesture answers: everything that changes while dragging, and nothing else."""

    id: int
    lying: Placement
    """as it is kept; a `PUT` takes the same"""
    extent: Pixels
    """of what the crop lies on: the photo as it is turned, or the plane its corners define"""
    outline: tuple[Point, ...]
    """the photo's edge where the crop is meant, clockwise"""
    photo_extent: Pixels
    """the photo as it is turned, whether squared up or not"""
    crop: tuple[float, float, float, float]
    stations: list[Station]
    output: Output
    about_bytes: int | None
    """estimated; None until the photo has been weighed"""
    picture: Pixels
    """the pixels drawn: the file's, or those of all its panels together"""
    panels: tuple[tuple[float, float, float, float], ...]
    """left, top, width and height of each file, as shares of the picture, row by row; one without panels"""
    sides: tuple[float, float] | None
    """how wide its turned-over sides are, as shares of its width and height; None without"""
    joints: str
    """where it is cut in panels, as path data in the unit square; empty where it is not"""
    face: Pixels
    """the proportions the piece is seen in, on dots that may be oblong"""
    edge: str
    """the outline the piece is cut along, as path data in the unit square; empty for a rectangle"""
    outside: str
    """the colour outside it, where its file can't be clear; else empty"""
    insets: tuple[tuple[float, float], tuple[float, float]] | None
    """where print and seen part begin, as shares of the file's width and height"""
    hung: Hung | None
    """moulding and mat around the piece; None without a frame"""
    beyond: bool
    """the crop may reach beyond the photo"""
    reaches: dict[SideName, float]
    """photo pixels of ground that the crop shows beyond each side of the photo; below 0 it ends inside"""
    ground: str
    """what fills there: a colour, or what of the photo"""
    keeps: tuple[Shape, ...]
    """zones and lines that must stay whole, where the crop is meant"""
    found: tuple[Shape, ...]
    """a subject found in the photo, that waits to be taken or ignored"""
    found_word: str
    squared: str | None
    """what four corners go round, in words"""
    typed: dict[TypedUnit, tuple[str, str, str, str]]
    """left, top, width and height of the crop, in every unit the photo has"""
    method: MethodChoice
    sharpen_for: SharpenFor
    sharpness: int
    """how strong, 0 to 100"""
    marks_for: str | None
    """the profile whose limits can be shown on the piece"""
    finish: str
    """how pixels are resampled and sharpened, in plain words"""
    edges: tuple[str, str]
    """width and height in words, for the measuring lines: `10 in`, `8 in`"""
    file: FileSettings
    """how the file is written"""
    limit: str
    """the most bytes it may have, in words; empty without a limit"""
    file_name: str
    """the name it will have"""
    tightness: float
    """the crop's width as a share of the suggested one's"""
    window: bool
    """a window of whole pixels, that no hand makes larger or smaller"""
    turns: bool
    """False where turning wide ↔ tall changes nothing"""


class PlacementView(Live):
    """A placement with its photo, size, state and history."""

    job_id: int
    job_size_id: int
    photo: PhotoView
    size: SizeView
    size_shape: str
    """the ratio the job's size fixes, in words; empty where it fixes none"""
    own_size: SizeView | None
    """this photo's own exception to the size"""
    state: State
    state_word: str
    can_undo: bool
    can_redo: bool
    steps: list[str]
    """what was done, from the suggestion on"""
    numbers: list[int]
    """which step each of these is; a number is never given twice"""
    step: int
    """the one it stands at"""
    place: int
    """where that one is among them"""
    being_made: bool
    """something of its scene is not there yet; what is seen stands in for it"""
    not_made: str
    """why something of its scene could not be made"""


def load(workspace: Workspace, placement_id: int) -> Placed:
    """Return a placement; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return placed_in(session, placement_id)


def view(workspace: Workspace, placement_id: int, *, weigh: bool = False) -> PlacementView:
    """Look at a placement; to `weigh` its photo first takes a moment, once."""
    if weigh:
        previews.weights_of(workspace, load(workspace, placement_id).photo, measure=True)
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
        steps = placements.steps_of(session, placement_id)
    return view_of(workspace, placed, steps)


def placed_in(session: Session, placement_id: int) -> Placed:
    """Return a placement within a session; one that is not here is refused."""
    placed = placements.find(session, placement_id)
    if placed is None:
        msg = f"There is no placement {placement_id}."
        raise NotFoundError(msg)
    return placed


def view_of(
    workspace: Workspace, placed: Placed, steps: Sequence[tuple[int, str]]
) -> PlacementView:
    """Look at a placement that was read with its steps: which, and what was done."""
    numbers = [number for number, _ in steps]
    place = numbers.index(placed.step)
    shown = live(workspace, placed, placed.placement)
    noted = in_order(shown.notes, strip_note(workspace, placed))
    works = missing(workspace, placed.photo, ground_taken(placed.lying))
    pending = not_made(workspace, placed.photo, works) if works else []
    return PlacementView(
        **dict(shown) | {"notes": noted},
        job_id=placed.job_id,
        job_size_id=placed.job_size_id,
        photo=photo_view(placed.photo),
        size=size_view(placed.size),
        size_shape=_shape_of(placed.size),
        own_size=None if placed.placement.size is None else size_view(placed.placement.size),
        state=placed.state,
        state_word=STATE_WORDS[placed.state],
        can_undo=place > 0,
        can_redo=place < len(steps) - 1,
        steps=[what for _, what in steps],
        numbers=numbers,
        step=placed.step,
        place=place,
        being_made=any(fill is None or fill.state != "failed" for fill in pending),
        not_made=next(
            (fill.reason or "" for fill in pending if fill and fill.state == "failed"), ""
        ),
    )


def _file_name(placed: Placed, lying: Lying, body: Asked) -> str:
    try:
        stem = stem_on(lying.size, body, placed.photo.name, placed.job, 1)
    except FileError:
        return ""
    return f"{stem}{ENDINGS[lying.size.file.format]}"


def _shape_of(size: Size) -> str:
    edges = written_pixels(size)
    if size.shape.ratio is not None:
        return size.shape.label
    return "" if edges is None else shape_words(*face_of(size, edges))


def live(workspace: Workspace, placed: Placed, placement: Placement) -> Live:
    """Compute all that is shown of a placement that may not be kept yet."""
    facts, keeps = placed.photo.facts, placed.photo.keeps
    lying = lying_on(placed.size, facts.upright, placement)
    size, surface, output = lying.size, lying.surface, lying.asked
    marked = (keeps, placed.photo.found, placed.photo.retouches)
    computed = compute(lying, facts, placed.size, placed.saved, *marked)
    figures = figures_with(lying, facts, *computed)
    ground = placement.continued
    about = _about_bytes(workspace, placed.photo, lying, figures)
    weights = previews.weights_of(workspace, placed.photo)
    if weights is not None:
        noted = in_order(figures.notes, limit_told(lying, facts, weights, figures.scale)[0])
        figures = figures.model_copy(update={"notes": noted})
    return Live(
        **dict(figures),
        id=placed.id,
        lying=placement,
        extent=surface.extent,
        outline=surface.outline,
        photo_extent=surface.photo,
        crop=lying.crop.box,
        stations=stations(
            size,
            facts,
            figures,
            about,
            attempt=None if is_unmade(lying) or ground is None else ground.attempt,
            retouches=len(placed.photo.retouches.shown),
        ),
        output=_output(size, figures.asked, about),
        about_bytes=about,
        picture=output,
        panels=tuple(
            (
                box.left / output[0],
                box.top / output[1],
                box.width / output[0],
                box.height / output[1],
            )
            for box in panel_boxes(size, output)
        ),
        sides=side_shares(size, output),
        joints=joints_path(size, output),
        face=face_of(size, output),
        edge=edge_path(size, output),
        outside=outside_of(size) if size.file.format == "jpeg" else "",
        insets=insets(size, output),
        hung=hung(size, output),
        beyond=size.differ == "extend",
        reaches=ground_shown(lying),
        ground=size.ground,
        keeps=zones_on(surface, keeps),
        found=zones_on(surface, placed.photo.found or NOTHING),
        found_word=_found_words(placed.photo.found or NOTHING),
        squared=_squared_words(lying),
        typed=_typed(lying, facts.ppi),
        method=size.method,
        sharpen_for=size.sharpen_for,
        sharpness=_sharpness(size, output),
        marks_for=profile_words(size.file) if may_lose_colours(size.file) else None,
        finish=_finish_words(size, output, copied=figures.copied),
        edges=output_edges(size, output),
        file=size.file,
        limit="" if size.file.at_most is None else limit_words(size.file.at_most),
        file_name=_file_name(placed, lying, figures.asked),
        tightness=tightness(lying),
        window=lying.size.shape.whole_pixels,
        turns=output[0] != output[1] and size.shape.has_other_way,
    )


def _found_words(keeps: Keeps) -> str:
    """Return what was found in a photo, and how surely."""
    faces = sum(zone.eyes is not None for zone in keeps.zones)
    if faces:
        return "Found a face, dotted" if faces == 1 else f"Found {faces} faces, dotted"
    if not keeps.zones:
        return ""
    sure = keeps.zones[0].sure
    about = "" if sure is None else f", {rounded(sure * 100, 0)} % sure"
    return f"Found subject, dotted{about}"


def _squared_words(lying: Lying) -> str | None:
    if lying.placement.corners is None:
        return None
    wide, high = lying.extent
    return square_words(squared_up(lying.placement, lying.surface.photo), wide / high)


def _typed(lying: Lying, ppi: float | None) -> dict[TypedUnit, tuple[str, str, str, str]]:
    """Write a crop's place and extent in every unit they can be typed in."""
    typed: dict[TypedUnit, tuple[str, str, str, str]] = {}
    for unit, (across, along) in typed_units(lying.extent, ppi).items():
        places = 1 if unit == "px" else 2
        left, top, width, height = (
            rounded(figure / step, places)
            for figure, step in zip(lying.crop.box, (across, along) * 2, strict=True)
        )
        typed[unit] = (left, top, width, height)
    return typed


def _about_bytes(workspace: Workspace, photo: Photo, lying: Lying, figures: Figures) -> int | None:
    """Estimate the file's bytes; a whole JPEG that is only relabelled keeps its own."""
    size, facts = lying.size, photo.facts
    most = size.file.at_most or facts.bytes
    if is_relabelled(facts, lying, photo.retouches) and facts.bytes <= most:
        return facts.bytes
    weights = previews.weights_of(workspace, photo)
    if weights is None:
        return None
    part = part_in(lying.crop, lying.surface, photo.facts.orientation)
    return estimate(weights, file_pixels(lying.size, lying.asked), figures.scale, size.file, part)


def _sharpness(size: Size, output: Pixels) -> int:
    how = sharpening_of(size, output)
    return 0 if how is None else round(how.amount * 100) if size.sharpen is None else size.sharpen


def _finish_words(size: Size, output: Pixels, *, copied: bool) -> str:
    """Return what the chosen method and sharpening are for, and how strong."""
    name, when = METHOD_WORDS[size.method]
    words = "Every value is copied." if copied else f"{name.capitalize()}: {when}."
    how = sharpening_of(size, output)
    if how is None:
        return words
    width, share = rounded(how.sigma, 2), rounded(how.amount * 100, 0)
    return f"{words} Sharpened {share} %, {width} px wide: {SHARPEN_WORDS[size.sharpen_for][1]}."


def _output(size: Size, body: Asked, about: int | None) -> Output:
    pixels, size = (body.width, body.height), one_panel(size)
    edges = output_edges(size, pixels)
    unit = size.shape.measured_in
    fields = {"ppi": "", "width": "", "height": "", "unit": "in" if unit in (None, "px") else unit}
    fields |= {"width_px": str(body.width), "height_px": str(body.height), "percent": ""}
    if size.ppi is not None:
        fields |= {
            "ppi": decimal(size.ppi),
            "width": edges[0].rpartition(" ")[0],
            "height": edges[1].rpartition(" ")[0],
        }
    label, measured = "no ppi", "no physical size"
    if body.ppi is not None:
        label = f"{rounded(body.ppi, 3)} ppi, the photo's own"
        measured = measured_lengths(*pixels, body.ppi, "in", 2)
    return Output(
        pixels=f"{body.width} × {body.height} px",
        lengths=output_lengths(size, pixels) or measured,
        ppi=f"{fields['ppi']} ppi" if size.ppi is not None else label,
        weight="" if about is None else bytes_words(about),
        fields=fields,
    )
