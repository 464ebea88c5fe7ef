"""Export jobs of the server: queued in the store, rendered on a process pool, resumed after a restart."""

from __future__ import annotations

import hashlib
import json
import logging
import re
import shutil
import threading
import zlib
from collections.abc import Sequence
from concurrent.futures import BrokenExecutor, Executor, ProcessPoolExecutor, ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from ..core.document.read import read_scene
from ..core.document.scene import Scene, new_id
from ..core.ground.errors import Refused
from ..core.ground.file_name import file_name
from ..media.files import MediaFiles
from ..store.faults import disk_faults
from ..store.store import Store
from ..store.tables import Job as JobRow
from .choices import PLAIN, Choices
from .order import Order, inner_scenes, make_order
from .processes import process_pool
from .render import render_file
from .sample import Sample, sample_of
from .writers import FORMATS
from .writers.base import Cancelled, Run

log = logging.getLogger("mudskipper.export")
OPEN = ("queued", "running")


KEPT_STOPPED = 20
"""Exports that were stopped last and whose finished parts are kept over a restart."""

KEPT_SAMPLES = 8
"""Films of which parts were tried, and that are kept for their exports."""


@dataclass(frozen=True)
class Title:
    """A title of a table: the id of its row, what its file is called, and the scene with that row in its slots."""

    row: str
    name: str
    scene: Scene


class Exports:
    """Runs one job after another; each is cut into chunks for the executor."""

    def __init__(self, store: Store, executor: Executor | None = None) -> None:
        self._store = store
        self._given = executor
        self._executor = executor
        self._line = ThreadPoolExecutor(1, thread_name_prefix="export")
        self._stopping: set[str] = set()
        self._closed = False
        self._lock = threading.Lock()
        self._unsaved: dict[str, dict[str, Any]] = {}
        self._sampler: ProcessPoolExecutor | None = None
        self._sampling = threading.Lock()
        self._latest: dict[str, JobRow] = {}
        self._sampled: list[Path] = []

    def resume(self) -> None:
        """Queue again what was open when the server last stopped; finished chunks are kept, those of no use go."""
        jobs = self._store.jobs.all()
        stopped = [job for job in jobs if job.state == "cancelled"][:KEPT_STOPPED]
        used = {self._parts(job).name for job in (*stopped, *(one for one in jobs if one.state in (*OPEN, "failed")))}
        for folder in (self._store.folder / "exports").iterdir():
            if folder.is_dir() and folder.name not in used:
                shutil.rmtree(folder, ignore_errors=True)
        for job in reversed(jobs):
            if job.state in OPEN:
                self._queue(job.id)

    def _parts(self, job: JobRow) -> Path:
        """The folder of a job's finished chunks: one for each film, so that it serves every request for that film."""
        beside = bytes(job.inner) + job.choices.encode() + bytes(job.document)
        name = f"frames-{job.scene_id}-{job.revision}-{job.kind}-{job.first}-{job.stop}"
        return self._store.folder / "exports" / f"{name}-{hashlib.sha256(beside).hexdigest()[:12]}"

    def jobs(self, scene_id: str) -> list[JobRow]:
        """The jobs of a scene, newest first, as they are, also where the disk had no room to say so."""
        return [self._as_is(job) for job in self._store.jobs.all(scene_id)]

    def job(self, job_id: str) -> JobRow:
        """A job as it is."""
        return self._as_is(self._store.jobs.one(job_id))

    def _as_is(self, job: JobRow) -> JobRow:
        for name, value in self._unsaved.get(job.id, {}).items():
            setattr(job, name, value)
        if job.id in self._unsaved:
            self._save(job.id)
        return job

    def _save(self, job_id: str, **fields: Any) -> None:
        """Keep how a job stands; where there is no room it is held here, and kept as soon as there is."""
        with self._lock:
            held = self._unsaved.pop(job_id, {}) | fields
        try:
            self._store.jobs.update(job_id, **held)
        except Exception:
            log.exception("how export %s stands could not be written", job_id)
            with self._lock:
                self._unsaved[job_id] = held | self._unsaved.get(job_id, {})

    def again(self, job_id: str) -> JobRow:
        """Start a job again that failed or was stopped; chunks that are finished are used."""
        job = self.job(job_id)
        if job.state not in ("failed", "cancelled"):
            raise Refused(f"This export is {job.state}; only one that failed or was stopped is started again.")
        with self._lock:
            self._stopping.discard(job_id)
        self._store.jobs.update(job_id, state="queued", failure="", done=0)
        self._queue(job_id)
        return self._store.jobs.one(job_id)

    def start(
        self, scene_id: str, kind: str, first: int, stop: int, name: str = "", choices: Choices = PLAIN
    ) -> JobRow:
        """Queue an export of the scene as it stands now; its file is called after the scene unless it has a name."""
        head = self._store.head(scene_id)
        assets = self._store.assets(head.project_id)
        inner = packed_scenes(inner_scenes(head.scene, assets))
        told = choices.model_dump_json(exclude_defaults=True)
        order, _ = self._order(scene_id, head.revision, kind, first, stop, inner, told)
        row = self._store.jobs.make(
            scene_id=scene_id, revision=head.revision, kind=kind, first=first, stop=stop, inner=inner,
            name=name.strip(), choices=told, total=order.film.count,
        )  # fmt: skip
        self._queue(row.id)
        return row

    def start_titles(
        self, scene_id: str, kind: str, first: int, stop: int, choices: Choices, titles: Sequence[Title]
    ) -> list[JobRow]:
        """Queue titles of a table, one job each, in their order; all are of the scene as it stands now."""
        head = self._store.head(scene_id)
        assets = self._store.assets(head.project_id)
        told = choices.model_dump_json(exclude_defaults=True)
        batch = new_id()
        made = []
        for title in titles:
            inner, document = packed_scenes(inner_scenes(title.scene, assets)), packed_scenes([title.scene])
            order, _ = self._order(scene_id, head.revision, kind, first, stop, inner, told, document)
            made.append((title, inner, document, order.film.count))
        # All of them can be made by now, so none is left behind by one that is refused.
        rows = [
            self._store.jobs.make(
                scene_id=scene_id, revision=head.revision, kind=kind, first=first, stop=stop, inner=inner,
                name=title.name.strip(), choices=told, total=count, document=document, batch=batch, row=title.row,
            )
            for title, inner, document, count in made
        ]  # fmt: skip
        for row in rows:
            self._queue(row.id)
        return rows

    def cancel_batch(self, batch: str) -> None:
        """Stop all titles that were started together and have not ended."""
        for job in self._store.jobs.of_batch(batch):
            self.cancel(job.id)

    def sample(self, scene_id: str, kind: str, first: int, stop: int, choices: Choices, near: int) -> Sample:
        """What a film will be like, by some of its parts, which its export finds when it is started; that at a frame of
        the scene is looked at."""
        head = self._store.head(scene_id)
        inner = packed_scenes(inner_scenes(head.scene, self._store.assets(head.project_id)))
        told = choices.model_dump_json(exclude_defaults=True)
        order, files = self._order(scene_id, head.revision, kind, first, stop, inner, told)
        about = JobRow(
            scene_id=scene_id, revision=head.revision, kind=kind, first=first, stop=stop, inner=inner, choices=told
        )
        self._latest[scene_id] = about
        with self._sampling, disk_faults(self._store.folder):
            if self._closed or self._latest[scene_id] is not about:
                raise Refused("Another part of this scene was asked for meanwhile.")
            if self._sampler is None:
                self._sampler = process_pool(1)
            self._forget_samples(self._parts(about))
            step = (near - first) * order.film.rate[0] / order.film.rate[1] / head.scene.fps
            try:
                return sample_of(order, files, self._parts(about), self._sampler, round(step))
            except BrokenExecutor:
                self._sampler = None  # the next one gets a new process
                raise Refused("The process that tries parts ended.", mend="Choose once more.") from None

    def _forget_samples(self, now: Path) -> None:
        """Keep the parts of the films that were tried last, and of those that are made."""
        self._sampled = [now, *(one for one in self._sampled if one != now)]
        used = {self._parts(job) for job in self._store.jobs.all() if job.state != "done"}
        for path in self._sampled[KEPT_SAMPLES:]:
            if path not in used:
                shutil.rmtree(path, ignore_errors=True)
        del self._sampled[KEPT_SAMPLES:]

    def cancel(self, job_id: str) -> JobRow:
        """Stop a job; one that has ended stays as it is."""
        row = self.job(job_id)
        if row.state in OPEN:
            with self._lock:
                self._stopping.add(job_id)
            if row.state == "queued":
                self._save(job_id, state="cancelled")
        return self.job(job_id)

    def file(self, job_id: str) -> Path:
        """The finished file of a job; Refused in words while there is none."""
        row = self.job(job_id)
        path = self._store.folder / "exports" / row.file
        if row.state != "done" or not path.is_file():
            raise Refused(f"This export is {row.state} and has no file.", mend="Start it again.")
        return path

    def close(self) -> None:
        """Let go of the processes; open jobs resume at the next start."""
        self._closed = True
        self._line.shutdown(wait=False, cancel_futures=True)
        if self._sampler is not None:
            _end(self._sampler)
        self._let_go()

    def _let_go(self) -> None:
        """End the processes; the next job makes new ones."""
        if self._given is not None:
            return
        pool, self._executor = self._executor, None
        if isinstance(pool, ProcessPoolExecutor):
            _end(pool)

    def _queue(self, job_id: str) -> None:
        self._line.submit(self._run, job_id)

    def _order(
        self,
        scene_id: str,
        revision: int,
        kind: str,
        first: int,
        stop: int,
        inner: bytes,
        choices: str,
        document: bytes = b"",
    ) -> tuple[Order, MediaFiles]:
        store = self._store
        project = store.head(scene_id).project_id
        scene = unpacked_scenes(document)[0] if document else store.revision(scene_id, revision)
        assets = replace(store.assets(project), scenes={one.id: one for one in unpacked_scenes(inner)})
        files = store.media_files(project)
        return make_order(scene, assets, files, kind, first, stop, Choices.model_validate_json(choices)), files

    def _run(self, job_id: str) -> None:
        store = self._store
        row = store.jobs.one(job_id)
        if row.state not in OPEN or self._closed:
            return
        parts = self._parts(row)
        try:
            store.jobs.update(job_id, state="running")
            order, files = self._order(
                row.scene_id, row.revision, row.kind, row.first, row.stop, row.inner, row.choices, row.document
            )
            name = store.revision(row.scene_id, row.revision).name
            file = f"{safe_name(name)}-{job_id}{FORMATS[row.kind].suffix}"
            if self._executor is None:
                self._executor = process_pool()
            run = Run(
                parts, self._executor, lambda done: store.jobs.update(job_id, done=done),
                lambda: job_id in self._stopping or self._closed,
            )  # fmt: skip
            with disk_faults(store.folder):
                lost = render_file(order, files, store.folder / "exports" / file, run)
            self._save(job_id, state="done", file=file, notes=" ".join(lost))
        except Cancelled:
            if not self._closed:
                self._save(job_id, state="cancelled")
        except Refused as refusal:
            self._failed(job_id, str(refusal))
        except Exception as error:
            if self._closed:
                return
            log.exception("export %s failed", job_id)
            self._failed(job_id, f"The export stopped: {error or type(error).__name__}.")

    def _failed(self, job_id: str, why: str) -> None:
        self._let_go()
        self._save(job_id, state="failed", failure=f"{why} Finished parts are kept; start it again.")


def _end(pool: ProcessPoolExecutor) -> None:
    for process in list((pool._processes or {}).values()):
        process.terminate()
    pool.shutdown(wait=False, cancel_futures=True)


def packed_scenes(scenes: list[Scene]) -> bytes:
    """Documents as compressed JSON; nothing where there are none."""
    return zlib.compress(json.dumps([one.to_json() for one in scenes]).encode()) if scenes else b""


def unpacked_scenes(packed: bytes) -> list[Scene]:
    """The documents that were packed."""
    return [read_scene(text) for text in json.loads(zlib.decompress(packed))] if packed else []


def called(row: JobRow) -> str:
    """What a job's finished file is called where it is taken; nothing while there is none."""
    if not row.file or not row.name:
        return str(row.file)
    suffix = FORMATS[row.kind].suffix
    return f"{file_name(str(row.name).removesuffix(suffix))}{suffix}"


def safe_name(name: str) -> str:
    """A scene's name as part of a file name."""
    return re.sub(r"[^\w-]+", "-", name, flags=re.ASCII).strip("-").lower()[:60] or "scene"
