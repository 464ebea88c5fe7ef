"""Export jobs."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends
from fastapi.responses import FileResponse

from ..export.jobs import Exports, called
from ..export.writers import FORMATS
from ..store.store import Store
from .schemas import ExportAnswer, ExportRequest, export_answer, exports_of, store_of

FILES: dict[int | str, dict[str, Any]] = {
    200: {"description": "The file", "content": {form.media_type: {} for form in FORMATS.values()}}
}

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
    return export_answer(running.start(scene_id, request.kind, request.first, request.stop, request.name))


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
