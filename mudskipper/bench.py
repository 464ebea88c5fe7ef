"""`mudskipper bench`: the speed targets, each measured beside its reference in the same run."""

from __future__ import annotations

import asyncio
import math
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from .core.drawlist import draw_list
from .core.edits import MoveLayers, SetProperty, apply_edits
from .core.resolve import ResolveCache, resolve, resolve_layers
from .core.scene import SCHEMA, Scene, scene_of
from .core.transform import apply

CHROMIUM = "--no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync"
PROPERTIES = ("anchor", "position", "scale", "rotation", "opacity")

SAMPLE = """([layers, frames]) => {
  const all = layers.map(tracks => {
    const element = document.createElement('div');
    Object.assign(element.style, {position: 'absolute', width: '200px', height: '100px'});
    document.body.append(element);
    return [element, tracks.map(keys => {
      const run = element.animate(keys, {duration: frames * 1000, fill: 'both'});
      run.pause();
      return run;
    })];
  });
  let sum = 0;
  const begin = performance.now();
  for (let frame = 0; frame < frames; frame++) {
    for (const [element, runs] of all) for (const run of runs) run.currentTime = frame * 1000;
    for (const [element] of all) {
      const style = getComputedStyle(element);
      sum += style.transformOrigin.length + style.translate.length + style.scale.length + style.rotate.length
        + style.opacity.length;
    }
  }
  return performance.now() - begin;
}"""


def bench_scene(layers: int, keys: int = 4, frames: int = 300) -> Scene:
    """A scene whose layers have `keys` keys with different curves on each of five properties."""
    dice = np.random.default_rng(7)

    def track(low: float, high: float, pair: bool) -> dict[str, Any]:
        def value() -> Any:
            numbers = [round(float(n), 3) for n in dice.uniform(low, high, 2)]
            return numbers if pair else numbers[0]

        def ease() -> dict[str, Any]:
            x1, x2 = (round(float(n), 3) for n in dice.uniform(0, 1, 2))
            return {"bezier": [x1, 0.1, x2, 0.9]}

        times = np.linspace(0, frames - 1, keys).round().tolist()
        return {"rest": value(), "keys": [{"frame": t, "value": value(), "ease": ease()} for t in times]}

    item = {"shape": "rectangle", "size": [200, 100], "corners": 12, "fill": "#0e6b61cc"}
    return scene_of({
        "schema": SCHEMA, "name": "Bench", "width": 1920, "height": 1080, "length": frames, "background": "#fbf3e2",
        "layers": [
            {"id": f"l{i}", "name": f"Layer {i}", "span": {"start": 0, "length": frames},
             "content": {"kind": "shape", "items": [item]}, "anchor": track(0, 1, True),
             "position": track(100, 980, True), "scale": track(20, 200, True), "rotation": track(-180, 180, False),
             "opacity": track(0, 100, False)}
            for i in range(layers)
        ],
    })  # fmt: skip


def best(run: Callable[[], object], times: int = 7) -> float:
    """The best of some runs, in milliseconds."""
    found = []
    for _ in range(times):
        begin = time.perf_counter()
        run()
        found.append((time.perf_counter() - begin) * 1000)
    return min(found)


def css_keyframes(scene: Scene) -> list[list[list[dict[str, Any]]]]:
    """The scene's keys as Web Animations keyframes, five animations a layer."""
    told = {
        "anchor": ("transformOrigin", lambda v: f"{v[0] * 200}px {v[1] * 100}px"),
        "position": ("translate", lambda v: f"{v[0]}px {v[1]}px"),
        "scale": ("scale", lambda v: f"{v[0] / 100} {v[1] / 100}"),
        "rotation": ("rotate", lambda v: f"{v}deg"),
        "opacity": ("opacity", lambda v: v / 100),
    }
    out = []
    for layer in scene.layers:
        tracks = []
        for name in PROPERTIES:
            keys = getattr(layer, name).keys
            css, write = told[name]
            last = keys[-1].frame
            tracks.append([
                {"offset": k.frame / last, "easing": f"cubic-bezier{k.ease.bezier}", css: write(k.value)} for k in keys
            ])  # fmt: skip
        out.append(tracks)
    return out


def bench_resolve(say: Callable[[str], None], browser: Any) -> None:
    """Resolve against Chromium's animation engine over the same keyframes."""
    scene = bench_scene(100)
    frames = np.arange(300)
    resolve(scene, frames, {})
    fresh = [scene_of(scene.model_dump(mode="json", by_alias=True)) for _ in range(5)]
    cold = min(best(lambda one=one: resolve(one, frames, {}), 1) for one in fresh)
    mine = best(lambda: resolve(scene, frames, {}))
    page = browser.new_page()
    page.set_content("<body></body>")
    keyframes = css_keyframes(scene)
    theirs = min(page.evaluate(SAMPLE, [keyframes, 300]) for _ in range(2))
    page.close()
    say(f"resolve 100 layers × 300 frames × 5 properties × 4 keys: {mine:.1f} ms (first time {cold:.1f} ms), "
        f"Chromium's engine {theirs:.0f} ms: {theirs / mine:.1f} × faster (target 25 ×)")  # fmt: skip


def bench_edit(say: Callable[[str], None]) -> None:
    """One edit on a 50-layer scene to new arrays."""
    scene = bench_scene(50)
    frames = np.arange(300)
    cache = ResolveCache()
    resolve(scene, frames, {}, cache)
    state = {"scene": scene, "n": 0}

    def step() -> None:
        state["n"] += 1
        edit = SetProperty(layer="l7", property="rotation", value=float(state["n"]), frame=20)
        state["scene"] = apply_edits(state["scene"], [edit], {}).scene
        resolve(state["scene"], frames, {}, cache)

    say(f"one edit on 50 layers to new arrays for 300 frames: {best(step, 30):.2f} ms (target 8 ms)")


def bench_growth(say: Callable[[str], None]) -> None:
    """How cost grows with layers, frames and keys: the exponent of a power law through the measurements."""

    def slope(sizes: list[int], times: list[float]) -> float:
        return float(np.polyfit(np.log(sizes), np.log(times), 1)[0])

    counts = [50, 100, 200, 400]
    by_layers = [best(lambda s=bench_scene(n): resolve(s, np.arange(300), {}), 3) for n in counts]
    frames = [300, 600, 1200, 2400]
    scene = bench_scene(50, frames=2400)
    by_frames = [best(lambda n=n: resolve(scene, np.arange(n), {}), 3) for n in frames]
    keys = [25, 50, 100, 200]
    by_keys = [best(lambda s=bench_scene(20, n, 600): resolve(s, np.arange(600), {}), 3) for n in keys]
    say(f"growth of cost, exponent: layers {slope(counts, by_layers):.2f}, frames {slope(frames, by_frames):.2f}, "
        f"keys {slope(keys, by_keys):.2f} (1 is linear, less is better)")  # fmt: skip


def bench_export(say: Callable[[str], None]) -> None:
    """Painting and encoding against skia alone plus the encoder alone; two processes against one."""
    from .core.content import PictureInfo
    from .demo.harbour import harbour
    from .demo.low_tide_week import opener
    from .export.encode import encode_chunk
    from .export.jobs import process_pool
    from .export.render import frames_of, load_picture, make_job, render_chunk, render_file
    from .paint.painter import Painter

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "harbour.png"
        path.write_bytes(harbour())
        scene = opener("harbour")
        info = {"harbour": PictureInfo(id="harbour", width=1920, height=1080)}
        job = make_job(scene, info, {"harbour": str(path)}, "webm", 0, 96)
        count = 24
        pixels = [p.pixels() for p in frames_of(job, 0, count)]
        encoder = best(
            lambda: encode_chunk(Path(folder) / "e", "webm", iter(pixels), (1920, 1080), (30, 1), False), 1
        )  # fmt: skip
        drawing = draw_list(resolve(scene, np.arange(count), info), info)
        painter = Painter(1920, 1080, lambda _: load_picture(str(path)))

        def skia_alone() -> None:
            for index in range(count):
                painter.paint(drawing, index)
                painter.pixels(opaque=True)

        painted = best(skia_alone, 2)
        whole = best(lambda: render_chunk(job, 0, count, str(Path(folder) / "c")), 1)
        say(f"1080p frames painted and encoded (WebM): {whole / count:.1f} ms a frame, skia alone {painted / count:.1f} + "
            f"encoder alone {encoder / count:.1f} ms: {(painted + encoder) / whole:.2f} of what they allow (target 0.9)")  # fmt: skip
        times = []
        for workers in (1, 2):
            with process_pool(workers) as pool:
                list(pool.map(int, range(workers * 2)))
                warm = make_job(scene, info, {"harbour": str(path)}, "png", 0, 1)
                for n in range(workers * 2):
                    pool.submit(render_chunk, warm, 0, 1, str(Path(folder) / f"w{n}")).result()
                begin = time.perf_counter()
                render_file(job, Path(folder) / "o.webm", Path(folder) / f"work{workers}", pool, lambda _: None)
                times.append(time.perf_counter() - begin)
        say(
            f"96 frames by one process {times[0]:.1f} s, by two {times[1]:.1f} s: {times[0] / times[1]:.2f} × (target 1.8 ×)"
        )


LISTEN = """() => {
  const canvas = document.querySelector('[data-testid=picture]');
  const seen = {painted: [], shown: []};
  let since = null;
  document.querySelector('[data-testid=stage]').addEventListener('pointermove', event => {
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
    (one,) = resolve_layers([scene.layer(layer_id)], np.array([frame]), {}, scene.fps)
    x, y, width, height = one.box[0]
    corners = [np.array([x + fx * width, y + fy * height]) for fx in (0.25, 0.75) for fy in (0.25, 0.75)]
    far = max(corners, key=lambda at: float(np.hypot(*(at - one.anchor[0]))))
    found = apply(one.matrix[0], far)
    return float(found[0]), float(found[1])


async def drive_pointer(
    url: str, layer: str, at: tuple[float, float], seconds: float
) -> tuple[dict[str, list[float]], float]:
    """Real pointer events at 120 Hz on a layer: from the first event since the last repaint to the painted canvas, and
    to the display frame that shows it; and how long the page took to its first paint."""
    from playwright.async_api import async_playwright

    async with async_playwright() as play:
        browser = await play.chromium.launch(
            executable_path="/usr/bin/chromium", args=[*CHROMIUM.split(), "--no-first-run"]
        )
        page = await browser.new_page(viewport={"width": 1280, "height": 800})
        begin = time.perf_counter()
        await page.goto(f"{url}?frame=20&layer={layer}")
        await page.wait_for_selector("[data-testid=picture][data-ready=yes]")
        opened = time.perf_counter() - begin
        box = await page.get_by_test_id("picture").bounding_box()
        x0, y0 = (box[side] + n * box["width"] / 1920 for side, n in zip("xy", at, strict=True))
        await page.evaluate(LISTEN)
        devices = await page.context.new_cdp_session(page)

        def send(kind: str, x: float, y: float) -> asyncio.Task[Any]:
            told = {"type": kind, "x": x, "y": y, "button": "left", "buttons": 1, "clickCount": 1}
            return asyncio.ensure_future(devices.send("Input.dispatchMouseEvent", told))

        await send("mouseMoved", x0, y0)
        sent = [send("mousePressed", x0, y0)]
        start = time.perf_counter()
        for n in range(int(seconds * 120)):
            sent.append(send("mouseMoved", x0 + 60 * math.sin(n / 20), y0 + 40 * math.cos(n / 17)))
            await asyncio.sleep(max(start + (n + 1) / 120 - time.perf_counter(), 0))
        sent.append(send("mouseReleased", x0, y0))
        await asyncio.gather(*sent)
        seen = await page.evaluate("() => window.mudskipperPointer")
        await browser.close()
    return seen, opened


def percentiles(gaps: list[float]) -> str:
    """p50, p95 and p99 in words."""
    ordered = sorted(gaps)
    at = [ordered[min(int(len(ordered) * p), len(ordered) - 1)] for p in (0.5, 0.95, 0.99)]
    return f"p50 {at[0]:.1f}, p95 {at[1]:.1f}, p99 {at[2]:.1f} ms"


def bench_pointer(say: Callable[[str], None]) -> None:
    """Pointer moves at 120 Hz on a scene of 50 layers: from the event to the repainted stage."""
    from .core.content import PictureInfo
    from .store.store import Store
    from .web.live import answer

    scene = bench_scene(50)
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        project = store.make_project("Bench")
        scene = store.make_scene(project, scene).scene
        assets: dict[str, PictureInfo] = {}
        assert store.assets(project) == assets
        trial = {"layers": ["l7"], "frame": 20, "by": [3, 4]}
        edit = MoveLayers.model_validate(trial).model_dump_json()
        text = f'{{"seq": 1, "first": 0, "stop": 240, "edits": [{edit}]}}'
        share = best(lambda: answer(store, scene.id, text, set()), 30)
        server = subprocess.Popen(
            [sys.executable, "-m", "mudskipper.cli", "serve", "--port", "0", "--data", folder],
            stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        try:
            assert server.stdout
            url = server.stdout.readline().split()[-1]
            seen, opened = asyncio.run(drive_pointer(f"{url}scene/{scene.id}", "l7", grip(scene, "l7", 20), 5))
        finally:
            server.kill()
    if not seen["shown"]:
        say("pointer move to repainted stage: nothing was measured")
        return
    say(f"pointer move to repainted stage, 50 layers, {len(seen['painted'])} repaints: {percentiles(seen['painted'])}; to the "
        f"display frame that shows it: {percentiles(seen['shown'])} (target p95 18 ms); the server's share {share:.2f} ms "
        "(target 4 ms)")  # fmt: skip
    say(f"warm start to first paint of the stage: {opened:.2f} s (target 2 s)")


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
    from .demo.low_tide_week import fill_store
    from .store.store import Store

    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        fill_store(store)
        (demo, scenes), *_ = store.projects()
        opener = next(scene.id for scene in scenes if scene.name == "Opener")
        many = store.make_scene(demo.id, bench_scene(300)).scene
        server = subprocess.Popen(
            [sys.executable, "-m", "mudskipper.cli", "serve", "--port", "0", "--data", folder],
            stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        try:
            assert server.stdout
            url = server.stdout.readline().split()[-1]
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            opened = []
            for _ in range(3):
                begin = time.perf_counter()
                page.goto(f"{url}scene/{opener}")
                page.wait_for_selector("[data-testid=picture][data-ready=yes]")
                opened.append(time.perf_counter() - begin)
            say(f"demo opened, to first paint: first time {opened[0]:.2f} s, then {min(opened[1:]):.2f} s (target 2 s)")
            page.keyboard.press("Space")
            told = page.evaluate(PLAY, 20)
            say(f"demo played for 20 s: {told['painted']} frames painted of {told['due']} due "
                f"({told['painted'] / max(told['due'], 1):.0%}), {told['displayed']:.0f} display frames a second")  # fmt: skip
            before = told["heap"]
            after = page.evaluate(PLAY, minutes * 60)["heap"]
            say(
                f"script memory after {minutes:g} minutes more of playing: {after / 1e6:.0f} MB, before {before / 1e6:.0f} MB"
            )
            page.goto(f"{url}scene/{many.id}")
            page.wait_for_selector("[data-testid=picture][data-ready=yes]")
            page.get_by_role("button", name="What the lanes show").click()
            page.get_by_role("radio", name="All").click()
            page.get_by_label("Every layer opened").check()
            page.keyboard.press("Escape")
            idle = page.evaluate(IDLE, 3)
            rate, rows = page.evaluate(SCROLL, 5)
            say(f"300 layers × 10 lanes scrolled: {rate:.0f} frames a second, {rate / idle:.2f} of the {idle:.0f} that the "
                f"page reaches at rest; at most {rows} layers' rows in the page")  # fmt: skip
            page.close()
        finally:
            server.kill()


def run(say: Callable[[str], None] = print, minutes: float = 10) -> None:
    """Run all of it, a line a figure; `minutes` is how long the demo is played to see that memory holds."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=[*CHROMIUM.split(), "--no-first-run"])
        bench_resolve(say, browser)
        bench_edit(say)
        bench_growth(say)
        bench_time(say, browser, minutes)
        browser.close()
    bench_pointer(say)
    bench_export(say)
