"""Slots of a scene, and its table of titles: what fills them, what needs a look, thumbnails, and files of them."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import asdict, dataclass, field
from typing import Annotated, Any

from anyio.to_thread import run_sync
from fastapi import APIRouter, Depends, Query, Response, UploadFile
from pydantic import BaseModel, Field

from ..core.checks.rows import RowChecks
from ..core.contents.filled import SlotValue
from ..core.document.items_as_layers import item_layer, outer_path
from ..core.document.places import steady_path
from ..core.document.properties import label_of
from ..core.document.scene import Scene
from ..core.document.slots import MOST_ROWS, Row, Slot
from ..core.edits.rows import AddRows
from ..core.edits.slots import PLAIN
from ..core.ground.errors import Refused
from ..core.ground.shown import Shown
from ..core.resolve.context import scenes_in
from ..core.slots import SLOT_KINDS, Asked
from ..core.slots.filling import Holder, holder_at, holders, kind_at, slot_of
from ..core.slots.inner import INNER
from ..core.slots.rows import Trouble, file_names, scene_of_row, twice
from ..export.choices import PLAIN as NO_CHOICES
from ..export.choices import Choices
from ..export.jobs import Exports, Title
from ..export.media_loader import MediaLoader
from ..media.clips import ClipFrames
from ..opened import LoneScene
from ..paint.picture_checks import contrast_of
from ..readers.titles import TitlesFile, read_titles
from ..store.asked import asked_of
from ..store.store import Head, Store
from .problem_details import binary
from .recent import Recent
from .schemas import ExportAnswer, clip_frames_of, export_answer, exports_of, store_of

router = APIRouter(prefix="/api/scenes/{scene_id}")
Kept = Annotated[Store, Depends(store_of)]
Frames = Annotated[ClipFrames, Depends(clip_frames_of)]
Running = Annotated[Exports, Depends(exports_of)]
MOST_BYTES = 32 * 2**20
MOST_LOOKS = 50
"""Rows that are looked at in one request."""
KEPT_LOOKS = 6_000
ONLY_WORDS = frozenset({"text", "font", "length"})
"""Kinds of slots that change no colours."""


class SlotFacts(BaseModel):
    """A slot as it stands: of which kind it is, what it holds, and how that is typed; the unit and the names of its
    numbers; what it fills, in words and by layers; `gone` says what of it is not there any more."""

    id: str
    name: str
    kind: str
    value: SlotValue | None
    written: str
    unit: str
    parts: list[str]
    low: float | None
    high: float | None
    most: int | None
    fit: str
    fills: list[str]
    layers: list[str]
    gone: str


class SlotOffer(BaseModel):
    """A property of a layer that can be a slot; `slot` is the one that fills it already."""

    path: str
    label: str
    kind: str
    slot: str | None


class TroubleAnswer(BaseModel):
    """What needs a look: the slot that it is about, if any; in percent how small its letters must be to fit, where that
    helps, and whether two lines may."""

    slot: str
    sentence: str
    size: float | None
    lines: bool


class RowLook(BaseModel):
    """What needs a look in a row by itself."""

    id: str
    troubles: list[TroubleAnswer]


class RowPlace(BaseModel):
    """What the file of a row is called, and the number of an earlier row that it is the same as."""

    id: str
    file: str
    same: int | None


class LooksRequest(BaseModel):
    """Rows, by their ids, to be looked at as they are at a frame."""

    rows: Annotated[list[str], Field(max_length=MOST_LOOKS)]
    frame: int


class PastedTable(BaseModel):
    """What was copied of a spreadsheet."""

    text: Annotated[str, Field(max_length=16_000_000)]


class ReadTitles(BaseModel):
    """A table that was read: its heads (none where it has none), the slot of each column, its rows as they would be in
    the table, what is said of it, and the edit that adds them."""

    heads: list[str]
    slots: list[str | None]
    rows: list[list[str]]
    notes: list[str]
    edit: dict[str, Any]


class TitlesRequest(BaseModel):
    """Rows to be rendered, in their order, with the format and the frames of an export."""

    rows: Annotated[list[str], Field(min_length=1, max_length=MOST_ROWS)]
    kind: Annotated[str, Field(max_length=40)]
    first: int
    stop: int
    pattern: Annotated[str, Field(max_length=300)] = ""
    choices: Choices = NO_CHOICES


@dataclass
class _Looks:
    """What was found in rows of one scene at a frame; kept as long as its layers and slots, and the scenes within,
    stay."""

    of: tuple[Any, ...] = ()
    checks: RowChecks | None = None
    found: OrderedDict[tuple[Any, ...], list[Trouble]] = field(default_factory=OrderedDict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def checks_of(self, scene: Scene, asked: Asked, head: Head, store: Store, frame: int) -> RowChecks:
        """The checks of this scene; what was found in another is let go."""
        assets = store.assets(head.project_id)
        within = scenes_in(scene.scenes, assets)
        key = scene.layers, scene.slots, scene.length, scene.background, asked, within
        same = len(self.of) == len(key) and all(a is b or a == b for a, b in zip(self.of, key, strict=True))
        if self.checks is None or not same:
            self.of, self.found = key, OrderedDict()
            self.checks = RowChecks(scene, asked, assets, frame)
        return self.checks


_looks = Recent(_Looks)


@router.get("/slots")
def slots(scene_id: str, store: Kept) -> list[SlotFacts]:
    """The slots of a scene in their order."""
    head = store.head(scene_id)
    asked = asked_of(store, head.project_id, head.scene)
    return [_facts(slot, head.scene, asked, store, head) for slot in head.scene.slots]


@router.get("/slots/offers")
def offers(scene_id: str, store: Kept, layer: Annotated[str, Query(max_length=400)]) -> list[SlotOffer]:
    """What of a layer or a shape can be a slot: its words, what it shows and its colours first."""
    head = store.head(scene_id)
    scene, assets = head.scene, store.assets(head.project_id)
    one = item_layer(scene, layer)
    here = scene.layer(layer.split("/")[0])
    shown = assets.scenes.get(here.content.scenes[0]) if here.content.scenes and layer == here.id else None
    inner = [(f"content.fills.@{slot.id}", slot.name) for slot in shown.slots] if shown else []
    plain = (
        ["content.text", "content.asset", "content.font.family", "visible", "span.length"] if layer == here.id else []
    )
    paths = [*((path, "") for path in plain), *inner, *((path, "") for path in one.tracks)]
    taken = {(place.layer, place.path): slot.id for slot in scene.slots for place in slot.places}
    found = []
    order = [kind.name for kind in SLOT_KINDS]
    for path, name in paths:
        outer = path if layer == here.id else outer_path(scene, layer, path)
        kind = kind_at(here, outer, assets) or kind_at(one, path, assets)
        if kind is None:
            continue
        label = name or PLAIN.get(path, "").capitalize() or label_of(path, one)
        steady = path if INNER.fullmatch(path) else steady_path(here, outer)
        found.append(SlotOffer(path=path, label=label, kind=kind.name, slot=taken.get((here.id, steady))))
    return sorted(found, key=lambda offer: order.index(offer.kind))


def _facts(slot: Slot, scene: Scene, asked: Asked, store: Store, head: Head) -> SlotFacts:
    assets = store.assets(head.project_id)
    found = holders(scene, slot, assets)
    gone = sum(holder_at(scene, place, assets) is None for place in slot.places)
    part = found[0].layer.shown.get(found[0].path) if found else None
    about = part.about if part else Shown("")
    value = found[0].value if found else None
    much = "What" if gone == len(slot.places) else "Part of what"
    return SlotFacts(
        id=slot.id, name=slot.name, kind=found[0].kind.name if found else "", value=value,
        written=found[0].kind.written(value, asked) if found and value is not None else "",
        unit=about.unit, parts=list(about.parts),
        low=_bound(max, slot.low, about.low), high=_bound(min, slot.high, about.high),
        most=slot.most, fit=slot.fit, fills=[_label(one) for one in found], layers=[one.layer.id for one in found],
        gone=f"{much} the slot {slot.name} fills was deleted; undo brings it back." if gone else "",
    )  # fmt: skip


def _bound(which: Any, *given: float | None) -> float | None:
    known = [one for one in given if one is not None]
    return which(known) if known else None


def _label(one: Holder) -> str:
    inner = INNER.fullmatch(one.path)
    what = "Slot" if inner else PLAIN.get(one.path, "").capitalize() or label_of(one.path, one.layer)
    return f"{what} of {one.layer.name}"


@router.post("/table/looks")
def looks(scene_id: str, request: LooksRequest, store: Kept, clips: Frames) -> list[RowLook]:
    """What needs a look in rows of the table."""
    head = store.head(scene_id)
    scene = head.scene
    asked = asked_of(store, head.project_id, scene)
    kept = _looks.of(scene_id, request.frame)
    known = {row.id: row for row in scene.rows}
    load = MediaLoader(store.media_files(head.project_id), clips)
    answers = []
    with kept.lock:
        checks = kept.checks_of(scene, asked, head, store, request.frame)
        for name in request.rows:
            row = known.get(name)
            if row is None:
                continue
            cells, mends = row.cells, row.mends
            told = tuple((one.slot, one.text) for one in cells), tuple((one.slot, one.size, one.lines) for one in mends)
            if told not in kept.found:
                here, found = checks.look(row)
                kept.found[told] = [*found, *_contrast(row, here, scene, store, head, load)]
                if len(kept.found) > KEPT_LOOKS:
                    kept.found.popitem(last=False)
            answers.append(RowLook(id=name, troubles=[TroubleAnswer(**asdict(one)) for one in kept.found[told]]))
    return answers


@router.get("/table/rows")
def rows(scene_id: str, store: Kept, pattern: Annotated[str, Query(max_length=300)] = "") -> list[RowPlace]:
    """What the files of all rows are called by a pattern, and which rows are the same as others."""
    scene = store.head(scene_id).scene
    same, names = twice(scene.rows), _names(scene, pattern)
    return [RowPlace(id=row.id, file=names[row.id], same=same.get(row.id)) for row in scene.rows]


def _contrast(row: Row, here: Scene, scene: Scene, store: Store, head: Head, load: MediaLoader) -> list[Trouble]:
    """Texts of a row that stand out too little, where it changes more than words."""
    assets = store.assets(head.project_id)
    kinds = {slot.id: found[0].kind.name for slot in scene.slots if (found := holders(scene, slot, assets))}
    if all(kinds.get(cell.slot, "text") in ONLY_WORDS or not cell.text.strip() for cell in row.cells):
        return []
    texts = [one for one in here.layers if one.visible and one.content.words is not None]
    weak = {one.id: told.sentence for one in texts if (told := contrast_of(here, one, assets, load)) is not None}
    return [
        Trouble("", sentence)
        for name, sentence in weak.items()
        if contrast_of(scene, scene.layer(name), assets, load) is None
    ]  # fmt: skip


def _names(scene: Scene, pattern: str) -> dict[str, str]:
    names = file_names(pattern or "{row} {scene}", scene, scene.rows)
    return {row.id: name for row, name in zip(scene.rows, names, strict=True)}


@router.get("/table/rows/{row_id}/still", response_class=Response, responses=binary("image/png"))
def still(
    scene_id: str, row_id: str, store: Kept, clips: Frames, frame: Annotated[int, Query(ge=0)],
    width: Annotated[int, Query(ge=8, le=2048)] = 192,
) -> Response:  # fmt: skip
    """A frame of a row's title as PNG, painted as it will be."""
    head = store.head(scene_id)
    row = next((one for one in head.scene.rows if one.id == row_id), None)
    if row is None:
        raise Refused("This row is gone; it may have been deleted in another window.", where="row")
    here = _filled(head, row, store)
    opened = LoneScene(here, store.assets(head.project_id), store.media_files(head.project_id))
    png = opened.painter(min(frame, here.length - 1), min(width / here.width, 1.0), clips).png()
    return Response(png, media_type="image/png", headers={"Cache-Control": "no-cache"})


def _filled(head: Head, row: Row, store: Store) -> Scene:
    asked = asked_of(store, head.project_id, head.scene)
    return scene_of_row(head.scene, row, asked, store.assets(head.project_id))[0]


@router.post("/table/read")
def read(scene_id: str, pasted: PastedTable, store: Kept) -> ReadTitles:
    """Read what was copied of a spreadsheet as rows of the table."""
    return _read(store, scene_id, pasted.text.encode(), "what was pasted")


@router.post("/table/take-in")
async def read_file(scene_id: str, file: UploadFile, store: Kept) -> ReadTitles:
    """Read a CSV, TSV or XLSX file as rows of the table."""
    name = (file.filename or "file").replace("\\", "/").rsplit("/", 1)[-1][:200]

    def take() -> ReadTitles:
        data = file.file.read(MOST_BYTES + 1)
        if len(data) > MOST_BYTES:
            raise Refused(f"It is larger than {MOST_BYTES // 2**20} MB.", where=name)
        return _read(store, scene_id, data, name)

    return await run_sync(take)


def _read(store: Store, scene_id: str, data: bytes, name: str) -> ReadTitles:
    scene = store.head(scene_id).scene
    return read_answer(read_titles(data, name, scene))


def read_answer(found: TitlesFile) -> ReadTitles:
    """A table that was read, as it is told."""
    edit = AddRows(rows=found.as_rows(found.slots)).model_dump(mode="json")
    return ReadTitles(
        heads=list(found.heads), slots=list(found.slots), rows=[list(row) for row in found.rows],
        notes=list(found.notes), edit=edit,
    )  # fmt: skip


@router.get("/table/value", response_model=None)
def value(scene_id: str, slot: str, text: Annotated[str, Query(max_length=5_000)], store: Kept) -> dict[str, Any]:
    """The value that a typed text tells for a slot."""
    head = store.head(scene_id)
    scene, assets = head.scene, store.assets(head.project_id)
    one = slot_of(scene, slot)
    found = holders(scene, one, assets)
    if not found:
        raise Refused(f"What the slot '{one.name}' fills is gone.", where=one.name)
    read_as = found[0].kind.read(text, asked_of(store, head.project_id, scene))
    return {"value": found[0].kind.checked(read_as, one, found[0].layer, found[0].path)}


@router.post("/table/exports", status_code=202)
def export(scene_id: str, request: TitlesRequest, store: Kept, running: Running) -> list[ExportAnswer]:
    """Start the files of rows, a job each."""
    head = store.head(scene_id)
    known = {row.id: row for row in head.scene.rows}
    gone = [name for name in request.rows if name not in known]
    if gone:
        raise Refused("Rows named here are gone; they may have been deleted in another window.", where="rows")
    names = _names(head.scene, request.pattern)
    titles = [
        Title(name, names[name], _filled(head, known[name], store).model_copy(update={"rows": ()}))
        for name in dict.fromkeys(request.rows)
    ]
    started = running.start_titles(scene_id, request.kind, request.first, request.stop, request.choices, titles)
    return [export_answer(row) for row in started]


@router.post("/table/exports/{batch}/cancel")
def cancel(scene_id: str, batch: str, running: Running) -> list[ExportAnswer]:
    """Stop all titles that were started together."""
    running.cancel_batch(batch)
    return [export_answer(row) for row in running.jobs(scene_id) if row.batch == batch]
