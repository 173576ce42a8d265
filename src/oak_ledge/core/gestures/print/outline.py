"""The outline of one piece, by hand: a line drawn around what is seen, its points dragged, or a shipped one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.placements.other_size import lain_on
from oak_ledge.core.placements.placement import Placement, changed, own_size
from oak_ledge.core.sizes.edges.by_hand import smoothed
from oak_ledge.core.sizes.edges.outline import Outline
from oak_ledge.core.sizes.size import changed_size
from oak_ledge.core.sizes.text.print_words import read_outline

Share = Annotated[float, Field(ge=-1, le=2)]


class SetOutline(BaseGesture):
    """Cut a piece along a line through `points`, shares of its picture; or along a shipped `outline`.

    `drawn` is a line as a hand drew it, of which few points are kept. Neither takes the outline away.
    It is this photo's own exception to its size.
    """

    kind: Literal["outline"]
    points: tuple[tuple[Share, Share], ...] | None = Field(default=None, max_length=2000)
    drawn: bool = False
    outline: str | None = Field(default=None, max_length=100)

    @property
    @override
    def name(self) -> str:
        if self.points is None and not self.outline:
            return "outline removed"
        return "outline drawn" if self.drawn else "outline changed"

    @override
    def apply(self, start: Start) -> Placement:
        """Return the placement on its own size with the outline.

        Raises
        ------
        SizeError
            If the line encloses nothing, there is no such outline, or the size can't have one.
        """
        here, outline = start.lying.size, None
        if self.points is not None:
            outline = Outline(kind="path", path=smoothed(self.points, thin=self.drawn))
        elif self.outline:
            outline = read_outline(self.outline)
        wanted = changed_size(here, outline=outline)
        bare = changed(start.placement, size=None)
        laid = lain_on(here, wanted, start.upright, bare)
        return changed(laid, size=own_size(start.size, wanted))
