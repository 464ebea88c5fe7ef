"""Mudskipper: anchor points, keyframes and easing for titles, lower thirds and edited clips."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .earlier_names import known

if TYPE_CHECKING:
    from pathlib import Path

    from .opened import Opened
    from .store.store import Store

__version__ = "0.1.0"
known()


def open(place: str | Path | Store) -> Opened:
    """Open a data folder, a store, or the file of a scene with its media beside it: `mudskipper.opened`."""
    from .opened import open_at

    return open_at(place)
