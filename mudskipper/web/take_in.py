"""Files beside media that are taken in: subtitles, tables of values, timelines, projects; and projects as files."""

from __future__ import annotations

import shutil
import tempfile
from datetime import datetime
from pathlib import Path, PurePath
from typing import Annotated, Any

from anyio.to_thread import run_sync
from fastapi import APIRouter, BackgroundTasks, Depends, Query, UploadFile
from fastapi.responses import FileResponse, Response
from pydantic import BaseModel, Field, ValidationError

from ..core.document.scene import Layer, Scene, new_id
from ..core.edits.add_layers import AddLayers
from ..core.edits.layers import free_among
from ..core.edits.scenes import at_rate
from ..core.ground.base_model import MOST_NAME, Name
from ..core.ground.errors import Refused, refusal_of
from ..export.jobs import file_name
from ..readers.cues_as_layers import layers_of_cues
from ..readers.palettes import read_palette
from ..readers.subtitles import ENDINGS, read_subtitles
from ..readers.tables import read_table
from ..readers.timeline import Known, read_timeline
from ..readers.values import value_edits
from ..store.backup import back_up
from ..store.bringing import bring
from ..store.faults import disk_faults
from ..store.pack import pack, unpack
from ..store.presets import KeptColour
from ..store.store import Store
from ..store.tables import SceneRow
from .problem_details import binary
from .schemas import SceneAnswer, scene_answer, store_of

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]
MOST_BYTES = 64 * 2**20


class TakenIn(BaseModel):
    """What a file is in a scene: edits that take it in, or a scene of its own that was made, and in words what it was
    and what was left out."""

    edits: list[dict[str, Any]] = []
    scene: str | None = None
    said: str
    notes: list[str] = []


@router.post("/scenes/{scene_id}/take-in")
async def take_in(
    scene_id: str,
    file: UploadFile,
    store: Kept,
    like: Annotated[str | None, Query(max_length=64)] = None,
    near: Annotated[float, Query(gt=0, le=1_000)] = 0.05,
) -> TakenIn:
    """Read a file by its ending: SRT, WebVTT or TTML becomes texts, as the layer `like` looks; CSV or XLSX becomes keys
    of the properties that its heads name, within `near` of their unit; OpenTimelineIO a scene of its own; GPL and ASE
    colours of the project."""
    name = (file.filename or "file").replace("\\", "/").rsplit("/", 1)[-1][:200]

    def take() -> TakenIn:
        data = file.file.read(MOST_BYTES + 1)
        if len(data) > MOST_BYTES:
            raise Refused(f"It is larger than {MOST_BYTES // 2**20} MB.", where=name)
        return _taken(store, scene_id, name, data, like, near)

    return await run_sync(take)


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
    with tempfile.TemporaryDirectory(dir=store.folder / "cache") as folder:
        path = Path(folder) / "scene.zip"
        pack(store, head.project_id, path, (scene_id,))
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
    return TakenIn(edits=[told], said=f"{_counted(len(brought), 'layer')} from {given.name}")


class BackedUp(BaseModel):
    """A backup that was made and read back: where it is, and in words what it holds."""

    folder: str
    said: str


@router.post("/backup", status_code=201)
def backup(store: Kept) -> BackedUp:
    """Back all projects up beside the data folder, into a folder of today, and read the backup back."""
    data = store.folder.resolve()
    folder = data.with_name(f"{data.name}-backups") / f"{datetime.now():%Y-%m-%d}"
    made = back_up(data, folder)
    lacks = "" if not made.lacks else f" It lacks what the data folder lacks: {made.lacks[0]}"
    return BackedUp(
        folder=str(folder),
        said=f"Backed up {made.files} media files and all projects to {folder}, and read it back.{lacks}",
    )


def _counted(number: int, what: str) -> str:
    """A number of things in words.

    >>> _counted(1, "property"), _counted(2, "property"), _counted(3, "text")
    ('1 property', '2 properties', '3 texts')
    """
    if number == 1:
        return f"1 {what}"
    return f"{number:,} {what[:-1]}ies" if what.endswith("y") else f"{number:,} {what}s"


def _taken(store: Store, scene_id: str, name: str, data: bytes, like: str | None, near: float) -> TakenIn:
    head = store.head(scene_id)
    scene = head.scene
    ending = PurePath(name).suffix.lower()
    if ending in ENDINGS:
        cues = read_subtitles(data, name)
        layers, notes = layers_of_cues(cues, scene, scene.layer(like) if like in scene.places and like else None)
        edit = AddLayers(ready=layers, name=name)
        told = edit.model_dump(mode="json", by_alias=True)
        return TakenIn(edits=[told], said=f"{_counted(len(layers), 'text')} from {name}", notes=notes)
    if ending in (".csv", ".tsv", ".xlsx"):
        edits, notes = value_edits(read_table(data, name), scene, name, near)
        return TakenIn(edits=edits, said=f"Keys of {_counted(len(edits), 'property')} from {name}", notes=notes)
    if ending in (".gpl", ".ase"):
        swatches = read_palette(data, name)
        kept = store.presets.of(head.project_id, "colour")
        taken = set(kept)
        known = {one.colour for one in kept.values()}
        fresh = [one for one in swatches if one.colour not in known]
        for one in fresh:
            label = free_among(taken, one.name)
            taken.add(label)
            store.presets.keep(head.project_id, "colour", label, KeptColour(id=new_id(), colour=one.colour))
        left = len(swatches) - len(fresh)
        notes = [f"{_counted(left, 'colour')} more of it the project has already."] if left else []
        return TakenIn(said=f"{_counted(len(fresh), 'colour')} of the project from {name}", notes=notes)
    if ending == ".otio":
        media = {row.name.lower(): ("picture", row.id) for row in store.pictures.rows(head.project_id)}
        assets = store.assets(head.project_id)
        for row in store.clips.rows(head.project_id):
            heard_only = assets.clips[row.id].width == 0
            media[row.name.lower()] = ("sound" if heard_only else "clip", row.id)
        ids = frozenset({*assets.pictures, *assets.clips, *assets.scenes})
        found = read_timeline(data, name, Known(media, ids), (scene.width, scene.height))
        made = store.make_scene(head.project_id, found.scene)
        return TakenIn(scene=made.scene.id, said=f"The scene “{made.scene.name}” from {name}", notes=found.notes)
    raise Refused(
        f"A file that ends in “{ending or name}” cannot be taken in.", where=name,
        mend="Pictures, films, sounds, SVG, fonts, SRT, WebVTT, TTML, CSV, XLSX, OTIO, GPL and ASE can be.",
    )  # fmt: skip
