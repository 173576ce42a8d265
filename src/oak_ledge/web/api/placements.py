"""One placement: gestures, history, notes, and what is shown of it. Asked the most, so asked first."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import FileResponse, Response
from pydantic import BaseModel

from oak_ledge.core.pixels.cut.methods import Method
from oak_ledge.core.pixels.subject.dropper import Edge as Side
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.reports.composition_lines import KINDS, LineKind, lines
from oak_ledge.core.reports.enough_resolution import Advice
from oak_ledge.flows.bench import (
    compare_methods,
    copies as copying,
    file,
    fixes,
    history,
    keep_zones as zones,
    view as bench,
)
from oak_ledge.flows.bench.copies import Copied
from oak_ledge.flows.bench.file import EarlierFile, PieceFileBody
from oak_ledge.flows.bench.keep_zones import Marked
from oak_ledge.flows.bench.sizes import other_shapes as others, other_size, save_size
from oak_ledge.flows.bench.sizes.other_shapes import OtherShape
from oak_ledge.flows.bench.sizes.other_size import OtherSizeBody, RatioChoice, SizeChoices
from oak_ledge.flows.bench.sizes.save_size import SaveSizeBody
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.bench.view_models import Live, PlacementView
from oak_ledge.flows.export import cut_card as cutting
from oak_ledge.flows.library.views import SavedSizeView, SizeView
from oak_ledge.flows.photos import previews
from oak_ledge.flows.photos.previews import Tone
from oak_ledge.flows.pieces import pictures, true_pixels
from oak_ledge.flows.pieces.pictures import Beyond
from oak_ledge.flows.pieces.quiet import quiet_on
from oak_ledge.web.api.answer import attached, of_kind, shown, written
from oak_ledge.web.types import (
    CopyBody,
    Edge,
    FixBody,
    GestureBody,
    Here,
    Id,
    Now,
    Seen,
    SeenBody,
    StepBody,
)

router = APIRouter()


@router.post("/placements/{placement_id}/gesture", response_model=PlacementView | Live)
def gesture(placement_id: Id, body: GestureBody, here: Here, now: Now) -> Response:
    """Do one thing to a placement; without `commit` it is only told."""
    answer = (
        history.keep(here, placement_id, body.gesture, now, body.step)
        if body.keep
        else history.tell(here, placement_id, body.gesture, body.step)
    )
    return written(answer)


@router.post("/placements/{placement_id}/keep-zones", status_code=201)
def mark_zone(placement_id: Id, drawn: Marked, here: Here, now: Now) -> PlacementView:
    """Mark a zone or a line on the photo, drawn where this placement's crop is meant."""
    return zones.mark(here, placement_id, drawn, now)


@router.delete("/placements/{placement_id}/keep-zones")
def forget_zone(
    placement_id: Id,
    here: Here,
    now: Now,
    number: Annotated[int | None, Query(ge=0, le=1000)] = None,
    seen: Annotated[int | None, Query(ge=0, le=1000, description="how many there were")] = None,
) -> PlacementView:
    """Forget one zone or line of the photo, or all."""
    return zones.forget(here, placement_id, number, now, seen)


@router.get("/placements/{placement_id}")
def placement(placement_id: Id, here: Here, weigh: bool = False) -> PlacementView:
    """One placement; to `weigh` its photo first, for the file's estimated bytes, takes a moment."""
    return bench.view(here, placement_id, weigh=weigh)


def seen_in(body: SeenBody | None) -> int | None:
    """Return the step a call saw, where it names one."""
    return None if body is None else body.step


@router.put("/placements/{placement_id}")
def put_placement(
    placement_id: Id, placement: Placement, here: Here, now: Now, step: Seen = None
) -> PlacementView:
    """Set a placement by its figures."""
    return history.put(here, placement_id, placement, now, step)


@router.post("/placements/{placement_id}/undo")
def undo(placement_id: Id, here: Here, now: Now, body: SeenBody | None = None) -> PlacementView:
    """Undo the last step."""
    return history.walk(here, placement_id, -1, now, seen_in(body))


@router.post("/placements/{placement_id}/redo")
def redo(placement_id: Id, here: Here, now: Now, body: SeenBody | None = None) -> PlacementView:
    """Redo the step that was undone last."""
    return history.walk(here, placement_id, 1, now, seen_in(body))


@router.post("/placements/{placement_id}/step")
def go_to_step(placement_id: Id, body: StepBody, here: Here, now: Now) -> PlacementView:
    """Go to any step of the history, by its number; those after it can still be redone."""
    return history.go_to(here, placement_id, body.step, now, body.seen)


@router.post("/placements/{placement_id}/fix")
def fix(placement_id: Id, body: FixBody, here: Here, now: Now) -> PlacementView:
    """Take a note's one-step way out, or the responsibility for making it as it is."""
    if body.allow:
        return fixes.allow(here, placement_id, body.code, now, body.step)
    return fixes.fix(here, placement_id, body.code, now, body.step, body.way)


@router.get("/placements/{placement_id}/keep-size")
def would_keep_size(placement_id: Id, here: Here) -> SizeView:
    """What would be saved of what is on the bench, and the name that is offered for it."""
    return save_size.would_keep(here, placement_id)


@router.post("/placements/{placement_id}/keep-size", status_code=201)
def keep_size(placement_id: Id, here: Here, body: SaveSizeBody | None = None) -> SavedSizeView:
    """Save what is on the bench as a size of the library, under a name and in a group."""
    return save_size.keep_of(here, placement_id, body or SaveSizeBody())


@router.post("/placements/{placement_id}/file")
def settle_file(placement_id: Id, body: PieceFileBody, here: Here, now: Now) -> PlacementView:
    """Settle how this piece's file is written, or those of all on its size; no crop moves."""
    return file.settle_file(here, placement_id, body, now)


@router.get("/placements/{placement_id}/files")
def earlier_files(placement_id: Id, here: Here) -> list[EarlierFile]:
    """The files made of this piece so far, the newest first."""
    return file.earlier(here, placement_id)


@router.get("/placements/{placement_id}/sizes")
def size_choices(placement_id: Id, here: Here) -> SizeChoices:
    """The sizes this piece can be put on: the job's, then the library's, those used last first."""
    return other_size.choices(here, placement_id)


RatioText = Annotated[str, Query(max_length=200, description="such as 1:1 or 16:9")]


@router.get("/placements/{placement_id}/ratio")
def ratio_choice(placement_id: Id, text: RatioText, here: Here) -> RatioChoice:
    """What a bare ratio may mean on this piece: the print in it, or the photo's own pixels."""
    return other_size.ratio_choice(here, placement_id, text)


@router.post("/placements/{placement_id}/size")
def put_on_size(placement_id: Id, body: OtherSizeBody, here: Here, now: Now) -> PlacementView:
    """Put this piece, or all of the job on its size, on another size; the work on it is kept."""
    return other_size.put(here, placement_id, body, now)


@router.post("/placements/{placement_id}/settle")
def settle(placement_id: Id, here: Here, now: Now, body: SeenBody | None = None) -> PlacementView:
    """Approve a piece; one that a note stops is refused."""
    return history.settle(here, placement_id, now, seen_in(body))


@router.get(
    "/placements/{placement_id}/preview",
    response_class=FileResponse,
    responses=of_kind("image/jpeg", "image/png"),
)
def piece_preview(
    placement_id: Id, here: Here, edge: Edge = 900, marks: bool = False, mark: bool = True
) -> FileResponse:
    """The piece as it will look, its `mark` on it; with `marks`, what its profile cannot hold is striped."""
    placed = bench.load(here, placement_id)
    path = pictures.piece_preview(here, placed, edge, marks=marks, with_mark=mark)
    return shown(path, {"Cache-Control": "no-store"})


@router.post(
    "/placements/{placement_id}/picture", response_class=Response, responses=of_kind("image/jpeg")
)
def passing_picture(placement_id: Id, body: GestureBody, here: Here, edge: Edge = 900) -> Response:
    """The piece as a gesture would make it look; nothing is kept."""
    picture = history.picture(here, placement_id, body.gesture, edge, body.step)
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get(
    "/placements/{placement_id}/sides", response_class=Response, responses=of_kind("image/jpeg")
)
def sides_preview(placement_id: Id, here: Here, edge: Edge = 900) -> Response:
    """A stretched canvas with the sides it is turned over by."""
    picture = pictures.sides_preview(here, bench.load(here, placement_id), edge)
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


PartEdge = Annotated[int, Query(ge=1, le=3000, description="output pixels")]
PartFrom = Annotated[int, Query(ge=-300_000, le=300_000, description="output pixels")]


@router.get(
    "/placements/{placement_id}/part", response_class=Response, responses=of_kind("image/jpeg")
)
def true_part(
    placement_id: Id, width: PartEdge, height: PartEdge, here: Here, left: PartFrom = 0,
    top: PartFrom = 0,
) -> Response:  # fmt: skip
    """A part of the piece at true pixels, as its file will have it."""
    picture = true_pixels.part(here, bench.load(here, placement_id), (left, top, width, height))
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get(
    "/placements/{placement_id}/picture.png",
    response_class=Response,
    responses=of_kind("image/png"),
)
def whole_picture(placement_id: Id, here: Here) -> Response:
    """The piece with all its pixels, as a PNG in sRGB to be copied; no file is made."""
    picture = true_pixels.picture(here, bench.load(here, placement_id))
    return Response(picture, media_type="image/png", headers={"Cache-Control": "no-store"})


@router.get("/placements/{placement_id}/beyond")
def beyond_profile(placement_id: Id, here: Here) -> Beyond:
    """What of the piece its file's profile cannot hold."""
    return pictures.beyond_profile(here, bench.load(here, placement_id))


Share = Annotated[float, Query(ge=0, le=1)]


@router.get("/placements/{placement_id}/tone")
def tone(
    placement_id: Id, here: Here, x: float = 0.5, y: float = 0.5, edge: Side | None = None
) -> Tone:
    """The photo's colour about a point, by shares of what its crop lies on, or along an edge."""
    placed = bench.load(here, placement_id)
    if edge is not None:
        return previews.tone_of_edge(here, placed, edge)
    return previews.tone_at(here, placed, x, y)


@router.get("/placements/{placement_id}/copies")
def copies(placement_id: Id, here: Here) -> list[Copied]:
    """How the job's other placements would lie if they lay like this one; nothing is changed."""
    return copying.preview(here, placement_id)


@router.post("/placements/{placement_id}/copies")
def copy_lying(placement_id: Id, body: CopyBody, here: Here, now: Now) -> list[Copied]:
    """Lay the chosen placements like this one, one undoable step each."""
    return copying.copy(here, placement_id, body.placement_ids, now)


@router.get("/placements/{placement_id}/shapes")
def other_shapes(placement_id: Id, here: Here) -> list[OtherShape]:
    """The job's other sizes and common ratios, laid over this photo."""
    return others.shapes(here, placement_id)


class LinesDrawn(BaseModel):
    """Composition lines as SVG paths in the unit square, and how many ways of them differ."""

    name: str
    ways: int
    paths: list[str]


@router.get("/lines/{kind}")
def composition_lines(
    kind: LineKind,
    ratio: Annotated[float, Query(gt=0.001, lt=1000)],
    way: Annotated[int, Query(ge=0, le=1000)] = 0,
) -> LinesDrawn:
    """Composition lines for a crop of a ratio, width ÷ height."""
    drawn = KINDS[kind]
    return LinesDrawn(name=drawn.name, ways=drawn.ways, paths=lines(kind, ratio, way))


@router.get("/placements/{placement_id}/quiet")
def quiet_place(
    placement_id: Id, here: Here, way: Annotated[int, Query(ge=0, le=1000)] = 0
) -> LinesDrawn:
    """The quietest place of a piece, for words or a mark, as a line over it; `way` goes on to the next."""
    places = quiet_on(here, load(here, placement_id))
    if not places:
        return LinesDrawn(name="no quiet place", ways=1, paths=[])
    left, top, wide, high = places[way % len(places)]
    path = f"M{left:.5f} {top:.5f}h{wide:.5f}v{high:.5f}h-{wide:.5f}z"
    return LinesDrawn(name="quiet place", ways=len(places), paths=[path])


SpotEdge = Annotated[int, Query(ge=32, le=600, description="output pixels")]


@router.get("/placements/{placement_id}/busiest")
def busiest(placement_id: Id, here: Here, edge: SpotEdge = 220) -> compare_methods.BusiestPlace:
    """Where a spot of the piece shows most, to compare methods on."""
    return compare_methods.busiest_place(here, placement_id, edge)


@router.get("/placements/{placement_id}/methods")
def methods(
    placement_id: Id, here: Here, x: Share = 0.5, y: Share = 0.5, edge: SpotEdge = 220
) -> compare_methods.Spot:
    """The resampling methods on a spot of the piece, and how they differ there, in words."""
    return compare_methods.spot(here, placement_id, x, y, edge)


@router.get(
    "/placements/{placement_id}/methods/{method}",
    response_class=Response,
    responses=of_kind("image/jpeg"),
)
def method_picture(
    placement_id: Id, method: Method, here: Here, x: Share = 0.5, y: Share = 0.5,
    edge: SpotEdge = 220,
) -> Response:  # fmt: skip
    """A spot of the piece as one method draws it."""
    picture = compare_methods.spot_picture(here, placement_id, x, y, edge, method)
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get(
    "/placements/{placement_id}/cut-card",
    response_class=Response,
    responses=of_kind("application/pdf"),
)
def cut_card(placement_id: Id, here: Here) -> Response:
    """What a framer cuts for this piece: print, mat, glass, backing and mouldings."""
    card = cutting.card_of(here, placement_id)
    return Response(card, media_type="application/pdf", headers=attached("cut-card.pdf"))


@router.get("/placements/{placement_id}/advice")
def advice(placement_id: Id, here: Here) -> Advice:
    """How much resolution is enough for this crop on this size, and why."""
    return compare_methods.advice(here, placement_id)


@router.get(
    "/placements/{placement_id}/plane", response_class=FileResponse, responses=of_kind("image/jpeg")
)
def plane_preview(placement_id: Id, here: Here, edge: Edge = 2048) -> FileResponse:
    """The whole plane that a placement's four corners define, squared up."""
    path = pictures.plane_preview(here, bench.load(here, placement_id), edge)
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-store"})
