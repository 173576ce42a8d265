"""A review for the client: pieces in one file that opens anywhere, and the answers taken in."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from oak_ledge.core.reports.hanging import Hung
from oak_ledge.core.sizes.size import first_error
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs import batches
from oak_ledge.flows.jobs.batches import Settle
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.pieces.pieces import piece_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import reading, transaction

# Pieces of one review, and pixels of each one's longer edge.
MOST, EDGE = 300, 900
# Letters of a word, and of a file of answers.
LONGEST_WORD, MOST_LETTERS = 1000, 1_000_000


@dataclass(frozen=True)
class ReviewPiece:
    """A piece as the client sees it: its picture within the file, and how large it is."""

    id: int
    step: int
    name: str
    size: str
    words: str
    picture: str
    """as a `data:` address"""
    inches: tuple[float, float] | None
    """of the print; None for a screen"""
    pixels: tuple[int, int]
    hung: Hung | None


@dataclass(frozen=True)
class Review:
    """All that stands in a review."""

    job_id: int
    job: str
    pieces: tuple[ReviewPiece, ...]


class _Answers(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class PieceAnswer(_Answers):
    """What the client said of one piece, as it stood at a step."""

    piece: int = Field(ge=1, le=2**53)
    step: int = Field(ge=0, le=2**53)
    answer: Literal["yes", "no"] | None = None
    word: Annotated[str, StringConstraints(strip_whitespace=True, max_length=LONGEST_WORD)] = ""


class ReviewAnswers(_Answers):
    """A file of answers, as a review saves it."""

    review_version: Literal[1]
    job_id: int = Field(ge=1, le=2**53)
    job: str = Field(max_length=300)
    answers: tuple[PieceAnswer, ...] = Field(max_length=MOST)


class TakenAnswers(BaseModel):
    """What came of a file of answers."""

    words: str
    approved: int
    in_work: int
    changed: int
    """worked on since the review was made; nothing is done to them"""


def review(workspace: Workspace, job_id: int, placement_ids: Sequence[int] | None) -> Review:
    """Put a review together, of a job's pieces or of those named.

    Raises
    ------
    NotFoundError
        If there is no such job or piece.
    RequestError
        If there are none, or too many.
    """
    with reading(workspace.sessions) as session:
        job = find_job(session, job_id)
        every = {placed.id: placed for placed in jobs.placements(session, job_id)}
    wanted = [*every] if placement_ids is None else [*dict.fromkeys(placement_ids)]
    for placement_id in wanted:
        if placement_id not in every:
            msg = f"Job {job_id} has no placement {placement_id}."
            raise NotFoundError(msg)
    if not 0 < len(wanted) <= MOST:
        msg = f"A review shows 1 to {MOST} pieces; these are {len(wanted)}. Choose some of them."
        raise RequestError(msg)
    pieces = []
    for placement_id in wanted:
        placed = every[placement_id]
        piece, path = piece_of(placed), piece_preview(workspace, placed, EDGE)
        data = path.read_bytes()
        kind = "png" if data.startswith(b"\x89PNG") else "jpeg"
        pieces.append(
            ReviewPiece(
                id=placed.id,
                step=placed.step,
                name=placed.photo.name,
                size=piece.on,
                words=piece.hung.words if piece.hung else "",
                picture=f"data:image/{kind};base64,{base64.b64encode(data).decode()}",
                inches=piece.inches,
                pixels=(piece.width, piece.height),
                hung=piece.hung,
            )
        )
    return Review(job_id, job.name, tuple(pieces))


def take_in(workspace: Workspace, job_id: int, text: str, now: datetime) -> TakenAnswers:
    """Take a client's answers in: a yes approves, a no or a word puts a piece in work, the word as its note.

    What was worked on since the review was made is left as it is, and told.

    Raises
    ------
    RequestError
        If it is no file of answers, or one of another job.
    """
    answers = _read(text)
    if answers.job_id != job_id:
        msg = f"These are answers on another job, “{answers.job}”. Take them in on its ledge."
        raise RequestError(msg)
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        every = {placed.id: placed for placed in jobs.placements(session, job_id)}
        given = [each for each in answers.answers if each.answer is not None or each.word]
        strange = next((each.piece for each in given if each.piece not in every), None)
        if strange is not None:
            msg = f"Job {job_id} has no piece {strange} (any more); nothing was taken in."
            raise RequestError(msg)
        fresh = {each.piece: each for each in given if each.step == every[each.piece].step}
        worded = [each for each in fresh.values() if each.answer == "no" or each.word]
        for each in worded:
            placements.set_word(session, each.piece, each.word or "No.")
            if every[each.piece].state in ("new", "settled"):
                placements.set_state(session, each.piece, "placed", now)
    liked = [each.piece for each in fresh.values() if each.answer == "yes" and not each.word]
    approved = 0
    if liked:
        approved = batches.do(workspace, job_id, liked, Settle(do="settle"), now).changed
    changed, stay = len(given) - len(fresh), len(liked) - approved
    told = [
        f"{approved} approved",
        f"{len(worded)} in work with a word",
        *([f"{changed} worked on since, left as before"] if changed else []),
        *([f"{stay} {'stays as it is' if stay == 1 else 'stay as they are'}"] if stay else []),
    ]
    return TakenAnswers(
        words=f"{', '.join(told)}.", approved=approved, in_work=len(worded), changed=changed
    )


def _read(text: str) -> ReviewAnswers:
    try:
        return ReviewAnswers.model_validate_json(text[: MOST_LETTERS + 1])
    except ValidationError as exc:
        msg = f"This is no file of answers that a review saved ({first_error(exc)[:200]})."
        raise RequestError(msg) from exc
