"""Mattes: a layer shown only where another one is."""

from __future__ import annotations

from typing import Literal

from ..ground.base_model import Flag, Id, Model


class Matte(Model):
    """Where a layer is shown: where another is opaque, or bright on black; inverted, where that is not.

    The other layer counts within its span also while it is hidden from the picture.
    """

    layer: Id
    by: Literal["opacity", "brightness"] = "opacity"
    inverted: Flag = False
