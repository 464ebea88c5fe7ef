"""Ready-made moves, entrances, arranging and checks."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.checks import CheckCache, check_scene
from mudskipper.core.contents.assets import NO_MEDIA, Assets, ClipInfo, PictureInfo
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.coverage import bare_parts
from mudskipper.core.ground.errors import Refused
from mudskipper.core.recipes import RECIPES, Recipe
from mudskipper.core.recipes.cascades import CascadeRecipe
from mudskipper.core.recipes.fields import fields_of
from mudskipper.core.recipes.preview import preview
from mudskipper.core.resolve.corners import corners
from mudskipper.core.resolve.drawing import tight_box
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene
from tests.core.test_edits import done
from tests.core.test_items import EDIT
from tests.core.test_motion import motion

SIZE = np.array([640, 360])


def recipe(name: str, **numbers: Any) -> dict[str, Any]:
    return {"edit": "apply_recipe", "layers": ["plate"], "frame": 10, "recipe": {"recipe": name, **numbers}}


def after(edit: dict[str, Any], **tracks: Any) -> np.ndarray:
    """The corners at every frame: (4, 60, 2)."""
    return motion(done(scene(layer(**tracks)), edit).scene)


AT_REST = np.array([[220, 130], [420, 130], [220, 230], [420, 230]])


@pytest.mark.parametrize(
    ("name", "numbers", "rest_at"),
    [
        ("grow from an edge", {"station": "left"}, 24),
        ("swing in on a corner", {}, 40),
        ("drop in", {}, 34),
        ("push in on a point", {"length": 20}, 10),
        ("impact", {}, 20),
        ("wipe across the frame", {}, 30),
        ("settle with bounce", {}, 34),
        ("orbit", {"length": 30}, 40),
    ],
)
def test_recipes_leave_the_layer_where_it_stands(name: str, numbers: dict[str, Any], rest_at: int) -> None:
    corners = after(recipe(name, **numbers))
    assert np.allclose(corners[:, rest_at], AT_REST, atol=1e-6)


FILMED = Assets(clips={"film": ClipInfo.steady("film", (640, 360), 300, (30, 1))})


@pytest.mark.parametrize("kind", [kind for kind in RECIPES if not kind.together])
def test_a_preview_is_what_the_recipe_makes(kind: type[Recipe]) -> None:
    """At every frame of the move; also where the layer is there for too short a time, or the playhead before it."""
    recipe: Any = kind(**{field.name: field.default for field in fields_of(kind)})
    assert recipe == kind()
    span = {"start": 5, "length": 200}
    turning = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 50, "value": 40}]}
    text = {"kind": "text", "text": "12 tides", "size": 40}
    lined = {"shape": "rectangle", "size": [200, 100], "stroke": {"colour": "#0e3f45", "width": 4}}
    shown: dict[str, Any] = {
        "draw the line": {"kind": "shape", "items": [lined]}, "speed ramp": {"kind": "clip", "asset": "film"},
    }  # fmt: skip
    what = text if issubclass(kind, CascadeRecipe) else shown.get(recipe.recipe)
    content = {"content": what} if what else {}
    made = scene(layer(rotation=turning, span=span, **content), layer("Other"))
    seen = preview(made, "plate", recipe, 20, FILMED)
    edit = {"edit": "apply_recipe", "layers": ["plate"], "recipe": recipe.model_dump(), "frame": 20}
    kept = resolve(done(made, edit).scene, seen.frames, FILMED).layers["plate"]
    assert list(seen.layers) == ["plate"]
    assert np.allclose(seen.layers["plate"].matrix, kept.matrix)
    short = scene(layer(span={"start": 5, "length": 2}, **content))
    early = preview(short, "plate", recipe, 0, FILMED)
    assert early.frames[0] == 5
    assert early.layers["plate"].visible.all()


def test_recipes_do_what_they_say() -> None:
    grown = after(recipe("grow from an edge", station="left"))
    assert np.allclose(grown[[0, 2], :, 0], 220)
    assert np.allclose(grown[1, 10], [220, 130])
    swung = after(recipe("swing in on a corner", angle=-90.0))
    assert np.allclose(swung[0], [220, 130])
    assert np.allclose(swung[1, 10], [220, -70])
    dropped = after(recipe("drop in", side="top"))
    assert dropped[:, 10, 1].max() == pytest.approx(0)
    slid = done(scene(layer()), recipe("slide through by anchor")).scene
    assert not slid.layers[0].position.keys
    assert motion(slid, [10])[0, 0, 0] - motion(slid, [50])[0, 0, 0] == pytest.approx(-200)
    round_it = motion(done(scene(layer(position=[320, 100])), recipe("orbit", length=40)).scene, np.arange(10, 51))
    middle = round_it.mean(axis=0)
    assert np.allclose(np.hypot(*(middle - SIZE / 2).T), 80)
    pushed = after(recipe("push in on a point", point=[0.25, 0.5], zoom=150.0, length=20))
    assert np.allclose(pushed[:, 40].min(axis=0), [270 - 75, 180 - 75])
    wiped = after(recipe("wipe across the frame", length=10, rest=5))
    assert np.ptp(wiped[:, 10, 0]) == pytest.approx(0, abs=1e-6)
    assert np.allclose(wiped[:, 36, 0], 420)


@pytest.mark.parametrize("size", [[200, 100], [80, 300]])
def test_an_endless_spin_covers_at_every_angle_and_no_larger(size: list[int]) -> None:
    """The closed form against every corner of the scene at 3,600 angles."""
    item = {"shape": "rectangle", "size": size}
    made = scene(layer(content={"kind": "shape", "items": [item]}, scale=[1, 1]))
    spun = done(made, recipe("endless spin that always covers", speed=-36.0)).scene
    one = resolve(spun, np.arange(0, 360, 0.1), NO_MEDIA).layers["plate"]
    a, b, c, d, e, f = one.matrix.T
    for x, y in ((0, 0), (640, 0), (0, 360), (640, 360)):
        det = a * d - b * c
        u, v = (d * (x - e) - c * (y - f)) / det, (-b * (x - e) + a * (y - f)) / det
        share = np.maximum(np.abs(u) * 2 / size[0], np.abs(v) * 2 / size[1])
        assert share.max() <= 1 + 1e-9
        assert share.max() > 0.9999
    assert not [found for found in check_scene(spun, NO_MEDIA) if found.check == "coverage"]


def test_a_stagger_goes_by_its_order() -> None:
    made = scene(*(layer(name) for name in "ABCDE"))
    edit = {**recipe("settle with bounce", length=10), "layers": list("abcde"), "stagger": 3}
    starts = {}
    for order in ("as given", "reversed", "from the middle", "from the ends"):
        found = done(made, {**edit, "order": order}).scene
        starts[order] = [int(one.scale.keys[0].frame) - 10 for one in found.layers]
    assert starts == {
        "as given": [0, 3, 6, 9, 12],
        "reversed": [12, 9, 6, 3, 0],
        "from the middle": [6, 3, 0, 3, 6],
        "from the ends": [0, 3, 6, 3, 0],
    }
    outcome = done(made, {**recipe("settle with bounce", length=10), "layers": ["a"], "frame": 55})
    assert outcome.notices == ("'settle with bounce' takes 4 frames and not 10 on 'A': no more fit into its span.",)
    with pytest.raises(Refused, match="is there for only 1 from frame 59 on"):
        done(made, {**edit, "frame": 59})


@pytest.mark.parametrize("side", ["left", "right", "top", "bottom"])
def test_bringing_in_begins_just_outside(side: str) -> None:
    """Turned and scaled, from a side: at the start the bounds touch the scene's edge from outside."""
    made = scene(layer(rotation=30, scale=[150, 80]))
    edit = {
        "edit": "bring_in",
        "layers": ["plate"],
        "frame": 30,
        "length": 12,
        "side": side,
        "angle": -45.0,
        "transparent": True,
    }
    brought = done(made, edit).scene
    assert np.allclose(motion(brought, [30, 45]), motion(made, [30, 45]))
    start = motion(brought, [18])[:, 0]
    touches = {
        "left": start[:, 0].max(),
        "right": start[:, 0].min() - 640,
        "top": start[:, 1].max(),
        "bottom": start[:, 1].min() - 360,
    }
    assert touches[side] == pytest.approx(0, abs=1e-6)
    assert resolve(brought, [18], NO_MEDIA).layers["plate"].opacity[0, 0] == 0
    out = done(made, {**edit, "edit": "take_out"}).scene
    assert np.allclose(motion(out, [10, 30]), motion(made, [10, 30]))
    with pytest.raises(Refused, match="Choose at least one way"):
        done(made, {"edit": "bring_in", "layers": ["plate"], "frame": 30})
    near = done(made, {**edit, "frame": 5})
    assert near.notices == ("The move of 'Plate' takes 5 frames and not 12: no more fit before the landing.",)
    assert [key.frame for key in near.scene.layers[0].rotation.keys] == [0, 5]
    assert np.allclose(motion(near.scene, [5, 45]), motion(made, [5, 45]))
    with pytest.raises(Refused, match="begins at this very frame, so there is no room for it to come in before it"):
        done(made, {**edit, "frame": 0})


def test_bringing_in_from_nothing_at_a_station() -> None:
    made = scene(layer(rotation=90))
    grown = done(made, {"edit": "bring_in", "layers": ["plate"], "frame": 20, "station": "bottom"}).scene
    corners = motion(grown)
    assert np.allclose(corners[:, 20], motion(made, [20])[:, 0])
    assert np.allclose(corners[:, 8], [270, 180])


@pytest.mark.parametrize("way", ["bring_in", "take_out"])
@pytest.mark.parametrize(
    ("side", "step"), [("left", (-40, 0)), ("right", (40, 0)), ("top", (0, -40)), ("bottom", (0, 40))]
)
def test_coming_from_a_distance_and_a_scale_one_after_another(way: str, side: str, step: tuple[float, float]) -> None:
    """So many pixels of the scene away, also on a turned carrier, at a share of its scale; each lands as it was, a
    stagger after the one before it in the order."""
    plates = [
        layer("Pole", rotation=50, scale=[150, 80]), layer("A", carrier="pole", scale=[80, -60]),
        layer("B", position=[100, 90]), layer("C", position=[500, 200], rotation=20),
    ]  # fmt: skip
    made = scene(*plates)
    ids = ["a", "b", "c"]
    edit = {"edit": way, "layers": ids, "frame": 20, "length": 8, "side": side, "distance": 40, "scale": 150,
            "stagger": 5, "order": "reversed", "ease": "linear"}  # fmt: skip
    after = done(made, edit).scene
    for name, late in zip(ids, (10, 5, 0), strict=True):
        landed = 20 + late
        other = landed - 8 if way == "bring_in" else landed + 8
        still = [0 if way == "take_out" else 59, landed]
        assert np.allclose(motion(after, still, name), motion(made, still, name)), name
        here, there = (resolve(one, [other], NO_MEDIA).layers[name] for one in (made, after))
        assert np.allclose(there.place[0] - here.place[0], step, atol=1e-6), name
        assert np.allclose(there.values["scale"][0], 1.5 * here.values["scale"][0]), name


def test_layers_are_aligned_distributed_and_split() -> None:
    made = scene(
        layer("A", position=[100, 50]), layer("B", position=[300, 90], rotation=90), layer("C", position=[600, 300])
    )
    ids = ["a", "b", "c"]
    left = done(made, {"edit": "align", "layers": ids, "frame": 0, "edge": "left"}).scene
    assert [motion(left, [0], one)[:, 0, 0].min() for one in ids] == pytest.approx([0, 0, 0])
    middle = done(made, {"edit": "align", "layers": ids, "frame": 0, "edge": "centre y", "to": "selection"}).scene
    assert {round(motion(middle, [0], one)[:, 0, 1].mean(), 6) for one in ids} == {170}
    even = done(made, {"edit": "distribute", "layers": ids, "frame": 0, "axis": "x"}).scene
    ends = [(motion(even, [0], one)[:, 0, 0].min(), motion(even, [0], one)[:, 0, 0].max()) for one in ids]
    assert ends[1][0] - ends[0][1] == pytest.approx(ends[2][0] - ends[1][1])
    turning = scene(
        layer(rotation={"rest": 0, "keys": [{"frame": 3, "value": 0, "ease": "ease"}, {"frame": 50, "value": 300}]})
    )
    parts = done(turning, {"edit": "split_layer", "layer": "plate", "frame": 25, "id": "tail"}).scene
    assert [(one.span.start, one.span.length) for one in parts.layers] == [(0, 25), (25, 35)]
    assert np.allclose(motion(parts, np.arange(25, 60), "tail"), motion(turning, np.arange(25, 60)), atol=1e-9)


PICTURE = Assets({
    "harbour": PictureInfo(id="harbour", width=640, height=360),
    "large": PictureInfo(id="large", width=1280, height=720),
})  # fmt: skip


def ground(asset: str = "harbour", **tracks: Any) -> dict[str, Any]:
    return layer("Ground", content={"kind": "picture", "asset": asset}, **tracks)


def text(words: str, **tracks: Any) -> dict[str, Any]:
    return layer("Title", content={"kind": "text", "text": words, "align": "centre", "size": 40}, **tracks)


def written(formula: str, typed: str) -> dict[str, Any]:
    """A text that is up for a second from frame 5, as a formula writes it."""
    content = {"kind": "text", "text": typed, "align": "centre", "size": 9, "written": {"formula": formula}}
    return layer("Title", content=content, span={"start": 5, "length": 30})


def test_a_short_text_by_formula_is_read_in_time_whatever_was_typed() -> None:
    made = scene(written('"Short"', "A line that is far too long to be read in the time that it has"))
    assert [one for one in check_scene(made, NO_MEDIA) if one.check == "reading time"] == []


@pytest.mark.parametrize(
    ("made", "check", "frame", "figure"),
    [
        (
            scene(
                ground(
                    "large",
                    scale=[50, 50],
                    rotation={"rest": 0, "keys": [{"frame": 9, "value": 0}, {"frame": 40, "value": 5}]},
                )
            ),
            "coverage",
            10,
            np.cos(np.radians(5)) + 640 / 360 * np.sin(np.radians(5)),
        ),
        (
            scene(
                ground(
                    position=[900, 180],
                    scale={
                        "rest": [100, 100],
                        "keys": [{"frame": 20, "value": [100, 100]}, {"frame": 40, "value": [150, 150]}],
                    },
                )
            ),
            "sharpness",
            21,
            1.5,
        ),
        (scene(text("At the edge", position=[320, 350])), "safe area", 0, None),
        (
            scene(text("A line that is far too long to be read in the time", span={"start": 5, "length": 20})),
            "reading time",
            5,
            20 / 30,
        ),
        (
            scene(written('"A formula wrote this line, which is too long" if t > 0.2 else "Short"', "A")),
            "reading time",
            5,
            1,
        ),
        (
            scene(
                layer(
                    position={
                        "rest": [0, 0],
                        "keys": [{"frame": 20, "value": [100, 100]}, {"frame": 21, "value": [500, 100]}],
                    }
                )
            ),
            "jump",
            21,
            400,
        ),
    ],
)
def test_each_check_finds_its_fault_and_mends_it(made: Scene, check: str, frame: int, figure: float | None) -> None:
    """The first frame, the figure, and nothing found any more once the finding's own edits are made."""
    found = [one for one in check_scene(made, PICTURE) if one.check == check]
    assert [one.frame for one in found] == [frame]
    if figure is not None:
        assert found[0].figure == pytest.approx(figure, rel=2e-4)
    mended = apply_edits(made, list(found[0].edits), PICTURE).scene
    assert not [one for one in check_scene(mended, PICTURE) if one.check == check]


def test_a_mend_that_would_make_another_fault_is_not_offered() -> None:
    """A picture of the frame's own size that turns: larger it would cover, and go soft."""
    made = scene(ground(rotation={"rest": 0, "keys": [{"frame": 9, "value": 0}, {"frame": 40, "value": 5}]}))
    (finding,) = check_scene(made, PICTURE)
    assert (finding.check, finding.edits) == ("coverage", ())
    grows = {"rest": [104, 104], "keys": [{"frame": 0, "value": [104, 104]}, {"frame": 50, "value": [110, 110]}]}
    (finding,) = check_scene(scene(ground(scale=grows)), PICTURE)
    assert (finding.check, finding.edits) == ("sharpness", ())


GROWING = {"rest": [100, 100], "keys": [{"frame": 0, "value": [100, 100]}, {"frame": 50, "value": [101, 101]}]}


@pytest.mark.parametrize("scaled", [[100, 100], GROWING])
def test_all_parts_of_a_split_shot_are_mended_alike(scaled: Any) -> None:
    """By one factor, so that nothing jumps at the cuts; what shows something else, or stands apart in time, is left."""
    plane = {"kind": "shape", "items": [{"shape": "rectangle", "size": [640, 360], "fill": "#102030"}]}
    other = {"kind": "shape", "items": [{"shape": "rectangle", "size": [640, 360], "fill": "#302010"}]}
    before = scene(
        layer("Ground", content=plane, position=[322, 180], scale=scaled),
        layer("Other", content=other, span={"start": 0, "length": 20}),
        layer("Apart", content=plane, span={"start": 58, "length": 2}, position=[322, 180]),
    )
    parts = [{"edit": "split_layer", "layer": "ground", "frame": at, "id": f"g{at}"} for at in (40, 20)]
    trim = {"edit": "trim_span", "layer": "g40", "start": 40, "length": 15}
    edits = [EDIT.validate_python(edit) for edit in (*parts, trim)]
    split = apply_edits(before, edits, NO_MEDIA).scene
    found = {one.layer: one for one in check_scene(split, NO_MEDIA) if one.check == "coverage"}
    after = apply_edits(split, list(found["g20"].parts), NO_MEDIA).scene
    changed = {one.id for one in after.layers if one is not split.layer(one.id)}
    assert changed == {"ground", "g20", "g40"}
    assert {one.layer for one in check_scene(after, NO_MEDIA) if one.check in ("coverage", "jump")} <= {"apart"}
    assert found["apart"].parts == ()


@cases(80)
@given(
    corners=st.tuples(*[st.floats(-300, 900)] * 2, *[st.floats(1, 700)] * 2, st.floats(-180, 180), st.booleans()),
)
def test_what_is_shaded_is_what_lies_bare(corners: tuple[float, float, float, float, float, bool]) -> None:
    """Point by point: in one shaded part where the box does not hold it, and in none where it does."""
    x, y, width, height, angle, mirrored = corners
    turn = np.radians(angle)
    along, down = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    across = -along if mirrored else along
    box = np.array([(0, 0), (1, 0), (1, 1), (0, 1)]) * (width, height) @ np.stack([across, down]) + (x, y)
    parts = bare_parts(box, (640, 360))

    def inside(polygon: np.ndarray, at: np.ndarray) -> float:
        """The least distance of a point from the edges of a convex polygon, below 0 outside."""
        edges = np.roll(polygon, -1, axis=0) - polygon
        away = edges[:, 0] * (at - polygon)[:, 1] - edges[:, 1] * (at - polygon)[:, 0]
        away, edges = away[np.hypot(*edges.T) > 1e-9], edges[np.hypot(*edges.T) > 1e-9]
        area = (polygon[:, 0] * np.roll(polygon[:, 1], -1) - np.roll(polygon[:, 0], -1) * polygon[:, 1]).sum()
        return float((away * np.sign(area) / np.hypot(*edges.T)).min())

    for at in np.random.default_rng(1).uniform((0, 0), (640, 360), (40, 2)):
        held = inside(box, at)
        if abs(held) > 1e-6:
            shaded = [part for part in parts if inside(part, at) > -1e-7]
            assert (len(shaded) >= 1) == (held < 0)


def test_a_finding_that_is_left_counts_no_more() -> None:
    """It stays in the document and in the list, without a mend; and counts again when that is taken back."""
    made = scene(text("At the edge", position=[320, 350]), text("Low", position=[100, 355]) | {"id": "low"})
    (first, second) = check_scene(made, PICTURE)
    assert first.edits
    assert len(first.lines) == 2
    left = done(made, {"edit": "leave_finding", "layer": first.layer, "check": "safe area"}).scene
    assert read_scene(left.to_json()).layer(first.layer).unchecked == ("safe area",)
    found = {one.layer: one for one in check_scene(left, PICTURE)}
    assert (found[first.layer].left, found[first.layer].edits) == (True, ())
    assert found[second.layer] == second
    back = {"edit": "leave_finding", "layer": first.layer, "check": "safe area", "leave": False}
    assert check_scene(done(left, back).scene, PICTURE) == [first, second]


@cases(25)
@given(moves=st.lists(st.tuples(st.integers(0, 2), st.integers(-40, 40)), max_size=4))
def test_kept_findings_are_those_of_a_fresh_look(moves: list[tuple[int, int]]) -> None:
    """After each edit, also one of the scene itself: what did not change is not looked at again, and nothing is old."""
    names = ["a", "b", "c"]
    made = scene(*(text(name, position=[320, 350]) | {"id": name} for name in names))
    cache = CheckCache()
    check_scene(made, PICTURE, cache)
    for which, by in moves:
        edit = {"edit": "move_layers", "layers": [names[which]], "frame": 0, "by": [0, by]}
        made = done(made, {"edit": "set_scene", "height": made.height + by} if by % 5 == 0 else edit).scene
        assert check_scene(made, PICTURE, cache) == check_scene(made, PICTURE)


def test_a_held_key_is_no_jump() -> None:
    keys = [{"frame": 20, "value": [100, 100], "ease": "hold"}, {"frame": 21, "value": [500, 100]}]
    assert not check_scene(scene(layer(position={"rest": [0, 0], "keys": keys})), NO_MEDIA)


def test_text_has_baselines_and_ink() -> None:
    """A baseline station lies on the feet of the letters; the ink of an x stands on it and is lower than the line."""
    made = scene(text("x\nx"))
    on = {"edit": "move_anchor", "layer": "title", "frame": 0, "to": {"station": "last baseline left"}}
    after = done(made, on).scene
    found = resolve(after, [0], NO_MEDIA)
    one = found.layers["title"]
    ink = tight_box(one, found.context)
    assert one.anchor[0, 1] == pytest.approx(ink[0, 1] + ink[0, 3], abs=0.5)
    assert one.anchor[0, 0] == one.box[0, 0]
    assert np.allclose(corners(one), corners(resolve(made, [0], NO_MEDIA).layers["title"]))
    with pytest.raises(Refused, match="Only a text has"):
        done(scene(layer()), {**on, "layer": "plate"})


def test_strokes_count_in_the_tight_box() -> None:
    item = {"shape": "ellipse", "size": [200, 100], "stroke": {"colour": "#000000", "width": 10}}
    pair = layer(content={"kind": "shape", "items": [item, {**item, "at": [150, 0]}]})
    found = resolve(scene(pair), [0], NO_MEDIA)
    one = found.layers["plate"]
    assert one.box.tolist() == [[-100, -50, 350, 100]]
    assert tight_box(one, found.context).tolist() == [[-105, -55, 360, 110]]


@pytest.mark.parametrize("carry", ["place", "fraction", "fit"])
def test_a_change_of_size_carries_layers_along(carry: str) -> None:
    path = {
        "rest": [0, 0],
        "keys": [{"frame": 0, "value": [160, 90], "leave": [10, 0]}, {"frame": 9, "value": [320, 180]}],
    }
    grown = done(
        scene(layer(position=path)), {"edit": "set_scene", "width": 1280, "height": 1080, "carry": carry}
    ).scene
    one = resolve(grown, [0, 9], NO_MEDIA).layers["plate"]
    want = {"place": [[160, 90], [320, 180]], "fraction": [[320, 270], [640, 540]], "fit": [[320, 360], [640, 540]]}[
        carry
    ]
    assert one.values["position"].tolist() == want
    assert one.values["scale"][0].tolist() == ([200, 200] if carry == "fit" else [100, 100])
