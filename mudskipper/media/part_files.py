"""Files that are written beside the one that they become, so that nothing is ever half-written under its name."""

from __future__ import annotations

import glob
import os
from pathlib import Path


def part_of(path: Path) -> Path:
    """Where what becomes a file is written until all of it is; what processes that were killed left is removed."""
    for other in path.parent.glob(f"{glob.escape(path.name)}.*.part"):
        process = other.name.removeprefix(f"{path.name}.").removesuffix(".part")
        if process.isdigit() and not _runs(int(process)):
            other.unlink(missing_ok=True)
    return path.with_name(f"{path.name}.{os.getpid()}.part")


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except (OSError, OverflowError):
        return True
    return True
