"""Laying the crop by the head of its photo."""

from __future__ import annotations

from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import CropGesture, Start
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.zones.head import head_on_piece, head_pixels, laid_by_head


class LayHead(CropGesture):
    """Lay the crop so that the head is as tall, and its eyes as high, as said; what is not said stays.

    With neither it becomes what the size asks.
    """

    kind: Literal["lay_head"]
    height: float | None = Field(
        default=None, gt=0, le=1e6, description="of the head, in the size's unit"
    )
    eyes: float | None = Field(
        default=None, gt=0, lt=100, description="per cent of the piece's height above its foot"
    )

    @property
    @override
    def name(self) -> str:
        return "laid by its head"

    @override
    def reshape(self, start: Start) -> Placement:
        lying, face = start.lying, start.photo.face
        size = lying.size
        if not size.shape.both_edges or size.shape.whole_pixels or size.panels is not None:
            msg = "A head is measured on a piece of exact edges. Choose a size like 35x45mm@600 head 32-36mm."
            raise PlacementError(msg)
        head = None if face is None else head_on_piece(lying, face)
        if face is None or head is None:
            msg = "No head is known in this photo. Set eyes, chin and crown first."
            raise PlacementError(msg)
        if self.height is None and self.eyes is None and size.head is not None:
            return laid_by_head(lying, face).placement
        pixels = head.pixels if self.height is None else head_pixels(size, self.height, head.unit)
        eye_line = head.eye_line if self.eyes is None else self.eyes / 100
        return laid_by_head(lying, face, pixels=pixels, eye_line=eye_line).placement
