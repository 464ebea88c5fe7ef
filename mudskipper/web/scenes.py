"""One scene: its document, edits, undo and redo, resolved arrays, stills."""

from __future__ import annotations

import logging
from typing import Annotated

import numpy as np
from anyio.to_thread import run_sync
from fastapi import APIRouter, Depends, Query, Request, Response, UploadFile

from ..core.checks import CheckCache, check_scene
from ..core.checks.not_showing import painted_over, unseen
from ..core.checks.strips import strips
from ..core.contents import TimedContent
from ..core.document.items_as_layers import located
from ..core.document.scene import Span
from ..core.document.variant_differences import differences, switched
from ..core.draw.measures import LEVELS, histogram, waveform
from ..core.edits import Edit, Outcome, changed_layers
from ..core.edits.add_layers import AddLayers
from ..core.edits.values_and_keys import key_values
from ..core.ground.errors import Refused
from ..core.ground.typed_time import typed_time
from ..core.moves.anchor_moves import explain
from ..core.resolve.cascades import cascades_at
from ..core.resolve.context import Context
from ..core.resolve.resolved import ResolveCache, resolve
from ..export.media_loader import MediaLoader
from ..media.clips import ClipFrames
from ..opened import LoneScene, OpenScene, StoredScene
from ..paint.compare import shows
from ..readers.apart import layers_of
from ..readers.art import MOST_BYTES, notes_in_words, read_art
from ..store.store import Head, Store
from .last_trial import tried
from .live import LONGEST, Hub
from .problem_details import binary
from .recent import Recent
from .resolved_message import pack_resolved
from .schemas import (
    CascadeFacts,
    EditRequest,
    Explanation,
    FindingAnswer,
    HistoryAnswer,
    KeyValuesAnswer,
    KeyValuesRequest,
    MeasuresAnswer,
    OfferAnswer,
    PlaceAnswer,
    SceneAnswer,
    SourceAnswer,
    StepAnswer,
    StripsAnswer,
    TimeAnswer,
    UnseenAnswer,
    Window,
    clip_frames_of,
    hub_of,
    scene_answer,
    store_of,
)

MOST = 2**53 - 1
"""The largest number of a revision or a step, as JSON has it."""
MOST_AT_ONCE, MOST_BYTES_AT_ONCE = 400_000, 2_000_000
"""Properties times frames, and bytes, up to which the answer of an edit brings the arrays of what changed."""
MEASURED = 480
"""How many pixels wide a picture is measured at most."""
FRAMES = r"^(-?\d{1,7}(,-?\d{1,7})*)?$"
"""Scene frames in a row, or none."""

log = logging.getLogger("mudskipper.web")
router = APIRouter(prefix="/api/scenes/{scene_id}")
Kept = Annotated[Store, Depends(store_of)]
Frames = Annotated[ClipFrames, Depends(clip_frames_of)]
Windows = Annotated[Hub, Depends(hub_of)]

_windows = Recent(ResolveCache)
_findings = Recent(CheckCache)


@router.get("", response_model=SceneAnswer)
def scene(scene_id: str, store: Kept) -> Response:
    """The scene as it stands."""
    return scene_answer(store.head(scene_id))


@router.post("/edits", response_model=SceneAnswer)
def edit(scene_id: str, request: EditRequest, store: Kept, hub: Windows) -> Response:
    """Apply edits to the newest revision as one undo step."""
    head, outcome, base = store.apply(scene_id, list(request.edits), request.token, request.run)
    hub.changed(store, scene_id, revision=head.revision, client=request.client, said=outcome.words)
    only, arrays = _for_window(store, scene_id, head, request.window, base, outcome.changed)
    return scene_answer(
        head, outcome.words, outcome.notices, outcome.changed, base, offer=_offer(outcome), only=only, arrays=arrays
    )


def _for_window(
    store: Store, scene_id: str, head: Head, window: Window | None, base: int, changed: tuple[str, ...]
) -> tuple[set[str] | None, bytes | None]:
    """The layers that a window needs after a step from the revision `base`, None for all of them, and their arrays:
    None where they are too many, or cannot be made. The step is kept, and the window asks for them by itself."""
    if window is None or window.known != base:
        return None, None
    first, stop = window.first, min(window.stop, window.first + LONGEST, head.scene.length)
    properties = sum(len(head.scene.layer(layer).tracks) for layer in changed)
    if first >= stop or properties * (stop - first) > MOST_AT_ONCE:
        return set(changed), None
    try:
        frames, assets = np.arange(first, stop, dtype=np.float64), store.assets(head.project_id)
        cache = _windows.of(scene_id, first, stop)
        tried.of(scene_id).into(cache, head.scene, frames, assets)
        arrays = resolve(head.scene, frames, assets, cache)
        body = pack_resolved(arrays, set(changed), set(), speeds=window.speeds, type="resolved", revision=head.revision)
    except Exception:
        log.exception("arrays after an edit of %s", scene_id)
        return set(changed), None
    return set(changed), body if len(body) <= MOST_BYTES_AT_ONCE else None


@router.post("/art", status_code=201, response_model=SceneAnswer)
async def add_art(
    scene_id: str,
    file: UploadFile,
    request: Request,
    store: Kept,
    hub: Windows,
    each: bool = False,
    x: Annotated[float, Query(ge=-1e6, le=1e6)] | None = None,
    y: Annotated[float, Query(ge=-1e6, le=1e6)] | None = None,
    client: Annotated[str, Query(max_length=64)] = "",
    token: Annotated[str, Query(max_length=64)] | None = None,
) -> Response:
    """Take an SVG file in as layers, its middle at (x, y) or in the middle of the scene, as one undo step: one layer
    of all its shapes, or with `each` one of each of its top groups."""
    name = (file.filename or "Art.svg").replace("\\", "/").rsplit("/", 1)[-1][:200]

    def take() -> Response:
        art = read_art(file.file.read(MOST_BYTES + 1), name)
        scene = store.head(scene_id).scene
        middle = (scene.width / 2 if x is None else x, scene.height / 2 if y is None else y)
        corner = (middle[0] - art.width / 2, middle[1] - art.height / 2)
        layers = layers_of(art, Span(start=0, length=scene.length), corner, each=each)
        edits: list[Edit] = [AddLayers(ready=layers, name=name)]
        head, outcome, base = store.apply(scene_id, edits, token)
        hub.changed(store, scene_id, revision=head.revision, client=client, said=outcome.words)
        notices = (*outcome.notices, *filter(None, [notes_in_words(art.notes)]))
        return scene_answer(head, outcome.words, notices, outcome.changed, base, status=201)

    return await run_sync(take, limiter=request.app.state.uploads)


def _offer(outcome: Outcome) -> OfferAnswer | None:
    """To key in its pose what was changed there and is not keyed; to bring keys to where they are seen."""
    if not outcome.keying and outcome.onto:
        moves = [edit.model_dump(mode="json") for edit in outcome.onto]
        return OfferAnswer(
            sentence=outcome.late, button="Move it there" if len(moves) == 1 else "Move them", edits=moves
        )
    if not outcome.keying:
        return None
    edits = [edit.model_dump(mode="json") for edit in outcome.keying]
    which = "it" if len(edits) == 1 else "them"
    return OfferAnswer(sentence=outcome.unkeyed, button=f"Key {which} in this pose", edits=edits)


@router.post("/undo", response_model=SceneAnswer)
def undo(scene_id: str, store: Kept, hub: Windows, client: str = "") -> Response:
    """Back to the state before the last step."""
    before = store.head(scene_id)
    return _moved(store, scene_id, before, store.undo(scene_id), f"Undone: {before.undo_words}", hub, client)


@router.post("/redo", response_model=SceneAnswer)
def redo(scene_id: str, store: Kept, hub: Windows, client: str = "") -> Response:
    """The step undone last, again."""
    before = store.head(scene_id)
    return _moved(store, scene_id, before, store.redo(scene_id), f"Done again: {before.redo_words}", hub, client)


@router.get("/history")
def history(
    scene_id: str,
    store: Kept,
    first: Annotated[int, Query(ge=0, le=MOST)] | None = None,
    count: Annotated[int, Query(ge=1, le=500)] = 100,
) -> HistoryAnswer:
    """Steps of the scene in words, oldest first; those around where it stands unless `first` says from which."""
    steps, start, total, here = store.history(scene_id, first, count)
    answers = [StepAnswer(**vars(step)) for step in steps]
    return HistoryAnswer(first=start, total=total, here=here, steps=answers)


@router.post("/goto", response_model=SceneAnswer)
def go_to(
    scene_id: str, revision: Annotated[int, Query(ge=0, le=MOST)], store: Kept, hub: Windows, client: str = ""
) -> Response:
    """Bring the scene to any step of its history."""
    before = store.head(scene_id)
    after = store.go_to(scene_id, revision)
    return _moved(store, scene_id, before, after, "Went to another step of the history.", hub, client)


def _moved(store: Store, scene_id: str, before: Head, after: Head, said: str, hub: Hub, client: str) -> Response:
    hub.changed(store, scene_id, revision=after.revision, client=client, said=said)
    changed = changed_layers(before.scene, after.scene)
    return scene_answer(after, said, (), changed, before.revision)


@router.get("/resolved", response_class=Response, responses=binary("application/vnd.msgpack"))
def resolved(
    scene_id: str,
    store: Kept,
    first: Annotated[int, Query(alias="from", ge=0)],
    stop: Annotated[int, Query(alias="to", ge=1)],
    layers: str | None = None,
    variant: str | None = None,
    speeds: bool = False,
) -> Response:
    """Arrays and drawing operations for frames from…to (not included), as MessagePack.

    With `variant`, the one layer named moves as that variant of it does; with `speeds`, how fast each property changes
    comes as well.
    """
    head = store.head(scene_id)
    stop = min(stop, first + LONGEST, head.scene.length)
    if first >= stop:
        raise Refused(
            f"Frames {first} to {stop} are no range of this scene, which has {head.scene.length}.", where="from"
        )
    assets = store.assets(head.project_id)
    if variant is not None:
        other = switched(head.scene.layer(layers or ""), variant)
        arrays = resolve(head.scene.with_layer(other), np.arange(first, stop), assets, ids=[other.id])
    else:
        arrays = resolve(head.scene, np.arange(first, stop), assets, _windows.of(scene_id, first, stop))
    only = None if layers is None else set(filter(None, layers.split(",")))
    body = pack_resolved(arrays, only, set(), speeds=speeds, type="resolved", revision=head.revision)
    return Response(body, media_type="application/vnd.msgpack")


EDITS = ("edits", "parts")
"""What of a finding are edits."""


@router.get("/checks")
def checks(scene_id: str, store: Kept, clips: Frames, pictures: bool = False) -> list[FindingAnswer]:
    """What the checks find in the scene, each with the edits that mend it; with `pictures` what is found in the painted
    pictures and in the sound alone, which takes longer."""
    head = store.head(scene_id)
    if pictures:
        found = StoredScene(store, scene_id).look(clips)
    else:
        found = check_scene(head.scene, store.assets(head.project_id), _findings.of(scene_id))
    return [
        FindingAnswer(**{name: getattr(one, name) for name in FindingAnswer.model_fields if name not in EDITS},
                      **{name: [edit.model_dump(mode="json") for edit in getattr(one, name)] for name in EDITS})
        for one in found
    ]  # fmt: skip


@router.get("/unseen")
def not_seen(
    scene_id: str, store: Kept, clips: Frames, frame: Annotated[int, Query(ge=0)], layer: str | None = None
) -> list[UnseenAnswer]:
    """The layers of which nothing shows at a frame, and why. For `layer` the painted picture is looked at as well."""
    head = store.head(scene_id)
    assets = store.assets(head.project_id)
    found = unseen(head.scene, frame, assets)
    looked_at = layer in head.scene.places and head.scene.layer(layer).content.shows
    if layer and looked_at and all(one.layer != layer for one in found):
        load = MediaLoader(store.media_files(head.project_id), clips)
        changes = shows(head.scene, layer, frame, assets, load)
        if changes != "shows":
            found.append(painted_over(head.scene, layer, frame, alone=changes == "same"))
    return [
        UnseenAnswer(**one.model_dump(exclude={"edits"}), edits=[edit.model_dump(mode="json") for edit in one.edits])
        for one in found
    ]


@router.post("/key-values")
def key_values_after(scene_id: str, request: KeyValuesRequest, store: Kept) -> KeyValuesAnswer:
    """The values of keys as they are, and as edits would leave them; nothing is stored."""
    before = store.head(scene_id).scene
    outcome = store.try_edits(scene_id, list(request.edits))
    return KeyValuesAnswer(
        before=key_values(before, request.keys), after=key_values(outcome.scene, request.keys),
        notices=list(outcome.notices),
    )  # fmt: skip


@router.get("/time")
def read_time(
    scene_id: str,
    store: Kept,
    text: Annotated[str, Query(max_length=200)],
    now: Annotated[float, Query(ge=-(10**9), le=10**9)] | None = None,
) -> TimeAnswer:
    """A time as it is typed, in this scene's frame rate; `+12` and `-12` step from `now`."""
    return TimeAnswer(frame=typed_time(text, store.head(scene_id).scene.frame_rate, now))


@router.get("/layers/{layer_id:path}/explain")
def explained(scene_id: str, layer_id: str, store: Kept, frame: float = 0.0) -> Explanation:
    """Both coordinate spaces of a layer's anchor and the sum behind them, with the numbers of one frame; of a shape
    within a layer, that of the layer or group it lies in stands for the scene."""
    head = store.head(scene_id)
    scene, layer = located(head.scene, layer_id)
    return Explanation(**explain(layer, frame, Context(scene, store.assets(head.project_id))))


@router.get("/layers/{layer_id:path}/cascades")
def cascades(scene_id: str, layer_id: str, store: Kept, frame: float = 0.0) -> list[CascadeFacts]:
    """The cascades of a text at a frame: their times, and their units one by one."""
    head = store.head(scene_id)
    scene, layer = located(head.scene, layer_id)
    return [CascadeFacts(**one) for one in cascades_at(layer, frame, Context(scene, store.assets(head.project_id)))]


@router.get("/layers/{layer_id}/source")
def source(
    scene_id: str, layer_id: str, store: Kept, at: Annotated[str, Query(pattern=FRAMES, max_length=4_000)] = ""
) -> SourceAnswer:
    """The frames of its source that a layer shows at scene frames, also outside of its span; and the scene frames of
    its span at which the source begins or ends."""
    head = store.head(scene_id)
    layer = head.scene.layer(layer_id)
    content = layer.content
    if not isinstance(content, TimedContent):
        raise Refused(f"'{layer.name}' has no source that runs in a time of its own.", where="layer")
    context = Context(head.scene, store.assets(head.project_id))
    asked = np.array([int(one) for one in at.split(",") if one], dtype=np.float64)
    span = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
    shown, inner = (context.resolve([layer], frames)[0].inner for frames in (asked if asked.size else span, span))
    return SourceAnswer(
        frames=content.source_frames(shown, context.around(layer, asked)).tolist() if asked.size else [],
        ends=content.ends(inner, context.around(layer, span)),
    )


@router.get("/layers/{layer_id}/strips")
def layer_strips(scene_id: str, layer_id: str, store: Kept) -> StripsAnswer:
    """Where a layer does not cover its scene, and how fast its anchor goes, frame by frame."""
    head = store.head(scene_id)
    context = Context(head.scene, store.assets(head.project_id))
    return StripsAnswer(**vars(strips(head.scene.layer(layer_id), context)))


@router.get("/layers/{layer_id}/variants/{name}/differences")
def variant_differences(scene_id: str, layer_id: str, name: str, store: Kept) -> list[str]:
    """What the present motion of a layer (A) and a variant (B) differ in, a sentence each."""
    here = store.head(scene_id).scene
    return differences(here.layer(layer_id), name, here.frame_rate)


@router.get("/layers/{layer_id}/place")
def place(
    scene_id: str, layer_id: str, store: Kept, inner: Annotated[int, Query(ge=0)], near: float = 0.0
) -> PlaceAnswer | None:
    """Where a frame of the scene that a layer shows is seen: at the frame of its span nearest to `near`; null where it
    never is."""
    head = store.head(scene_id)
    layer = head.scene.layer(layer_id)
    if not isinstance(layer.content, TimedContent) or not layer.content.scenes:
        raise Refused(f"'{layer.name}' shows no scene.", where="layer")
    context = Context(head.scene, store.assets(head.project_id))
    span = np.arange(max(layer.span.start, 0), min(layer.span.end, head.scene.length), dtype=np.float64)
    if not span.size:
        return None
    (one,) = context.resolve([layer], span)
    shown = np.flatnonzero(layer.content.source_frames(one.inner, context.around(layer, span)) == inner)
    if not shown.size:
        return None
    index = int(shown[np.abs(span[shown] - near).argmin()])
    matrix = np.broadcast_to(one.content_matrix, (len(span), 6))[index]
    return PlaceAnswer(frame=int(span[index]), matrix=tuple(matrix.tolist()))


@router.get("/still", response_class=Response, responses=binary("image/png"))
def still(
    scene_id: str,
    store: Kept,
    clips: Frames,
    frame: Annotated[int, Query(ge=0)],
    width: Annotated[int | None, Query(ge=8, le=4096)] = None,
    without: Annotated[str | None, Query(max_length=64)] = None,
) -> Response:
    """A frame as PNG, painted by the exporter's painter; smaller where a width is given, and `without` one layer."""
    opened: OpenScene = StoredScene(store, scene_id)
    if without in opened.document.places:
        hidden = opened.document.layer(without).model_copy(update={"visible": False})
        opened = LoneScene(opened.document.with_layer(hidden), opened.assets, opened.files)
    scale = 1.0 if width is None else min(width / opened.document.width, 1.0)
    png = opened.painter(frame, scale, clips).png()
    return Response(png, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.get("/measures")
def measures(scene_id: str, store: Kept, clips: Frames, frame: Annotated[int, Query(ge=0)]) -> MeasuresAnswer:
    """The waveform and the histogram of a frame, as the export has it, measured at up to 480 pixels across."""
    opened = StoredScene(store, scene_id)
    pixels = opened.painter(frame, min(MEASURED / opened.document.width, 1.0), clips).pixels()
    return MeasuresAnswer(
        waveform=waveform(pixels).ravel().tolist(), levels=LEVELS, histogram=histogram(pixels).tolist()
    )
