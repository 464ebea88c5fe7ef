"""Cascades: what their sums take, and 2,000 letters of one played on the page."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from ..core.contents.assets import NO_MEDIA
from ..core.document.read import scene_of
from ..core.document.scene import SCHEMA, Scene
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import resolve
from ..store.store import Store
from .playing import PLAY
from .sample import READY, best, served

WORDS = "The low tide comes in twice a day and all of the shore moves with it. "
FRAMES = 300


def _scene(letters: int, seconds: int, total: float) -> Scene:
    words = (WORDS * (letters * 14 // (10 * len(WORDS)) + 1))[: letters * 13 // 10]
    cascade = {
        "each": 20, "spread": "total", "amount": total, "offset": [0, 40], "opacity": 0, "turn_z": 40,
    }  # fmt: skip
    content = {
        "kind": "text", "text": words, "size": 24, "fill": "#fff8ea", "block": {"width": 1800}, "cascades": [cascade],
    }  # fmt: skip
    layer = {"id": "sign", "name": "Sign", "span": {"start": 0, "length": 30 * seconds}, "content": content,
             "position": [960, 540]}  # fmt: skip
    return scene_of({
        "schema": SCHEMA, "name": "Letters", "width": 1920, "height": 1080, "frame_rate": [30, 1],
        "length": 30 * seconds, "background": "#12454fff", "layers": [layer], "beats": [],
    })  # fmt: skip


def bench_letters(say: Callable[[str], None], browser: Any) -> None:
    """The sums of 200 letters over 300 frames, and 2,000 letters that come in one after another for ten seconds."""
    few = resolve(_scene(200, 10, 280), np.arange(float(FRAMES)), NO_MEDIA)
    draw_list(few)
    say(f"a cascade of 200 letters over {FRAMES} frames: {best(lambda: draw_list(few)):.0f} ms (target 30)")
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        scene = store.make_scene(store.make_project("Bench"), _scene(2_000, 10, 290)).scene
        with served(folder) as url:
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{url}scene/{scene.id}")
            page.wait_for_selector(READY)
            page.wait_for_timeout(3_000)
            page.keyboard.press("Space")
            played = page.evaluate(PLAY, 9)
            say(f"2,000 letters of a cascade played for 9 s: {played['painted']} frames painted of {played['due']} due, "
                f"{played['displayed']:.0f} display frames a second (target 60)")  # fmt: skip
            page.close()
