"""Typing: from a key pressed in a formula to the stage that shows what it gives."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from ..store.store import Store
from .sample import READY, bench_scene, served

LISTEN = """() => {
  const canvas = document.querySelector('[data-testid=picture]');
  const seen = {painted: []};
  let since = null;
  document.querySelector('.cm-content').addEventListener('keydown', event => { since = event.timeStamp; }, true);
  canvas.addEventListener('painted', () => {
    if (since === null) return;
    seen.painted.push(performance.now() - since);
    since = null;
  });
  window.mudskipperTyping = seen;
}"""
MORE = "0123456789" * 6


def bench_typing(say: Callable[[str], None], browser: Any) -> None:
    """A formula of one of 50 keyed layers, typed at ten keys a second."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        project = store.make_project("Bench")
        scene = store.make_scene(project, bench_scene(50)).scene
        with served(folder) as url:
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{url}scene/{scene.id}?frame=100")
            page.wait_for_selector(READY)
            row = page.get_by_role("listitem", name="Layer 49", exact=True)
            row.get_by_role("button", name="Layer 49", exact=True).click()
            page.get_by_role("button", name="Rotation: reset and more").click()
            page.get_by_role("menuitem", name="Formula…").click()
            page.get_by_role("textbox", name="Formula of Rotation").click()
            page.keyboard.type("base + 40 * sin(t * 0.", delay=60)
            page.wait_for_timeout(1_000)
            page.evaluate(LISTEN)
            page.keyboard.type(MORE[:40], delay=100)
            page.wait_for_timeout(500)
            taken = np.array(page.evaluate("window.mudskipperTyping.painted"))
            middle, late = np.percentile(taken, [50, 95])
            say(f"a key pressed in a formula, to the painted stage: {middle:.0f} ms, p95 {late:.0f} ms of {len(taken)} "
                "(target 40)")  # fmt: skip
            page.close()
