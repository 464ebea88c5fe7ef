"""The application: API, live socket and the built front end on one address."""

from __future__ import annotations

from collections.abc import AsyncIterator
from concurrent.futures import Executor
from contextlib import asynccontextmanager
from typing import get_args

from anyio import CapacityLimiter
from fastapi import FastAPI
from fastapi.responses import JSONResponse

from .. import __version__
from ..core.checks import SAFE
from ..core.contents import Content
from ..core.document.scene import Blend, Layer
from ..core.easings.batch import NAMED
from ..core.effects import EFFECTS, Effect
from ..core.recipes import RECIPES
from ..core.shapes import ShapeItem
from ..core.text.fonts import FAMILIES
from ..core.tracks.walk import shown_kinds
from ..export.jobs import Exports
from ..export.writers import FORMATS
from ..media.clips import ClipFrames
from ..store.store import Store
from . import clips, easings, exports, fonts, formulas, live, projects, recipes, scenes, sounds
from . import problem_details as problems
from .live import AT_ONCE, Hub
from .page import serve_page
from .passwords import Password
from .schemas import Facts, FamilyAnswer, FormatFacts, PropertyFacts, RecipeFacts
from .security import LOCAL, Guard

UPLOADS = 4
"""Files that are taken in at once, each in memory at most once; others wait, and hold up nobody."""
WEIGHTS = ("lightest", "heaviest", "italic")


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
    for part in (projects, clips, scenes, formulas, recipes, easings, exports, fonts, sounds, live):
        app.include_router(part.router)

    @app.get("/api/facts")
    def facts() -> Facts:
        """Fonts, properties, formats and named easings."""
        families = [
            FamilyAnswer(
                name=name,
                **{part: getattr(f, part) for part in WEIGHTS},
                files=fonts.files_of(f),
            )
            for name, f in FAMILIES.items()
        ]
        formats = {
            name: FormatFacts(
                label=form.label, still=form.still, note=form.note(transparent=False),
                transparent_note=form.note(transparent=True),
            )
            for name, form in FORMATS.items()
        }  # fmt: skip
        properties = {pattern: PropertyFacts.of(about) for pattern, about in shown_kinds(Layer).items()}
        tags = [Content.told_by, ShapeItem.told_by, Effect.told_by]
        return Facts(
            fonts=families,
            properties=properties,
            tags=tags,
            formats=formats,
            easings=NAMED,
            safe=SAFE,
            blends=list(get_args(Blend)),
            effects={kind.model_fields[Effect.told_by].default: kind.label for kind in EFFECTS},
            recipes=[RecipeFacts.of(kind) for kind in RECIPES],
            password=asked.is_set,
        )

    @app.get("/api/{rest:path}", include_in_schema=False)
    def unknown(rest: str) -> JSONResponse:
        return problems.problem(404, "Not found", f"There is nothing at /api/{rest}.")

    serve_page(app)
    return app
