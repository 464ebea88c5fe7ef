"""How long outlines are, which part of them is drawn, and their dashes; against the definition, point by point."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
import skia
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.draw.lengths import length, subpaths
from mudskipper.core.draw.operations import Path
from mudskipper.core.draw.outlines import rounded
from mudskipper.core.resolve.drawing import layer_group
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import _built
from tests.conftest import cases, layer, scene


def test_lengths_have_their_closed_forms() -> None:
    """A polygon's sides, a circle, a parabola; and what skia measures of any curve, to its own half a percent."""
    square = np.array([[0.0, 0, 30, 0, 30, 40, 0, 40]])
    assert length("MLLLZ", square)[0, 0] == pytest.approx(140)
    assert length("MLLL", square)[0, 0] == pytest.approx(100)
    box, radius = np.array([[-50.0, -50, 100, 100]]), np.array([[50.0]])
    assert length(*rounded(box, radius, radius))[0, 0] == pytest.approx(100 * math.pi, rel=3e-4)
    parabola = np.array([[0.0, 0, 1, 0, 2, 4]])  # y = x² from 0 to 2
    assert length("MQ", parabola)[0, 0] == pytest.approx(math.sqrt(17) + math.asinh(4) / 4, rel=1e-9)
    dice = np.random.default_rng(4)
    for _ in range(40):
        numbers = dice.uniform(-300, 300, 14)
        measured = skia.PathMeasure(_built("MCC", numbers.tolist()), False).getLength()
        assert length("MCC", numbers[None])[0, 0] == pytest.approx(measured, rel=5e-3)


def test_an_outline_comes_apart_at_its_moves() -> None:
    numbers = np.arange(20.0)[None]
    parts = [(verbs, points[0].tolist()) for verbs, points in subpaths("MLZMCMQ", np.arange(24.0)[None, :18])]
    assert parts == [
        ("MLZ", [0, 1, 2, 3]), ("MC", [4, 5, 6, 7, 8, 9, 10, 11]), ("MQ", [12, 13, 14, 15, 16, 17]),
    ]  # fmt: skip
    assert [len(points[0]) for _, points in subpaths("MLLL", numbers[:, :8])] == [8]


def stroked(stroke: dict[str, Any], **item: Any) -> list[Path]:
    """The strokes of a line of 200 px, or of another shape."""
    shape = item or {"shape": "line", "start": [-100, 0], "end": [100, 0]}
    made = layer(content={"kind": "shape", "items": [shape | {"stroke": {"colour": "#000000"} | stroke}]})
    found = resolve(scene(made), [0], NO_MEDIA)
    return [
        part
        for part in layer_group(found.layers["plate"], found.context, (640, 360)).parts
        if isinstance(part, Path) and part.stroke is not None
    ]


def is_drawn(path: Path, at: float) -> bool:
    """Whether a place on the outline is on a dash, as painters read them (HTML, 4.12.5.1.3)."""
    assert path.stroke_width is not None
    if not path.stroke_width[0, 0]:
        return False
    if path.dash is None or path.dash_offset is None or path.dash[0, 0] < 0:
        return True
    dash = path.dash[0].astype(float)
    place = (at + float(path.dash_offset[0, 0])) % dash.sum()
    ends = np.cumsum(dash)
    return bool(np.searchsorted(ends, place, side="right") % 2 == 0)


PERCENT = st.floats(-150, 250).map(lambda n: round(n, 1))


@cases(300)
@given(
    part=st.none() | st.tuples(PERCENT, PERCENT, PERCENT),
    dashes=st.none() | st.tuples(st.floats(0, 60), st.floats(0, 60), st.floats(-300, 300)),
)
def test_what_is_drawn_is_what_was_asked_for(part: Any, dashes: Any) -> None:
    """At any place a tenth of a pixel away from an end: within the part, counted round, and on a dash."""
    stroke: dict[str, Any] = {}
    if part:
        stroke["part"] = dict(zip(("start", "end", "shift"), part, strict=True))
    if dashes:
        stroke["dashes"] = dict(zip(("dash", "gap", "offset"), dashes, strict=True))
    path, *_ = stroked(stroke)

    def within(place: float, begin: float, long: float, around: float) -> float:
        """How far inside the span from `begin`, of a round of `around`, a place is; below 0 outside."""
        on = (place - begin) % around
        return min(on, long - on) if on <= long else -min(on - long, around - on)

    dash, gap, offset = dashes or (1, 0, 0)
    if gap > 0 and dash + gap < 202 / 380:
        return  # finer dashes are drawn coarser
    solid = gap <= 0
    for place in np.linspace(0.5, 199.5, 67):
        margins = []
        if part:
            low, high = sorted(part[:2])
            if high - low < 100:
                margins.append(within(place, (low + part[2]) * 2, (high - low) * 2, 200))
        if dashes and not solid:
            margins.append(within(place, -offset, dash, dash + gap))
        inside = min(margins, default=1.0)
        if abs(inside) > 0.1:
            assert is_drawn(path, place) == (inside > 0), (place, inside)


def test_each_outline_of_a_ring_has_its_own_part() -> None:
    ring = {"shape": "ellipse", "size": [100, 100], "hole": 50}
    strokes = stroked({"part": {"end": 50}}, **ring)
    assert [path.verbs for path in strokes] == ["MCCCCZ", "MCCCCZ"]
    drawn = [path.dash[0, ::2][:2].sum() for path in strokes if path.dash is not None]
    assert drawn == pytest.approx([50 * math.pi, 25 * math.pi], rel=1e-3)


def test_nothing_and_all_of_it() -> None:
    """From a place to the same one nothing is drawn, with no cap left; all of it has its joins, and no dashes."""
    for end, shift in ((0, 0), (30, 12)):
        (path,) = stroked({"part": {"start": end, "end": end, "shift": shift}, "cap": "round"})
        assert path.stroke_width is not None
        assert path.stroke_width[0, 0] == 0
    square = {"shape": "rectangle", "size": [40, 40]}
    (path,) = stroked({"part": {"start": 0, "end": 100, "shift": 40}}, **square)
    assert path.dash is not None
    assert path.dash[0, 0] < 0
    (dots,) = stroked({"dashes": {"dash": 0, "gap": 20}, "cap": "round"})
    (none,) = stroked({"dashes": {"dash": 0, "gap": 20}})
    assert dots.stroke_width is not None
    assert none.stroke_width is not None
    assert (dots.stroke_width[0, 0], none.stroke_width[0, 0]) == (4, 0)
