"""Errors become answers in one place: plain words, the right status, for pages and JSON alike."""

from __future__ import annotations

from collections.abc import Callable

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from starlette.exceptions import HTTPException

from oak_ledge.core.errors import CoreError, SizeTextError
from oak_ledge.flows.sizes import ChangedMeanwhileError
from oak_ledge.flows.workspace import AskedError, NotFoundError
from oak_ledge.web.pages import templates


def answer_errors(app: FastAPI) -> None:
    """Register one handler per family of errors."""

    def to(status: int) -> Callable[[Request, Exception], Response]:
        return lambda request, exc: _answer(request, status, str(exc))

    app.add_exception_handler(NotFoundError, to(404))
    app.add_exception_handler(AskedError, to(422))
    app.add_exception_handler(ChangedMeanwhileError, to(409))
    app.add_exception_handler(CoreError, to(422))
    app.add_exception_handler(SizeTextError, _size_text)
    app.add_exception_handler(RequestValidationError, _wrong_call)
    app.add_exception_handler(HTTPException, _http)


def _answer(request: Request, status: int, text: str) -> Response:
    if request.url.path.startswith("/api/"):
        return JSONResponse({"detail": text}, status_code=status)
    return templates.TemplateResponse(
        request, "trouble.html", {"text": text, "status": status}, status_code=status
    )


def _size_text(request: Request, exc: Exception) -> Response:
    at = exc.at if isinstance(exc, SizeTextError) else 0
    return JSONResponse({"detail": str(exc), "at": at}, status_code=422)


def _wrong_call(request: Request, exc: Exception) -> Response:
    errors = exc.errors() if isinstance(exc, RequestValidationError) else []
    told = [
        f"{'.'.join(map(str, e['loc'][1:])) or 'the call'}: {e['msg'].removeprefix('Value error, ')}"
        for e in errors
    ]
    return _answer(request, 422, "; ".join(told) + ".")


def _http(request: Request, exc: Exception) -> Response:
    status = exc.status_code if isinstance(exc, HTTPException) else 500
    if status == 404:
        return _answer(request, 404, f"There is no page {request.url.path} here.")
    return _answer(request, status, str(getattr(exc, "detail", exc)))
