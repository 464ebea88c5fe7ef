"""Decoded frames as sRGB numbers: matrix, range, alpha and the way they are turned."""

from __future__ import annotations

from typing import Any

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace, Interpolation, VideoReformatter

HD = 720
"""The height from which a film that names no matrix is of BT.709, as players take it."""
MATRICES = {
    1: Colorspace.ITU709,
    5: Colorspace.ITU601,
    6: Colorspace.ITU601,
    4: Colorspace.FCC,
    7: Colorspace.SMPTE240M,
}
"""Colour matrices by their numbers in ITU-T H.273."""


def has_alpha(form: str) -> bool:
    """Whether a pixel format has an alpha channel."""
    return any(part.is_alpha for part in av.VideoFormat(form).components)


def matrix_of(frame: av.VideoFrame) -> Colorspace:
    """The matrix of a frame; without a word of it BT.709 for high definition, BT.601 below."""
    return MATRICES.get(int(frame.colorspace), Colorspace.ITU709 if frame.height >= HD else Colorspace.ITU601)


def full_range(frame: av.VideoFrame) -> bool:
    """Whether luma goes from 0 to 255 rather than from 16 to 235."""
    return int(frame.color_range) == int(ColorRange.JPEG) or frame.format.name.startswith("yuvj")


class Developer:
    """Turns decoded frames into arrays of r, g, b (and a), upright, with square pixels, at their size or smaller."""

    def __init__(self, facts: dict[str, Any]) -> None:
        self._facts = facts
        self._reformatter = VideoReformatter()

    def pixels(self, frame: av.VideoFrame, width: int | None = None) -> np.ndarray:
        """(height, width, 3 or 4) bytes, not premultiplied; at a width smaller than its own where one is given."""
        whole, high = self._facts["width"], self._facts["height"]
        scale = min((width or whole) / whole, 1.0)
        size = max(round(whole * scale), 1), max(round(high * scale), 1)
        turn = self._facts["turn"] % 360
        raw = size[::-1] if turn in (90, 270) else size
        alpha = self._facts["alpha"]
        is_rgb = frame.format.name.startswith(("rgb", "bgr", "gbr", "argb", "abgr", "pal", "gray"))
        coloured = {} if is_rgb else {
            "src_colorspace": matrix_of(frame), "dst_colorspace": Colorspace.ITU709,
            "src_color_range": ColorRange.JPEG if full_range(frame) else ColorRange.MPEG,
            "dst_color_range": ColorRange.JPEG,
        }  # fmt: skip
        made = self._reformatter.reformat(
            frame, raw[0], raw[1], "rgba" if alpha else "rgb24",
            interpolation=Interpolation.BILINEAR if width else Interpolation.BICUBIC, **coloured,
        )  # fmt: skip
        array = made.to_ndarray()
        return np.ascontiguousarray(np.rot90(array, turn // 90)) if turn else array
