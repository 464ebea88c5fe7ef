"""What is told of a layer along the ruler, against what is written of its motion."""

from __future__ import annotations

import numpy as np
import pytest

from mudskipper.core.checks import strips as module
from mudskipper.core.checks.strips import strips
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.resolve.context import Context
from tests.conftest import layer, scene


@pytest.mark.parametrize("at_once", [4_096, 7])
def test_where_a_layer_does_not_cover_and_how_fast_it_goes(at_once: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """A ground of 700 × 400 px in 640 × 360 that goes 5 px a frame from frame 10 to 30, there from frame 4 on."""
    monkeypatch.setattr(module, "AT_ONCE", at_once)
    item = {"shape": "rectangle", "size": [700, 400], "fill": "#224466"}
    keys = [{"frame": frame - 4, "value": [x, 180]} for frame, x in ((10, 320), (30, 420), (50, 320))]
    ground = layer("Ground", content={"kind": "shape", "items": [item]}, position={"rest": [0, 0], "keys": keys})
    made = scene(ground | {"span": {"start": 4, "length": 50}})
    found = strips(made.layers[0], Context(made, NO_MEDIA))
    x = np.interp(np.arange(60.0), [10, 30, 50], [320, 420, 320])
    bare = [frame for frame in range(4, 54) if abs(x[frame] - 320) > 30]
    assert found.bare == [(bare[0], bare[-1])]
    wanted = np.abs(np.diff(x, prepend=x[0])) * 30
    wanted[[*range(5), *range(54, 60)]] = 0
    assert found.step == 1
    assert found.speeds == pytest.approx(wanted.tolist(), abs=1e-3)
    monkeypatch.setattr(module, "MOST", 20)
    coarse = strips(made.layers[0], Context(made, NO_MEDIA))
    assert (coarse.step, coarse.speeds) == (3, pytest.approx(wanted.reshape(20, 3).max(axis=1).tolist(), abs=1e-3))
    masked = made.with_layer(scene(ground | {"masks": [{"shape": item}]}).layers[0])
    assert strips(masked.layers[0], Context(masked, NO_MEDIA)).bare is None
