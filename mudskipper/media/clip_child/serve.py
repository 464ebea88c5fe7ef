"""Serves frames of one film: requests as JSON lines on standard input, answers as blocks of bytes with their length.

`python -m mudskipper.media.clip_child.serve FILM STAMPS FACTS`. A request is {"frames": [n, …], "width": px | null}:
with a width each answer is a small picture (JPEG, or WebP where there is alpha), without one r, g, b, a bytes. An empty
block says that a frame cannot be decoded.
"""

from __future__ import annotations

import io
import json
import resource
import struct
import sys

import numpy as np
from PIL import Image

from .ending import end_with_parent
from .reading import Film

MEMORY = 4 * 2**30


def answer(film: Film, index: int, width: int | None) -> bytes:
    """One frame as it is sent."""
    try:
        pixels = film.develop.pixels(film.frame(index), width)
    except Exception:
        return b""
    if width is None:
        if pixels.shape[2] == 3:
            pixels = np.dstack([pixels, np.full(pixels.shape[:2], 255, np.uint8)])
        return pixels.tobytes()
    out = io.BytesIO()
    if film.facts["alpha"]:
        Image.fromarray(pixels).save(out, "WEBP", quality=80, method=0)
    else:
        Image.fromarray(pixels).save(out, "JPEG", quality=85)
    return out.getvalue()


def main(path: str, stamps: str, facts: str) -> None:
    film = Film(path, json.loads(facts), np.load(stamps))
    for line in sys.stdin:
        request = json.loads(line)
        for index in request["frames"]:
            block = answer(film, index, request["width"])
            sys.stdout.buffer.write(struct.pack("<I", len(block)) + block)
            sys.stdout.buffer.flush()


if __name__ == "__main__":
    end_with_parent()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    main(*sys.argv[1:4])
