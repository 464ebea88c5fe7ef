"""Checks of time, of what is never seen, of cuts, of flashes and of loud sounds: what has it, what nearly has it, and
the mend, which clears it and changes nothing else."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from mudskipper.core.checks import check_scene
from mudskipper.core.checks.base import Finding
from mudskipper.core.checks.flashes import flashing
from mudskipper.core.checks.loud import over_full_scale
from mudskipper.core.contents.assets import NO_MEDIA, Assets, ClipInfo
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.resolve.context import Context
from tests.conftest import layer, scene

COUNTED = "9 if frame < 30 else 90000000"
FILM = ClipInfo.steady("film", (640, 360), 40, (30, 1), sound=True)
MEDIA = Assets(clips={"film": FILM}, scenes={})


def found(made: Scene, check: str, media: Assets = MEDIA) -> list[Finding]:
    return [one for one in check_scene(made, media) if one.check == check and not one.left]


def film(**fields: Any) -> dict[str, Any]:
    time = fields.pop("time", {})
    return layer("Film", content={"kind": "clip", "asset": "film", "time": time}, position=[320, 180], **fields)


def mended(made: Scene, finding: Finding, media: Assets = MEDIA) -> Scene:
    after = apply_edits(made, list(finding.edits), media).scene
    assert not found(after, finding.check, media)
    before = {(one.check, one.layer) for one in check_scene(made, media)}
    assert {(one.check, one.layer) for one in check_scene(after, media)} < before
    return after


def test_a_clip_that_has_run_out_stands_still() -> None:
    """Forty frames under a span of sixty; on purpose where it is frozen, goes round or shows nothing."""
    made = scene(film())
    (one,) = found(made, "clip end")
    assert (one.frame, one.figure) == (40, 20)
    assert one.sentence.startswith("'Film' stands still from 1:10 on, for 20 frames")
    after = mended(made, one)
    assert after.layers[0].span.length == 40
    assert after.with_layer(after.layers[0].model_copy(update={"span": made.layers[0].span})) == made
    fine: list[dict[str, Any]] = [
        {"time": {"freeze": 12.0}}, {"time": {"after": "loop"}}, {"time": {"after": "nothing"}},
        {"span": {"start": 0, "length": 42}}, {"span": {"start": 30, "length": 60}}, {"time": {"speed": 50.0}},
        {"time": {"keyed": {"rest": 0.0, "keys": [{"frame": 0, "value": 0.0}, {"frame": 50, "value": 1.0}]}}},
    ]  # fmt: skip
    for fields in fine:
        assert not found(scene(film(**fields)), "clip end"), fields
    late = found(scene(film(time={"speed": 200.0})), "clip end")
    assert late[0].frame == 20


def test_a_layer_that_is_never_seen_is_told_of() -> None:
    going = {"rest": [0, 0], "keys": [{"frame": 0, "value": [900, 180]}, {"frame": 59, "value": [760, 180]}]}
    for fields, told in (
        ({"position": [-400, 180]}, "it stands 300 px left of the frame"),
        ({"opacity": 0.0}, "its opacity is 0 % here"),
        ({"position": going}, "right of the frame"),
    ):
        (one,) = found(scene(layer("Lost", **fields)), "never shows")
        assert told in one.sentence
        assert one.sentence.startswith("'Lost' never shows, at no frame at which it is there")
    comes = {"rest": [0, 0], "keys": [{"frame": 0, "value": [900, 180]}, {"frame": 59, "value": [735, 180]}]}
    fade = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 59, "value": 50}]}
    faint = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 59, "value": 12}]}
    for fields in (
        {"position": comes},
        {"opacity": fade},
        {"opacity": faint},
        {"visible": False, "position": [-400, 180]},
    ):
        assert not found(scene(layer("Seen", **fields)), "never shows")


def shot(first: dict[str, Any], second: dict[str, Any]) -> Scene:
    one = layer("Shot", id="one", span={"start": 0, "length": 30}, **first)
    return scene(one, layer("Shot 2", id="two", span={"start": 30, "length": 30}, **second))


def test_two_parts_of_a_shot_that_nearly_meet() -> None:
    zoom = [{"frame": 0, "value": [100, 100]}, {"frame": 29, "value": [129, 129]}]
    rest = [{"frame": 0, "value": [130, 130]}, {"frame": 29, "value": [159, 159]}]
    keyed = {"rest": [100, 100], "keys": zoom, "after": "carry on"}
    meets = shot({"scale": keyed}, {"scale": {"rest": [100, 100], "keys": rest}})
    assert not found(meets, "cut step")
    (one,) = found(shot({"scale": [100, 100]}, {"scale": [104, 104]}), "cut step")
    assert (one.layer, one.frame) == ("two", 30)
    assert one.figure == pytest.approx(math.hypot(100, 50) * 0.04, abs=1e-6)
    assert "'Shot 2' steps by 4.5 px at 1:00, where 'Shot' was cut off it." in one.sentence
    after = mended(shot({"scale": [100, 100]}, {"scale": [104, 104]}), one)
    assert after.layer("one").scale.rest == pytest.approx((104, 104))
    assert after.layer("two").scale.rest == (104, 104)
    # Elsewhere, nothing brings them together; far apart, or another picture, it was meant.
    (moved,) = found(shot({"position": [300, 180]}, {"position": [303, 180]}), "cut step")
    assert moved.edits == ()
    assert not found(shot({"position": [300, 180]}, {"position": [500, 180]}), "cut step")
    other = {"kind": "shape", "items": [{"shape": "ellipse", "size": [200, 100], "fill": "#0e3f45"}]}
    assert not found(shot({"position": [300, 180]}, {"position": [303, 180], "content": other}), "cut step")
    left = apply_edits(shot({"scale": [100, 100]}, {"scale": [104, 104]}), [
        *one.model_copy(update={"edits": ()}).edits,
    ], NO_MEDIA).scene  # fmt: skip
    kept = left.with_layer(left.layer("two").model_copy(update={"unchecked": ("cut step",)}))
    assert not found(kept, "cut step")
    assert [one.left for one in check_scene(kept, MEDIA) if one.check == "cut step"] == [True]


def test_a_jump_is_none_where_what_steps_steps_by_nature() -> None:
    """Words and copies come whole: their box steps with them."""
    words = {"kind": "text", "text": "9", "size": 90, "written": {"rest": "", "formula": COUNTED}}
    assert not found(scene(layer("Counter", content=words)), "jump")
    place = {"rest": [0, 0], "keys": [{"frame": at, "value": [x, 180]} for at, x in ((0, 100), (30, 110), (31, 500))]}
    assert found(scene(layer("Plate", position=place)), "jump")


def pulses(values: list[float], part: float = 1.0, cells: int = 12) -> np.ndarray:
    """A picture of cells of which the left part has those values, a frame each."""
    light = np.full((len(values), cells, cells), 0.2)
    light[:, :, : round(part * cells)] = np.array(values)[:, None, None]
    return light


@pytest.mark.parametrize(
    ("values", "part", "flashes"),
    [
        ([0.1, 0.5] * 15, 1.0, True),  # fifteen in a second
        ([0.1] * 4 + [0.5] * 4 + [0.1] * 4 + [0.5] * 4 + [0.1] * 4 + [0.5] * 4 + [0.1] * 6, 1.0, False),  # three
        ([0.1] * 3 + [0.5] * 3 + [0.1] * 3 + [0.5] * 3 + [0.1] * 3 + [0.5] * 3 + [0.1] * 3 + [0.5] * 3 + [0.1] * 6,
         1.0, True),  # four
        ([0.1, 0.19] * 15, 1.0, False),  # too faint
        ([0.85, 1.0] * 15, 1.0, False),  # bright against bright
        ([0.1, 0.5] * 15, 0.08, False),  # too small
        ([0.1, 0.12, 0.14, 0.5] * 8, 1.0, True),
        (list(np.linspace(0, 1, 30)), 1.0, False),  # one slow rise
    ],
)  # fmt: skip
def test_flashes_are_counted_as_wcag_counts_them(values: list[float], part: float, flashes: bool) -> None:
    light = pulses(values, part)
    none = np.zeros_like(light)
    seen = flashing(light, none, none > 0, 30.0)
    assert (seen is not None) == flashes
    if seen:
        assert not seen.red
        assert seen.count > 3
    # By definition: the flashes of one cell in each second, pairs of opposed changes of a tenth.
    assert (seen is not None) == (most_pairs(values, 30) > 3 and part > 0.3)


def most_pairs(values: list[float], fps: int) -> int:
    """The most flashes in any second, by walking through the values from one turning point to the next."""
    turns, at, way = [], values[0], 0
    for index, value in enumerate(values):
        if way >= 0 and value < at and at - value >= 0.1 and value < 0.8:
            turns, at, way = [*turns, index], value, -1
        elif way <= 0 and value > at and value - at >= 0.1 and at < 0.8:
            turns, at, way = [*turns, index], value, 1
        elif (way > 0 and value > at) or (way < 0 and value < at):
            at = value
    return max((sum(low < one <= low + fps for one in turns) // 2 for low in range(-1, len(values))), default=0)


def test_red_flashes_count_by_their_saturation() -> None:
    red = pulses([0.0, 0.2] * 15)
    none = np.zeros_like(red)
    seen = flashing(none, red, red > 0, 30.0)
    assert seen
    assert seen.red
    assert flashing(none, red, none > 0, 30.0) is None
    assert flashing(none, red / 4, red > 0, 30.0) is None


@pytest.mark.parametrize(
    ("level", "over"), [(0.0, 20 * math.log10(1.6)), (-4.1, None), (2.0, 20 * math.log10(1.6) + 2)]
)
def test_sounds_over_full_scale_are_made_quieter(level: float, over: float | None) -> None:
    """Two films of 0.8 each: 4.1 dB over full scale together, of which the keyed one is mended in its keys."""
    keys = {"rest": 0.0, "keys": [{"frame": 0, "value": level}, {"frame": 20, "value": level}]}
    one = film() | {"id": "one"}
    two = film() | {"id": "two", "name": "Second"}
    one["content"] = one["content"] | {"sound": {"level": level}}
    two["content"] = two["content"] | {"sound": {"level": keys}}
    made = scene(one, two)

    def source(_: str, first: int, count: int) -> np.ndarray:
        at = np.arange(first, first + count)
        inside = (at >= 0) & (at < 64_000)
        return (0.8 * inside * np.cos(at / 40))[:, None].repeat(2, axis=1).astype(np.float32)

    finding = over_full_scale(Context(made, MEDIA), source)
    if over is None:
        assert finding is None
        return
    assert finding
    assert finding.figure == pytest.approx(over, abs=0.02)
    assert f"{over:.1f} dB over full scale" in finding.sentence
    after = apply_edits(made, list(finding.edits), MEDIA).scene
    assert over_full_scale(Context(after, MEDIA), source) is None
    by = math.ceil(finding.figure * 10) / 10
    levels = [one.tracks["content.sound.level"] for one in after.layers]
    assert levels[0].rest == pytest.approx(level - by)
    assert [key.value for key in levels[1].keys] == pytest.approx([level - by] * 2)
