"""What is on the bench, saved as a size of the library."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.marks.mark import NamedMark, PieceMark
from oak_ledge.core.measures.numbers import decimal
from oak_ledge.core.placements.placement import mark_on
from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.fields import LONGEST_NAME
from oak_ledge.core.sizes.size import Size, like_photo, size_from
from oak_ledge.core.sizes.text.write import shape_label
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.library.sizes import named_anew
from oak_ledge.flows.library.views import SavedSizeView, SizeView, size_view, view_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import transaction
from oak_ledge.store.library import sizes
from oak_ledge.store.placements import Placed


class SaveSizeBody(BaseModel):
    """The name and group a size shall have in the library; what is left out is the size's own."""

    model_config = ConfigDict(extra="forbid")

    name: str | None = Field(default=None, max_length=LONGEST_NAME)
    group: Group | None = None


def would_keep(workspace: Workspace, placement_id: int) -> SizeView:
    """Return what would be kept of a placement, under the name that is offered: with its resolution."""
    size = _kept_of(load(workspace, placement_id))
    ppi = "" if size.ppi is None else f" {decimal(size.ppi)} ppi"
    name = size.name or f"{shape_label(size)}{ppi}"[:LONGEST_NAME]
    return size_view(size.model_copy(update={"name": name}))


def _kept_of(placed: Placed) -> Size:
    size, mark = placed.lying.size, mark_on(placed.size, placed.placement)
    size = size.model_copy(update={"mark": mark and NamedMark(**_of_library(mark))})
    return size if placed.placement.free is None else _exactly(size, placed.placement.free)


def _of_library(mark: PieceMark) -> dict[str, object]:
    """Return what a size has of a piece's mark: how it is laid, and its pictures."""
    return {name: value for name, value in mark if name in NamedMark.model_fields}


def keep_of(workspace: Workspace, placement_id: int, body: SaveSizeBody) -> SavedSizeView:
    """Keep the size a placement lies on in the library; a free crop is kept as its exact pixels."""
    size = _kept_of(load(workspace, placement_id))
    size = size_from(dict(size) | body.model_dump(exclude_none=True))
    with transaction(workspace.sessions) as session:
        return view_of(sizes.add(session, named_anew(session, size)), {})


def _exactly(size: Size, pixels: tuple[int, int]) -> Size:
    label = None if size.ppi is None else float(size.ppi)
    kept = {"group": size.group, "file": size.file, "receiver": size.receiver, "mark": size.mark}
    return like_photo(size.name, pixels, label).model_copy(update=kept)
