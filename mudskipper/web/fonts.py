"""Fonts: the files of those that are installed, for a text that is edited where it stands; and those that a project has
of its own."""

from __future__ import annotations

import json
import tempfile
from functools import cache
from pathlib import Path
from typing import Annotated

from anyio.to_thread import run_sync
from fastapi import APIRouter, Depends, HTTPException, Request, UploadFile
from fastapi.responses import FileResponse

from ..core.text.families import Family, FontFile, installed
from ..core.text.features import offered
from ..media.fonts import MOST_BYTES, SHORT, families_of
from ..store.store import Store
from .live import Hub
from .problem_details import binary
from .schemas import (
    AxisAnswer,
    FamilyAnswer,
    FontAnswer,
    FontFileAnswer,
    InstanceAnswer,
    ProjectFonts,
    font_answer,
    store_of,
)

router = APIRouter(prefix="/api", tags=["fonts"])
Kept = Annotated[Store, Depends(store_of)]


@cache
def _files() -> dict[str, FontFile]:
    """The files by the last part of their addresses."""
    return {f"{file.key}.ttf": file for family in installed().values() for file in family.files}


def family_answer(family: Family, folder: str = "/api/fonts") -> FamilyAnswer:
    """A family as the page is told of it, its files in a folder of the server."""
    files = [
        FontFileAnswer(
            address=f"{folder}/{file.key}.ttf",
            italic=file.italic,
            weights=(family.lightest, family.heaviest) if file.weight is None else (file.weight, file.weight),
        )
        for file in family.files
    ]
    plain = family.file(400, False)
    return FamilyAnswer(
        name=family.name, weights=list(family.weights), italic=family.italic, kinds=list(family.kinds),
        scripts=list(family.scripts), files=files,
        axes=[AxisAnswer(tag=one.tag, name=one.name, low=one.low, rest=one.rest, high=one.high) for one in plain.axes],
        instances=[InstanceAnswer(name=one.name, values=dict(one.values)) for one in plain.instances],
        features=offered(plain.features),
    )  # fmt: skip


@router.get("/fonts/{file}", response_class=FileResponse, responses=binary("font/ttf"))
def font_file(file: str) -> FileResponse:
    """A font file."""
    known = _files().get(file)
    if known is None:
        raise HTTPException(404, f"There is no font file {file[:80]!r}.")
    return FileResponse(known.path, media_type="font/ttf", headers={"Cache-Control": "max-age=86400"})


@router.get("/projects/{project_id}/fonts")
def project_fonts(project_id: str, store: Kept) -> ProjectFonts:
    """The fonts that a project has of its own, and the families that they make."""
    families = families_of(store.fonts.faces(project_id))
    return ProjectFonts(
        fonts=[font_answer(row) for row in store.fonts.rows(project_id)],
        families=[family_answer(one, f"/api/projects/{project_id}/fonts") for one in families],
        used=sorted(store.families(project_id)),
    )


@router.post("/projects/{project_id}/fonts", status_code=201)
async def add_font(project_id: str, file: UploadFile, store: Kept, request: Request) -> list[FontAnswer]:
    """Take a TTF, OTF, TTC, WOFF or WOFF2 file in; known by its content, not by its name. Its faces, one or several."""
    name = (file.filename or "Font").replace("\\", "/").rsplit("/", 1)[-1][:200]
    hub: Hub = request.app.state.hub

    def take() -> list[FontAnswer]:
        with tempfile.NamedTemporaryFile(dir=store.folder / "media", suffix=".part") as part:
            part.write(file.file.read(MOST_BYTES + 1))
            part.flush()
            rows = store.fonts.add(project_id, name, Path(part.name))
        hub.fonts_changed(store, project_id)
        return [font_answer(row) for row in rows]

    return await run_sync(take, limiter=request.app.state.uploads)


@router.get("/projects/{project_id}/fonts/{file}", response_class=FileResponse, responses=binary("font/ttf"))
def own_font_file(project_id: str, file: str, store: Kept) -> FileResponse:
    """The file of a font of a project's own, unless its maker forbids to embed it: what is typed is shown in another
    font then, and the picture in its own."""
    faces = {f"{face.digest[:SHORT]}.ttf": face for face in store.fonts.faces(project_id)}
    known = faces.get(file)
    if known is None or not json.loads(known.facts)["embeds"]:
        raise HTTPException(404, f"There is no font file {file[:80]!r} to be given out.")
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return FileResponse(known.path, media_type="font/ttf", headers=headers)
