"""What is known of a photo: measured once when it is taken in, never altered."""

from __future__ import annotations

from math import hypot
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.photo_formats import PhotoFormat

Channels = Literal["grey", "RGB", "CMYK"]


def _label(value: Any) -> Any:
    """Take a label of 0, as some files carry it, for none."""
    return None if value == 0 else value


class PhotoFacts(BaseModel):
    """Facts read from a photo's file. `width` × `height` are upright, orientation tag applied."""

    model_config = ConfigDict(frozen=True)

    format: PhotoFormat
    width: int = Field(ge=1, description="photo pixels, upright")
    height: int = Field(ge=1, description="photo pixels, upright")
    orientation: int = Field(ge=1, le=8, description="the orientation tag of the file")
    channels: Channels
    alpha: bool
    bits: Literal[8, 16]
    ppi: Annotated[float | None, BeforeValidator(_label)] = Field(
        description="resolution label in the file; None where it has none"
    )
    profile: str | None = Field(description="name of the embedded profile; None where it has none")
    focal_35mm: float | None = Field(
        default=None, gt=0, description="the lens's focal length as on 36 × 24 mm, where recorded"
    )
    profile_fits: bool = Field(default=True, description="false: it is for other colours")
    bytes: int = Field(ge=1)
    remarks: tuple[str, ...] = Field(default=(), description="what was assumed or left out")

    @property
    def upright(self) -> Pixels:
        """Width and height, orientation applied."""
        return (self.width, self.height)

    @property
    def focal_pixels(self) -> float | None:
        """The focal length in photo pixels, by the diagonals of photo and 36 × 24 mm."""
        if self.focal_35mm is None:
            return None
        return self.focal_35mm * hypot(self.width, self.height) / hypot(36, 24)
