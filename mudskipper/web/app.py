"""The application: API, live socket and the built front end on one address."""

from __future__ import annotations

from collections.abc import AsyncIterator
from concurrent.futures import Executor
from contextlib import asynccontextmanager

from anyio import CapacityLimiter
from fastapi import FastAPI
from fastapi.responses import JSONResponse, Response

from .. import __version__
from ..export.jobs import Exports
from ..media.clips import ClipFrames
from ..store.store import Store
from . import (
    clips,
    easings,
    effects,
    exports,
    fonts,
    formulas,
    live,
    project_files,
    projects,
    recipes,
    scenes,
    sounds,
    starters,
    styles,
    take_in,
    titles,
)
from . import problem_details as problems
from .facts import facts_in_json
from .live import AT_ONCE, Hub
from .page import serve_page
from .passwords import Password
from .schemas import Facts
from .security import LOCAL, Guard

UPLOADS = 4
"""Files that are taken in at once, each in memory at most once; others wait, and hold up nobody."""


def create_app(
    store: Store, *, hosts: set[str] | None = None, password: Password | str | None = None,
    executor: Executor | None = None,
) -> FastAPI:  # fmt: skip
    """The application over a store."""
    asked = password if isinstance(password, Password) else Password(password)
    running = Exports(store, executor)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        running.resume()
        store.clips.tidy()
        yield
        running.close()
        app.state.clip_frames.close()

    app = FastAPI(
        title="Mudskipper",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        responses=problems.ANSWERS,
    )
    app.state.store = store
    app.state.exports = running
    app.state.hub = Hub()
    app.state.sounds = store.sounds
    app.state.clip_frames = ClipFrames(store.folder / "cache" / "clips")
    app.state.trials = CapacityLimiter(AT_ONCE)
    app.state.uploads = CapacityLimiter(UPLOADS)
    app.add_middleware(Guard, hosts=LOCAL | (hosts or set()), password=asked)
    problems.install(app)
    problems.describe(app)
    for part in (
        projects,
        clips,
        scenes,
        formulas,
        recipes,
        effects,
        styles,
        easings,
        exports,
        take_in,
        titles,
        project_files,
        starters,
        fonts,
        sounds,
        live,
    ):
        app.include_router(part.router)

    @app.get("/api/facts", response_model=Facts)
    def facts() -> Response:
        """Fonts, properties, formats and named easings."""
        return Response(facts_in_json(asked.is_set), media_type="application/json")

    @app.get("/api/{rest:path}", include_in_schema=False)
    def unknown(rest: str) -> JSONResponse:
        return problems.problem(404, "Not found", f"There is nothing at /api/{rest}.")

    serve_page(app)
    return app
