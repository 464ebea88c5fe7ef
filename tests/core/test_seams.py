"""Calculations between features: a formula under what keeps a picture, stretching carriers, jumps at keys, bounds."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from mudskipper.core.checks import check_scene
from mudskipper.core.contents.assets import NO_MEDIA, Assets, ClipInfo, PictureInfo
from mudskipper.core.document.read import read_scene, scene_of
from mudskipper.core.document.scene import Scene
from mudskipper.core.document.upgrades import upgraded
from mudskipper.core.edits import Outcome, apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.resolve.sound.mix import RATE, mixed
from mudskipper.paint.painter import Painter
from tests.conftest import layer, scene
from tests.core.documents_at_random import quads

EDITS: TypeAdapter[Any] = TypeAdapter(list[AnyEdit])
PARTS = {
    "kind": "shape",
    "items": [
        {"shape": "rectangle", "size": [100, 50], "at": [200, 0], "id": "r"},
        {"shape": "ellipse", "size": [9, 9], "id": "z"},
    ],
}
CARRIER = layer("Mast", content={"kind": "carrier"}, anchor={"rest": [0, 0], "pinned": False}, position=[400, 200])
STEPS = {"steps": 2, "jump": "start"}


def done(before: Scene, *edits: dict[str, Any]) -> Outcome:
    outcome = apply_edits(before, EDITS.validate_python(list(edits)), NO_MEDIA)
    assert read_scene(outcome.scene.to_json()) == outcome.scene
    return outcome


def formula(text: str, rest: Any = 0.0) -> dict[str, Any]:
    return {"rest": rest, "formula": text}


def off(before: Scene, after: Scene, address: str, frames: list[float], now: str = "") -> float:
    old, new = quads(before, frames, NO_MEDIA)[address], quads(after, frames, NO_MEDIA)[now or address]
    return float(np.abs(old - new).max())


def value(of: Scene, frame: float, name: str = "rotation", who: str = "plate") -> list[float]:
    return [round(float(n), 3) for n in np.atleast_1d(resolve(of, [frame], NO_MEDIA).layers[who].values[name][0])]


def painted(of: Scene, frame: float = 0.0) -> np.ndarray:
    painter = Painter(of.width, of.height, lambda *_: None, 1.0)
    painter.paint(draw_list(resolve(of, [frame], NO_MEDIA)), 0)
    return np.asarray(painter.pixels())


OWN = {
    "rotation": formula("t * 90"), "scale": formula("base + (t * 20, 0)", [100.0, 100.0]),
    "position": formula("(400 + t * 10, 300)", [400.0, 300.0]), "anchor": formula("(t / 10, 0.5)", [0.5, 0.5]),
}  # fmt: skip
WITHIN: list[dict[str, Any]] = [
    {"edit": "delete_layers", "layers": ["plate/r"]},
    {"edit": "move_layers", "layers": ["plate/r"], "frame": 15.0, "by": [50.0, 0.0]},
    {"edit": "drag_handle", "layer": "plate/r", "frame": 15.0, "handle": "right", "to": [600.0, 200.0], "by": "size"},
]  # fmt: skip


@pytest.mark.parametrize("name", OWN)
@pytest.mark.parametrize("edit", WITHIN, ids=lambda edit: edit["edit"])
def test_what_lies_beside_a_part_stays_under_formulas(name: str, edit: dict[str, Any]) -> None:
    before = scene(layer("Plate", content=PARTS, **{name: OWN[name]}))
    assert off(before, done(before, edit).scene, "plate/z", [0.0, 15.0, 40.0]) < 0.01


def test_an_anchor_by_formula_is_fixed_as_keys_and_said() -> None:
    before = scene(layer("Plate", anchor=formula("(0.2, t)", [0.5, 0.5])))
    outcome = done(before, {"edit": "pin_anchor", "layer": "plate", "pinned": False})
    assert off(before, outcome.scene, "plate", [0.0, 20.0, 59.0]) < 0.01
    assert outcome.notices == ("The formula of anchor of 'Plate' was written as keys.",)


CHILDREN: list[dict[str, Any]] = [
    {"position": [100, 100], "rotation": formula("t * 90")},
    {"position": formula("base + (20, 0)", [100.0, 100.0])},
    {"position": formula("(t * 30, 100)", [0.0, 0.0])},
    {"position": [100, 100], "scale": formula("base + (t * 20, 0)", [100.0, 100.0])},
]


@pytest.mark.parametrize("keep", ["throughout", "frame"])
@pytest.mark.parametrize("child", CHILDREN)
def test_linked_released_and_left_alone_a_layer_with_formulas_stays(child: dict[str, Any], keep: str) -> None:
    turned = {**CARRIER, "rotation": 90}
    before = scene(turned, layer("Plate", **child))
    link = {"edit": "carry_layers", "layers": ["plate"], "carrier": "mast", "frame": 15.0, "keep": keep}
    frames = [15.0] if keep == "frame" else [0.0, 15.0, 40.0]
    # A formula that does not read base cannot be given another position at one frame alone.
    if keep == "frame" and ("(t * 30" in str(child) or "t * 90" in str(child)):
        with pytest.raises(Refused, match="has a formula"):
            done(before, link)
    else:
        assert off(before, done(before, link).scene, "plate", frames) < 0.06
    carried = scene(turned, layer("Plate", **child, carrier="mast"))
    let_go: list[dict[str, Any]] = [{**link, "carrier": None}, {"edit": "delete_layers", "layers": ["mast"]}]
    for edit in let_go[keep == "frame" :]:
        assert off(carried, done(carried, edit).scene, "plate", [0.0, 15.0, 40.0]) < 0.06


@pytest.mark.parametrize("keep", ["throughout", "frame"])
def test_what_would_be_sheared_is_not_linked(keep: str) -> None:
    before = scene({**CARRIER, "scale": [50, 100], "rotation": 30}, layer("Plate"))
    link = {"edit": "carry_layers", "layers": ["plate"], "carrier": "mast", "frame": 15.0, "keep": keep}
    with pytest.raises(Refused, match="would have to be sheared"):
        done(before, link)


@pytest.mark.parametrize(
    ("text", "rest", "moves"),
    [("base * 2", [200.0, 100.0], 50), ("base + (t * 40, 0)", [90.0, 90.0], 50),
     ("base ** 2 / 100", [200.0, 100.0], 50), ("(320, 180)", [320.0, 180.0], 0)],
)  # fmt: skip
def test_a_move_is_seen_as_it_was_asked_for_or_said(text: str, rest: list[float], moves: float) -> None:
    before = scene(layer("Plate", position=formula(text, rest)))
    outcome = done(before, {"edit": "move_layers", "layers": ["plate"], "frame": 30.0, "by": [50.0, 0.0]})
    steps = quads(outcome.scene, [30.0], NO_MEDIA)["plate"] - quads(before, [30.0], NO_MEDIA)["plate"]
    assert np.allclose(steps, [moves, 0], atol=1e-6)
    assert bool(outcome.notices) == (moves == 0)
    to = done(before, {"edit": "bring_to", "layers": ["plate"], "frame": 30.0, "to": [100.0, 100.0]})
    if moves:
        assert np.allclose(value(to.scene, 30.0, "position"), [100, 100], atol=1e-6)
    turn = scene(layer("Plate", rotation=formula("base * 2", 10.0)))
    turned = done(turn, {"edit": "turn_layers", "layers": ["plate"], "frame": 0.0, "by": 30.0}).scene
    assert value(turned, 0.0) == [50.0]


def test_an_entrance_under_a_formula_that_does_not_read_it_says_so() -> None:
    before = scene(layer("Plate", position=formula("(320, 180)", [320.0, 180.0])))
    edit = {"edit": "bring_in", "layers": ["plate"], "frame": 30.0, "side": "left", "length": 12}
    assert "does not read base" in done(before, edit).notices[0]


def test_counts_and_frames_of_formulas_are_kept_or_said() -> None:
    both = scene(layer("Plate", rotation=formula("base + index * 20")), layer("Sign", rotation=formula("count")))
    split = done(both, {"edit": "split_layer", "layer": "plate", "frame": 30})
    assert "read index or count" in split.notices[0]
    texts = ["frame * 2", "if_before(30, 0, 90)", "if_before(frame - 3, 1, 2) + frame ** 2", "frame / fps * 90"]
    for text in texts:
        before = scene(layer("Plate", rotation=formula(text)))
        for rate in ([60, 1], [25, 1], [30000, 1001]):
            after = done(before, {"edit": "set_scene", "frame_rate": rate}).scene
            fps = rate[0] / rate[1]
            for second in (0.2, 0.9, 1.4):
                at = round(second * fps)
                old = resolve(before, [at / fps * 30], NO_MEDIA).layers["plate"].values["rotation"][0, 0]
                assert value(after, at)[0] == pytest.approx(old, abs=0.01), (text, rate)
        back = done(before, {"edit": "set_scene", "frame_rate": [60, 1]}, {"edit": "set_scene", "frame_rate": [30, 1]})
        assert "**" in text or back.scene.layer("plate").formulas["rotation"] == text
    reads = done(
        scene(layer("Plate", rotation=formula("frame + 2 / fps"))), {"edit": "set_scene", "frame_rate": [60, 1]}
    )
    assert any("read fps" in said for said in reads.notices)


def test_stepped_is_held_once_on_a_cadence() -> None:
    track = {"rest": 0.0, "formula": "stepped(t, 8) * 90", "cadence": {"on": 2}}
    assert value(scene(layer("Plate", rotation=track)), 4.0) == [11.25]


def test_random_numbers_go_apart_on_points_and_alike_on_sizes() -> None:
    def both(name: str, text: str, rest: list[float]) -> np.ndarray:
        of = scene(layer("Plate", **{name: formula(text, rest)}))
        return np.asarray(resolve(of, range(60), NO_MEDIA).layers["plate"].values[name]) - rest

    for text in (
        "base + wander(1, 200)",
        "base + 100 * noise(t * 3)",
        "base + random(0, 9)",
        "base + wander(1, (9, 9))",
    ):
        x, y = both("position", text, [320.0, 180.0]).T
        assert np.abs(x - y).max() > 0.1, text
    x, y = both("scale", "base + wander(1, 20)", [100.0, 100.0]).T
    assert np.abs(x - y).max() < 1e-9
    (x, y) = both("position", "(320 + wander(1, 9), 180 + wander(1, 9))", [320.0, 180.0]).T
    assert np.abs(x).max() > 0.1
    assert np.abs(x - y).max() < 1e-9


@pytest.mark.parametrize("shift", [0.0, 13.0, 37.0, 61.0, 99.0])
@pytest.mark.parametrize("more", [{}, {"dashes": {"dash": 20.0, "gap": 12.0}}])
def test_a_stroke_in_part_that_goes_round_is_drawn(shift: float, more: dict[str, Any]) -> None:
    stroke = {"colour": "#ffffff", "part": {"start": 0.0, "end": 100.0, "shift": shift}, **more}
    line = {"shape": "line", "start": [-120, -50], "end": [120, 60], "stroke": stroke}
    assert painted(scene(layer("Plate", content={"kind": "shape", "items": [line]})))[..., 3].any()


@pytest.mark.parametrize(("turn", "grow"), [(0, [200, 50]), (30, [200, 50]), (90, [50, 200]), (45, [300, 100])])
def test_a_feather_is_blurred_before_the_matrix(turn: float, grow: list[float]) -> None:
    """Half a plane, feathered by 12 px: the coverage is that of a bell along the layer's own x."""
    item = {"shape": "rectangle", "size": [4000, 4000], "fill": "#ffffff"}
    mask = {"shape": {"shape": "rectangle", "size": [2000, 2000], "at": [-1000, 0]}, "feather": 12.0}
    plate = layer(
        "Plate", position=[160, 90], rotation=turn, scale=grow, anchor={"rest": [0, 0], "pinned": False},
        content={"kind": "shape", "items": [item]}, masks=[mask],
    )  # fmt: skip
    found = painted(scene(plate, width=320, height=180))[..., 3] / 255
    angle = math.radians(turn)
    y, x = np.mgrid[0:180, 0:320] + 0.5
    along = ((x - 160) * math.cos(angle) + (y - 90) * math.sin(angle)) / (grow[0] / 100)
    want = 0.5 * np.vectorize(math.erfc)(along / 12 / math.sqrt(2))
    assert np.abs(found - want).max() < 0.03


@pytest.mark.parametrize(("speed", "start"), [(137.0, 0.0), (-200.0, 0.0), (100.0, 0.20001), (63.0, 1.1)])
def test_a_loop_has_no_seam(speed: float, start: float) -> None:
    one = np.full((72_000, 2), 0.5, np.float32)
    assets = Assets(clips={"k": ClipInfo("k", 0, 0, np.zeros(1), 1.5, sound=True)})

    def read(_: str, first: int, count: int) -> np.ndarray:
        out = np.zeros((count, 2), np.float32)
        low, high = max(first, 0), min(first + count, len(one))
        if low < high:
            out[low - first : high - first] = one[low:high]
        return out

    time = {"speed": speed, "start": start, "before": "loop", "after": "loop"}
    of = scene(layer("Surf", content={"kind": "sound", "asset": "k", "time": time}))
    assert np.abs(mixed(of, Context(of, assets), 0, 2 * RATE - 9_000, read) - 0.5).max() < 1e-6


def test_split_joined_and_keyed_positions_keep_their_jumps() -> None:
    # fmt: off
    bent = {"rest": [0, 0], "keys": [
        {"frame": 0, "value": [0, 0], "leave": [0, 100]},
        {"frame": 10, "value": [100, 0], "ease": STEPS, "leave": [0, 100]}, {"frame": 20, "value": [300, 0]},
    ]}
    apart = {"x": {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 20, "value": 100}]},
             "y": {"rest": 0, "keys": [{"frame": 5, "value": 0, "ease": STEPS}, {"frame": 25, "value": 50}]}}
    # fmt: on
    for position, kind in ((bent, "split_position"), (apart, "join_position")):
        before = scene(layer("Plate", position=position))
        after = done(before, {"edit": kind, "layer": "plate"}).scene
        for frame in range(30):
            assert np.allclose(value(before, frame, "position"), value(after, frame, "position"), atol=0.03), (
                kind,
                frame,
            )
    stepping = {
        "rest": [0, 0],
        "keys": [{"frame": 0, "value": [0, 0], "ease": STEPS}, {"frame": 40, "value": [400, 0]}],
    }
    turning = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 40, "value": 90}]}
    before = scene(layer("Plate", position=stepping, rotation=turning))
    anchor = {
        "edit": "move_anchor",
        "layer": "plate",
        "frame": 0.0,
        "to": {"station": "top left"},
        "scope": "every key",
    }
    assert off(before, done(before, anchor).scene, "plate", [0.0, 40.0]) < 0.01


def test_a_pose_where_both_sides_go_round_is_refused() -> None:
    track = {"rest": 0, "keys": [{"frame": 20, "value": 0}, {"frame": 25, "value": 100}]}
    before = scene(layer("Plate", rotation={**track, "before": "repeat", "after": "repeat"}))
    with pytest.raises(Refused, match="would change what goes round"):
        done(before, {"edit": "key_pose", "layers": ["plate"], "properties": ["rotation"], "frame": 7.0})


def test_landings_stay_where_they_are() -> None:
    bouncing = scene(layer("Plate", position={"rest": [320, 180], "after": "bounce"}))
    edit = {"edit": "bring_in", "layers": ["plate"], "frame": 30.0, "side": "right", "length": 12}
    assert off(bouncing, done(bouncing, edit).scene, "plate", [30.0, 36.0, 42.0]) < 0.01
    grows = {"rest": [100, 100], "keys": [{"frame": 28, "value": [100, 100]}, {"frame": 59, "value": [300, 300]}]}
    before = scene(layer("Plate", scale=grows))
    out = {"edit": "take_out", "layers": ["plate"], "frame": 19.0, "station": "top", "angle": -20.0, "length": 20}
    assert off(before, done(before, out).scene, "plate", [0.0, 10.0, 19.0]) < 0.06


DOWN = {"rest": 50, "keys": [{"frame": 0, "value": 60, "ease": {"overshoot": 20.0}}, {"frame": 20, "value": 2}]}
UP = {"rest": 50, "keys": [{"frame": 0, "value": 2, "ease": {"overshoot": 80.0}}, {"frame": 20, "value": 95}]}
SHAPES = [
    {"shape": "rectangle", "size": [122, 63], "corners": DOWN}, {"shape": "star", "size": [122, 63], "rounding": DOWN},
    {"shape": "star", "size": [122, 63], "inner": UP}, {"shape": "ellipse", "size": [122, 63], "hole": UP},
    {"shape": "rectangle", "size": formula("base + (t * 60, 0)", [60.0, 60.0])},
]  # fmt: skip


@pytest.mark.parametrize("shape", SHAPES, ids=["corners", "rounding", "inner", "hole", "formula"])
def test_a_path_is_what_its_shape_was_within_its_bounds(shape: dict[str, Any]) -> None:
    item = {**shape, "id": "q", "fill": "#00ff00"}
    plate = layer("Plate", position=[160, 90], anchor={"rest": [0, 0], "pinned": False})
    before = scene({**plate, "content": {"kind": "shape", "items": [item]}}, width=320, height=180)
    after = done(before, {"edit": "make_paths", "layers": ["plate/q"]}).scene
    for frame in (8.0, 10.0, 40.0):
        away = np.abs(painted(before, frame).astype(int) - painted(after, frame).astype(int))[..., 3]
        assert (away > 24).sum() == 0


GROUNDS: list[dict[str, Any]] = [
    {"masks": [{"shape": {"shape": "star", "size": [200, 100]}}]}, {"framing": {"zoom": 50}},
    {"scale": formula("base * 0.5", [100.0, 100.0])}, {"rotation": formula("base * 3", 5.0)},
    {"content": {"kind": "shape", "items": [{"shape": "rectangle", "size": [100, 100], "fill": "#ffffff",
                                            "transform": {"rotation": 45}}]}},
]  # fmt: skip


@pytest.mark.parametrize("more", GROUNDS)
def test_a_spin_covers_what_is_painted_at_every_angle(more: dict[str, Any]) -> None:
    item = {"shape": "rectangle", "size": [200, 100], "fill": "#ffffff"}
    plate = {**layer("Plate", position=[160, 90], content={"kind": "shape", "items": [item]}), **more}
    before = scene(plate, width=320, height=180)
    spin = {"edit": "apply_recipe", "layers": ["plate"], "frame": 0.0,
            "recipe": {"recipe": "endless spin that always covers"}}  # fmt: skip
    after = done(before, spin).scene
    for frame in (0.0, 13.0, 20.0, 47.0):
        assert (painted(after, frame)[..., 3] > 250).all()


def test_checks_look_at_what_is_painted_and_blame_nobody_else() -> None:
    drift = {"rest": [320, 180], "keys": [{"frame": 0, "value": [320, 180]}, {"frame": 59, "value": [330, 180]}]}
    picture = {**layer("Sky", content={"kind": "picture", "asset": "p"}), "carrier": "mast", "position": [0, 0]}
    known = Assets(pictures={"p": PictureInfo(id="p", width=640, height=360)})
    (found,) = [
        one for one in check_scene(scene({**CARRIER, "position": drift}, picture), known) if one.check == "coverage"
    ]
    assert found.figure == pytest.approx(1.0313, abs=2e-4)
    square = {"shape": "rectangle", "size": [500, 500], "fill": "#ffffff", "transform": {"rotation": 45}}
    turned = scene(layer("Ground", content={"kind": "shape", "items": [square]}))
    assert [one.check for one in check_scene(turned, NO_MEDIA)] == ["coverage"]
    hold = {
        "rest": [0, 0],
        "keys": [{"frame": 0, "value": [90, 90], "ease": "hold"}, {"frame": 30, "value": [500, 300]}],
    }
    carried = scene({**CARRIER, "position": hold}, layer("Plate", carrier="mast", position=[9, 9]))
    follows = scene({**CARRIER, "position": hold}, layer("Plate", position=formula('scene["Mast"].position', [0, 0])))
    late = scene(
        {**CARRIER, "position": hold}, layer("Plate", position=formula('scene["Mast"].position.at(t - 0.3)', [0, 0]))
    )
    copies = {"shape": "ellipse", "size": [30, 30], "repeat": {
        "copies": {"rest": 1, "keys": [{"frame": 0, "value": 1}, {"frame": 40, "value": 6}]},
        "move": [90, 0]}}  # fmt: skip
    for of in (carried, follows, late, scene(layer("Plate", content={"kind": "shape", "items": [copies]}))):
        assert [one for one in check_scene(of, NO_MEDIA) if one.check == "jump"] == []
    wide = {"kind": "text", "text": "Nine days on the mudflats of Low Tide", "size": 90}
    (said,) = [one for one in check_scene(scene(layer("Title", content=wide)), NO_MEDIA) if one.check == "safe area"]
    assert "on both sides" in said.sentence
    assert said.figure > 1
    assert said.edits == ()


OLD = {
    "schema": "mudskipper.scene/1", "id": "old", "name": "Old", "width": 640, "height": 360, "length": 60,
    "layers": [
        {**layer("Mast"), "content": {"kind": "empty"}, "filters": []},
        {**layer("Plate"), "rotation": {"rest": 5, "expression": 'base + layer("Mast").rotation.at(t - 0.2)',
                                        "expression_from": 3, "expression_seed": 7},
         "position": {"rest": [9, 9], "expression": "a = to_scene((0, 0))\nlayer('Mast').from_scene(a)"}},
        {**layer("Gauge"), "content": {"kind": "text", "text": "0", "written": {
            "expression": 's = sound("Surf")\nformat(s.level + sound("Surf").level, "0.0")'}}},
    ],
}  # fmt: skip


def test_documents_of_the_form_before_are_upgraded() -> None:
    mast, plate, gauge = scene_of(OLD).layers
    assert mast.content.kind == "carrier"
    assert plate.rotation.formula == 'base + scene["Mast"].rotation.at(t - 0.2)'
    assert (plate.rotation.formula_from, plate.rotation.formula_seed) == (3, 7)
    assert plate.formulas["position"] == "a = in_scene((0, 0))\nscene['Mast'].in_layer(a)"
    written = 's = scene["Surf"]\nformat(s.loudness + scene["Surf"].loudness, "0.0")'
    assert gauge.formulas["content.written"] == written
    second = {**OLD, "schema": "mudskipper.scene/2", "layers": [{**layer("Mast"), "filters": []}]}
    assert scene_of(second).layers[0].effects == ()
    again = scene_of(OLD).to_json()
    assert read_scene(again) == scene_of(OLD)
    assert upgraded({"schema": "mudskipper.scene/9"}) == {"schema": "mudskipper.scene/9"}


def test_renamed_by_its_words_a_text_stays_read() -> None:
    words = layer("Tide", content={"kind": "text", "text": "Tide"})
    before = scene(words, layer("Plate", position=formula('(scene["Tide"].box.width, 90)', [0, 0])))
    after = done(before, {"edit": "set_content", "layer": "tide", "path": "text", "value": "Low tide"}).scene
    assert after.layer("tide").name == "Low tide"
    assert after.layer("plate").formulas["position"] == '(scene["Low tide"].box.width, 90)'
    assert not resolve(after, [0.0], NO_MEDIA).layers["plate"].problems


def test_a_key_between_two_renewals_is_said_with_the_nearest() -> None:
    track = {"rest": 0, "cadence": {"on": 4}, "keys": [{"frame": 0, "value": 0}, {"frame": 40, "value": 90}]}
    before = scene(layer("Plate", rotation=track))
    key = {"edit": "set_property", "layer": "plate", "property": "rotation", "frame": 11.0, "value": 33.0}
    outcome = done(before, key)
    assert "The nearest one is at frame 12" in outcome.late
    there = apply_edits(outcome.scene, list(outcome.onto), NO_MEDIA).scene
    assert value(there, 12.0) == [33.0]
    assert not done(before, {**key, "frame": 12.0}).late


def test_keys_of_several_layers_are_pasted_onto_as_many() -> None:
    before = scene(layer("A"), layer("B"), layer("C"))
    keys = [{"property": "rotation", "after": 0.0, "value": 5.0, "of": 0},
            {"property": "opacity", "after": 20.0, "value": 50.0, "of": 1}]  # fmt: skip
    after = done(before, {"edit": "paste_keys", "layers": ["a", "b"], "frame": 10.0, "keys": keys}).scene
    assert [key.frame for key in after.layer("a").rotation.keys] == [10]
    assert [key.frame for key in after.layer("b").opacity.keys] == [30]
    with pytest.raises(Refused, match="of 2 layers, and 1 is selected"):
        done(before, {"edit": "paste_keys", "layers": ["a"], "frame": 10.0, "keys": keys})


@pytest.mark.parametrize("by", ["scale", "size"])
def test_growing_begins_at_the_side_of_the_anchor(by: str) -> None:
    before = scene(layer("Plate", anchor=[0, 0.5]))
    recipe = {"recipe": "grow from an edge", "by": by}
    after = done(before, {"edit": "apply_recipe", "layers": ["plate"], "frame": 0.0, "recipe": recipe}).scene
    old = quads(before, [0.0], NO_MEDIA)["plate"]
    at = quads(after, [0.0, 7.0, 14.0], NO_MEDIA)["plate"]
    assert np.allclose(at[:, 0], old[0, 0], atol=1e-6)
    assert np.abs(at[0, 1] - at[0, 0]).max() < 1e-6
    assert np.allclose(at[2], old[0], atol=1e-6)


def test_what_is_only_heard_gets_no_keys_of_its_place() -> None:
    clip = Assets(clips={"k": ClipInfo("k", 0, 0, np.zeros(1), 1.5, sound=True)})
    of = scene(layer("Surf", content={"kind": "sound", "asset": "k"}))
    key: Callable[[str], dict[str, Any]] = lambda name: {  # noqa: E731
        "edit": "start_keying", "layer": "surf", "property": name, "frame": 3.0,
    }  # fmt: skip
    with pytest.raises(Refused, match="is only heard"):
        apply_edits(of, EDITS.validate_python([key("position")]), clip)
    assert apply_edits(of, EDITS.validate_python([key("content.sound.level")]), clip).changed == ("surf",)
