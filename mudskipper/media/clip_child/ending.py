"""A child process that ends as soon as the one that started it has, however that ended."""

from __future__ import annotations

import os
import threading
import time

LOOK = 0.5
"""Seconds."""


def end_with_parent() -> None:
    """Watch, beside the work, whether the parent is still there."""
    parent = os.getppid()

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(LOOK)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
