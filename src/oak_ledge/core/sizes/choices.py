"""What can be chosen of a size, as words."""

from __future__ import annotations

from typing import Literal

Turn = Literal["suit", "fixed"]


Turned = Literal["wide", "tall"]


Edge = Literal["width", "height", "long", "short"]


Group = Literal["print", "frame", "marketplace", "screen", "own"]


MetadataChoice = Literal["keep", "copyright", "none"]


Differ = Literal["trim", "extend", "inside", "stretch"]


Profile = Literal["keep", "srgb", "p3", "grey", "receiver"]


MethodChoice = Literal["auto", "mitchell", "bicubic", "lanczos", "nearest"]


SharpenFor = Literal["off", "screen", "smooth", "rough"]
