"""How effects are run on a surface, by the names of their kinds; the page's `paint/effects` does the same."""

from __future__ import annotations

from collections.abc import Callable

import skia

from ...core.ground.kinds import Named
from . import soft_blur

PaintEffect = Callable[[skia.Surface, list[float], float], skia.Surface]
"""Takes a surface, the numbers of the effect, and how many pixels one of the sheet's is; gives what it makes of it."""

PAINTERS: Named[PaintEffect] = Named("mudskipper.painters", {"soft-blur": soft_blur.paint})
