"""The sums against Chromium's own animation engine: the same keyframes as Web Animations."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Browser

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.geometry.transform import apply, multiply
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import layer, scene

FRAMES = 60
OFFSET = 0.371  # between frames, so that no sample falls on the edge of a step, where rounding decides
SAMPLE = """([tracks, frames, offset, box, rest]) => {
  const element = document.createElement('div');
  Object.assign(element.style, {position: 'absolute', left: 0, top: 0, width: box[0] + 'px', height: box[1] + 'px',
    ...rest});
  document.body.append(element);
  const runs = tracks.map(keys => {
    const run = element.animate(keys, {duration: frames * 1000, fill: 'both'});
    run.pause();
    return run;
  });
  const out = [];
  for (let frame = 0; frame < frames; frame++) {
    for (const run of runs) run.currentTime = (frame + offset) * 1000;
    const style = getComputedStyle(element);
    const [ox, oy] = style.transformOrigin.split(' ').map(parseFloat);
    const whole = new DOMMatrix().translate(ox, oy)
      .multiply(new DOMMatrix(style.translate === 'none' ? '' : `translate(${style.translate.split(' ').join(',')})`))
      .multiply(new DOMMatrix(style.rotate === 'none' ? '' : `rotate(${style.rotate})`))
      .multiply(new DOMMatrix(style.scale === 'none' ? '' : `scale(${style.scale.split(' ').join(',')})`))
      .translate(-ox, -oy);
    out.push([whole.a, whole.b, whole.c, whole.d, whole.e, whole.f, parseFloat(style.opacity)]);
  }
  element.remove();
  return out;
}"""


def css_ease(ease: Any) -> str:
    """An easing as CSS."""
    if ease == "hold":
        return "steps(1, jump-end)"
    if isinstance(ease, str):
        return ease
    if "bezier" in ease:
        return f"cubic-bezier({','.join(map(str, ease['bezier']))})"
    if "points" in ease:
        return f"linear({', '.join(f'{share} {u * 100}%' for u, share in ease['points'])})"
    return f"steps({ease['steps']}, jump-{ease['jump']})"


def random_ease(dice: random.Random) -> Any:
    """An easing of any kind that CSS knows."""
    return dice.choice(
        [
            "linear",
            "hold",
            "ease",
            "ease-in",
            "ease-out",
            "ease-in-out",
            {
                "bezier": [
                    round(dice.random(), 3),
                    round(dice.uniform(-1, 2), 3),
                    round(dice.random(), 3),
                    round(dice.uniform(-1, 2), 3),
                ]
            },
            {"points": [[0, 0], [0.21, round(dice.uniform(-0.5, 1.5), 3)], [0.57, 0.4], [0.57, 0.8], [1, 1]]},
            {"steps": dice.randint(2, 9), "jump": dice.choice(["start", "end", "none", "both"])},
        ]
    )


def css_keys(keys: list[dict[str, Any]], name: str, told: Any) -> list[dict[str, Any]]:
    """Keys of a track as Web Animations keyframes over the whole duration."""
    first, last = {**keys[0], "frame": 0}, {**keys[-1], "frame": FRAMES}
    frames = [first, *keys, last] if keys[0]["frame"] > 0 else [*keys, last]
    return [
        {"offset": key["frame"] / FRAMES, "easing": css_ease(key["ease"]), name: told(key["value"])} for key in frames
    ]


@pytest.mark.parametrize("seed", range(30))
def test_matrix_and_opacity_are_chromiums(browser: Browser, chromium_page: Any, seed: int) -> None:
    """Anchor, position, scale, rotation and opacity with generated keys, at every frame."""
    dice = random.Random(seed)

    def track(value: Any) -> dict[str, Any]:
        frames = sorted(dice.sample(range(1, FRAMES), dice.randint(2, 5)))
        return {"rest": value(), "keys": [{"frame": f, "value": value(), "ease": random_ease(dice)} for f in frames]}

    def pair(low: float, high: float) -> Any:
        return lambda: [round(dice.uniform(low, high), 2), round(dice.uniform(low, high), 2)]

    tracks = {
        "position": track(pair(0, 900)),
        "scale": track(pair(-150, 250)),
        "rotation": track(lambda: round(dice.uniform(-400, 400), 1)),
        "opacity": track(lambda: round(dice.uniform(0, 100), 1)),
    }
    anchor = [round(dice.uniform(-0.5, 1.5), 3), round(dice.uniform(-0.5, 1.5), 3)]
    made = scene(layer(anchor=anchor, **tracks))
    mine = resolve(made, np.arange(FRAMES) + OFFSET, NO_MEDIA).layers["plate"]

    origin = [anchor[0] * 200, anchor[1] * 100]
    keys = {name: one["keys"] for name, one in tracks.items()}
    sent = [
        css_keys(keys["position"], "translate", lambda v: f"{v[0] - origin[0]}px {v[1] - origin[1]}px"),
        css_keys(keys["scale"], "scale", lambda v: f"{v[0] / 100} {v[1] / 100}"),
        css_keys(keys["rotation"], "rotate", lambda v: f"{v}deg"),
        css_keys(keys["opacity"], "opacity", lambda v: v / 100),
    ]
    rest = {"transformOrigin": f"{origin[0]}px {origin[1]}px"}
    theirs = np.array(chromium_page.evaluate(SAMPLE, [sent, FRAMES, OFFSET, [200, 100], rest]))
    corner = np.array([[1, 0, 0, 1, -100, -50]])
    box_matrix = multiply(mine.matrix, corner)
    for x, y in ((0, 0), (200, 0), (0, 100), (200, 100)):
        point = np.array([[x, y]], dtype=float)
        gap = np.abs(apply(box_matrix, point) - apply(theirs[:, :6], point)).max()
        assert gap < 0.01, f"corner {x}, {y} is {gap} px away"
    assert np.abs(mine.opacity[:, 0] - np.clip(theirs[:, 6], 0, 1)).max() < 0.001


@pytest.fixture(scope="module")
def chromium_page(browser: Browser) -> Any:
    """A blank page to animate in."""
    page = browser.new_page()
    page.set_content("<body style='margin:0'></body>")
    yield page
    page.close()
