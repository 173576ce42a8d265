"""The tables of receivers, and of what came of each file for one."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict
from sqlalchemy import String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.store.kinds import AsJson, Base, key, moment, owner, short


class Words(BaseModel):
    """Several sentences, as JSON."""

    model_config = ConfigDict(frozen=True)

    words: tuple[str, ...] = ()


class ReceiverRow(Base):
    """Who files go to, and how it stands with them."""

    __tablename__ = "receiver"
    # A number is never given twice: what was sent to one that is gone is not the next one's.
    __table_args__ = {"sqlite_autoincrement": True}  # noqa: RUF012 - the mapper's own way
    id: Mapped[key]
    name: Mapped[short]
    receiver: Mapped[Receiver] = mapped_column(AsJson(Receiver))
    version: Mapped[int] = mapped_column()
    paused: Mapped[bool]
    """no further file is begun"""
    rehearsing: Mapped[bool]
    """files go to its stand-in, not by its own way"""
    fault: Mapped[str | None]
    """the fault its stand-in has"""
    deleted: Mapped[moment | None]
    # a change names the version it was decided on, in its own statement
    __mapper_args__ = {"version_id_col": version}  # noqa: RUF012


class SendingRow(Base):
    """What came of a file for a receiver: the same bytes under the same name are one row."""

    __tablename__ = "sending"
    __table_args__ = (UniqueConstraint("receiver_id", "rehearsed", "name", "sha256"),)
    id: Mapped[key]
    receiver_id: Mapped[int] = owner("receiver")
    rehearsed: Mapped[bool]
    """sent to its stand-in"""
    apart: Mapped[bool]
    """sent by a command of its own, not by the server"""
    name: Mapped[str] = mapped_column(Text)
    sha256: Mapped[str] = mapped_column(String(64))
    bytes: Mapped[int]
    path: Mapped[str] = mapped_column(Text)
    """where it is read"""
    state: Mapped[short]
    reasons: Mapped[Words] = mapped_column(AsJson(Words))
    fixes: Mapped[Words] = mapped_column(AsJson(Words))
    receipt: Mapped[str | None] = mapped_column(Text)
    tries: Mapped[int]
    sent: Mapped[int]
    """bytes of it that are on their way"""
    again_at: Mapped[moment | None]
    """when it is tried again"""
    begun: Mapped[moment | None]
    changed: Mapped[moment]
