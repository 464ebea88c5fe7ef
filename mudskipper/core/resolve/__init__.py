"""Scenes at many frames at once: layers, items, bounds, speeds, sound, and what is drawn."""

from ...earlier_names import held_by

__getattr__ = held_by(__name__, "resolved")
