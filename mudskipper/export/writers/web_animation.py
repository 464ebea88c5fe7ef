"""Scenes as boxes that a page moves: by CSS, and by Web Animations as JSON with a module that plays it."""

from __future__ import annotations

import html
import json
import re
import shutil
import zipfile
from abc import abstractmethod
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ...core.resolve.context import Context
from ...core.resolve.sound.mix import heard
from ...media.files import MediaFiles
from ..film import Film
from ..frames import on_colour
from ..web.channels import Channel
from ..web.scene_parts import PLAIN, Part, css_of, parts_of
from ..web.svg_drawing import NO_CONIC, NO_EFFECTS, NO_FILTERS, SvgDrawing, number
from .base import Format, Run, whole
from .pixels import NO_SOUND
from .svg import Told
from .web_page import NO_BLUR

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ..order import Order

STYLE = """.scene { position: relative; overflow: hidden; }
.scene { width: %(width)spx; height: %(height)spx; background: %(ground)s; }
.scene > * { position: absolute; }
.scene > * > svg { display: block; overflow: visible; width: 100%%; height: 100%%; }
"""
PLAY = """/**
 * Play what scene.json tells. `find` gives the element, or the elements, of a name; with `on: "hover"` each begins as
 * the pointer comes, and goes back about the same point as it leaves. All animations are given back.
 */
export function play(told, find, { on } = {}) {
  return told.elements.flatMap(({ name, origin, animations }) =>
    [find(name)].flatMap((found) => (found instanceof Element ? [found] : [...(found ?? [])])).flatMap((element) => {
      element.style.transformOrigin = origin;
      const all = animations.map(({ keyframes, options }) =>
        element.animate(keyframes, { ...options, iterations: on === "hover" ? 1 : (options.iterations ?? Infinity) }));
      if (on !== "hover") return all;
      const go = (rate) => () => all.forEach((one) => { one.updatePlaybackRate(rate); one.play(); });
      all.forEach((one) => one.pause());
      for (const come of ["pointerenter", "focus"]) element.addEventListener(come, go(1));
      for (const leave of ["pointerleave", "blur"]) element.addEventListener(leave, go(-1));
      return all;
    }));
}
"""
ON_PRESS = """const scene = document.querySelector(".scene");
const press = () => scene.classList.toggle("on");
scene.addEventListener("click", press);
scene.addEventListener("keydown", (event) => event.key === "Enter" && !event.repeat && press());
"""
JUMPS = {"visibility", "mix-blend-mode"}


class _Boxes(Format):
    """A ZIP file with a page whose boxes are the layers of a scene."""

    suffix = ".zip"
    media_type = "application/zip"
    by_ending = False
    group = "web"
    alpha = True
    takes = ("behind", "plays", "starts")

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        stop = film.first + film.count
        parts = list(parts_of(scene, assets, film.first, stop, boxed=True))
        told = Told(MediaFiles())
        for part in parts:
            told.group(part.own, part.shown)
        common = [one for one in (NO_EFFECTS, NO_FILTERS, NO_CONIC) if one in told.lost]
        silent = (NO_SOUND,) if heard(scene, Context(scene, assets)) else ()
        blur = (NO_BLUR,) if scene.motion_blur is not None else ()
        standing = [f"'{part.layer.name}'" for part in parts if part.changes]
        still: tuple[str, ...] = ()
        if standing:
            which = ", ".join(standing[:5]) + (f" and {len(standing) - 5} more" if len(standing) > 5 else "")
            still = (f"What changes within itself stands as in the middle of its time: {which}.",)
        return (*common, *still, *self._lost_motion(parts, film), *blur, *silent)

    def _lost_motion(self, parts: list[Part], film: Film) -> tuple[str, ...]:
        return ()

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        film = order.film
        seen = on_colour(scene, film.choices.behind)
        parts = [
            part for part in parts_of(scene, assets, order.first, order.stop, boxed=True)
            if not part.layer.content.filters
        ]  # fmt: skip
        names = _names(parts)
        drawing = SvgDrawing(files)
        boxes = []
        for name, part in zip(names, parts, strict=True):
            left, top, wide, high = (number(one) for one in part.box)
            inner = "".join(drawing.part(one, part.own.matrix, part.shown) for one in part.own.parts)
            inner = drawing.dressed(part.own, inner, part.shown)
            view = f'viewBox="{left} {top} {wide} {high}"'
            label = html.escape(part.layer.name, quote=True)
            boxes.append(f'<div class="{name}" role="img" aria-label="{label}"><svg {view}>{inner}</svg></div>')
        defs = f'<svg width="0" height="0" style="position:absolute"><defs>{"".join(drawing.defs)}</defs></svg>'
        ground = "transparent" if seen.background.endswith("00") else seen.background
        style = STYLE % {"width": scene.width, "height": scene.height, "ground": ground}
        style += "".join(_placed(name, part) for name, part in zip(names, parts, strict=True))
        body = f'<div class="scene" tabindex="0">{"".join(boxes)}</div>'
        made = self.files(scene, parts, names, film, style, f"{defs if drawing.defs else ''}{body}")
        with whole(out) as temporary, zipfile.ZipFile(temporary, "w", zipfile.ZIP_DEFLATED) as zipped:
            for path, text in made.items():
                zipped.writestr(path, text)
        run.progress(film.count)
        shutil.rmtree(run.work, ignore_errors=True)
        return self.lost(scene, assets, film)

    @abstractmethod
    def files(
        self, scene: Scene, parts: list[Part], names: list[str], film: Film, style: str, body: str
    ) -> dict[str, str]:
        """The files of the ZIP by their names."""


class CSS(_Boxes):
    """Keyframes of CSS: individual transforms about the anchor."""

    kind = "css"
    label = "CSS"

    def note(self, transparent: bool) -> str:
        return "A style sheet with keyframes about each anchor, and a page of the layers that it moves."

    def _lost_motion(self, parts: list[Part], film: Film) -> tuple[str, ...]:
        if film.choices.starts != "hover":
            return ()
        many = [
            f"'{part.layer.name}'" for part in parts
            if any(len({key.value for key in one.keys}) > 2 for one in part.motion.channels)
        ]  # fmt: skip
        return (f"On hover these go from their first pose to their last in one go: {', '.join(many)}.",) if many else ()

    def files(
        self, scene: Scene, parts: list[Part], names: list[str], film: Film, style: str, body: str
    ) -> dict[str, str]:
        starts, plays = film.choices.starts, film.choices.plays
        name_of_all = scene.name.replace("*/", "")
        rules = [f"/* {name_of_all}, {film.seconds:g} s: an element moves as the layer whose class it has. */"]
        for name, part in zip(names, parts, strict=True):
            origin = f"transform-origin: {_origin(part)};"
            if starts == "hover":
                rules += _on_hover(name, part, film, origin)
                continue
            frames, told = css_of(part.motion.channels, name, film.seconds, plays)
            if starts == "scroll" and "animation:" in told:
                told += ";animation-duration:auto;animation-timeline:view()"
            rules += [*frames, f".{name} {{ {origin} {told} }}"]
        script = ""
        if starts == "press":
            rules.append(".scene:not(.on) * { animation: none !important; }")
            script = f"<script>\n{ON_PRESS}</script>"
        rules.append("@media (prefers-reduced-motion: reduce) { .scene * { animation: none !important; } }")
        head = '<link rel="stylesheet" href="page.css"><link rel="stylesheet" href="scene.css">'
        return {
            "index.html": _page(scene.name, head, body + script),
            "scene.css": "\n".join(rules) + "\n",
            "page.css": style,
        }


class WebAnimations(_Boxes):
    """Web Animations as JSON, and a module that plays them."""

    kind = "web-animations"
    label = "Web Animations"

    def note(self, transparent: bool) -> str:
        return "Keyframes as JSON, a module of twenty lines that plays them on any elements, and a page that does."

    def files(
        self, scene: Scene, parts: list[Part], names: list[str], film: Film, style: str, body: str
    ) -> dict[str, str]:
        told = {
            "name": scene.name, "width": scene.width, "height": scene.height, "duration": film.seconds * 1000,
            "elements": [
                {
                    "name": name, "origin": _origin(part),
                    "animations": [
                        _web_animation(one, film) for one in part.motion.channels
                        if not one.rests or one.keys[0].value not in PLAIN.get(one.name, ())
                    ],
                }
                for name, part in zip(names, parts, strict=True)
            ],
        }  # fmt: skip
        on = ', { on: "hover" }' if film.choices.starts == "hover" else ""
        go = f"play(told, (name) => document.querySelector(`.${{name}}`){on});"
        if film.choices.starts == "press":
            go = f'document.querySelector(".scene").addEventListener("click", () => {{ {go} }});'
        # Pages that are opened from a file import no modules: this one holds the same lines.
        text = json.dumps(told, ensure_ascii=False).replace("</", "<\\/")
        script = f'<script type="module">\n{PLAY.replace("export ", "")}\nconst told = {text};\n{go}\n</script>'
        page = _page(scene.name, '<link rel="stylesheet" href="page.css">', body + script)
        return {
            "index.html": page,
            "scene.json": json.dumps(told, indent=1, ensure_ascii=False),
            "play.js": PLAY,
            "page.css": style,
        }


def _names(parts: list[Part]) -> list[str]:
    """A class for each part, told from the others."""
    found: list[str] = []
    for part in parts:
        plain = re.sub(r"[^a-z0-9]+", "-", part.layer.name.lower()).strip("-") or "layer"
        plain = plain if plain[0].isalpha() else f"layer-{plain}"
        name, again = plain, 2
        while name in found or name in ("scene", "on"):
            name, again = f"{plain}-{again}", again + 1
        found.append(name)
    return found


def _origin(part: Part) -> str:
    """The anchor as a share of the box where that has an extent, else in pixels."""
    _, _, wide, high = part.box
    pairs = zip(part.motion.origin, (wide, high), strict=True)
    return " ".join(f"{at / side * 100:.9g}%" if side > 0 else f"{at:.9g}px" for at, side in pairs)


def _placed(name: str, part: Part) -> str:
    (x, y), (_, _, wide, high) = part.motion.place, part.box
    blend = f" mix-blend-mode: {part.layer.blend};" if part.layer.blend != "normal" else ""
    return f".{name} {{ left: {x:.9g}px; top: {y:.9g}px; width: {wide:.9g}px; height: {high:.9g}px;{blend} }}\n"


def _on_hover(name: str, part: Part, film: Film, origin: str) -> list[str]:
    """From the first pose to the last as the pointer comes, and back about the same point as it leaves."""
    first, last, moves = [], [], []
    for channel in part.motion.channels:
        if channel.name in JUMPS:
            continue
        keys = channel.keys
        first.append(f"{channel.name}: {keys[0].value};")
        if channel.rests:
            continue
        last.append(f"{channel.name}: {keys[-1].value};")
        going = [at for at in range(len(keys) - 1) if keys[at].value != keys[at + 1].value]
        begin, end = keys[going[0]].offset, keys[going[-1] + 1].offset
        easing = keys[going[0]].easing if len(going) == 1 else "ease"
        moves.append(f"{channel.name} {(end - begin) * film.seconds:.6g}s {easing} {begin * film.seconds:.6g}s")
    still = f".{name} {{ {origin} {' '.join(first)} transition: {', '.join(moves) or 'none'}; }}"
    there = f":is(.scene, a, button):is(:hover, :focus-visible) .{name}, .{name}:is(:hover, :focus-visible)"
    return [still, *([f"{there} {{ {' '.join(last)} }}"] if last else [])]


def _web_animation(channel: Channel, film: Film) -> dict[str, Any]:
    keys = [{"offset": key.offset, channel.name: key.value, "easing": key.easing} for key in channel.keys]
    options = {"duration": film.seconds * 1000, "fill": "both", "iterations": film.choices.plays or None}
    return {"keyframes": keys, "options": options}


def _page(name: str, head: str, body: str) -> str:
    title = html.escape(name)
    return (
        f'<!doctype html>\n<html>\n<head>\n<meta charset="utf-8">\n<title>{title}</title>\n'
        f"<style>body {{ margin: 0; }}</style>\n{head}\n</head>\n<body>\n{body}\n</body>\n</html>\n"
    )
