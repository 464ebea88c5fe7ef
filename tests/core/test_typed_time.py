"""Times as they are typed and written; what the page has of them is held equal to the core."""

from __future__ import annotations

import contextlib
import itertools
import json
import math
import random
import subprocess
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.ground.errors import Refused
from mudskipper.core.ground.stations import STATIONS
from mudskipper.core.ground.time import timecode
from mudskipper.core.ground.typed_time import typed_time
from tests.conftest import cases

FRONT = Path(__file__).parents[2] / "frontend"
NTSC, DOUBLE = (30_000, 1_001), (60_000, 1_001)
RATES = [(24_000, 1_001), (24, 1), (25, 1), NTSC, (30, 1), (50, 1), DOUBLE, (60, 1), (12, 1), (1, 1)]


@pytest.mark.parametrize(
    ("text", "rate", "now", "frame"),
    [
        ("45", (30, 1), None, 45), (" 45F ", (30, 1), None, 45), ("1:10", (30, 1), None, 40),
        ("1;10", (30, 1), None, 40), ("2:01:10", (25, 1), None, 3035), ("1.5s", (24, 1), None, 36),
        ("0,5s", (30, 1), None, 15), ("1s", NTSC, None, 30), ("1:00;02", NTSC, None, 1800), ("+12", (30, 1), 30, 42),
        ("-12", (30, 1), 30, 18), ("-1:00", (30, 1), 45, 15), ("+1.5s", (24, 1), 4, 40), ("-12", (30, 1), None, -12),
        ("1920/2", (30, 1), None, 960), ("(1+2)*10f", (30, 1), None, 30), ("007", (30, 1), None, 7),
        ("1e3", (30, 1), None, 1000), ("2 - -3", (30, 1), None, 5), ("45.5", (30, 1), None, 45.5),
        ("+-5", (30, 1), 9, 4),
    ],
)  # fmt: skip
def test_what_a_time_may_be_typed_as(text: str, rate: tuple[int, int], now: float | None, frame: float) -> None:
    assert typed_time(text, rate, now) == frame


@pytest.mark.parametrize(
    "text",
    ["", " ", "abc", "1:30", "1:", ":10", "1:2:3:4", "1.5:10", "s", "f", "1e999", "1/0", "2**3", "7//2", "0x10",
     "1_000", "1j", "()", "(1", "1)", "1 2", "--", "nan", "inf", "٤٥", "1" * 101,
     "(" * 99 + "1", "1e308*10s", "+", "9e307s"],
)  # fmt: skip
def test_what_is_no_time_is_refused_in_words(text: str) -> None:
    with pytest.raises(Refused, match=r"(is no time|No time is given): a time is written as 45, 45f, 1:10, 1.5s or"):
        typed_time(text, (30, 1))


@cases(300)
@given(text=st.text("0123456789:;.,+-*/() fse_x", max_size=24), now=st.none() | st.floats(-100, 100))
def test_any_text_is_a_time_or_refused(text: str, now: float | None) -> None:
    with contextlib.suppress(Refused):
        assert math.isfinite(typed_time(text, (30, 1), now))


@cases(200)
@given(frame=st.integers(0, 2_000_000), rate=st.sampled_from(RATES), now=st.integers(0, 999))
def test_times_are_read_as_they_are_written(frame: int, rate: tuple[int, int], now: int) -> None:
    written = timecode(frame, rate)
    assert typed_time(written, rate) == frame
    assert typed_time(f"+{written}", rate, now) == now + frame
    assert typed_time(f"-{frame}f", rate, now) == now - frame


def joined(parts: Any) -> tuple[str, Fraction]:
    (left, a), sign, (right, b) = parts
    value = {"+": a + b, "-": a - b, "*": a * b, "/": a / b if b else Fraction(0)}[sign]
    return (f"({left}{sign}{right})", value) if b or sign != "/" else (left, a)


SUMS = st.recursive(
    st.integers(0, 99).map(lambda n: (str(n), Fraction(n))),
    lambda part: st.tuples(part, st.sampled_from("+-*/"), part).map(joined),
    max_leaves=8,
)


@cases(200)
@given(told=SUMS)
def test_sums_have_their_value(told: tuple[str, Fraction]) -> None:
    text, value = told
    assert typed_time(text, (30, 1)) == pytest.approx(float(value), rel=1e-9, abs=1e-9)


def of_page(module: str, formula: str) -> Any:
    """The value of a JavaScript formula in which `page` is a module of the front end; what that imports is empty."""
    script = """
      const ts = require("typescript");
      const { readFileSync } = require("node:fs");
      const [path, formula] = process.argv.slice(1);
      const options = { module: "commonjs", target: "es2022" };
      const { outputText } = ts.transpileModule(readFileSync(path, "utf8"), { compilerOptions: options });
      const page = {};
      new Function("exports", "require", outputText)(page, () => ({}));
      console.log(JSON.stringify(new Function("page", `return ${formula}`)(page)));
    """
    file = str(FRONT / "src" / module)
    done = subprocess.run(["node", "-e", script, file, formula], cwd=FRONT, capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


def test_the_page_writes_timecode_as_the_core_does() -> None:
    frames = [*range(-70, 4_000, 7), 17_981, 17_982, 107_892, 1_799, 1_800, 3_599, 3_600, 1_999_999, 0.5, 2.5, -0.4]
    rates = json.dumps(RATES)
    written = of_page(
        "geometry/times.ts",
        f"{rates}.map((frame_rate) => {frames}.map((frame) => page.timecode(frame, {{ frame_rate }})))",
    )
    assert written == [[timecode(frame, rate) for frame in frames] for rate in RATES]


def test_the_page_knows_the_cores_stations() -> None:
    assert of_page("geometry/layerGeometry.ts", "page.STATIONS") == {name: list(at) for name, at in STATIONS.items()}


@pytest.mark.parametrize("rate", [60, 30, 24, 15])
def test_uneven_display_frames_neither_repeat_nor_skip_scene_frames(rate: int) -> None:
    """At display frames 6 ms early or late, those that should be painted are, each for as long as it lasts."""
    dice = random.Random(4)
    times = [number * 1000 / 60 + (dice.uniform(-6, 6) if number else 0) for number in range(600)]
    shown = of_page("play/player.ts", f"{times}.map((time) => page.framesIn(time, {rate}))")
    steps = [after - before for before, after in itertools.pairwise(shown)]
    if rate in (60, 30, 15):
        assert shown == [number * rate // 60 for number in range(600)]
    assert set(steps) <= {0, 1}
