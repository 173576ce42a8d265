"""The tables as they stand today; `migrations/` tells how they came to be."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, ConfigDict
from sqlalchemy import ForeignKey, LargeBinary, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from oak_ledge.core.files.proof import Asked, Measured
from oak_ledge.core.heads.face_points import Faces, FaceStep
from oak_ledge.core.marks.mark import NamedMark
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches, RetouchStep
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sheets.print_order import SheetOrder
from oak_ledge.core.sheets.sheet import Layout, Sheet
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.several import Several
from oak_ledge.store.kinds import AsJson, Base, key, moment, owner, short


class Change(BaseModel):
    """A placement before and after: the steps it stood at, and its state."""

    model_config = ConfigDict(frozen=True)

    placement_id: int
    step: int
    state: str
    after: int
    after_state: str


class SizeTaken(BaseModel):
    """A job's size before and after it was changed for all its placements."""

    model_config = ConfigDict(frozen=True)

    job_size_id: int
    before: Size
    saved_before: int | None
    after: Size
    saved_after: int | None


class Changes(BaseModel):
    """What one batch changed, as JSON."""

    model_config = ConfigDict(frozen=True)

    changes: tuple[Change, ...]
    size: SizeTaken | None = None


class FormerFile(BaseModel):
    """The file that stands until its place is taken by one made again."""

    model_config = ConfigDict(frozen=True)

    name: str
    asked: Asked
    measured: Measured
    made_of: str | None
    finished: str | None
    """as ISO 8601"""
    size: Size
    placement: Placement
    retouches: Retouches = NO_RETOUCHES


class PhotoRow(Base):
    """A photo: content, name, facts, and what must stay whole of it."""

    __tablename__ = "photo"
    id: Mapped[key]
    hash: Mapped[short] = mapped_column(unique=True)
    name: Mapped[short]
    facts: Mapped[PhotoFacts] = mapped_column(AsJson(PhotoFacts))
    keeps: Mapped[Keeps] = mapped_column(AsJson(Keeps), server_default="{}")
    found: Mapped[Keeps | None] = mapped_column(AsJson(Keeps))
    """zones found in it, that nobody has taken or refused yet; None before it was looked at"""
    faces: Mapped[Faces | None] = mapped_column(AsJson(Faces))
    """its heads, found or set; None before they were looked for"""
    retouches: Mapped[Retouches] = mapped_column(AsJson(Retouches), server_default="{}")
    """with which it comes into a job; each job has its own from then on"""
    added: Mapped[moment]


class SizeRow(Base):
    """A saved size, with the version it stands at."""

    __tablename__ = "size"
    id: Mapped[key]
    name: Mapped[short]
    group: Mapped[short]
    size: Mapped[Size] = mapped_column(AsJson(Size))
    version: Mapped[int] = mapped_column(server_default="1")
    deleted: Mapped[moment | None]
    # each change names the version it is of, in its own statement
    __mapper_args__ = {"version_id_col": version}  # noqa: RUF012 - the mapper's own way


class JobRow(Base):
    """A job: name, notes, dates, whether it is finished or deleted."""

    __tablename__ = "job"
    id: Mapped[key]
    name: Mapped[short]
    added: Mapped[moment]
    touched: Mapped[moment]
    notes: Mapped[str] = mapped_column(Text, server_default="")
    due: Mapped[date | None]
    away: Mapped[moment | None]
    deleted: Mapped[moment | None]


class JobPhotoRow(Base):
    """A photo in a job: its place there, and its retouches."""

    __tablename__ = "job_photo"
    __table_args__ = (UniqueConstraint("job_id", "photo_id"),)
    id: Mapped[key]
    job_id: Mapped[int] = owner("job")
    photo_id: Mapped[int] = owner("photo")
    position: Mapped[int] = mapped_column(server_default="0")
    out: Mapped[moment | None]
    """taken out of the job, with all that was done to it; added again it comes back"""
    retouches: Mapped[Retouches] = mapped_column(AsJson(Retouches), server_default="{}")
    """of the photo in this job alone"""
    photo: Mapped[PhotoRow] = relationship()


class JobSizeRow(Base):
    """A copy of a size as the job took it; `size_id` is the saved size it came from."""

    __tablename__ = "job_size"
    id: Mapped[key]
    job_id: Mapped[int] = owner("job")
    size_id: Mapped[int | None]
    size: Mapped[Size] = mapped_column(AsJson(Size))
    position: Mapped[int] = mapped_column(server_default="0")
    out: Mapped[moment | None]
    saved: Mapped[SizeRow | None] = relationship(
        primaryjoin="foreign(JobSizeRow.size_id) == SizeRow.id", viewonly=True
    )


class PlacementRow(Base):
    """How a photo of a job lies on one of its sizes."""

    __tablename__ = "placement"
    __table_args__ = (UniqueConstraint("job_photo_id", "job_size_id"),)
    id: Mapped[key]
    job_id: Mapped[int] = owner("job")
    job_photo_id: Mapped[int] = owner("job_photo")
    job_size_id: Mapped[int] = owner("job_size")
    placement: Mapped[Placement] = mapped_column(AsJson(Placement))
    state: Mapped[short]
    step: Mapped[int] = mapped_column()
    """which step it stands at; steps above it can be redone"""
    word: Mapped[str | None] = mapped_column(Text)
    """what the client said of it, until it is approved"""
    job: Mapped[JobRow] = relationship()
    job_photo: Mapped[JobPhotoRow] = relationship()
    job_size: Mapped[JobSizeRow] = relationship()
    # a change names the step it was decided on, in its own statement
    __mapper_args__ = {"version_id_col": step, "version_id_generator": False}  # noqa: RUF012


class LevelRow(Base):
    """How grave the notes of a placement are, so that a large job is counted without working them out."""

    __tablename__ = "placement_level"
    placement_id: Mapped[int] = mapped_column(
        ForeignKey("placement.id", ondelete="CASCADE"), primary_key=True
    )
    of: Mapped[short]
    """all that it follows from, told by content"""
    level: Mapped[short]


class StepRow(Base):
    """One step of a placement's history; the lowest is the suggestion.

    A number is never given twice, so that it says which step is meant, not only how many there are.
    """

    __tablename__ = "placement_step"
    __table_args__ = (UniqueConstraint("placement_id", "step"),)
    id: Mapped[key]
    placement_id: Mapped[int] = owner("placement")
    step: Mapped[int]
    what: Mapped[short]
    placement: Mapped[Placement] = mapped_column(AsJson(Placement))
    size: Mapped[Size | None] = mapped_column(AsJson(Size))
    """the size it lay on; None: the job's size as it is now"""
    retouched: Mapped[RetouchStep | None] = mapped_column(AsJson(RetouchStep))
    """what this step changed of its photo's retouches"""
    faced: Mapped[FaceStep | None] = mapped_column(AsJson(FaceStep))
    """what this step changed of its photo's faces"""


class BatchRow(Base):
    """What was done to many placements at once: one step that can be undone."""

    __tablename__ = "batch"
    id: Mapped[key]
    job_id: Mapped[int] = owner("job")
    what: Mapped[short]
    done: Mapped[moment]
    undone: Mapped[bool]
    changes: Mapped[Changes] = mapped_column(AsJson(Changes))


class SheetRow(Base):
    """Several pieces of a job on one paper or face."""

    __tablename__ = "sheet"
    id: Mapped[key]
    job_id: Mapped[int] = owner("job")
    name: Mapped[short]
    sheet: Mapped[Sheet] = mapped_column(AsJson(Sheet))
    step: Mapped[int] = mapped_column()
    """which step it stands at; steps above it can be redone"""
    added: Mapped[moment]
    # a change names the step it was decided on, in its own statement
    __mapper_args__ = {"version_id_col": step, "version_id_generator": False}  # noqa: RUF012


class SheetStepRow(Base):
    """One step of a sheet's history; a number is never given twice."""

    __tablename__ = "sheet_step"
    __table_args__ = (UniqueConstraint("sheet_id", "step"),)
    id: Mapped[key]
    sheet_id: Mapped[int] = owner("sheet")
    step: Mapped[int]
    what: Mapped[short]
    sheet: Mapped[Sheet] = mapped_column(AsJson(Sheet))


class SheetLayoutRow(Base):
    """How sheets are laid out, kept under a name for the next job."""

    __tablename__ = "sheet_layout"
    id: Mapped[key]
    name: Mapped[short] = mapped_column(unique=True)
    layout: Mapped[Layout] = mapped_column(AsJson(Layout))


class DeliveryRow(Base):
    """Files that were asked for together."""

    __tablename__ = "delivery"
    id: Mapped[key]
    job_id: Mapped[int] = owner("job")
    state: Mapped[short]
    added: Mapped[moment]
    served: Mapped[int] = mapped_column(server_default="0")
    """when it last had its turn: the lowest is next"""
    send_to: Mapped[int | None]
    """the receiver its files are sent to once they are made"""
    files: Mapped[list[DeliveryFileRow]] = relationship(order_by="DeliveryFileRow.id")


class DeliveryFileRow(Base):
    """A file, with all that it is made of as it was when it was asked for."""

    __tablename__ = "delivery_file"
    id: Mapped[key]
    delivery_id: Mapped[int] = owner("delivery")
    placement_id: Mapped[int] = owner("placement")
    name: Mapped[str | None]
    asked: Mapped[Asked] = mapped_column(AsJson(Asked))
    measured: Mapped[Measured | None] = mapped_column(AsJson(Measured))
    state: Mapped[short]
    reason: Mapped[str | None]
    photo_id: Mapped[int] = mapped_column(server_default="0")
    worker: Mapped[str | None] = mapped_column(String(200))
    made_of: Mapped[str | None] = mapped_column(String(200))
    finished: Mapped[moment | None]
    photo_hash: Mapped[short] = mapped_column(server_default="")
    size: Mapped[Size] = mapped_column(AsJson(Size))
    placement: Mapped[Placement] = mapped_column(AsJson(Placement))
    retouches: Mapped[Retouches] = mapped_column(AsJson(Retouches), server_default="{}")
    lease: Mapped[moment | None]
    """until when the worker that makes it is taken for alive"""
    panel: Mapped[int | None]
    """which panel of its piece it is, from 1; None where the piece is one file"""
    panels: Mapped[int] = mapped_column(server_default="1")
    """how many files its piece has"""
    sheet_id: Mapped[int | None]
    """the sheet it is of; it may be deleted since"""
    sheet: Mapped[SheetOrder | None] = mapped_column(AsJson(SheetOrder))
    """a sheet as it was asked for; None where the file is of one piece"""
    former: Mapped[FormerFile | None] = mapped_column(AsJson(FormerFile))
    """what it was before it was to be made again"""
    elsewhere: Mapped[bool] = mapped_column(server_default="0")
    """handed to a worker on another machine: `worker` is the ticket it was handed out under"""
    machine: Mapped[str | None] = mapped_column(String(80))
    """the other machine that makes it, or made it"""
    lost: Mapped[int] = mapped_column(server_default="0")
    """how many workers ended while they made it"""


class FillRow(Base):
    """A ground or a retouch that is to be made, or could not be; what is made is no row any more."""

    __tablename__ = "fill"
    id: Mapped[key]
    made_of: Mapped[short] = mapped_column(unique=True)
    """of its photo, and all else, told by content"""
    photo_id: Mapped[int] = owner("photo")
    work: Mapped[FillWork] = mapped_column(AsJson(FillWork))
    pixels: Mapped[int]
    """held while it is made"""
    state: Mapped[short]
    turn: Mapped[int]
    """lower ones come first"""
    asker: Mapped[short]
    """what it is for"""
    worker: Mapped[str | None] = mapped_column(String(200))
    begun: Mapped[moment | None]
    lease: Mapped[moment | None]
    lost: Mapped[int] = mapped_column(server_default="0")
    """how many workers ended while they made it"""
    reason: Mapped[str | None] = mapped_column(Text)
    elsewhere: Mapped[bool] = mapped_column(server_default="0")
    """handed to a worker on another machine: `worker` is the ticket it was handed out under"""


class StandingOrderRow(Base):
    """A folder whose photos become files by themselves."""

    __tablename__ = "standing_order"
    # A number is never given twice: who follows an order that ended would follow the next one.
    __table_args__ = {"sqlite_autoincrement": True}  # noqa: RUF012 - the mapper's own way
    id: Mapped[key]
    folder: Mapped[str] = mapped_column(Text, unique=True)
    out: Mapped[str] = mapped_column(Text)
    """where its files go"""
    sizes: Mapped[Several] = mapped_column(AsJson(Several))
    """as they were when it was given"""
    on: Mapped[bool]
    trouble: Mapped[str | None] = mapped_column(Text)
    """why it is not followed just now"""
    added: Mapped[moment]
    receiver_id: Mapped[int | None]
    """who its files are sent to"""


class MarkRow(Base):
    """A mark of the library: how it is laid at first, and the line of text it is, if it is one."""

    __tablename__ = "mark"
    id: Mapped[key]
    name: Mapped[short]
    mark: Mapped[NamedMark] = mapped_column(AsJson(NamedMark))
    text: Mapped[str | None] = mapped_column(Text)
    added: Mapped[moment]
    deleted: Mapped[moment | None]


class MarkPictureRow(Base):
    """A mark's file, told by its content: kept for good, for pieces that have it."""

    __tablename__ = "mark_picture"
    hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
