"""What is computed: resolving against Chromium's animation engine, one edit, and how cost grows."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np

from ..core.contents.assets import NO_MEDIA, Assets
from ..core.document.read import scene_of
from ..core.document.scene import Layer, Scene, Span
from ..core.edits import SetProperty, apply_edits
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import ResolveCache, resolve
from .sample import bench_scene, best

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


def css_keyframes(scene: Scene) -> list[list[list[dict[str, Any]]]]:
    """The scene's keys as Web Animations keyframes, five animations a layer."""
    translations: dict[str, tuple[str, Callable[[Any], Any]]] = {
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
            css, write = translations[name]
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
    resolve(scene, frames, NO_MEDIA)
    fresh = [scene_of(scene.model_dump(mode="json", by_alias=True)) for _ in range(5)]
    cold = min(best(partial(resolve, one, frames, NO_MEDIA), 1) for one in fresh)
    mine = best(lambda: resolve(scene, frames, NO_MEDIA))
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
    resolve(scene, frames, NO_MEDIA, cache)
    number = 0

    def step() -> None:
        nonlocal scene, number
        number += 1
        edit = SetProperty(layer="l7", property="rotation", value=float(number), frame=20)
        scene = apply_edits(scene, [edit], NO_MEDIA).scene
        resolve(scene, frames, NO_MEDIA, cache)

    say(f"one edit on 50 layers to new arrays for 300 frames: {best(step, 30):.2f} ms (target 8 ms)")


def bench_growth(say: Callable[[str], None]) -> None:
    """How cost grows with layers, frames and keys: the exponent of a power law through the measurements."""

    def slope(sizes: list[int], times: list[float]) -> float:
        return float(np.polyfit(np.log(sizes), np.log(times), 1)[0])

    counts = [50, 100, 200, 400]
    by_layers = [best(partial(resolve, bench_scene(n), np.arange(300), NO_MEDIA), 3) for n in counts]
    frames = [300, 600, 1200, 2400]
    scene = bench_scene(50, frames=2400)
    by_frames = [best(partial(resolve, scene, np.arange(n), NO_MEDIA), 3) for n in frames]
    keys = [25, 50, 100, 200]
    by_keys = [best(partial(resolve, bench_scene(20, n, 600), np.arange(600), NO_MEDIA), 3) for n in keys]
    say(f"growth of cost, exponent: layers {slope(counts, by_layers):.2f}, frames {slope(frames, by_frames):.2f}, "
        f"keys {slope(keys, by_keys):.2f} (1 is linear, less is better)")  # fmt: skip
    _bench_nesting(say)
    _bench_formulas(say)


FORMULAS = {
    "anchor": "base + wander(1, (0.1, 0.1))", "position": "base + (40 * sin(t * tau), scene[\"Layer 0\"].rotation / 4)",
    "scale": "base * (1 + 0.1 * triangle(t))", "rotation": "base + t * 30", "opacity": "clamp(base, 20, 80)",
}  # fmt: skip


def _bench_formulas(say: Callable[[str], None]) -> None:
    """Layers whose five properties have formulas beside the same with keys alone; and a chain of followers."""
    keyed = bench_scene(50)
    text = keyed.model_dump(mode="json", by_alias=True)
    for layer in text["layers"][1:]:
        for name, formula in FORMULAS.items():
            layer[name]["formula"] = formula
    written = scene_of(text)
    frames = np.arange(300)
    plain, mine = (best(partial(resolve, one, frames, NO_MEDIA), 5) for one in (keyed, written))
    say(f"50 layers × 5 properties with formulas over their keys, 300 frames: {mine:.1f} ms, {mine / plain:.2f} of keys "
        "alone (target 3)")  # fmt: skip
    lengths, taken = [15, 30, 60, 120], []
    for count in lengths:
        text = bench_scene(count).model_dump(mode="json", by_alias=True)
        for number in range(1, count):
            text["layers"][number]["rotation"]["formula"] = f'scene["Layer {number - 1}"].rotation.at(t - 2 / fps)'
        chain = scene_of(text)
        taken.append(best(partial(resolve, chain, frames, NO_MEDIA), 3))
    slope = float(np.polyfit(np.log(lengths), np.log(taken), 1)[0])
    say(f"a chain of 30 followers: {taken[1]:.1f} ms; growth with its length {slope:.2f} (1 is linear)")


def _drawn(scene: Scene, assets: Assets) -> None:
    draw_list(resolve(scene, np.arange(60), assets))


def _bench_nesting(say: Callable[[str], None]) -> None:
    """Draw lists of scenes in scenes, ten keyed layers in each, beside as many layers in one scene."""
    depths = [1, 2, 4, 8]
    taken: list[float] = []
    flat: list[float] = []
    for depth in depths:
        scenes = [bench_scene(10, frames=60).model_copy(update={"id": f"s{n}"}) for n in range(depth)]
        for n in range(1, depth):
            shown = Layer.model_validate({
                "id": "shown", "name": "Shown", "span": Span(start=0, length=60), "position": [960, 540],
                "content": {"kind": "scene", "asset": f"s{n - 1}"},
            })  # fmt: skip
            scenes[n] = scenes[n].with_layers((*scenes[n].layers, shown))
        assets = Assets(scenes={one.id: one for one in scenes})
        one = bench_scene(10 * depth, frames=60)
        taken.append(best(partial(_drawn, scenes[-1], assets), 3))
        flat.append(best(partial(_drawn, one, NO_MEDIA), 3))
    slope = float(np.polyfit(np.log(depths), np.log(taken), 1)[0])
    say(f"scenes in scenes, draw lists of 60 frames at depth {depths[-1]}: {taken[-1]:.1f} ms, "
        f"{taken[-1] / flat[-1]:.2f} of as many layers in one scene; growth with depth {slope:.2f}")  # fmt: skip
