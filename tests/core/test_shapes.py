"""Outlines of shapes against closed forms: areas, radii, lengths."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.draw.bounds import cubics
from mudskipper.core.draw.operations import Path
from mudskipper.core.draw.outlines import rounded
from mudskipper.core.resolve.drawing import layer_group
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene


def outline(item: dict[str, Any], frame: int = 0) -> Path:
    """What a shape draws at a frame."""
    made = layer(content={"kind": "shape", "items": [{"fill": "#000000", **item}]})
    found = resolve(scene(made), [frame], NO_MEDIA)
    (part,) = layer_group(found.layers["plate"], found.context, (640, 360)).parts
    assert isinstance(part, Path)
    if part.fill is None or part.verbs.count("M") > 2 or not part.verbs.endswith("ML"):
        return part
    # Without the part that keeps it from being convex.
    return replace(part, verbs=part.verbs.removesuffix("ML"), points=part.points[:, :-4])


def polygons(path: Path, steps: int = 64) -> list[np.ndarray]:
    """The subpaths as points close to one another."""
    t = np.linspace(0, 1, steps, endpoint=False)[:, None, None]
    found = []
    for pieces, _ in cubics(path.verbs, path.points.astype(np.float64)):
        a, b, c, d = np.moveaxis(pieces[0], 1, 0)
        curve = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
        found.append(np.concatenate([curve.swapaxes(0, 1).reshape(-1, 2), pieces[0, -1:, 3]]))
    return found


def area(path: Path) -> float:
    """The signed area of all subpaths: holes run the other way."""
    whole = 0.0
    for points in polygons(path):
        x, y = points.T
        whole += float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2
    return whole


ANGLE = st.floats(-720, 720)


@cases(60)
@given(start=ANGLE, sweep=st.floats(-360, 360), hole=st.floats(1, 99), size=st.tuples(*[st.floats(20, 900)] * 2))
def test_pies_rings_and_chords_have_their_area(start: float, sweep: float, hole: float, size: Any) -> None:
    """A sector is as much of the ellipse as its sweep is of the round, less its hole; a chord less its triangle."""
    whole = math.pi * size[0] * size[1] / 4
    part = {"shape": "ellipse", "size": size, "start": start, "sweep": sweep}
    assert area(outline(part)) == pytest.approx(whole * sweep / 360, rel=1e-3, abs=1e-3 * whole)
    ring = area(outline(part | {"hole": hole}))
    assert ring == pytest.approx(whole * sweep / 360 * (1 - (hole / 100) ** 2), rel=1e-3, abs=1e-3 * whole)
    chord = area(outline(part | {"closing": "chord"}))
    turn = math.radians(sweep)
    assert chord == pytest.approx(whole * (turn - math.sin(turn)) / (2 * math.pi), rel=1e-3, abs=1e-3 * whole)


def test_a_part_of_an_ellipse_runs_along_it_from_the_top() -> None:
    """Its ends stand where CSS's conic angles do, and a whole turn closes with no line to the centre."""
    size = {"size": [200, 100], "start": 90, "sweep": 90}
    path = outline({"shape": "ellipse", **size, "closing": "open"})
    ends = path.points.reshape(-1, 2)[[0, -1]]
    assert ends == pytest.approx(np.array([[100, 0], [0, 50]]), abs=1e-4)
    assert path.verbs == "MCCCC"
    pie = outline({"shape": "ellipse", **size})
    assert pie.points.reshape(-1, 2)[0] == pytest.approx([0, 0])
    turning = {"rest": 360, "keys": [{"frame": 0, "value": 10}, {"frame": 10, "value": 360}]}
    for frame, where in ((5, [0, 0]), (10, [100, 0])):
        around = outline({"shape": "ellipse", **size, "sweep": turning}, frame)
        assert around.verbs == "MLCCCCZ"
        assert around.points.reshape(-1, 2)[0] == pytest.approx(where, abs=1e-4)
    reached = np.concatenate(polygons(outline({"shape": "ellipse", "size": [200, 100], "start": 33, "sweep": 251})))
    off = np.abs(np.hypot(reached[:, 0] / 100, reached[:, 1] / 50) - 1)
    assert np.sort(off)[: -2 * 64 - 1].max() < 3e-4  # all but both lines to the centre


@cases(40)
@given(
    rays=st.integers(2, 60), share=st.floats(1, 99), inner=st.floats(0, 95), twist=st.floats(-200, 200),
    size=st.tuples(*[st.floats(50, 900)] * 2),
)  # fmt: skip
def test_a_sunburst_has_its_share_of_the_ellipse(
    rays: int, share: float, inner: float, twist: float, size: Any
) -> None:
    """Twisted or not: what is between two spirals is what is between two radii."""
    item = {"shape": "sunburst", "size": size, "rays": rays, "share": share, "inner": inner, "twist": twist}
    path = outline(item)
    assert path.verbs.count("M") == rays
    wanted = math.pi * size[0] * size[1] / 4 * share / 100 * (1 - (inner / 100) ** 2)
    assert area(path) == pytest.approx(wanted, rel=0.02 if twist else 2e-3)


def test_the_first_ray_stands_about_the_top() -> None:
    path = outline({"shape": "sunburst", "size": [200, 200], "rays": 4, "share": 25, "inner": 50})
    first = path.points.reshape(4, -1, 2)[0]
    half = math.radians(360 / 4 * 0.25 / 2)
    assert first[1] == pytest.approx([-100 * math.sin(half), -100 * math.cos(half)], abs=1e-3)
    assert first[0] == pytest.approx([-50 * math.sin(half), -50 * math.cos(half)], abs=1e-3)


@cases(60)
@given(
    start=st.tuples(*[st.floats(-300, 300)] * 2), end=st.tuples(*[st.floats(-300, 300)] * 2),
    thick=st.floats(1, 40), head=st.floats(0, 90), spread=st.floats(40, 120),
    heads=st.sampled_from(["end", "start", "both"]),
)  # fmt: skip
def test_an_arrow_is_a_shaft_and_heads(
    start: Any, end: Any, thick: float, head: float, spread: float, heads: str
) -> None:
    item = {
        "shape": "arrow",
        "start": start,
        "end": end,
        "thick": thick,
        "head": head,
        "spread": spread,
        "heads": heads,
    }
    path = outline(item)
    long = math.dist(start, end)
    count = 2 if heads == "both" else 1
    long_head = min(head, long / count)
    wanted = thick * (long - count * long_head) + count * long_head * spread / 2
    assert abs(area(path)) == pytest.approx(wanted, rel=1e-3, abs=0.5)
    points = path.points.reshape(-1, 2)
    for tip, has_head in ((start, heads != "end"), (end, heads != "start")):
        nearest = np.hypot(*(points - tip).T).min()
        assert nearest <= (0 if has_head else thick / 2) + 1e-2


def test_a_line_goes_from_end_to_end_of_its_box() -> None:
    item = {"shape": "line", "at": [10, 0], "start": [-100, 40], "end": [60, -20], "stroke": {"colour": "#000000"}}
    path = outline({**item, "fill": None})
    assert (path.verbs, path.fill) == ("MLML", None)
    assert path.points[0].tolist() == pytest.approx([-90, 40, 70, -20, -90, 40, -90, 40], abs=0.01)
    made = resolve(scene(layer(content={"kind": "shape", "items": [item]})), [0], NO_MEDIA).layers["plate"]
    assert made.box[0].tolist() == [-90, -20, 160, 60]


@cases(60)
@given(
    size=st.tuples(*[st.floats(1, 400)] * 2), radii=st.tuples(*[st.floats(0, 300)] * 4)
)  # fmt: skip
def test_corners_apart_are_reduced_as_css_says(size: Any, radii: Any) -> None:
    """f = min(side / sum of its radii), and all become f times as large where f is under 1."""
    width, height = size
    a, b, c, d = radii
    sides = [(width, a + b), (height, b + c), (width, c + d), (height, d + a)]
    factor = min([1.0, *(side / both for side, both in sides if both)])
    names = ("top_left", "top_right", "bottom_right", "bottom_left")
    item = {"shape": "rectangle", "size": size, "corners": 7, "apart": dict(zip(names, radii, strict=True))}
    path = outline(item)
    at = path.points.reshape(-1, 2)
    if not any(radii):
        assert path.verbs == "MLLLZ"
        return
    assert path.verbs == "MLCLCLCLCZ"
    found = [at[0, 0] + width / 2, width / 2 - at[1, 0], height / 2 - at[5, 1], at[9, 0] + width / 2]
    assert found == pytest.approx([factor * r for r in radii], rel=1e-3, abs=1e-2)
    missing = (1 - math.pi / 4) * sum((factor * r) ** 2 for r in radii)
    assert area(path) == pytest.approx(width * height - missing, rel=2e-3, abs=0.05)


def test_equal_corners_apart_are_the_same_outline() -> None:
    box = np.array([[-100.0, -40.0, 200.0, 80.0]])
    for radius in (0.0, 12.5, 40.0):
        names = ("top_left", "top_right", "bottom_right", "bottom_left")
        item = {"shape": "rectangle", "size": [200, 80], "apart": dict.fromkeys(names, radius)}
        if radius:
            whole = np.array([[radius]])
            assert outline(item).points == pytest.approx(rounded(box, whole, whole)[1].astype(np.float32), abs=1e-4)
        else:
            assert area(outline(item)) == 16_000
