"""The settings of the program: read once at the top, handed down as plain values."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict


class Config(BaseSettings):
    """Each can be set as OAK_LEDGE_… in the environment; the command line wins."""

    model_config = SettingsConfigDict(env_prefix="OAK_LEDGE_", frozen=True)

    data: Path = Field(default=Path(".data"), description="folder for originals, database, files")
    host: str = Field(default="127.0.0.1", description="address to listen on; local by default")
    port: int = Field(default=8000, ge=1, le=65535, description="port to listen on")
    most_megapixels: int = Field(
        default=300, ge=1, le=2000, description="photos with more are refused"
    )
    most_upload_mb: int = Field(
        default=1000, ge=1, le=100_000, description="files with more are refused"
    )
