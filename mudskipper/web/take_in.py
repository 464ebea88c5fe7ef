"""Files beside media that are taken into a scene or its project: subtitles, tables of values, keyframes of CSS,
palettes, timelines, animations."""

from __future__ import annotations

from pathlib import PurePath
from typing import Annotated, Any

from anyio.to_thread import run_sync
from fastapi import APIRouter, Depends, Query, UploadFile
from pydantic import BaseModel

from ..core.document.nesting import refuse_nesting
from ..core.document.read import read_scene
from ..core.document.scene import new_id
from ..core.edits.add_layers import AddLayers
from ..core.edits.layers import free_among
from ..core.edits.rows import AddRows
from ..core.ground.errors import Refused
from ..readers.animation import read_animation
from ..readers.css_motion import css_edits
from ..readers.cues_as_layers import layers_of_cues
from ..readers.palettes import read_palette
from ..readers.subtitles import ENDINGS, read_subtitles
from ..readers.tables import read_table
from ..readers.timeline import Known, read_timeline
from ..readers.titles import names_slots, read_titles
from ..readers.values import value_edits
from ..store.pack import relinked
from ..store.presets import KeptColour
from ..store.store import Store
from .schemas import store_of

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
    frame: Annotated[float, Query(ge=-1e6, le=1e6)] = 0.0,
) -> TakenIn:
    """Read a file by its ending: SRT, WebVTT or TTML becomes texts, as the layer `like` looks; CSV or XLSX becomes keys
    of the properties that its heads name, within `near` of their unit, or rows of the table where they name slots; CSS
    keys of the layer `like`, from `frame` on; OpenTimelineIO, animation JSON and documents of Mudskipper scenes of
    their own; GPL and ASE colours of the project."""
    name = (file.filename or "file").replace("\\", "/").rsplit("/", 1)[-1][:200]

    def take() -> TakenIn:
        data = file.file.read(MOST_BYTES + 1)
        if len(data) > MOST_BYTES:
            raise Refused(f"It is larger than {MOST_BYTES // 2**20} MB.", where=name)
        return _taken(store, scene_id, name, data, like, near, frame)

    return await run_sync(take)


def counted(number: int, what: str) -> str:
    """A number of things in words.

    >>> counted(1, "property"), counted(2, "property"), counted(3, "text")
    ('1 property', '2 properties', '3 texts')
    """
    if number == 1:
        return f"1 {what}"
    return f"{number:,} {what[:-1]}ies" if what.endswith("y") else f"{number:,} {what}s"


def _taken(store: Store, scene_id: str, name: str, data: bytes, like: str | None, near: float, frame: float) -> TakenIn:
    head = store.head(scene_id)
    scene = head.scene
    ending = PurePath(name).suffix.lower()
    if ending == ".json":
        return _document(store, head.project_id, name, data)
    if ending == ".css":
        if like not in scene.places or like is None:
            raise Refused("Keyframes are for one layer.", where=name, mend="Select it, then take them in again.")
        layer = scene.layer(like)
        edits, notes = css_edits(data, name, scene, layer, store.assets(head.project_id), frame)
        return TakenIn(edits=edits, said=f"Keys of '{layer.name}' from {name}", notes=notes)
    if ending in ENDINGS:
        cues = read_subtitles(data, name)
        layers, notes = layers_of_cues(cues, scene, scene.layer(like) if like in scene.places and like else None)
        edit = AddLayers(ready=layers, name=name)
        told = edit.model_dump(mode="json", by_alias=True)
        return TakenIn(edits=[told], said=f"{counted(len(layers), 'text')} from {name}", notes=notes)
    if ending in (".csv", ".tsv", ".xlsx"):
        if scene.slots and names_slots(data, name, scene):
            titles = read_titles(data, name, scene)
            rows = AddRows(rows=titles.as_rows(titles.slots)).model_dump(mode="json")
            said = f"{counted(len(titles.rows), 'title')} in the table of this scene, from {name}"
            return TakenIn(edits=[rows], said=said, notes=list(titles.notes))
        edits, notes = value_edits(read_table(data, name), scene, name, near)
        return TakenIn(edits=edits, said=f"Keys of {counted(len(edits), 'property')} from {name}", notes=notes)
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
        notes = [f"{counted(left, 'colour')} more of it the project has already."] if left else []
        return TakenIn(said=f"{counted(len(fresh), 'colour')} of the project from {name}", notes=notes)
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
        mend="Pictures, films, sounds, fonts, SVG, PDF, SRT, VTT, TTML, CSV, XLSX, CSS, OTIO, JSON, ASE, GPL can be.",
    )  # fmt: skip


def _document(store: Store, project: str, name: str, data: bytes) -> TakenIn:
    """A scene of Mudskipper, or animation JSON with the scenes and the pictures in it."""
    if b'"mudskipper.scene/' in data[:4_000]:
        made = store.make_scene(project, read_scene(data, name).model_copy(update={"id": new_id()}))
        return TakenIn(scene=made.scene.id, said=f"The scene “{made.scene.name}” from {name}")
    read = read_animation(data, name, {row.name.lower(): row.id for row in store.pictures.rows(project)})
    ids = {
        ident: str(store.pictures.add(project, called, picture).id)
        for ident, (called, picture) in read.pictures.items()
    }
    assets = store.assets(project).with_scenes(read.scenes)
    for scene in read.scenes:
        # All of them are refused before any is kept.
        refuse_nesting(scene, assets)
    for scene in read.scenes:
        made = store.make_scene(project, relinked(scene, ids))
        ids[scene.id] = made.scene.id
    return TakenIn(scene=made.scene.id, said=f"The scene “{made.scene.name}” from {name}", notes=read.notes)
