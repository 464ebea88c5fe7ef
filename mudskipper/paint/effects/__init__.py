"""How effects are run on a surface, by the names that their kinds are painted by; the page's `paint/effects` does the
same."""

from __future__ import annotations

from collections.abc import Callable

import skia

from ...core.ground.kinds import Named
from . import (
    averaged,
    field,
    glow,
    grain,
    halftone,
    key_out,
    map,
    mosaic,
    outline,
    shadow,
    soft_blur,
    stripes,
    table,
    vignette,
    warps,
)

PaintEffect = Callable[[skia.Surface, list[float], float], skia.Surface]
"""Takes a surface, the numbers of the effect, and how many pixels one of the sheet's is; gives what it makes of it."""

PAINTERS: Named[PaintEffect] = Named(
    "mudskipper.painters",
    {
        "soft-blur": soft_blur.paint, "table": table.paint, "map": map.paint, "averaged": averaged.paint,
        "shadow": shadow.paint, "glow": glow.paint, "outline": outline.paint, "grain": grain.paint,
        "field": field.paint, "vignette": vignette.paint, "pixels": mosaic.paint, "halftone": halftone.paint,
        "stripes": stripes.paint, "key-out": key_out.paint, "bulge": warps.bulge, "wave": warps.wave,
        "warp": warps.warp,
    },
)  # fmt: skip
