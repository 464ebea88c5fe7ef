"""Parts of a layer by paths that stay when others come and go: items, masks and effects stand in them by their ids."""

from __future__ import annotations

from typing import Any

from ..ground.base_model import Model
from .scene import Layer

BY_ID = "@"


def steady_path(layer: Layer, path: str) -> str:
    """A path by places (`content.items.0.fill`) as one by ids (`content.items.@2.fill`)."""
    value: Any = layer
    steps = []
    for name in path.split("."):
        if isinstance(value, tuple):
            value = _nth(value, name)
            own = getattr(value, "id", "")
            steps.append(f"{BY_ID}{own}" if own else name)
        else:
            value = getattr(value, name, None)
            steps.append(name)
    return ".".join(steps)


def path_now(layer: Layer, steady: str) -> str | None:
    """A path by ids as one by the places at which these stand now; None where a part on it is gone."""
    value: Any = layer
    steps = []
    for name in steady.split("."):
        if isinstance(value, tuple):
            if name.startswith(BY_ID):
                own = name[1:]
                name = next((str(n) for n, one in enumerate(value) if getattr(one, "id", "") == own), "")
            value = _nth(value, name)
        else:
            known = isinstance(value, Model) and name in type(value).model_fields
            value = getattr(value, name) if known else None
        if value is None:
            return None
        steps.append(name)
    return ".".join(steps)


def part_at(layer: Layer, path: str) -> Any:
    """The part at a path by places; None where there is none."""
    value: Any = layer
    for name in path.split("."):
        value = _nth(value, name) if isinstance(value, tuple) else getattr(value, name, None)
    return value


def _nth(parts: tuple[Any, ...], name: str) -> Any:
    return parts[int(name)] if name.isdigit() and int(name) < len(parts) else None
