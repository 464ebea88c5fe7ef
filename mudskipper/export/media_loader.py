"""What painters paint of a project's media: decoded pictures, and frames of clips."""

from __future__ import annotations

import io
import threading
from contextlib import suppress
from functools import cache
from pathlib import Path

import numpy as np
import skia
from cachetools import LRUCache
from PIL import Image

from ..core.ground.errors import Refused
from ..media.clips import ClipFrames
from ..media.files import MediaFiles
from ..paint.surfaces import new_surface


class PictureCache:
    """Decoded pictures by their files, as many as fit in a number of bytes; those used last stay."""

    def __init__(self, most: int) -> None:
        self._kept: LRUCache[str, skia.Image] = LRUCache(most, lambda image: image.width() * image.height() * 4)
        self._lock = threading.Lock()

    def get(self, path: str) -> skia.Image:
        """A picture, decoded."""
        with self._lock:
            found = self._kept.get(path)
            if found is None:
                data = skia.Data.MakeFromFileName(path) if Path(path).is_file() else None
                image = None if data is None else skia.Image.MakeFromEncoded(data)
                if image is None:
                    raise Refused(
                        "The file of a picture is missing or damaged.", where="picture", mend="Add the picture again."
                    )
                found = image.makeRasterImage()
                with suppress(ValueError):  # larger than all that is kept
                    self._kept[path] = found
            return found


load_picture = PictureCache(512 * 2**20).get


@cache
def own_frames() -> ClipFrames:
    """The decoders of this process, made when they are first needed."""
    return ClipFrames()


class MediaLoader:
    """Loads media of one project by their ids."""

    def __init__(self, files: MediaFiles, frames: ClipFrames | None = None) -> None:
        self._files = files
        self._frames = frames
        self._last: dict[str, tuple[int, skia.Image]] = {}

    def __call__(self, source: str, frame: int | None) -> skia.Image | None:
        if frame is None:
            return load_picture(self._files.pictures[source])
        if frame < 0:
            return None
        kept = self._last.get(source)
        if kept is None or kept[0] != frame:
            clip = self._files.clips[source]
            facts = clip.known
            if not facts["width"]:
                return None  # a sound has no picture
            frames = self._frames or own_frames()
            kept = self._last[source] = frame, image_of(frames.exact(clip, frame), facts["width"], facts["height"])
        return kept[1]


def clip_frame(files: MediaFiles, source: str, frame: int, quality: int = 90) -> bytes:
    """A frame of a clip as a WebP file."""
    clip = files.clips[source]
    size = clip.known["width"], clip.known["height"]
    image = Image.frombytes("RGBA", size, own_frames().exact(clip, frame))
    out = io.BytesIO()
    opaque = image.getchannel("A").getextrema() == (255, 255)
    (image.convert("RGB") if opaque else image).save(out, "WEBP", quality=quality, method=4)
    return out.getvalue()


def image_of(pixels: bytes, width: int, height: int) -> skia.Image:
    """r, g, b, a bytes, not premultiplied, as an image in the form in which pictures are painted."""
    given = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kUnpremul_AlphaType)
    surface = new_surface(width, height)
    surface.writePixels(skia.Pixmap(given, np.frombuffer(pixels, np.uint8), width * 4), 0, 0)
    return surface.makeImageSnapshot()
