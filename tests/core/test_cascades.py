"""Cascades: when units move, where to, and that nothing is left of it at rest."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from playwright.sync_api import Browser

from mudskipper.core.checks import check_scene
from mudskipper.core.checks.not_showing import painted_over
from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.contents.cascade import Cascade, Choice
from mudskipper.core.contents.cascade_moves import chosen, moved
from mudskipper.core.contents.cascade_times import amounts, places_in, times_of
from mudskipper.core.contents.cascade_units import anchors_of, units_of
from mudskipper.core.contents.text import TextContent
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.easings.batch import ease_at
from mudskipper.core.formulas.language import program_of
from mudskipper.core.formulas.table import TABLE
from mudskipper.core.geometry.perspective import fine, project
from mudskipper.core.geometry.values import within
from mudskipper.core.resolve.cascades import cascades_at
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.text.families import INSTALLED
from mudskipper.core.text.layout import Setting
from mudskipper.core.text.units import stretches_of
from mudskipper.core.tracks.walk import evaluated, tracks_in
from mudskipper.paint.painter import Painter
from tests.conftest import THOROUGH, cases, layer, scene
from tests.core.documents_at_random import cascaded, dressed
from tests.core.test_formulas import made as edited

WORDS = "The low tide\ncomes in, twice"
RARER = (0, 2, 3, 5, 6, 8, 9, 10, 11, 13, 14, 15, 16, 17)
ORDERS = ["forward", "back", "from the middle", "from the ends", "random", "by distance", "each line"]


def text_of(words: str = WORDS, **fields: Any) -> TextContent:
    return TextContent.model_validate({"text": words, "size": 40, "fill": "#1b2628", **fields})


def set_at(content: TextContent, *frames: float) -> tuple[Setting, dict[str, Any], np.ndarray]:
    times = np.array(frames or (0.0,))
    values = evaluated(dict(tracks_in(content)), times, 30.0)
    return content.set_with(values, INSTALLED), values, times


@cases(300)
@given(st.integers(1, 400), st.floats(0, 200), st.floats(0.01, 500), st.sampled_from(["stagger", "overlap", "total"]))
def test_what_is_told_of_times_determines_the_rest(count: int, each: float, amount: float, spread: Any) -> None:
    """Whichever of stagger, overlap and total is told, the others tell the same cascade."""
    told = Cascade(each=each, spread=spread, amount=amount)
    stagger, overlap, total = times_of(told, count)
    assert total == pytest.approx((count - 1) * stagger + each)
    if stagger > 0:
        assert overlap == pytest.approx(each / stagger)
    if spread == "total" and count > 1 and amount > each:
        assert total == pytest.approx(amount)
    for name, value in (("stagger", stagger), ("overlap", overlap), ("total", total)):
        if value > 1e6 or (name == "overlap" and value < 0.01):
            continue
        again = times_of(Cascade(each=each, spread=name, amount=value), count)
        assert again.total == pytest.approx(total, abs=1e-6), name
        if count > 1:
            assert again.stagger == pytest.approx(stagger, abs=1e-6), name


def share_by_hand(cascade: Cascade, place: float, gaps: int, frame: float) -> float:
    """How much of its values a unit has, by the definition, one unit and one frame at a time."""
    stagger = times_of(cascade, gaps + 1).stagger
    begin = cascade.start + float(ease_at(cascade.over, np.array([place]))[0]) * gaps * stagger
    far = (frame - begin) / cascade.each if cascade.each else float(frame >= begin)
    far = min(max(far, 0.0), 1.0)

    def eased(u: float) -> float:
        found = 0.0 if u <= 0 else 1.0 if u >= 1 else float(ease_at(cascade.ease, np.array([u]))[0])
        return found if cascade.past else min(max(found, 0.0), 1.0)

    if cascade.way == "through":
        return eased(2 * far) if far < 0.5 else eased(2 - 2 * far)
    return 1 - eased(far) if cascade.way == "in" else eased(far)


@pytest.mark.parametrize("order", ORDERS)
def test_units_move_in_their_order_and_stay_where_they_arrive(order: Any) -> None:
    dice = random.Random(order)
    setting, _, _ = set_at(text_of())
    units = units_of(setting, "letter")
    count = int(units.count[0])
    lines = setting.belongs[0, units.first[0], 2]
    for _ in range(6 if THOROUGH else 2):
        cascade = Cascade(
            order=order, seed=dice.randint(0, 99), start=dice.uniform(-5, 20), each=dice.choice([0, 1, 7.5, 20]),
            spread=dice.choice(["stagger", "overlap", "total"]), amount=dice.uniform(0.5, 90), past=dice.random() < 0.5,
            way=dice.choice(["in", "out", "through"]), ease=dice.choice(["ease-out", "linear"]), over="ease-in",
        )  # fmt: skip
        far = np.hypot(*(units.anchors("centre", (0, 0))[0] - cascade.point).T)[None]
        places = places_in(order, units.count, cascade.seed, count, lines[None], far)[0]
        assert ((places >= 0) & (places <= 1)).all()
        gaps = count - 1 if order != "each line" else int(np.bincount(lines).max()) - 1
        local = np.arange(0.0, 200.0, 3.7)
        found, _ = amounts(cascade, places[None], np.array([gaps], dtype=float), local)
        for unit in range(count):
            by_hand = [share_by_hand(cascade, places[unit], gaps, frame) for frame in local]
            assert found[:, unit] == pytest.approx(by_hand, abs=1e-9)
        late = amounts(cascade, places[None], np.array([gaps], dtype=float), np.array([1e6]))[0]
        assert (late == (1.0 if cascade.way == "out" else 0.0)).all(), "they stay where they arrive"
    if order in ("forward", "back"):
        assert (np.diff(places) > 0).all() if order == "forward" else (np.diff(places) < 0).all()
    if order == "random":
        assert sorted(places) == pytest.approx(np.arange(count) / (count - 1))


CSS = """moves => moves.map(({css, points}) => {
  const matrix = new DOMMatrix(css);
  return points.map(([x, y]) => {
    const at = matrix.transformPoint(new DOMPoint(x, y, 0, 1));
    return [at.x / at.w, at.y / at.w];
  });
})"""


def test_letters_stand_where_css_puts_them(browser: Browser) -> None:
    """Turned about x, y and z, skewed, scaled and moved in perspective about their anchors: the outlines of letters are
    where Chromium's matrices put them, within 0.05 px."""
    page = browser.new_page()
    dice = random.Random(3)
    setting, _, _ = set_at(text_of("Tide"))
    asked, mine = [], []
    for _ in range(60):
        number = {name: dice.uniform(-80, 80) for name in ("turn_x", "turn_y", "turn_z")}
        scale, skew = (dice.uniform(20, 200), dice.uniform(20, 200)), dice.uniform(-40, 40)
        offset, distance = (dice.uniform(-90, 90), dice.uniform(-90, 90)), dice.uniform(200, 900)
        fields = {**number, "skew": skew, "distance": distance}
        cascade = Cascade.model_validate(
            {"each": 0, "start": 50, "amount": 0, "scale": scale, "offset": offset, "anchor": "baseline left", **fields}
        )
        values = evaluated(dict(tracks_in((cascade,))), np.zeros(1), 30.0)
        found = moved(setting, [cascade], values, np.zeros(1))
        assert found is not None
        shape = (1, len(setting.names))
        nine = np.stack([np.broadcast_to(plane, shape)[0] for plane in found.matrices], axis=1)
        units = units_of(setting, "letter")
        anchors = anchors_of(cascade, units, lambda unit: units_of(setting, unit))[0]
        for slot in range(len(setting.names)):
            x, y = anchors[units.of[0, slot]]
            points = np.array([[x + dx, y + dy] for dx in (0, 12, 24) for dy in (0, -14, -28)])
            css = (
                f"translate({x}px, {y}px) translate({offset[0]}px, {offset[1]}px) perspective({distance}px) "
                f"rotateX({number['turn_x']}deg) rotateY({number['turn_y']}deg) rotateZ({number['turn_z']}deg) "
                f"skewX({skew}deg) scale({scale[0] / 100}, {scale[1] / 100}) translate({-x}px, {-y}px)"
            )
            asked.append({"css": css, "points": points.tolist()})
            mine.append(project(nine[slot], points))
    told = page.evaluate(CSS, asked)
    page.close()
    apart = np.abs(np.array(told) - np.array(mine)).max()
    assert apart < 0.05, apart


def test_curves_in_perspective_are_followed() -> None:
    """Cut outlines, each number of theirs projected, lie on the curve as it is projected point by point."""
    dice = np.random.default_rng(4)
    worst = 0.0
    for _ in range(200):
        points = dice.uniform(-60, 60, (4, 2))
        matrix = np.array([1, 0.2, 0, -0.1, 0.9, 0, dice.uniform(-2e-3, 2e-3), dice.uniform(-2e-3, 2e-3), 1.0])
        for verb, own in (("Q", points[:3]), ("C", points)):
            verbs, cut = fine(f"M{verb}", own.reshape(1, -1))
            there = project(matrix, cut.reshape(-1, 2))
            curve = _on(own, np.linspace(0, 1, 4_001))
            dense = project(matrix, curve)
            at, now = 1, there[0]
            degree = len(own) - 1
            for _ in verbs[1:]:
                piece = np.concatenate([[now], there[at : at + degree]])
                now, at = piece[-1], at + degree
                near = _on(piece, np.linspace(0, 1, 9))
                worst = max(worst, float(np.hypot(*(near[:, None] - dense[None]).T).T.min(axis=1).max()))
    assert worst < 0.05, worst


def _on(curve: np.ndarray, t: np.ndarray) -> np.ndarray:
    level = np.repeat(curve[None], len(t), axis=0)
    while level.shape[1] > 1:
        level = level[:, :-1] + (level[:, 1:] - level[:, :-1]) * t[:, None, None]
    return level[:, 0]


def pixels(made: Scene, frame: int, media: Assets = NO_MEDIA) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    painter.paint(draw_list(resolve(made, np.arange(made.length, dtype=float), media)), frame)
    return painter.pixels()


@pytest.mark.parametrize("seed", [4, 7, *(pytest.param(seed, marks=pytest.mark.thorough) for seed in RARER)])
def test_at_rest_a_text_is_what_it_is_without_its_cascades(seed: int) -> None:
    """Whatever a text is set and painted with, and whatever its cascades do, about whatever anchors: before they go
    out and when they have come in no pixel differs, and in between some do."""
    dice = random.Random(seed)
    shape = layer("Plate", id="plate") if seed % 2 else None
    fields = {"kind": "text", "text": WORDS, "size": 44, "fill": "#1b2628ff"} | dressed(dice, shape and "plate")
    cascades = [cascaded(dice) for _ in range(dice.randint(1, 3))]
    for one in cascades:
        one |= {"start": 12, "each": 9, "spread": "total", "amount": 24}

    def made(*cascades: dict[str, Any]) -> Scene:
        sign = layer("Sign", content=fields | {"cascades": list(cascades)})
        return scene(*([shape] if shape else []), sign, background="#fff8eaff")

    without, moving = made(), made(*cascades)
    before = [one for one in cascades if one["way"] != "in"]
    behind = [one for one in cascades if one["way"] != "out"]
    assert (pixels(without, 4) == pixels(made(*before), 4)).all()
    assert (pixels(without, 50) == pixels(made(*behind), 50)).all()
    draws = [pixels(moving, frame) for frame in (20, 26)]
    assert any((one != pixels(without, frame)).any() for one, frame in zip(draws, (20, 26), strict=True))


@pytest.mark.parametrize(
    "seed", [101, 2067, *(pytest.param(seed, marks=pytest.mark.thorough) for seed in (206, 243, 214, 217, 219, 229))]
)
def test_each_frame_is_the_same_whatever_is_asked_for_with_it(seed: int) -> None:
    """A picture of a frame alone is that of the frame among all, but for rounding: the stage asks for other frames than
    an export."""
    dice = random.Random(seed)
    shape = layer("Plate", id="plate")
    fields = {"kind": "text", "text": WORDS, "size": 44, "fill": "#1b2628ff"} | dressed(dice, "plate")
    cascades = [cascaded(dice) for _ in range(dice.randint(1, 3))]
    made = scene(shape, layer("Sign", content=fields | {"cascades": cascades}), background="#fff8eaff")
    every, on = draw_list(resolve(made, np.arange(60.0), NO_MEDIA)), Painter(made.width, made.height, lambda *_: None)

    def among(frame: int) -> np.ndarray:
        on.paint(every, frame)
        return on.pixels()

    for frame in dice.sample(range(60), 4):
        alone = draw_list(resolve(made, np.array([float(frame)]), NO_MEDIA))
        painter = Painter(made.width, made.height, lambda *_: None)
        painter.paint(alone, 0)
        apart = np.abs(painter.pixels().astype(int) - among(frame).astype(int)).max(axis=2)
        assert apart.max() <= 12, f"{seed} at {frame}: {apart.max()}"
        assert (apart > 4).sum() <= 6, f"{seed} at {frame}"


def matrices(made: Scene, frames: list[float]) -> tuple[np.ndarray, Setting]:
    """The matrices of letters (9, n, g), and the text."""
    context = Context(made, NO_MEDIA)
    sign = made.layer("sign")
    (one,) = context.resolve([sign], frames)
    around = context.around(sign, np.array(frames))
    content = sign.content
    assert isinstance(content, TextContent)
    setting = content.setting(one.inner, around)
    found = moved(setting, content.cascades, within(one.inner, "cascades."), around.local, around.of_units)
    assert found is not None
    assert not context.formulas.problems, context.formulas.problems
    shape = (len(frames), len(setting.names))
    return np.stack([np.broadcast_to(plane, shape) for plane in found.matrices]), setting


def test_formulas_of_a_cascade_know_their_unit() -> None:
    """Its number, how many there are, its box, how far it is on its way; what wanders goes another way for each."""
    formulas = {
        "unit * 10, units": lambda u, n, w, p: (u * 10, n),
        "unit_box.width, unit_box.height / 2": lambda u, n, w, p: (w[2], w[3] / 2),
        "40 * (1 - progress), 0": lambda u, n, w, p: (40 * (1 - p), 0),
    }
    frames = [0.0, 11.0, 20.0]
    for formula, meant in formulas.items():
        cascade: dict[str, Any] = {
            "way": "out",
            "each": 10,
            "amount": 4,
            "ease": "linear",
            "offset": {"rest": [0, 0], "formula": f"({formula})"},
        }
        content = {"kind": "text", "text": "Tide in", "size": 40, "cascades": [cascade]}
        found, setting = matrices(scene(layer("Sign", content=content)), frames)
        units = units_of(setting, "letter")
        for row, frame in enumerate(frames):
            for slot, unit in enumerate(units.of[0].tolist()):
                far = min(max((frame - 4 * unit) / 10, 0), 1)
                x, y = meant(unit, 6, units.box[0, unit], far)
                assert found[[2, 5], row, slot] == pytest.approx((x * far, y * far), abs=1e-6), formula
    cascade = {"way": "out", "each": 0, "amount": 0, "offset": {"rest": [0, 0], "formula": "wander(2, (30, 30))"}}
    content = {"kind": "text", "text": "Tide in", "size": 40, "cascades": [cascade]}
    found, _ = matrices(scene(layer("Sign", content=content)), [7.0])
    assert len(np.unique(found[2, 0].round(6))) == 6
    for name in ("unit", "units", "progress", "unit_box"):
        example = TABLE[name].example
        turned = {"way": "out", "each": 10, "amount": 4, "turn_z": {"rest": 0, "formula": example}}
        matrices(scene(layer("Sign", content=content | {"cascades": [turned]})), [20.0])
    # What was written before keeps its own names.
    assert program_of("progress = 2\nunit = 3\nprogress * unit").names.isdisjoint({"unit", "progress"})
    made = scene(layer("Sign", rotation={"rest": 0, "formula": "unit * 3"}))
    context = Context(made, NO_MEDIA)
    context.resolve(made.layers, [0.0])
    (problem,) = context.formulas.problems.values()
    assert "known in the values of a cascade alone" in problem.sentence


def test_items_and_copies_move_as_letters_do() -> None:
    """The shapes of a layer, or the copies of one, one after another about their own anchors; at rest to the byte."""
    bars = [{"shape": "rectangle", "size": [40, 90], "at": [x, 0], "fill": "#0e6b61"} for x in (-120, 0, 120)]
    cascade = {"unit": "item", "start": 2, "each": 8, "amount": 5, "ease": "linear", "anchor": "bottom"}
    moves = cascade | {"scale": [100, 0], "opacity": 40}

    def made(items: list[dict[str, Any]], *cascades: dict[str, Any]) -> Scene:
        content = {"kind": "shape", "items": items, "cascades": list(cascades)}
        return scene(layer("Bars", content=content), background="#fff8eaff")

    still = made(bars)
    assert (pixels(still, 40) == pixels(made(bars, moves), 40)).all()
    shown = pixels(made(bars, moves), 6)[:, :, 1] < 200
    columns = [shown[:, 320 + x].sum() for x in (-120, 0, 120)]
    # Half-way, not begun, not begun: from nothing about their lower edges.
    assert columns == [45, 0, 0]
    assert np.flatnonzero(shown[:, 200]).max() == np.flatnonzero(pixels(still, 0)[:, 200, 1] < 200).max()
    one = [{**bars[0], "at": [0, 0], "repeat": {"copies": {"rest": 4}, "move": {"rest": [60, 0]}}}]
    assert (pixels(made(one), 40) == pixels(made(one, moves), 40)).all()
    row = pixels(made(one, cascade | {"offset": [0, 200]}), 13)[:, :, 1] < 200
    tops = [np.flatnonzero(row[:, x]).min(initial=999) for x in (320 - 90, 320 - 30, 320 + 30, 320 + 90)]
    assert tops[0] < tops[1] < tops[2] < tops[3]
    whole = pixels(made(bars, moves | {"unit": "whole"}), 6)[:, :, 1] < 200
    assert [whole[:, 320 + x].sum() for x in (-120, 0, 120)] == [45, 45, 45]
    found = cascades_at(made(bars, moves).layer("bars"), 0, Context(made(bars, moves), NO_MEDIA))
    assert (found[0]["count"], [unit["begins"] for unit in found[0]["units"]]) == (3, [2, 7, 12])
    whole_scene = made(bars, moves)
    assert read_scene(whole_scene.to_json()) == whole_scene


BARS = [
    {"shape": "rectangle", "size": [60, 90], "at": [-120, 0], "fill": "#0e6b61"},
    {"shape": "ellipse", "size": [80, 80], "fill": {"gradient": "linear", "stops": [
        {"at": {"rest": 0}, "colour": "#d24b1e"}, {"at": {"rest": 100}, "colour": "#ffd23f"}]}},
    {"shape": "group", "items": [{"shape": "star", "size": [90, 90], "points": 5, "fill": "#1b2628",
                                  "stroke": {"colour": "#d24b1e", "width": 4}}],
     "transform": {"position": {"rest": [120, 0]}, "rotation": {"rest": 20}},
     "masks": [{"name": "Half", "shape": {"shape": "rectangle", "size": [90, 60], "at": [0, -10]}, "feather": 3}]},
]  # fmt: skip


def test_items_are_seen_in_perspective_as_css_has_it() -> None:
    """The corners of a shape are where its matrix of nine numbers puts them; a line gets as thin as its shape does; at
    rest, and where nothing turns it, no pixel differs."""
    turned = {"unit": "item", "each": 20, "amount": 0, "ease": "linear", "turn_y": 60, "turn_x": 20, "distance": 300}

    def made(items: list[dict[str, Any]], *cascades: dict[str, Any]) -> Scene:
        content = {"kind": "shape", "items": items, "cascades": list(cascades)}
        return scene(layer("Bars", content=content), background="#fff8eaff")

    assert (pixels(made(BARS), 40) == pixels(made(BARS, turned), 40)).all()
    assert (pixels(made(BARS), 5) != pixels(made(BARS, turned), 5)).any()
    whole = draw_list(resolve(made(BARS[:1] * 1 + BARS[1:2], turned), np.array([10.0]), NO_MEDIA))
    outer = whole.groups[0].parts
    bars = outer[-1].parts if hasattr(outer[-1], "parts") else outer
    corners = bars[0].parts[0].points.astype(float).reshape(-1, 2)[:4]
    cos, sin = np.cos(np.deg2rad(30)), np.sin(np.deg2rad(30))
    tip, dip = np.cos(np.deg2rad(10)), np.sin(np.deg2rad(10))
    for (x, y), told in zip(((-30, -45), (30, -45), (30, 45), (-30, 45)), corners, strict=True):
        # rotateX(10°) rotateY(30°), seen from 300 px.
        across, down, near = cos * x, tip * y + dip * sin * x, dip * y - tip * sin * x
        share = 1 / (1 - near / 300)
        assert told == pytest.approx([-120 + across * share, down * share], abs=0.05)


def test_an_item_with_effects_is_turned_whole() -> None:
    """In perspective it lies as its middle is seen, its effects with it, and nothing of it is cut off."""
    turned = {"unit": "whole", "each": 0, "start": 30, "amount": 0, "turn_y": 60, "distance": 1e6}
    bar = {"shape": "rectangle", "size": [100, 80], "at": [150, 0], "fill": "#0e6b61"}
    moved = {"transform": {"position": {"rest": [40, -30]}, "anchor": {"rest": [0, 0], "pinned": False}}}
    none = {"effect": "tones", "contrast": 0}

    def made(*effects: dict[str, Any]) -> Scene:
        items = [{**bar, **moved, "effects": list(effects)}, {**bar, "at": [-150, 0]}]
        content = {"kind": "shape", "items": items, "cascades": [turned]}
        return scene(layer("Bars", content=content), background="#fff8eaff")

    plain, toned = pixels(made(), 5), pixels(made(none), 5)
    assert np.abs(plain.astype(int) - toned.astype(int)).max() <= 40, "edges are drawn bilinear"
    assert (np.abs(plain.astype(int) - toned.astype(int)).max(axis=2) > 2).sum() < 600
    assert (plain != pixels(made(), 40)).any()


def nested(*cascades: dict[str, Any]) -> tuple[Scene, Assets]:
    """A scene that shows another of three layers, each moved in turn."""
    plates = [
        layer(name, content={"kind": "shape", "items": [{**BARS[0], "at": [0, 0]}]}, position=[x, 180])
        for name, x in (("One", 200), ("Two", 320), ("Three", 440))
    ]
    inner = scene(*plates, layer("Carries", content={"kind": "carrier"}), id="three", name="Three")
    content = {"kind": "scene", "asset": "three", "cascades": list(cascades)}
    made = scene(layer("Inner", content=content, position=[320, 180]), background="#fff8eaff")
    return made, Assets(scenes={"three": inner})


def test_the_layers_of_a_scene_are_units() -> None:
    """One after another, each about its own anchor, what carries not counted; at rest to the byte."""
    drops = {"unit": "item", "each": 10, "amount": 10, "ease": "linear", "offset": [0, 100], "opacity": 50}

    def at(frame: float, *cascades: dict[str, Any]) -> np.ndarray:
        made, media = nested(*cascades)
        painter = Painter(made.width, made.height, lambda *_: None)
        painter.paint(draw_list(resolve(made, np.array([frame]), media)), 0)
        return painter.pixels()

    assert (at(40) == at(40, drops)).all()
    shown = at(15, drops)[:, :, 1] < 240
    lows = [int(np.flatnonzero(shown[:, x]).max()) for x in (200, 320, 440)]
    assert lows == [224, 274, 324]
    made, media = nested(drops)
    (told,) = cascades_at(made.layer("inner"), 0, Context(made, media))
    assert [unit["begins"] for unit in told["units"]] == [0, 10, 20]
    # Seen in perspective they lie as their middles are seen: half as wide at 60 degrees.
    wide = at(0, {"unit": "whole", "each": 0, "start": 5, "amount": 0, "turn_y": 60, "distance": 1e6})[180, :, 1] < 240
    assert np.diff(np.flatnonzero(np.diff(wide.astype(int))))[::2].tolist() == pytest.approx([30, 30, 30], abs=1)
    assert read_scene(made.to_json()) == made


def test_colours_come_from_gradients_and_those_on_top_of_others() -> None:
    """Half-way from a gradient a letter is half of it; a colour and a gradient lie on one another in their order, at
    whatever frames they are asked for."""
    gradient = {"gradient": "linear", "stops": [
        {"at": {"rest": 0}, "colour": "#ff0000"}, {"at": {"rest": 100}, "colour": "#0000ff"}]}  # fmt: skip
    half = {"unit": "whole", "each": 20, "amount": 0, "ease": "linear", "fill": gradient}
    content = {"kind": "text", "text": "IIIIIIII", "size": 120, "fill": "#00ff00ff"}

    def inks(*cascades: dict[str, Any], fill: Any = "#00ff00ff") -> np.ndarray:
        sign = layer("Sign", content=content | {"fill": fill, "cascades": list(cascades)}, position=[320, 180])
        found = pixels(scene(sign, background="#ffffffff"), 10)[180].astype(int)
        return found[(found != 255).any(axis=1)]

    row = inks(half)
    first, last = row[3], row[-4]
    # Half of red, and half of blue, with half of the green.
    assert abs(first - [122, 128, 6, 255]).max() <= 12
    assert abs(last - [6, 128, 122, 255]).max() <= 12
    black = {"unit": "whole", "each": 20, "amount": 0, "ease": "linear", "fill": "#000000ff"}
    for order in ([half, black], [black, half]):
        row = inks(*order)
        assert row[3][1] <= 70
    turned = [{"at": {"rest": 0}, "colour": "#0000ff"}, {"at": {"rest": 100}, "colour": "#ff0000"}]
    over = inks(half, fill={**gradient, "stops": turned})
    assert abs(over[3][[0, 2]] - 128).max() <= 12, "a gradient over another takes its colours at the stops of that"


@pytest.mark.parametrize(("start", "stop", "after", "wanted"), [
    (3, 7, "Very low tide in", (7, 11)), (3, 7, "Low tides in", (3, 8)), (3, 7, "Low in", (3, 3)),
    (0, 3, "The Low tide in", (0, 6)), (3, None, "A Low tide in", (4, None)), (3, 7, "Low tide\nin", (3, 7)),
])  # fmt: skip
def test_a_choice_stays_on_its_letters(
    start: int, stop: int | None, after: str, wanted: tuple[int, int | None]
) -> None:
    before = "Low tide in"
    cascades = [{"choice": {"start": start, "stop": stop}}, {"unit": "word", "choice": {"picked": [1]}}]
    content = {"kind": "text", "text": before, "size": 40, "cascades": cascades}
    made = scene(layer("Sign", content=content))
    edit = {"edit": "set_content", "layer": "sign", "path": "text", "value": after}
    changed = edited(made, edit).layer("sign").content
    assert isinstance(changed, TextContent)
    choice, words = (one.choice for one in changed.cascades)
    assert choice
    assert words
    assert (choice.start, choice.stop) == wanted
    told = [after.split()[number] for number in words.picked or ()]
    assert told == [word for word in after.split() if word in ("tide", "tides")]


def test_letters_are_found_as_they_are_set() -> None:
    for words in ("Low tide in", "  two  spaces ", "a\n\nb c", "مد و جزر", "ज्वार भाटा", "e\u0301 🙂🏽!"):
        setting, _, _ = set_at(text_of(words))
        for unit in ("letter", "word"):
            assert len(stretches_of(words, unit)) == int(units_of(setting, unit).count[0]), (words, unit)


def test_a_part_that_has_a_name_is_moved_alone() -> None:
    """Its letters, and those of another part of the same name; none where no part is called so, which is found."""
    parts = [
        {"start": 0, "stop": 3, "name": "Star"},
        {"start": 9, "stop": 11, "name": "Star", "case": "small capitals"},
    ]
    content = text_of("Low tide in", parts=parts)
    setting, _, _ = set_at(content)
    units = units_of(setting, "letter")
    assert chosen(Choice(part="Star"), units)[0].tolist() == [1, 1, 1, 0, 0, 0, 0, 1, 1]
    assert chosen(Choice(part="Moon"), units)[0].tolist() == [0] * 9
    cascade = {"offset": [0, 9], "choice": {"part": "Moon"}}
    fields = {"kind": "text", "text": "Low tide in", "size": 40, "fill": "#112233", "parts": parts}
    made = scene(layer("Sign", content=fields | {"cascades": [cascade]}))
    (found,) = [one for one in check_scene(made, NO_MEDIA) if one.check == "cascade"]
    assert "no part of the text is called so" in found.sentence


def test_what_has_no_area_is_not_painted() -> None:
    """Units scaled to nothing along one axis leave no hairline, whatever they are painted with."""
    flat = {"way": "out", "each": 0, "amount": 0, "scale": [0, 100], "skew": 20, "blur": 4}
    content = {"kind": "text", "text": "Low", "size": 90, "fill": "#112233", "stroke": {"colour": "#d24b1e"}}
    made = scene(layer("Sign", content=content | {"cascades": [flat]}, position=[320, 180]), background="#ffffffff")
    assert (pixels(made, 30) == 255).all()
    why = painted_over(made, "sign", 30, alone=True)
    assert (why.reason, why.go) == ("cascade", 0)
    assert "has taken it away" in why.sentence


def test_those_that_are_chosen_take_part_softly_or_as_picked() -> None:
    setting, _, _ = set_at(text_of("abcdef gh"))
    units = units_of(setting, "letter")
    strong = chosen(Choice(start=1, stop=7, soft_start=2, soft_stop=1, curve="linear"), units)[0]
    assert strong == pytest.approx([0, 1 / 3, 2 / 3, 1, 1, 1, 1 / 2, 0])
    assert chosen(Choice(), units)[0].tolist() == [1] * 8
    words = units_of(setting, "word")
    assert chosen(Choice(picked=(1,)), words)[0].tolist() == [0, 1]
    # A word begins with its first letter.
    assert chosen(Choice(start=3), words)[0].tolist() == [0, 1]


@pytest.mark.parametrize("kind", ["letters", "items", "layers"])
def test_a_cascade_runs_on_when_its_layer_is_cut_or_the_rate_is_another(kind: str) -> None:
    """Split, trimmed and at twice the rate, and read again after each: the picture of each moment is the same."""
    bars = [{"shape": "rectangle", "size": [40, 90], "at": [x, 0], "fill": "#0e6b61"} for x in (-120, 0, 120)]
    comes = {"start": 5, "each": 20, "amount": 3, "offset": [0, 50], "opacity": 0}
    goes = {"way": "out", "start": 40, "each": 10, "spread": "total", "amount": 18, "turn_z": 40}
    content: dict[str, Any] = {"kind": "shape", "items": bars}
    if kind == "letters":
        content = {"kind": "text", "text": "Low tide in", "size": 60, "fill": "#1b2628"}
    unit = {} if kind == "letters" else {"unit": "item"}
    made = scene(layer("Sign", content=content | {"cascades": [comes | unit, goes | unit]}), background="#fff8eaff")
    media = NO_MEDIA
    if kind == "layers":
        made, media = nested(comes | unit, goes | unit)
    frames, sign = (10, 21, 22, 30, 45), made.layers[0].id
    before = [pixels(made, frame, media) for frame in frames]
    for edit in (
        {"edit": "split_layer", "layer": sign, "frame": 22},
        {"edit": "trim_span", "layer": sign, "start": 8, "length": 52},
        {"edit": "set_scene", "frame_rate": [60, 1]},
    ):
        after = read_scene(edited(made, edit, media=media).to_json())
        times = after.length // made.length
        for frame, picture in zip(frames, before, strict=True):
            assert (pixels(after, frame * times, media) == picture).all(), (edit["edit"], frame)
