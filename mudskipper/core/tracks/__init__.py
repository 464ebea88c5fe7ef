"""Values over time: tracks of every kind, how they are evaluated and found, motion, a source's own time."""

from ...earlier_names import held_by

__getattr__ = held_by(__name__, "base", "colour", "cadence", "kinds", "evaluate")
