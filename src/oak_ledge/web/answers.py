"""Errors become answers in one place: plain words, the right status, for pages and JSON alike."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from oak_ledge.core.errors import CoreError, OakLedgeError, SizeTextError
from oak_ledge.core.sizes.size import first_error
from oak_ledge.flows.errors import ChangedMeanwhileError, FlowError, LateError, NotFoundError
from oak_ledge.receivers.errors import SendError
from oak_ledge.store.errors import FULL, StoreError, disk_words
from oak_ledge.web.pages.site import templates
from oak_ledge.web.wrong_calls import words_of


class Refusal(BaseModel):
    """Why a call was refused, in plain words."""

    detail: str


class TextRefusal(Refusal):
    """Why a call was refused; of a size's text also the place where reading stopped."""

    at: int | None = None


class NewerRefusal(Refusal):
    """What was to be changed is another by now: as it stands."""

    newer: dict[str, Any]


WRONG_CALLS: dict[int | str, dict[str, Any]] = {
    400: {"model": Refusal, "description": "The call can't be read."},
    403: {"model": Refusal, "description": "It comes from another site, or under a foreign name."},
    404: {"model": Refusal, "description": "What it names is not here."},
    409: {"model": NewerRefusal, "description": "It names an older step or version."},
    413: {"model": Refusal, "description": "It is larger than is taken at once."},
    422: {"model": TextRefusal, "description": "It can't be done, with the reason."},
    503: {"model": Refusal, "description": "The data folder can't be used just now."},
    507: {"model": Refusal, "description": "The disk is full."},
}


# The same for a route that streams: else they would be described as streams too.
WRONG_CALLS_OF_A_STREAM: dict[int | str, dict[str, Any]] = {
    status: {
        "description": kind["description"],
        "content": {"application/json": {"schema": kind["model"].model_json_schema()}},
    }
    for status, kind in WRONG_CALLS.items()
}


# What an error's page is called, by what happened.
TITLES = {
    404: "This is not here",
    403: "This is not allowed",
    405: "That can't be done here",
    413: "That is too large",
    500: "Something went wrong here",
    503: "The data can't be used just now",
    507: "The disk is full",
}


# The status of each family of errors; the nearest one up the tree counts.
STATUS: dict[type[OakLedgeError], int] = {
    CoreError: 422,
    FlowError: 422,
    NotFoundError: 404,
    LateError: 410,
    ChangedMeanwhileError: 409,
    SendError: 422,
    StoreError: 503,
}


def answer_errors(app: FastAPI) -> None:
    """Register what answers our own errors, the disk's, and calls that can't be read."""
    app.add_exception_handler(OakLedgeError, _ours)
    app.add_exception_handler(OSError, _disk)
    app.add_exception_handler(RequestValidationError, _wrong_call)
    app.add_exception_handler(ValidationError, _beyond)
    app.add_exception_handler(HTTPException, _http)


def _ours(request: Request, exc: Exception) -> Response:
    assert isinstance(exc, OakLedgeError)
    if isinstance(exc, StoreError) and exc.full:
        return _answer(request, 507, str(exc))
    status = next(STATUS[family] for family in type(exc).__mro__ if family in STATUS)
    if isinstance(exc, ChangedMeanwhileError):
        return _answer(request, status, str(exc), newer=exc.newer.model_dump(mode="json"))
    if isinstance(exc, SizeTextError):
        return _answer(request, status, str(exc), at=exc.at)
    return _answer(request, status, str(exc))


def _disk(request: Request, exc: Exception) -> Response:
    assert isinstance(exc, OSError)
    return _answer(request, 507 if exc.errno in FULL else 503, disk_words(exc))


def _answer(request: Request, status: int, text: str, **more: object) -> Response:
    """Answer a program with JSON, `more` beside the words; a person with a page."""
    if request.url.path.startswith("/api/"):
        return JSONResponse({"detail": text} | more, status_code=status)
    context = {"text": text, "title": TITLES.get(status, "That can't be done")}
    return templates.TemplateResponse(request, "trouble.html", context, status_code=status)


def _beyond(request: Request, exc: Exception) -> Response:
    """Refuse figures that are each in range and together lead beyond it."""
    why = first_error(exc) if isinstance(exc, ValidationError) else str(exc)
    return _answer(request, 422, f"These figures lead too far: {why}.")


def _wrong_call(request: Request, exc: Exception) -> Response:
    errors = exc.errors() if isinstance(exc, RequestValidationError) else []
    return _answer(request, 422, words_of(errors))


def _http(request: Request, exc: Exception) -> Response:
    status = exc.status_code if isinstance(exc, HTTPException) else 500
    if status == 404:
        return _answer(request, 404, f"There is no page {request.url.path} here.")
    answer = _answer(request, status, str(getattr(exc, "detail", exc)))
    answer.headers.update(getattr(exc, "headers", None) or {})
    return answer
