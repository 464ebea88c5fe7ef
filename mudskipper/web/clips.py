"""Clips of a project: taken in as they are sent, and their frames given out."""

from __future__ import annotations

from typing import Annotated

import msgpack
import zstandard
from anyio import CapacityLimiter
from anyio.to_thread import run_sync
from fastapi import APIRouter, Depends, Query, Request, Response
from starlette.requests import ClientDisconnect

from ..core.ground.errors import Refused
from ..media.budget import DECODING
from ..media.clips import MOST_BYTES, ClipFrames
from ..store.faults import disk_faults
from ..store.store import Store
from .problem_details import binary
from .schemas import ClipAnswer, DecodingAnswer, clip_answer, clip_frames_of, store_of

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]
Frames = Annotated[ClipFrames, Depends(clip_frames_of)]

FILM = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}
MOST_AT_ONCE = 120
PACKED = 1
"""How hard exact frames are packed: as fast as can be."""


@router.get("/projects/{project_id}/clips")
def clips(project_id: str, store: Kept) -> list[ClipAnswer]:
    """The clips of a project."""
    return [clip_answer(row, store.clips.file(row)) for row in store.clips.rows(project_id)]


@router.get("/decoding")
async def decoding(request: Request) -> DecodingAnswer:
    """How many files wait until there is memory to decode them."""
    uploads: CapacityLimiter = request.app.state.uploads
    return DecodingAnswer(waiting=DECODING.waiting + uploads.statistics().tasks_waiting)


@router.post("/projects/{project_id}/clips", status_code=201, openapi_extra=FILM)
async def add_clip(
    project_id: str,
    request: Request,
    store: Kept,
    name: Annotated[str, Query(max_length=1000)] = "Clip",
    rate: Annotated[str, Query(pattern=r"^[1-9]\d{0,5}/[1-9]\d{0,3}$")] = "25/1",
) -> ClipAnswer:
    """Take a film in, as the body; known by its content, not by its name. The same file twice is one clip. A ZIP
    of numbered pictures becomes a clip at a `rate`."""
    await run_sync(store.project, project_id)
    short = name.replace("\\", "/").rsplit("/", 1)[-1][:200] or "Clip"
    part = store.clips.part()
    try:
        with disk_faults(store.folder):
            with part.open("wb") as file:
                size = 0
                async for piece in request.stream():
                    size += len(piece)
                    if size > MOST_BYTES:
                        raise Refused(f"A clip may hold at most {MOST_BYTES // 2**30} GB.", where=short,
                                      mend="Save it smaller, then add it again.")  # fmt: skip
                    await run_sync(file.write, piece)
            if not size:
                raise Refused("The file is empty.", where=short, mend="Choose a film.")
            limit = request.app.state.uploads
            row, again = await run_sync(store.clips.add, project_id, short, part, rate, limiter=limit)
    except ClientDisconnect:
        raise Refused("The file was stopped on its way.", where=short) from None
    finally:
        part.unlink(missing_ok=True)
    return clip_answer(row, store.clips.file(row)).model_copy(update={"found_again": again})


@router.get("/clips/{clip_id}/frames", response_class=Response, responses=binary("application/vnd.msgpack"))
def small_frames(
    clip_id: str,
    store: Kept,
    frames: Frames,
    at: Annotated[str, Query(pattern=r"^\d{1,7}(,\d{1,7})*$", max_length=1_000)],
    width: Annotated[int, Query(ge=8, le=4096)],
    ahead: bool = True,
) -> Response:
    """Frames as small pictures at least `width` px wide, for pictures in motion: [[frame, JPEG or WebP], …].

    Those after them are made for later, unless `ahead` is false.
    """
    row = store.clips.row(clip_id)
    file = store.clips.file(row)
    count = file.known["count"]
    wanted = [int(one) for one in at.split(",")][:MOST_AT_ONCE]
    if max(wanted) >= count:
        raise Refused(f"'{row.name}' has frames 0 to {count - 1}, and {max(wanted)} was asked for.", where="at")
    blocks = list(zip(wanted, frames.small(file, wanted, width, ahead), strict=True))
    return Response(msgpack.packb(blocks), media_type="application/vnd.msgpack", headers=FOREVER)


@router.get("/clips/{clip_id}/frame", response_class=Response, responses=binary("application/octet-stream"))
def exact_frame(
    clip_id: str, store: Kept, frames: Frames, request: Request, frame: Annotated[int, Query(ge=0, le=1_000_000)]
) -> Response:
    """One frame without loss: r, g, b, a bytes, not premultiplied, row by row."""
    row = store.clips.row(clip_id)
    file = store.clips.file(row)
    count = file.known["count"]
    if frame >= count:
        raise Refused(f"'{row.name}' has frames 0 to {count - 1}, and {frame} was asked for.", where="frame")
    pixels = frames.exact(file, frame)
    known = file.known
    headers = FOREVER | {"Vary": "Accept-Encoding", "X-Size": f"{known['width']}x{known['height']}"}
    if "zstd" in request.headers.get("accept-encoding", ""):
        pixels = zstandard.ZstdCompressor(level=PACKED).compress(pixels)
        headers["Content-Encoding"] = "zstd"
    return Response(pixels, media_type="application/octet-stream", headers=headers)
