"""The scene as it is written: its layers, its properties, its versions, and items as layers of their own."""

from ...earlier_names import held_by

__getattr__ = held_by(__name__, "read")
