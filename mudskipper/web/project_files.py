"""Projects as files, scenes and layers brought along, backups."""

from __future__ import annotations

import shutil
import tempfile
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

from anyio.to_thread import run_sync
from fastapi import APIRouter, BackgroundTasks, Depends, Query, UploadFile
from fastapi.responses import FileResponse, Response
from pydantic import BaseModel, Field, ValidationError

from ..core.document.scene import Layer, Scene, new_id
from ..core.edits.add_layers import AddLayers
from ..core.edits.scenes import at_rate
from ..core.edits.shapes_alone import shapes_alone
from ..core.ground.base_model import MOST_NAME, Name
from ..core.ground.errors import Refused, refusal_of
from ..core.ground.file_name import file_name
from ..store.backup import back_up
from ..store.bringing import bring
from ..store.faults import disk_faults
from ..store.pack import pack, unpack
from ..store.store import Store
from ..store.tables import SceneRow
from .problem_details import binary
from .schemas import SceneAnswer, scene_answer, store_of
from .take_in import TakenIn, counted

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]


@router.get("/projects/{project_id}/file", response_class=FileResponse, responses=binary("application/zip"))
def project_file(project_id: str, store: Kept, tasks: BackgroundTasks) -> FileResponse:
    """A project as one open file."""
    name = str(store.project(project_id).name)
    folder = Path(tempfile.mkdtemp(dir=store.folder / "cache"))
    tasks.add_task(shutil.rmtree, folder, ignore_errors=True)
    try:
        pack(store, project_id, folder / "project.zip")
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    return FileResponse(folder / "project.zip", filename=f"{file_name(name)}.mudskipper.zip", background=tasks)


class ProjectTakenIn(BaseModel):
    """A project that came in from a file: its id, and in words what came."""

    project: str
    said: list[str]


@router.post("/projects/take-in", status_code=201)
async def take_project_in(
    file: UploadFile, store: Kept, into: Annotated[str | None, Query(max_length=64)] = None
) -> ProjectTakenIn:
    """Take a packed project in: as a new one, or into another."""
    name = (file.filename or "file").replace("\\", "/").rsplit("/", 1)[-1][:200]

    def take() -> ProjectTakenIn:
        with tempfile.TemporaryDirectory(dir=store.folder / "cache") as folder:
            path = Path(folder) / "project.zip"
            with disk_faults(store.folder), path.open("wb") as out:
                shutil.copyfileobj(file.file, out)
            project, said, _ = unpack(store, path, into, name)
        return ProjectTakenIn(project=project, said=said)

    return await run_sync(take)


@router.post("/scenes/{scene_id}/duplicate", status_code=201, response_model=SceneAnswer)
def duplicate(scene_id: str, store: Kept, name: Annotated[str | None, Query(max_length=MOST_NAME)] = None) -> Response:
    """A copy of a scene in its project, under another name; scenes within it are shared."""
    head = store.head(scene_id)
    told = (name or head.scene.name).strip() or head.scene.name
    copy = head.scene.model_copy(update={"id": new_id(), "name": told})
    return scene_answer(store.make_scene(head.project_id, copy), status=201)


@router.post("/scenes/{scene_id}/bring-to", status_code=201)
def bring_to(scene_id: str, project: str, store: Kept, move: bool = False) -> ProjectTakenIn:
    """Copy a scene into another project, with the scenes within it, its media and its fonts; `move` takes it out of
    its own."""
    head = store.head(scene_id)
    if project == head.project_id:
        raise Refused("The scene is in this project already.", mend="Duplicate it instead.")
    store.project(project)
    users = store.shown_in(scene_id) if move else []
    if users:
        raise Refused(f"This scene is shown in '{users[0]}'.", mend="Copy it, or delete the layers that show it there.")
    with tempfile.TemporaryDirectory(dir=store.folder / "cache") as folder:
        path = Path(folder) / "scene.zip"
        pack(store, head.project_id, path, (scene_id,), stays=True)
        taken, said, _ = unpack(store, path, project, head.scene.name)
    if move:
        store.set_removed(SceneRow, scene_id, True)
    return ProjectTakenIn(project=taken, said=said)


class Brought(BaseModel):
    """Layers of a project, as documents have them, that are to be put into a scene; `name` is where they came from, and
    `frame_rate` what their frames count in, where that is not the scene's."""

    frame_rate: tuple[Annotated[int, Field(ge=1, le=1_000_000)], Annotated[int, Field(ge=1, le=100_000)]] | None = None
    project: Annotated[str, Field(max_length=64)]
    layers: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=5_000)]
    name: Name


class Alone(BaseModel):
    """Layers, and shapes within layers by their addresses."""

    layers: Annotated[list[Annotated[str, Field(max_length=1_000)]], Field(min_length=1, max_length=5_000)]


@router.post("/scenes/{scene_id}/copied")
def copied_layers(scene_id: str, given: Alone, store: Kept) -> list[dict[str, Any]]:
    """Layers as documents have them; of a layer of which shapes are named, those alone, that look as they did."""
    head = store.head(scene_id)
    found = shapes_alone(head.scene, given.layers, store.assets(head.project_id))
    return [one.model_dump(mode="json", by_alias=True) for one in found]


@router.post("/scenes/{scene_id}/bring-layers")
def bring_layers(scene_id: str, given: Brought, store: Kept) -> TakenIn:
    """Layers that were copied in this or another project, as edits that put them into a scene, with the media, the
    fonts and the scenes that they need."""
    try:
        layers = tuple(Layer.model_validate(one) for one in given.layers)
    except ValidationError as error:
        raise refusal_of(error, "what was copied") from None
    head = store.head(scene_id)
    brought = bring(store, layers, given.project, head.project_id)
    if given.frame_rate is not None and given.frame_rate != head.scene.frame_rate:
        # What is seen when stays, in seconds.
        apart = Scene(name="Brought", width=16, height=16, length=1, frame_rate=given.frame_rate).with_layers(brought)
        brought = at_rate(apart, head.scene.frame_rate).layers
    told = AddLayers(ready=brought, name=given.name).model_dump(mode="json", by_alias=True)
    return TakenIn(edits=[told], said=f"{counted(len(brought), 'layer')} from {given.name}")


class BackedUp(BaseModel):
    """A backup that was made and read back: where it is, and in words what it holds."""

    folder: str
    said: str


@router.post("/backup", status_code=201)
def backup(store: Kept) -> BackedUp:
    """Back all projects up beside the data folder, into a folder of today, and read the backup back."""
    data = store.folder.resolve()
    folder = data.with_name(f"{data.name}-backups") / f"{datetime.now():%Y-%m-%d}"
    try:
        made = back_up(data, folder)
    except OSError as error:
        raise Refused(f"{folder} cannot be written: {error.strerror}.", mend="Run mudskipper backup FOLDER.") from None
    lacks = "" if not made.lacks else f" It lacks what the data folder lacks: {made.lacks[0]}"
    return BackedUp(
        folder=str(folder),
        said=f"Backed up {made.files} media files and all projects to {folder}, and read it back.{lacks}",
    )
