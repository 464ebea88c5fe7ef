"""The processes in which exports are painted and encoded."""

from __future__ import annotations

import os
import sys
import threading
import time
from concurrent.futures import ProcessPoolExecutor
from multiprocessing.context import SpawnContext, SpawnProcess
from types import ModuleType
from typing import Any

_starting = threading.Lock()


class _Process(SpawnProcess):
    """A fresh process that does not run the script that asked for it once more: it needs nothing of that."""

    @staticmethod
    def _Popen(process_obj: Any) -> Any:  # noqa: N802, the name that the standard library calls
        with _starting:
            script, sys.modules["__main__"] = sys.modules["__main__"], ModuleType("__main__")
            try:
                return SpawnProcess._Popen(process_obj)
            finally:
                sys.modules["__main__"] = script


class _Context(SpawnContext):
    Process = _Process


def process_pool(workers: int = 2) -> ProcessPoolExecutor:
    """Fresh processes, since a forked one would inherit the encoder's threads; they end with the one that made them."""
    return ProcessPoolExecutor(workers, mp_context=_Context(), initializer=end_with, initargs=(os.getpid(),))


def end_with(parent: int) -> None:
    """End this process as soon as its parent has ended, however that ended."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.5)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
