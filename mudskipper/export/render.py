"""Rendering: one chunk of frames in any process, and a whole file from chunks on any executor."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from concurrent.futures import Executor, Future, as_completed
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ..core.contents.assets import Assets, PictureInfo
from ..core.document.read import read_scene
from ..core.document.scene import Scene
from ..core.ground.errors import Refused
from ..core.resolve.context import Context, scenes_in
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import resolve
from ..core.resolve.sound.mix import RATE, heard, mixed
from ..media.clips import ClipFile
from ..media.files import MediaFiles
from ..media.sounds import Sounds, squares_in
from ..paint.painter import Painter
from .media_loader import MediaLoader
from .writers import FORMATS, Film
from .writers.base import Sound

CHUNK = 24
WINDOW = 48
BLOCK = RATE
"""Samples that are mixed at once."""


@dataclass(frozen=True)
class Job:
    """What to render: frames first…stop (not included) of a scene, as a kind of file. Travels to any process."""

    scene: str
    inner: tuple[str, ...]
    pictures: tuple[tuple[str, int, int, str], ...]
    clips: tuple[tuple[str, ClipFile], ...]
    sounds: str
    kind: str
    first: int
    stop: int

    @property
    def chunks(self) -> list[tuple[int, int]]:
        """The chunks as ranges of frames."""
        return [(start, min(start + CHUNK, self.stop)) for start in range(self.first, self.stop, CHUNK)]


class Cancelled(Exception):
    """The export was stopped on request."""


def make_job(scene: Scene, assets: Assets, files: MediaFiles, kind: str, first: int, stop: int) -> Job:
    """A job, refused in words where the format cannot hold the scene or the frames are not the scene's."""
    if kind not in FORMATS:
        raise Refused(f"There is no format {kind!r}.", where="kind", mend=f"Formats: {', '.join(FORMATS)}.")
    FORMATS[kind].check(film_of(scene, first))
    if not 0 <= first < stop <= scene.length:
        raise Refused(
            f"Frames {first} to {stop - 1} were asked, and '{scene.name}' has frames 0 to {scene.length - 1}.",
            where="frames",
        )
    inner = inner_scenes(scene, assets)
    every = (scene, *inner)
    used = [assets.picture(name) for name in sorted(set().union(*(one.pictures for one in every)))]
    pictures = tuple((info.id, info.width, info.height, files.pictures[info.id]) for info in used)
    names = sorted(set().union(*(one.clips for one in every)))
    clips = tuple((assets.clip(name).id, files.clips[name]) for name in names)
    texts = tuple(one.to_json() for one in inner)
    return Job(scene.to_json(), texts, pictures, clips, files.sounds, kind, first, stop)


def inner_scenes(scene: Scene, assets: Assets) -> list[Scene]:
    """The scenes that lie in a scene, at any depth."""
    found = scenes_in(scene.scenes, assets)
    return [one for _, one in sorted(found.items()) if isinstance(one, Scene)]


def _opened(job: Job) -> tuple[Scene, Assets]:
    pictures = {name: PictureInfo(id=name, width=w, height=h) for name, w, h, _ in job.pictures}
    scenes = {one.id: one for one in map(read_scene, job.inner)}
    clips = {name: file.info(name) for name, file in job.clips}
    squares = squares_in(MediaFiles(clips=dict(job.clips), sounds=job.sounds))
    return read_scene(job.scene), Assets(pictures, clips, scenes, squares)


def sound_of(job: Job) -> Sound | None:
    """What is heard of a job's frames, block by block; None where nothing is."""
    scene, assets = _opened(job)
    context = Context(scene, assets)
    if not heard(scene, context):
        return None
    sounds, clips = Sounds(Path(job.sounds)), dict(job.clips)
    first, last = (round(at * RATE / scene.fps) for at in (job.first, job.stop))

    def blocks() -> Iterator[np.ndarray]:
        for start in range(first, last, BLOCK):
            yield mixed(
                scene, context, start, min(BLOCK, last - start),
                lambda name, begin, count: sounds.read(clips[name], begin, count),
            )  # fmt: skip

    return Sound(RATE, last - first, blocks())


def frames_of(job: Job, first: int, stop: int) -> Iterator[Painter]:
    """Paint frames one after another; the painter is handed over with each frame on its surface."""
    scene, assets = _opened(job)
    files = MediaFiles({name: path for name, _, _, path in job.pictures}, dict(job.clips))
    painter = Painter(scene.width, scene.height, MediaLoader(files))
    for start in range(first, stop, WINDOW):
        window = np.arange(start, min(start + WINDOW, stop))
        drawing = draw_list(resolve(scene, window, assets))
        for index in range(len(window)):
            painter.paint(drawing, index)
            yield painter


def film_of(scene: Scene, first: int) -> Film:
    """What is written of a scene from a frame on."""
    return Film((scene.width, scene.height), scene.frame_rate, scene.background[7:] != "ff", first)


def render_chunk(job: Job, first: int, stop: int, path: str) -> int:
    """Render and encode one chunk to a file; the number of its frames."""
    form, film = FORMATS[job.kind], film_of(read_scene(job.scene), job.first)
    # A format without alpha gets the picture over black: colours as they are premultiplied.
    opaque = not (film.alpha and form.alpha)
    form.write(Path(path), (painter.pixels(opaque=opaque) for painter in frames_of(job, first, stop)), film)
    return stop - first


def render_file(
    job: Job,
    out: Path,
    work: Path,
    executor: Executor,
    progress: Callable[[int], None],
    stopped: Callable[[], bool] = lambda: False,
) -> None:
    """Render a job to `out` by chunks in `work`; chunks that are there already are not rendered again.

    `progress` is called with the number of finished frames; `stopped` is called between chunks.
    """
    work.mkdir(parents=True, exist_ok=True)
    form = FORMATS[job.kind]
    chunks = [(job.first, job.first + 1)] if form.still else job.chunks
    paths = [work / f"chunk-{start:07d}" for start, _ in chunks]
    done = 0
    waiting: dict[Future[int], None] = {}
    for (start, stop), path in zip(chunks, paths, strict=True):
        if path.exists():
            done += stop - start
        else:
            waiting[executor.submit(render_chunk, job, start, stop, str(path))] = None
    progress(done)
    try:
        for future in as_completed(waiting):
            done += future.result()
            progress(done)
            if stopped():
                raise Cancelled
    finally:
        for future in waiting:
            future.cancel()
    lengths = [stop - start for start, stop in chunks]
    try:
        film = film_of(read_scene(job.scene), job.first)
        if form.sound:
            form.join(paths, lengths, out, film, sound_of(job))
        else:
            form.join(paths, lengths, out, film)
    except Exception:
        for path in paths:
            if not form.is_whole(path):
                path.unlink(missing_ok=True)  # rendered again with the next start
        raise
    shutil.rmtree(work, ignore_errors=True)
