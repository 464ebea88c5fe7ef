"""Export jobs."""

from __future__ import annotations

from base64 import b64encode
from typing import Annotated, Any

from fastapi import APIRouter, Depends
from fastapi.responses import FileResponse
from pydantic import BaseModel, Field

from ..core.ground.base_model import Name
from ..core.ground.errors import Refused
from ..export.choices import PLAIN, Choices
from ..export.jobs import Exports, called
from ..export.writers import FORMATS
from ..store.presets import KeptExport
from ..store.store import Store
from .schemas import ExportAnswer, ExportRequest, export_answer, exports_of, store_of

FILES: dict[int | str, dict[str, Any]] = {
    200: {"description": "The file", "content": {form.media_type: {} for form in FORMATS.values()}}
}


class SampleRequest(BaseModel):
    """What an export would be asked for; the part at the frame `near` of the scene is looked at."""

    kind: Annotated[str, Field(max_length=40)]
    first: int
    stop: int
    choices: Choices = PLAIN
    near: int = 0


class SampleAnswer(BaseModel):
    """A moving picture (animated WebP in base64; empty where nothing is seen) of `shown` frames from the frame `at` of
    the file on; bytes of the whole file at least and at most, and seconds that it takes."""

    picture: str
    at: int
    shown: int
    least: int
    most: int
    seconds: float
    lost: list[str]
    """What the format cannot say of the scene, in words."""


class NamedExport(BaseModel):
    """A format and what is chosen of it, under a name."""

    name: Name
    kind: Annotated[str, Field(max_length=40)]
    choices: Choices = PLAIN


router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]
Running = Annotated[Exports, Depends(exports_of)]


@router.get("/scenes/{scene_id}/exports")
def exports(scene_id: str, running: Running) -> list[ExportAnswer]:
    """The exports of a scene, newest first."""
    return [export_answer(row) for row in running.jobs(scene_id)]


@router.post("/scenes/{scene_id}/exports", status_code=202)
def start(scene_id: str, request: ExportRequest, running: Running) -> ExportAnswer:
    """Start an export of the scene as it stands."""
    return export_answer(
        running.start(scene_id, request.kind, request.first, request.stop, request.name, request.choices)
    )


@router.post("/scenes/{scene_id}/exports/sample")
def sample(scene_id: str, request: SampleRequest, running: Running) -> SampleAnswer:
    """Some parts of a film made beforehand, which its export uses: how it looks, how large and how long it will be."""
    found = running.sample(scene_id, request.kind, request.first, request.stop, request.choices, request.near)
    return SampleAnswer(
        picture=b64encode(found.picture).decode(), at=found.at, shown=found.shown, least=found.least, most=found.most,
        seconds=found.seconds, lost=list(found.lost),
    )  # fmt: skip


@router.get("/projects/{project_id}/export-choices")
def choices(project_id: str, store: Kept) -> list[NamedExport]:
    """The choices that a project keeps, by name."""
    return [
        NamedExport(name=name, kind=kept.kind, choices=kept.choices)
        for name, kept in store.presets.of(project_id, "export").items()
    ]


@router.put("/projects/{project_id}/export-choices")
def keep_choices(project_id: str, given: NamedExport, store: Kept) -> list[NamedExport]:
    """Keep choices; those of the same name are replaced."""
    if given.kind not in FORMATS:
        raise Refused(f"There is no format {given.kind!r}.", where="kind", mend=f"Formats: {', '.join(FORMATS)}.")
    given.choices.heeded(FORMATS[given.kind].takes, FORMATS[given.kind].label)
    store.presets.keep(project_id, "export", given.name, KeptExport(kind=given.kind, choices=given.choices))
    return choices(project_id, store)


@router.delete("/projects/{project_id}/export-choices/{name}")
def drop_choices(project_id: str, name: str, store: Kept) -> list[NamedExport]:
    """Keep choices no longer."""
    store.presets.keep(project_id, "export", name, None)
    return choices(project_id, store)


@router.get("/exports/{job_id}")
def export(job_id: str, running: Running) -> ExportAnswer:
    """How an export stands."""
    return export_answer(running.job(job_id))


@router.post("/exports/{job_id}/cancel")
def cancel(job_id: str, running: Running) -> ExportAnswer:
    """Stop an export."""
    return export_answer(running.cancel(job_id))


@router.post("/exports/{job_id}/again", status_code=202)
def again(job_id: str, running: Running) -> ExportAnswer:
    """Start an export again that failed or was stopped, from its finished parts."""
    return export_answer(running.again(job_id))


@router.get("/exports/{job_id}/file", response_class=FileResponse, responses=FILES)
def file(job_id: str, store: Kept, running: Running) -> FileResponse:
    """The finished file."""
    path = running.file(job_id)
    row = store.jobs.one(job_id)
    return FileResponse(path, media_type=FORMATS[row.kind].media_type, filename=called(row))
