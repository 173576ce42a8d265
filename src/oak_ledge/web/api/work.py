"""Workers on other machines: what they fetch and bring, each call with their token.

Both ends are of one version, so these addresses may change with it and are not described to others.
"""

from __future__ import annotations

import base64
import binascii
import hashlib
from datetime import datetime
from tempfile import TemporaryFile
from typing import IO, Annotated, cast

from fastapi import APIRouter, Depends, HTTPException, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.marks.library import file_bytes
from oak_ledge.flows.recipe import recipe
from oak_ledge.flows.remote import dispatch
from oak_ledge.flows.remote.dispatch import Elsewhere
from oak_ledge.store.folders import CHUNK
from oak_ledge.web.types import Id, Now


async def elsewhere_of(request: Request) -> Elsewhere:
    """Return the way to workers on other machines; who asks has shown their token at the door."""
    here = cast(Elsewhere | None, request.app.state.elsewhere)
    assert here is not None  # or `Guards` let nobody in
    return here


Its = Annotated[Elsewhere, Depends(elsewhere_of)]
Ticket = Annotated[str, Field(pattern="^[0-9a-f]{32}$")]
Words = Annotated[str, Field(max_length=1000)]

router = APIRouter(prefix="/work", include_in_schema=False)


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class HereBody(_Body):
    """A worker is there; at a ticket, or free."""

    worker: str = Field(pattern="^[0-9a-f]{32}$")
    machine: str = Field(min_length=1, max_length=80)
    recipe: str
    ticket: Ticket | None = None


class HereAnswered(BaseModel):
    """Whether what it is at is still wanted."""

    wanted: bool


class BegunBody(_Body):
    """A worker has begun on a ticket."""

    machine: str = Field(min_length=1, max_length=80)


class ReasonBody(_Body):
    """Why a worker could not make something."""

    reason: Words


class FilledBody(_Body):
    """A ground or a retouch is made, or why it is not."""

    reason: Words | None


class ArrivalAnswer(BaseModel):
    """Why a file that came is not as asked; None where it is."""

    reason: str | None = None


@router.post("/here")
def worker_is_here(body: HereBody, its: Its, now: Now) -> HereAnswered:
    """A worker tells that it lives, and hears whether its ticket is still wanted."""
    if body.recipe != recipe():
        raise HTTPException(
            409,
            "This worker is of another version than the server, and could make other pixels. "
            "Install the same on both.",
        )
    its.presence.heard(body.worker, body.machine, now)
    its.look.set()
    wanted = body.ticket is None or dispatch.still_at(its, body.ticket, now)
    return HereAnswered(wanted=wanted)


@router.post("/gone/{worker}", status_code=204)
def worker_is_gone(worker: Ticket, its: Its) -> None:
    """A worker has ended."""
    its.presence.gone(worker)


@router.get("/originals/{digest}")
def fetch_original(digest: str, its: Its) -> FileResponse:
    """An original, by its hash."""
    return FileResponse(dispatch.original_of(its.workspace, digest))


@router.get("/marks/{sha256}")
def fetch_mark(sha256: str, its: Its) -> Response:
    """A mark's file, by its hash."""
    return Response(file_bytes(its.workspace, sha256), media_type="application/octet-stream")


@router.get("/kept/{name}")
def fetch_kept(name: str, its: Its) -> FileResponse:
    """An array that is kept here already, by its name."""
    path = dispatch.kept_file(its.workspace, name)
    if path is None:
        msg = "This is not made yet."
        raise NotFoundError(msg)
    return FileResponse(path)


@router.post("/{ticket}/begun", status_code=204)
def ticket_begun(ticket: Ticket, body: BegunBody, its: Its, now: Now) -> None:
    """A worker begins on a ticket."""
    dispatch.begun(its, ticket, body.machine, now)


@router.post("/{ticket}/given-back", status_code=204)
def ticket_given_back(ticket: Ticket, body: ReasonBody, its: Its, now: Now) -> None:
    """A worker gives a ticket back, with its reason."""
    dispatch.given_back(its, ticket, body.reason, now)


@router.post("/{ticket}/filled", status_code=204)
def ticket_filled(ticket: Ticket, body: FilledBody, its: Its) -> None:
    """A worker has made a ground or a retouch."""
    dispatch.filled(its, ticket, body.reason)


@router.post("/{ticket}/files/{file_id}/failed", status_code=204)
def file_failed(ticket: Ticket, file_id: Id, body: ReasonBody, its: Its, now: Now) -> None:
    """A worker could not make a file."""
    dispatch.failed(its, ticket, file_id, body.reason, now)


@router.put("/{ticket}/files/{file_id}")
async def file_arrives(
    ticket: Ticket, file_id: Id, request: Request, its: Its, now: Now
) -> ArrivalAnswer:
    """A finished file comes back; it is measured before it is called made."""
    with TemporaryFile(dir=its.workspace.data) as file:
        await _received(request, file)
        reason = await run_in_threadpool(_measured, its, ticket, file_id, file, now)
    return ArrivalAnswer(reason=reason)


def _measured(
    its: Elsewhere, ticket: str, file_id: int, file: IO[bytes], now: datetime
) -> str | None:
    parts = iter(lambda: file.read(CHUNK), b"")
    return dispatch.arrived(its, ticket, file_id, parts, now)


@router.put("/{ticket}/kept/{name}", status_code=204)
async def kept_arrives(ticket: Ticket, name: str, request: Request, its: Its) -> None:
    """An array that a worker made comes back, to be kept."""
    with TemporaryFile(dir=its.workspace.data) as file:
        await _received(request, file)
        await run_in_threadpool(dispatch.keep, its.workspace, ticket, name, file)


async def _received(request: Request, file: IO[bytes]) -> None:
    """Take in a body, and see that it came whole (RFC 9530)."""
    digest = hashlib.sha256()
    async for chunk in request.stream():
        digest.update(chunk)
        file.write(chunk)
    file.seek(0)
    kind, _, text = request.headers.get("content-digest", "").partition("=")
    try:
        data = base64.b64decode(text.strip(":"), validate=True)
    except binascii.Error:
        data = b""
    if kind != "sha-256" or data != digest.digest():
        raise HTTPException(400, "It did not come as it was sent. Send it again.")
