"""The scene as it is written: its layers, its properties, its versions, and items as layers of their own."""

from importlib import import_module
from typing import Any

PARTS = ("read",)


def __getattr__(name: str) -> Any:
    """What its parts hold, by the name of the room."""
    for part in PARTS if not name.startswith("_") else ():
        found = getattr(import_module(f".{part}", __name__), name, None)
        if found is not None:
            return found
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
