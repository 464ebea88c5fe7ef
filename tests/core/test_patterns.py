"""Patterns: an item drawn several times, each a step further; where its copies are, and their box."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.operations import Group, Path
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list, tight_box
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import layer, scene
from tests.core.test_items import SWING, edited

BAR = {"shape": "rectangle", "size": [10, 40], "at": [0, -100], "fill": "#0e6b61"}
FIXED = {"rest": [0, 0], "pinned": False}
DIAL = {**BAR, "repeat": {"copies": 12, "turn": 30}, "transform": {"anchor": FIXED}}


def one(item: dict[str, Any], **fields: Any) -> Scene:
    return scene(layer("Dial", content={"kind": "shape", "items": [item]}, anchor=FIXED, position=[320, 180], **fields))


def copies(made: Scene, frame: float = 0) -> list[tuple[np.ndarray, float]]:
    """The middle of each copy in the scene, and its opacity 0…255, of those that are there."""
    (group,) = draw_list(resolve(made, [frame], NO_MEDIA)).groups
    found = []
    for part in group.parts:
        assert isinstance(part, Group)
        (path,) = part.parts
        assert isinstance(path, Path)
        if part.visible[0, 0]:
            corners = path.points[0, :8].reshape(-1, 2).astype(float)
            found.append((apply(part.matrix[0].astype(float), corners.mean(axis=0)), float(path.fill[0, 3])))
    return found


def test_a_dial_turns_its_bars_about_one_anchor() -> None:
    angles = np.radians(30 * np.arange(12))
    expected = np.array([320, 180]) + 100 * np.stack([np.sin(angles), -np.cos(angles)], axis=1)
    assert np.allclose([at for at, _ in copies(one(DIAL))], expected, atol=1e-3)


numbers = st.floats(-60, 60).map(lambda n: round(n, 2))


@given(
    count=st.integers(1, 9), move=st.tuples(numbers, numbers), turn=numbers,
    grow=st.tuples(st.floats(50, 120), st.floats(50, 120)), fade=st.floats(20, 100), placed=st.booleans(),
)  # fmt: skip
def test_each_copy_is_a_step_further(
    count: int, move: tuple[float, float], turn: float, grow: tuple[float, float], fade: float, placed: bool
) -> None:
    """Against items written one by one with those transforms; the box holds all of them and no more."""
    repeat = {"copies": count, "move": move, "turn": turn, "grow": grow, "fade": fade}
    own = {"anchor": FIXED, "position": [7, 3], "rotation": 11, "scale": [90, 110], "opacity": 80}
    item = {**BAR, "repeat": repeat} | ({"transform": own} if placed else {})
    start = own if placed else {"position": [0, -100], "rotation": 0, "scale": [100, 100], "opacity": 100}
    each = [
        BAR
        | {
            "transform": start
            | {
                "position": [start["position"][i] + k * move[i] for i in (0, 1)],
                "rotation": start["rotation"] + k * turn,
                "scale": [start["scale"][i] * (grow[i] / 100) ** k for i in (0, 1)],
                "opacity": start["opacity"] * (fade / 100) ** k,
            }
        }
        for k in range(count)
    ]
    mine, theirs = one(item), scene(layer("Dial", content={"kind": "shape", "items": each}, anchor=FIXED))
    if count == 1 and not placed:
        return
    a, b = copies(mine), copies(theirs)
    assert np.allclose([at for at, _ in a], [at for at, _ in b], atol=1e-3)
    assert np.allclose([seen for _, seen in a], [seen for _, seen in b], atol=1)
    boxes = [resolve(made, [0.0], NO_MEDIA).layers["dial"].box for made in (mine, theirs)]
    assert np.allclose(boxes[0], boxes[1], atol=1e-6)
    found = resolve(mine, [0.0], NO_MEDIA)
    assert (tight_box(found.layers["dial"], found.context)[:, 2:] <= boxes[0][:, 2:] + 1e-6).all()


def test_the_count_is_keyed_and_copies_come_one_by_one() -> None:
    count = {"rest": 1, "keys": [{"frame": 0, "value": 1}, {"frame": 10, "value": 11}]}
    made = one({**DIAL, "repeat": {"copies": count, "turn": 30}})
    assert [len(copies(made, frame)) for frame in (0, 3, 10)] == [1, 4, 11]
    boxes = resolve(made, np.arange(11.0), NO_MEDIA).layers["dial"].box
    assert boxes[0].tolist() == [-5, -120, 10, 40]
    assert boxes[6][3] == pytest.approx(240)


@pytest.mark.parametrize("moving", [{}, {"rotation": SWING, "scale": [80, 130]}])
def test_a_pattern_is_made_and_changed_and_the_first_copy_stays(moving: dict[str, Any]) -> None:
    """On a layer whose anchor is pinned to its box, which the copies make larger; copies keep it, and so do paths."""
    fields = {"content": {"kind": "shape", "items": [BAR, {**BAR, "at": [50, 0]}]}, **moving}
    before = scene(layer("Dial", **fields))

    def first(made: Scene) -> np.ndarray:
        groups = draw_list(resolve(made, np.arange(60.0), NO_MEDIA)).groups
        found = groups[0].parts[1]
        matrix = found.matrix if isinstance(found, Group) else groups[0].matrix
        return np.broadcast_to(matrix, (60, 6))

    made = edited(
        before, {"edit": "set_content", "layer": "dial", "path": "items.1.repeat", "value": {"move": [30, 5]}}
    )
    assert np.abs(first(made.scene) - first(before)).max() < 1e-3
    name = "content.items.1.repeat.copies"
    more = edited(made.scene, {"edit": "set_property", "layer": "dial", "property": name, "value": 9, "frame": 0})
    assert np.abs(first(more.scene) - first(before)).max() < 1e-3
    twice = edited(more.scene, {"edit": "duplicate_layers", "layers": ["dial/1"]}).scene
    again = edited(twice, {"edit": "make_paths", "layers": ["dial/1", "dial/2"]}).scene
    for each in (twice, again):
        kept = [one.repeat.copies.rest for one in each.layers[0].content.items if one.repeat]
        assert kept == [9, 9]


def first_corners(made: Scene) -> np.ndarray:
    """The corners of the first shape that is drawn, in the scene at every frame (60, 4, 2)."""
    (part,) = draw_list(resolve(made, np.arange(60.0), NO_MEDIA)).groups
    matrix = part.matrix
    while not isinstance(part, Path):
        assert isinstance(part, Group)
        matrix, part = part.matrix, part.parts[0]
    corners = part.points[0, :8].reshape(-1, 2).astype(float)
    return np.stack([apply(row.astype(float), corners) for row in np.broadcast_to(matrix, (60, 6))])


@pytest.mark.parametrize("name", ["dial", "dial/0"])
@pytest.mark.parametrize("anchor", [{"rest": [0.5, 0.5]}, {"rest": [1, 0]}, {"rest": [0.5, 7]}, FIXED])
@pytest.mark.parametrize(
    "moving",
    [
        {},
        {"rotation": {"rest": 30}, "scale": [80, 130]},
        {"rotation": SWING},
        {"rotation": {"rest": 0, "formula": "base + t * 40"}},
    ],
)
def test_a_pattern_pressed_on_and_off_moves_nothing(name: str, anchor: Any, moving: Any) -> None:
    """Again and again; in a row and about an anchor that is far, of the layer and of its only shape."""
    bar = {**BAR, "transform": {"anchor": FIXED, "position": [20, 10]}} if "/" in name else BAR
    made = before = scene(layer("Dial", content={"kind": "shape", "items": [bar]}, anchor=anchor, **moving))
    for on in (True, False, True, False):
        made = edited(made, {"edit": "set_repeat", "layer": name, "on": on, "frame": 0}).scene
        assert np.abs(first_corners(made) - first_corners(before)).max() < 0.01
    again = edited(made, {"edit": "set_repeat", "layer": name, "on": True, "frame": 0}).scene
    grouped = edited(again, {"edit": "group_items", "layers": ["dial/0"]}).scene
    group = grouped.layers[0].content.items[0].id
    freed = edited(grouped, {"edit": "ungroup_items", "layer": f"dial/{group}"}).scene
    for one_of in (grouped, freed):
        assert np.abs(first_corners(one_of) - first_corners(before)).max() < 0.01


def test_a_new_pattern_stands_in_a_row_or_about_its_anchor() -> None:
    """A layer of one bar whose anchor is the middle of a dial; and one of two shapes about their own middles."""
    bar = layer("Dial", content={"kind": "shape", "items": [BAR]}, anchor={**FIXED, "rest": [10, 5]})
    made = edited(scene(bar), {"edit": "set_repeat", "layer": "dial", "on": True, "frame": 0}).scene
    middles = np.array([at for at, _ in copies(made)])
    assert len(middles) == 12
    assert np.allclose(np.hypot(*(middles - [320, 180]).T), np.hypot(10, 105), atol=1e-3)
    assert np.allclose(middles[0], [310, 75], atol=1e-3)
    again = edited(made, {"edit": "set_repeat", "layer": "dial/0", "on": False, "frame": 0}).scene
    assert again.layers[0].content.items[0].repeat is None
    two = scene(layer("Two", content={"kind": "shape", "items": [BAR, {**BAR, "at": [60, 0]}]}))
    row = edited(two, {"edit": "set_repeat", "layer": "two/1", "on": True, "frame": 0}).scene
    repeat = row.layers[0].content.items[1].repeat
    assert (repeat.move.rest, repeat.turn.rest) == ((12.5, 0), 0)
    with pytest.raises(Refused, match="no single shape"):
        edited(two, {"edit": "set_repeat", "layer": "two", "on": True, "frame": 0})


def test_too_many_copies_are_refused_in_words() -> None:
    many = [{**BAR, "repeat": {"copies": 500}} for _ in range(11)]
    with pytest.raises(Exception, match="a layer holds at most 5,000 shapes, and there are 5,500"):
        scene_of(
            {
                **scene(layer()).model_dump(by_alias=True, mode="json"),
                "layers": [layer(content={"kind": "shape", "items": many})],
            }
        )
    with pytest.raises(Exception, match="a number of copies must lie between 1 and 500"):
        one({**BAR, "repeat": {"copies": 0}})
