"""Vector files: a frame as SVG, and a scene as SVG that moves by itself."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ...core.resolve.context import Context
from ...core.resolve.drawing import draw_list
from ...core.resolve.resolved import resolve
from ...core.resolve.sound.mix import heard
from ...media.files import MediaFiles
from ..film import Film
from ..frames import on_colour
from ..web.scene_parts import css_of, parts_of
from ..web.svg_drawing import NO_CLIPS, SvgDrawing, document, number
from .base import Format, Run, whole
from .pixels import NO_SOUND
from .web_page import NO_BLUR

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ..order import Order


class SVGStill(Format):
    """A frame as SVG: shapes, letters as outlines or as text, pictures within."""

    kind = "svg"
    label = "SVG still"
    suffix = ".svg"
    media_type = "image/svg+xml"
    alpha = True
    still = True
    group = "still"
    takes = ("behind", "letters")

    def note(self, transparent: bool) -> str:
        return "The frame at the playhead as vectors, letters as outlines or as text, pictures within."

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        return tuple(told for told in untold(scene, assets, film, film.first + 1) if told != NO_CLIPS)

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        seen = on_colour(scene, order.film.choices.behind)
        drawing = SvgDrawing(files, texts=order.film.choices.letters == "text")
        found = draw_list(resolve(seen, [order.first], assets))
        body = "".join(drawing.group(group) for group in found.groups)
        _written(out, document(drawing, body, scene.width, scene.height, scene.name, seen.background), run, 1)
        return self.lost(scene, assets, order.film)


class AnimatedSVG(Format):
    """A scene as SVG that plays by itself: what moves as a whole by CSS, with its easings; what changes in itself from
    frame to frame."""

    kind = "svg-animated"
    label = "Animated SVG"
    suffix = ".svg"
    by_ending = False
    media_type = "image/svg+xml"
    alpha = True
    group = "web"
    takes = ("behind", "plays", "letters")

    def note(self, transparent: bool) -> str:
        return "Vectors that move by themselves in every browser, letters as outlines or as text."

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        silent = (NO_SOUND,) if heard(scene, Context(scene, assets)) else ()
        return (*untold(scene, assets, film, film.first + film.count), *silent)

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        film = order.film
        seen = on_colour(scene, film.choices.behind)
        texts = film.choices.letters == "text"
        drawing = SvgDrawing(files, count=film.count, seconds=film.seconds, plays=film.choices.plays, texts=texts)
        body = []
        for number_of, part in enumerate(parts_of(scene, assets, order.first, order.stop)):
            if not part.plain:
                body.append(drawing.group(part.placed))
                continue
            name = f"l{number_of}"
            rules, style = css_of(part.motion.channels, name, film.seconds, film.choices.plays)
            drawing.css += rules
            x, y = part.motion.origin
            blend = f";mix-blend-mode:{part.layer.blend}" if part.layer.blend != "normal" else ""
            drawing.css.append(f"#{name}{{transform-origin:{number(x)}px {number(y)}px;{style}{blend}}}")
            inner = "".join(drawing.part(one, part.own.matrix, 0) for one in part.own.parts)
            body.append(f'<g id="{name}">{inner}</g>')
        text = document(drawing, "".join(body), scene.width, scene.height, scene.name, seen.background)
        _written(out, text, run, film.count)
        return self.lost(scene, assets, film)


def untold(scene: Scene, assets: Assets, film: Film, stop: int) -> tuple[str, ...]:
    """What of the frames before `stop` SVG cannot say, a sentence each."""
    found = resolve(scene, np.arange(film.first, stop, dtype=np.float64), assets)
    drawing = Told(MediaFiles(), count=max(stop - film.first, 1), texts=film.choices.letters == "text")
    for group in draw_list(found).groups:
        drawing.group(group)
    if drawing.texts is not None:
        drawing.texts.css()
        drawing.lost |= drawing.texts.lost
    return (*drawing.lost, *((NO_BLUR,) if scene.motion_blur is not None else ()))


class Told(SvgDrawing):
    """One that only says what cannot be told."""

    def _picture(self, part: object, index: int) -> str:
        frame = getattr(part, "frame", None)
        if frame is not None and len(frame) > 1:
            self.lost[NO_CLIPS] = None
        return "#"


def _written(out: Path, text: str, run: Run, count: int) -> None:
    with whole(out) as part:
        part.write_text(text, encoding="utf-8")
    run.progress(count)
    shutil.rmtree(run.work, ignore_errors=True)
