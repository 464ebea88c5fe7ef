"""The page that plays a scene: processor time of the browser beside that of the open-source player of animation JSON."""

from __future__ import annotations

import json
import os
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from ..demo.shore_crab import shore_crab
from ..demo.speakers import speakers
from ..export.choices import Choices
from ..opened import LoneScene
from .sample import CHROMIUM

OTHER = Path(__file__).parents[2] / "frontend/node_modules/lottie-web/build/player/lottie.min.js"
SECONDS = 4.0
WHITE = Choices(behind="#ffffff")
BEGIN = """([told]) => {
  const one = lottie.loadAnimation({container: document.getElementById('here'), renderer: 'svg', autoplay: true,
    loop: true, animationData: told});
  one.setSubframe(false);
}"""


def bench_pages(say: Callable[[str], None]) -> None:
    """Each plays the same scene in a browser of its own; where the other player is not installed, the page alone."""
    for scene in (shore_crab(), speakers()):
        of = LoneScene(scene)
        with tempfile.TemporaryDirectory() as folder:
            page, other = Path(folder) / "page.html", Path(folder) / "scene.json"
            of.render(page, "page", choices=WHITE)
            of.render(other, "animation-json", choices=WHITE)
            mine = _time(scene.width, scene.height, partial(_open, page))
            told = f"page of {scene.name}: {mine:.0f} % of a processor while it plays"
            if OTHER.is_file():
                theirs = _time(scene.width, scene.height, partial(_play, other))
                told += f", {mine / theirs:.2f} of the open-source player of animation JSON ({theirs:.0f} %; target 1)"
            say(told)


def _open(page: Path, window: Any) -> None:
    window.goto(page.as_uri())
    window.wait_for_selector("canvas[data-ready=yes]")


def _play(file: Path, window: Any) -> None:
    size = window.viewport_size
    window.set_content(
        f'<body style="margin:0"><div id="here" style="width:{size["width"]}px;height:{size["height"]}px"></div>'
    )
    window.add_script_tag(path=str(OTHER))
    window.evaluate(BEGIN, [json.loads(file.read_text())])


def _time(width: int, height: int, begin: Callable[[Any], None]) -> float:
    """The processor time, in percent of one processor, of a browser of its own while something plays in it."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as play:
        before = _processes()
        browser = play.chromium.launch(**CHROMIUM)
        window = browser.new_page(viewport={"width": width, "height": height}, reduced_motion="no-preference")
        begin(window)
        time.sleep(1.5)
        mine = _processes() - before
        start, used = time.perf_counter(), _used(mine)
        time.sleep(SECONDS)
        share = (_used(mine) - used) / (time.perf_counter() - start)
        browser.close()
    return 100 * share


def _processes() -> set[int]:
    return {int(name) for name in os.listdir("/proc") if name.isdigit()}


def _used(processes: set[int]) -> float:
    """Seconds of processor time of some processes so far."""
    ticks = 0
    for process in processes:
        try:
            fields = Path(f"/proc/{process}/stat").read_text().rsplit(")", 1)[1].split()
        except OSError:
            continue
        ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")
