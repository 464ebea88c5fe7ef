"""Errors as RFC 9457 problem documents: what was expected, where, what to do."""

from __future__ import annotations

import logging
import sqlite3
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from peewee import PeeweeException
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from ..core.ground.errors import Refused, fault_words, field_path
from ..store.faults import Busy, Damaged, FileTooLarge, Full, Gone, Unwritable, fault_of
from . import wire

log = logging.getLogger("mudskipper.web")


class Problem(BaseModel):
    """What was expected, where, and what to do (RFC 9457)."""

    type: str
    status: int
    title: str
    detail: str
    where: str
    mend: str
    instead: str = ""
    """What a press may put in the place of what was typed."""


_TOLD = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
STATUS: dict[type[Refused], int] = {
    Gone: 404, Full: 507, FileTooLarge: 507, Unwritable: 503, Busy: 503, Damaged: 503,
}  # fmt: skip
ANSWERS: dict[int | str, dict[str, Any]] = {
    "4XX": {"description": "What was expected, where, and how to mend it", "content": _TOLD},
    "5XX": {"description": "What the server could not do, and what became of the work", "content": _TOLD},
}
"""What any address may answer beside what it says itself, for the OpenAPI document."""


def describe(app: FastAPI) -> None:
    """Put what no address answers as its own into the OpenAPI document: a problem, and drawing operations."""
    document = app.openapi

    def openapi() -> dict[str, Any]:
        openapi = document()
        openapi["components"]["schemas"] |= {"Problem": Problem.model_json_schema(), **wire.schemas()}
        return openapi

    app.openapi = openapi  # type: ignore[method-assign]


def binary(media_type: str) -> dict[int | str, dict[str, Any]]:
    """The answer of an address that gives a file or a block of numbers."""
    schema = {"type": "string", "format": "binary"}
    return {200: {"description": "The file", "content": {media_type: {"schema": schema}}}}


def problem(status: int, title: str, detail: str, where: str = "", mend: str = "", instead: str = "") -> JSONResponse:
    """A problem document."""
    body = {"type": "about:blank", "status": status, "title": title, "detail": detail, "where": where, "mend": mend}
    body |= {"instead": instead} if instead else {}
    return JSONResponse(body, status_code=status, media_type="application/problem+json")


def problem_of(refusal: Refused) -> dict[str, str]:
    """A refusal as the fields of a problem, for the socket."""
    return {"detail": refusal.sentence, "where": refusal.where, "mend": refusal.mend}


def field_name(loc: tuple[int | str, ...]) -> str:
    """What a field of a request is called in a sentence: its own name, and not the way to it."""
    names = [part for part in loc[1:] if isinstance(part, str) and not set("-[@") & set(part)]
    return f"The {names[-1].replace('_', ' ')}" if names else "The request"


def install(app: FastAPI) -> None:
    """Answer every error of the application with a problem document."""

    @app.exception_handler(Refused)
    async def refused(_: Request, error: Refused) -> JSONResponse:
        status = next((status for kind, status in STATUS.items() if isinstance(error, kind)), 422)
        return problem(status, "Not done", error.sentence, error.where, error.mend, error.instead)

    async def of_the_disk(request: Request, error: Exception) -> JSONResponse:
        told = fault_of(request.app.state.store.folder, error)
        if told is None:
            raise error
        log.error("%s %s: %s", request.method, request.url.path, told.sentence)
        return await refused(request, told)

    for kind in (PeeweeException, sqlite3.Error, OSError):
        app.add_exception_handler(kind, of_the_disk)

    @app.exception_handler(RequestValidationError)
    async def invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        faults = error.errors()
        where = field_path(tuple(faults[0]["loc"][1:]))
        told = dict.fromkeys(f"{field_name(fault['loc'])} {fault_words(fault)}" for fault in faults[:3])
        first, *more = told
        sentences = "; ".join([first, *(one[0].lower() + one[1:] for one in more)])
        return problem(422, "Not understood", sentences + ".", where, "Nothing was changed.")

    @app.exception_handler(HTTPException)
    async def http(_: Request, error: HTTPException) -> JSONResponse:
        if error.status_code == 413:
            return problem(413, "Too large", "The request is larger than this takes.", "", "Send less at once.")
        return problem(error.status_code, "Not done", str(error.detail))
