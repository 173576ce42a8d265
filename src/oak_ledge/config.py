"""The settings of the program: read once at the top, handed down as plain values."""

from __future__ import annotations

import os
from collections.abc import Mapping
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from oak_ledge.core.files.limits import Limits


def _cache_of_this_user() -> Path:
    """Return the folder for caches (XDG Base Directory Specification)."""
    named = os.environ.get("XDG_CACHE_HOME", "")
    return Path(named) if Path(named).is_absolute() else Path.home() / ".cache"


class Config(BaseModel):
    """Each can be set as OAK_LEDGE_… in the environment; the command line wins."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    data: Path = Field(default=Path(".data"), description="folder for originals, database, files")
    host: str = Field(default="127.0.0.1", description="address to listen on; local by default")
    port: int = Field(default=8000, ge=1, le=65535, description="port to listen on")
    most_megapixels: int = Field(
        default=300, ge=1, le=2000, description="photos with more are refused"
    )
    most_whole_megapixels: int = Field(
        default=100,
        ge=1,
        le=2000,
        description="the same for files that can only be decoded whole: WebP, AVIF, HEIC, progressive",
    )
    most_output_megapixels: int = Field(
        default=500, ge=1, le=2000, description="files of more are not made"
    )
    most_flight_megapixels: int = Field(
        default=400, ge=1, le=100_000, description="photos and files worked on at once hold no more"
    )
    most_held_mb: int = Field(
        default=200, ge=0, le=100_000, description="pixels of a photo kept while it is used again"
    )
    most_previews_mb: int = Field(
        default=2000,
        ge=50,
        le=1_000_000,
        description="pictures for screens; those least lately used go first",
    )
    most_grounds_mb: int = Field(
        default=2000,
        ge=50,
        le=1_000_000,
        description="grounds and retouches as they were made; those least lately used go first",
    )
    most_originals_mb: int | None = Field(
        default=None,
        ge=50,
        le=1_000_000_000,
        description="originals; above that, photos that no job uses go, the oldest first",
    )
    most_upload_mb: int = Field(
        default=1000, ge=1, le=100_000, description="files with more are refused"
    )

    folder: Path | None = Field(
        default=None, description="where finished files are put on wish, in a folder for each job"
    )
    find_subjects: bool = Field(
        default=True, description="look for faces and subjects in photos that come in"
    )
    fetch_from: str = Field(
        default="",
        description="hosts inside your own network that photos may be fetched from, as HOST or "
        "HOST:PORT, with commas between",
    )
    allowed_hosts: str = Field(
        default="",
        description="names this server answers under beside local ones, with commas between",
    )
    workers: Literal["auto"] | Annotated[int, Field(ge=0, le=64)] = Field(
        default="auto",
        description="processes beside the server that make files; 0: none, auto: one for each core",
    )
    queue: str | None = Field(
        default=None,
        description="redis://… through which workers on other machines are handed work",
    )
    token: str | None = Field(default=None, description="the token of workers on other machines")
    cache: Path = Field(
        default_factory=lambda: _cache_of_this_user() / "oak-ledge",
        description="where a worker on another machine keeps originals it fetched",
    )
    most_cache_mb: int = Field(
        default=4000,
        ge=100,
        le=1_000_000,
        description="originals kept there; those least lately used go first",
    )

    @field_validator("workers", mode="before")
    @classmethod
    def _workers(cls, value: object) -> object:
        if value == "auto" or (
            str(value).isdecimal() and len(str(value)) < 3 and int(str(value)) <= 64
        ):
            return value
        msg = "say auto, or a number from 0 to 64"
        raise ValueError(msg)

    @field_validator("queue")
    @classmethod
    def _queue(cls, text: str | None) -> str | None:
        if text is None or text.startswith(("redis://", "rediss://", "unix://")):
            return text
        msg = "write it as redis://HOST:PORT"
        raise ValueError(msg)

    @property
    def limits(self) -> Limits:
        """The limits as the core takes them, in single pixels and bytes."""
        million = 1_000_000
        return Limits(
            upload_bytes=self.most_upload_mb * million,
            photo_pixels=self.most_megapixels * million,
            whole_pixels=self.most_whole_megapixels * million,
            output_pixels=self.most_output_megapixels * million,
            flight_pixels=self.most_flight_megapixels * million,
            held_bytes=self.most_held_mb * million,
            preview_bytes=self.most_previews_mb * million,
            ground_bytes=self.most_grounds_mb * million,
            original_bytes=None
            if self.most_originals_mb is None
            else self.most_originals_mb * million,
        )


def read_config(given: Mapping[str, object]) -> Config:
    """Read the environment, and put what the command line gives over it.

    Raises
    ------
    ValidationError
        If a setting is not as it must be.
    """
    named = {name: os.environ.get(f"OAK_LEDGE_{name}".upper(), "") for name in Config.model_fields}
    fields = {name: value for name, value in named.items() if value}
    return Config.model_validate(
        fields | {name: argument for name, argument in given.items() if argument is not None}
    )
