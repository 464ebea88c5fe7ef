"""Clips: decoding beside the decoder alone, exact frames, playing under keyed layers, clicks on the ruler, mixing."""

from __future__ import annotations

import io
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import av
import numpy as np
from PIL import Image

from ..core.document.scene import Layer, Scene, Span
from ..core.resolve.context import Context
from ..core.resolve.sound.mix import RATE, mixed
from ..demo.harbour_at_dusk import FILM
from ..demo.low_tide_week import fill_store
from ..media.clips import ClipFrames
from ..media.sounds import Sounds
from ..store.store import Store
from .playing import PLAY
from .sample import READY, bench_scene, served

WIDTH = 960
FRAMES = 120
SIZE = (960, 540)

CLICKED = """() => new Promise(done => {
  const picture = document.querySelector('[data-testid=picture]');
  let from = null;
  addEventListener('pointerdown', () => { from = performance.now(); }, {capture: true, once: true});
  const before = picture.dataset.painted;
  const look = () => {
    const there = from !== null && picture.dataset.painted !== before && picture.dataset.ready === 'yes';
    if (there) done(performance.now() - from); else requestAnimationFrame(look);
  };
  look();
})"""


def bench_clips(say: Callable[[str], None], browser: Any) -> None:
    """A 1080p film at 30 frames a second: decoded, sought, played under ten keyed layers, and heard."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        fill_store(store)
        (project, _), *_ = store.projects()
        ((clip_id, file),) = store.clips.files(project.id).items()
        frames = ClipFrames()
        frames.exact(file, 0)
        begin = time.perf_counter()
        sum(len(block) for block in frames.small(file, list(range(FRAMES)), WIDTH))
        ours = FRAMES / (time.perf_counter() - begin)
        alone = _decoder_alone()
        say(f"small frames of a 1080p film: {ours:.0f} a second, {ours / alone:.2f} of the {alone:.0f} of decoder, scaler and "
            "encoder alone")  # fmt: skip
        taken = []
        for at in np.random.default_rng(4).permutation(240)[:24]:
            begin = time.perf_counter()
            frames.exact(file, int(at))
            taken.append((time.perf_counter() - begin) * 1000)
        frames.close()
        say(f"an exact frame anywhere in it: {statistics.median(taken):.0f} ms, {max(taken):.0f} at most (target 300)")
        _mixing(say, store, project.id, clip_id)
        scene = _under_keyed_layers(clip_id)
        store.make_scene(project.id, scene)
        with served(folder) as url:
            _played(say, browser, f"{url}scene/{scene.id}")


def _decoder_alone() -> float:
    """Frames a second of decoding, scaling and encoding as JPEG, in this process and nothing else."""
    begin, count = time.perf_counter(), 0
    with av.open(str(FILM)) as film:
        film.streams.video[0].thread_type = "AUTO"
        for frame in film.decode(video=0):
            picture = Image.fromarray(frame.to_ndarray(format="rgb24", width=SIZE[0], height=SIZE[1]))
            picture.save(io.BytesIO(), "JPEG", quality=85)
            count += 1
            if count == FRAMES:
                break
    return count / (time.perf_counter() - begin)


def _under_keyed_layers(clip_id: str) -> Scene:
    scene = bench_scene(10, frames=240)
    film = Layer.model_validate({
        "id": "film", "name": "Film", "span": Span(start=0, length=240), "position": [960, 540],
        "content": {"kind": "clip", "asset": clip_id},
    })  # fmt: skip
    return scene.with_layers((film, *scene.layers))


def _mixing(say: Callable[[str], None], store: Store, project: str, clip_id: str) -> None:
    scene = _under_keyed_layers(clip_id)
    sounds, files = Sounds(Path(store.folder) / "cache" / "sounds"), store.clips.files(project)
    context = Context(scene, store.assets(project))
    sounds.samples(files[clip_id])
    begin = time.perf_counter()
    for second in range(8):
        mixed(scene, context, second * RATE, RATE, lambda name, at, count: sounds.read(files[name], at, count))
    say(f"sound mixed: {8 / (time.perf_counter() - begin):.0f} seconds of it a second")


def _played(say: Callable[[str], None], browser: Any, url: str) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(url)
    page.wait_for_selector(READY)
    ruler = page.get_by_test_id("ruler").bounding_box()
    taken = []
    # A pointer that jumps there and presses at once, and a hand that comes to rest before it presses.
    for rest in (0, 150):
        clicks = []
        for share in (0.7, 0.2, 0.55, 0.33, 0.62, 0.12, 0.48, 0.75):
            page.wait_for_timeout(600)
            at = ruler["x"] + 20 + (share + rest / 20_000) * (ruler["width"] - 60), ruler["y"] + ruler["height"] / 2
            page.mouse.move(*at)
            page.wait_for_timeout(rest)
            waiting = page.evaluate_handle(
                CLICKED.replace("() => new Promise", "() => ({promise: new Promise", 1) + "})"
            )
            page.mouse.click(*at)
            clicks.append(page.evaluate("handle => handle.promise", waiting))
        taken.append(f"{statistics.median(clicks):.0f} ms, {max(clicks):.0f} at most")
    say(f"a click on the ruler, to the exact frame: {taken[1]} (target 300); by a pointer that jumps there: {taken[0]}")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    played = page.evaluate(PLAY, 16)
    share = played["painted"] / max(played["due"], 1)
    say(f"a 1080p film under ten keyed layers played for 16 s: {played['painted']} frames painted of {played['due']} due "
        f"({share:.0%}, target 95 %)")  # fmt: skip
    page.close()
