"""Drawing operations as plain objects: by their fields, with the name of each as `op`, arrays as numbers of columns."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass
from typing import Any

import numpy as np

from .operations import Operation


def written(value: Any, put: Callable[[np.ndarray], int]) -> Any:
    """A value of an operation, or one itself, as it goes into a message; `put` takes an array in and gives the number
    of its column."""
    if isinstance(value, np.ndarray):
        return put(value)
    if isinstance(value, tuple):
        return [written(part, put) for part in value]
    if not is_dataclass(value):
        return value
    own = {field.name: written(getattr(value, field.name), put) for field in fields(value)}
    return {"op": type(value).__name__.lower(), **own} if isinstance(value, Operation) else own
