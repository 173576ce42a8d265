"""The mark of one piece, by hand: laid, moved to another place, hidden, or given back to its size."""

from __future__ import annotations

from typing import Literal

from typing_extensions import override

from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.marks.mark import PieceMark
from oak_ledge.core.photos.keep_zones import NOTHING
from oak_ledge.core.placements.placement import Placement, changed, size_at
from oak_ledge.core.placements.zones.mark_box import boxes


class LayMark(BaseGesture):
    """Lay a mark over this piece in place of its size's; null leaves it to its size again."""

    kind: Literal["mark"]
    mark: PieceMark | None = None

    @property
    @override
    def name(self) -> str:
        if self.mark is None:
            return "mark as its size"
        place = self.mark.place.replace("-", " ")
        return "mark hidden" if self.mark.hidden else f"mark at {place}"

    @override
    def apply(self, start: Start) -> Placement:
        """Return the placement with it.

        Raises
        ------
        SizeError
            If it is larger than the piece.
        """
        if self.mark is None:
            return changed(start.placement, mark=None)
        own = self.mark.model_copy(update={"avoid": NOTHING})
        if not own.hidden:
            shape = (own.picture.width, own.picture.height)
            boxes(start.lying.size, start.lying.asked, own, shape)
        of_size = size_at(start.size, start.placement).mark
        as_its_size = of_size is not None and own == PieceMark(**dict(of_size))
        return changed(start.placement, mark=None if as_its_size else own)
