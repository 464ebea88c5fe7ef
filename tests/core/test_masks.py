"""Masks, crops, framing and mattes: what they leave, and that nothing else moves by them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mudskipper.core.checks import check_scene
from mudskipper.core.checks.not_showing import unseen
from mudskipper.core.contents.assets import NO_MEDIA, Assets, PictureInfo
from mudskipper.core.document.items_as_layers import item_layer
from mudskipper.core.document.read import read_scene, scene_of
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import tight_box
from mudskipper.core.resolve.items import items_resolved
from mudskipper.core.resolve.layers import ResolvedLayer
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.shapes.masks import BLACK
from tests.conftest import layer, scene
from tests.core.test_items import SWING, WAY, edited

FRAMES = np.arange(0.0, 60.0)
HOLE = {"name": "Hole", "shape": {"shape": "ellipse", "size": [60, 40], "at": [20, 5]}}
GROWING = {"rest": [60, 40], "keys": [{"frame": 5, "value": [20, 40]}, {"frame": 40, "value": [150, 80]}]}
CROP = {"left": -80, "top": -30, "right": 90, "bottom": 40}
CLOSING = {**CROP, "right": {"rest": 90, "keys": [{"frame": 3, "value": -60}, {"frame": 30, "value": 95}]}}


def at_all(made: Scene, name: str = "plate") -> ResolvedLayer:
    return resolve(made, FRAMES, NO_MEDIA).layers[name]


def drawn(made: Scene) -> np.ndarray:
    """Where content pixels are, at every frame (60, 6)."""
    return np.broadcast_to(at_all(made).content_matrix, (60, 6))


MOTIONS: list[dict[str, Any]] = [
    {},
    {"anchor": [0, 1], "scale": [-80, 130], "rotation": 25},
    {"anchor": [0.2, 0.9], "rotation": SWING, "position": WAY},
    {"anchor": {"rest": [0, 0], "keys": [{"frame": 0, "value": [0, 0]}, {"frame": 40, "value": [1, 1]}]}},
]
WINDOWS: list[tuple[dict[str, Any], dict[str, Any]]] = [
    ({}, {"edit": "add_mask", "layer": "plate", "frame": 20, "shape": "star"}),
    ({"masks": [HOLE]}, {"edit": "set_mask", "layer": "plate", "mask": "0", "mode": "subtract"}),
    ({"masks": [HOLE]}, {"edit": "delete_layers", "layers": ["plate/@/0"]}),
    ({"masks": [HOLE]}, {"edit": "set_visible", "layers": ["plate/@/0"], "visible": False}),
    ({"masks": [HOLE]}, {"edit": "move_layers", "layers": ["plate/@/0"], "frame": 20, "by": [14, -9]}),
    ({"masks": [HOLE]}, {"edit": "start_keying", "layer": "plate", "property": "masks.0.shape.size", "frame": 9}),
    ({"masks": [HOLE]}, {"edit": "set_property", "layer": "plate", "property": "masks.0.shape.size", "value": [80, 30],
                         "frame": 20}),
    ({"crop": CROP}, {"edit": "set_property", "layer": "plate", "property": "crop.left", "value": -10, "frame": 20}),
    ({"crop": CLOSING}, {"edit": "set_crop", "layer": "plate", "on": False, "frame": 20}),
    ({}, {"edit": "set_crop", "layer": "plate", "on": True, "frame": 20}),
    ({"crop": CROP}, {"edit": "set_framing", "layer": "plate", "on": True}),
    ({"masks": [{**HOLE, "shape": {**HOLE["shape"], "size": GROWING}}]},
     {"edit": "turn_layers", "layers": ["plate/@/0"], "frame": 20, "by": 30}),
]  # fmt: skip


@pytest.mark.parametrize("motion", MOTIONS)
@pytest.mark.parametrize(("had", "edit"), WINDOWS)
def test_a_window_is_changed_and_the_picture_behind_it_stays(
    motion: dict[str, Any], had: dict[str, Any], edit: dict[str, Any]
) -> None:
    """However a mask or a crop changes the box to which the anchor is pinned: at every frame within 0.001 px."""
    before = scene(layer(**motion, **had))
    after = edited(before, edit).scene
    assert after != before
    assert np.abs(drawn(after) - drawn(before)).max() < 1e-3


@pytest.mark.parametrize("motion", MOTIONS[:3])
def test_content_moves_behind_its_window_and_nothing_else(motion: dict[str, Any]) -> None:
    """By as many scene pixels as the hand moved, at the frame of the hand; box, anchor, mask and path stay."""
    window = {"masks": [{**HOLE, "transform": {"rotation": SWING}}], "crop": CROP}
    before = scene(layer(**motion, **window, framing={"zoom": 140, "turn": 20}))
    after = edited(before, {"edit": "move_content", "layer": "plate", "frame": 20, "by": [31, -12]}).scene
    gap = drawn(after)[20] - drawn(before)[20]
    assert np.abs(gap - [0, 0, 0, 0, 31, -12]).max() < 1e-4
    old, new = at_all(before), at_all(after)
    for part in ("matrix", "box", "anchor"):
        assert (getattr(old, part) == getattr(new, part)).all()


def test_content_is_framed_as_its_numbers_say() -> None:
    """`about` stays put but for the offset, while the content is zoomed and turned about it."""
    framing = {"offset": [7, -3], "zoom": 150, "turn": 90, "about": [25, 100]}
    made = at_all(scene(layer(framing=framing)))
    assert made.framed is not None
    about = np.array([-50.0, 50.0])
    assert np.allclose(apply(made.framed[0], about), about + np.array([7, -3]))
    assert np.allclose(apply(made.framed[0], about + np.array([10, 0])), about + np.array([7, -3 + 15]))


def test_a_framed_layer_without_a_window_is_cropped_to_its_own_box() -> None:
    made = scene(layer(framing={"zoom": 300, "offset": [40, 0]}))
    one = resolve(made, [0.0], NO_MEDIA)
    assert one.layers["plate"].box.tolist() == [[-100, -50, 200, 100]]
    assert np.allclose(tight_box(one.layers["plate"], one.context), [[-100, -50, 200, 100]])


BOXES: list[tuple[list[dict[str, Any]], list[float]]] = [
    ([HOLE], [-10, -15, 60, 40]),
    ([HOLE, {"shape": {"shape": "rectangle", "size": [20, 20], "at": [-60, 0]}}], [-70, -15, 120, 40]),
    ([{**HOLE, "mode": "subtract"}], [-100, -50, 200, 100]),
    ([{**HOLE, "inverted": True}], [-100, -50, 200, 100]),
    ([HOLE, {"shape": {"shape": "rectangle", "size": [20, 20], "at": [50, 0]}, "mode": "intersect"}],
     [40, -10, 10, 20]),
    ([{**HOLE, "visible": False}], [-100, -50, 200, 100]),
    ([{"shape": {"shape": "rectangle", "size": [900, 20]}}], [-100, -10, 200, 20]),
    ([{"shape": {"shape": "rectangle", "size": [9, 9], "at": [500, 0]}}], [100, -4.5, 0, 9]),
    ([{"shape": {"shape": "line", "start": [-50, 10], "end": [30, 10], "stroke": {"colour": "#ffffff", "width": 8}}}],
     [-50, 6, 80, 8]),
    ([{**HOLE, "transform": {"rotation": 90, "position": [20, 5]}}], [0, -25, 40, 60]),
]  # fmt: skip


@pytest.mark.parametrize(("masks", "box"), BOXES)
def test_the_box_is_of_what_masks_leave(masks: list[dict[str, Any]], box: list[float]) -> None:
    assert np.allclose(at_all(scene(layer(masks=masks))).box[0], box)


def ringed(**target: Any) -> Scene:
    """A plate, and a star over it that turns."""
    star = {"shape": "star", "size": [90, 90], "points": 5, "fill": "#ffffff"}
    over = layer("Star", content={"kind": "shape", "items": [star]}, position=[350, 170], rotation=SWING, opacity=60)
    over["span"] = {"start": 6, "length": 50}
    return scene(layer(**target), over)


def outline_in_scene(made: Scene, address: str) -> np.ndarray:
    """The corners of a shape's outline in the scene at every frame (60, k, 2)."""
    one = resolve(made, FRAMES, NO_MEDIA).layers[address.split("/")[0]]
    found = items_resolved(one, Context(made, NO_MEDIA).around(one.layer, FRAMES))[address]
    values = {path.removeprefix("content.items.0."): value for path, value in found.values.items()}
    _, points = found.layer.content.items[0].outline(values)
    at = points.reshape(len(points), -1, 2)
    return np.broadcast_to(apply(found.matrix[:, None], at), (60, at.shape[1], 2))


@pytest.mark.parametrize(
    ("target", "kept"),
    [
        ({"rotation": 30, "scale": [70, 70], "anchor": [0, 1]}, True),
        ({"rotation": SWING}, False),
        ({"scale": [50, 120], "rotation": 20}, False),
    ],
)
def test_a_shape_over_a_layer_becomes_its_mask_where_it_is(target: dict[str, Any], kept: bool) -> None:
    """With its motion over a layer that rests; else as it lies at the frame, sheared ones as paths."""
    before = ringed(**target)
    outcome = edited(before, {"edit": "mask_with", "layer": "plate", "by": "star", "frame": 20})
    assert [one.id for one in outcome.scene.layers] == ["plate"]
    (mask,) = outcome.scene.layers[0].masks
    assert mask.name == "Star"
    old, new = outline_in_scene(before, "star/0"), outline_in_scene(outcome.scene, "plate/@/0")
    if kept:
        assert np.abs(new - old).max() < 1e-6
        assert not any("without its own motion" in notice for notice in outcome.notices)
        return
    assert np.abs(old[20] - new[20]).max() < 1e-6
    assert "without its own motion" in outcome.notices[0]
    assert np.abs(drawn(outcome.scene) - drawn(before)).max() < 1e-3


REFUSED: list[tuple[dict[str, Any], str]] = [
    ({"edit": "mask_with", "layer": "plate", "by": "words", "frame": 0}, "no shape with an area or a stroke"),
    ({"edit": "mask_with", "layer": "plate", "by": "plate", "frame": 0}, "cannot mask itself"),
    ({"edit": "mask_with", "layer": "askew", "by": "turned", "frame": 0}, "would be sheared as a mask"),
    ({"edit": "set_mask", "layer": "askew", "mask": "0", "covers": "both"}, "is a line, which has no inside"),
    ({"edit": "add_mask", "layer": "plate", "frame": 0, "shape": "line"}, "draw a path"),
    ({"edit": "set_mask", "layer": "plate", "mask": "7", "mode": "subtract"}, "deleted in another window"),
    ({"edit": "delete_layers", "layers": ["plate/@/7"]}, "That mask is not in 'Plate'"),
    ({"edit": "group_items", "layers": ["plate/@/0"]}, "neither grouped nor repeated"),
    ({"edit": "group_items", "layers": ["words/@/0"]}, "neither grouped nor repeated"),
    ({"edit": "ungroup_items", "layer": "words/@/0"}, "neither grouped nor repeated"),
    ({"edit": "set_repeat", "layer": "words/@/0", "on": True, "frame": 0}, "neither grouped nor repeated"),
    ({"edit": "set_paint", "layer": "words/@/0", "kind": "linear"}, "has no colours of its own"),
    ({"edit": "mask_with", "layer": "plate", "by": "rays", "frame": 0}, "'Rays' is repeated"),
    ({"edit": "add_layer", "into": "plate/@", "content": {"kind": "text", "text": "Tide"}}, "one shape and nothing"),
    ({"edit": "set_matte", "layer": "plate", "matte": "plate"}, "its own matte"),
    ({"edit": "set_matte", "layer": "plate", "matte": "words"}, "in a circle"),
    ({"edit": "set_matte", "layer": "plate", "matte": "ghost"}, "is not in scene"),
    ({"edit": "set_matte", "layer": "plate", "inverted": True}, "has no matte"),
    ({"edit": "set_property", "layer": "plate", "property": "masks.0.feather", "value": -4, "frame": 0}, ""),
]


@pytest.mark.parametrize(("edit", "told"), REFUSED)
def test_what_cannot_be_masked_is_said(edit: dict[str, Any], told: str) -> None:
    stroke = {"colour": "#ffffff", "width": 4}
    line = {"kind": "shape", "items": [{"shape": "line", "start": [0, 0], "end": [9, 9], "stroke": stroke}]}
    words = layer("Words", content={"kind": "text", "text": "Low"}, matte={"layer": "plate"}, masks=[HOLE])
    rays = {"shape": "rectangle", "size": [9, 9], "fill": "#ffffff", "repeat": {}}
    drawn_line = {"name": "Line", "shape": line["items"][0]}
    others = (
        layer("Askew", scale=[100, 40], masks=[drawn_line]), layer("Turned", content=line, rotation=30),
        layer("Rays", content={"kind": "shape", "items": [rays]}),
    )  # fmt: skip
    made = scene(layer(masks=[HOLE]), words, *others)
    if not told:
        assert "stops at 0" in edited(made, edit).notices[0]
        return
    with pytest.raises(Refused, match=told):
        edited(made, edit)


def test_a_mask_without_an_area_is_refused_with_its_path() -> None:
    line = {"shape": "line", "start": [0, 0], "end": [9, 9]}
    with pytest.raises(Exception, match="has no area"):
        scene(layer(masks=[{"shape": line}]))


def test_a_mask_on_a_shape_makes_a_group_of_it_under_the_same_address() -> None:
    items = [{"shape": "ellipse", "size": [90, 90], "fill": "#ffffff"}, {"shape": "rectangle", "size": [30, 30]}]
    before = scene(layer("Two", content={"kind": "shape", "items": items}))
    after = edited(before, {"edit": "add_mask", "layer": "two/1", "frame": 0}).scene
    assert [mask.name for mask in item_layer(after, "two/1").masks] == ["Rectangle"]
    assert item_layer(after, "two/1/@/0").name == "Rectangle"
    again = edited(after, {"edit": "move_layers", "layers": ["two/1/@/0"], "frame": 0, "by": [10, 0]}).scene
    old, new = (outline_in_scene(one, "two/1/@/0")[0] for one in (after, again))
    assert np.allclose(new - old, [10, 0])


@pytest.mark.parametrize("part", [{"masks": [HOLE]}, {"repeat": {"move": [9, 0]}}])
def test_a_group_that_is_masked_or_repeated_is_not_taken_apart(part: dict[str, Any]) -> None:
    """Its shapes could not be so by themselves, and would look otherwise."""
    group = {"shape": "group", "name": "Two", "items": [HOLE["shape"], HOLE["shape"]], **part}
    made = scene(layer(content={"kind": "shape", "items": [group]}))
    with pytest.raises(Refused, match="could not be by themselves"):
        edited(made, {"edit": "ungroup_items", "layer": "plate/0"})


def test_a_copy_of_a_mask_acts_as_the_mask_does() -> None:
    first = {**HOLE, "mode": "subtract", "inverted": True, "feather": 7}
    after = edited(scene(layer(masks=[first])), {"edit": "duplicate_layers", "layers": ["plate/@/0"]}).scene
    old, new = after.layers[0].masks
    assert (new.mode, new.inverted, new.feather, new.name) == ("subtract", True, old.feather, "Hole 2")
    again = edited(after, {"edit": "reorder_layer", "layer": "plate/@/0", "to": 1}).scene
    assert [mask.name for mask in again.layers[0].masks] == ["Hole 2", "Hole"]


def test_a_stroke_that_is_drawn_in_part_becomes_a_mask_with_its_motion() -> None:
    """Reveals along a line: its keys count from the start of what it masks, and its colours are gone."""
    part = {"end": {"rest": 100, "keys": [{"frame": 4, "value": 0}, {"frame": 24, "value": 100}]}}
    stroke = {"colour": "#8844ffcc", "width": 60, "cap": "round", "part": part}
    line = {"shape": "line", "start": [-90, 0], "end": [90, 0], "stroke": stroke}
    over = layer("Sweep", content={"kind": "shape", "items": [line]}, span={"start": 6, "length": 50})
    after = edited(scene(layer(), over), {"edit": "mask_with", "layer": "plate", "by": "sweep", "frame": 20}).scene
    (mask,) = after.layers[0].masks
    assert (mask.name, mask.covers, mask.acts) == ("Sweep", "stroke", True)
    assert [key.frame for key in mask.shape.stroke.part.end.keys] == [10, 30]
    assert mask.shape.stroke.colour == BLACK
    assert read_scene(after.to_json()) == after
    set_end = {"edit": "set_property", "layer": "plate/@/0", "property": "content.items.0.stroke.width", "value": 20}
    thinner = edited(after, {**set_end, "frame": 0}).scene
    assert resolve(thinner, [30.0], NO_MEDIA).layers["plate"].box.tolist() == [[-100, -10, 200, 20]]
    copied = edited(after, {"edit": "duplicate_layers", "layers": ["plate/@/0"]}).scene
    assert [one.covers for one in copied.layers[0].masks] == ["stroke", "stroke"]


def test_what_a_mask_covers_is_chosen_and_what_is_lost_is_said() -> None:
    def chosen(made: Scene, covers: str) -> Any:
        return edited(
            made, {"edit": "set_mask", "layer": "plate", "mask": made.layers[0].masks[0].id, "covers": covers}
        )

    made = edited(scene(layer(masks=[HOLE])), {"edit": "rename_layer", "layer": "plate/@/0", "name": "Hole"}).scene
    seen = [(covers, (made := chosen(made, covers).scene).layers[0].masks[0].covers) for covers in ("stroke", "both")]
    assert seen == [("stroke", "stroke"), ("both", "both")]
    width = {"layer": "plate/@/0", "property": "content.items.0.stroke.width", "frame": 4}
    assert not chosen(made, "inside").notices
    keyed = edited(made, {"edit": "start_keying", **width}).scene
    for value, frame in ((4, 4), (30, 20)):
        keyed = edited(keyed, {"edit": "set_property", **width, "frame": frame, "value": value}).scene
    outcome = chosen(keyed, "inside")
    assert outcome.scene.layers[0].masks[0].shape.stroke is None
    assert outcome.notices == ("The stroke of 'Hole' is gone, and its motion with it.",)


def test_a_framed_shape_becomes_a_mask_where_it_is_seen() -> None:
    """Its own motion could not be kept, since it lies elsewhere than it is drawn."""
    star = {"shape": "star", "size": [90, 90], "points": 5, "fill": "#ffffff"}
    framed = {"framing": {"offset": [30, -12], "zoom": 140, "turn": 20}, "masks": [HOLE]}
    over = layer("Star", content={"kind": "shape", "items": [star]}, rotation=SWING, **framed)
    before = scene(layer(), over)
    after = edited(before, {"edit": "mask_with", "layer": "plate", "by": "star", "frame": 20}).scene
    old, new = outline_in_scene(before, "star/0"), outline_in_scene(after, "plate/@/0")
    assert np.abs(old[20] - new[20]).max() < 1e-6


def test_a_matte_follows_its_layer() -> None:
    """Deleted, it is gone, with a word; copied together, the copy is shown in the copy."""
    made = scene(layer("Window", visible=False), layer("Photo", matte={"layer": "window"}))
    copied = edited(made, {"edit": "duplicate_layers", "layers": ["window", "photo"], "ids": ["w2", "p2"]}).scene
    assert [one.matte.layer for one in copied.layers if one.matte] == ["window", "w2"]
    outcome = edited(made, {"edit": "delete_layers", "layers": ["window"]})
    assert outcome.scene.layers[0].matte is None
    assert "no matte any more" in outcome.notices[0]
    moved = edited(made, {"edit": "move_layers", "layers": ["window"], "frame": 0, "by": [5, 5]})
    assert set(moved.scene.with_dependents({"window"})) == {"window", "photo"}


def test_documents_of_before_are_read() -> None:
    """Layers were once written with a mask that was always null."""
    made = scene(layer())
    data = made.model_dump(by_alias=True, mode="json") | {"schema": "mudskipper.scene/1"}
    data["layers"][0]["mask"] = None
    assert scene_of(data) == made
    data["layers"][0]["mask"] = {"size": 3}
    with pytest.raises(Refused, match="mask"):
        scene_of(data)


UNSEEN: list[tuple[dict[str, Any], str, str]] = [
    (
        {"masks": [{"shape": {"shape": "rectangle", "size": [9, 9], "at": [500, 0]}}]},
        "masked",
        "its mask leaves nothing",
    ),
    ({"masks": [HOLE, {**HOLE, "mode": "subtract"}], "crop": {**CROP, "right": -90}}, "masked", "crop and masks leave"),
    ({"crop": {**CROP, "right": -90}}, "masked", "its crop leaves nothing"),
    ({"matte": {"layer": "late"}}, "matte", "only where 'Late' is, which is not there here"),
]


@pytest.mark.parametrize(("fields", "reason", "told"), UNSEEN)
def test_why_a_layer_does_not_show_knows_its_window(fields: dict[str, Any], reason: str, told: str) -> None:
    """In words, with the edits that show it again, or the frame at which it shows."""
    late = layer("Late", span={"start": 30, "length": 9}, position=[900, 100], visible=False)
    made = scene(late, layer(**fields))
    (why,) = [one for one in unseen(made, 5, NO_MEDIA) if one.layer == "plate"]
    assert why.reason == reason
    assert told in why.sentence
    if why.go is not None:
        assert why.go == 30
        assert [one.layer for one in unseen(made, why.go, NO_MEDIA)] == ["late"]
        return
    after = apply_edits(made, list(why.edits), NO_MEDIA).scene
    assert [one.layer for one in unseen(after, 5, NO_MEDIA)] == ["late"]


PHOTO = Assets({"p": PictureInfo(id="p", width=640, height=360)})
GROUND = {"content": {"kind": "picture", "asset": "p"}}


@pytest.mark.parametrize(
    ("fields", "found"),
    [
        ({}, []),
        ({"framing": {"zoom": 150}}, ["sharpness"]),
        ({"framing": {"offset": [30, 0]}}, ["coverage"]),
        ({"masks": [HOLE], "scale": [99, 99]}, []),
        ({"scale": [99, 99]}, ["coverage"]),
        ({"matte": {"layer": "other"}, "scale": [99, 99]}, []),
    ],
)
def test_checks_look_at_what_lies_behind_a_window(fields: dict[str, Any], found: list[str]) -> None:
    """Content that is enlarged or leaves its window bare is found and mended there; a masked picture is no ground."""
    other = layer("Other", content={"kind": "text", "text": "x"}, visible=False)
    made = scene(other, layer(**GROUND, **fields))
    findings = [one for one in check_scene(made, PHOTO) if one.layer == "plate"]
    assert [one.check for one in findings] == found
    if "zoom" in fields.get("framing", {}):
        after = apply_edits(made, list(findings[0].edits), PHOTO).scene
        assert after.layer("plate").framing.zoom.rest == pytest.approx(100)
        assert after.layer("plate").scale.rest == (100, 100)
        assert [one for one in check_scene(after, PHOTO) if one.layer == "plate"] == []
