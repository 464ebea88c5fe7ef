"""The live socket: provisional edits go up, resolved layers come back, nothing is stored."""

from __future__ import annotations

import asyncio
import logging
from collections import defaultdict
from contextlib import suppress
from typing import Annotated, Any

import anyio
import msgpack
import numpy as np
from anyio.to_thread import run_sync
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, Field, ValidationError

from ..core.edits.any_edit import AnyEdit
from ..core.ground.errors import Refused, fault_words
from ..core.resolve.context import TrackMemo, scenes_in
from ..core.resolve.resolved import resolve
from ..store.store import Store
from .last_trial import tried
from .problem_details import field_name, problem_of
from .resolved_message import pack_resolved

log = logging.getLogger("mudskipper.web")
router = APIRouter()
LONGEST = 1_200
AT_ONCE = 4
WAITING = 256


class Trial(BaseModel):
    """Provisional edits, and the frames for which the answer is wanted; whether with `speeds`."""

    seq: Annotated[int, Field(ge=0, le=2**53 - 1)]
    first: Annotated[int, Field(ge=0, le=10**6)]
    stop: Annotated[int, Field(ge=0, le=10**6)]
    edits: Annotated[list[AnyEdit], Field(max_length=1_000)]
    speeds: bool = False


class Hub:
    """The open windows of each scene."""

    def __init__(self) -> None:
        self._windows: dict[str, set[asyncio.Queue[bytes]]] = defaultdict(set)
        self._loop: asyncio.AbstractEventLoop | None = None

    def join(self, scene_id: str) -> asyncio.Queue[bytes]:
        """A window's queue of messages."""
        self._loop = asyncio.get_running_loop()
        queue: asyncio.Queue[bytes] = asyncio.Queue(WAITING)
        self._windows[scene_id].add(queue)
        return queue

    def leave(self, scene_id: str, queue: asyncio.Queue[bytes]) -> None:
        """A window closed."""
        self._windows[scene_id].discard(queue)
        if not self._windows[scene_id]:
            del self._windows[scene_id]

    def changed(self, store: Store, scene_id: str, **message: Any) -> None:
        """Tell every window of a scene that it changed, and those of scenes that show it, of themselves or by way of
        others; from any thread."""
        self.announce(scene_id, type="revision", **message)
        for other in list(self._windows):
            with suppress(Refused):
                head = store.head(other)
                if scene_id in scenes_in(head.scene.scenes, store.assets(head.project_id)):
                    self.announce(other, type="inner", scene=scene_id)

    def fonts_changed(self, store: Store, project_id: str) -> None:
        """Tell every window of a project's scenes that its texts may look otherwise; from any thread."""
        for other in list(self._windows):
            with suppress(Refused):
                if store.head(other).project_id == project_id:
                    self.announce(other, type="inner", scene=other)

    def announce(self, scene_id: str, **message: Any) -> None:
        """Tell every window of a scene; from any thread."""
        if self._loop is None or self._loop.is_closed():
            return
        packed = msgpack.packb(message)
        for queue in list(self._windows.get(scene_id, ())):
            self._loop.call_soon_threadsafe(put, queue, packed)


def put(queue: asyncio.Queue[bytes], message: bytes) -> None:
    """Queue a message; in a window that takes none any more the oldest goes, since the newest tells of all."""
    if queue.full():
        queue.get_nowait()
    queue.put_nowait(message)


@router.websocket("/api/scenes/{scene_id}/live")
async def live(socket: WebSocket, scene_id: str) -> None:
    """One window of a scene."""
    store: Store = socket.app.state.store
    hub: Hub = socket.app.state.hub
    limit: anyio.CapacityLimiter = socket.app.state.trials
    try:
        await run_sync(store.head, scene_id)
    except Refused as refusal:
        with suppress(OSError, WebSocketDisconnect):
            await socket.accept()
            await socket.close(4404, refusal.sentence[:100])
        return
    try:
        await socket.accept()
    except OSError:
        return  # the line is gone
    queue = hub.join(scene_id)

    async def tell() -> None:
        while True:
            await socket.send_bytes(await queue.get())

    teller = asyncio.create_task(tell())
    known: set[str] = set()
    memo = TrackMemo()
    try:
        while True:
            message = await socket.receive()
            if message["type"] == "websocket.disconnect":
                break
            text = message.get("text")
            given = text if text is not None else ""
            # Worked out beside the loop, so that one window's work holds no other up.
            put(queue, await run_sync(answer, store, scene_id, given, known, memo, limiter=limit))
    except (WebSocketDisconnect, RuntimeError):
        pass  # the line is gone
    finally:
        teller.cancel()
        hub.leave(scene_id, queue)


def problem_message(seq: int, refusal: Refused) -> bytes:
    """A problem as a message."""
    packed: bytes = msgpack.packb({"type": "problem", "seq": seq, **problem_of(refusal)})
    return packed


def answer(store: Store, scene_id: str, text: str, known: set[str], memo: TrackMemo) -> bytes:
    """The answer to one message: the changed layers resolved, or the problem in words.

    `known` are the outlines that the window has, `memo` what its last answer evaluated.
    """
    try:
        trial = Trial.model_validate_json(text)
    except ValidationError as error:
        fault = error.errors(include_url=False)[0]
        sentence = f"{field_name(('message', *fault['loc']))} {fault_words(fault)}."
        return problem_message(-1, Refused(sentence, where="message"))
    try:
        if trial.stop <= trial.first:
            raise Refused(
                f"The range of frames begins at {trial.first} and ends at {trial.stop}; it must end after it begins.",
                where="stop",
            )
        outcome = store.try_edits(scene_id, list(trial.edits))
        head = store.head(scene_id)
        assets = store.assets(head.project_id)
        frames = np.arange(trial.first, min(trial.stop, trial.first + LONGEST), dtype=np.float64)
        resolved = resolve(outcome.scene, frames, assets, ids=outcome.changed, memo=memo)
        tried.of(scene_id).keep(resolved)
        return pack_resolved(
            resolved, None, known, speeds=trial.speeds, type="tried", seq=trial.seq, revision=head.revision,
            notices=list(outcome.notices),
        )  # fmt: skip
    except Refused as refusal:
        return problem_message(trial.seq, refusal)
    except Exception:
        log.exception("a trial of scene %s", scene_id)
        return problem_message(trial.seq, Refused("The server met a fault of its own. Nothing was changed."))
