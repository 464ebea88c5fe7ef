"""Which frame of a clip a scene frame shows: against exact fractions, and through every edit of time."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.checks.not_showing import unseen
from mudskipper.core.contents.assets import Assets, ClipInfo
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.tracks.source_time import SourceTime, source_frames
from tests.conftest import cases, layer, scene

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)
RATES = [(24000, 1001), (24, 1), (25, 1), (30000, 1001), (30, 1), (48, 1), (50, 1), (60000, 1001), (60, 1)]
SPEEDS = [10.0, 33.3, 50.0, 99.9, 100.0, 100.1, 150.0, 1000.0, -10.0, -50.0, -100.0, -250.0]
CLIP = ClipInfo.steady("surf", (320, 180), 200, (24000, 1001))
UNEVEN = ClipInfo("gulls", 320, 180, np.cumsum([0, *(0.02 + 0.037 * i % 0.06 for i in range(79))]), 4.2)
MEDIA = Assets(clips={"surf": CLIP, "gulls": UNEVEN})


def clip_scene(rate: tuple[int, int] = (30, 1), asset: str = "surf", **time: Any) -> Scene:
    content = {"kind": "clip", "asset": asset, "time": time}
    return scene(
        layer("Surf", content=content, span={"start": 10, "length": 150}), frame_rate=rate, length=400,
    )  # fmt: skip


def shown(of: Scene, name: str = "surf") -> dict[int, int]:
    """The frame that a clip layer shows at each scene frame of its span."""
    one = of.layer(name)
    frames = np.arange(one.span.start, one.span.end, dtype=np.float64)
    context = Context(of, MEDIA)
    (resolved,) = context.resolve([one], frames)
    found = one.content.source_frames(resolved.inner, context.around(one, frames))
    return dict(zip(frames.astype(int).tolist(), found.tolist(), strict=True))


def done(before: Scene, *edits: dict[str, Any]) -> Scene:
    after = apply_edits(before, [EDIT.validate_python(edit) for edit in edits], MEDIA).scene
    return type(after).model_validate_json(after.to_json())


@cases(150)
@given(
    rate=st.sampled_from(RATES),
    of=st.sampled_from(RATES),
    speed=st.sampled_from(SPEEDS),
    start=st.integers(-400, 400),
    first=st.integers(0, 500_000),
)
def test_every_frame_is_the_one_that_began_last(
    rate: tuple[int, int], of: tuple[int, int], speed: float, start: int, first: int
) -> None:
    """Held against the definition in exact fractions; before and after the source holds, shows nothing or loops."""
    count = 97
    info = ClipInfo.steady("x", (2, 2), count, of)
    source, scene_rate, length = Fraction(*of), Fraction(*rate), Fraction(count) / Fraction(*of)
    begins = Fraction(start) / source
    time = SourceTime(start=float(begins), speed=speed)
    local = np.array([0, 1, 2, 7, 100, first, first + 1], dtype=np.float64)
    seconds = time.seconds(local, float(scene_rate))
    exact = [begins + Fraction(int(at)) * Fraction(str(speed)) / 100 / scene_rate for at in local]
    for before, after in (("hold", "hold"), ("nothing", "loop"), ("loop", "nothing")):
        wanted = []
        for at in exact:
            outside = before if at < 0 else after if at >= length else ""
            if outside == "loop":
                at -= math.floor(at / length) * length
            wanted.append(-1 if outside == "nothing" else min(max(math.floor(at * source), 0), count - 1))
        assert source_frames(seconds, info.times, info.length, before, after).tolist() == wanted


def test_frames_with_times_of_their_own() -> None:
    """Each is shown from its time until the next begins."""
    times = UNEVEN.times
    at = np.sort(np.random.default_rng(3).uniform(0, 4.1, 400))
    slow = [max(i for i in range(len(times)) if times[i] <= moment) for moment in at]
    assert source_frames(at, times, UNEVEN.length).tolist() == slow
    assert source_frames(times, times, UNEVEN.length).tolist() == list(range(len(times)))


@pytest.mark.parametrize("asset", ["surf", "gulls"])
@pytest.mark.parametrize("speed", [100.0, 37.0, -100.0, 220.0])
@pytest.mark.parametrize("freeze", [None, 60.0])
@pytest.mark.parametrize("keyed", [False, True])
def test_what_is_shown_when_stays(asset: str, speed: float, freeze: float | None, keyed: bool) -> None:
    """Trimmed at head and tail, split, moved in time, at another rate: every scene frame shows the frame it showed."""
    before = clip_scene(asset=asset, start=1.25 if speed > 0 else 5.0, speed=speed, freeze=freeze, after="loop")
    if keyed:
        before = done(before, {"edit": "key_source_time", "layer": "surf", "on": True})
    was = shown(before)
    for start, length in ((25, 40), (3, 200)):
        trimmed = shown(done(before, {"edit": "trim_span", "layer": "surf", "start": start, "length": length}))
        assert all(trimmed[at] == frame for at, frame in was.items() if at in trimmed)
    split = done(before, {"edit": "split_layer", "layer": "surf", "frame": 77, "id": "tail"})
    assert shown(split) | shown(split, "tail") == was
    moved = shown(done(before, {"edit": "move_span", "layer": "surf", "start": -7}))
    assert [*moved.values()] == [*was.values()]
    slipped = shown(done(before, {"edit": "slip_span", "layer": "surf", "by": 12.0}))
    if freeze is None and not keyed:
        assert all(slipped[at + 12] == frame for at, frame in was.items() if at + 12 in slipped)
    for rate in ((60, 1), (90, 1)):
        finer, ratio = shown(done(before, {"edit": "set_scene", "frame_rate": rate})), rate[0] // 30
        assert all(finer[at * ratio] == frame for at, frame in was.items())
    there = done(before, {"edit": "set_scene", "frame_rate": (25, 1)}, {"edit": "set_scene", "frame_rate": (30, 1)})
    assert all(abs(frame - was[at]) <= 1 for at, frame in shown(there).items() if at in was)


def test_a_layer_that_starts_between_two_frames_of_the_new_rate_keeps_its_seconds() -> None:
    """Its span goes to the nearest frame, and its source with the clock."""
    before = clip_scene((30, 1), start=0.0)
    after = done(before, {"edit": "set_scene", "frame_rate": (24, 1)})
    assert after.layer("surf").span.start == 8
    clock = {at: frame for at, frame in shown(before).items()}
    for at, frame in shown(after).items():
        seconds = Fraction(at, 24) - Fraction(10, 30)
        assert frame == max(math.floor(seconds * Fraction(24000, 1001)), 0)
    assert clock[10] == 0


def test_speed_direction_freezing_and_keys() -> None:
    forward = clip_scene(start=1.0)
    was = shown(forward)
    back = done(forward, {"edit": "set_speed", "layer": "surf", "speed": -100.0})
    assert [*shown(back).values()] == [*was.values()][::-1]
    again = done(back, {"edit": "set_speed", "layer": "surf", "speed": 100.0})
    assert shown(again) == was
    half = done(forward, {"edit": "set_speed", "layer": "surf", "speed": 50.0, "stretch": True})
    assert half.layer("surf").span.length == 300
    assert {10 + (at - 10) / 2: frame for at, frame in shown(half).items() if at % 2 == 0} == was
    frozen = done(forward, {"edit": "freeze_source", "layer": "surf", "frame": 40.0})
    assert {frame for at, frame in shown(frozen).items() if at >= 40} == {was[40]}
    assert shown(done(frozen, {"edit": "freeze_source", "layer": "surf", "frame": 40.0, "off": True})) == was
    keyed = done(forward, {"edit": "key_source_time", "layer": "surf", "on": True})
    assert shown(keyed) == was
    held = {"edit": "set_property", "layer": "surf", "property": "content.time.keyed", "frame": 85.0, "value": 1.0}
    bent = shown(done(keyed, held))
    assert (bent[10], bent[85]) == (was[10], was[10])
    assert shown(done(keyed, {"edit": "key_source_time", "layer": "surf", "on": False})) == was


@pytest.mark.parametrize(
    ("edit", "why"),
    [
        ({"edit": "set_speed", "layer": "surf", "speed": 0.0}, "between 10 % and 1000 %, and 0 %"),
        ({"edit": "set_speed", "layer": "plate", "speed": 50.0}, "'Plate' has no source"),
        ({"edit": "set_content", "layer": "surf", "path": "time.speed", "value": 0.5}, "freeze a source"),
        ({"edit": "set_content", "layer": "surf", "path": "asset", "value": "gone"}, "is not among the project"),
        ({"edit": "set_content", "layer": "surf", "path": "time.after", "value": "stop"}, "'hold', 'nothing'"),
        ({"edit": "freeze_source", "layer": "surf", "frame": 300.0}, "outside the span"),
        ({"edit": "add_layer", "content": {"kind": "clip", "asset": "gone"}}, "is not among the project"),
    ],
)
def test_what_cannot_be_is_refused_in_words(edit: dict[str, Any], why: str) -> None:
    both = clip_scene()
    both = both.with_layers((*both.layers, *scene(layer()).layers))
    with pytest.raises(Refused, match=why):
        done(both, edit)


@pytest.mark.parametrize(("given", "kept"), [(4.0, 10.0), (-3.0, -10.0), (2e4, 1000.0), (-5e3, -1000.0)])
def test_a_speed_beyond_its_range_stops_there_and_says_so(given: float, kept: float) -> None:
    edit = [EDIT.validate_python({"edit": "set_speed", "layer": "surf", "speed": given})]
    outcome = apply_edits(clip_scene(), edit, MEDIA)
    assert outcome.scene.layer("surf").content.time.speed == kept
    assert f"{given:g} % stops at {kept:g} %" in outcome.notices[0]


def test_a_new_clip_is_there_as_long_as_it_lasts() -> None:
    after = done(scene(), {"edit": "add_layer", "id": "s", "content": {"kind": "clip", "asset": "surf"}, "start": 5})
    span = after.layer("s").span
    assert (span.start, span.end) == (5, 5 + math.ceil(200 * 1001 / 24000 * 30))
    assert shown(after, "s")[span.end - 1] == 199


@pytest.mark.parametrize(
    ("time", "words"),
    [({"start": -9.0, "before": "nothing"}, "has not begun"), ({"start": 9.0, "after": "nothing"}, "has ended")],
)
def test_why_a_clip_does_not_show_is_said_with_its_mend(time: dict[str, Any], words: str) -> None:
    before = clip_scene(**time)
    (why,) = unseen(before, 20, MEDIA)
    assert (why.reason, words in why.sentence) == ("source", True)
    mended = apply_edits(before, list(why.edits), MEDIA).scene
    assert unseen(mended, 20, MEDIA) == []


def test_where_a_source_begins_and_ends_is_found() -> None:
    """The scene frames at which it is there and was not, or the other way round."""
    of = clip_scene(start=-1.0, speed=200.0)
    (one,) = of.layers
    frames = np.arange(one.span.start, one.span.end, dtype=np.float64)
    context = Context(of, MEDIA)
    (resolved,) = context.resolve([one], frames)
    first, last = one.content.ends(resolved.inner, context.around(one, frames))
    assert first == 10 + 15
    assert last == 10 + math.ceil((1 + 200 * 1001 / 24000) / 2 * 30)
