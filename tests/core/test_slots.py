"""Slots: what fills them lands where it should, nested scenes show what their fills say, and slots go along with what
they fill, whatever is done to it."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.checks.rows import RowChecks
from mudskipper.core.contents.assets import NO_MEDIA, Assets, PictureInfo
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.document.slots import Row
from mudskipper.core.edits import apply_edits
from mudskipper.core.ground.errors import Refused
from mudskipper.core.ground.file_name import file_name
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.slots import SLOT_KINDS, Asked
from mudskipper.core.slots.filling import filled, holders, slot_of, with_value
from mudskipper.core.slots.landed import landed, landing
from mudskipper.core.slots.presence import of_length
from mudskipper.core.slots.rows import file_names, scene_of_row, twice
from mudskipper.core.tracks.evaluate import value_at
from mudskipper.core.tracks.kinds import NumberTrack
from mudskipper.starters import STARTERS
from tests.conftest import cases, layer, scene
from tests.core.test_any_edits import EDIT, crab

ASKED = Asked((30, 1), {("picture", "gull.png"): "gull"}, {"coral": "#d9482fff"}, frozenset({"Figtree", "Literata"}))
PICTURES = Assets(
    pictures={name: PictureInfo(id=name, width=w, height=h) for name, w, h in (("shell", 400, 300), ("gull", 200, 400))}
)
FADE = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 10, "value": 80, "ease": "ease"}]}
TEXT: dict[str, Any] = {"kind": "text", "text": "Ines", "size": 40, "cascades": [{"start": 2, "each": 5, "opacity": 0}]}


def title(**fields: Any) -> Scene:
    """A plate, a text on it, a picture and a crab; slots of every kind."""
    places = [
        ("name", "words", "content.text"), ("ground", "plate", "content.items.@0.fill"), ("fade", "words", "opacity"),
        ("place", "plate", "position"), ("long", "words", "span.length"), ("there", "plate", "visible"),
        ("family", "words", "content.font.family"), ("face", "face", "content.asset"),
        ("claw", "crab", "content.items.@1.transform.rotation"),
        ("eye", "crab", "content.items.@1.items.@0.fill.stops.2.colour"),
        ("shell", "crab", "content.items.@0.fill"), ("inner", "crab", "content.items.@2.items.@0.fill"),
    ]  # fmt: skip
    slots = [{"id": name, "name": name.title(), "places": [{"layer": one, "path": path}]} for name, one, path in places]
    move = {"rest": [9, 9], "keys": [{"frame": 0, "value": [20, 300]}, {"frame": 20, "value": [320, 300]}]}
    return scene(
        layer("Plate", position=move),
        layer("Words", content=TEXT, opacity=FADE, span={"start": 5, "length": 50}, position=[320, 300]),
        layer("Face", content={"kind": "picture", "asset": "shell"}),
        crab(),
        slots=slots,
        **fields,
    )


def edited(before: Scene, *edits: dict[str, Any], assets: Assets = PICTURES) -> Scene:
    """The scene after edits, read again."""
    outcome = apply_edits(before, [EDIT.validate_python(edit) for edit in edits], assets)
    return read_scene(outcome.scene.to_json())


def drawn(shown: Scene, assets: Assets = PICTURES) -> dict[str, Any]:
    """All that is drawn of a scene, as plain data."""
    found = draw_list(resolve(shown, np.arange(shown.length), assets))
    return json.loads(json.dumps(found, default=lambda one: one.tolist() if hasattr(one, "tolist") else vars(one)))


VALUES: list[tuple[str, str, Any]] = [
    ("name", "Bram\nTidesley", "Bram\nTidesley"), ("ground", "fb4", "#ffbb44ff"), ("ground", "Coral", "#d9482fff"),
    ("fade", "40 %", 40.0), ("place", "120; 40,5", (120.0, 40.5)), ("place", "60×-8", (60.0, -8.0)),
    ("long", "2:00", 60.0), ("there", "no", False), ("there", "X", True), ("family", "literata", "Literata"),
    ("face", "Gull.PNG", "gull"), ("claw", "12.5°", 12.5), ("claw", "360/8", 45.0),
]  # fmt: skip


@pytest.mark.parametrize(("slot", "text", "value"), VALUES)
def test_what_is_typed_fills_the_slot_and_is_read_back(slot: str, text: str, value: Any) -> None:
    here = title()
    one = slot_of(here, slot)
    (holder,) = holders(here, one, PICTURES)
    assert holder.kind.read(text, ASKED) == value
    after = edited(here, {"edit": "fill_slots", "fills": [{"slot": slot, "value": value}]})
    (now,) = holders(after, one, PICTURES)
    assert now.value == value
    assert holder.kind.read(holder.kind.written(value, ASKED), ASKED) == value
    others = [(a, b) for a, b in zip(here.layers, after.layers, strict=True) if a.id != holder.layer.id]
    assert all(a == b for a, b in others)


WRONG = [
    ("ground", "mud", "no colour"), ("fade", "high", "no number"), ("place", "12", "no pair"),
    ("long", "soon", "no time"),
    ("there", "maybe", "neither yes nor no"), ("family", "Sundial", "installed"), ("face", "crab.png", "media"),
]  # fmt: skip


@pytest.mark.parametrize(("slot", "text", "said"), WRONG)
def test_what_is_no_value_is_told(slot: str, text: str, said: str) -> None:
    """And the row is as the scene is there."""
    here, troubles = scene_of_row(title(), row(**{slot: text}), ASKED, PICTURES)
    (trouble,) = troubles
    assert said in trouble.sentence
    assert trouble.slot == slot
    assert here.layers == title().layers


@pytest.mark.parametrize(
    ("slot", "value", "said"),
    [
        ("fade", 101.0, "from 0 to 100"), ("fade", 95.0, "from 0 to 90"), ("name", "x" * 21, "at most 20 letters"),
        ("ground", "red", "takes a colour"), ("there", 1.0, "takes yes or no"), ("long", 12.5, "whole frames"),
        ("place", 4.0, "takes two numbers"), ("fade", True, "takes a number"), ("face", "crab", "is not there"),
    ],
)  # fmt: skip
def test_values_out_of_bounds_are_refused(slot: str, value: Any, said: str) -> None:
    here = edited(
        title(),
        {"edit": "change_slot", "slot": "fade", "bounds": {"high": 90.0}} if value == 95 else
        {"edit": "change_slot", "slot": "name", "bounds": {"most": 20}},
    )  # fmt: skip
    with pytest.raises(Refused, match=said):
        edited(here, {"edit": "fill_slots", "fills": [{"slot": slot, "value": value}]})


numbers = st.floats(-500, 500).map(lambda n: round(n, 2))


@cases(80)
@given(
    values=st.lists(numbers, min_size=1, max_size=5), goal=numbers.filter(lambda n: abs(n) > 0.5), ratio=st.booleans()
)
def test_a_track_lands_on_its_value_and_moves_as_it_did(values: list[float], goal: float, ratio: bool) -> None:
    """All keys keep their distance to the last, or their ratio to it."""
    keys = [{"frame": 7 * n, "value": value} for n, value in enumerate(values)]
    track = NumberTrack.model_validate({"rest": values[0], "keys": keys, "after": "repeat"})
    now = landing(track)
    after = landed(track, goal, ratio)
    assert value_at(after, 7 * len(values) - 7, 30.0) == pytest.approx(goal, abs=1e-9)
    for old, new in zip(track.keys, after.keys, strict=True):
        wanted = old.value * goal / now if ratio and now else old.value + goal - now
        assert new.value == pytest.approx(wanted, rel=1e-9, abs=1e-9)
        assert new.frame == old.frame
    if now:
        back = [key.value for key in landed(after, now, ratio).keys]
        assert back == pytest.approx([key.value for key in track.keys], abs=1e-6)
    assert landed(track, now, ratio) is track


@cases(60)
@given(frames=st.sets(st.integers(0, 59), min_size=1, max_size=8), length=st.integers(1, 200))
def test_another_length_keeps_both_ends(frames: set[int], length: int) -> None:
    """What happens in the first half keeps its time from the start, what happens in the second its time to the end;
    keys stay in order, however short it is."""
    keys = [{"frame": frame, "value": float(frame)} for frame in sorted(frames)]
    (one,) = scene(layer("Plate", rotation={"rest": 0, "keys": keys})).layers
    after = of_length(one, length)
    moved = [key.frame for key in after.rotation.keys]
    assert moved == sorted(set(moved))
    early, late = [f for f in sorted(frames) if f <= 30], [f for f in sorted(frames) if f > 30]
    if (min(late, default=60) + length - 60) - max(early, default=0) >= 1:
        assert moved == [*early, *(frame + length - 60 for frame in late)]
    assert of_length(after, length) is after


@pytest.mark.parametrize("fit", ["fill", "inside"])
@pytest.mark.parametrize("framed", [False, True])
def test_another_picture_lies_in_the_box_of_the_one_before(fit: str, framed: bool) -> None:
    """Its middle where that one's was, as large as the box asks for; the box itself stays, wherever the layer is."""
    here = title()
    if framed:
        here = edited(
            here, {"edit": "set_crop", "layer": "face", "on": True, "frame": 0},
            {"edit": "set_framing", "layer": "face", "on": True},
            {"edit": "set_property", "layer": "face", "property": "framing.zoom", "frame": 0, "value": 150},
            {"edit": "set_property", "layer": "face", "property": "framing.about", "frame": 0, "value": [30, 80]},
            {"edit": "set_property", "layer": "face", "property": "crop.left", "frame": 0, "value": 40},
        )  # fmt: skip
    here = edited(here, {"edit": "change_slot", "slot": "face", "fit": fit})
    after = edited(here, {"edit": "fill_slots", "fills": [{"slot": "face", "value": "gull"}]})
    was, now = (Context(one, PICTURES).one(one.layer("face"), 0) for one in (here, after))
    np.testing.assert_allclose(now.box, was.box, atol=1e-6)
    a, _, _, d, e, f = (float(n) for n in np.broadcast_to(now.content_matrix, (1, 6))[0])
    old = [float(n) for n in np.broadcast_to(was.content_matrix, (1, 6))[0]]
    # What the framing goes about, in the middle unless it was put elsewhere, stays where it was.
    x, y = (0.3, 0.8) if framed else (0.5, 0.5)
    about = old[0] * 400 * x + old[4], old[3] * 300 * y + old[5]
    assert (a * 200 * x + e, d * 400 * y + f) == pytest.approx(about, abs=1e-6)
    factor = max(400 / 200, 300 / 400) if fit == "fill" else min(400 / 200, 300 / 400)
    assert (a, d) == pytest.approx((old[0] * factor, old[3] * factor), abs=1e-6)


FILLS = {
    "name": "Bram Tidesley", "ground": "#7a1f4bff", "fade": 50.0, "place": (200.0, 90.0), "long": 40.0, "there": False,
    "family": "Literata", "face": "gull", "claw": 70.0, "eye": "#123456ff", "shell": "#654321ff", "inner": "#224466ff",
}  # fmt: skip


def outer(fills: dict[str, Any], inner: str = "title") -> Scene:
    """A scene that shows another three times, its slots filled otherwise in the first."""
    media = {"face": "picture", "family": "font"}
    told = [{"slot": slot, "value": value, "medium": media.get(slot, "")} for slot, value in fills.items()]
    shown = {"kind": "scene", "asset": inner}
    return scene(
        layer("A", content={**shown, "fills": told}, rotation=12),
        layer("B", content={**shown, "asset": "title"}, position=[90, 40]),
        layer("C", content={**shown, "fills": told[:1]} if inner == "title" else {**shown, "asset": "first"}),
    )


@cases(12)
@given(slots=st.sets(st.sampled_from(sorted(FILLS)), min_size=1))
def test_a_nested_scene_is_drawn_as_one_that_is_so(slots: set[str]) -> None:
    """Filled for a layer, it looks as another scene of which the layers themselves are as the fills say."""
    fills = {slot: FILLS[slot] for slot in sorted(slots)}
    inner = title(id="title")
    by_hand = inner
    for slot, value in fills.items():
        by_hand = with_value(by_hand, slot_of(inner, slot), value, PICTURES)
    slot, value = next(iter(fills.items()))
    first = with_value(inner, slot_of(inner, slot), value, PICTURES).model_copy(update={"id": "first"})
    assets = PICTURES.with_scenes([inner, first, by_hand.model_copy(update={"id": "hand"})])
    assert drawn(outer(fills), assets) == drawn(outer({}, "hand"), assets)
    told = outer(fills).layers[0].content
    assert told.pictures == (("gull",) if "face" in slots else ())
    assert told.families == (("Literata",) if "family" in slots else ())


STEPS: list[tuple[str, list[dict[str, Any]]]] = [
    ("split", [{"edit": "split_layer", "layer": "words", "frame": 30, "id": "tail"}]),
    ("grouped", [{"edit": "group_items", "layers": ["crab/0", "crab/2"]}]),
    ("ungrouped", [{"edit": "ungroup_items", "layer": "crab/2"}]),
    ("an item deleted", [{"edit": "delete_layers", "layers": ["crab/0"]}]),
    ("an item in front", [{"edit": "reorder_layer", "layer": "crab/0", "to": 2}]),
    ("a stop less", [{"edit": "remove_stop", "layer": "crab/1/0", "paint": "fill", "stop": 1}]),
    ("renamed", [{"edit": "rename_layer", "layer": "words", "name": "Speaker"}]),
    ("put away", [{"edit": "put_into_scene", "layers": ["words", "crab", "face"], "scene": "made", "id": "away"}]),
    ("there and back", [
        {"edit": "put_into_scene", "layers": ["words", "crab", "face"], "scene": "made", "id": "away"},
        {"edit": "take_apart", "layer": "away", "anyway": True},
    ]),
]  # fmt: skip


@pytest.mark.parametrize("slot", ["name", "fade", "face", "eye", "claw", "shell", "inner"])
@pytest.mark.parametrize(("step", "edits"), STEPS, ids=[name for name, _ in STEPS])
def test_slots_go_along_with_what_they_fill(step: str, edits: list[dict[str, Any]], slot: str) -> None:
    """Filled after a change it looks as filled before it."""
    if (step, slot) == ("an item deleted", "shell"):
        pytest.skip("what it fills is gone")
    fill = {"edit": "fill_slots", "fills": [{"slot": slot, "value": FILLS[slot]}]}
    looks = []
    for order in ([fill, *edits], [*edits, fill]):
        here, assets = title(), PICTURES
        for edit in order:
            outcome = apply_edits(here, [EDIT.validate_python(edit)], assets)
            here = read_scene(outcome.scene.to_json())
            assets = assets.with_scenes(read_scene(one.to_json()) for one in outcome.made)
        looks.append(drawn(here, assets))
    first, second = (json.dumps(one) for one in looks)
    assert first == second or step in ("put away", "there and back")
    if first != second:
        _same_numbers(*looks)


def _same_numbers(a: Any, b: Any) -> None:
    """Equal but for what floats lose."""
    if isinstance(a, dict):
        assert a.keys() == b.keys()
        for key in a:
            _same_numbers(a[key], b[key])
    elif isinstance(a, list) and a and isinstance(a[0], float | int | list):
        if isinstance(a[0], list):
            assert len(a) == len(b)
            for one, other in zip(a, b, strict=True):
                _same_numbers(one, other)
        else:
            np.testing.assert_allclose(a, b, atol=1e-4)
    elif isinstance(a, float | int):
        assert a == pytest.approx(b, abs=1e-4)
    else:
        assert a == b


def test_words_after_none_are_shown_again() -> None:
    here = title()
    slot = slot_of(here, "name")
    empty = with_value(here, slot, "", PICTURES)
    assert not empty.layer("words").visible
    assert with_value(empty, slot, "Bram", PICTURES) == with_value(here, slot, "Bram", PICTURES)
    hidden = edited(here, {"edit": "set_visible", "layers": ["words"], "visible": False})
    assert not with_value(hidden, slot, "Bram", PICTURES).layer("words").visible


def test_values_on_the_way_stay_in_their_bounds() -> None:
    """What dips at its end and is filled with more keeps within what opacity may be, also in a scene within."""
    dip = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 10, "value": 100}, {"frame": 20, "value": 80}]}
    slots = [{"id": "fade", "name": "Fade", "places": [{"layer": "words", "path": "opacity"}]}]
    inner = scene(layer("Words", content=TEXT, opacity=dip), slots=slots, id="title")
    fill = {"edit": "fill_slots", "fills": [{"slot": "fade", "value": 100}]}
    by_hand = edited(inner, fill)
    assert [key.value for key in by_hand.layer("words").opacity.keys] == [0, 100, 100]
    assets = NO_MEDIA.with_scenes([inner, by_hand.model_copy(update={"id": "hand"})])
    around = scene(layer("A", content={"kind": "scene", "asset": "title"}))
    outcome = apply_edits(around, [EDIT.validate_python({**fill, "layer": "a"})], assets)
    shown = scene(layer("A", content={"kind": "scene", "asset": "hand"}))
    assert drawn(outcome.scene, assets) == drawn(shown, assets)


def test_a_slot_of_what_is_gone_says_so() -> None:
    """It stays until it is removed, rows keep what was typed, and the rest of them is filled."""
    here = edited(title(), {"edit": "delete_layers", "layers": ["words"]})
    assert [one.name for one in here.slots] == [one.name for one in title().slots]
    with pytest.raises(Refused, match="'Name' fills is gone"):
        edited(here, {"edit": "fill_slots", "fills": [{"slot": "name", "value": "Bram"}]})
    after, troubles = scene_of_row(here, row(name="Bram", ground="#123456"), ASKED, PICTURES)
    assert [one.slot for one in troubles] == ["name"]
    assert after.layer("plate").content.items[0].fill.rest == "#123456ff"
    cleared = edited(here, {"edit": "remove_slot", "slot": "name"})
    assert "name" not in [one.id for one in cleared.slots]


def test_one_slot_fills_many_and_is_named_once() -> None:
    here = edited(
        title(), {"edit": "make_slot", "layer": "words", "path": "content.fill", "slot": "ground"},
        {"edit": "make_slot", "layer": "crab/1", "path": "position", "name": "Joint"},
        {"edit": "make_slot", "layer": "crab/2", "path": "opacity"},
        {"edit": "make_slot", "layer": "plate", "path": "content.items.0.size"},
    )  # fmt: skip
    assert here.layer("words").content.fill.rest == here.layer("plate").content.items[0].fill.rest
    after = edited(here, {"edit": "fill_slots", "fills": [{"slot": "ground", "value": "#010203ff"}]})
    assert after.layer("words").content.fill.rest == after.layer("plate").content.items[0].fill.rest == "#010203ff"
    assert [slot.name for slot in after.slots[-3:]] == ["Joint", "Crab opacity of shape 3", "Plate size"]
    np.testing.assert_allclose(
        [one.matrix for one in resolve(here, [9], PICTURES).layers.values()],
        [one.matrix for one in resolve(title(), [9], PICTURES).layers.values()], atol=1e-9,
    )  # fmt: skip
    for wrong, said in (
        ({"layer": "words", "path": "content.text"}, "fills already"), ({"layer": "words", "path": "blend"}, "no slot"),
        ({"layer": "words", "path": "content.size", "slot": "ground"}, "holds a colour"),
        ({"layer": "words", "path": "content.size", "name": "joint"}, "needs its own"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=said):
            edited(after, {"edit": "make_slot", **wrong})


def row(**cells: str) -> Row:
    """A row of a table."""
    return Row.model_validate({"cells": [{"slot": slot, "text": text} for slot, text in cells.items()]})


def test_files_are_called_by_the_pattern_and_never_alike() -> None:
    rows = [row(name="Ines"), row(name="ines "), row(name="Bram\nT", ground="#fff"), row(), row(name="Ines")]
    assert file_names("{Name} – {row}", title(), rows) == ["Ines – 1", "ines – 2", "Bram T – 3", "4", "Ines – 5"]
    assert file_names("{NAME}", title(), rows) == ["Ines", "ines 2", "Bram T", "Test 4", "Ines 3"]
    assert twice(rows) == {rows[1].id: 1, rows[4].id: 1}
    # Also where a cell says what a number would, no file may have a letter, or what differs is cut off.
    hard = [row(name=name) for name in ("A", "a", "A 2", "A/B", "A:B", "x" * 120 + "1", "x" * 120 + "2", "/")]
    names = [file_name(name) for name in file_names("{Name}", title(), hard)]
    assert names == file_names("{Name}", title(), hard)
    assert len({name.casefold() for name in names}) == len(hard)
    with pytest.raises(Refused, match=r"no slot “Nom”.*\{row\}, \{scene\}, \{Name\}"):
        file_names("{Nom}", title(), rows)


def plated(words: str) -> Scene:
    """A text in the middle of a plate of 300 px."""
    text = {"kind": "text", "text": words, "size": 40}
    plate = {"kind": "shape", "items": [{"shape": "rectangle", "size": [300, 90], "fill": "#0e3f45"}]}
    slots = [{"id": "name", "name": "Name", "places": [{"layer": "words", "path": "content.text"}]}]
    return scene(layer("Plate", content=plate), layer("Words", content=text), slots=slots)


@pytest.mark.parametrize("size", [30, 40, 50])
def test_words_beyond_their_plate_are_told_and_shrunk_to_fit(size: int) -> None:
    """By as many pixels as they reach beyond it; the size that is offered is the largest whole percent that fits."""
    here = plated("Ines")
    here = edited(
        here, {"edit": "set_property", "layer": "words", "property": "content.size", "frame": 0, "value": size}
    )
    checks = RowChecks(here, ASKED, NO_MEDIA, 10)
    assert checks.look(row(name="Bram"))[1] == []
    long = row(name="Marguerite Quellstrand")
    shown, (trouble,) = checks.look(long)
    left, _, right, _ = _box(shown)
    assert trouble.sentence == f"Name reaches {max(170 - left, right - 470):.0f} px beyond 'Plate'."
    assert trouble.lines
    assert trouble.size is not None
    for percent, fits in ((trouble.size, True), (trouble.size + 1, False)):
        mend = {"slot": "name", "size": percent}
        mended = long.model_copy(update={"mends": Row.model_validate({"mends": [mend]}).mends})
        after, left_over = checks.look(mended)
        assert (left_over == []) is fits
        if fits:
            assert _box(after)[2] - _box(after)[0] == pytest.approx((right - left) * percent / 100, rel=0.02)


def _box(shown: Scene) -> tuple[float, float, float, float]:
    one = Context(shown, NO_MEDIA).one(shown.layer("words"), 10)
    left, top, width, height = (float(n) for n in one.box[0])
    x, y = float(one.matrix[0, 4]), float(one.matrix[0, 5])
    return left + x, top + y, left + width + x, top + height + y


def test_troubles_of_the_scene_itself_are_not_the_rows() -> None:
    """A letter no font has is told of the row that brings it; one that is in the scene already is not."""
    checks = RowChecks(plated("Ines"), ASKED, NO_MEDIA, 10)
    assert "No font here has" in checks.look(row(name="日本"))[1][0].sentence
    assert RowChecks(plated("日本"), ASKED, NO_MEDIA, 10).look(row(name="日"))[1] == []
    # Without words a text is not shown, and nothing is wrong.
    shown, troubles = checks.look(row(name=" "))
    assert (shown.layer("words").visible, troubles) == (False, [])
    assert holders(shown, shown.slots[0], NO_MEDIA)[0].value == ""


def test_every_starter_can_be_filled_and_nothing_else_of_it_moves() -> None:
    assert len({kind.name for kind in SLOT_KINDS}) == len(SLOT_KINDS)
    for make in STARTERS.values():
        made = make()
        assert made.slots
        fills = {slot.id: holders(made, slot, NO_MEDIA)[0] for slot in made.slots}
        words = {"text": "Low Tide Week 12", "colour": "#7a1f4bff"}
        told = [{"slot": slot, "value": words[one.kind.name]} for slot, one in fills.items()]
        after = edited(made, {"edit": "fill_slots", "fills": told}, assets=NO_MEDIA)
        assert {one.value for slot in after.slots for one in holders(after, slot, NO_MEDIA)} <= set(words.values())
        assert filled(made, (), NO_MEDIA) is made
        problems = [one.problems for one in resolve(after, np.arange(0, after.length, 10), NO_MEDIA).layers.values()]
        assert not any(problems)
