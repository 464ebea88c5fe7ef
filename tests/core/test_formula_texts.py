"""Texts that formulas write: numbers formatted against decimals, set and drawn as the same texts typed, read again."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal, localcontext
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import scene_of
from mudskipper.core.formulas.problem import Faulty
from mudskipper.core.formulas.texts import Texts, formatted, texts_of
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.layers import ResolvedLayer
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.resolve.speeds import speeds
from mudskipper.paint.painter import Painter
from tests.conftest import cases, layer, scene
from tests.core.test_formulas import made


def gauge(formula: str | None, text: str = "Low tide", **more: Any) -> dict[str, Any]:
    content = {"kind": "text", "text": text, "size": 48, **more}
    if formula is not None:
        content["written"] = {"formula": formula}
    return layer("Gauge", content=content)


def written(formula: str, **more: Any) -> tuple[list[str], ResolvedLayer]:
    of = scene(gauge(formula, **more), layer("Sign", rotation={"rest": 3}))
    one = resolve(of, range(60), NO_MEDIA).layers["gauge"]
    return texts_of(one.values["content.written"]), one


@cases(200)
@given(number=st.floats(-1e9, 1e9), places=st.integers(0, 4), wide=st.integers(1, 5))
@example(number=2.675, places=2, wide=1)
@example(number=-0.04, places=1, wide=1)
def test_a_number_is_written_as_its_decimal_is(number: float, places: int, wide: int) -> None:
    pattern = "0" * wide + ("." + "0" * places if places else "")
    (found,) = formatted(np.array([[number]]), Texts((pattern,))).rows
    near = Decimal(repr(number)).quantize(Decimal(1).scaleb(-places), rounding=ROUND_HALF_UP)
    assert abs(Decimal(found) - near) <= (Decimal(1).scaleb(-places) if abs(number) > 1e6 else 0)
    assert len(found.lstrip("-").split(".")[0]) >= wide
    assert not (Decimal(found) == 0 and found.startswith("-"))


@pytest.mark.parametrize(
    ("number", "pattern", "text"),
    [
        (75, "0:00", "1:15"), (75.96, "0:00.0", "1:15.9"), (59.99, "00:00", "00:59"), (3_661, "0:00:00", "1:01:01"),
        (-5, "0:00", "-0:05"), (12_345.6, "0,000", "12,346"), (999.5, "0,000.0", "999.5"), (3, "+0", "+3"),
        (-3, "+0", "-3"), (0, "+0.0", "+0.0"), (7, "000", "007"), (1e20, "0", "100000000000000000000"),
        (float("nan"), "0", "–"),
    ],
)  # fmt: skip
def test_clocks_thousands_and_signs(number: float, pattern: str, text: str) -> None:
    assert formatted(np.array([[number]]), Texts((pattern,))).rows == (text,)


@pytest.mark.parametrize("size", [48, {"rest": 40, "keys": [{"frame": 0, "value": 20}, {"frame": 59, "value": 60}]}])
@pytest.mark.parametrize("align", ["left", "centre", "right"])
def test_it_is_set_and_drawn_as_the_same_text_typed(align: str, size: Any) -> None:
    formula = '"Tide " + format(t * 7.31, "0.0") + (" m" if t < 1 else "\\nfalling")'
    texts, one = written(formula, align=align, size=size, tracking=20)
    assert len(set(texts)) > 30
    assert not one.problems
    for frame in (0, 13, 31, 59):
        plain = scene(gauge(None, texts[frame], align=align, size=size, tracking=20))
        mine = scene(gauge(formula, align=align, size=size, tracking=20))
        typed = resolve(plain, range(60), NO_MEDIA)
        boxes = [np.broadcast_to(box, (60, 4))[frame] for box in (typed.layers["gauge"].box, one.box)]
        assert np.allclose(*boxes)
        pictures = []
        for of in (plain, mine):
            painter = Painter(of.width, of.height, lambda source, frame: None)
            painter.paint(draw_list(resolve(of, range(60), NO_MEDIA)), frame)
            pictures.append(painter.pixels().astype(int))
        assert np.abs(pictures[0] - pictures[1]).max() <= 1, texts[frame]


@pytest.mark.parametrize(
    ("formula", "first", "last"),
    [
        ('format(frame, "0")', "0", "59"),
        ("letters(base, t * 8)", "", "Low tide"),
        ('base + ", " + format(scene["Sign"].rotation, "0") + "°"', "Low tide, 3°", "Low tide, 3°"),
        ('if_before(30, base, "High tide")', "Low tide", "High tide"),
        ('stepped(format(t, "0.00"), 1)', "0.00", "1.00"),
        ('a = format(floor(t), "0")\n"Day " + a if t < 1 else "Next " + a', "Day 0", "Next 1"),
        ('upper(letters(base, frame)) + lower(" M")', " m", "LOW TIDE m"),
        ('letters("क्षिस्ते" + "a\u0301b", 2 + floor(t) * 2)', "क्षिस्ते", "क्षिस्तेa\u0301b"),
        ('date("2024-02-28", frame, "WW, D MMM YY")', "Wednesday, 28 Feb 24", "Saturday, 27 Apr 24"),
        (
            'date("2026-12-31", floor(t), "DD.MM.YYYY: M, W of W1, MMMM")',
            "31.12.2026: 12, Thu of W1, December",
            "01.01.2027: 1, Fri of W1, January",
        ),
        ('scene["Gauge"].text', None, None),
    ],
)
def test_what_texts_are_made_of(formula: str, first: str | None, last: str) -> None:
    texts, one = written(formula)
    if first is None:
        assert "needs" in one.problems["content.written"].sentence
        assert set(texts) == {""}  # it is the text as it was typed
        assert one.box[0, 2] > 100
    else:
        assert (texts[0], texts[-1]) == (first, last) if len(texts) > 1 else texts == [first]
        alone = resolve(scene(gauge(formula), layer("Sign", rotation={"rest": 3})), [31], NO_MEDIA).layers["gauge"]
        assert texts_of(alone.values["content.written"]) == [texts[31] if len(texts) > 1 else texts[0]]


@pytest.mark.parametrize(
    ("formula", "sentence", "mend"),
    [
        ("t * 25", "takes a text, and the formula gives a number", 'format(t * 25, "0")'),
        ('"Tide " + t', 'A number becomes a text by format(value, "0.0").', '"Tide " + format(t, "0")'),
        ('t + " m"', "A number becomes a text", 'format(t, "0") + " m"'),
        ('format(t, "#.#")', "is no pattern of a number", None),
        ("format(t, 2)", "takes its pattern in quotes", None),
        ('"a" * 3', "A text is no number", None),
        ("letters(t, 3)", "takes a text in quotes", None),
        ('date("30.11.2026", t, "D")', "is no date: one is written year, month and day, as 2026-11-30", None),
        ('date("2026-11-30", t * 1e7, "D")', "lies beyond the years 1 to 9999", None),
        ('date(2026, t, "D")', "takes both texts in quotes", None),
        ("upper(t)", 'upper("text") takes a text in quotes', None),
        ('scene["Sign"].text', "has no 'text'", None),
    ],
)
def test_what_is_wrong_is_said_with_its_mend_and_the_text_stays(formula: str, sentence: str, mend: str | None) -> None:
    texts, one = written(formula)
    problem = one.problems["content.written"]
    assert sentence in problem.sentence
    assert mend is None or mend in [found.text for found in problem.mends]
    assert set(texts) == {""}


@pytest.mark.parametrize(
    "formula", ["letters(base, t * 8)", '" "', 'letters(base, frame - 20) + "\\n"', 'format(t, "0") + base']
)
@pytest.mark.parametrize("frames", [[0], [1, 2], range(60), [59, 0, 30]])
def test_any_window_gives_the_same_texts_boxes_and_speeds_also_of_nothing(formula: str, frames: Any) -> None:
    """A text that is empty in all of a window is empty, and not the one that was typed."""
    of = scene(gauge(formula, text="Low tide " * 40))
    whole = resolve(of, range(60), NO_MEDIA).layers["gauge"]
    texts = texts_of(whole.values["content.written"])
    part = resolve(of, frames, NO_MEDIA)
    one = part.layers["gauge"]
    assert texts_of(one.values["content.written"]) == [texts[frame] for frame in frames]
    assert np.allclose(np.broadcast_to(one.box, (len(frames), 4)), np.broadcast_to(whole.box, (60, 4))[list(frames)])
    painter = Painter(of.width, of.height, lambda source, frame: None)
    painter.paint(draw_list(part), 0)
    assert bool(painter.pixels()[..., 3].any()) == bool(texts[next(iter(frames))].strip())
    assert "content.written" not in speeds(resolve(of, range(9, 31), NO_MEDIA))["gauge"]


def test_it_is_set_renamed_cut_and_taken_off_by_edits() -> None:
    before = scene(gauge(None), layer("Sign", rotation={"rest": 3}))
    edit = {"edit": "set_formula", "layer": "gauge", "property": "content.written"}
    text = 'format(scene["Sign"].rotation + t, "0.0")'
    after = made(before, edit | {"text": text}, {"edit": "rename_layer", "layer": "sign", "name": "Flag"})
    assert after.layers[0].formulas == {"content.written": text.replace("Sign", "Flag")}
    assert scene_of(after.model_dump(mode="json", by_alias=True)) == after
    halves = made(after, {"edit": "split_layer", "layer": "gauge", "frame": 25})
    whole = resolve(after, range(60), NO_MEDIA).layers["gauge"].values["content.written"]
    parts = [resolve(halves, range(60), NO_MEDIA).layers[one.id] for one in halves.layers[:2]]
    for part, frames in zip(parts, (slice(0, 25), slice(25, 60)), strict=True):
        assert texts_of(part.values["content.written"][frames]) == texts_of(whole[frames])
    bare = made(after, edit | {"text": ""})
    assert bare.layers[0].content == before.layers[0].content
    with pytest.raises(Refused, match="no property"):
        made(before, edit | {"layer": "sign", "text": "t"})
    with pytest.raises(Refused, match="has no keys"):
        made(after, {"edit": "write_as_keys", "layer": "gauge", "property": "content.written"})


@pytest.mark.parametrize(
    ("edit", "fields", "sentence"),
    [
        ("set_property", {"frame": 0, "value": "High"}, "is written by a formula"),
        ("set_key", {"frame": 0, "value": 3}, "is written by a formula"),
        ("start_keying", {"frame": 3}, "has no keys and no value of its own"),
        ("land_on_keys", {}, "no formula that gives numbers"),
        ("set_formula", {"text": "x" * 2_000}, None),
        ("stop_keying", {"frame": 3}, None),
    ],
)
def test_what_is_of_numbers_alone_is_refused_in_words(edit: str, fields: dict[str, Any], sentence: str | None) -> None:
    before = scene(gauge('format(t, "0")'))
    given = {"edit": edit, "layer": "gauge", "property": "content.written", **fields}
    if sentence is None:
        after = made(before, given)
        assert scene_of(after.model_dump(mode="json", by_alias=True)) == after
    else:
        with pytest.raises(Refused, match=sentence):
            made(before, given)


@pytest.mark.parametrize("doubled", [12, 28, 90])
def test_a_text_that_doubles_itself_is_bounded_before_it_is_made(doubled: int) -> None:
    formula = "a = base + base\n" + "a = a + a\n" * doubled + "a"
    made = scene(layer("Words", content={"kind": "text", "text": "Low tide", "written": {"formula": formula}}))
    one = resolve(made, range(60), NO_MEDIA).layers["words"]
    assert "a text that is made on the way has at most 20,000" in one.problems["content.written"].sentence


@pytest.mark.parametrize(
    ("pattern", "number", "text"),
    [
        ("0,000", 1234567.8, "1,234,568"), ("0,000.00", -1234.5, "-1,234.50"), ("0.000,00 €", 1234.5, "1.234,50 €"),
        ("0 000", 1234567, "1 234 567"), ("0.000.000", 1234567, "1.234.567"), ("0,000,000", 12, "12"),
        ("0.000", 1.5, "1.500"), ("0,0", 3.14, "3,1"), ("0,0000", 0.5, "0,5000"), ("0 %", 47.6, "48 %"),
        ("$0,000", -5, "$-5"), ("+0.0 m", 2, "+2.0 m"), ("Day 00", 7, "Day 07"), ("0:00:00", 3725.9, "1:02:05"),
        ("0", 1e15, "1000000000000000"), ("0,000", 1e21, "1,000,000,000,000,000,000,000"), 
        ("0.00", 1e16, "10000000000000000.00"), ("0'000", 5000, "5'000"), ("0.", 5, "5."), ("(0)", -0.2, "(0)"),
        ("0.0 m2", 3, "3.0 m2"), ("CO2: 0 %", 4, "CO2: 4 %"),
    ],
)  # fmt: skip
def test_numbers_are_written_as_their_pattern_is(pattern: str, number: float, text: str) -> None:
    assert formatted(np.array([[number]]), Texts((pattern,))).rows == (text,)


@pytest.mark.parametrize(
    "pattern", ["", "m", "0,000,00", "0.0.0", "10", "0 0", "0 of 10", "0.5", "0,7 m", "0:0", "#.#"]
)
def test_what_is_no_pattern_is_said(pattern: str) -> None:
    with pytest.raises(Faulty, match="is no pattern of a number"):
        formatted(np.array([[1.0]]), Texts((pattern,)))


@cases(300)
@given(
    st.floats(-1e18, 1e18) | st.floats(-1e4, 1e4) | st.integers(-10**6, 10**6).map(lambda n: n / 8),
    st.sampled_from(["", ",", ".", " "]), st.integers(0, 6),
)  # fmt: skip
def test_numbers_are_those_of_decimal_arithmetic(number: float, part: str, places: int) -> None:
    """Against Python's decimals, rounded half away from 0, but where a float lies within 1e-9 of such a half."""
    point = "," if part == "." else "."
    spread = f"0{part}000" if part else "0"
    pattern = spread + (f"{point}{'0' * places}" if places else (".000" if part == "." else ""))
    exact = Decimal(number)
    step = Decimal(1).scaleb(-places)
    with localcontext() as exactly:
        exactly.prec = 60
        wanted = exact.quantize(step, ROUND_HALF_UP)
        near = abs(abs(exact / step) % 1 - Decimal("0.5")) < Decimal("2e-9") * max(1, abs(int(exact / step)) // 10**6)
    written_ = formatted(np.array([[number]]), Texts((pattern,))).rows[0]
    plain = written_.replace(part, "") if part else written_
    got = Decimal(plain.replace(point, "."))
    assert got == wanted or (near and abs(got - exact) <= step)
    assert part == "" or all(len(one.split(point)[0]) == 3 for one in written_.split(part)[1:])
