"""How a piece's file is written, where a person says otherwise than its size."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import asked_of
from oak_ledge.core.measures.bytes import ByteLimit
from oak_ledge.core.sizes.choices import MetadataChoice
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import FORMATS, FileFormat
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.store.placements import Placed


class FileChoice(BaseModel):
    """What a file shall be; what is left out stays.

    `no_limit` takes a limit of bytes away, `as_photo` gives the depth back to the photo.
    """

    model_config = ConfigDict(extra="forbid")

    format: FileFormat | None = None
    quality: int | None = Field(default=None, ge=1, le=100)
    floor: int | None = Field(default=None, ge=1, le=100)
    at_most: ByteLimit | None = Field(default=None, ge=1)
    no_limit: bool = False
    bits: Literal[8, 16] | None = None
    as_photo: bool = False
    profile: str | None = Field(default=None, pattern="^(keep|srgb|p3|grey)$")
    metadata: MetadataChoice | None = None
    location: bool | None = None
    pattern: str | None = Field(default=None, min_length=1, max_length=200)

    @property
    def fields(self) -> dict[str, object]:
        """The file settings it puts over those of a size."""
        names = FileChoice.model_fields.keys() - {"no_limit", "as_photo"}
        fields = self.model_dump(include=names, exclude_none=True)
        if self.no_limit:
            fields["at_most"] = None
        if self.profile is not None:
            fields["icc"] = None
        if self.as_photo:
            fields["bits"] = None
        return fields


def written_as(placed: Placed, size: Size, choice: FileChoice) -> Size:
    """Put a choice over the file settings of a size that a piece lies on.

    Raises
    ------
    FileError, SizeError
        If a name can't be made of the pattern, or the file can't be so.
    """
    fields = choice.fields
    if choice.format is not None and "bits" not in fields:
        depths = FORMATS[choice.format].depths
        fields["bits"] = size.file.bits if size.file.bits in depths else None
    file = FileSettings.model_validate(dict(size.file) | fields)
    new_size = size_from(dict(size) | {"file": file})
    body = asked_of(new_size, placed.lying.asked, placed.photo.facts.ppi)
    stem_on(new_size, body, placed.photo.name, placed.job, 1)  # a name it can have
    return new_size
