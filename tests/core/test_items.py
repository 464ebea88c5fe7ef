"""Shapes within layers: an item moves as a layer of the same motion would, and nothing else moves with it."""

from __future__ import annotations

import random
import re
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.items_as_layers import item_layer
from mudskipper.core.document.properties import label_of
from mudskipper.core.document.scene import Layer, Scene
from mudskipper.core.edits import Outcome, apply_edits
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.items import items_resolved
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.tracks.walk import shown_kinds
from tests.conftest import cases, layer, scene
from tests.core.edits_at_random import EASES, EDIT

FRAMES = np.arange(0.0, 60.0)
SWING = {"rest": 0, "keys": [{"frame": 4, "value": -20, "ease": {"overshoot": 30}}, {"frame": 40, "value": 70}]}
WAY = {"rest": [0, 0], "keys": [{"frame": 5, "value": [60, 80], "leave": [30, -60]}, {"frame": 45, "value": [200, 90]}]}
PLATE = {"shape": "rectangle", "size": [80, 40], "at": [15, -6], "fill": "#0e6b61"}


def edited(before: Scene, *edits: dict[str, Any]) -> Outcome:
    """The outcome of edits given as data; the document can be read again."""
    outcome = apply_edits(before, [EDIT.validate_python(edit) for edit in edits], NO_MEDIA)
    assert Scene.model_validate_json(outcome.scene.to_json()) == outcome.scene
    return outcome


def places(made: Scene, name: str) -> dict[str, np.ndarray]:
    """The matrix of each item of a layer, to the scene, at every frame (60, 6)."""
    resolved = resolve(made, FRAMES, NO_MEDIA)
    one = resolved.layers[name]
    found = items_resolved(one, resolved.context.around(one.layer, resolved.frames))
    return {address: np.broadcast_to(item.matrix, (60, 6)) for address, item in found.items()}


def pair(motion: dict[str, Any]) -> tuple[Scene, Scene]:
    """A layer with a motion; and the same as a shape within a layer that leaves it where it is."""
    alone = layer("Alone", content={"kind": "shape", "items": [PLATE]}, **motion)
    item = PLATE | {"transform": {"position": [320, 180], **motion}}
    other = {"shape": "ellipse", "size": [30, 30], "at": [500, 300], "fill": "#000000"}
    around = {"rest": [0, 0], "pinned": False}
    outer = layer("Outer", content={"kind": "shape", "items": [other, item]}, anchor=around, position=[0, 0])
    return scene(alone), scene(outer)


MOTIONS: list[dict[str, Any]] = [
    {},
    {"rotation": SWING},
    {"rotation": SWING, "position": WAY, "scale": [130, 70], "anchor": [0.2, 1]},
    {"anchor": {"rest": [30, 5], "pinned": False}, "position": WAY, "rotation": 33},
]
HANDS: list[dict[str, Any]] = [
    {"edit": "move_anchor", "to": {"station": "left"}},
    {"edit": "move_anchor", "to": {"scene": [300, 200]}, "scope": "every key"},
    {"edit": "move_anchor", "to": {"fraction": [0.9, None]}, "scope": "throughout"},
    {"edit": "move_anchor", "to": {"station": "top right"}, "keep": "anchor"},
    {"edit": "pin_anchor", "pinned": False},
    {"edit": "turn_layers", "by": 25},
    {"edit": "move_layers", "by": [12, -7]},
    {"edit": "drag_handle", "handle": "right", "to": [420, 190]},
    {"edit": "drag_handle", "handle": "bottom right", "to": [420, 230], "by": "size"},
    {"edit": "bring_to", "to": "scene centre"},
    {"edit": "set_property", "property": "content.items.0.size", "value": [120, 60]},
    {"edit": "start_keying", "property": "scale"},
    {"edit": "bring_in", "station": "bottom", "length": 6},
    {"edit": "take_out", "angle": 90, "transparent": True, "length": 6},
    {"edit": "apply_recipe", "recipe": {"recipe": "impact"}},
    {"edit": "split_position"},
]


@pytest.mark.parametrize("motion", MOTIONS)
@pytest.mark.parametrize("hand", HANDS, ids=lambda hand: hand["edit"])
def test_a_shape_moves_as_a_layer_of_the_same_motion(motion: dict[str, Any], hand: dict[str, Any]) -> None:
    """The same edit of a layer, and of a shape in a layer at rest: the same matrices at every frame."""
    alone, within = pair(motion)
    of_many = hand["edit"] in ("turn_layers", "move_layers", "bring_to", "bring_in", "take_out", "apply_recipe")
    no_frame = hand["edit"] in ("pin_anchor", "split_position")

    def aimed(name: str) -> dict[str, Any]:
        at = {} if no_frame else {"frame": 12}
        return hand | at | ({"layers": [name]} if of_many else {"layer": name})

    try:
        wanted = edited(alone, aimed("alone"))
    except Refused as refusal:
        with pytest.raises(Refused, match=refusal.sentence[-20:]):
            edited(within, aimed("outer/1"))
        return
    made = edited(within, aimed("outer/1"))
    expected = np.broadcast_to(resolve(wanted.scene, FRAMES, NO_MEDIA).layers["alone"].matrix, (60, 6))
    assert np.abs(places(made.scene, "outer")["outer/1"] - expected).max() < 2e-6
    mine, theirs = item_layer(made.scene, "outer/1"), wanted.scene.layer("alone")
    assert [len(track.keys) for track in mine.tracks.values()] == [len(track.keys) for track in theirs.tracks.values()]
    assert wanted.words.split("Alone")[0] == made.words.split("Rectangle 2")[0]


def crab(**outer: Any) -> Scene:
    """A shell, an eye, and a group of two claws, one of which is keyed, in a layer of its own motion."""
    claw = PLATE | {"name": "Claw", "transform": {"anchor": [0, 1], "position": [90, 10], "rotation": SWING}}
    fixed = {"rest": [0, 0], "pinned": False}
    group = {
        "shape": "group",
        "name": "Claws",
        "items": [PLATE, claw],
        "transform": {"anchor": fixed, "position": [60, -20], "rotation": 20, "scale": [110, 110]},
    }
    shell = {"shape": "ellipse", "size": [160, 90], "fill": "#d9482f"}
    eye = {"shape": "ellipse", "size": [20, 20], "at": [30, -50], "fill": "#1b2628"}
    return scene(layer("Crab", content={"kind": "shape", "items": [shell, eye, group]}, **outer))


OUTER: list[dict[str, Any]] = [
    {"anchor": [0.5, 0.5]},
    {"anchor": [0, 1], "rotation": SWING, "scale": [-80, 120]},
    {"anchor": {"rest": [0, 0], "pinned": False}, "position": WAY, "rotation": 40},
]


@pytest.mark.parametrize("outer", OUTER)
@given(seed=st.integers(0, 10**6))
@cases(12)
def test_what_is_done_to_a_shape_moves_nothing_else(outer: dict[str, Any], seed: int) -> None:
    """Any hand on any item of a layer in motion, whose anchor is pinned or not: the others are where they were, at
    every frame, within a hundredth of a pixel."""
    dice = random.Random(seed)
    before = crab(**outer)
    items = list(places(before, "crab"))
    taken = dice.choice(items)
    by = [dice.uniform(-80, 80), dice.uniform(-80, 80)]
    frame = float(dice.randint(0, 59))
    edit = dice.choice([
        {"edit": "move_layers", "layers": [taken], "by": by},
        {"edit": "turn_layers", "layers": [taken], "by": by[0]},
        {"edit": "move_anchor", "layer": taken, "to": {"fraction": [0.1, 0.8]}},
        {"edit": "drag_handle", "layer": taken, "handle": "right", "to": [400, 200]},
        {"edit": "set_key", "layer": taken, "property": "rotation", "value": by[1], "ease": dice.choice(EASES)},
    ])  # fmt: skip
    try:
        after = edited(before, edit | {"frame": frame}).scene
    except Refused:
        return
    was, now = places(before, "crab"), places(after, "crab")
    for address in items:
        if address != taken and not address.startswith(f"{taken}/"):
            assert np.abs(now[address] - was[address]).max() < 0.01, (address, edit)
    if edit["edit"] == "move_layers" and frame < 60:
        moved = (now[taken] - was[taken])[int(frame), 4:]
        assert np.abs(moved - by).max() < 0.01


@pytest.mark.parametrize(
    "edit",
    [
        {"edit": "rename_layer", "layer": "crab/0", "name": "Shell"},
        {"edit": "set_visible", "layers": ["crab/0"], "visible": True},
        {"edit": "set_content", "layer": "crab/0", "path": "items.0.sweep", "value": {"rest": 200}},
        {"edit": "set_property", "layer": "crab/0", "frame": 0, "property": "content.items.0.fill", "value": "#112233"},
    ],
)
def test_a_shape_gets_a_transform_by_what_moves_it_alone(edit: dict[str, Any]) -> None:
    assert edited(crab(), edit).scene.layer("crab").content.items[0].transform is None
    turned = edited(crab(), edit, {"edit": "turn_layers", "layers": ["crab/0"], "frame": 0, "by": 9}).scene
    assert turned.layer("crab").content.items[0].transform is not None


EASED = {"rest": [0, 0], "keys": [{"frame": 2, "value": [0, 0]}, {"frame": 50, "value": [90, 30]}]}
COUNTER = {"rest": [60, 0], "keys": [
    {"frame": 2, "value": [60, 0], "ease": "ease-in-out"}, {"frame": 50, "value": [-30, -30]}]}  # fmt: skip


COLOURS = [{"frame": 0, "value": "#112233"}, {"frame": 9, "value": "#ffffff"}]


@pytest.mark.parametrize(
    "item",
    [
        {"shape": "line", "start": EASED, "end": COUNTER},
        {"shape": "line", "start": EASED, "end": {**COUNTER, "cadence": {"on": 7}}},
        PLATE | {"at": EASED},
        PLATE | {"size": {"rest": [9, 9], "keys": [{"frame": 0, "value": [9, 9]}, {"frame": 40, "value": [200, 60]}]}},
        PLATE | {"fill": {"rest": "#112233", "keys": COLOURS, "after": "repeat"}},
    ],
)  # fmt: skip
def test_a_shape_that_gets_a_transform_stays_as_it_was_drawn(item: dict[str, Any]) -> None:
    """Also where its ends agree half-way of a stretch, and differ before and after."""
    item = item | {"stroke": {"colour": "#000000"}}
    before = scene(layer("Crab", content={"kind": "shape", "items": [item, PLATE]}))
    after = edited(before, {"edit": "set_property", "layer": "crab/0", "frame": 0, "property": "opacity", "value": 50})
    was, now = places(before, "crab"), places(after.scene, "crab")
    assert after.scene.layer("crab").content.items[0].transform is not None
    assert max(np.abs(now[address] - was[address]).max() for address in was) < 1e-6
    if isinstance(item.get("fill"), dict):
        assert after.scene.layer("crab").content.items[0].transform.anchor.pinned, "a colour moves no box"


def test_rate_split_trim_and_duplicate_keep_what_shapes_do() -> None:
    before = crab(rotation=SWING)
    was = places(before, "crab")
    faster = edited(before, {"edit": "set_scene", "frame_rate": [60, 1]}).scene
    one = resolve(faster, FRAMES * 2, NO_MEDIA).layers["crab"]
    found = items_resolved(one, resolve(faster, FRAMES * 2, NO_MEDIA).context.around(one.layer, FRAMES * 2))
    for address, item in found.items():
        assert np.abs(np.broadcast_to(item.matrix, (60, 6)) - was[address]).max() < 1e-6
    cut = edited(before, {"edit": "split_layer", "layer": "crab", "frame": 23, "id": "tail"}).scene
    trimmed = edited(before, {"edit": "trim_span", "layer": "crab", "start": 9, "length": 40}).scene
    copied = edited(before, {"edit": "duplicate_layers", "layers": ["crab"], "ids": ["tail"]}).scene
    for made, name, frames in ((cut, "crab", slice(0, 23)), (cut, "tail", slice(23, 60)),
                               (trimmed, "crab", slice(9, 49)), (copied, "tail", slice(0, 60))):  # fmt: skip
        now = places(made, name)
        for address in was:
            key = address.replace("crab", name)
            assert np.abs(now[key][frames] - was[address][frames]).max() < 1e-6, (name, address)


def test_what_is_not_keyed_in_a_pose_of_a_shape_is_said_and_keyed_there() -> None:
    turn = {"edit": "set_property", "layer": "crab/2/1", "frame": 40, "property": "scale", "value": [50, 50]}
    outcome = edited(crab(), turn)
    assert outcome.unkeyed == "Scale is not keyed: this changes the whole shape."
    keyed = apply_edits(outcome.scene, list(outcome.keying), NO_MEDIA).scene
    keys = item_layer(keyed, "crab/2/1").scale.keys
    assert [(key.frame, key.value) for key in keys] == [(4, (100, 100)), (40, (50, 50))]


@pytest.mark.parametrize("outer", OUTER)
def test_groups_are_made_and_taken_apart_with_nothing_moved(outer: dict[str, Any]) -> None:
    before = crab(**outer)
    was = places(before, "crab")
    made = edited(before, {"edit": "group_items", "layers": ["crab/0", "crab/1"], "name": "Body"}).scene
    now = places(made, "crab")
    assert item_layer(made, "crab/0").name == "Body"
    moved = {"crab/0/0": "crab/0", "crab/0/1": "crab/1", "crab/2/0": "crab/2/0", "crab/2/1": "crab/2/1"}
    for new, old in moved.items():
        assert np.abs(now[new] - was[old]).max() < 1e-6
    apart = places(edited(made, {"edit": "ungroup_items", "layer": "crab/2"}).scene, "crab")
    for new, old in {"crab/1": "crab/2/0", "crab/2": "crab/2/1"}.items():
        # An anchor that had to be fixed follows its box within a thousandth of a pixel.
        assert np.abs(apart[new] - was[old]).max() < 0.002


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        ({"edit": "turn_layers", "layers": ["crab/0", "crab/2/0"], "frame": 0, "by": 9}, "lie in one layer or group"),
        ({"edit": "turn_layers", "layers": ["crab/7"], "frame": 0, "by": 9}, "That shape is not in"),
        ({"edit": "turn_layers", "layers": ["crab/0/0"], "frame": 0, "by": 9}, "only groups hold shapes"),
        ({"edit": "delete_layers", "layers": ["crab/0", "crab/1", "crab/2"]}, "holds at least one shape"),
        ({"edit": "set_blend", "layers": ["crab/0"], "blend": "screen"}, "a shape within a layer"),
        ({"edit": "split_layer", "layer": "crab/0", "frame": 9}, "cannot be done to shapes"),
        ({"edit": "align", "layers": ["crab/0"], "frame": 0, "edge": "left", "to": "scene"}, "aligned to one another"),
        ({"edit": "bring_in", "layers": ["crab/0"], "frame": 20, "side": "left"}, "no side of the scene"),
        ({"edit": "apply_recipe", "layers": ["crab/0"], "frame": 0, "recipe": {"recipe": "orbit"}}, "size of the sce"),
        ({"edit": "ungroup_items", "layer": "crab/2/1"}, "is no group"),
        ({"edit": "group_items", "layers": ["crab"]}, "Only shapes within a layer"),
        ({"edit": "add_layer", "into": "crab", "content": {"kind": "text", "text": "Tide"}}, "Only shapes stand"),
        ({"edit": "move_points", "layer": "crab/0", "frame": 0, "points": [0], "by": [1, 1]}, "is no path"),
    ],
)  # fmt: skip
def test_what_cannot_be_done_to_shapes_is_said_in_words(edit: dict[str, Any], told: str) -> None:
    before = crab()
    with pytest.raises(Refused, match=told):
        edited(before, edit)


def test_a_group_that_could_not_be_taken_apart_says_why() -> None:
    for change, told in (
        ({"property": "scale", "value": [100, 50]}, "stretched"),
        ({"property": "opacity", "value": 40}, "faded"),
    ):
        made = edited(crab(), {"edit": "set_property", "layer": "crab/2", "frame": 0, **change}).scene
        with pytest.raises(Refused, match=told):
            edited(made, {"edit": "ungroup_items", "layer": "crab/2"})
    keyed = edited(crab(), {"edit": "start_keying", "layer": "crab/2", "frame": 0, "property": "rotation"}).scene
    with pytest.raises(Refused, match="moves by itself"):
        edited(keyed, {"edit": "ungroup_items", "layer": "crab/2"})


def test_shapes_are_added_copied_ordered_hidden_and_deleted_within() -> None:
    made = crab(scale=[50, 50])
    content = {"kind": "shape", "items": [{"shape": "ellipse", "size": [10, 10], "fill": "#112233"}]}
    made = edited(made, {"edit": "add_layer", "into": "crab/2", "content": content, "position": [333, 222]}).scene
    one = places(made, "crab")["crab/2/2"]
    assert np.abs(apply(one[0], np.zeros(2)) - [333, 222]).max() < 1e-3, "at the point of the scene"
    made = edited(made, {"edit": "duplicate_layers", "layers": ["crab/2/1"]}).scene
    names = [item_layer(made, f"crab/2/{one.id}").name for one in made.layer("crab").content.items[2].items]
    assert names == ["Rectangle 1", "Claw", "Claw 2", "Ellipse"]
    made = edited(made, {"edit": "reorder_layer", "layer": "crab/2/3", "to": 0}).scene
    assert made.layer("crab").content.items[2].items[0].name == "Claw 2"
    made = edited(made, {"edit": "set_visible", "layers": ["crab/0"], "visible": False}).scene
    assert not made.layer("crab").content.items[0].visible
    made = edited(made, {"edit": "delete_layers", "layers": ["crab/0", "crab/1"]}).scene
    assert [item.label for item in made.layer("crab").content.items] == ["group"]


def test_an_address_stays_with_its_shape_when_others_go() -> None:
    """What another window deleted, grouped or put in another place leads no hand to another shape."""
    made = edited(crab(), {"edit": "delete_layers", "layers": ["crab/0"]}).scene
    assert item_layer(made, "crab/2").name == "Claws"
    made = edited(made, {"edit": "reorder_layer", "layer": "crab/2", "to": 0}).scene
    assert item_layer(made, "crab/2/1").name == "Claw"
    for gone in ("crab/0", "crab/2/5"):
        with pytest.raises(Refused, match="deleted in another window"):
            edited(made, {"edit": "turn_layers", "layers": [gone], "frame": 0, "by": 9})
    twins = layer("Twins", content={"kind": "shape", "items": [PLATE | {"id": "a"}, PLATE | {"id": "a"}]})
    with pytest.raises(Refused, match="two shapes have the id"):
        scene(twins)


def test_a_shape_three_deep_is_drawn_under_the_product_of_the_matrices() -> None:
    inner = PLATE | {"transform": {"position": [40, 30], "rotation": 30, "opacity": 50}}
    for depth in range(2):
        own = {"position": [20, 10 + depth], "rotation": -17, "scale": [120, 90]}
        inner = {"shape": "group", "items": [inner], "transform": own}
    nested = scene(layer("Crab", content={"kind": "shape", "items": [inner]}, rotation=9))
    drawn: Any = draw_list(resolve(nested, [0], NO_MEDIA)).groups[0]
    while hasattr(drawn.parts[0], "parts"):
        drawn = drawn.parts[0]
    assert np.abs(drawn.matrix[0] - places(nested, "crab")["crab/0/0/0"][0]).max() < 1e-4
    assert drawn.parts[0].fill[0, 3] == 128, "its opacity stands in its colour"


def test_what_several_shapes_are_sized_by() -> None:
    """A layer of shapes is sized by their sizes and places; turned or scaled ones leave its scale to be drawn."""
    plain = PLATE | {"transform": {"position": [50, 0]}}
    turned = PLATE | {"transform": {"position": [50, 0], "rotation": 20}}
    for items, grown in (([PLATE, plain], True), ([PLATE, turned], False)):
        made = scene(layer("Crab", content={"kind": "shape", "items": items}))
        after = edited(
            made,
            {"edit": "drag_handle", "layer": "crab", "frame": 0, "handle": "right", "to": [500, 180], "by": "size"},
        ).scene
        assert (after.layer("crab").scale.rest == (100, 100)) == grown
        box = resolve(after, [0], NO_MEDIA).layers["crab"]
        right = apply(box.matrix[0], box.box[0, :2] + box.box[0, 2:] * np.array([1, 0.5]))
        assert abs(right[0] - 500) < 0.01


def test_what_a_property_is_called_is_what_the_page_is_told() -> None:
    """By its pattern: the label of each property of a layer, what it is one of, and when that is said of the first."""
    shades = {"gradient": "linear", "stops": [{"at": 0, "colour": "#000000"}, {"at": 100, "colour": "#ffffff"}]}
    sun = {"shape": "star", "name": "Sun", "size": [9, 9], "fill": shades, "stroke": {"colour": shades}}
    ring = {"shape": "ellipse", "size": [9, 9], "fill": "#ffffff"}
    items = [{"shape": "group", "transform": {}, "items": [ring]}, sun, ring]
    content = {"kind": "shape", "items": items}
    softs = [{"id": f"e{n}", "effect": "soft-blur"} for n in (1, 2)]
    one = scene(layer("Buoy", content=content, masks=[{"id": "m", "shape": ring}], effects=softs)).layers[0]
    told = shown_kinds(Layer)
    for path in one.tracks:
        part: Any = one
        words: list[str] = []
        which: tuple[int, str] = 0, ""
        for word in path.split("."):
            part = part[int(word)] if word.isdigit() else getattr(part, word)
            if word.isdigit():
                which = int(word), getattr(part, "name", "")
            else:
                words.append(word)
            if tag := getattr(part, "told_by", ""):
                words[-1] += f":{getattr(part, tag)}"
        pattern = re.sub(r"^masks\.shape:", "content:shape.items:", ".".join(words))
        about = told[re.sub(r"(\.items:group)+", ".items:group", pattern)]
        number = which[1] or (f"{about.noun} {which[0] + 1}" if which[0] or about.told else "")
        assert label_of(path, one) == (f"{about.label} of {number}" if number else about.label), path
    labels = {path: label_of(path, one) for path in one.tracks}
    assert labels["content.items.0.transform.position"] == "Position of shape 1"
    assert labels["content.items.1.stroke.colour.stops.0.at"] == "Line place of stop 1"
    assert labels["content.items.2.size"] == "Size of shape 3"
    assert labels["effects.1.amount"] == "Amount of effect 2"


def test_formulas_of_before_find_the_numbers_of_gradients() -> None:
    """By the names that they had before stops, and the line's from the fill's, were told apart."""
    shades = {
        "gradient": "linear",
        "start": [7, 8],
        "stops": [{"at": 5, "colour": "#000000"}, {"at": 90, "colour": "#ffffff"}],
    }
    ring = {"shape": "ellipse", "size": [9, 9], "fill": None, "stroke": {"colour": shades}}
    reads = {"stop": 5, "stop_of_part_2": 90, "line_place_of_stop_1": 5, "starts_at.x": 7, "line_starts_at.y": 8}
    for name, value in reads.items():
        formula = f'scene["Ring"].{name}'
        reader = layer("Reader", rotation={"rest": 0, "formula": formula})
        content = {"kind": "shape", "items": [ring]}
        found = resolve(scene(layer("Ring", content=content), reader), FRAMES[:1], NO_MEDIA).layers["reader"]
        assert found.values["rotation"][0, 0] == value, name
