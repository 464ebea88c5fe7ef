"""The motion core: tracks beyond their keys, easings, paths, anchors throughout, and edits of many keys."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.easings import Bezier
from mudskipper.core.easings.batch import Ease, ease_at, end_slope
from mudskipper.core.easings.cut import split_ease
from mudskipper.core.easings.functions import settle_share
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.moves.anchor_moves import explain
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.tracks.evaluate import evaluate
from mudskipper.core.tracks.kinds import NumberTrack
from tests.conftest import cases, layer, scene
from tests.core.test_edits import done

EASE: TypeAdapter[Any] = TypeAdapter(Ease)
FRAMES = np.arange(60.0)


def track(*keys: tuple[float, float], ease: Any = "linear", **fields: Any) -> NumberTrack:
    data = [{"frame": frame, "value": value, "ease": ease} for frame, value in keys]
    return NumberTrack.model_validate({"rest": 0, "keys": data, **fields})


def values(made: NumberTrack, frames: Any) -> list[float]:
    (found,) = evaluate([made], [np.asarray(frames, dtype=float)], 30)
    return np.round(found[:, 0], 9).tolist()


def motion(made: Scene, frames: Any = FRAMES, name: str = "plate") -> np.ndarray:
    """The four corners at each frame: (4, n, 2)."""
    one = resolve(made, frames, NO_MEDIA).layers[name]
    box = np.broadcast_to(one.box, (len(one.frames), 4))
    ends = [box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 0), (0, 1), (1, 1))]
    return np.stack([apply(one.matrix, end) for end in ends])


@pytest.mark.parametrize(
    ("fields", "frames", "want"),
    [
        ({}, [0, 30], [0, 40]),
        ({"after": "repeat"}, [20, 21, 25, 35], [40, 4, 20, 20]),
        ({"before": "repeat"}, [5, 9], [20, 36]),
        ({"after": "bounce"}, [20, 25, 30, 35], [40, 20, 0, 20]),
        ({"before": "bounce"}, [5, 0], [20, 40]),
        ({"after": "carry on"}, [25, 30], [60, 80]),
        ({"before": "carry on"}, [5], [-20]),
        ({"cadence": {"on": 3}}, [11, 12, 14, 15], [0, 8, 8, 20]),
        ({"cadence": {"per_second": 10}}, [12, 13, 14, 15], [8, 8, 8, 20]),
    ],
)
def test_tracks_beyond_their_keys_and_at_a_lower_rate(fields: Any, frames: Any, want: Any) -> None:
    assert values(track((10, 0), (20, 40), **fields), frames) == want


def test_carrying_on_keeps_the_end_speed_of_a_curve() -> None:
    """A bezier that ends with slope (1 − y2) / (1 − x2) = 0.5 goes on at half its mean speed."""
    made = track((0, 0), (10, 100), ease={"bezier": [0.3, 0.1, 0.5, 0.75]}, after="carry on")
    assert values(made, [12]) == [110]


EASES = st.one_of(
    st.sampled_from(["linear", "ease", "ease-in", "ease-out", "ease-in-out"]),
    st.tuples(st.floats(0, 1), st.floats(-1, 2), st.floats(0, 1), st.floats(-1, 2)).map(lambda b: {"bezier": b}),
    st.sampled_from(
        [{"overshoot": 12.0}, {"bounce": {"count": 3, "damping": 0.5}}, {"spring": {"response": 0.3, "damping": 0.4}}]
    ),
    st.sampled_from(
        [{"points": [[0, 0], [0.3, 0.9], [0.6, 0.4], [1, 1]]}, {"points": [[0, 0], [0.5, 0.2], [0.5, 0.8], [1, 1]]}]
    ),
)


@cases(120)
@given(ease=EASES, at=st.floats(0.02, 0.98))
def test_an_easing_is_cut_in_two_without_a_change(ease: Any, at: float) -> None:
    """Exactly where the parts are beziers or points; within 0.1 % for the rest; skipped where one returns to 0 or 1."""
    whole = EASE.validate_python(ease)
    first, second, middle = split_ease(whole, at)
    if min(abs(middle), abs(1 - middle)) < 0.02:
        return
    u = np.linspace(0, 1, 201)
    near = np.abs(u - at) > 1e-6
    rebuilt = np.where(
        u < at,
        middle * ease_at(first, np.clip(u / at, 0, 1)),
        middle + (1 - middle) * ease_at(second, np.clip((u - at) / (1 - at), 0, 1)),
    )
    if np.abs(np.diff(ease_at(whole, np.linspace(0, 1, 2001)))).max() > 0.01 and "points" not in ease:
        return  # all but vertical somewhere: the last digit of the time decides
    exact = "points" in ease or all(isinstance(part, str | Bezier) for part in (first, second))
    assert exact or not isinstance(ease, str)
    assert np.abs(rebuilt - ease_at(whole, u))[near].max() < (1e-6 if exact else 1e-3)


@pytest.mark.parametrize(
    "ease",
    [{"overshoot": 25.0}, {"bounce": {"count": 4, "damping": 0.4}}, {"spring": {"response": 0.2, "damping": 0.35}}],
)
def test_lively_easings_start_and_settle_on_their_keys(ease: Any) -> None:
    made = EASE.validate_python(ease)
    u = np.linspace(0, 1, 4001)
    way = ease_at(made, u)
    assert way[0] == pytest.approx(0, abs=1e-12)
    assert way[-1] == pytest.approx(1, abs=1e-12)
    if "overshoot" in ease:
        assert way.max() == pytest.approx(1.25, abs=1e-4)
    if "bounce" in ease:
        touches = np.flatnonzero((way[1:-1] > way[:-2]) & (way[1:-1] >= way[2:]) & (way[1:-1] > 0.99))
        assert len(touches) == 4
        assert way.max() <= 1 + 1e-12
    if "spring" in ease:
        omega, zeta = 2 * np.pi / 0.2, 0.35
        turn = omega * np.sqrt(1 - zeta**2)
        closed = 1 - np.exp(-zeta * omega * u) * (np.cos(turn * u) + zeta * omega / turn * np.sin(turn * u))
        assert np.abs(way - closed).max() <= np.exp(-zeta * omega) * 1.1
        assert np.abs(way[u >= settle_share(0.2, 0.35)] - 1).max() < 0.0011


@pytest.mark.parametrize(
    "ease",
    [
        "linear", "ease", {"bezier": [0.2, 0.6, 0.7, 0.1]}, {"points": [[0, 0.2], [0.5, 1], [1, 0.7]]},
        {"overshoot": 40.0}, {"bounce": {"count": 3}}, {"spring": {"response": 0.3}}, {"spring": {"damping": 1.0}},
        {"spring": {"damping": 2.0}},
    ],
)  # fmt: skip
@pytest.mark.parametrize("end", [0, 1])
def test_the_slope_at_an_end_is_the_derivative(ease: Any, end: int) -> None:
    made = EASE.validate_python(ease)
    inside = np.array([1e-6, 3e-6]) if end == 0 else 1 - np.array([3e-6, 1e-6])
    fine = np.diff(ease_at(made, inside))[0] / 2e-6
    assert end_slope(made, end) == pytest.approx(fine, abs=2e-3)


ARC = {
    "rest": [0, 0],
    "keys": [
        {"frame": 0, "value": [100, 0], "leave": [0, 55.22847498]},
        {"frame": 50, "value": [0, 100], "arrive": [55.22847498, 0]},
    ],
}


def test_a_curved_path_is_travelled_by_its_length() -> None:
    """A quarter circle in 50 frames: on the circle within 0.03 %, in equal steps within 0.1 %, each π/2·100/50 long."""
    found = resolve(scene(layer(position=ARC)), np.arange(51), NO_MEDIA).layers["plate"].values["position"]
    assert np.allclose(np.hypot(*found.T), 100, rtol=3e-4)
    turns = np.diff(np.unwrap(np.arctan2(found[:, 1], found[:, 0])))
    assert np.abs(turns / turns.mean() - 1).max() < 1e-3
    assert turns.sum() == pytest.approx(np.pi / 2)


@pytest.mark.parametrize("at", [7, 25, 33])
def test_a_point_on_the_path_comes_and_goes_without_a_change(at: int) -> None:
    made = scene(layer(position=ARC))
    keyed = done(made, {"edit": "start_keying", "layer": "plate", "property": "position", "frame": at}).scene
    assert len(keyed.layers[0].position.keys) == 3
    assert np.abs(motion(keyed) - motion(made)).max() < 0.01
    gone = done(keyed, {"edit": "remove_point", "layer": "plate", "frame": at}).scene
    assert np.abs(motion(gone) - motion(made)).max() < 0.5


@pytest.mark.parametrize("ease", ["ease-in", {"bezier": [0.1, 0.8, 0.3, 1.4]}, {"spring": {"response": 0.4}}])
def test_position_splits_and_joins_without_a_change(ease: Any) -> None:
    keys = [
        {"frame": 3, "value": [10, 400], "ease": ease},
        {"frame": 30, "value": [500, 90], "ease": "hold"},
        {"frame": 44, "value": [50, 60]},
    ]
    for position in ({"rest": [0, 0], "keys": keys}, ARC):
        made = scene(layer(position=position))
        parted = done(made, {"edit": "split_position", "layer": "plate"}).scene
        joined = done(parted, {"edit": "join_position", "layer": "plate"}).scene
        assert np.abs(motion(parted) - motion(made)).max() < 0.02
        assert np.abs(motion(joined) - motion(made)).max() < 0.02
    faster = {
        "edit": "set_easing",
        "ease": "ease-out",
        "keys": [{"layer": "plate", "property": "position.x", "frame": 0}],
    }
    apart = done(parted, faster).scene
    assert np.abs(motion(done(apart, {"edit": "join_position", "layer": "plate"}).scene) - motion(apart)).max() < 0.02


SWING = {
    "rotation": {"rest": 0, "keys": [{"frame": 5, "value": 0, "ease": "ease-in-out"}, {"frame": 35, "value": 140}]},
    "scale": {
        "rest": [100, 100],
        "keys": [{"frame": 0, "value": [40, 100]}, {"frame": 50, "value": [120, 80], "ease": "ease"}],
    },
    "position": {
        "rest": [0, 0],
        "keys": [{"frame": 10, "value": [100, 90], "ease": "ease-out"}, {"frame": 40, "value": [420, 200]}],
    },
}


@pytest.mark.parametrize(
    "anchor", [[0.5, 0.5], {"rest": [0, 0], "keys": [{"frame": 4, "value": [0, 0]}, {"frame": 40, "value": [1, 1]}]}]
)
@pytest.mark.parametrize("still", [False, True])
def test_the_picture_stays_put_throughout(anchor: Any, still: bool) -> None:
    """At every frame of the span within 0.05 px; exactly and with no further key where nothing turns or grows."""
    made = scene(layer(anchor=anchor, **({"position": SWING["position"]} if still else SWING)))
    edit = {"edit": "move_anchor", "layer": "plate", "frame": 20, "to": {"station": "top left"}, "scope": "throughout"}
    after = done(made, edit).scene
    limit = 0.05 if not still or isinstance(anchor, dict) else 1e-9
    assert np.abs(motion(after) - motion(made)).max() < limit
    if still and isinstance(anchor, list):
        assert len(after.layers[0].position.keys) == 2
    else:
        assert 2 < len(after.layers[0].position.keys) < 120


def test_the_picture_stays_put_at_every_key() -> None:
    made = scene(layer(**SWING))
    edit = {"edit": "move_anchor", "layer": "plate", "frame": 20, "to": {"station": "right"}, "scope": "every key"}
    after = done(made, edit).scene
    one = made.layers[0]
    moments = sorted({key.frame for track in (one.position, one.scale, one.rotation, one.anchor) for key in track.keys})
    assert [key.frame for key in after.layers[0].position.keys] == moments
    assert np.abs(motion(after, moments) - motion(made, moments)).max() < 1e-9


@pytest.mark.parametrize("grows", [False, True])
def test_an_anchor_is_pinned_and_fixed_without_a_change(grows: bool) -> None:
    size = {
        "rest": [200, 100],
        "keys": [{"frame": 8, "value": [10, 100], "ease": "ease"}, {"frame": 30, "value": [300, 60]}],
    }
    item = {"shape": "rectangle", "size": size if grows else [200, 100]}
    made = scene(layer(content={"kind": "shape", "items": [item]}, anchor=[0, 1], **SWING))
    fixed = done(made, {"edit": "pin_anchor", "layer": "plate", "pinned": False}).scene
    back = done(fixed, {"edit": "pin_anchor", "layer": "plate", "pinned": True}).scene
    assert not fixed.layers[0].anchor.pinned
    assert bool(fixed.layers[0].anchor.keys) == grows
    assert np.abs(motion(fixed) - motion(made)).max() < 0.01
    assert np.abs(motion(back) - motion(made)).max() < 0.01


def test_the_sum_is_explained_with_its_numbers() -> None:
    made = scene(layer(**SWING))
    told = explain(made.layers[0], 23, Context(made, NO_MEDIA))
    corners = dict(zip(("top left", "top right", "bottom left", "bottom right"), motion(made, [23])[:, 0], strict=True))
    assert len(told["points"]) == 9
    for point in told["points"]:
        assert point["arm"] == pytest.approx(np.subtract(point["layer"], told["anchor"]["layer"]))
        assert point["scene"] == pytest.approx(np.add(told["position"], point["turned"]))
        turn, (kx, ky) = np.radians(told["rotation"]), np.array(told["scale"]) / 100
        x, y = point["arm"][0] * kx, point["arm"][1] * ky
        assert point["turned"] == pytest.approx([
            x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
        ])  # fmt: skip
        if point["station"] in corners:
            assert point["scene"] == pytest.approx(corners[point["station"]].tolist())


def ref(frame: float, name: str = "rotation") -> dict[str, Any]:
    return {"layer": "plate", "property": name, "frame": frame}


def test_many_keys_at_once() -> None:
    """Pose, stretch and back, reverse twice, copy, ripple, one axis alone: each leaves what it should bit for bit."""
    made = scene(layer(**SWING))
    posed = done(
        made, {"edit": "key_pose", "layers": ["plate"], "properties": ["rotation", "scale", "opacity"], "frame": 17}
    ).scene
    assert np.abs(motion(posed) - motion(made)).max() < 1e-6
    run = [ref(5), ref(35)]
    wide = done(made, {"edit": "retime_keys", "keys": run, "way": "stretch", "about": 5, "factor": 1.5}).scene
    assert [key.frame for key in wide.layers[0].rotation.keys] == [5, 50]
    back = done(
        wide, {"edit": "retime_keys", "keys": [ref(5), ref(50)], "way": "stretch", "about": 5, "factor": 1 / 1.5}
    ).scene
    assert np.abs(motion(back) - motion(made)).max() < 1e-9
    third = {"edit": "retime_keys", "way": "stretch", "about": 5, "factor": 1 / 3, "whole": True}
    narrow = done(made, {**third, "keys": [ref(35)]}).scene
    assert [key.frame for key in narrow.layers[0].rotation.keys] == [5, 15]
    between = done(made, {"edit": "retime_keys", "keys": [ref(35)], "way": "stretch", "about": 0, "factor": 0.99}).scene
    odd = done(between, {**third, "keys": [ref(34.65)]}).scene.layers[0].rotation.keys[1].frame
    whole = done(made, {**third, "keys": [ref(35)], "factor": 0.35}).scene.layers[0].rotation.keys[1].frame
    assert (odd, whole) == (pytest.approx(5 + 29.65 / 3), 16)
    turned = done(made, {"edit": "retime_keys", "keys": run, "way": "reverse"}).scene
    spin, nips = (
        resolve(one, np.arange(5, 36), NO_MEDIA).layers["plate"].values["rotation"][:, 0] for one in (made, turned)
    )
    assert np.allclose(nips, spin[::-1], atol=1e-9)
    late = done(made, {"edit": "ripple", "layers": ["plate"], "frame": 20, "by": 6}).scene
    assert [key.frame for key in late.layers[0].rotation.keys] == [5, 41]
    assert [key.frame for key in late.layers[0].position.keys] == [10, 46]
    keys = [ref(10, "position"), ref(40, "position")]
    level = done(made, {"edit": "edit_values", "keys": keys, "way": "set", "axis": 1, "value": 77}).scene
    assert [key.value for key in level.layers[0].position.keys] == [(100, 77), (420, 77)]
    copied = done(made, {"edit": "copy_keys", "keys": run, "frame": 25}).scene
    assert [key.frame for key in copied.layers[0].rotation.keys] == [5, 25, 35, 55]
    with pytest.raises(Refused, match="would stand at the same frame"):
        done(made, {"edit": "retime_keys", "keys": [ref(5)], "way": "stretch", "about": -25, "factor": 2.0})
    plain = done(made, {"edit": "reset_properties", "layer": "plate"}).scene.layers[0]
    assert (plain.position.rest, plain.rotation.keys, plain.scale.rest) == ((320, 180), (), (100, 100))


def test_a_path_is_bent_smooth_and_straight_again() -> None:
    """Smooth: no corner at the middle key; straight: as it was; a handle set by hand, and taken off by null."""
    keys = [{"frame": 0, "value": [0, 0]}, {"frame": 20, "value": [100, 200]}, {"frame": 40, "value": [300, 0]}]
    made = scene(layer(position={"rest": [0, 0], "keys": keys}))
    smooth = done(made, {"edit": "bend_path", "layer": "plate", "way": "smooth"}).scene
    way = resolve(smooth, [19.99, 20, 20.01], NO_MEDIA).layers["plate"].values["position"]
    turns = [np.arctan2(*(b - a)[::-1]) for a, b in ((way[0], way[1]), (way[1], way[2]))]
    assert turns[0] == pytest.approx(turns[1], abs=5e-3)
    assert np.allclose(way[1], [100, 200])
    straight = done(smooth, {"edit": "bend_path", "layer": "plate", "way": "straight"}).scene
    assert straight.layers[0].position == made.layers[0].position
    bent = done(made, {"edit": "set_handles", "layer": "plate", "frame": 0, "leave": [0, 90]}).scene
    assert resolve(bent, [1], NO_MEDIA).layers["plate"].values["position"][0, 0] < 1
    off = done(bent, {"edit": "set_handles", "layer": "plate", "frame": 0, "leave": None}).scene
    assert off == made
    with pytest.raises(Refused, match="has no key at frame 7"):
        done(made, {"edit": "set_handles", "layer": "plate", "frame": 7, "leave": [1, 1]})


def test_keys_are_copied_to_another_layer_in_the_scenes_time() -> None:
    made = scene(layer(**SWING), layer("Other", span={"start": 12, "length": 40}))
    edit = {"edit": "copy_keys", "keys": [ref(5), ref(35)], "frame": 20, "layer": "other"}
    other = done(made, edit).scene.layers[1]
    assert [(key.frame, key.value) for key in other.rotation.keys] == [(8, 0), (38, 140)]
    with pytest.raises(Refused, match="outside the span of 'Other'"):
        done(made, {**edit, "frame": 30})
    snapped = scene(layer(rotation={"rest": 0, "keys": [{"frame": 4.4, "value": 0}, {"frame": 9.7, "value": 8}]}))
    refs = [ref(4.4), ref(9.7)]
    whole = done(snapped, {"edit": "retime_keys", "keys": refs, "way": "snap"}).scene
    assert [key.frame for key in whole.layers[0].rotation.keys] == [4, 10]


@pytest.mark.parametrize("moving", ["xy", "x", "y"])
def test_joining_keeps_or_refuses_what_lies_beyond_the_keys(moving: str) -> None:
    """A part that repeats alone goes on repeating; two that differ are refused in words."""

    def part(name: str, way: str) -> dict[str, Any]:
        keys = [{"frame": 5, "value": 10}, {"frame": 15, "value": 90}] if name in moving else []
        return {"rest": 50, "keys": keys, "after": way}

    made = scene(layer(position={"x": part("x", "repeat"), "y": part("y", "bounce")}))
    join = {"edit": "join_position", "layer": "plate"}
    if moving == "xy":
        with pytest.raises(Refused, match="go on differently beyond their keys"):
            done(made, join)
    else:
        assert np.abs(motion(done(made, join).scene) - motion(made)).max() < 0.02
