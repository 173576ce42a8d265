"""Starting again, and going around what must stay whole."""

from __future__ import annotations

from typing import Literal

from typing_extensions import override

from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.placements.zones.around import filled, kept_whole, suggest_around
from oak_ledge.core.placements.zones.off_joints import off_joints
from oak_ledge.core.placements.zones.on_surface import zones_on


class KeepWhole(BaseGesture):
    """Move the crop around what must stay whole, loosening it where that is needed."""

    kind: Literal["keep_whole"]

    @property
    @override
    def name(self) -> str:
        return "moved around keep zones"

    @override
    def apply(self, start: Start) -> Placement:
        keeps = start.photo.keeps
        shapes = zones_on(start.lying.surface, keeps)
        return kept_whole(start.lying, shapes) if keeps.zones else start.placement


class FillSubject(BaseGesture):
    """Lay the crop so that the subject fills what its size says."""

    kind: Literal["fill_subject"]

    @property
    @override
    def name(self) -> str:
        return "made to fill"

    @override
    def apply(self, start: Start) -> Placement:
        shapes = zones_on(start.lying.surface, start.photo.keeps)
        if start.lying.size.fills is None or not any(kind == "zone" for kind, _ in shapes):
            return start.placement
        return filled(start.lying, shapes).placement


class OffJoint(BaseGesture):
    """Slide the crop so that no joint between panels cuts what must stay whole."""

    kind: Literal["off_joint"]

    @property
    @override
    def name(self) -> str:
        return "slid off the joint"

    @override
    def apply(self, start: Start) -> Placement:
        return (off_joints(start.lying, start.photo.keeps) or start.lying).placement


class StartAgain(BaseGesture):
    """Go back to the suggestion; its mark stays."""

    kind: Literal["start_again"]

    @property
    @override
    def name(self) -> str:
        return "started again"

    @override
    def apply(self, start: Start) -> Placement:
        suggested = suggest_around(
            start.size, start.upright, start.photo.keeps, face=start.photo.face
        )
        return changed(suggested, mark=start.placement.mark)
