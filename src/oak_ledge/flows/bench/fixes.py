"""A note's one-step way out."""

from __future__ import annotations

from datetime import datetime
from fractions import Fraction

from oak_ledge.core.gestures.apply import Gesture
from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.gestures.heads import LayHead
from oak_ledge.core.gestures.pixels import Resample
from oak_ledge.core.gestures.start import FillSubject, KeepWhole, OffJoint
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.measures.numbers import clipped
from oak_ledge.core.notes.crop import cut_by_extend
from oak_ledge.core.notes.file import foresaid
from oak_ledge.core.notes.heads import RIGHT_FOR_ALL
from oak_ledge.core.notes.note import stops
from oak_ledge.core.notes.resolution import enough_ppi, loosened, resampled_unscaled
from oak_ledge.core.notes.size import KEEP_OLD, size_changed, unit_slip
from oak_ledge.core.placements.fit import on_pixels
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.placements.scene_geometry import is_unmade
from oak_ledge.core.placements.suggestion import around_photo
from oak_ledge.core.receivers.fixed import fixed
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.write import shape_label
from oak_ledge.flows.bench.face import ConfirmFace, change_face, confirm_all
from oak_ledge.flows.bench.history import done_if_newest, keep
from oak_ledge.flows.bench.view import load, view
from oak_ledge.flows.bench.view_models import PlacementView
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs.heads import head_of
from oak_ledge.flows.jobs.size_changes import take_size
from oak_ledge.flows.photos.previews import weights_of
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.pieces.weight_notes import fits, fitted
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import Session
from oak_ledge.store.placements import Placed


def fix(
    workspace: Workspace,
    placement_id: int,
    code: str,
    now: datetime,
    seen: int | None = None,
    way: str | None = None,
) -> PlacementView:
    """Take a note's one-step way out, or the `way` that was chosen of several.

    That is the size likely meant, the one the library holds now, or the crop moved around what must
    stay whole.

    A job's own copy of the size changes for every photo the job has on it, as one step that can be
    undone for all of them; the library stays as it is.

    Raises
    ------
    RequestError
        If the placement has no such note, or the note no such step.
    """
    if code == "face-found":
        return _points_confirmed(workspace, placement_id, way, now, seen)
    gesture = _gesture(workspace, placement_id, code)
    if gesture is not None:
        return keep(workspace, placement_id, gesture, now, seen)
    if code == "over-limit":
        return _within_limit(workspace, placement_id, way, now, seen)

    def do(session: Session, placed: Placed) -> None:
        if code == "not-taken":
            placement, what = _for_receiver(placed)
            placements.keep(session, placed.id, placement, what, now)
            return
        moved = _moved(placed, code)
        if moved is not None:
            lying, what = moved
            placements.keep(session, placed.id, lying.placement, what, now)
            return
        if code == "size-changed" and way == KEEP_OLD:
            _keep_old(session, placed, now)
            return
        size, what = _meant(placed, code)
        saved = jobs.size_of(session, placed.job_size_id).saved_id if size == placed.saved else None
        take_size(session, placed.job_id, placed.job_size_id, size, what, now, saved_id=saved)

    return done_if_newest(workspace, placement_id, seen, do)


def _gesture(workspace: Workspace, placement_id: int, code: str) -> Gesture | None:
    """Return the gesture that is a note's way out, where it is one."""
    if code in ("keep-cut", "keep-edge", "keep-hidden", "sliver"):
        return KeepWhole(kind="keep_whole")
    if code == "joint":
        return OffJoint(kind="off_joint")
    if code == "head":
        return LayHead(kind="lay_head")
    if code == "head-tilt":
        return _levelled(load(workspace, placement_id))
    if code == "fills":
        return FillSubject(kind="fill_subject")
    if code == "ground-unmade":
        return _continued(load(workspace, placement_id))
    if code in ("enlarged", "short-of-ppi"):
        return _of_resolution(load(workspace, placement_id), code)
    return None


def _points_confirmed(
    workspace: Workspace, placement_id: int, way: str | None, now: datetime, seen: int | None
) -> PlacementView:
    """Confirm the points that were found in this photo, or in all of its job that are sure."""
    if way == RIGHT_FOR_ALL:
        confirm_all(workspace, load(workspace, placement_id).job_id, now)
        return view(workspace, placement_id)
    return change_face(workspace, placement_id, ConfirmFace(do="right"), now, seen)


def _levelled(placed: Placed) -> LayHead:
    """Return the gesture that levels the eyes, the head as tall and as high as it is."""
    head = head_of(placed)
    return LayHead(kind="lay_head", height=head.height, eyes=head.eye_line * 100)


def _for_receiver(placed: Placed) -> tuple[Placement, str]:
    """Return how a piece lies once the receiver that its size names would take it."""
    receiver, facts = placed.receiver, placed.photo.facts
    answer = None if receiver is None else foresaid(placed.lying, facts, receiver)
    if receiver is None or answer is None or not answer.fixes:
        raise RequestError(_NOTHING.format("not-taken"))
    placement = fixed(placed.size, facts.upright, placed.placement, answer)
    return placement, f"fixed for {receiver.name}"


def _keep_old(session: Session, placed: Placed, now: datetime) -> None:
    """Leave the job its own copy of a size that was changed since: it asks no more."""
    if size_changed(placed.size, placed.saved) is None:
        raise RequestError(_NOTHING.format("size-changed"))
    what = "the old size kept"
    take_size(session, placed.job_id, placed.job_size_id, placed.size, what, now, saved_id=None)


def _moved(placed: Placed, code: str) -> tuple[Lying, str] | None:
    """Return how a crop lies once it is put right, where that is what a note asks for."""
    lying = placed.lying
    figures = tally(lying)
    if code == "cut-by-extend" and cut_by_extend(lying.size, figures) is not None:
        return around_photo(lying), "whole photo taken in"
    note = resampled_unscaled(lying, figures)
    if code == "resampled-unscaled" and note is not None and note.way is not None:
        return on_pixels(lying), "put on whole pixels"
    return None


def _within_limit(
    workspace: Workspace, placement_id: int, way: str | None, now: datetime, seen: int | None
) -> PlacementView:
    """Make a piece so that its file is likely to stay within its greatest bytes."""
    weights = weights_of(workspace, load(workspace, placement_id).photo, measure=True)

    def do(session: Session, placed: Placed) -> None:
        facts, scale = placed.photo.facts, figures_of(placed)[0].scale
        ways = fits(placed.lying, facts, weights, scale) if weights is not None else ()
        fit = next((part for part in ways if part.kind == way), None)
        if fit is None:
            raise RequestError(_NOTHING.format("over-limit"))
        placement = fitted(placed.size, facts, placed.placement, fit)
        placements.keep(session, placed.id, placement, fit.words.lower(), now)

    return done_if_newest(workspace, placement_id, seen, do)


_NOTHING = "There is nothing to fix here under “{}”."


def allow(
    workspace: Workspace, placement_id: int, code: str, now: datetime, seen: int | None = None
) -> PlacementView:
    """Make a piece all the same: its stop of that code is a person's own responsibility from now on.

    Raises
    ------
    RequestError
        If the piece has no such stop.
    """

    def do(session: Session, placed: Placed) -> None:
        if code not in {note.code for note in stops(figures_of(placed)[1])}:
            msg = f"Nothing stops this piece under “{clipped(code)}”."
            raise RequestError(msg)
        placement = changed(placed.placement, allow=(*placed.placement.allow, code))
        placements.keep(session, placed.id, placement, "allowed as it is", now)

    return done_if_newest(workspace, placement_id, seen, do)


def _of_resolution(placed: Placed, code: str) -> Scale | Resample:
    """Return the gesture that makes resolution and crop fit: fewer ppi, or a looser crop."""
    size, figures = placed.lying.size, tally(placed.lying)
    if code == "enlarged" and (ppi := enough_ppi(size, figures)) is not None:
        return Resample(kind="resample", ppi=Fraction(ppi))
    if code == "short-of-ppi" and (factor := loosened(size, figures)) is not None:
        return Scale(kind="scale", factor=factor)
    raise RequestError(_NOTHING.format(code))


def _continued(placed: Placed) -> Continue:
    """Return the gesture that makes a ground anew where the crop lies now, by the try taken before."""
    if not is_unmade(placed.lying):
        raise RequestError(_NOTHING.format("ground-unmade"))
    was = placed.placement.continued
    if was is None:
        return Continue(kind="continue")
    return Continue(kind="continue", seed=was.seed, attempt=was.attempt)


def _meant(placed: Placed, code: str) -> tuple[Size, str]:
    if code == "size-changed" and size_changed(placed.size, placed.saved) is not None:
        assert placed.saved is not None  # or it had not changed
        return placed.saved, "the saved size taken"
    note = unit_slip(placed.size)
    if code == "unit-slip" and note is not None and note.fix is not None:
        meant = read_size(note.fix)
        shape = {"shape": meant.shape, "ppi": meant.ppi, "turn": meant.turn, "name": ""}
        return size_from(dict(placed.size) | shape), f"made {shape_label(meant)}"
    raise RequestError(_NOTHING.format(clipped(code)))
