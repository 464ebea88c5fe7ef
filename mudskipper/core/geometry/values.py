"""Evaluated tracks by their paths."""

from __future__ import annotations

from collections.abc import Mapping

from .bezier import Floats

Values = Mapping[str, Floats]
"""Evaluated tracks by the path that they have in their model, (1 | n, d) each."""


def within(values: Values, start: str) -> dict[str, Floats]:
    """The values whose paths begin so, by the rest of their paths."""
    return {path.removeprefix(start): array for path, array in values.items() if path.startswith(start)}
