"""Time: opening and playing the demo, scrolling the lanes, and memory after long playing."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ..demo.low_tide_week import fill_store
from ..store.store import Store
from .sample import READY, bench_scene, served

PLAY = """(seconds) => new Promise(done => {
  const begin = performance.now();
  const gaps = [];
  let last = begin;
  const tick = now => {
    gaps.push(now - last);
    last = now;
    if (now - begin < seconds * 1000) requestAnimationFrame(tick);
    else done({...window.mudskipperPlay, displayed: gaps.length / seconds, heap: performance.memory?.usedJSHeapSize ?? 0});
  };
  requestAnimationFrame(tick);
})"""

SCROLL = """(seconds) => new Promise(done => {
  const list = document.querySelector('[data-testid=layer-list]');
  const begin = performance.now();
  let frames = 0, most = 0, way = 37;
  const tick = now => {
    frames += 1;
    if (list.scrollTop + list.clientHeight >= list.scrollHeight - 1) way = -37;
    if (list.scrollTop <= 0) way = 37;
    list.scrollTop += way;
    most = Math.max(most, document.querySelectorAll('[data-testid=layer-row]').length);
    if (now - begin < seconds * 1000) requestAnimationFrame(tick); else done([frames / seconds, most]);
  };
  requestAnimationFrame(tick);
})"""

IDLE = """(seconds) => new Promise(done => {
  const begin = performance.now();
  let frames = 0;
  const tick = now => { frames += 1; now - begin < seconds * 1000 ? requestAnimationFrame(tick) : done(frames / seconds); };
  requestAnimationFrame(tick);
})"""


def bench_time(say: Callable[[str], None], browser: Any, minutes: float) -> None:
    """Opening and playing the demo, scrolling 300 opened layers of ten lanes, and memory after long playing."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        fill_store(store)
        (demo, scenes), *_ = store.projects()
        opener = next(scene.id for scene in scenes if scene.name == "Opener")
        many = store.make_scene(demo.id, bench_scene(300)).scene
        with served(folder) as url:
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            opened = []
            for _ in range(3):
                begin = time.perf_counter()
                page.goto(f"{url}scene/{opener}")
                page.wait_for_selector(READY)
                opened.append(time.perf_counter() - begin)
            say(f"demo opened, to first paint: first time {opened[0]:.2f} s, then {min(opened[1:]):.2f} s (target 2 s)")
            page.keyboard.press("Space")
            played = page.evaluate(PLAY, 20)
            say(f"demo played for 20 s: {played['painted']} frames painted of {played['due']} due "
                f"({played['painted'] / max(played['due'], 1):.0%}), {played['displayed']:.0f} display frames a second")  # fmt: skip
            before = played["heap"]
            after = page.evaluate(PLAY, minutes * 60)["heap"]
            say(
                f"script memory after {minutes:g} minutes more of playing: {after / 1e6:.0f} MB, before {before / 1e6:.0f} MB"
            )
            page.goto(f"{url}scene/{many.id}")
            page.wait_for_selector(READY)
            page.get_by_role("button", name="What the lanes show").click()
            page.get_by_role("radio", name="All").click()
            page.get_by_label("Every layer opened").check()
            page.keyboard.press("Escape")
            idle = page.evaluate(IDLE, 3)
            rate, rows = page.evaluate(SCROLL, 5)
            say(f"300 layers × 10 lanes scrolled: {rate:.0f} frames a second, {rate / idle:.2f} of the {idle:.0f} that the "
                f"page reaches at rest; at most {rows} layers' rows in the page")  # fmt: skip
            page.close()
