"""Surfaces to paint on, in the byte order of browsers, and copies of them added up."""

from __future__ import annotations

import skia

from ..core.draw.blurs import REACH

SAMPLING = skia.SamplingOptions(skia.FilterMode.kLinear)


def new_surface(width: int, height: int) -> skia.Surface:
    """A transparent surface, 8 bits a channel, premultiplied, in the byte order (BGRA) that browsers paint in.

    In any other order Skia blends edges on another way, and they differ from the stage by 1 of 255.
    """
    info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    return skia.Surface.MakeRaster(info)


def summed(surface: skia.Surface, weights: list[float], along: tuple[int, int]) -> skia.Surface:
    """Copies of a surface moved by whole pixels along an axis, added up by their weights in 255ths."""
    assert len(weights) == REACH + 1
    image, out = surface.makeImageSnapshot(), new_surface(surface.width(), surface.height())
    for away, weight in enumerate(weights):
        ink = skia.Paint(Alpha=int(weight), BlendMode=skia.BlendMode.kPlus)
        for side in (1, -1) if away else (1,):
            if weight > 0:
                out.getCanvas().drawImage(
                    image, side * away * along[0], side * away * along[1], skia.SamplingOptions(), ink
                )
    return out
