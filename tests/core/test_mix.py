"""What a scene sounds like: sample by sample against the definition, in a slow loop of exact positions."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from mudskipper.core.contents.assets import Assets, ClipInfo, silent
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.arrange import SplitLayer
from mudskipper.core.resolve.cache import LayerCache
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.resolved import ResolveCache, resolve
from mudskipper.core.resolve.sound.loudness import squares_of
from mudskipper.core.resolve.sound.mix import RATE, mixed
from tests.conftest import layer, scene

LENGTH = 2.5
SURF = np.random.default_rng(5).uniform(-0.5, 0.5, (round(LENGTH * RATE), 2)).astype(np.float32)
MEDIA = Assets(clips={
    "surf": ClipInfo("surf", 0, 0, np.zeros(1), LENGTH, sound=True),
    "mute": ClipInfo.steady("mute", (320, 180), 60, (25, 1)),
})  # fmt: skip


def read(asset: str, first: int, count: int) -> np.ndarray:
    """Samples of the one sound there is, silence around it."""
    assert asset == "surf"
    out = np.zeros((count, 2), np.float32)
    low, high = max(first, 0), min(first + count, len(SURF))
    if low < high:
        out[low - first : high - first] = SURF[low:high]
    return out


def heard(of: Scene, first: int, count: int, only: set[str] | None = None) -> np.ndarray:
    return mixed(of, Context(of, MEDIA), first, count, read, only)


def surf(time: dict[str, Any] | None = None, sound: dict[str, Any] | None = None, **fields: Any) -> dict[str, Any]:
    content = {"kind": "sound", "asset": "surf", "time": time or {}, "sound": sound or {}}
    return layer("Surf", content=content, **fields)


@pytest.mark.parametrize("speed", [100.0, -100.0, 50.0, 200.0, 137.0, -63.0, 1000.0])
@pytest.mark.parametrize("start", [0.0, 1.0, 0.123456])
@pytest.mark.parametrize("after", ["hold", "loop"])
def test_every_sample_is_that_of_its_moment(speed: float, start: float, after: str) -> None:
    """A step of a whole sample is that sample; a shorter one lies between two; a longer one is the mean of a row."""
    begins = start if speed > 0 else LENGTH - start - 1 / RATE
    of = scene(
        surf({"start": begins, "speed": speed, "after": after, "before": after}, span={"start": 10, "length": 45})
    )
    first, count = 10 * RATE // 30 - 500, 40_000
    found = heard(of, first, count)
    step = speed / 100
    for at in [*range(480, 520), *range(600, count, 997)]:
        seconds = (first + at) / RATE - 10 / 30
        if not 0 <= seconds < 1.5:
            assert not found[at].any()
            continue
        here = begins * RATE + seconds * RATE * step
        if after == "loop" and not -0.5 <= here < len(SURF) - 0.5:
            here %= len(SURF)
            if abs(here - len(SURF)) < 20 or here < 20:
                continue  # at the seam what is passed lies on both sides
        elif not -0.5 <= here < len(SURF) - 0.5:
            assert not found[at].any()
            continue
        if abs(step) <= 1:
            low = math.floor(here + 1e-6)
            part = max(here - low, 0.0)
            pair = read("surf", low, 2).astype(float)
            wanted = pair[0] * (1 - part) + pair[1] * part
        else:
            left, right = sorted((here, here + step))
            whole = read("surf", math.floor(left) - 1, math.ceil(right) - math.floor(left) + 4).astype(float)
            edges = np.arange(len(whole) + 1) + math.floor(left) - 1
            covered = np.clip(np.minimum(edges[1:], right) - np.maximum(edges[:-1], left), 0, None)
            wanted = (whole * covered[:, None]).sum(axis=0) / abs(step)
        assert found[at] == pytest.approx(wanted, abs=2e-5)


def test_at_its_own_speed_it_is_copied_sample_for_sample() -> None:
    of = scene(surf({"start": 0.5}, span={"start": 3, "length": 30}))
    begin = 3 * RATE // 30
    assert (heard(of, begin, RATE)[: RATE - 1] == SURF[RATE // 2 : RATE // 2 + RATE - 1]).all()
    assert not heard(of, 0, begin).any()
    whole = heard(of, 0, 2 * RATE)
    parts = np.concatenate([heard(of, at, 7_000) for at in range(0, 2 * RATE, 7_000)])[: 2 * RATE]
    assert np.abs(whole - parts).max() < 1e-6


def test_level_fades_mute_and_solo() -> None:
    """Decibels between keys in amplitudes, straight fades at both ends, nothing of a muted or hidden layer."""
    plain = heard(scene(surf(span={"start": 0, "length": 60})), 0, 2 * RATE)
    low = heard(scene(surf(sound={"level": -20.0}, span={"start": 0, "length": 60})), 0, 2 * RATE)
    assert low == pytest.approx(plain * 0.1, abs=1e-6)
    silent = heard(scene(surf(sound={"level": -60.0})), 0, RATE)
    assert not silent.any()
    faded = heard(scene(surf(sound={"fade_in": 0.5, "fade_out": 0.25}, span={"start": 0, "length": 60})), 0, 2 * RATE)
    seconds = np.arange(2 * RATE) / RATE
    factor = np.minimum(np.clip(seconds / 0.5, 0, 1), np.clip((2 - seconds) / 0.25, 0, 1))
    assert faded == pytest.approx(plain * factor[:, None], abs=1e-6)
    keyed = {"level": {"rest": 0, "keys": [{"frame": 0, "value": -60, "ease": "hold"}, {"frame": 30, "value": 0}]}}
    later = heard(scene(surf(sound=keyed, span={"start": 0, "length": 60})), 0, 2 * RATE)
    assert not later[: RATE - 1700].any()
    assert later[RATE:] == pytest.approx(plain[RATE:], abs=1e-6)
    two = scene(surf(), surf(sound={"level": -6.0}) | {"id": "low", "name": "Low"})
    both, one = heard(two, 0, RATE), heard(two, 0, RATE, {"low"})
    assert both - one == pytest.approx(heard(two, 0, RATE, {"surf"}), abs=1e-6)
    for gone in ({"sound": {"muted": True}}, {"visible": False}):
        assert not heard(scene(surf(**gone)), 0, RATE).any()


def test_what_stands_still_is_not_heard_and_a_film_without_sound_neither() -> None:
    frozen = heard(scene(surf({"freeze": 15.0}, span={"start": 0, "length": 60})), 0, RATE)
    assert np.abs(frozen[: RATE // 2 - 2]).max() > 0.1
    assert not frozen[RATE // 2 + 2 :].any()
    assert not heard(scene(layer("Film", content={"kind": "clip", "asset": "mute"})), 0, RATE).any()
    keyed = {
        "keyed": {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 30, "value": 1}, {"frame": 45, "value": 1}]}
    }
    bent = heard(scene(surf(keyed, span={"start": 0, "length": 60})), 0, 2 * RATE)
    assert bent[: RATE - 2000] == pytest.approx(SURF[: RATE - 2000], abs=1e-3)
    assert not bent[RATE + 10 :].any()


def test_a_layer_cut_in_two_is_heard_as_before() -> None:
    """Fades stay at the ends, and none is made at the cut."""
    whole = scene(surf(sound={"fade_in": 0.3, "fade_out": 0.3}, span={"start": 0, "length": 60}))
    halves = apply_edits(whole, [SplitLayer(layer="surf", frame=25, id="tail")], MEDIA).scene
    assert heard(halves, 0, 2 * RATE) == pytest.approx(heard(whole, 0, 2 * RATE), abs=1e-6)


def test_ten_minutes_on_nothing_has_drifted() -> None:
    """At 29.97 frames a second, sample for sample, since every sample is found from the scene's beginning."""
    rate = {"frame_rate": (30000, 1001), "length": 30_000}
    of = scene(surf({"start": 0.25}, span={"start": 18_000, "length": 60}), **rate)
    begin = 18_000 * 1001 * RATE // 30_000
    found = heard(of, begin, RATE)
    assert np.abs(found - SURF[RATE // 4 : RATE // 4 + RATE]).max() < 1e-5


@pytest.mark.parametrize(
    ("time", "sound", "span"),
    [
        ({}, {}, (0, 60)),
        ({"start": 0.41, "speed": -100.0, "before": "loop"}, {}, (0, 60)),
        ({"start": 1.763, "after": "loop"}, {}, (0, 60)),
        ({"speed": 250.0, "after": "loop"}, {"level": -6}, (5, 40)),
        ({"start": 1.0, "after": "nothing"}, {"fade_in": 0.5, "fade_out": 0.2, "muted": True}, (7, 50)),
        (
            {"start": 0.5, "speed": 50.0},
            {"level": {"rest": 0, "keys": [{"frame": 0, "value": -30}, {"frame": 40, "value": 0}]}},
            (3, 44),
        ),
    ],
)
@pytest.mark.parametrize("nested", [False, True])
def test_the_level_of_a_formula_is_the_root_mean_square_of_what_is_heard(
    time: dict[str, Any], sound: dict[str, Any], span: tuple[int, int], nested: bool
) -> None:
    """Frame by frame against the samples of the mix; blocks of 5 ms may hold what just lies beside a frame."""
    one = surf(time, sound, span={"start": span[0], "length": span[1]})
    reader = layer("Reader", rotation={"rest": 0, "formula": 'scene["Surf"].loudness * 100'})
    media = replace(MEDIA, squares=lambda name: squares_of(SURF) if name == "surf" else silent(name))
    if nested:
        inner = scene(one | {"name": "Inner"}).model_copy(update={"id": "inner"})
        one = layer("Surf", content={"kind": "scene", "asset": "inner"})
        media = media.with_scenes([inner])
    of = scene(one, reader)
    found = resolve(of, range(60), media).layers["reader"]
    if nested and sound.get("muted"):
        assert "has no sound" in found.problems["rotation"].sentence  # nothing in that scene is heard
        return
    assert not found.problems
    told = np.broadcast_to(found.values["rotation"], (60, 1))[:, 0] / 100
    heard_one = scene(surf(time, sound | {"muted": False}, span={"start": span[0], "length": span[1]}))
    samples = heard(heard_one, 0, 2 * RATE).astype(float).reshape(60, RATE // 30, 2)
    wanted = np.sqrt((samples**2).mean(axis=(1, 2)))
    speed = abs(time.get("speed", 100)) / 100
    # Faster, the mix takes means of several samples, which noise loses; slower, it lies between two.
    near = {1.0: 0.01, 2.5: 0.25, 0.5: 0.12}[speed]
    assert np.abs(told - wanted).max() <= near
    assert ((told > 0) == (wanted > 0)).mean() > 0.94
    assert told.max() > 0.1 or not wanted.any()


def test_a_sound_is_asked_of_its_own_layer_and_said_where_there_is_none() -> None:
    media = replace(MEDIA, squares=lambda name: squares_of(SURF))
    film = layer(
        "Film", content={"kind": "clip", "asset": "loud"}, rotation={"rest": 1, "formula": 'scene["Film"].loudness'}
    )
    loud = ClipInfo("loud", 320, 180, np.arange(60) / 25, LENGTH, sound=True)
    media = replace(media, clips={**media.clips, "loud": loud})
    found = resolve(scene(film), range(60), media).layers["film"]
    assert not found.problems
    assert found.values["rotation"].max() == pytest.approx(0.289, abs=0.01)
    for text, words in (
        ('scene["Plate"].loudness', "'Plate' has no sound."), ('scene["Sruf"].loudness', "Did you mean 'Surf'?"),
        ('sound("Surf").volume', 'scene["Name"].loudness'), ('scene["Surf"]', "Which of its numbers"),
    ):  # fmt: skip
        of = scene(surf(), layer("Plate", rotation={"rest": 2, "formula": text}))
        one = resolve(of, range(60), media).layers["plate"]
        assert words in one.problems["rotation"].sentence
        assert (one.values["rotation"] == 2).all()
    far = scene(surf(), layer("Plate", rotation={"rest": 2, "formula": 'scene["Surf"].loudness.at(t + 1e6) + 1'}))
    assert (resolve(far, range(60), media).layers["plate"].values["rotation"] == 1).all()


def test_what_formulas_read_of_a_scene_follows_its_changes_also_where_layers_are_kept() -> None:
    inner = scene(surf()).model_copy(update={"id": "inner"})
    reader = layer("Reader", rotation={"rest": 0, "formula": 'scene["Surf"].loudness * 100 + scene["Surf"].box.width'})
    of = scene(layer("Surf", content={"kind": "scene", "asset": "inner"}), reader)
    media = replace(MEDIA, squares=lambda name: squares_of(SURF)).with_scenes([inner])
    cache: ResolveCache = LayerCache()
    before = resolve(of, range(60), media, cache).layers["reader"].values["rotation"]
    smaller = inner.model_copy(update={"width": 320, "layers": ()})
    found = resolve(of, range(60), media.with_scenes([smaller]), cache).layers["reader"]
    assert (before > 640).any()
    assert "no sound" in found.problems["rotation"].sentence
    louder = inner.model_copy(update={"width": 320})
    after = resolve(of, range(60), media.with_scenes([louder]), cache).layers["reader"].values["rotation"]
    assert np.allclose(before - after, 320)
