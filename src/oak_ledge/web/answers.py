"""Errors become answers in one place: plain words, the right status, for pages and JSON alike."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from oak_ledge.core.errors import CoreError, SizeTextError
from oak_ledge.core.sizes.size import first_error
from oak_ledge.flows.remote.dispatch import LateError
from oak_ledge.flows.workspace import AskedError, ChangedMeanwhileError, NotFoundError
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


def answer_errors(app: FastAPI) -> None:
    """Register one handler per family of errors."""

    def to(status: int) -> Callable[[Request, Exception], Response]:
        return lambda request, exc: _answer(request, status, str(exc))

    app.add_exception_handler(NotFoundError, to(404))
    app.add_exception_handler(LateError, to(410))
    app.add_exception_handler(AskedError, to(422))
    app.add_exception_handler(ChangedMeanwhileError, _changed)
    app.add_exception_handler(CoreError, to(422))
    app.add_exception_handler(SizeTextError, _size_text)
    app.add_exception_handler(StoreError, _store)
    app.add_exception_handler(OSError, _disk)
    app.add_exception_handler(RequestValidationError, _wrong_call)
    app.add_exception_handler(ValidationError, _beyond)
    app.add_exception_handler(HTTPException, _http)


def _changed(request: Request, exc: Exception) -> Response:
    assert isinstance(exc, ChangedMeanwhileError)
    answer = {"detail": str(exc), "newer": exc.newer.model_dump(mode="json")}
    return JSONResponse(answer, status_code=409)


def _store(request: Request, exc: Exception) -> Response:
    full = isinstance(exc, StoreError) and exc.full
    return _answer(request, 507 if full else 503, str(exc))


def _disk(request: Request, exc: Exception) -> Response:
    assert isinstance(exc, OSError)
    return _answer(request, 507 if exc.errno in FULL else 503, disk_words(exc))


def _answer(request: Request, status: int, text: str) -> Response:
    if request.url.path.startswith("/api/"):
        return JSONResponse({"detail": text}, status_code=status)
    context = {"text": text, "title": TITLES.get(status, "That can't be done")}
    return templates.TemplateResponse(request, "trouble.html", context, status_code=status)


def _size_text(request: Request, exc: Exception) -> Response:
    at = exc.at if isinstance(exc, SizeTextError) else 0
    return JSONResponse({"detail": str(exc), "at": at}, status_code=422)


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
