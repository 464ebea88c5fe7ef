"""What a scene sounds like, for playing; and the waves that lanes draw."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Depends, Query, Response

from ..core.ground.errors import Refused
from ..core.resolve.context import Context
from ..core.resolve.sound.mix import RATE, heard, mixed
from ..core.resolve.sound.waves import wave_of
from ..media.sounds import Sounds
from ..store.store import Store
from .problem_details import binary
from .schemas import sounds_of, store_of

router = APIRouter(prefix="/api/scenes/{scene_id}")
Kept = Annotated[Store, Depends(store_of)]
Samples = Annotated[Sounds, Depends(sounds_of)]

MOST = 20 * RATE
LOUDEST = 32_767


@router.get("/heard")
def heard_layers(scene_id: str, store: Kept, muted: bool = False) -> list[str]:
    """The layers that are heard, by their ids; those that are muted or hidden too where `muted` says so."""
    head = store.head(scene_id)
    assets = store.assets(head.project_id)
    if muted:
        return [layer.id for layer in head.scene.layers if layer.content.sound_of(assets) is not None]
    return [layer.id for layer in heard(head.scene, Context(head.scene, assets))]


@router.get("/sound", response_class=Response, responses=binary("application/octet-stream"))
def sound(
    scene_id: str,
    store: Kept,
    sounds: Samples,
    first: Annotated[int, Query(ge=0, le=10**10)],
    count: Annotated[int, Query(ge=1, le=MOST)],
    only: Annotated[str, Query(max_length=100_000)] = "",
) -> Response:
    """Samples of the scene at 48 kHz from one on: 16 bits, little-endian, left and right by turns. Of the layers `only`
    where it names some."""
    head = store.head(scene_id)
    context = Context(head.scene, store.assets(head.project_id))
    files = store.media_files(head.project_id).clips
    wanted = set(filter(None, only.split(","))) or None
    found = mixed(
        head.scene, context, first, count, lambda name, begin, size: sounds.read(files[name], begin, size), wanted
    )
    whole = np.rint(np.clip(found, -1.0, 1.0) * LOUDEST).astype("<i2")
    return Response(whole.tobytes(), media_type="application/octet-stream", headers={"Cache-Control": "no-store"})


@router.get("/layers/{layer_id}/wave", response_class=Response, responses=binary("application/octet-stream"))
def wave(
    scene_id: str,
    layer_id: str,
    store: Kept,
    sounds: Samples,
    first: Annotated[float, Query(alias="from", ge=-1e6, le=1e6)],
    stop: Annotated[float, Query(alias="to", ge=-1e6, le=1e6)],
    points: Annotated[int, Query(ge=1, le=4_000)],
) -> Response:
    """The least and the largest sample of a layer between scene frames, at so many points: float32, by turns, 0 where
    nothing is heard. A muted layer is drawn all the same."""
    head = store.head(scene_id)
    scene, layer = head.scene, head.scene.layer(layer_id)
    context = Context(scene, store.assets(head.project_id))
    if layer.content.sound_of(context.assets) is None:
        raise Refused(f"'{layer.name}' has no sound.", where="layer")
    if not first < stop:
        raise Refused(
            f"The range of frames begins at {first:g} and ends at {stop:g}; it must end after it begins.", where="from"
        )
    clips = store.media_files(head.project_id).clips
    at = np.linspace(first, stop, points + 1) / scene.fps
    drawn = wave_of(layer, context, at, lambda name, edges: sounds.peaks(clips[name], edges))
    return Response(drawn.astype("<f4").tobytes(), media_type="application/octet-stream")
