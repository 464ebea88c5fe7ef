"""Carried layers: linked and released with the picture where it was, and hands that work in the scene's space."""

from __future__ import annotations

import random
from contextlib import suppress
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.ground.stations import STATIONS
from mudskipper.core.moves.box_handles import HANDLES
from mudskipper.core.resolve.bounds import bounds
from mudskipper.core.resolve.corners import corners
from mudskipper.core.resolve.layers import ResolvedLayer
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene

EDITS: TypeAdapter[Any] = TypeAdapter(list[AnyEdit])
FRAMES = np.arange(60.0)


def made(before: Scene, *edits: dict[str, Any]) -> Scene:
    return apply_edits(before, EDITS.validate_python(list(edits)), NO_MEDIA).scene


def one(of: Scene, name: str, frames: Any = (20.0,)) -> ResolvedLayer:
    return resolve(of, frames, NO_MEDIA, ids=[name]).layers[name]


def keyed(dice: random.Random, low: float, high: float, pairs: bool = False, handles: bool = False) -> dict[str, Any]:
    def value() -> Any:
        return [dice.uniform(low, high), dice.uniform(low, high)] if pairs else dice.uniform(low, high)

    frames = sorted(dice.sample(range(60), dice.choice([1, 2, 3])))
    keys = [
        {"frame": at, "value": value(), "ease": dice.choice(["linear", "ease-in", {"overshoot": 20}])} for at in frames
    ]
    if handles:
        keys = [key | {"leave": [dice.uniform(-60, 60), 30], "arrive": [-30, dice.uniform(-60, 60)]} for key in keys]
    return {"rest": value(), "keys": keys if dice.random() < 0.8 else []}


def moving(dice: random.Random, name: str, *, even: bool, still: bool = False, **more: Any) -> dict[str, Any]:
    """A layer that moves at random; `even` where it grows alike on x and y, `still` where it does not move."""
    size = dice.choice([-1, 1]) * dice.uniform(40, 160)
    tracks: dict[str, Any] = {
        "anchor": [dice.random(), dice.random()],
        "position": keyed(dice, 0, 400, True, dice.random() < 0.4), "rotation": keyed(dice, -300, 300),
        "scale": [size, abs(size)] if even else keyed(dice, 40, 160, True),
    }  # fmt: skip
    if dice.random() < 0.25:
        tracks["position"] = {"x": keyed(dice, 0, 400), "y": keyed(dice, 0, 300)}
    if still:
        for track in ("position", "rotation", "scale"):
            rest = tracks[track]
            rest = [rest["x"]["rest"], rest["y"]["rest"]] if "x" in rest else rest
            tracks[track] = rest["rest"] if isinstance(rest, dict) else rest
    return layer(name, **tracks, **more)


def off(a: ResolvedLayer, b: ResolvedLayer) -> float:
    return float(np.abs(corners(a) - corners(b)).max())


@cases(40)
@given(seed=st.integers(0, 2**32), even=st.booleans(), still=st.booleans(), deep=st.booleans())
def test_linked_and_released_nothing_moves_at_any_frame(seed: int, even: bool, still: bool, deep: bool) -> None:
    """Linked, the picture is where it was at every frame; released, again. A carrier at rest adds no key."""
    dice = random.Random(seed)
    raft = moving(dice, "Raft", even=even, still=still, carrier="boat" if deep else None)
    before = scene(moving(dice, "Boat", even=True, still=still), raft, moving(dice, "Flag", even=dice.random() < 0.5))
    link = {"edit": "carry_layers", "layers": ["flag"], "carrier": "raft", "frame": 10, "keep": "throughout"}
    if not even:
        with suppress(Refused):
            made(before, link)
            even = True
        if not even:
            with pytest.raises(Refused, match="sheared"):
                made(before, link)
            return
    linked = made(before, link)
    assert linked.layer("flag").carrier == "raft"
    # Turned, x and y that moved apart become one path, within 0.01 px.
    one_path = "position" in before.layer("flag").tracks
    near = 1e-6 if still and one_path else 0.06
    assert off(one(before, "flag", FRAMES), one(linked, "flag", FRAMES)) < near
    back = made(linked, {**link, "carrier": None})
    assert off(one(before, "flag", FRAMES), one(back, "flag", FRAMES)) < 2 * near
    if still and even and one_path:
        assert linked.layer("flag").key_count == before.layer("flag").key_count == back.layer("flag").key_count
        between = FRAMES[:-1] + 0.37
        assert off(one(before, "flag", between), one(linked, "flag", between)) < 1e-6


@cases(40)
@given(seed=st.integers(0, 2**32))
def test_linked_at_a_frame_it_goes_along_from_there(seed: int) -> None:
    """The picture stays at the frame; from then on the layer moves as if it were drawn on its carrier."""
    dice = random.Random(seed)
    before = scene(moving(dice, "Raft", even=True), moving(dice, "Flag", even=True, still=True))
    after = made(before, {"edit": "carry_layers", "layers": ["flag"], "carrier": "raft", "frame": 20, "keep": "frame"})
    assert off(one(before, "flag"), one(after, "flag")) < 1e-6
    assert after.layer("flag").key_count == 0
    raft, flag = one(after, "raft", FRAMES), one(after, "flag", FRAMES)
    m = np.broadcast_to(raft.matrix, (60, 6))
    at = np.array([[m[i, 0], m[i, 2], m[i, 4], m[i, 1], m[i, 3], m[i, 5]] for i in range(60)]).reshape(60, 2, 3)
    seen = np.array([np.linalg.inv(np.vstack([at[i], [0, 0, 1]])) @ [*corners(flag)[i, 0], 1] for i in range(60)])
    assert np.abs(seen - seen[20]).max() < 1e-6


def carried(seed: int, even: bool = True) -> Scene:
    """A flag that moves, carried by a raft that moves, carried by a boat; a plate, and a buoy carried by nothing."""
    dice = random.Random(seed)
    return scene(
        moving(dice, "Boat", even=True), moving(dice, "Raft", even=even, carrier="boat"),
        moving(dice, "Flag", even=True, carrier="raft"), moving(dice, "Buoy", even=True),
    )  # fmt: skip


share = st.tuples(st.floats(-0.5, 1.5), st.floats(-0.5, 1.5))


@cases(40)
@given(seed=st.integers(0, 2**32), by=share, handle=st.sampled_from(HANDLES), station=st.sampled_from(sorted(STATIONS)))
def test_hands_on_a_carried_layer_work_in_the_scene(
    seed: int, by: tuple[float, float], handle: str, station: str
) -> None:
    """What a hand does to a carried layer is what the scene shows: moved, turned, drawn, aligned, brought in."""
    before = carried(seed)
    was = one(before, "flag")
    step = np.array(by) * 100
    at = {"frame": 20.0}
    moved = one(made(before, {"edit": "move_layers", "layers": ["flag"], "by": step.tolist(), **at}), "flag")
    assert np.abs(corners(moved) - corners(was) - step).max() < 1e-6
    turned = one(made(before, {"edit": "turn_layers", "layers": ["flag"], "by": 30.0, **at}), "flag")
    angle = np.deg2rad(30)
    spin = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    assert np.abs(corners(turned) - was.place - (corners(was) - was.place) @ spin.T).max() < 0.01
    point = was.place[0] + (90.0, 40.0) + step
    drawn = {"edit": "drag_handle", "layer": "flag", "handle": handle, "to": point.tolist(), **at}
    after = one(made(before, drawn), "flag")
    share_of = np.array(STATIONS[handle])
    there = apply(after.matrix[0], after.box[0, :2] + share_of * after.box[0, 2:])
    if 0.5 not in share_of and np.abs(was.fraction[0] - share_of).min() > 0.05:
        assert np.abs(there - point).max() < 0.1
    brought = made(before, {"edit": "bring_to", "layers": ["flag"], "to": [123.0, None], **at})
    assert one(brought, "flag").place[0] == pytest.approx((123, was.place[0, 1]))
    left = made(before, {"edit": "align", "layers": ["flag"], "edge": "left", "to": "scene", **at})
    assert abs(bounds(one(left, "flag"))[0, 0]) < 1e-6
    centre = made(before, {"edit": "move_anchor", "layer": "flag", "to": {"scene": point.tolist()}, **at})
    assert np.abs(one(centre, "flag").place[0] - point).max() < 1e-6
    assert off(one(centre, "flag"), was) < 1e-6
    outside = {"edit": "bring_in", "layers": ["flag"], "side": "left", "length": 12, "transparent": False, **at}
    came = made(before, outside)
    assert bounds(one(came, "flag", [8.0]))[0, 2] < 1e-6 or bounds(one(before, "flag", [8.0])).max() > 1e5
    # x and y that moved apart become one path, within 0.01 px of its carrier's.
    assert off(one(came, "flag"), was) < (1e-3 if "position" in before.layer("flag").tracks else 0.06)
    orbit = {"edit": "apply_recipe", "layers": ["flag"], "recipe": {"recipe": "drop in", "side": "top"}, **at}
    dropped = made(before, orbit)
    assert bounds(one(dropped, "flag"))[0, 3] < 1e-6


@cases(40)
@given(seed=st.integers(0, 2**32))
def test_chosen_together_a_carrier_and_what_it_carries_move_once(seed: int) -> None:
    before = carried(seed)
    names, at = ["flag", "buoy", "boat"], {"frame": 20.0}
    was = [one(before, name) for name in names]
    moved = made(before, {"edit": "move_layers", "layers": names, "by": [30, -12], **at})
    for name, old in zip(names, was, strict=True):
        assert np.abs(corners(one(moved, name)) - corners(old) - (30, -12)).max() < 1e-6
    turned = made(before, {"edit": "turn_layers", "layers": names, "by": 90.0, "about": "box", **at})
    box = np.concatenate([bounds(one(before, name)) for name in ("buoy", "boat")])
    middle = np.concatenate([box[:, :2], box[:, 2:]]).reshape(-1, 2, 2)
    middle = (box[:, :2].min(axis=0) + box[:, 2:].max(axis=0)) / 2
    for name, old in zip(names, was, strict=True):
        arm = corners(old) - middle
        assert np.abs(corners(one(turned, name)) - middle - np.stack([-arm[..., 1], arm[..., 0]], -1)).max() < 0.01
    edges = made(before, {"edit": "align", "layers": names, "edge": "left", "to": "first", **at})
    lefts = [bounds(one(edges, name))[0, 0] for name in names]
    assert max(lefts) - min(lefts) < 1e-6
    assert lefts[0] == pytest.approx(bounds(was[0])[0, 0])


def test_circles_copies_and_deleted_carriers() -> None:
    before = carried(3)
    with pytest.raises(Refused, match="'Flag' is carried by 'Raft' is carried by 'Boat'"):
        made(before, {"edit": "carry_layers", "layers": ["boat"], "carrier": "flag", "frame": 0})
    with pytest.raises(Refused, match="carry itself"):
        made(before, {"edit": "carry_layers", "layers": ["boat"], "carrier": "boat", "frame": 0})
    copies = made(before, {"edit": "duplicate_layers", "layers": ["raft", "flag"], "ids": ["raft2", "flag2"]})
    assert copies.layer("flag2").carrier == "raft2"
    assert copies.layer("raft2").carrier == "boat"
    outcome = apply_edits(before, EDITS.validate_python([{"edit": "delete_layers", "layers": ["raft"]}]), NO_MEDIA)
    assert any(said.startswith("'Flag' is carried no more: it was by Raft, and has") for said in outcome.notices)
    assert outcome.scene.layer("flag").carrier is None
    assert off(one(before, "flag", FRAMES), one(outcome.scene, "flag", FRAMES)) < 0.06


def test_an_anchor_moved_on_the_carrier_moves_nothing_that_it_carries() -> None:
    before = carried(5)
    after = made(before, {"edit": "move_anchor", "layer": "raft", "frame": 20.0, "to": {"station": "top left"},
                          "scope": "throughout"})  # fmt: skip
    assert off(one(before, "flag", FRAMES), one(after, "flag", FRAMES)) < 0.2
