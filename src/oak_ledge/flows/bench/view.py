"""One placement on the bench: look at it, move it, approve it; every step can be undone."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import Asked
from oak_ledge.core.files.relabelled import is_relabelled
from oak_ledge.core.gestures.beyond_photo import ground_shown
from oak_ledge.core.gestures.typed import TypedUnit, typed_units
from oak_ledge.core.measures.bytes import bytes_words, limit_words
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import decimal, rounded
from oak_ledge.core.measures.ratios import shape_words
from oak_ledge.core.notes.heads import RIGHT_FOR_ALL
from oak_ledge.core.notes.note import Note, Way, in_order
from oak_ledge.core.photos.continued import OUTWARD
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.pixels.finish.sharpen import sharpening_of
from oak_ledge.core.pixels.weight.estimate import estimate, part_in
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import has_room, may_change_ratio, tightness
from oak_ledge.core.placements.lying import Lying, lying_on, squared_up
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.scene_geometry import ground_taken, is_unmade
from oak_ledge.core.placements.suggestion import laid_as
from oak_ledge.core.placements.zones.on_surface import upright_side, zones_on
from oak_ledge.core.planes.four_corners import square_words
from oak_ledge.core.reports.hanging import hung
from oak_ledge.core.reports.sentence import measured_lengths, output_edges, output_lengths
from oak_ledge.core.sizes.edges.by_hand import points_of
from oak_ledge.core.sizes.file.file_settings import may_lose_colours
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.file_geometry import (
    drawn_pixels,
    joints_path,
    one_panel,
    panel_boxes,
    picture_shares,
    printed_pixels,
    side_shares,
)
from oak_ledge.core.sizes.geometry import edge_path, outside_of, paper_of, written_pixels
from oak_ledge.core.sizes.hidden_edges import insets
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import METHOD_WORDS, SHARPEN_WORDS, profile_words
from oak_ledge.core.sizes.text.write import border_text
from oak_ledge.flows.bench.stations import stations
from oak_ledge.flows.bench.view_models import Live, Output, PlacementView
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.jobs.heads import surely_found_in
from oak_ledge.flows.library.views import size_view
from oak_ledge.flows.photos import previews
from oak_ledge.flows.photos.photos import first_on, photo_view
from oak_ledge.flows.photos.scenes import missing, not_made
from oak_ledge.flows.pieces.figures import Figures, compute, figures_with
from oak_ledge.flows.pieces.heads import head_shown
from oak_ledge.flows.pieces.pictures import strip_note
from oak_ledge.flows.pieces.pieces import STATE_WORDS, around_of
from oak_ledge.flows.pieces.weight_notes import limit_told
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed


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
    noted = in_order(_counted(workspace, placed, shown.notes), strip_note(workspace, placed))
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
        has_room=has_room(placed.lying),
        ratio_open=may_change_ratio(placed.lying.size),
        worked_on=_worked_on(placed),
        being_made=any(fill is None or fill.state != "failed" for fill in pending),
        not_made=next(
            (fill.reason or "" for fill in pending if fill and fill.state == "failed"), ""
        ),
    )


def _counted(workspace: Workspace, placed: Placed, notes: Sequence[Note]) -> list[Note]:
    """Say in the note on found points how many photos of the job one look over all would confirm."""
    if all(note.code != "face-found" for note in notes):
        return list(notes)
    with reading(workspace.sessions) as session:
        count = surely_found_in(session, placed.job_id)

    def way_of(way: Way) -> Way:
        words = f"Right for all {count}" if way.key == RIGHT_FOR_ALL else way.words
        return way.model_copy(update={"words": words})

    def said(note: Note) -> Note:
        ways = [way_of(way) for way in note.ways if way.key != RIGHT_FOR_ALL or count > 1]
        return note.model_copy(update={"ways": tuple(ways)})

    return [said(note) if note.code == "face-found" else note for note in notes]


def _worked_on(placed: Placed) -> bool:
    """Return whether a crop is another than the one that suggests itself, photo turned as it is."""
    lying, upright = placed.lying, placed.photo.facts.upright
    firsts = [laid_as(lying.size, upright, lying.placement)]
    if not lying.placement.quarter and not lying.placement.mirror:
        firsts.append(first_on(lying.size, placed.photo))
    boxes = [lying_on(lying.size, upright, first).crop for first in firsts]
    near = 1e-3 * lying.crop.width
    return not any(
        lying.crop.angle == box.angle
        and all(abs(a - b) <= near for a, b in zip(lying.crop.box, box.box, strict=True))
        for box in boxes
    )


def _file_name(placed: Placed, lying: Lying, asked: Asked) -> str:
    try:
        stem = stem_on(lying.size, asked, placed.photo.name, placed.job, 1)
    except FileError:
        return ""
    return f"{stem}{format_of(lying.size.file.format).ending}"


def _shape_of(size: Size) -> str:
    edges = written_pixels(size)
    if size.shape.ratio is not None:
        return size.shape.label
    return "" if edges is None else shape_words(*face_of(size, edges))


def live(workspace: Workspace, placed: Placed, placement: Placement) -> Live:
    """Compute all that is shown of a placement that may not be kept yet."""
    facts = placed.photo.facts
    lying = lying_on(placed.size, facts.upright, placement)
    size, output = lying.size, lying.asked
    retouches = placed.photo.retouches
    tally, noted = compute(lying, facts, placed.size, around_of(placed))
    figures = figures_with(lying, facts, tally, noted)
    ground = placement.continued
    about = _about_bytes(workspace, placed.photo, lying, figures)
    weights = previews.weights_of(workspace, placed.photo)
    if weights is not None:
        noted = in_order(figures.notes, limit_told(lying, facts, weights, figures.scale)[0])
        figures = figures.model_copy(update={"notes": noted})
    taken = None if is_unmade(lying) or ground is None else ground.attempt
    return Live(
        **dict(figures),
        **_lying_fields(lying, placed),
        **_picture_fields(size, output),
        **_settings_fields(size, output, copied=figures.copied),
        id=placed.id,
        head=head_shown(lying, placed.photo.faces),
        stations=stations(
            size, facts, figures, about, attempt=taken, retouches=len(retouches.shown)
        ),
        output=_output(size, figures.asked, about),
        about_bytes=about,
        typed=_typed(lying, facts.ppi),
        file_name=_file_name(placed, lying, figures.asked),
    )


def _lying_fields(lying: Lying, placed: Placed) -> dict[str, Any]:
    """Return the fields of `Live` that say where the crop lies, and what lies around it."""
    size, surface, output = lying.size, lying.surface, lying.asked
    waiting = placed.photo.found or NOTHING
    return {
        "lying": lying.placement,
        "extent": surface.extent,
        "outline": surface.outline,
        "photo_extent": surface.photo,
        "crop": lying.crop.box,
        "beyond": size.differ == "extend",
        "reaches": ground_shown(lying),
        "source_words": _source_words(lying),
        "keeps": zones_on(surface, placed.photo.keeps),
        "found": zones_on(surface, waiting),
        "found_word": _found_words(waiting),
        "squared": _squared_words(lying),
        "tightness": tightness(lying),
        "window": size.shape.whole_pixels,
        "turns": len(set(printed_pixels(size, output))) == 2 and size.shape.has_other_way,
    }


def _picture_fields(size: Size, output: Pixels) -> dict[str, Any]:
    """Return the fields of `Live` that the piece is drawn from."""
    return {
        "picture": output,
        "panels": _panel_shares(size, output),
        "sides": side_shares(size, output),
        "joints": joints_path(size, output),
        "face": face_of(size, output),
        "edge": edge_path(size, output),
        "outline_points": () if size.outline is None else points_of(size.outline.path),
        "outline_text": "" if size.outline is None else size.outline.short.removeprefix("outline "),
        "outside": outside_of(size) if size.file.format == "jpeg" else "",
        "insets": insets(size, output),
        "inner": picture_shares(size, output),
        "border_text": border_text(size),
        "paper": paper_of(size),
        "hung": hung(size, output),
        "edges": output_edges(size, output),
        "ground": size.ground,
    }


def _settings_fields(size: Size, output: Pixels, *, copied: bool) -> dict[str, Any]:
    """Return the fields of `Live` that say how pixels are finished and written."""
    return {
        "method": size.method,
        "sharpen_for": size.sharpen_for,
        "sharpness": _sharpness(size, output),
        "marks_for": profile_words(size.file) if may_lose_colours(size.file) else None,
        "finish": _finish_words(size, output, copied=copied),
        "file": size.file,
        "limit": "" if size.file.at_most is None else limit_words(size.file.at_most),
    }


def _panel_shares(size: Size, output: Pixels) -> tuple[tuple[float, float, float, float], ...]:
    """Return left, top, width and height of each panel as shares of the whole picture."""
    wide, high = output
    return tuple(
        (box.left / wide, box.top / high, box.width / wide, box.height / high)
        for box in panel_boxes(size, output)
    )


def _source_words(lying: Lying) -> str:
    """Return what alone is copied into a continued ground, and how often it was painted over."""
    ground = lying.placement.continued
    if ground is None:
        return ""
    own = {source.side for source in ground.side_sources}
    sides = [side for side in OUTWARD if upright_side(lying.surface, side) in own]
    words = []
    if ground.take_from:
        words.append("Only what was brushed is copied.")
    if sides:
        words.append(f"Beyond {' and '.join(sides)}: only what was brushed for it.")
    if ground.over:
        count = len(ground.over)
        words.append(f"{count} place{'s' * (count > 1)} in it painted over.")
    return " ".join(words)


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
    return estimate(weights, drawn_pixels(lying.size, lying.asked), figures.scale, size.file, part)


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


def _output(size: Size, asked: Asked, about: int | None) -> Output:
    pixels, size = (asked.width, asked.height), one_panel(size)
    edges = output_edges(size, pixels)
    unit = size.shape.measured_in
    fields = {"ppi": "", "width": "", "height": "", "unit": "in" if unit in (None, "px") else unit}
    fields |= {"width_px": str(asked.width), "height_px": str(asked.height), "percent": ""}
    if size.ppi is not None:
        fields |= {
            "ppi": decimal(size.ppi),
            "width": edges[0].rpartition(" ")[0],
            "height": edges[1].rpartition(" ")[0],
        }
    label, measured = "no ppi", "no physical size"
    if asked.ppi is not None:
        label = f"{rounded(asked.ppi, 3)} ppi, the photo's own"
        measured = measured_lengths(*pixels, asked.ppi, "in", 2)
        wide, high = (rounded(edge / asked.ppi, 2) for edge in pixels)
        fields |= {"ppi": rounded(asked.ppi, 2), "width": wide, "height": high}
    return Output(
        pixels=f"{asked.width} × {asked.height} px",
        lengths=output_lengths(size, pixels) or measured,
        ppi=f"{decimal(size.ppi)} ppi" if size.ppi is not None else label,
        weight="" if about is None else bytes_words(about),
        fields=fields,
    )
