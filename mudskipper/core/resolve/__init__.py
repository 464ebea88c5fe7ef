"""Scenes at many frames at once: layers, items, bounds, speeds, sound, and what is drawn."""

from importlib import import_module
from typing import Any

PARTS = ("resolved",)


def __getattr__(name: str) -> Any:
    """What its parts hold, by the name of the room."""
    for part in PARTS if not name.startswith("_") else ():
        found = getattr(import_module(f".{part}", __name__), name, None)
        if found is not None:
            return found
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
