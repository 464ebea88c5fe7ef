"""Keys typed into a table, held against a table kept as a plain dict."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import Outcome, apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.ground.errors import Refused
from mudskipper.core.ground.typed_number import typed_number
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import EXAMPLES, FIRST, layer, scene

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)
START = 5
PATHS = ("position", "rotation", "opacity", "content.items.0.fill")


def typed(made: Scene, *cells: dict[str, Any], **more: Any) -> Outcome:
    edit = EDIT.validate_python({"edit": "type_keys", "layer": "plate", "cells": list(cells), **more})
    outcome = apply_edits(made, [edit], NO_MEDIA)
    assert Scene.model_validate_json(outcome.scene.to_json()) == outcome.scene
    return outcome


def keys_of(made: Scene) -> dict[str, dict[float, tuple[Any, Any]]]:
    """By property and frame of the scene: value and easing."""
    tracks = made.layer("plate").tracks
    return {path: {key.frame + START: (key.value, key.ease) for key in tracks[path].keys} for path in PATHS}


def table(dice: random.Random) -> Scene:
    """A plate from frame 5 on, with keys of four properties."""

    def track(value: Any) -> dict[str, Any]:
        frames = sorted(dice.sample(range(0, 50, 5), dice.randint(1, 5)))
        keys = [{"frame": at, "value": value(), "ease": dice.choice(["linear", "ease-out", "hold"])} for at in frames]
        return {"rest": value(), "keys": keys}

    fill = track(lambda: dice.choice(["#d9482fff", "#0e3f45ff"]))
    item = {"shape": "rectangle", "size": [200, 100], "fill": fill}
    return scene(layer(
        span={"start": START, "length": 55}, content={"kind": "shape", "items": [item]},
        position=track(lambda: [dice.randint(-50, 600), dice.randint(0, 300)]),
        rotation=track(lambda: dice.randint(-90, 90)), opacity=track(lambda: dice.randint(0, 100)),
    ))  # fmt: skip


NUMBERS = {
    "40": lambda now: 40, "+10": lambda now: now + 10, "*1.5": lambda now: now * 1.5, "/4": lambda now: now / 4,
    "100/8 %": lambda now: 12.5, "+-3": lambda now: now - 3,
}  # fmt: skip
COLOURS = {"#f2b544": "#f2b544ff", "fb4": "#ffbb44ff", "12345678": "#12345678"}


def test_random_tables_are_typed_as_a_plain_dict_is() -> None:
    for seed in range(FIRST, FIRST + 5 * EXAMPLES):
        dice = random.Random(seed)
        made = table(dice)
        expected = keys_of(made)
        cells, done = [], set()
        for _ in range(dice.randint(1, 8)):
            path = dice.choice(PATHS)
            frame = dice.choice([*expected[path], dice.randint(START, 54)])
            if (path, frame) in done:
                continue
            done.add((path, frame))
            there = resolve(made, [frame], NO_MEDIA).layers["plate"].values.get(path)
            before = keys_of(made)[path].get(frame)
            cell: dict[str, Any] = {"frame": frame, "property": path}
            if dice.random() < 0.2:
                cells.append(cell | {"text": ""})
                expected[path].pop(frame, None)
                continue
            ease = before[1] if before else "linear"
            if path.endswith("fill"):
                text = dice.choice(list(COLOURS))
                expected[path][frame] = COLOURS[text], ease
            elif path == "position":
                part = dice.choice([0, 1])
                text = dice.choice(list(NUMBERS))
                now = before[0] if before else tuple(there[0])
                new = NUMBERS[text](now[part])
                cell["part"] = part
                expected[path][frame] = ((new, now[1]) if part == 0 else (now[0], new)), ease
            else:
                text = dice.choice(list(NUMBERS))
                new = NUMBERS[text](before[0] if before else float(there[0, 0]))
                expected[path][frame] = (min(max(new, 0), 100) if path == "opacity" else new), ease
            cells.append(cell | {"text": text})
        if cells:
            same(keys_of(typed(made, *cells).scene), expected, seed)


def same(found: dict[str, Any], expected: dict[str, Any], told: object) -> None:
    for path in PATHS:
        assert sorted(found[path]) == pytest.approx(sorted(expected[path])), (told, path)
        for frame, (value, ease) in expected[path].items():
            there = found[path][frame]
            assert there[1] == ease, (told, path, frame)
            if isinstance(value, str):
                assert there[0] == value, (told, path, frame)
            else:
                assert np.allclose(there[0], value, atol=1e-6), (told, path, frame)


def test_rows_are_moved_in_time_as_a_plain_dict_is() -> None:
    """Times, times from the row before, and later rows that go along; a row that meets another or leaves the span is
    refused."""
    refused = 0
    for seed in range(FIRST, FIRST + 8 * EXAMPLES):
        dice = random.Random(seed)
        made = table(dice)
        before = keys_of(made)
        rows = sorted({frame for keys in before.values() for frame in keys})
        ripple = dice.random() < 0.5
        chosen = dice.sample(rows, min(len(rows), dice.randint(1, 3)))
        texts = {row: dice.choice(["7", "12", "0:20", "+3", "-2", "31f"]) for row in chosen}
        column = dice.choice(["time", "after"])
        places: dict[float, float] = {}
        by = 0.0
        for number, row in enumerate(rows):
            places[row] = row + by * ripple
            if row in texts:
                last = rows[number - 1] if column == "after" and number else 0.0
                now, text = row - last, texts[row]
                at = now + float(text) if text[0] in "+-" else {"0:20": 20.0, "31f": 31.0}.get(text) or float(text)
                places[row] = at + (places[last] if last in places and column == "after" and number else 0.0)
                by = places[row] - row
        expected = {path: {places[at]: key for at, key in keys.items()} for path, keys in before.items()}
        out = any(not START <= at < 60 for keys in expected.values() for at in keys)
        meet = any(len(expected[path]) < len(before[path]) for path in PATHS)
        cells = [{"column": column, "frame": row, "text": text} for row, text in texts.items()]
        if out or meet:
            refused += 1
            with pytest.raises(Refused, match=r"would stand at|outside the span"):
                typed(made, *cells, ripple=ripple)
        else:
            same(keys_of(typed(made, *cells, ripple=ripple).scene), expected, seed)
    assert 0 < refused < 8 * EXAMPLES


MADE = table(random.Random(4))
FRAME = next(iter(keys_of(MADE)["rotation"]))


@pytest.mark.parametrize(("cell", "sentence"), [
    ({"property": "rotation", "text": "wide"}, r"Rotation at 0:\d\d: “wide” is no number"),
    ({"property": "position", "part": 1, "text": "1,2,3"}, "Position y at .*: “1,2,3” is no number"),
    ({"property": "position", "text": "12"}, "is no pair of numbers"),
    ({"property": "content.items.0.fill", "text": "#12"}, "is no colour"),
    ({"property": "rotation", "part": 1, "text": "2"}, "has no parts"),
    ({"property": "wobble", "text": "2"}, "wobble"),
    ({"column": "ease", "text": "softly"}, "Easing at .*: “softly” is no easing"),
    ({"column": "ease", "frame": 58, "text": "hold"}, "there is no key to ease"),
    ({"column": "time", "text": "soon"}, "Time at .*: “soon” is no time"),
    ({"column": "time", "frame": 58, "text": "3"}, "has no key at frame 58"),
    ({"property": "rotation", "frame": 2, "text": "3"}, "outside the span"),
    ({"property": "rotation", "at": "soon", "text": "3"}, "Time of a new row: “soon” is no time"),
])  # fmt: skip
def test_what_cannot_be_taken_is_refused_with_its_cell(cell: dict[str, Any], sentence: str) -> None:
    good = {"frame": FRAME, "property": "opacity", "text": "50"}
    with pytest.raises(Refused, match=sentence):
        typed(MADE, good, {"frame": FRAME} | cell)


def test_easings_and_pairs_are_typed_in_words() -> None:
    found = typed(
        MADE, {"column": "ease", "frame": FRAME, "text": "overshoot(20)"},
        {"property": "position", "frame": FRAME, "text": "120, +7"},
        {"property": "rotation", "at": "1:28", "text": "9°"},
    ).scene  # fmt: skip
    now = resolve(MADE, [FRAME], NO_MEDIA).layers["plate"].values["position"][0]
    keys = keys_of(found)
    assert keys["rotation"][FRAME][1].overshoot == 20
    assert keys["position"][FRAME][0] == pytest.approx((120, now[1] + 7))
    assert keys["rotation"][58] == (9, "linear")


def test_times_values_and_new_rows_of_one_paste_belong_together() -> None:
    """A row that is moved takes its values along; a new row stands where its time says, whatever moves along."""
    track = {"rest": 0, "keys": [{"frame": 0, "value": 1, "ease": "hold"}, {"frame": 10, "value": 2}]}
    made = scene(layer(span={"start": START, "length": 55}, rotation=track))
    found = typed(
        made, {"column": "time", "frame": 5, "text": "15"}, {"property": "rotation", "frame": 5, "text": "+10"},
        {"property": "rotation", "frame": 15, "text": "*7"}, {"property": "rotation", "at": "5", "text": "3"},
        {"column": "ease", "at": "5", "text": "ease-out"}, ripple=True,
    ).scene  # fmt: skip
    keys = [(key.frame + START, key.value, key.ease) for key in found.layer("plate").rotation.keys]
    assert keys == [(5, 3, "ease-out"), (15, 11, "hold"), (25, 14, "linear")]


@pytest.mark.parametrize(("text", "number"), [
    ("960", 960), ("-20", -20), ("50%", 50), ("1 000 px", 1000), ("1,000", 1000), ("0,5", 0.5), ("1,000.5", 1000.5),
    ("1920/2", 960), ("-3 * (4 + .5)", -13.5), ("+10", 18), ("+-10", -2), ("*1.5", 12), ("/2", 4), ("2e3", 2000),
    ("-90°", -90), ("12 FPS", 12), ("3 dB", 3), ("1'000'000", 1e6), ("--4", 4), ("2*-3", -6), ("(2+3)*4", 20),
    *((text, None) for text in ("", " ", "abc", "1/0", "1e999", "(", "3)", "2 3", "1..2", "*", "+", "/0", "٣", "1,2,3",
                                "0x10", "2**3")),
])  # fmt: skip
def test_numbers_are_typed_as_in_the_fields_of_the_page(text: str, number: float | None) -> None:
    """The same cases as of `arithmetic.test.ts`."""
    assert typed_number(text, 8) == (None if number is None else pytest.approx(number, abs=1e-12))
