"""A page that plays a scene exactly: the stage's own painter, what it paints, and the media, in one file."""

from __future__ import annotations

import gzip
import html
import io
import json
import shutil
from base64 import b64encode
from collections.abc import Iterable, Sequence
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

import av
import numpy as np
from PIL import Image

from ...core.draw.operations import DrawList, Group, glyph_runs, sources_in
from ...core.draw.operations import Path as PathPart
from ...core.draw.written import written
from ...core.ground.errors import Refused
from ...core.resolve.context import Context
from ...core.resolve.drawing import draw_list, reach
from ...core.resolve.resolved import Resolved, resolve
from ...core.resolve.sound.mix import heard
from ...core.text.fonts import outline
from ..film import Film
from ..frames import on_colour, sound_of
from ..media_loader import clip_frame
from .base import Cancelled, Format, Run, whole

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ...media.files import MediaFiles
    from ..order import Order

PLAYER = Path(__file__).parents[1] / "player" / "player.js"
"""Built from `frontend/src/player`."""
MOST_NUMBERS = 60_000_000
EDGE = 4
"""Pixels around what is painted that are painted again with it."""
NO_BLUR = "Motion blur is left out: the page paints moments, not open shutters."


class WebPage(Format):
    """A page in one file that plays a scene: at once, by a press, under the pointer, or as far as it is scrolled."""

    kind = "page"
    label = "Page that plays it"
    suffix = ".html"
    media_type = "text/html"
    group = "web"
    alpha = True
    sound = True
    takes = ("scale", "behind", "sound", "plays", "starts")

    def note(self, transparent: bool) -> str:
        return "One file for any browser: each frame as on the stage, with its fonts and media."

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        return (NO_BLUR,) if scene.motion_blur is not None else ()

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        film = order.film
        choices = film.choices
        frames = np.arange(order.first, order.stop, dtype=np.float64)
        resolved = resolve(on_colour(scene, choices.behind), frames, assets)
        drawing = draw_list(resolved)
        media = _Media(run)
        told: dict[str, Any] = {
            "name": scene.name, "size": film.size, "rate": film.rate, "count": film.count, "scale": choices.scale,
            "background": "#" + bytes(drawing.background).hex(), "starts": choices.starts, "plays": choices.plays,
            **media.of(drawing, files), "sound": None,
        }  # fmt: skip
        if choices.sound and heard(scene, Context(scene, assets)):
            sound = sound_of(scene, assets, files, order.first, order.stop)
            told["sound"] = None if sound is None else media.add("audio/webm", _opus(sound.rate, sound.blocks))
        text = page_of(told, packed(told, drawing, reaches(resolved, drawing, choices.scale)), media.parts)
        with whole(out) as part:
            part.write_text(text, encoding="utf-8")
        run.progress(film.count)
        shutil.rmtree(run.work, ignore_errors=True)
        return self.lost(scene, assets, film)


def reaches(resolved: Resolved, drawing: DrawList, scale: float) -> list[np.ndarray | None]:
    """Of each layer that is drawn left, top, right, bottom (n, 4), in whole pixels of the page, beyond which nothing of
    it is painted. None where it is made of what lies below it."""
    found: list[np.ndarray | None] = []
    far = np.array([resolved.scene.width, resolved.scene.height] * 2) * scale + EDGE
    layers = [layer for layer in resolved.layers.values() if layer.visible.any()]
    for layer, group in zip(layers, drawing.groups, strict=True):
        ends = reach(layer, resolved.context)
        if ends is None:
            found.append(None)
            continue
        whole = np.broadcast_to(ends * scale, (len(resolved.frames), 4))
        edge = EDGE + np.ceil(thickest(group) * scale)
        grown = np.concatenate([np.floor(whole[:, :2]) - edge, np.ceil(whole[:, 2:]) + edge], axis=1)
        there = np.broadcast_to(layer.visible, (len(grown),))[:, None]
        found.append(np.where(there, np.clip(grown, -EDGE, far), 0.0))
    return found


def thickest(group: Group) -> float:
    """Half the width of the thickest stroke in a group, in its outer pixels: where a stroke turns back on itself it has
    a round cap beyond what is measured of it."""
    found = 0.0
    for part in group.parts:
        if isinstance(part, Group):
            found = max(found, thickest(part))
        elif isinstance(part, PathPart) and part.stroke_width is not None:
            found = max(found, float(part.stroke_width.max()) / 2)
    return found * float(np.linalg.norm(group.matrix[:, :4].reshape(-1, 2, 2), 2, axis=(1, 2)).max())


def packed(told: dict[str, Any], drawing: DrawList, ends: Sequence[np.ndarray | None]) -> bytes:
    """What is told of a scene with its operations: its JSON after its length (4 bytes), and all numbers; gzipped.

    Numbers are float32 taken as whole ones (int32): of each column the first row, then what is added from row to row,
    column by column; of all of them first the lowest bytes, then the next, which packs to a fifth. Refused where there
    are too many."""
    blocks: list[np.ndarray] = []
    total = 0
    known: dict[tuple[int, bytes], int] = {}

    def lay(numbers: np.ndarray) -> int:
        """Where a block (n, k) begins."""
        nonlocal total
        key = numbers.shape[1], numbers.tobytes()
        if key not in known:
            known[key] = total
            steps = np.diff(numbers.view("<i4"), axis=0, prepend=np.int32(0))
            blocks.append(np.ascontiguousarray(steps.T).reshape(-1))
            total += numbers.size
            if total > MOST_NUMBERS:
                raise Refused(
                    "So much moves in these frames that no page should hold it.", mend="Export fewer frames, or a film."
                )
        return known[key]

    layers = []
    for group, end in zip(drawing.groups, ends, strict=True):
        columns: list[list[int]] = []
        places: dict[tuple[int, int, int], int] = {}

        def put(array: np.ndarray, columns: list[list[int]] = columns, places: Any = places) -> int:
            block = np.ascontiguousarray(array, dtype="<f4")
            key = block.shape[1], block.shape[0], lay(block)
            if key not in places:
                places[key] = len(columns)
                columns.append(list(key))
            return int(places[key])

        told_group = written(group, put)
        layers.append({"group": told_group, "reach": None if end is None else put(end), "columns": columns})
    outlines = {}
    for name in dict.fromkeys(name for group in drawing.groups for run in glyph_runs(group) for name in run.names):
        shape = outline(name)
        numbers = np.array(shape.coordinates, dtype="<f4").reshape(1, -1)
        begin = lay(numbers)
        outlines[name] = [shape.verbs, begin, begin + numbers.size]
    document = json.dumps(told | {"layers": layers, "outlines": outlines}, separators=(",", ":")).encode()
    document += b" " * (-len(document) % 4)
    numbers = np.concatenate([*blocks, np.zeros(0, "<i4")]).view(np.uint8).reshape(-1, 4).T
    whole_of_it = len(document).to_bytes(4, "little") + document + np.ascontiguousarray(numbers).tobytes()
    return gzip.compress(whole_of_it, 9, mtime=0)


class _Media:
    """The pictures, the frames of clips and the sound of a page: parts by their numbers."""

    def __init__(self, run: Run) -> None:
        self.parts: list[tuple[str, bytes]] = []
        self._run = run

    def add(self, kind: str, data: bytes) -> int:
        """Have one part more; its number."""
        self.parts.append((kind, data))
        return len(self.parts) - 1

    def of(self, drawing: DrawList, files: MediaFiles) -> dict[str, Any]:
        """All that a draw list shows: pictures by their ids, clips by their ids and frames."""
        pictures: dict[str, int] = {}
        clips: dict[str, dict[str, int]] = {}
        for image in (one for group in drawing.groups for one in sources_in(group)):
            if image.frame is None:
                if image.source not in pictures:
                    data = Path(files.pictures[image.source]).read_bytes()
                    with Image.open(io.BytesIO(data)) as opened:
                        pictures[image.source] = self.add(Image.MIME[opened.format or "PNG"], data)
                continue
            seen = clips.setdefault(image.source, {})
            for frame in np.unique(image.frame[image.frame >= 0]).astype(int).tolist():
                if self._run.stopped():
                    raise Cancelled
                if str(frame) not in seen:
                    seen[str(frame)] = self.add("image/webp", clip_frame(files, image.source, frame))
        return {"pictures": pictures, "clips": clips}


def _opus(rate: int, blocks: Iterable[np.ndarray]) -> bytes:
    """Sound as WebM with Opus."""
    out, written_so_far = io.BytesIO(), 0
    with av.open(out, "w", format="webm") as file:
        stream = file.add_stream("libopus", rate=rate, layout="stereo")
        stream.bit_rate = 160_000
        for block in blocks:
            samples = np.ascontiguousarray(np.clip(block, -1.0, 1.0).T)
            frame = av.AudioFrame.from_ndarray(samples, format="fltp", layout="stereo")
            frame.sample_rate, frame.pts, frame.time_base = rate, written_so_far, Fraction(1, rate)
            written_so_far += len(block)
            file.mux(stream.encode(frame))
        file.mux(stream.encode(None))
    return out.getvalue()


@cache
def _player() -> str:
    try:
        return PLAYER.read_text(encoding="utf-8").replace("</script", "<\\/script")
    except OSError:
        raise Refused("The player of pages is not built.", mend="Run make build.") from None


def page_of(told: dict[str, Any], scene: bytes, parts: list[tuple[str, bytes]]) -> str:
    """The page, of what is told of the scene, the packed scene and its media."""
    width, height = told["size"]
    name = html.escape(told["name"])
    alone = ' data-alone="yes"' if told["starts"] == "scroll" else ""
    tall = "body{min-height:400vh}canvas{position:sticky;top:0}" if alone else ""
    held = [f'<script type="application/gzip" id="scene">{b64encode(scene).decode()}</script>']
    held += [
        f'<script type="{kind}" id="media-{number}">{b64encode(data).decode()}</script>'
        for number, (kind, data) in enumerate(parts)
    ]
    return "\n".join([
        '<!doctype html>', '<html>', '<head>', '<meta charset="utf-8">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">', f"<title>{name}</title>",
        f"<style>body{{margin:0}}canvas{{display:block;max-width:100%;height:auto}}{tall}</style>",
        "</head>", f"<body{alone}>",
        f'<canvas width="{width}" height="{height}" role="img" aria-label="{name}"></canvas>',
        *held, f"<script>{_player()}</script>", "</body>", "</html>", "",
    ])  # fmt: skip
