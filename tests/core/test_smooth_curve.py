"""Curves that are drawn by hand through points: against their definition, and what they promise."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.document.read import read_scene
from mudskipper.core.effects.tones import Tones
from mudskipper.core.geometry.smooth_curve import through
from mudskipper.core.ground.errors import Refused
from tests.conftest import cases, layer, scene

SHARE = st.integers(0, 1_000).map(lambda n: n / 1_000)


@st.composite
def curves(draw: st.DrawFn) -> list[tuple[float, float]]:
    places = sorted(draw(st.lists(st.integers(0, 100), min_size=2, max_size=16, unique=True)))
    return [(at / 100, draw(SHARE)) for at in places]


@cases(200)
@given(points=curves())
def test_a_curve_goes_through_its_points_and_overshoots_nowhere(points: list[tuple[float, float]]) -> None:
    x, y = np.array(points).T
    assert through(points, x) == pytest.approx(y, abs=1e-12)
    for (x0, y0), (x1, y1) in pairwise(points):
        between = through(points, np.linspace(x0, x1, 41))
        assert between.min() >= min(y0, y1) - 1e-9
        assert between.max() <= max(y0, y1) + 1e-9
        steps = np.diff(between) * (1 if y1 >= y0 else -1)
        assert (steps >= -1e-9).all(), "it turns only at points"
    fine = through(points, np.linspace(-0.2, 1.2, 15))
    assert fine[0] == pytest.approx(y[0])
    assert fine[-1] == pytest.approx(y[-1])


def test_tones_go_along_the_drawn_curve() -> None:
    """The table of a channel is the curve itself, in 255ths; points that do not ascend are refused with their place."""
    points = ((0.0, 0.1), (0.3, 0.2), (0.6, 0.9), (1.0, 0.95))
    plain = Tones(drawn=points)
    values = {name: np.array([[float(n) for n in np.atleast_1d(getattr(plain, name).rest)]])
              for name in ("brightness", "contrast", "saturation", "hue", "exposure", "temperature", "black", "white",
                           "gamma")}  # fmt: skip
    values["contrast"] = np.array([[0.0]])
    table = plain.numbers(values, np.zeros((1, 6)), None)[0, :256]  # type: ignore[arg-type]
    assert table == pytest.approx(255 * through(points, np.arange(256) / 255), abs=1e-9)
    made = scene(layer("Plate", effects=[{"effect": "tones", "drawn": [[0, 0], [0.4, 0.7], [1, 1]]}]))
    assert read_scene(made.to_json(), "made.json") == made
    with pytest.raises(Refused, match=r"effects.*drawn.*stand 0.005 and more apart"):
        scene(layer("Plate", effects=[{"effect": "tones", "drawn": [[0.5, 0], [0.4, 0.7]]}]))
