"""Effects at 1080p: a frame at rest on the page and of an export, beside one without any; ten of them played."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ..core.contents.assets import NO_MEDIA
from ..core.document.read import scene_of
from ..core.document.scene import SCHEMA, Scene
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import resolve
from ..paint.painter import Painter
from ..store.store import Store
from .playing import PLAY
from .sample import READY, best, served

STEP = """() => new Promise(done => {
  const canvas = document.querySelector('[data-testid=picture]');
  const was = canvas.dataset.painted, begin = performance.now();
  window.dispatchEvent(new KeyboardEvent('keydown', {key: '.', bubbles: true}));
  const look = () => {
    if (canvas.dataset.painted === was) return setTimeout(look, 1);
    canvas.getContext('2d').getImageData(0, 0, 1, 1);
    done(performance.now() - begin);
  };
  look();
})"""
KINDS: dict[str, tuple[dict[str, Any], int]] = {
    "a soft blur of 20 px": ({"effect": "soft-blur", "amount": [20, 20]}, 120),
    "a turn blur of 20°": ({"effect": "turn-blur"}, 400),
}


def _scene(*effects: dict[str, Any]) -> Scene:
    items = [
        {"shape": "rectangle", "size": [1920, 1080], "fill": "#ffb27aff"},
        {"shape": "star", "size": [700, 700], "points": 7, "fill": "#fff8eaff"},
    ]
    turning = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 60, "value": 9}]}
    layer = {
        "id": "ground", "name": "Ground", "span": {"start": 0, "length": 60}, "rotation": turning,
        "content": {"kind": "shape", "items": items}, "position": [960, 540], "effects": list(effects),
    }  # fmt: skip
    return scene_of({
        "schema": SCHEMA, "name": "Looks", "width": 1920, "height": 1080, "length": 60, "background": "#12454fff",
        "layers": [layer],
    })  # fmt: skip


TEN: tuple[dict[str, Any], ...] = (
    {"effect": "soft-blur", "amount": [20, 20]}, {"effect": "turn-blur"}, {"effect": "zoom-blur"},
    {"effect": "two-tone"}, {"effect": "tones"}, {"effect": "grain"}, {"effect": "noise-field"},
    {"effect": "halftone"}, {"effect": "corner-pin", "top_left": [5, 5]}, {"effect": "outline"},
)  # fmt: skip


def _ten() -> Scene:
    """Ten stars that fall, each with an effect of its own."""

    def star(number: int) -> dict[str, Any]:
        ways = [[150 + 170 * number, y] for y in (200, 800)]
        keys = [{"frame": frame, "value": at} for frame, at in zip((0, 59), ways, strict=True)]
        items = [{"shape": "star", "size": [300, 300], "points": 6, "fill": "#ffb27aff"}]
        return {
            "id": f"star{number}", "name": f"Star {number}", "span": {"start": 0, "length": 60},
            "content": {"kind": "shape", "items": items}, "position": {"rest": ways[0], "keys": keys},
            "effects": [TEN[number]],
        }  # fmt: skip

    return scene_of({
        "schema": SCHEMA, "name": "Ten looks", "width": 1920, "height": 1080, "length": 60, "background": "#12454fff",
        "layers": [star(number) for number in range(len(TEN))],
    })  # fmt: skip


def bench_effects(say: Callable[[str], None], browser: Any) -> None:
    """What effects add to a frame, on the page at rest and in an export."""
    plain = draw_list(resolve(_scene(), [7.0], NO_MEDIA))
    bare = best(lambda: Painter(1920, 1080, lambda *_: None).paint(plain, 0))
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        project = store.make_project("Bench")
        scenes = {name: store.make_scene(project, _scene(one)).scene.id for name, (one, _) in KINDS.items()}
        nothing = store.make_scene(project, _scene()).scene.id
        ten = store.make_scene(project, _ten()).scene.id
        with served(folder) as url:
            page = browser.new_page(viewport={"width": 1280, "height": 800})

            def stepped(scene: str) -> float:
                page.goto(f"{url}scene/{scene}")
                page.wait_for_selector(READY)
                page.wait_for_timeout(500)
                return float(min(page.evaluate(STEP) for _ in range(6)))

            without = stepped(nothing)
            for name, (one, target) in KINDS.items():
                drawing = draw_list(resolve(_scene(one), [7.0], NO_MEDIA))

                def paint(drawing: Any = drawing) -> None:
                    Painter(1920, 1080, lambda *_: None).paint(drawing, 0)

                there = stepped(scenes[name]) - without
                say(f"{name} at 1080p: {there:.0f} ms more on the page at rest (target {target}), "
                    f"{best(paint, 3) - bare:.0f} ms more in an export")  # fmt: skip
            page.goto(f"{url}scene/{ten}")
            page.wait_for_selector(READY)
            page.wait_for_timeout(500)
            page.keyboard.press("Space")
            played = page.evaluate(PLAY, 5)
            share = page.get_by_test_id("picture").get_attribute("data-share")
            say(f"ten layers with an effect each: {played['painted']} of {played['due']} frames played, at the end "
                f"{played['rate']:.1f} a second (target 30), the picture at {float(share or 1):.0%}")  # fmt: skip
            page.close()
