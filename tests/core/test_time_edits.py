"""Beats, pasted and slipped keys, variants, easings as text, drop-frame time."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.document.variant_differences import differences
from mudskipper.core.easings.batch import Ease, ease_at
from mudskipper.core.easings.text import PRESETS, ease_name, ease_text, read_ease
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.beats import AddBeats, DeleteBeats, LabelBeat, MoveBeat
from mudskipper.core.edits.layers import TrimSpan
from mudskipper.core.edits.paste_and_slip import PasteKeys, SlipSpan
from mudskipper.core.edits.scenes import SetScene
from mudskipper.core.edits.variants import DeleteVariant, KeepVariant, SwitchVariant
from mudskipper.core.ground.errors import Refused
from mudskipper.core.ground.time import timecode
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import cases, layer, scene

EASES: TypeAdapter[Ease] = TypeAdapter(Ease)


def done(before: Scene, *edits: Any) -> Scene:
    return apply_edits(before, list(edits), NO_MEDIA).scene


def keyed(*keys: tuple[float, Any], rest: Any = 0) -> dict[str, Any]:
    return {"rest": rest, "keys": [{"frame": frame, "value": value} for frame, value in keys]}


def test_beats_are_set_labelled_moved_and_taken_away() -> None:
    beats = done(
        scene(layer()), AddBeats(frames=(30, 10)), LabelBeat(frame=10, label="splash"), AddBeats(frames=(10, 5))
    )
    assert [(beat.frame, beat.label) for beat in beats.beats] == [(5, ""), (10, "splash"), (30, "")]
    moved = done(beats, MoveBeat(frame=10, to=30), DeleteBeats(frames=(5,)))
    assert [(beat.frame, beat.label) for beat in moved.beats] == [(30, "splash")]
    for wrong, why in (
        (MoveBeat(frame=7, to=9), "no beat at frame 7"),
        (AddBeats(frames=(60,)), "past the scene's end"),
    ):
        with pytest.raises(Refused, match=why):
            done(beats, wrong)


def test_keys_are_pasted_on_layers_with_values_easings_and_handles() -> None:
    """Counted from the first; what stands there is replaced; what a layer has not, or is past its span, is refused."""
    before = scene(layer("Plate", rotation=keyed((20, 7))), layer("Sign", span={"start": 5, "length": 30}))
    keys = (
        {"property": "rotation", "after": 0, "value": -90.0, "ease": "ease-out"},
        {"property": "rotation", "after": 12, "value": 0.0},
        {"property": "position", "after": 12, "value": (50.0, 60.0), "leave": (9.0, 0.0)},
    )
    after = done(before, PasteKeys(layers=("plate", "sign"), frame=8, keys=keys))
    plate, sign = after.layers
    assert [(k.frame, k.value, k.ease) for k in plate.rotation.keys] == [(8, -90, "ease-out"), (20, 0, "linear")]
    assert [k.frame for k in sign.rotation.keys] == [3, 15]
    assert (sign.position.keys[0].leave, sign.position.keys[0].value) == ((9, 0), (50, 60))
    with pytest.raises(Refused, match="outside the span of 'Sign'"):
        done(before, PasteKeys(layers=("sign",), frame=30, keys=keys))
    with pytest.raises(Refused, match="has no text size to take"):
        done(
            before, PasteKeys(layers=("plate",), frame=0, keys=({"property": "content.size", "after": 0, "value": 9},))
        )


@pytest.mark.parametrize(
    ("rotation", "words"),
    [
        (keyed((0, 0), (20, 90)), "Slipped the keys of Plate by +7 frames"),
        ({"rest": 0, "formula": "t * 90"}, "Slipped the formulas of Plate by +7 frames"),
    ],
)
def test_keys_and_formulas_slip_under_their_span(rotation: dict[str, Any], words: str) -> None:
    before = scene(layer(rotation=rotation))
    edit = SlipSpan(layer="plate", by=7)
    after = done(before, edit)
    assert edit.words(before) == words
    assert after.layers[0].span == before.layers[0].span
    wide = resolve(before, np.arange(20), NO_MEDIA).layers["plate"].values["rotation"]
    assert np.allclose(resolve(after, np.arange(7, 27), NO_MEDIA).layers["plate"].values["rotation"], wide)
    with pytest.raises(Refused, match="no keys and no formulas that could slip"):
        done(scene(layer()), SlipSpan(layer="plate", by=1))


def test_variants_keep_motions_apart_and_go_along_with_the_layer() -> None:
    """Switched to and fro nothing is lost; trimmed, sized and at another rate the one that rests goes along as well."""
    start = scene(layer(rotation=keyed((0, 0), (20, 90)), position=[100, 100]))
    kept = done(start, KeepVariant(layer="plate"))
    assert (kept.layers[0].variant, [one.name for one in kept.layers[0].variants]) == ("B", ["A"])
    plate = kept.layers[0].model_copy(update={"rotation": start.layers[0].rotation.model_copy(update={"keys": ()})})
    changed = kept.with_layer(plate)
    assert differences(plate, "A", (30, 1)) == ["Rotation: no keys against 2 keys."]
    there = done(changed, SwitchVariant(layer="plate", name="A"))
    assert there.layers[0].rotation == start.layers[0].rotation
    assert done(there, SwitchVariant(layer="plate", name="B")).layers[0] == plate
    assert read_scene(there.to_json()) == there
    trimmed = done(changed, TrimSpan(layer="plate", start=5, length=40), SwitchVariant(layer="plate", name="A"))
    whole = resolve(start, np.arange(5, 45), NO_MEDIA).layers["plate"].values["rotation"]
    assert (resolve(trimmed, np.arange(5, 45), NO_MEDIA).layers["plate"].values["rotation"] == whole).all()
    rated = done(changed, SetScene(frame_rate=(60, 1), width=1280, carry="fraction"))
    (rested,) = rated.layers[0].variants
    assert [key.frame for key in rested.rotation.keys] == [0, 40]
    assert rested.position.rest == (200, 100)
    assert done(changed, DeleteVariant(layer="plate", name="A")).layers[0].variants == ()
    for wrong, why in (
        (SwitchVariant(layer="plate", name="Z"), "keeps no variant 'Z'.*It keeps A"),
        (KeepVariant(layer="plate", name="A"), "has a variant 'A' already"),
    ):
        with pytest.raises(Refused, match=why):
            done(changed, wrong)


def test_what_variants_differ_in_is_told_key_by_key() -> None:
    path = keyed((0, [0, 0]), (10, [50, 50]), rest=[0, 0])
    start = done(scene(layer(position=path, anchor=[0.5, 0.5])), KeepVariant(layer="plate"))
    plate = start.layers[0]
    keys = (plate.position.keys[0].model_copy(update={"ease": "ease-in"}),
            plate.position.keys[1].model_copy(update={"frame": 12.0, "value": (50.0, 70.0)}))  # fmt: skip
    plate = plate.model_copy(update={
        "position": plate.position.model_copy(update={"keys": keys}),
        "anchor": plate.anchor.model_copy(update={"rest": (0.0, 1.0)}),
    })  # fmt: skip
    assert differences(plate, "A", (30, 1)) == [
        "Anchor: 0 % 100 % against 50 % 50 %.",
        "Position, key 1: ease-in against linear.",
        "Position, key 2: at 0:12 against 0:10; 50, 70 against 50, 50.",
    ]


@pytest.mark.parametrize(
    ("text", "ease"),
    [
        ("ease-in-out", "ease-in-out"),
        ("cubic-bezier(0.3, 1.4, .5, 1);", {"bezier": [0.3, 1.4, 0.5, 1]}),
        ("0.1 0.8 0.3 1", {"bezier": [0.1, 0.8, 0.3, 1]}),
        ("steps(4)", {"steps": 4, "jump": "end"}),
        ("steps(3, jump-both)", {"steps": 3, "jump": "both"}),
        ("steps(2, start)", {"steps": 2, "jump": "start"}),
        ("linear(0, 0.5 30%, 1)", {"points": [[0, 0], [0.3, 0.5], [1, 1]]}),
        ("linear(0, 0.2, 0.4 50% 60%, 1)", {"points": [[0, 0], [0.25, 0.2], [0.5, 0.4], [0.6, 0.4], [1, 1]]}),
        ("Soft  Landing", {"bezier": [0.1, 0.8, 0.3, 1]}),
        ("overshoot(20)", {"overshoot": 20}),
        ("bounce(2, 0.5)", {"bounce": {"count": 2, "damping": 0.5}}),
        ("spring(0.3, 0.4)", {"spring": {"response": 0.3, "damping": 0.4}}),
    ],
)
def test_easings_are_read_from_text_and_written_back(text: str, ease: Any) -> None:
    read = read_ease(text)
    assert read == EASES.validate_python(ease)
    assert read_ease(ease_text(read)) == read
    u = np.linspace(0, 1, 33)
    assert np.allclose(ease_at(read_ease(ease_text(read)), u), ease_at(read, u))


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("soon", "is no easing"),
        ("", "is no easing"),
        ("cubic-bezier(2, 0, 1, 1)", "within 0 and 1"),
        ("cubic-bezier(1, 2, 3)", "takes 4 numbers, and 3"),
        ("wobble(3)", r"no easing wobble\(\)"),
        ("linear(0)", "two points"),
        ("steps(0)", "steps must be at least 1"),
        ("spring(9, 9)", "response must be at most 2"),
        ("linear(a, b)", "“a” is no number"),
    ],
)
def test_text_that_is_no_easing_is_refused_in_words(text: str, why: str) -> None:
    with pytest.raises(Refused, match=why) as told:
        read_ease(text)
    assert "cubic-bezier(" in told.value.mend


def test_every_preset_has_its_name() -> None:
    assert {name: ease_name(ease) for name, ease in PRESETS.items()} == {name: name for name in PRESETS}


NTSC, DOUBLE = (30_000, 1_001), (60_000, 1_001)


@pytest.mark.parametrize(
    ("frame", "rate", "told"),
    [
        (41, (30, 1), "1:11"), (1799, NTSC, "59;29"), (1800, NTSC, "1:00;02"), (17_981, NTSC, "9:59;29"),
        (17_982, NTSC, "10:00;00"), (3599, DOUBLE, "59;59"), (3600, DOUBLE, "1:00;04"), (-41, (30, 1), "-1:11"),
        (75 * 25 + 3, (25, 1), "75:03"), (2.5, (25, 1), "0:03"), (3.5, (25, 1), "0:04"), (-0.4, (25, 1), "0:00"),
        (10, (24_000, 1_001), "0:10"),
    ],
)  # fmt: skip
def test_timecode_and_drop_frame(frame: int, rate: tuple[int, int], told: str) -> None:
    assert timecode(frame, rate) == told


@cases(80)
@given(frame=st.integers(0, 2_000_000), rate=st.sampled_from([NTSC, DOUBLE]))
def test_drop_frame_keeps_to_the_clock(frame: int, rate: tuple[int, int]) -> None:
    """What it tells stays within a few frames of true time, and no number comes twice."""
    told = timecode(frame, rate)
    seconds, _, frames = told.partition(";")
    parts = [int(part) for part in seconds.split(":")]
    clock = sum(part * 60**place for place, part in enumerate(reversed(parts))) + int(frames) / round(rate[0] / rate[1])
    assert abs(clock - frame * rate[1] / rate[0]) < 0.14
    assert timecode(frame + 1, rate) != told
