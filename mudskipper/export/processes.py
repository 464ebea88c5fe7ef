"""The processes in which exports are painted and encoded."""

from __future__ import annotations

import multiprocessing
import os
import threading
import time
from concurrent.futures import ProcessPoolExecutor


def process_pool(workers: int = 2) -> ProcessPoolExecutor:
    """Fresh processes, since a forked one would inherit the encoder's threads; they end with the one that made them."""
    context = multiprocessing.get_context("spawn")
    return ProcessPoolExecutor(workers, mp_context=context, initializer=end_with, initargs=(os.getpid(),))


def end_with(parent: int) -> None:
    """End this process as soon as its parent has ended, however that ended."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.5)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
