"""The live socket: provisional edits go up, resolved layers come back, nothing is stored."""

from __future__ import annotations

import asyncio
from collections import defaultdict
from typing import Any

import msgpack
import numpy as np
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, Field, ValidationError

from ..core.edits import AnyEdit
from ..core.errors import Refused, refusal_of
from ..core.resolve import Resolved, TrackMemo, resolve_layers
from ..store.store import Store
from .problems import problem_of
from .wire import pack_resolved

router = APIRouter()
LONGEST = 1_200


class Trial(BaseModel):
    """Provisional edits, and the frames for which the answer is wanted."""

    seq: int
    first: int = Field(ge=0)
    stop: int = Field(ge=0)
    edits: list[AnyEdit]


class Hub:
    """The open windows of each scene."""

    def __init__(self) -> None:
        self._windows: dict[str, set[asyncio.Queue[bytes]]] = defaultdict(set)
        self._loop: asyncio.AbstractEventLoop | None = None

    def join(self, scene_id: str) -> asyncio.Queue[bytes]:
        """A window's queue of messages."""
        self._loop = asyncio.get_running_loop()
        queue: asyncio.Queue[bytes] = asyncio.Queue()
        self._windows[scene_id].add(queue)
        return queue

    def leave(self, scene_id: str, queue: asyncio.Queue[bytes]) -> None:
        """A window closed."""
        self._windows[scene_id].discard(queue)

    def announce(self, scene_id: str, **message: Any) -> None:
        """Tell every window of a scene; from any thread."""
        if self._loop is None or self._loop.is_closed():
            return
        packed = msgpack.packb(message)
        for queue in list(self._windows[scene_id]):
            self._loop.call_soon_threadsafe(queue.put_nowait, packed)


@router.websocket("/api/scenes/{scene_id}/live")
async def live(socket: WebSocket, scene_id: str) -> None:
    """One window of a scene."""
    store: Store = socket.app.state.store
    hub: Hub = socket.app.state.hub
    await socket.accept()
    queue = hub.join(scene_id)

    async def tell() -> None:
        while True:
            await socket.send_bytes(await queue.get())

    teller = asyncio.create_task(tell())
    known: set[str] = set()
    memo = TrackMemo()
    try:
        while True:
            text = await socket.receive_text()
            queue.put_nowait(answer(store, scene_id, text, known, memo))
    except WebSocketDisconnect:
        pass
    finally:
        teller.cancel()
        hub.leave(scene_id, queue)


def answer(store: Store, scene_id: str, text: str, known: set[str], memo: TrackMemo) -> bytes:
    """The answer to one message: the changed layers resolved, or the problem in words.

    `known` are the outlines that the window has, `memo` what its last answer reckoned.
    """
    try:
        trial = Trial.model_validate_json(text)
    except ValidationError as error:
        packed: bytes = msgpack.packb({"type": "problem", "seq": -1, **problem_of(refusal_of(error, "message"))})
        return packed
    try:
        outcome = store.try_edits(scene_id, list(trial.edits))
        head = store.head(scene_id)
        assets = store.assets(head.project_id)
        frames = np.arange(trial.first, min(trial.stop, trial.first + LONGEST), dtype=np.float64)
        layers = [outcome.scene.layer(layer_id) for layer_id in outcome.changed]
        resolved = resolve_layers(layers, frames, assets, outcome.scene.fps, memo)
        partial = Resolved(outcome.scene, frames, {one.layer.id: one for one in resolved})
        return pack_resolved(
            partial, assets, None, known, type="tried", seq=trial.seq, revision=head.revision,
            notices=list(outcome.notices),
        )  # fmt: skip
    except Refused as refusal:
        refused: bytes = msgpack.packb({"type": "problem", "seq": trial.seq, **problem_of(refusal)})
        return refused
