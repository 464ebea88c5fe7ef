"""The hand: from a pointer's move to the picture that shows it, beside a bare page that only paints, and one that waits
for an answer that nothing was computed for."""

from __future__ import annotations

import asyncio
import math
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from ..core.contents.assets import NO_MEDIA
from ..core.document.scene import Scene
from ..core.edits import MoveLayers
from ..core.geometry.transform import apply
from ..core.resolve.context import Context, TrackMemo
from ..store.store import Store
from ..web.live import answer
from .sample import CHROMIUM, READY, bench_scene, best, served

LISTEN = """() => {
  const canvas = document.querySelector('[data-testid=picture]');
  const seen = {painted: [], shown: []};
  let since = null;
  document.querySelector('[data-testid=stage]').addEventListener('pointerrawupdate', event => {
    if (event.buttons) since ??= event.timeStamp;
  }, true);
  canvas.addEventListener('painted', () => {
    if (since === null) return;
    const from = since;
    since = null;
    seen.painted.push(performance.now() - from);
    requestAnimationFrame(now => seen.shown.push(now - from));
  });
  window.mudskipperPointer = seen;
}"""


def grip(scene: Scene, layer_id: str, frame: float) -> tuple[float, float]:
    """A point of a layer's box in the scene, halfway to the corner that is farthest from the anchor."""
    one = Context(scene, NO_MEDIA).one(scene.layer(layer_id), frame)
    x, y, width, height = one.box[0]
    corners = [np.array([x + fx * width, y + fy * height]) for fx in (0.25, 0.75) for fy in (0.25, 0.75)]
    far = max(corners, key=lambda at: float(np.hypot(*(at - one.anchor[0]))))
    found = apply(one.matrix[0], far)
    return float(found[0]), float(found[1])


BARE = """([width, height, left, top, port]) => {
  document.body.innerHTML = '<div data-testid=stage style="position: absolute; inset: 0; touch-action: none">'
    + '<canvas data-testid=picture style="position: absolute"></canvas></div>';
  const canvas = document.querySelector('canvas');
  Object.assign(canvas, {width, height});
  Object.assign(canvas.style, {left: `${left}px`, top: `${top}px`});
  const pen = canvas.getContext('2d', {willReadFrequently: true});
  let painted = false, held = null;
  const paint = at => {
    if (painted) {
      held = port ? at : null;
      return;
    }
    painted = true;
    requestAnimationFrame(() => {
      painted = false;
      if (held) paint(held);
    });
    held = null;
    pen.fillStyle = '#fbf3e2';
    pen.fillRect(0, 0, width, height);
    pen.fillStyle = '#0e6b61aa';
    for (let n = 0; n < 50; n++) {
      pen.setTransform(new DOMMatrix().translate(at.x - left + 9 * (n % 7), at.y - top + 5 * n - 120).rotate(37 * n));
      pen.beginPath();
      pen.roundRect(-35, -18, 70, 36, 5);
      pen.fill();
    }
    pen.resetTransform();
    canvas.dispatchEvent(new Event('painted'));
  };
  let move = paint;
  if (port) {
    const socket = new WebSocket(`ws://127.0.0.1:${port}/`);
    let waiting = false, next = null;
    const send = () => {
      if (waiting || !next || socket.readyState !== 1) return;
      socket.send(JSON.stringify(next));
      next = null;
      waiting = true;
    };
    socket.onmessage = ({data}) => {
      waiting = false;
      send();
      paint(JSON.parse(data));
    };
    move = at => {
      next = at;
      send();
    };
  }
  document.querySelector('div').addEventListener('pointerrawupdate', event => {
    if (event.buttons) move({x: event.clientX, y: event.clientY});
  });
}"""
"""A page that does nothing but paint: at once, or, as the studio must, when an answer is here."""


async def drag(page: Any, x0: float, y0: float, seconds: float) -> dict[str, list[float]]:
    """Real pointer events at 120 Hz: from the first event since the last repaint to the painted canvas, and to the
    display frame that shows it, in milliseconds; given back at last."""
    await page.evaluate(LISTEN)
    devices = await page.context.new_cdp_session(page)

    def send(kind: str, x: float, y: float) -> asyncio.Task[Any]:
        event = {"type": kind, "x": x, "y": y, "button": "left", "buttons": 1, "clickCount": 1}
        return asyncio.ensure_future(devices.send("Input.dispatchMouseEvent", event))

    await send("mouseMoved", x0, y0)
    sent = [send("mousePressed", x0, y0)]
    start = time.perf_counter()
    for n in range(int(seconds * 120)):
        sent.append(send("mouseMoved", x0 + 60 * math.sin(n / 20), y0 + 40 * math.cos(n / 17)))
        await asyncio.sleep(max(start + (n + 1) / 120 - time.perf_counter(), 0))
    await asyncio.gather(*sent)
    await page.keyboard.press("Escape")
    await send("mouseReleased", x0, y0)
    seen: dict[str, list[float]] = await page.evaluate("() => window.mudskipperPointer")
    return seen


@contextmanager
def echoing() -> Iterator[int]:
    """The port of a web socket that sends back what it gets."""
    command = [sys.executable, "-m", "mudskipper.bench.echo"]
    server = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    try:
        assert server.stdout
        yield int(server.stdout.readline())
    finally:
        server.kill()
        server.wait()


Gaps = dict[str, list[float]]


async def drive_pointer(
    url: str, at: tuple[float, float], port: int, seconds: float, rounds: int = 2
) -> tuple[dict[str, Gaps], float]:
    """The gaps of `drag` on a layer of the studio, on the bare page, and on the bare page that waits for an echo, by turns
    in one browser; and how long the studio took to its first paint when it was opened again, in seconds."""
    from playwright.async_api import async_playwright

    async with async_playwright() as play:
        browser = await play.chromium.launch(**CHROMIUM)
        # The bare page is the studio's own address, whose policy would not let it ask the echo.
        window = await browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True)
        seen: dict[str, Gaps] = {name: {"painted": [], "shown": []} for name in ("studio", "bare", "echo")}
        opened = math.inf

        async def add(name: str, page: Any) -> None:
            for kind, gaps in (await drag(page, x0, y0, seconds)).items():
                seen[name][kind] += gaps
            await page.close()

        for _ in range(rounds):
            page = await window.new_page()
            begin = time.perf_counter()
            await page.goto(url)
            await page.wait_for_selector(READY)
            opened = min(opened, time.perf_counter() - begin)
            box = await page.get_by_test_id("picture").bounding_box()
            assert box
            x0, y0 = (start + n * box["width"] / 1920 for start, n in zip((box["x"], box["y"]), at, strict=True))
            await add("studio", page)
            for name, asked in (("bare", 0), ("echo", port)):
                page = await window.new_page()
                await page.goto(url.split("scene/")[0] + "api/facts")
                place = [round(part) for part in (box["width"], box["height"], box["x"], box["y"])]
                await page.evaluate(BARE, [*place, asked])
                # Until the socket is open.
                await page.wait_for_timeout(500)
                await add(name, page)
        await browser.close()
    return seen, opened


def at_share(gaps: list[float], share: float) -> float:
    """The gap that a share of the gaps does not exceed."""
    return sorted(gaps)[min(int(len(gaps) * share), len(gaps) - 1)]


def summary(seen: Gaps, beside: Gaps | None = None) -> str:
    """p50, p95 and p99 of both gaps in words, with their p95 as multiples of the reference's."""
    out = []
    for name, words in (("painted", "painted"), ("shown", "shown by the display")):
        one = seen[name]
        text = f"{words} p50 {at_share(one, 0.5):.1f}, p95 {at_share(one, 0.95):.1f}, p99 {at_share(one, 0.99):.1f} ms"
        if beside:
            text += f" (p95 {at_share(one, 0.95) / at_share(beside[name], 0.95):.2f} × the bare page's)"
        out.append(text)
    return "; ".join(out)


def bench_pointer(say: Callable[[str], None]) -> None:
    """Pointer moves at 120 Hz on a scene of 50 layers: from the event to the repainted stage, beside a bare page."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        scene = store.make_scene(store.make_project("Bench"), bench_scene(50)).scene
        edit = MoveLayers.model_validate({"layers": ["l7"], "frame": 20, "by": [3, 4]}).model_dump_json()
        text = f'{{"seq": 1, "first": 0, "stop": 240, "edits": [{edit}]}}'
        memo = TrackMemo()
        share = best(lambda: answer(store, scene.id, text, set(), memo), 30)
        with served(folder) as url, echoing() as port:
            place = f"{url}scene/{scene.id}?frame=20&layer=l7"
            seen, opened = asyncio.run(drive_pointer(place, grip(scene, "l7", 20), port, 5))
    if not all(gaps["shown"] for gaps in seen.values()):
        say("pointer move to repainted stage: nothing was measured")
        return
    say(f"pointer move at 120 Hz for 2 × 5 s, 50 layers, {len(seen['studio']['painted'])} repaints: "
        f"{summary(seen['studio'], seen['bare'])}; targets p95 painted 18 ms, shown 1.2 × the bare page's")  # fmt: skip
    say(f"a bare page of this browser that paints 50 boxes for the same events, no server, "
        f"{len(seen['bare']['painted'])} repaints: {summary(seen['bare'])}")  # fmt: skip
    say(f"the bare page, painting when a server that computes nothing has answered, {len(seen['echo']['painted'])} "
        f"repaints: {summary(seen['echo'], seen['bare'])}")  # fmt: skip
    say(f"the server's share of an answer: {share:.2f} ms (target 4 ms)")
    say(f"scene of 50 keyed layers opened again, to first paint of the stage: {opened:.2f} s (target 2 s)")
