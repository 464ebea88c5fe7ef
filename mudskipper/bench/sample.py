"""What the benchmarks share: a scene of any size, the best of some runs, a server and a browser."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from ..core.document.read import scene_of
from ..core.document.scene import SCHEMA, Scene

CHROMIUM: dict[str, Any] = {
    "executable_path": "/usr/bin/chromium-headless-shell",
    "args": [
        "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update",
        "--disable-sync", "--no-first-run",
    ],
}  # fmt: skip
READY = "[data-testid=picture][data-ready=yes]"


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


@contextmanager
def served(folder: str | Path) -> Iterator[str]:
    """The address of a server of its own process on a data folder."""
    server = subprocess.Popen(
        [sys.executable, "-m", "mudskipper.cli", "serve", "--port", "0", "--data", str(folder)],
        stdout=subprocess.PIPE, text=True,
    )  # fmt: skip
    try:
        assert server.stdout
        yield server.stdout.readline().split()[-1]
    finally:
        server.kill()
        server.wait()
