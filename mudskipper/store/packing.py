"""Documents as they are stored: JSON text, packed. Of a long one only the layers around one that changed are packed
again."""

from __future__ import annotations

import zlib
from collections.abc import Iterator
from itertools import count

from ..core.document.scene import BETWEEN, Layer, Scene

LONG = 256
"""Layers of a document from which on it is packed in groups, fast rather than small."""
GROUP = 64
"""Layers that are packed together."""
_numbers = count()


def packed(scene: Scene) -> bytes:
    """A document as it is stored: one zlib stream (RFC 1950), or several in a row."""
    if len(scene.layers) < LONG:
        text = scene.to_json().encode()
        return zlib.compress(text, 6 if len(text) < 2**20 else 1)
    begin, end = scene.with_layers(()).to_json().rsplit("]", 1)
    return b"".join([zlib.compress(begin.encode()), *_groups(scene.layers), zlib.compress(f"]{end}".encode())])


def unpacked(body: bytes) -> bytes:
    """The JSON text of a stored document; zlib.error where it is damaged."""
    parts = []
    while body:
        stream = zlib.decompressobj()
        parts.append(stream.decompress(body))
        if not stream.eof:
            raise zlib.error("the stream is cut off")
        body = stream.unused_data
    return b"".join(parts)


def _groups(layers: tuple[Layer, ...]) -> Iterator[bytes]:
    """The texts of layers, packed in groups. A group is known by its first layer as long as it holds the same ones,
    told by numbers: a layer that knew the others would keep them, and they it, when the document goes."""
    for start in range(0, len(layers), GROUP):
        group, last = layers[start : start + GROUP], start + GROUP >= len(layers)
        which = last, [layer.__dict__.setdefault("_number", next(_numbers)) for layer in group]
        known = group[0].__dict__.get("_packed")
        if known is None or known[0] != which:
            text = BETWEEN.join(layer.json_text for layer in group) + ("" if last else BETWEEN)
            known = group[0].__dict__["_packed"] = which, zlib.compress(text.encode(), 1)
        yield known[1]
