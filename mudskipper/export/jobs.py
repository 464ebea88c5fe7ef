"""Export jobs of the server: queued in the store, rendered on a process pool, resumed after a restart."""

from __future__ import annotations

import logging
import multiprocessing
import re
import threading
from concurrent.futures import Executor, ProcessPoolExecutor, ThreadPoolExecutor
from pathlib import Path

from ..core.errors import Refused
from ..store.store import Store
from ..store.tables import Job as JobRow
from .encode import FORMATS
from .render import Cancelled, Job, make_job, render_file

log = logging.getLogger("mudskipper.export")
OPEN = ("queued", "running")


def process_pool(workers: int = 2) -> ProcessPoolExecutor:
    """Fresh processes, since a forked one would inherit the encoder's threads."""
    return ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("spawn"))


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

    def resume(self) -> None:
        """Queue again what was open when the server last stopped; finished chunks are kept."""
        for job in reversed(self._store.jobs()):
            if job.state in OPEN:
                self._queue(job.id)

    def start(self, scene_id: str, kind: str, first: int, stop: int) -> JobRow:
        """Queue an export of the scene as it stands now."""
        head = self._store.head(scene_id)
        self._job(scene_id, head.revision, kind, first, stop)
        row = self._store.make_job(scene_id=scene_id, revision=head.revision, kind=kind, first=first, stop=stop)
        self._queue(row.id)
        return row

    def cancel(self, job_id: str) -> JobRow:
        """Stop a job; one that has ended stays as it is."""
        row = self._store.job(job_id)
        if row.state in OPEN:
            with self._lock:
                self._stopping.add(job_id)
            if row.state == "queued":
                self._store.update_job(job_id, state="cancelled")
        return self._store.job(job_id)

    def file(self, job_id: str) -> Path:
        """The finished file of a job; Refused in words while there is none."""
        row = self._store.job(job_id)
        path = self._store.folder / "exports" / row.file
        if row.state != "done" or not path.is_file():
            raise Refused(f"This export is {row.state} and has no file.", mend="Start it again.")
        return path

    def close(self) -> None:
        """Let go of the processes; open jobs resume at the next start."""
        self._closed = True
        self._line.shutdown(wait=False, cancel_futures=True)
        if isinstance(self._executor, ProcessPoolExecutor) and self._given is None:
            for process in list((self._executor._processes or {}).values()):
                process.terminate()
            self._executor.shutdown(wait=False, cancel_futures=True)

    def _queue(self, job_id: str) -> None:
        self._line.submit(self._run, job_id)

    def _job(self, scene_id: str, revision: int, kind: str, first: int, stop: int) -> Job:
        store = self._store
        project = store.head(scene_id).project_id
        scene = store.revision(scene_id, revision)
        return make_job(scene, store.assets(project), store.picture_files(project), kind, first, stop)

    def _run(self, job_id: str) -> None:
        store = self._store
        row = store.job(job_id)
        if row.state not in OPEN or self._closed:
            return
        store.update_job(job_id, state="running")
        try:
            job = self._job(row.scene_id, row.revision, row.kind, row.first, row.stop)
            name = store.revision(row.scene_id, row.revision).name
            file = f"{safe_name(name)}-{job_id}{FORMATS[row.kind].suffix}"
            if self._executor is None:
                self._executor = process_pool()
            render_file(
                job,
                store.folder / "exports" / file,
                store.folder / "exports" / job_id,
                self._executor,
                lambda done: store.update_job(job_id, done=done),
                lambda: job_id in self._stopping or self._closed,
            )
            store.update_job(job_id, state="done", file=file)
        except Cancelled:
            if not self._closed:
                store.update_job(job_id, state="cancelled")
        except Refused as refusal:
            store.update_job(job_id, state="failed", failure=str(refusal))
        except Exception as error:
            if self._closed:
                return
            log.exception("export %s failed", job_id)
            if self._given is None:
                self._executor = None
            told = f"The export stopped: {error or type(error).__name__}. Finished parts are kept; start it again."
            store.update_job(job_id, state="failed", failure=told)


def safe_name(name: str) -> str:
    """A scene's name as part of a file name."""
    return re.sub(r"[^\w-]+", "-", name, flags=re.ASCII).strip("-").lower()[:60] or "scene"
