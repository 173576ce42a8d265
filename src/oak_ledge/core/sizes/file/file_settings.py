"""How the file of a size is written."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.measures.bytes import ByteLimit
from oak_ledge.core.sizes.choices import MetadataChoice, Profile
from oak_ledge.core.sizes.file.formats import FileFormat
from oak_ledge.core.sizes.file.profile_file import ReceiverProfile
from oak_ledge.core.values import Value

DEFAULT_PATTERN = "{photo}_{size}"


USUAL_QUALITY = 92


# Under it a JPEG shows its blocks (rules, section 7).
LEAST_QUALITY = 60


class FileSettings(Value):
    """How the file is written."""

    format: FileFormat = "jpeg"
    quality: int = Field(default=USUAL_QUALITY, ge=1, le=100, description="JPEG, WebP and AVIF")
    floor: int = Field(
        default=LEAST_QUALITY,
        ge=1,
        le=100,
        description="least quality taken to stay within at_most",
    )
    at_most: ByteLimit | None = Field(default=None, ge=1, description="greatest bytes of the file")
    profile: Profile = Field(default="keep", description="the photo's own, or converted to one")
    icc: ReceiverProfile | None = Field(default=None, description="with the profile “receiver”")
    metadata: MetadataChoice = Field(default="keep", description="what is known of the photo")
    location: bool = Field(default=True, description="false: the place it was taken is left out")
    fine_colour: bool = Field(default=False, description="JPEG: colour at every pixel, for text")
    progressive: bool = Field(default=False, description="JPEG: coarse first, then finer")
    compression: Literal["lzw", "deflate"] = Field(default="lzw", description="TIFF only")
    bits: Literal[8, 16] | None = Field(
        default=None,
        exclude_if=lambda bits: bits is None,
        description="of each band, in PNG and TIFF; null: as the photo has it",
    )
    pattern: str = Field(default=DEFAULT_PATTERN, min_length=1, max_length=200)


def may_lose_colours(file: FileSettings) -> bool:
    """Return whether a file's profile is one that colours can lie beyond: neither kept nor grey."""
    if file.icc is not None:
        return file.icc.colours != "grey"
    return file.profile in ("srgb", "p3")
