"""Orders carried out: a scene written as a file of any format."""

from __future__ import annotations

from pathlib import Path

from ..media.files import MediaFiles
from .order import Order
from .writers import FORMATS
from .writers.base import Run


def render_file(order: Order, files: MediaFiles, out: Path, run: Run) -> tuple[str, ...]:
    """Write the file of an order to `out`, from the media whose files here are given by their ids; what could not be
    kept, a sentence each. Parts that are in `run.work` already are used."""
    scene, assets = order.opened(files)
    return FORMATS[order.kind].write(scene, assets, files, order, out, run)
