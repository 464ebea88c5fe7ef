"""Typing: from a key pressed in a formula, or in a text on the stage, to the stage that shows what it gives."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from ..core.document.scene import Layer
from ..store.store import Store
from .sample import READY, bench_scene, served

LISTEN = """selector => {
  const canvas = document.querySelector('[data-testid=picture]');
  const seen = {painted: []};
  let since = null;
  document.querySelector(selector).addEventListener('keydown', event => { since = event.timeStamp; }, true);
  canvas.addEventListener('painted', () => {
    if (since === null) return;
    seen.painted.push(performance.now() - since);
    since = null;
  });
  window.mudskipperTyping = seen;
}"""
MORE = "0123456789" * 6


def bench_typing(say: Callable[[str], None], browser: Any) -> None:
    """A formula of one of 50 keyed layers, then a text above them, typed at ten keys a second."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        project = store.make_project("Bench")
        made = bench_scene(50)
        content = {"kind": "text", "text": "Low tide", "size": 90}
        span = {"start": 0, "length": made.length}
        text = Layer.model_validate({"id": "title", "name": "Title", "span": span, "content": content})
        scene = store.make_scene(project, made.with_layers((*made.layers, text))).scene
        with served(folder) as url:
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{url}scene/{scene.id}?frame=100")
            page.wait_for_selector(READY)
            _select(page, "Layer 49")
            page.get_by_role("button", name="Rotation: reset and more").click()
            page.get_by_role("menuitem", name="Formula…").click()
            page.get_by_role("textbox", name="Formula of Rotation").click()
            page.keyboard.type("base + 40 * sin(t * 0.", delay=60)
            page.wait_for_timeout(1_000)
            _say(say, "a key pressed in a formula", _typed(page, ".cm-content"))
            page.keyboard.press("Escape")
            _select(page, "Title")
            page.get_by_test_id("stage").focus()
            page.keyboard.press("Enter")
            page.wait_for_selector("[data-testid=text-in-place]")
            page.keyboard.press("End")
            _say(say, "a letter typed in a text", _typed(page, "[data-testid=text-in-place]"))
            page.close()


def _select(page: Any, name: str) -> None:
    page.get_by_role("listitem", name=name, exact=True).get_by_role("button", name=name, exact=True).click()


def _typed(page: Any, selector: str) -> list[float]:
    """The milliseconds from each of forty keys to the painted stage."""
    page.evaluate(LISTEN, selector)
    page.keyboard.type(MORE[:40], delay=100)
    page.wait_for_timeout(500)
    return list(page.evaluate("window.mudskipperTyping.painted"))


def _say(say: Callable[[str], None], what: str, taken: list[float]) -> None:
    middle, late = np.percentile(np.array(taken), [50, 95])
    say(f"{what}, to the painted stage: {middle:.0f} ms, p95 {late:.0f} ms of {len(taken)} (target 40)")
