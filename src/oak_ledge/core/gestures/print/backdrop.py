"""A photo behind a piece, by hand: chosen among those of its job, or taken away."""

from __future__ import annotations

from typing import Literal

from typing_extensions import override

from oak_ledge.core.gestures.beyond_photo import grounded
from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.photos.backdrop import Backdrop
from oak_ledge.core.placements.lying import on_own_size
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sizes.size import changed_size


class SetBackdrop(BaseGesture):
    """Put a photo behind a piece, or take it away with null: this photo's own exception to its size.

    The crop may reach `beyond` the photo from then on, so that it is seen around it; without, only what
    is cut out or clear lets it be seen.
    """

    kind: Literal["backdrop"]
    backdrop: Backdrop | None = None
    beyond: bool | None = None

    @property
    @override
    def name(self) -> str:
        return "ground chosen"

    @override
    def apply(self, start: Start) -> Placement:
        wanted = changed_size(start.lying.size, backdrop=self.backdrop)
        lying = on_own_size(start.lying, start.size, wanted)
        if self.beyond is None:
            return lying.placement
        return grounded(start.size, lying, beyond=self.beyond)
