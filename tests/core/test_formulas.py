"""Formulas: read, evaluated for all frames at once, wrong in words, bounded, and the same at any window of frames."""

from __future__ import annotations

import math
import random
import time
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.checks import check_scene
from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.edits.formula_trial import tried, values_of
from mudskipper.core.formulas.functions import FUNCTIONS
from mudskipper.core.formulas.language import program_of, read
from mudskipper.core.formulas.problem import FormulaProblem
from mudskipper.core.formulas.reader import Program
from mudskipper.core.formulas.ready import READY, Ready
from mudskipper.core.formulas.table import TABLE
from mudskipper.core.formulas.texts import Texts
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.formulas.evaluation import Formulas
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene

EDITS: TypeAdapter[Any] = TypeAdapter(list[AnyEdit])
KEYED = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 60, "value": 60}]}


def made(before: Scene, *edits: dict[str, Any], media: Assets = NO_MEDIA) -> Scene:
    return apply_edits(before, EDITS.validate_python(list(edits)), media).scene


def one(
    text: str, name: str = "rotation", rest: Any = 7, frames: Any = None, **more: Any
) -> tuple[Any, FormulaProblem | None]:
    """What a formula of a plate gives (n, d) beside a sign that is keyed, and what is wrong with it."""
    plate = layer("Plate", **{name: {"rest": rest, "formula": text}})
    of = scene(plate, layer("Sign", rotation=KEYED), beats=[{"frame": 10}, {"frame": 40}])
    context = Context(of, NO_MEDIA)
    at = np.arange(60.0) if frames is None else np.asarray(frames, dtype=np.float64)
    found = context.resolve(of.layers[:1], at)[0]
    values = np.broadcast_to(found.values[name], (len(at), found.values[name].shape[1]))
    return values, found.problems.get(name)


def hashed(whole: int, seed: int, channel: int) -> float:
    """SplitMix64 written from its definition, with Python's own whole numbers."""
    mask = 2**64 - 1

    def bits(z: int) -> int:
        z = (z + 0x9E3779B97F4A7C15) & mask
        z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & mask
        z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & mask
        return z ^ (z >> 31)

    return (bits(bits(bits(seed & mask) ^ (whole & mask)) ^ channel) >> 11) * 2.0**-53


def soft(low: float, high: float, value: float) -> float:
    u = min(max((value - low) / ((high - low) or 1e-12), 0.0), 1.0)
    return u * u * (3 - 2 * u)


SCALAR: dict[str, Any] = {
    "sin": math.sin, "cos": math.cos, "tan": math.tan, "atan2": math.atan2, "degrees": math.degrees,
    "radians": math.radians, "exp": math.exp, "abs": abs, "floor": math.floor, "ceil": math.ceil, "round": round,
    "min": min, "max": max, "hypot": math.hypot, "mix": lambda a, b, k: a + (b - a) * k,
    "clamp": lambda v, low, high: min(max(v, low), high), "step": lambda edge, v: float(v >= edge), "smoothstep": soft,
    "fract": lambda v: v - math.floor(v), "saw": lambda v: v - math.floor(v),
    "triangle": lambda v: 1 - abs(2 * (v - math.floor(v)) - 1), "square": lambda v: float(v - math.floor(v) < 0.5),
    "sign": lambda v: float(v > 0) - float(v < 0), "sqrt": lambda v: math.sqrt(abs(v)),
    "log": lambda v: math.log(1 + abs(v)),
    "asin": lambda v: math.asin(v - math.floor(v)), "acos": lambda v: math.acos(v - math.floor(v)),
    "pow": lambda v, p: abs(v) ** (p / 10), "remap": lambda v, a0, a1, b0, b1: b0 + (v - a0) / (a1 - a0) * (b1 - b0),
}  # fmt: skip
WRITTEN = {"sqrt": "sqrt(abs({0}))", "log": "log(1 + abs({0}))", "asin": "asin(fract({0}))", "acos": "acos(fract({0}))",
           "pow": "pow(abs({0}), {1} / 10)"}  # fmt: skip


@pytest.mark.parametrize("name", sorted(SCALAR))
def test_a_function_is_what_a_plain_one_gives_at_a_thousand_frames(name: str) -> None:
    dice = random.Random(name)
    count = TABLE[name].least
    frames = np.array(sorted(dice.uniform(-500, 500) for _ in range(1_000)))
    factors = [dice.uniform(-3, 3) for _ in range(count)]
    inner = [f"(t * {factor})" for factor in factors]
    text = WRITTEN[name].format(*inner) if name in WRITTEN else f"{name}({', '.join(inner)})"
    found, _ = one(text, frames=frames)
    wanted = [SCALAR[name](*(at / 30 * factor for factor in factors)) for at in frames]
    fine = np.isfinite(wanted) & (np.abs(wanted) < 1e12)
    edge = (
        np.abs(np.array(wanted) - found[:, 0]) > 0.9
        if name in ("step", "square", "floor", "ceil", "fract", "saw")
        else 0
    )
    assert np.allclose(found[fine & ~np.bool_(edge), 0], np.array(wanted)[fine & ~np.bool_(edge)], rtol=1e-9, atol=1e-7)
    assert np.sum(edge) <= 3


def test_random_motion_is_that_of_its_definition_and_keeps_within_its_reach() -> None:
    import zlib

    frames = np.arange(0, 60_000.0, 7)
    found, problem = one("wander(2, 30, seed=5)", frames=frames)
    assert problem is None
    seed = 5 + zlib.crc32(b"plate rotation")
    for index in (0, 17, 4_000):
        at = frames[index] / 30 * 2
        low, u = math.floor(at), at - math.floor(at)
        a, b, c, d = (2 * hashed(low + k, seed, 0) - 1 for k in (-1, 0, 1, 2))
        weights = ((1 - u) ** 3, 3 * u**3 - 6 * u**2 + 4, -3 * u**3 + 3 * u**2 + 3 * u + 1, u**3)
        assert found[index, 0] == pytest.approx(30 * sum(w * v for w, v in zip(weights, (a, b, c, d), strict=True)) / 6)
    assert np.abs(found).max() <= 30
    assert found.std() > 6
    assert abs(found.mean()) < 2
    smooth, _ = one("wander(2, 30)", frames=np.arange(0, 600, 0.1))
    assert np.abs(np.diff(smooth[:, 0], 2)).max() < 0.05
    other, _ = one("wander(2, 30, seed=6)", frames=frames)
    assert abs(np.corrcoef(found[:, 0], other[:, 0])[0, 1]) < 0.1
    pair, _ = one("wander(2, (30, 5))", "position", [0, 0], frames)
    assert (np.abs(pair) <= (30, 5)).all()
    assert abs(np.corrcoef(pair.T)[0, 1]) < 0.1


TEXTS = [
    "wander(3, 40)",
    "noise(t * 4) * 9",
    "random(0, 360, seed=2)",
    "base + t * 90",
    'scene["Sign"].rotation.at(t - 0.37)',
    "stepped(t * 90, 7)",
    "beat.phase * 40",
    'ease("spring", fract(t)) * 30',
    "if_before(20, t, 5)",
    "angle_to((0, 0))",
    "a = t * 2\nb = a + 1\nb ** 2 if b > 2 else -b",
    "box.at(0.2, 0.7).x",
    "scene.t + index + count",
    "1 / (frame - 30)",
    'length(scene["Sign"].position) / 10',
    "t > 1 and t < 2",
    "not (frame % 5)",
    "round(t * 3) // 2",
]


@pytest.mark.parametrize("text", [*TEXTS, *(about.example for about in TABLE.values())])
def test_slices_are_the_whole_and_every_example_has_a_value(text: str) -> None:
    """At any window of frames, in any order, and at each frame alone, the value is the same."""
    if text.startswith(("format(", "letters(", "upper(", "lower(", "date(")) or "loudness" in text:
        return  # texts and sounds have tests of their own
    if "unit" in text or "progress" in text:
        return  # units of cascades, too
    name, rest = (
        ("position", [3, 4]) if text.startswith("(") or "base.y" in text or "(base)" in text else ("rotation", 7)
    )
    if text == "mix(base, 50, 0.5)":
        name, rest = "rotation", 7
    whole, problem = (
        one(text, name, rest) if 'scene["Plate"]' not in text else one(text.replace("Plate", "Sign"), name, rest)
    )
    text = text.replace('scene["Plate"]', 'scene["Sign"]')
    own = text.split("(")[0].split(".")[0].split(" ")[0]
    if problem is not None and not problem.frames:
        # A property may not be made of itself.
        assert own in ("rotation", "length"), problem
        name, rest = "opacity", 50
        whole, problem = one(text, name, rest)
        assert problem is None or problem.frames, problem
    dice = random.Random(text)
    frames = list(range(60))
    dice.shuffle(frames)
    parts, _ = one(text, name, rest, frames[:20])
    assert (parts == whole[frames[:20]]).all()
    alone, _ = one(text, name, rest, [frames[21]])
    assert (alone == whole[frames[21]]).all()


def test_one_layer_follows_another_and_a_cadence_holds() -> None:
    plate = layer("Plate", rotation={"rest": 5, "formula": 'base + scene["Sign"].rotation.at(t - 0.5)'})
    slow = layer("Slow", rotation={"rest": 0, "formula": "t * 90", "cadence": {"on": 3}})
    pinned = layer("Bar", position=[100, 100], anchor=[0, 0.5])
    pinned["content"]["items"][0]["size"] = {"rest": [200, 100], "formula": "(100 + frame, 100)"}
    of = scene(plate, slow, pinned, layer("Sign", rotation=KEYED))
    found = resolve(of, range(60), NO_MEDIA).layers
    assert np.allclose(found["plate"].values["rotation"][:, 0], 5 + np.maximum(np.arange(60) - 15, 0))
    assert np.allclose(found["slow"].values["rotation"][:, 0], np.arange(60) // 3 * 9)
    assert np.allclose(found["bar"].box[:, 2], 100 + np.arange(60))
    left = found["bar"].matrix[:, 4] + found["bar"].box[:, 0]
    assert np.allclose(left, 100)


@pytest.mark.parametrize(
    "text",
    [
        "stepped(base, 2)", "stepped(t * 30, 2)", "a = t * 30\nstepped(a, 2)",
        "a = t\na = a * 30\nstepped(a + 0 * t, 2)",
        "b = stepped(base, 2)\nb", 'stepped(scene["Sign"].rotation, 2)', "b = stepped(base, 2)\nstepped(b, 2)",
        "stepped(frame, 2)",
    ],
)  # fmt: skip
def test_all_that_stands_in_stepped_is_renewed_so_many_times_a_second(text: str) -> None:
    plate = layer("Plate", rotation={**KEYED, "formula": text})
    found = resolve(scene(plate, layer("Sign", rotation=KEYED)), range(60), NO_MEDIA).layers["plate"]
    assert not found.problems
    assert np.allclose(found.values["rotation"][:, 0], np.arange(60) // 15 * 15)


def test_stepped_in_stepped_in_stepped_is_bounded() -> None:
    text = "a0 = t\n" + "\n".join(f"a{n} = stepped(a{n - 1}, {n + 1})" for n in range(1, 60)) + "\na59"
    _, problem = one(text)
    assert problem is not None
    assert "too often" in problem.sentence


def test_formulas_that_need_each_other_all_keep_what_they_are_without_it() -> None:
    of = scene(
        layer("A", rotation={"rest": 1, "formula": 'scene["B"].position.x'}),
        layer("B", position={"rest": [5, 6], "formula": '(scene["A"].rotation.at(t - 1), 0)'}),
        layer("C", rotation={"rest": 0, "formula": 'scene["A"].rotation + 100'}),
    )
    for order in (["a", "b", "c"], ["c", "b", "a"], ["b", "c", "a"]):
        found = resolve(of, range(3), NO_MEDIA, ids=order).layers
        assert (found["a"].values["rotation"] == 1).all()
        assert (found["b"].values["position"] == (5, 6)).all()
        assert (found["c"].values["rotation"] == 101).all()
        assert "rotation" not in found["c"].problems
        circle = found["a"].problems["rotation"].sentence
        assert circle in (
            "Rotation of A needs position of B, which needs rotation of A.",
            "Position of B needs rotation of A, which needs position of B.",
        )
    assert {finding.layer for finding in check_scene(of, NO_MEDIA) if finding.check == "formula"} == {"a", "b"}


WRONG: list[tuple[str, str, str | None]] = [
    ("(1, 2", "a bracket ( is never closed", "(1, 2)"),
    ("sin(t", "never closed", "sin(t)"),
    ("t)", "closes nothing", "t"),
    ("sin(t))", "closes nothing", "sin(t)"),
    ("max(1, 2", "never closed", "max(1, 2)"),
    ("t +", "cannot be read", "t"),
    ("rotatoin * 2", "Did you mean rotation?", "rotation * 2"),
    ("Base + 1", "Did you mean base?", "base + 1"),
    ("wandr(2, 3)", "Did you mean wander?", "wander(2, 3)"),
    ("SIN(t)", "Did you mean sin?", "sin(t)"),
    ("scal.x", "Did you mean scale?", "scale.x"),
    ("opactiy", "Did you mean opacity?", "opacity"),
    ("smothstep(0, 1, t)", "Did you mean smoothstep?", "smoothstep(0, 1, t)"),
    ("lenght(base)", "not known", "length(base)"),
    ("Math.sin(t)", "", "sin(t)"),
    ("Math.PI * t", "", "pi * t"),
    ("Math.max(1, t)", "", "max(1, t)"),
    ("Math.floor(t * 2)", "", "floor(t * 2)"),
    ("var x = 3; x * t", "cannot be read", "x = 3\nx * t"),
    ("let a = t;\na * 2;", "cannot be read", "a = t\na * 2"),
    ("const k = 2\nk * t", "cannot be read", "k = 2\nk * t"),
    ("return t * 2", "", "t * 2"),
    ("t * 90;", "", "t * 90"),
    ("[t, 3]", "A list", "(t, 3)"),
    ("[base.x, base.y + 3]", "A list", "(base.x, base.y + 3)"),
    ("t > 1 && t < 2", "cannot be read", "t > 1 and t < 2"),
    ("t < 1 || t > 2", "cannot be read", "t < 1 or t > 2"),
    ("!(t > 1)", "cannot be read", "not (t > 1)"),
    ("t ^ 2", "stand between two values", "t ** 2"),
    ("(t + 1)^2", "stand between two values", "(t + 1) ** 2"),
    ("t > 1 ? 30 : 20", "cannot be read", "30 if t > 1 else 20"),
    ("t === 1", "cannot be read", "t == 1"),
    ("true", "not known", "1"),
    ("false", "not known", "0"),
    ("time * 90", "not known", "t * 90"),
    ("2t", "", "2 * t"),
    ("2 sin(t)", "cannot be read", None),
    ("90°", "", "90"),
    ("50%", "cannot be read", "50"),
    ("3 × t", "", "3 * t"),
    ("3 · t", "", "3 * t"),
    ("t ÷ 2", "", "t / 2"),
    ("t − 2", "", "t - 2"),
    ("2 * π", "", None),
    ("layer(Plate).rotation", "", 'scene["Plate"].rotation'),
    ("layer(“Sign”).rotation", "", 'scene["Sign"].rotation'),
    ("layer(Tide mark).rotation", "cannot be read", 'scene["Tide mark"].rotation'),
    ("lerp(0, 5, t)", "not known", "mix(0, 5, t)"),
    ("sin", "is a function", None),
    ("t(3)", "is a value", None),
    ("wander(2)", "takes 2 values, and 1 were given", None),
    ("clamp(t, 1)", "takes 3 values", None),
    ("wander(2, 3, speed=4)", "knows no 'speed'", None),
    ("", "is empty", None),
    ("x = 3", "no name before it", None),
    ("3\n4", "Only the last line is the value", None),
    ("t = 3\nt", "means something already", None),
    ("lambda: 1", "cannot be written", None),
    ("[n for n in t]", "cannot be written", None),
    ("f'{t}'", "cannot be written", None),
    ("import os", "lines of name = value", None),
    ("for i in t: 1", "lines of name = value", None),
    ("t.__class__", "not known", None),
    ("().__class__", "not known", None),
    ("__import__('os')", "not known", None),
    ("t[9]", "no part 9", None),
    ("t.x", "no part x", None),
    ("base.z", "no 'z'", None),
    ("(1, 2, 3, 4, 5)", "A pair is (x, y)", None),
    ("((1, 2), 3)", "made of two numbers", None),
    ("scene['Sgin'].rotation", "Did you mean 'Sign'?", None),
    ("scene['Sign']", "Which of its numbers", None),
    ("scene['Sign'].rotaton", "Did you mean rotation?", None),
    ("scene.size", "no 'size'", None),
    ("box", "box has left", None),
    ("ease('soft lending', t)", "is no easing", None),
    ("'Plate' + 1", "A number becomes a text", None),
    ("9" * 400, "too large", None),
    ("t" + "+t" * 500, "too long or too deep", None),
    ("(" * 60 + "t" + ")" * 60, "", None),
    ("t" * 3_000, "at most 2,000", None),
    ("beat.loudness", "no 'loudness'", None),
    ("rotation.at(1, 2)", "one moment", None),
    ("box.at(0.2, scale).x", "takes two shares", None),
    ("t.at(1)", "follows a property", None),
]


@pytest.mark.parametrize(("text", "words", "mend"), WRONG)
def test_what_is_wrong_is_said_where_it_stands_with_a_mend_that_works(text: str, words: str, mend: str | None) -> None:
    found = read(text)
    if isinstance(found, Program):
        _, found = one(text) if 1 <= len(text) <= 2_000 else (None, None)
        assert found is not None or not words, text
    if found is None:
        return
    assert words in found.sentence, found.sentence
    assert 1 <= found.line <= text.count("\n") + 1
    assert found.end > found.column or not text
    for one_mend in found.mends:
        assert isinstance(read(one_mend.text), Program), one_mend
    if mend is not None:
        assert mend in [one_mend.text for one_mend in found.mends], found.mends


def test_one_number_for_a_pair_offers_both() -> None:
    _, problem = one("t * 10", "position", [1, 2])
    assert problem is not None
    assert problem.sentence == "Position takes a pair (x, y), and the formula gives one number."
    assert [mend.text for mend in problem.mends] == ["(t * 10, base.y)", "(base.x, t * 10)", "(t * 10, t * 10)"]
    plate = layer("Plate", opacity={"rest": 100})
    answer = tried(scene(plate), NO_MEDIA, "plate", "opacity", "t * 400", 0.0)
    assert answer.problem is None
    (hint,) = answer.hints
    assert hint.sentence == "Opacity goes from 0 to 100 %, and stops there: this is beyond it at frame 8 and 51 more."
    assert hint.mends[0].text == "clamp(t * 400, 0, 100)"
    values, problem = one("1 / (frame - 3)")
    assert problem is not None
    assert "no value at frame 3:" in problem.sentence
    assert values[3, 0] == 7
    assert values[4, 0] == 1
    for text, why in (("sqrt(-1)", "the square root of less than 0"), ("log(t - 9)", "the logarithm of 0 or less")):
        _, problem = one(text)
        assert problem is not None
        assert f": there is {why}." in problem.sentence


@pytest.mark.parametrize(
    "text", ["base + 1\xa0", "t * 30\u2028", "base\u3000", "t\x85", "a = 1\ra + t", "a = 1\r\na + t"]
)
def test_blanks_and_line_ends_of_pages_are_none_of_the_formula(text: str) -> None:
    answer = tried(scene(layer("Plate")), NO_MEDIA, "plate", "rotation", text, 0.0)
    assert answer.problem is None
    for wrong in ("x = 1\rbasee", "a = 1\r\nsin(45"):
        problem = tried(scene(layer("Plate")), NO_MEDIA, "plate", "rotation", wrong, 0.0).problem
        assert problem is not None
        assert problem.line == 2


WORDS = [
    *TABLE,
    "(",
    ")",
    ",",
    "+",
    "-",
    "*",
    "/",
    "**",
    "%",
    ".",
    "x",
    "y",
    "[",
    "]",
    "0",
    "1",
    "2.5",
    "1e300",
    '"Sign"',
    "=",
    "\n",
    " if ",
    " else ",
    " and ",
    " not ",
    "<",
    ">",
    "==",
    "a",
    "lambda",
    ":",
    "for",
    "in",
    "__class__",
    "'",
    "\\",
    "at",
    "rotation",
    "{",
    "}",
    "@",
    ";",
    "é",
    "\0",
    "//",
    "9" * 30,
    "yield",
    "await",
    "import",
    "~",
    "<<",
]


def test_whatever_is_written_is_a_value_or_said_to_be_wrong() -> None:
    """Texts at random, of words that stand in any order and of formulas with letters changed: no escape, no hang."""
    dice, count, good = random.Random(3), 6_000, 0
    slowest = 0.0
    for number in range(count):
        if number % 2:
            text = "".join(dice.choice(WORDS) + dice.choice(["", " "]) for _ in range(dice.randint(1, 14)))
        else:
            letters = list(dice.choice(TEXTS))
            for _ in range(dice.randint(1, 3)):
                at = dice.randrange(len(letters) + 1)
                letters[at : at + dice.randint(0, 2)] = dice.choice([*WORDS, "", ""])
            text = "".join(letters)
        begin = time.process_time()
        found = read(text)
        slowest = max(slowest, time.process_time() - begin)
        if isinstance(found, Program):
            good += 1
            if number % 5 == 0 and 1 <= len(text) <= 2_000:
                values, problem = one(text, frames=[0, 7, 33])
                assert np.isfinite(values).all(), text
                assert problem is None or problem.sentence
        else:
            assert found.sentence
    assert good > 120
    print(f"{count} texts, {good} of them formulas, the slowest read in {slowest * 1000:.0f} ms")


@cases(60)
@given(name=st.text(alphabet="abcXYZ é'\"\\", min_size=1, max_size=12).filter(lambda text: bool(text.strip())))
def test_a_renamed_layer_has_its_new_name_in_every_formula(name: str) -> None:
    text = 'a = scene["Sign"].rotation\na + scene["Sign"].rotation.at(t - 0.2) + scene["Other"].rotation'
    plate = layer("Plate", rotation={"rest": 0, "formula": text})
    before = scene(plate, layer("Sign", rotation=KEYED), layer("Other", rotation=30))
    after = made(before, {"edit": "rename_layer", "layer": "sign", "name": name})
    old, new = (resolve(of, range(60), NO_MEDIA).layers["plate"] for of in (before, after))
    if name.strip() != "Other" and name != "Other":
        assert not new.problems, new.problems
        assert (old.values["rotation"] == new.values["rotation"]).all()


def test_a_sound_and_a_text_are_read_under_the_new_name() -> None:
    words = layer("Gauge", content={"kind": "text", "text": "0", "written": {"formula": 'scene["Sign"].text + "!"'}})
    plate = layer("Plate", rotation={"rest": 0, "formula": 'scene["Sign"].loudness'})
    after = made(scene(words, plate, layer("Sign")), {"edit": "rename_layer", "layer": "sign", "name": "Bell"})
    told = [text for one_layer in after.layers for text in one_layer.formulas.values()]
    assert told == ['scene["Bell"].text + "!"', 'scene["Bell"].loudness']


def test_a_formula_of_a_kept_variant_is_rewritten_with_a_name() -> None:
    text = 'scene["Sign"].rotation'
    before = scene(layer("Plate", rotation={"rest": 0, "formula": text}), layer("Sign", rotation=KEYED))
    keep = {"edit": "keep_variant", "layer": "plate", "name": "B"}
    plain = {"edit": "set_formula", "layer": "plate", "property": "rotation", "text": ""}
    after = made(before, keep, plain, {"edit": "rename_layer", "layer": "sign", "name": "Board"})
    (kept,) = after.layers[0].variants
    assert kept.rotation.formula == 'scene["Board"].rotation'


IN_TIME = (
    "base + t * 30", "base + wander(0.7, 9, seed=3)", "base + random(5) + if_before(30, 2, 8)",
    "stepped(base + t * 10, 8)", 'scene["Sign"].rotation.at(t - 0.2) + base.at(t - 0.1)', "base + beat.next - t",
)  # fmt: skip


@pytest.mark.parametrize("text", IN_TIME)
@pytest.mark.parametrize("cadence", [None, {"on": 3, "phase": 1}])
def test_cut_trimmed_slipped_or_at_another_rate_it_moves_as_it_did(text: str, cadence: Any) -> None:
    """A formula's time is the layer's own: a cut, a new start, a rate change nothing at any moment of the scene."""
    track = {**KEYED, "formula": text, "cadence": cadence}
    before = scene(layer("Plate", rotation=track), layer("Sign", rotation=KEYED), beats=[{"frame": 10}, {"frame": 40}])

    def seen(of: Scene, share: int = 1) -> dict[int, float]:
        found = {}
        for one in of.layers:
            if one.name.startswith("Plate"):
                frames = np.arange(one.span.start, one.span.end, share)
                values = Context(of, NO_MEDIA).resolve([one], frames.astype(float))[0].values["rotation"]
                column = np.broadcast_to(values, (len(frames), 1))[:, 0]
                found.update(zip((frames // share).tolist(), column.tolist(), strict=True))
        return found

    whole = seen(before)
    split = {"edit": "split_layer", "layer": "plate", "frame": 23}
    trim = {"edit": "trim_span", "layer": "plate", "start": 11, "length": 40}
    cuts: list[list[dict[str, Any]]] = [[split], [trim], [trim, split], [trim, {**trim, "start": 0, "length": 60}]]
    for edits in cuts:
        after = Scene.model_validate_json(made(before, *edits).model_dump_json(by_alias=True))
        parts = seen(after)
        assert parts == pytest.approx({frame: whole[frame] for frame in parts}, abs=1e-9), edits
    if "if_before" not in text and cadence is None:
        faster = made(before, trim, {"edit": "set_scene", "frame_rate": (60, 1)})
        parts = seen(faster, 2)
        assert parts == pytest.approx({frame: whole[frame] for frame in parts}, abs=1e-6)


@pytest.mark.parametrize(
    ("text", "frame", "stays"),
    [
        ("base + t * 30 + wander(1, 9)", "tight", True), ("position.x", "scene", True), ("position.x", "tight", False),
        ("scene.width / 10", "tight", False), ("scene.t", "scene", False), ("beat.last", "scene", False),
        ("count * 9", "scene", False),
    ],
)  # fmt: skip
def test_what_a_formula_gives_is_the_same_in_a_scene_of_its_own_or_said(text: str, frame: str, stays: bool) -> None:
    plate = layer("Plate", position=[300, 100], rotation={"rest": 7, "formula": text})
    plate["span"] = {"start": 10, "length": 40}
    before = scene(layer("Low"), plate, beats=[{"frame": 4}])
    put = {"edit": "put_into_scene", "layers": ["plate"], "frame": frame}
    if stays:
        assert made(before, put).layers[1].content.kind == "scene"
    else:
        with pytest.raises(Refused, match="rotation of 'Plate' would give something else"):
            made(before, put)


def test_taken_apart_formulas_read_the_same_layers_under_their_new_names() -> None:
    reads = 'scene["Sign"].rotation + 2 * scene["Sign 2"].rotation + wander(1, 9)'
    plate = layer("Plate", rotation={"rest": 0, "formula": reads})
    two = {**layer("Sign 2", rotation=30), "id": "sign2"}
    inner = Scene.model_validate(
        {**scene(plate, layer("Sign", rotation=KEYED), two).model_dump(by_alias=True), "id": "in"}
    )
    outer = scene(layer("Sign"), layer("Plate"), {**layer("Show"), "content": {"kind": "scene", "asset": "in"}})
    apart: Any = EDITS.validate_python([{"edit": "take_apart", "layer": "show", "anyway": True}])
    after = apply_edits(outer, apart, NO_MEDIA.with_scenes([inner])).scene
    assert [one.name for one in after.layers] == ["Sign", "Plate", "Plate 2", "Sign 2", "Sign 3"]
    (old,) = Context(inner, NO_MEDIA).resolve(inner.layers[:1], np.arange(60.0))
    (new,) = Context(after, NO_MEDIA).resolve([after.layers[2]], np.arange(60.0))
    assert not new.problems
    assert (old.values["rotation"] == new.values["rotation"]).all()


@pytest.mark.parametrize("scope", ["frame", "throughout"])
@pytest.mark.parametrize("text", ["base + (t * 10, 5)", "(t * 10, 200)"])
def test_the_anchor_moves_under_a_formula_with_the_picture_still_or_is_refused(text: str, scope: str) -> None:
    turning = {"rest": 7, "formula": "base + t * 60"}
    before = scene(layer("Plate", position={"rest": [90, 90], "formula": text}, rotation=turning))
    move = {"edit": "move_anchor", "layer": "plate", "to": {"fraction": [0, 0]}, "frame": 20, "scope": scope}
    if "base" not in text and scope == "frame":
        with pytest.raises(Refused, match="cannot stay put"):
            made(before, move)
        return
    done = apply_edits(before, EDITS.validate_python([move]), NO_MEDIA)
    assert any("was written as keys" in said for said in done.notices) == (scope == "throughout")
    frames = range(60) if scope == "throughout" else [20]
    old, new = (resolve(of, frames, NO_MEDIA).layers["plate"].matrix for of in (before, done.scene))
    assert np.abs(old - new).max() < 1e-9


def test_position_with_a_formula_is_not_split_or_joined_without_a_word() -> None:
    apart = {"x": {"rest": 9, "formula": "base + t * 10"}, "y": 9}
    for position, edit in (
        [{"rest": [9, 9], "formula": "base + (t, 5)"}, "split_position"],
        [apart, "join_position"],
    ):
        with pytest.raises(Refused, match="has a formula, which would be lost"):
            made(scene(layer("Plate", position=position)), {"edit": edit, "layer": "plate"})


def test_written_as_keys_it_moves_as_it_did() -> None:
    plate = layer("Plate", rotation={"rest": 0, "formula": "40 * sin(t * tau)"})
    plate["content"]["items"][0]["fill"] = {"rest": "#ff0000", "formula": 'mix("#ff0000", "#0000ff", t / 2)'}
    before = scene(plate)
    write = {"edit": "write_as_keys", "layer": "plate", "near": 0.5}
    after = made(before, write | {"property": "rotation"}, write | {"property": "content.items.0.fill"})
    for name, near in (("rotation", 0.5), ("content.items.0.fill", 2.0)):
        old, new = (resolve(of, range(60), NO_MEDIA).layers["plate"].values[name] for of in (before, after))
        assert np.abs(old - new).max() <= near
        assert after.layers[0].tracks[name].formula is None
    assert len(after.layers[0].rotation.keys) < 55


def test_a_chain_of_followers_is_as_long_as_its_links() -> None:
    """Thirty layers, each following the one before at its own delay."""
    links = [layer("L0", rotation=KEYED)]
    for number in range(1, 30):
        text = f'scene["L{number - 1}"].rotation.at(t - {number % 3 + 1} / fps)'
        links.append(layer(f"L{number}", rotation={"rest": 0, "formula": text}))
    found = resolve(scene(*links), range(60), NO_MEDIA).layers
    delays = np.cumsum([0] + [n % 3 + 1 for n in range(1, 30)])
    for number, delay in enumerate(delays):
        assert np.allclose(found[f"l{number}"].values["rotation"][:, 0], np.maximum(np.arange(60) - delay, 0)), number


@cases(40)
@given(data=st.data())
def test_what_is_foreseen_changes_no_value(data: st.DataObject) -> None:
    """Followers of any other, earlier, later or themselves, at fixed, odd and moving delays: the values and what is
    said are those of evaluating each formula when it is asked for."""
    count = data.draw(st.integers(2, 6))
    links = [layer("L0", rotation=KEYED)]
    for number in range(1, count):
        other = data.draw(st.integers(0, count - 1))
        delay = data.draw(
            st.sampled_from(["3 / fps", "0.0137", "-0.1", "sin(t) / 3", f'scene["L{other}"].opacity / 900'])
        )
        text = f'scene["L{other}"].rotation.at(t - {delay}) + {number}'
        opacity = data.draw(st.sampled_from([80, {"rest": 50, "formula": f'scene["L{other}"].rotation / 3'}]))
        links.append(layer(f"L{number}", rotation={"rest": number, "formula": text}, opacity=opacity))
    order = data.draw(st.permutations(links))
    of = scene(*order)
    frames = data.draw(st.sampled_from([range(60), [0, 7, 33], [41, 3, 3, 12]]))
    quick = resolve(of, frames, NO_MEDIA).layers
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(Formulas, "foresee", lambda *_: None)
        slow = resolve(of, frames, NO_MEDIA).layers
    for name, one in slow.items():
        assert set(quick[name].problems) == set(one.problems)
        for path in ("rotation", "opacity"):
            assert (quick[name].values[path] == one.values[path]).all(), (name, path)


def test_every_function_has_its_words() -> None:
    assert len({about.name for about in TABLE.values()}) == len(TABLE)
    for about in FUNCTIONS:
        assert about.written.startswith(about.name)
        assert about.sentence.endswith(".")
        program_of(about.example)


def test_followers_whose_moments_multiply_are_bounded() -> None:
    """Each asks the one before it at two odd moments: without a bound their number would double with each."""
    links = [layer("L0", rotation={"rest": 0, "formula": "t"})]
    for number in range(1, 18):
        before = f'scene["L{number - 1}"].rotation'
        text = f"{before}.at(t - 0.0137) + {before}.at(t - {0.0291 + number / 991})"
        links.append(layer(f"L{number}", rotation={"rest": 0, "formula": text}))
    alone = resolve(scene(*links), range(60), NO_MEDIA, ids=["l17"]).layers["l17"]
    assert "moments of others" in alone.problems["rotation"].sentence
    assert (alone.values["rotation"] == 0).all()
    for window in ([0], range(24), range(60)):
        found = resolve(scene(*links), window, NO_MEDIA).layers
        assert [name for name, one in found.items() if one.problems] == [f"l{n}" for n in range(2, 18)], window


def test_a_long_chain_is_the_same_in_any_window() -> None:
    """A bound that went by the number of frames asked for gave stage and export other values."""
    links = [f'scene["L{number + 1}"].rotation + 1' for number in range(399)]
    layers = [layer(f"L{n}", rotation={"rest": 5, "formula": text}) for n, text in enumerate([*links, "t * 30"])]
    for window in ([7], range(24), range(60)):
        found = resolve(scene(*layers), window, NO_MEDIA).layers["l0"]
        assert not found.problems
        assert np.allclose(found.values["rotation"][:, 0], np.array(window) + 399)


HINTS = [
    # property, what it rests at, formula, what is said, the mend
    ("rotation", 7, "30 * sin(rotation)", None, None),
    ("opacity", 50, "50 + 30 * sin(rotation)", "rotation is in degrees", "50 + 30 * sin(radians(rotation))"),
    ("opacity", 50, "50 + 30 * sin(90)", "90 seems to be in degrees", "50 + 30 * sin(radians(90))"),
    ("opacity", 50, "50 + 30 * cos(t * 360)", "360 seems to be in degrees", "50 + 30 * cos(radians(t * 360))"),
    ("opacity", 50, 'tan(scene["Sign"].rotation / 9) + 20', "rotation is in degrees", None),
    ("opacity", 50, "50 + 30 * sin(t * tau)", None, None),
    ("opacity", 50, "50 + 30 * sin(radians(rotation))", None, None),
    ("opacity", 50, "50 + sin(t / 90)", None, None),
    ("rotation", 7, "atan2(3, t + 1)", "atan2(…) gives radians", "degrees(atan2(3, t + 1))"),
    ("rotation", 7, "base + 2 * asin(0.5)", "asin(…) gives radians", "base + 2 * degrees(asin(0.5))"),
    ("rotation", 7, "base + radians(45)", "radians(…) gives radians", "base + 45"),
    ("rotation", 7, "sin(base)", "base is in degrees", "sin(radians(base))"),
    ("rotation", 7, "degrees(atan2(3, t + 1))", None, None),
    ("opacity", 80, "t / 2", "Opacity is in percent, and this gives 0.98 % at most", "100 * (t / 2)"),
    ("opacity", 80, "a = t / 2\na", "Opacity is in percent", "a = t / 2\n100 * (a)"),
    ("opacity", 0.5, "t / 2", None, None),
    ("scale", [100, 100], "(1.2, 1.2)", "Scale is in percent", "100 * ((1.2, 1.2))"),
    ("scale", [100, 100], "(120, 120)", None, None),
    ("anchor", [0.5, 0.5], "(50, 50)", "in shares of the box", "((50, 50)) / 100"),
    ("anchor", [0.5, 0.5], "(0.2, t)", None, None),
]


@pytest.mark.parametrize(("name", "rest", "text", "words", "mend"), HINTS)
def test_what_looks_like_a_mistake_is_said_with_its_mend(
    name: str, rest: Any, text: str, words: str | None, mend: str | None
) -> None:
    of = scene(layer("Plate", **{name: rest}), layer("Sign", rotation=KEYED))
    found = tried(of, NO_MEDIA, "plate", name, text, 3.0)
    if words is None:
        assert not found.hints
        return
    (hint,) = found.hints
    assert words in hint.sentence
    assert mend is None or mend in [one_mend.text for one_mend in hint.mends]
    for one_mend in hint.mends:
        assert not tried(of, NO_MEDIA, "plate", name, one_mend.text, 3.0).hints


def test_names_have_their_values_at_a_frame_also_those_of_an_item() -> None:
    plate = layer("Plate", rotation={"rest": 7, "formula": "scene['Plate'].rotation"})
    plate["content"]["items"].append({"shape": "ellipse", "size": [30, 10], "fill": "#ff0000"})
    of = scene(plate, layer("Sign", rotation=KEYED, position=[10, 20]))
    asked = [
        "t", "base", "rotation", 'scene["Sign"].rotation.at(t - 0.5)', "a = 3\na * t", "nothing", "1 / 0",
        "scene.width", 'scene["Sign"].in_scene((0, 0))', '"#ff8000"', "box.at(0.5, 0.5)", 'format(t, "0.0")',
    ]  # fmt: skip
    found = values_of(of, NO_MEDIA, "plate", "rotation", asked, 30.0)
    told = [None if one is None else one.rows if isinstance(one, Texts) else one[0].tolist() for one in found]
    assert told == [
        [1.0], [7.0], [7.0], [15.0], [3.0], None, None, [640.0], pytest.approx([10, 20]),
        [255, 128, 0, 255], pytest.approx([0, 0]), ("1.0",),
    ]  # fmt: skip
    (size,) = values_of(of, NO_MEDIA, "plate/1", "content.items.0.size", ["base * 2"], 0.0)
    assert isinstance(size, np.ndarray)
    assert size.tolist() == [[60.0, 20.0]]
    trial = tried(of, NO_MEDIA, "plate/1", "content.items.0.size", "base + (t, 0)", 30.0)
    assert trial.values[-1].tolist() == [31.0, 10.0]


@pytest.mark.parametrize("ready", READY, ids=lambda one: one.need)
def test_every_ready_formula_gives_what_its_property_takes(ready: Ready) -> None:
    words = layer("Words", content={"kind": "text", "text": "Low tide"})
    pair = {"rest": [0, 0], "keys": [{"frame": 0, "value": [9, 9]}, {"frame": 60, "value": [99, 9]}]}
    sign = layer("Sign", rotation=KEYED, position=pair, scale=pair)
    of = scene(layer("Plate"), sign, words, beats=[{"frame": 0}, {"frame": 30}])
    for form, at, name in (
        (ready.number, "plate", "rotation"), (ready.pair, "plate", "scale"), (ready.pair, "plate", "position"),
        (ready.text, "words", "content.written"),
    ):  # fmt: skip
        if form is not None:
            text = form.filled.replace("{layer}", "Sign").replace("{property}", name)
            trial = tried(of, NO_MEDIA, at, name, text, 20.0)
            assert trial.problem is None, text
            assert name == "scale" or len(np.unique(trial.values, axis=0)) > 1 or "look" in ready.need


@pytest.mark.parametrize(
    ("text", "value"),
    [("lower = 20\nclamp(base, lower, 90)", 20), ("upper = 2\nbase * upper", 14), ("number = 3\nbase * number", 21)],
)
def test_names_that_came_later_yield_to_those_that_a_formula_gives(text: str, value: float) -> None:
    found, problem = one(text)
    assert problem is None
    assert (found == value).all()


WRITTEN_AS_KEYS = [
    # property, rest, formula, the most keys that are right
    ("rotation", 0, "40 * sin(t * tau)", 12),
    ("rotation", 3, "base + t * 30", 2),
    ("rotation", 3, "base", 0),
    ("rotation", 0, "90 * smoothstep(0.2, 1.5, t)", 5),
    ("rotation", 0, "t ** 3 * 10", 2),
    ("rotation", 0, "base + wander(2, 30)", 16),
    ("rotation", 0, "100 * step(1, t)", 4),
    ("rotation", 0, "1 / (frame - 30)", 30),
    ("position", [10, 20], "base + t ** 3 * (10, -4)", 2),
    ("position", [10, 20], "base + (60 * sin(t * 3), 40 * cos(t * 2))", 40),
    ("scale", [100, 100], "base * (1 + 0.2 * triangle(t))", 6),
]


@pytest.mark.parametrize("near", [0.05, 0.5])
@pytest.mark.parametrize(("name", "rest", "text", "most"), WRITTEN_AS_KEYS)
def test_written_as_eased_keys_it_is_near_at_every_frame_with_few_keys(
    name: str, rest: Any, text: str, most: int, near: float
) -> None:
    before = scene(layer("Plate", **{name: {"rest": rest, "formula": text}}))
    after = made(before, {"edit": "write_as_keys", "layer": "plate", "property": name, "near": near})
    old, new = (resolve(of, range(60), NO_MEDIA).layers["plate"].values[name] for of in (before, after))
    assert np.sqrt(((np.broadcast_to(old, (60, old.shape[1])) - new) ** 2).sum(axis=1)).max() <= near + 1e-4
    assert len(after.layers[0].tracks[name].keys) <= most
    assert scene_of(after.model_dump(mode="json", by_alias=True)) == after


@pytest.mark.parametrize(
    "text", ["base + wander(3, 40)", "a = wander(3, 40)\nbase + (a if t > 0.2\n else 3)", "nothing("]
)
@pytest.mark.parametrize("keys", [[], [(10, 5.0), (50, 35.0)]])
@pytest.mark.parametrize("late", [0, 7])
def test_it_starts_and_lands_on_the_keys_and_wanders_between(
    text: str, keys: list[tuple[int, float]], late: int
) -> None:
    track = {
        "rest": 5,
        "keys": [{"frame": f, "value": v} for f, v in keys],
        "formula": text,
        "formula_from": late,
    }
    before = scene(layer("Plate", rotation=track))
    edit = {"edit": "land_on_keys", "layer": "plate", "property": "rotation", "over": 0.4}
    if text == "nothing(":
        with pytest.raises(Refused, match="no formula that gives numbers"):
            made(before, edit)
        return
    after = made(before, edit)
    old, new = (resolve(of, range(60), NO_MEDIA).layers["plate"].values["rotation"][:, 0] for of in (before, after))
    base = np.interp(np.arange(60), [10, 50], [5, 35]) if keys else np.full(60, 5.0)
    first, last = (keys[0][0], keys[-1][0]) if keys else (0, 59)
    assert new[[first, last]] == pytest.approx(base[[first, last]], abs=1e-4)
    assert new[:first] == pytest.approx(base[:first])
    between = slice(first + 12, last - 12)
    assert new[between] == pytest.approx(old[between])
    assert np.abs(new[between] - base[between]).max() > 1
    twice = made(after, edit)
    assert isinstance(read(twice.layers[0].formulas["rotation"]), Program)


def test_the_framing_is_found_by_its_names_of_before() -> None:
    text = 'scene["Sign"].content_zoom + scene["Sign"].framing_zoom + scene["Sign"].content_anchor.x'
    framed = layer("Sign", framing={"zoom": 137, "about": [20, 30]})
    plate = resolve(scene(framed, layer("Plate", rotation={"rest": 0, "formula": text})), [3], NO_MEDIA).layers["plate"]
    assert not plate.problems
    assert plate.values["rotation"][0, 0] == 137 + 137 + 20
