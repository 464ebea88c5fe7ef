"""Formulas typed as other languages write them: what is offered in their place means the same. Chromium runs the texts
themselves; a table holds what it does not speak."""

from __future__ import annotations

import math
import random
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Browser

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.formulas.foreign import translated
from mudskipper.core.formulas.language import read
from mudskipper.core.formulas.problem import FormulaProblem
from mudskipper.core.formulas.reader import Program
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import EXAMPLES, FIRST, layer, scene

AT = [0.0, 0.5, 1.0, 1.7, 2.0]
RUN = "(texts) => texts.map(text => [0, 0.5, 1, 1.7, 2].map(t => Number(Function('t', 'return (' + text + ')')(t))))"


def values(text: str) -> np.ndarray:
    """What a formula of a rotation gives at some seconds."""
    of = scene(layer("Plate", rotation={"rest": 0, "formula": text}), frame_rate=(30, 1))
    one = resolve(of, [second * 30 for second in AT], NO_MEDIA).layers["plate"]
    assert not [said for said in one.problems.values() if not said.frames], (text, one.problems)
    return np.broadcast_to(one.values["rotation"][:, 0], (len(AT),))


class Script:
    """Draws texts of a scripting language."""

    def __init__(self, seed: int) -> None:
        self.dice = random.Random(seed)

    def number(self, depth: int) -> str:
        dice = self.dice
        if depth <= 0 or dice.random() < 0.2:
            return dice.choice(["t", "2", "0.5", "3", "t * 2", ".25", "Math.PI"])
        way = dice.randint(0, 7)
        a, b = self.number(depth - 1), self.number(depth - 1)
        if way == 0:
            return f"({self.test(depth - 1)} ? {a} : {b})"
        if way == 1:
            return f"Math.{dice.choice(['sin', 'cos', 'abs', 'floor', 'ceil'])}({a})"
        if way == 2:
            return f"Math.{dice.choice(['max', 'min'])}({a}, {b})"
        if way == 3:
            return f"-({a})"
        if way == 4:
            return f"({a} {dice.choice(['+', '-', '*'])} {b})"
        if way == 5:
            return f"{a} {dice.choice(['+', '-'])} {b} * {self.number(0)}"
        if way == 6:
            return f"(Math.abs({a}) + 1) ** 2"
        return f"{a} / (Math.abs({b}) + 1)"

    def test(self, depth: int) -> str:
        dice = self.dice
        a, b = self.number(0), self.number(0)
        if depth <= 0 or dice.random() < 0.4:
            return f"{a} {dice.choice(['<', '<=', '>', '>=', '===', '!==', '==', '!='])} {b}"
        way = dice.randint(0, 3)
        one, other = self.test(depth - 1), self.test(depth - 1)
        if way == 0:
            return f"!({one})"
        return f"{one} {dice.choice(['&&', '||'])} {other}" if way < 3 else f"({one} || {other}) && {one}"

    def text(self) -> str:
        whole = f"{self.test(2)} ? {self.number(2)} : {self.number(2)}"
        return whole if self.dice.random() < 0.5 else self.number(3)


def test_what_is_offered_means_what_was_written(browser: Browser) -> None:
    texts = list(dict.fromkeys(Script(FIRST + seed).text() for seed in range(EXAMPLES * 10)))
    page = browser.new_page()
    try:
        wanted = page.evaluate(RUN, texts)
    finally:
        page.close()
    checked = 0
    for text, want in zip(texts, wanted, strict=True):
        ours = translated(text)
        assert ours is not None, text
        if not all(math.isfinite(one) for one in want):
            continue
        assert np.allclose(values(ours), want, rtol=1e-9, atol=1e-9), (text, ours)
        checked += 1
    assert checked > 0.7 * len(texts)


MEANT: list[tuple[str, str, str]] = [
    ("t >= 2 ? 90 : 0", "? is written", "90 if t >= 2 else 0"),
    ("t > 1 ? t > 2 ? 3 : 2 : 1", "? is written", "(3 if t > 2 else 2) if t > 1 else 1"),
    ("a = t > 1 ? 3 : 4; a * 2", "? is written", "a = 3 if t > 1 else 4\na * 2"),
    ("!t == 1", "! is written not", "(not t) == 1"),
    ("if (t > 1) { 30 } else { 20 }", "has no place here", "30 if t > 1 else 20"),
    ("if (t > 1) { return 3; } else if (t > .5) { return 2; } else { return 1; }", "ends nothing here",
     "3 if t > 1 else 2 if t > 0.5 else 1"),
    ("IF(t>1;2;3)", "ends nothing here", "2 if t > 1 else 3"),
    ("=IF(AND(t>1,t<2),2,3)", "== compares", "2 if t > 1 and t < 2 else 3"),
    ("t = 2 ? 1 : 0", "? is written", "1 if t == 2 else 0"),
    ("t <> 2 ? 1 : 0", "? is written", "1 if t != 2 else 0"),
    ("50% * t", "50% is written 50", "50 * t"),
    ("vec2(t, 3)", "a pair is written (x, y)", "(t, 3)"),
    ("Math.sin(time * 2 * Math.PI) * 30;", "", "sin(t * 2 * pi) * 30"),
    ("mod(t, 2)", "a % b", "t % 2"),
    ("saturate(t - 1)", "clamp(x, 0, 1)", "clamp(t - 1, 0, 1)"),
    ("value * 2", "here it is base", "base * 2"),
    ("rgb(255, 0, 0)", "a colour is written", "(255, 0, 0)"),
    ("#ff0000", "", '"#ff0000"'),
    ("red", 'Did you mean "#ff0000"?', '"#ff0000"'),
    ('layer("Sign").rotation', 'scene["Name"]', 'scene["Sign"].rotation'),
    ('sound("Bell").level * 3', 'scene["Name"]', 'scene["Bell"].loudness * 3'),
    ('layer("A").to_scene((0, 0))', "in_scene(point)", 'scene["A"].in_scene((0, 0))'),
    ("rotatoin * Math.PI", "Did you mean rotation?", "rotation * pi"),
    ("Math.max(1, t", "never closed", "max(1, t)"),
    ("t\u00a0+ 1\u00a0", "a space of another kind", "t + 1"),
    ("x = 2\nx.toFixed(1)", "", 'x = 2\nformat(x, "0.0")'),
]  # fmt: skip


@pytest.mark.parametrize(("text", "words", "mend"), MEANT)
def test_what_stands_there_is_said_with_what_can(text: str, words: str, mend: str) -> None:
    found = read(text)
    assert isinstance(found, FormulaProblem)
    assert words in found.sentence, found.sentence
    assert [one.text for one in found.mends] == [mend]
    assert isinstance(read(mend), Program)


@pytest.mark.parametrize("text", ["zzqq", "qwertyuiop(3)", "valu + 2", "100 * tt", "t > 1 ? 30", "2 sin(t)"])
def test_what_is_far_is_not_guessed(text: str) -> None:
    found = read(text)
    assert isinstance(found, FormulaProblem)
    assert not found.mends


def test_a_decimal_comma_is_offered_as_a_point() -> None:
    of = scene(layer("Plate", rotation={"rest": 0, "formula": "t * 1,5"}))
    problem: Any = resolve(of, [10.0], NO_MEDIA).layers["plate"].problems["rotation"]
    assert [one.text for one in problem.mends] == ["t * 1.5"]


GAPS = [
    "5 if sqrt(t - 9) > 0 else 3",
    "step(1, sqrt(t - 9))",
    "not sqrt(t - 9)",
    "square(log(-1))",
    "sqrt(t - 9) > 0 and t < 9",
]


@pytest.mark.parametrize("text", GAPS)
def test_nothing_is_told_from_what_has_no_value(text: str) -> None:
    of = scene(layer("Plate", rotation={"rest": 7, "formula": text}))
    one = resolve(of, range(60), NO_MEDIA).layers["plate"]
    assert (one.values["rotation"] == 7).all()
    assert "no value" in one.problems["rotation"].sentence
    assert "divided" not in one.problems["rotation"].sentence


def test_a_part_that_decides_alone_is_enough() -> None:
    assert (values("8 if t < 0 and sqrt(t - 9) > 0 else 3") == 3).all()
    assert (values("8 if t >= 0 or sqrt(t - 9) > 0 else 3") == 8).all()
    assert (values("3 if t < 9 else sqrt(-1)") == 3).all()
    assert values("smoothstep(1, 1, t)").tolist() == values("step(1, t)").tolist() == [0, 0, 1, 1, 1]
