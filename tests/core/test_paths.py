"""Paths: their outlines, points added and moved with nothing else changed, any shape as a path."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.bounds import cubics
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.bezier import Floats
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.shapes import Contour, PathShape
from mudskipper.core.shapes.path_points import nearest, runs, smooth
from mudskipper.paint.painter import Painter
from tests.conftest import SEARCHING, cases, layer, scene
from tests.core.edits_at_random import EDIT

FRAMES = np.arange(0.0, 60.0)
SWING = {"rest": 0, "keys": [{"frame": 4, "value": -20, "ease": {"overshoot": 30}}, {"frame": 40, "value": 70}]}
FIN = [[0, 0, 0, 20, 0, -60], [90, -70, -40, 0, 40, 0], [160, 10, 0, 0, 0, 0], [60, 50, 30, 9, -30, -9]]
OTHER = [[10, 5, 0, 0, 0, 0], [70, -90, -40, 8, 20, 0], [150, 20, 0, -9, 0, 9], [80, 60, 0, 0, 0, 0]]
LOOKS = {"fill": "#0e6b61", "stroke": {"colour": "#1b2628", "width": 6}}
STOPS = [{"at": 10, "colour": "#0e6b61"}, {"at": 50, "colour": "#f2b544"}, {"at": 90, "colour": "#d9482f"}]
AIMED = {"start": {"rest": [0, 0], "keys": [{"frame": 0, "value": [0, 10]}, {"frame": 50, "value": [60, 40]}]}}
GRADIENTS = {
    "fill": {"gradient": "radial", "stops": STOPS, "radius": [40, 70]},
    "stroke": {"width": 12, "colour": {"gradient": "linear", "stops": STOPS, "end": [100, 80], **AIMED}},
}


def path(*, closed: bool = True, keyed: bool = False, **fields: Any) -> dict[str, Any]:
    """A path of four points."""
    keys = [{"frame": 5, "value": FIN, "ease": "ease-in-out"}, {"frame": 45, "value": OTHER}] if keyed else []
    points = {"rest": FIN, "keys": keys}
    return {"shape": "path", "contours": [{"count": 4, "closed": closed}], "points": points, **LOOKS, **fields}


def drawn(item: dict[str, Any], **motion: Any) -> Scene:
    return scene(layer("Fin", content={"kind": "shape", "items": [item]}, **motion), background="#ffffff")


def edited(before: Scene, *edits: dict[str, Any]) -> Scene:
    after = apply_edits(before, [EDIT.validate_python(edit) for edit in edits], NO_MEDIA).scene
    assert Scene.model_validate_json(after.to_json()) == after
    return after


def sampled(made: Scene, frames: Floats = FRAMES, each: int = 200) -> Floats:
    """Points along the outline in the scene (n, k, 2), at evenly spaced shares of each of its curves."""
    one = resolve(made, frames, NO_MEDIA).layers["fin"]
    item = one.layer.content.items[0]
    values = {n.removeprefix("items.0."): v for n, v in one.inner.items()}
    pieces = np.concatenate([p for p, _ in cubics(*item.outline(values))], axis=1)
    t = np.linspace(0, 1, each)[None, None, :, None]
    a, b, c, d = (pieces[:, :, None, i] for i in range(4))
    on = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
    count = max(len(on), len(one.matrix))
    on = np.broadcast_to(on, (count, *on.shape[1:])).reshape(count, -1, 2)
    return apply(np.broadcast_to(one.matrix, (count, 6))[:, None], on)


def furthest(some: Floats, others: Floats) -> float:
    """How far any of some points is from the nearest of others, over all frames."""
    count = max(len(some), len(others))
    some, others = (np.broadcast_to(one, (count, *one.shape[1:])) for one in (some, others))
    away = [
        np.hypot(*np.moveaxis(a[:, None] - b[None], -1, 0)).min(axis=1).max() for a, b in zip(some, others, strict=True)
    ]
    return float(max(away))


MOTIONS: list[dict[str, Any]] = [
    {},
    {"rotation": 30, "scale": [150, -60], "anchor": [0, 1]},
    {"rotation": SWING, "anchor": [0.2, 0.7]},
    {"anchor": {"rest": [9, 9], "pinned": False}, "rotation": SWING},
]


@pytest.mark.parametrize("motion", MOTIONS)
@pytest.mark.parametrize("keyed", [False, True])
def test_a_point_more_leaves_the_outline(motion: dict[str, Any], keyed: bool) -> None:
    """In every key, and so at every frame: cut by de Casteljau the curves stay, in place and in motion."""
    before = drawn(path(keyed=keyed), **motion)
    here = sampled(before, np.array([20.0]))[0]
    at = here[370] + [0.5, 0.3]
    after = edited(before, {"edit": "add_point", "layer": "fin", "frame": 20, "at": at.tolist()})
    item = after.layer("fin").content.items[0]
    assert item.contours[0].count == len(item.points.rest) == 5
    was, now = sampled(before, FRAMES[::7]), sampled(after, FRAMES[::7])
    assert max(furthest(was, now), furthest(now, was)) < 0.9, "as near as the samples lie"
    box = [resolve(one, FRAMES, NO_MEDIA).layers["fin"].box for one in (before, after)]
    assert np.abs(box[0] - box[1]).max() < 1e-6


@pytest.mark.parametrize("motion", MOTIONS)
@pytest.mark.parametrize("keyed", [False, True])
def test_a_moved_point_follows_the_hand_and_the_others_stay(motion: dict[str, Any], keyed: bool) -> None:
    before = drawn(path(keyed=keyed), **motion)

    def placed(made: Scene, frame: float) -> Floats:
        one = resolve(made, [frame], NO_MEDIA).layers["fin"]
        points = one.values["content.items.0.points"].reshape(-1, 6)[:, :2]
        return apply(one.matrix[0], points)

    for frame in (12.0, 45.0):
        move = {"edit": "move_points", "layer": "fin", "frame": frame, "points": [1, 3], "by": [21, -34]}
        after = edited(before, move)
        moved = placed(after, frame) - placed(before, frame)
        # An anchor that had to be fixed follows its box within a thousandth of a pixel.
        assert np.abs(moved - [[0, 0], [21, -34], [0, 0], [21, -34]]).max() < 0.005
        if not keyed:
            elsewhere = placed(after, 3.0) - placed(before, 3.0)
            assert np.abs(elsewhere[[0, 2]]).max() < 0.005
    bend = {"edit": "bend_point", "layer": "fin", "frame": 12, "point": 1, "side": "out", "to": [400, 120]}
    one = resolve(edited(before, bend), [12], NO_MEDIA).layers["fin"]
    x, y, ax, ay, bx, by = one.values["content.items.0.points"].reshape(-1, 6)[1]
    assert np.abs(apply(one.matrix[0], np.array([x + bx, y + by])) - [400, 120]).max() < 0.005
    if not keyed:
        assert abs(ax * by - ay * bx) < 1e-6 * np.hypot(ax, ay) * np.hypot(bx, by) + 1e-6, "the other stays in line"
    apart = resolve(edited(before, bend | {"apart": True}), [12], NO_MEDIA).layers["fin"]
    kept = apart.values["content.items.0.points"].reshape(-1, 6)[1, 2:4]
    was = resolve(before, [12], NO_MEDIA).layers["fin"].values["content.items.0.points"].reshape(-1, 6)[1, 2:4]
    assert np.abs(kept - was).max() < 1e-6


@pytest.mark.parametrize("segment", [0, 1, 2, 3])
def test_a_point_on_a_piece_that_is_straight_in_one_key_alone(segment: int) -> None:
    """What lies between two keys is cut as they are: an outline that is bent in the other key stays at every frame."""
    flat = [[x, y, 0, 0, 0, 0] for x, y, *_ in FIN]
    keys = [{"frame": 5, "value": flat}, {"frame": 45, "value": OTHER}]
    before = drawn(path() | {"points": {"rest": flat, "keys": keys}})
    at = sampled(before, np.array([30.0]))[0][segment * 200 + 77]
    after = edited(before, {"edit": "add_point", "layer": "fin", "frame": 30, "at": at.tolist()})
    was, now = sampled(before, FRAMES[::6]), sampled(after, FRAMES[::6])
    assert max(furthest(was, now), furthest(now, was)) < 0.9


def test_points_on_a_cadence_are_written_from_their_own_values() -> None:
    """Not from what the cadence holds: a key that stands between renewals keeps the points that nobody moved."""
    keys = [{"frame": 0, "value": FIN}, {"frame": 7, "value": OTHER}]
    made = drawn(path() | {"points": {"rest": FIN, "keys": keys, "cadence": {"on": 5}}})
    after = edited(
        made, {"edit": "set_point", "layer": "fin", "frame": 7, "point": 1, "part": "place", "to": [70, None]}
    )
    stored = after.layer("fin").content.items[0].points.keys[1].value
    assert [list(point) for point in stored] == [OTHER[0], [70, *OTHER[1][1:]], *OTHER[2:]]


number = st.floats(-200, 200)
points = st.lists(st.tuples(number, number, number, number, number, number), min_size=2, max_size=5)


@given(points=points, closed=st.booleans(), at=st.tuples(number, number))
@cases(60)
def test_the_nearest_place_is_as_near_as_a_slow_search_finds(
    points: list[tuple[float, ...]], closed: bool, at: tuple[float, float]
) -> None:
    made = np.array(points)
    contours = runs([Contour(count=len(points), closed=closed)])
    index, segment, share, away = nearest(made, contours, np.array(at))
    best = np.inf
    for pieces, _ in cubics(*PathShape(contours=(Contour(count=len(points), closed=closed),), points=points).outline(
        {"points": made.reshape(1, -1), "at": np.zeros((1, 2))}
    )):  # fmt: skip
        t = np.linspace(0, 1, 4001)[None, :, None]
        a, b, c, d = (pieces[0, :, None, i] for i in range(4))
        on = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
        best = min(best, float(np.hypot(*np.moveaxis(on - np.array(at), -1, 0)).min()))
    assert index == 0
    assert 0 <= share <= 1
    assert 0 <= segment < contours[0].segments
    assert away <= best + 0.5


@given(points=points, closed=st.booleans())
@cases(60)
def test_a_path_fills_its_box(points: list[tuple[float, ...]], closed: bool) -> None:
    """The box is that of the curves, by a dense walk along them, and of the points."""
    item = PathShape(contours=(Contour(count=len(points), closed=closed),), points=points)
    values = {"points": np.array(points).reshape(1, -1), "at": np.array([[7.0, -3.0]])}
    left, top, width, height = item.box(values)[0]
    on = [np.array(points)[:, :2] + [7, -3]]
    for pieces, _ in cubics(*item.outline(values)):
        t = np.linspace(0, 1, 2001)[None, :, None]
        a, b, c, d = (pieces[0, :, None, i] for i in range(4))
        on.append(((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d).reshape(-1, 2))
    every = np.concatenate(on)
    low, high = every.min(axis=0), every.max(axis=0)
    assert np.abs(np.array([left, top]) - low).max() < 0.01
    assert np.abs(np.array([left + width, top + height]) - high).max() < 0.01


def test_smooth_points_and_corners() -> None:
    """Handles a third of the way to each neighbour, along the line between the two; none at a corner."""
    square = np.array([[x, y, 0, 0, 0, 0] for x, y in ((0, 0), (90, 0), (90, 90), (0, 90))], dtype=float)
    (run,) = runs([Contour(count=4, closed=True)])
    made = smooth(square, run, 1)
    third = 30 / np.sqrt(2)
    assert np.abs(made[1] - [90, 0, -third, -third, third, third]).max() < 1e-9
    (opened,) = runs([Contour(count=4)])
    assert np.abs(smooth(square, opened, 0)[0] - [0, 0, 0, 0, 30, 0]).max() < 1e-9, "an end looks at its neighbour"
    round_ = edited(drawn(path()), {"edit": "shape_points", "layer": "fin", "frame": 0, "points": [2], "way": "smooth"})
    sharp = edited(round_, {"edit": "shape_points", "layer": "fin", "frame": 0, "points": [2], "way": "corner"})
    assert round_.layer("fin").content.items[0].points.rest[2][2:] != (0, 0, 0, 0)
    assert sharp.layer("fin").content.items[0].points.rest[2] == (160, 10, 0, 0, 0, 0)


def test_a_path_is_drawn_point_by_point() -> None:
    first = {
        "shape": "path",
        "contours": [{"count": 1}],
        "points": [[0, 0, 0, 0, 0, 0]],
        "stroke": {"colour": "#000000"},
    }
    content = {"kind": "shape", "items": [first]}
    made = edited(scene(), {"edit": "add_layer", "id": "fin", "content": content, "position": [100, 80]})
    for to, handle in (([200, 60], [30, 10]), ([260, 150], None), ([120, 190], None)):
        made = edited(made, {"edit": "extend_path", "layer": "fin", "frame": 0, "to": to, "handle": handle})
    made = edited(made, {"edit": "close_path", "layer": "fin", "frame": 0, "closed": True})
    one = resolve(made, [0], NO_MEDIA).layers["fin"]
    points = one.values["content.items.0.points"].reshape(-1, 6)
    wanted = [[100, 80], [200, 60], [260, 150], [120, 190]]
    assert np.abs(apply(one.matrix[0], points[:, :2]) - wanted).max() < 1e-3
    assert points[1, 2:].tolist() == [-30, -10, 30, 10]
    assert one.fraction[0].tolist() == [0.5, 0.5], "its anchor is the middle of its box"
    with pytest.raises(Refused, match="is closed"):
        edited(made, {"edit": "extend_path", "layer": "fin", "frame": 0, "to": [5, 5]})
    fewer = edited(made, {"edit": "remove_points", "layer": "fin", "frame": 0, "points": [1, 1, 3]})
    assert fewer.layer("fin").content.items[0].contours[0].count == 2
    with pytest.raises(Refused, match="no point left"):
        edited(fewer, {"edit": "remove_points", "layer": "fin", "frame": 0, "points": [0, 1]})


def test_one_outline_becomes_another() -> None:
    """Between two keys each number goes from its value to the other by the easing; half-way they are the middle."""
    keys = [{"frame": 0, "value": FIN}, {"frame": 40, "value": OTHER}]
    made = drawn(path() | {"points": {"rest": FIN, "keys": keys}})
    values = resolve(made, [20], NO_MEDIA).layers["fin"].values["content.items.0.points"].reshape(-1, 6)
    assert np.abs(values - (np.array(FIN) + np.array(OTHER)) / 2).max() < 1e-9
    with pytest.raises(Refused, match="takes 4 points, and 3 were given"):
        edited(made, {"edit": "set_key", "layer": "fin", "property": "content.items.0.points", "frame": 9,
                      "value": FIN[:3]})  # fmt: skip


GROWS = [{"frame": 4, "value": 5, "ease": {"overshoot": 30}}, {"frame": 40, "value": 70}]
WIDENS = [{"frame": 3, "value": [90, 60]}, {"frame": 33, "value": [200, 50]}]
PLATE = {"shape": "polygon", "size": [60, 40], "at": [-70, 40], "fill": "#f2b544"}
SHAPES: list[dict[str, Any]] = [
    {"shape": "rectangle", "size": [120, 70]},
    {"shape": "rectangle", "size": [120, 70], "corners": {"rest": 9, "keys": GROWS}},
    {"shape": "rectangle", "size": [120, 70], "apart": {"top_left": 20, "bottom_right": 35}},
    {"shape": "ellipse", "size": {"rest": [90, 60], "keys": WIDENS}},
    {"shape": "ellipse", "size": [120, 90], "sweep": {"rest": 90, "keys": GROWS}, "hole": 40},
    {"shape": "ellipse", "size": [120, 90], "sweep": 200, "closing": "open"},
    {"shape": "polygon", "size": [120, 90], "sides": 7, "rounding": 8},
    {"shape": "star", "size": [120, 120], "points": 6, "inner": {"rest": 40, "keys": GROWS, "after": "bounce"}},
    {"shape": "sunburst", "size": [150, 150], "rays": 5, "twist": 40},
    {"shape": "line", "start": [-60, -20], "end": {"rest": [60, 30], "keys": WIDENS}},
    {"shape": "arrow", "start": [-60, -20], "end": [60, 30]},
]  # fmt: skip


@pytest.mark.parametrize("within", [False, True])
@pytest.mark.parametrize("item", SHAPES, ids=lambda item: item["shape"])
def test_any_shape_is_a_path_that_looks_the_same(item: dict[str, Any], within: bool) -> None:
    """Painted, in dashes and where shapes stand in a group: the pixels are the same."""
    stroke = {"colour": "#1b2628", "width": 7, "dashes": {"dash": 30, "gap": 9}, "join": "round"}
    for looks in (LOOKS, GRADIENTS, {"fill": None, "stroke": stroke}):
        shape: dict[str, Any] = {"at": [8, 5], **item, **looks}
        if within:
            own = shape | {"transform": {"anchor": [0.3, 1], "rotation": -20, "position": [9, 9]}}
            shape = {"shape": "group", "items": [PLATE, own], "transform": {"anchor": [1, 0]}}
        before = drawn(shape, rotation=SWING, scale=[140, 90])
        after = edited(before, {"edit": "make_paths", "layers": ["fin"]})
        assert "path" in after.layer("fin").json_text
        assert f'"{item["shape"]}"' not in after.layer("fin").json_text
        painter = Painter(640, 360, {})
        for frame in range(4, 60, 7 if SEARCHING else 21):
            pictures = []
            for made in (before, after):
                painter.paint(draw_list(resolve(made, [frame], NO_MEDIA)), 0)
                pictures.append(np.array(painter.pixels()).astype(int))
            apart = np.abs(pictures[0] - pictures[1]).max(axis=2)
            # A millionth of a pixel may decide how an edge that lies along the pixels is rounded.
            assert apart.max() <= 40, frame
            assert (apart > 3).mean() < 0.0005, frame
