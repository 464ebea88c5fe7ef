"""Kinds of picture files: one frame as a file, for stills and for sequences."""

from __future__ import annotations

from abc import ABC, abstractmethod
from pathlib import Path
from typing import Any, ClassVar

import numpy as np
import OpenEXR
from PIL import Image
from PIL.TiffImagePlugin import SAVE_INFO

from ...core.tracks.colour import to_linear, to_srgb
from ..film import Film


class PictureFile(ABC):
    """A kind of picture file."""

    label: ClassVar[str]
    suffix: ClassVar[str]
    media_type: ClassVar[str]
    alpha: ClassVar[bool] = True
    takes: tuple[str, ...] = ()
    """The choices that it heeds besides those of every picture."""
    good_for: ClassVar[str]
    """What it is like, in words that follow “a JPEG for each frame”."""

    @abstractmethod
    def save(self, pixels: np.ndarray, film: Film, path: Path) -> None:
        """Write a frame (height, width, 4), r g b a bytes."""

    def read(self, path: Path, film: Film) -> np.ndarray:
        """The picture (height, width, 4) of a file that it wrote, as bytes r g b a, straight."""
        with Image.open(path) as image:
            return np.asarray(image.convert("RGBA"))


class _ByPillow(PictureFile):
    """One that Pillow writes."""

    format: ClassVar[str]

    def save(self, pixels: np.ndarray, film: Film, path: Path) -> None:
        shown = pixels if film.alpha and self.alpha else pixels[..., :3]
        Image.fromarray(np.ascontiguousarray(shown)).save(path, self.format, **self.options(film))

    def options(self, film: Film) -> dict[str, Any]:
        """What the encoder is asked for."""
        return {"quality": round(min(film.choices.quality * 1.125, 100))}


class PNGFile(_ByPillow):
    """PNG: every pixel as on the stage."""

    label, suffix, media_type, format = "PNG", ".png", "image/png", "PNG"
    good_for = "every pixel as on the stage"

    def options(self, film: Film) -> dict[str, Any]:
        return {"compress_level": 3}


class JPEGFile(_ByPillow):
    """JPEG: opaque, with loss, read by all."""

    label, suffix, media_type, format = "JPEG", ".jpg", "image/jpeg", "JPEG"
    alpha = False
    takes = ("quality",)
    good_for = "small, with a little loss, read by everything"

    def options(self, film: Film) -> dict[str, Any]:
        return {**super().options(film), "subsampling": 0 if film.choices.quality >= 70 else 2}


class WebPFile(_ByPillow):
    """WebP: transparent or not, with loss, without where the best quality is chosen."""

    label, suffix, media_type, format = "WebP", ".webp", "image/webp", "WEBP"
    takes = ("quality",)
    good_for = "for the web: smaller than PNG and JPEG, without loss at 100"

    def options(self, film: Film) -> dict[str, Any]:
        return {**super().options(film), "lossless": film.choices.quality == 100, "method": 4}


class AVIFFile(_ByPillow):
    """AVIF: transparent or not, with loss, smallest."""

    label, suffix, media_type, format = "AVIF", ".avif", "image/avif", "AVIF"
    takes = ("quality",)
    good_for = "the smallest of all, for browsers of today"

    def options(self, film: Film) -> dict[str, Any]:
        return {**super().options(film), "subsampling": "4:4:4" if film.choices.quality >= 70 else "4:2:0"}


# Pillow reads TIFF whose alpha is premultiplied, ExtraSamples 1, and would write it were it listed.
SAVE_INFO.setdefault("RGBa", ("RGBa", b"II", 2, 1, (8, 8, 8, 8), 1))


class TIFFFile(_ByPillow):
    """TIFF: 8 bits a channel without loss, its alpha straight or premultiplied (ExtraSamples 2 or 1)."""

    label, suffix, media_type, format = "TIFF", ".tif", "image/tiff", "TIFF"
    takes = ("premultiplied",)
    good_for = "without loss, its alpha straight or premultiplied, for compositing and print"

    def save(self, pixels: np.ndarray, film: Film, path: Path) -> None:
        if not (film.alpha and film.choices.premultiplied):
            return super().save(pixels, film, path)
        high, wide = pixels.shape[:2]
        # "RGBa" is Pillow's name of what is premultiplied.
        image = Image.frombuffer("RGBa", (wide, high), np.ascontiguousarray(pixels).tobytes(), "raw", "RGBa", 0, 1)
        image.save(path, self.format, **self.options(film))

    def options(self, film: Film) -> dict[str, Any]:
        return {"compression": "tiff_lzw"}


class EXRFile(PictureFile):
    """OpenEXR: linear light in half floats, BT.709 primaries."""

    label, suffix, media_type = "EXR", ".exr", "image/x-exr"
    takes = ("premultiplied",)
    good_for = "linear light in half floats, for compositing"

    def save(self, pixels: np.ndarray, film: Film, path: Path) -> None:
        given = pixels[..., :3] / 255.0
        alpha = pixels[..., 3:] / 255.0
        if film.alpha and film.choices.premultiplied:
            # Light is multiplied by alpha as light: what was stored multiplied is taken apart first.
            given = np.divide(given, alpha, out=np.zeros_like(given), where=alpha > 0)
            light = to_linear(np.clip(given, 0.0, 1.0)) * alpha
        else:
            light = to_linear(given)
        shown = np.concatenate([light, alpha], axis=2) if film.alpha else light
        # Rec. ITU-R BT.709, whose primaries and white are those of sRGB.
        header = {
            "compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage,
            "chromaticities": (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290),
        }  # fmt: skip
        channels = {"RGBA" if film.alpha else "RGB": np.ascontiguousarray(shown.astype(np.float16))}
        OpenEXR.File(header, channels).write(str(path))

    def read(self, path: Path, film: Film) -> np.ndarray:
        light = np.asarray(next(iter(OpenEXR.File(str(path)).channels().values())).pixels, dtype=np.float64)
        alpha = light[..., 3:] if light.shape[2] == 4 else np.ones_like(light[..., :1])
        given = light[..., :3]
        if film.alpha and film.choices.premultiplied:
            given = np.divide(given, alpha, out=np.zeros_like(given), where=alpha > 0)
        stored = to_srgb(np.clip(given, 0.0, 1.0))
        return np.rint(np.concatenate([stored, alpha], axis=2) * 255.0).astype(np.uint8)
