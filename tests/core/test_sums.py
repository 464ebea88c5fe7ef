"""The sums that a motion tool must not have wrong: keys written and made, cadences, rounds, recipes, checks, hands.

Values are held against the scalar reference, and motions against what they were, over frames on and between whole ones.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from mudskipper.core.checks import check_scene
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.moves.inserted_keys import inserted
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.resolve.speeds import speeds
from mudskipper.core.tracks.colour import ColourTrack
from mudskipper.core.tracks.evaluate import evaluate
from mudskipper.core.tracks.kinds import NumberTrack, PairTrack, PathTrack
from mudskipper.core.tracks.outline import OutlineTrack
from tests.conftest import cases, layer, scene
from tests.core import reference
from tests.core.test_edits import EDIT, done

SEEDS = st.integers(0, 2**32)
EASES: list[Any] = [
    "linear", "hold", "ease", "ease-in-out", {"bezier": [0.4, -0.6, 0.5, 1.7]}, {"bezier": [0.9, 0, 0.1, 1]},
    {"bezier": [0.3, 0, 0.2, -0.5]}, {"steps": 4}, {"steps": 3, "jump": "both"}, {"steps": 5, "jump": "start"},
    {"steps": 3000}, {"points": [[0, 0.5], [1, 0.8]]}, {"points": [[0, 0.3], [0.4, 1.2], [0.4, 0.2], [1, 0.8]]},
    {"overshoot": 30.0}, {"bounce": {"count": 2}}, {"bounce": {"count": 3, "damping": 0.5}}, {"spring": {}},
    {"spring": {"response": 0.15, "damping": 0.2}},
]  # fmt: skip
WAYS = ["hold", "repeat", "bounce", "carry on"]
FRAMES = np.arange(-70, 130, 0.25)


def track(dice: random.Random, *, most: int = 4, cadence: bool = False) -> tuple[Any, dict[str, Any]]:
    """A track of numbers or a path, of any easings and ways beyond its keys; and its document."""
    curved = dice.random() < 0.4
    keys: list[dict[str, Any]] = []
    for frame in sorted(dice.sample(range(5, 50), dice.randint(1, most))):
        value = [dice.uniform(0, 500), dice.uniform(0, 300)] if curved else dice.uniform(-100, 100)
        key = {"frame": float(frame), "value": value, "ease": dice.choice(EASES)}
        if curved and dice.random() < 0.7:
            key["leave"] = [dice.uniform(-80, 80), dice.uniform(-80, 80)]
            key["arrive"] = dice.choice([None, [dice.uniform(-80, 80), dice.uniform(-80, 80)]])
        keys.append(key)
    if len(keys) > 1 and dice.random() < 0.3:
        keys[-1]["value"] = keys[0]["value"]
    document = {"rest": [0, 0] if curved else 0, "keys": keys, "before": dice.choice(WAYS), "after": dice.choice(WAYS)}
    if cadence:
        document["cadence"] = dice.choice([{"on": 3, "phase": 1.0}, {"per_second": 12.0}, {"on": 2}])
    return (PathTrack if curved else NumberTrack).model_validate(document), document


def values(made: Any, frames: np.ndarray = FRAMES) -> np.ndarray:
    (found,) = evaluate([made], [frames], 30.0)
    return np.broadcast_to(found, (len(frames), made.dims))


@example(seed=1101)
@cases(150)
@given(seed=SEEDS)
def test_tracks_have_the_values_of_the_definition(seed: int) -> None:
    """Any easing, curve, cadence and way beyond the keys, on whole frames and between them, within 0.05."""
    dice = random.Random(seed)
    made, document = track(dice, cadence=dice.random() < 0.3)
    frames = np.array([dice.choice([dice.randint(-70, 120), dice.uniform(-70, 120)]) for _ in range(12)])
    for frame, found in zip(frames, values(made, frames), strict=True):
        wanted = np.array(reference.value(document, float(frame), 30.0))
        assert np.abs(found - wanted).max() < 0.05 + 2e-3 * np.abs(wanted).max(), (document, frame)


@cases(60)
@given(seed=SEEDS)
def test_tracks_have_the_same_values_together_and_alone(seed: int) -> None:
    """To the bit: numbers, pairs, paths, colours and outlines, at frames of their own and at frames that they share."""
    dice = random.Random(seed)

    def keyed(kind: type[Any], value: Callable[[], Any]) -> Any:
        frames = sorted(dice.sample(range(60), dice.randint(0, 4)))
        keys = [{"frame": float(frame), "value": value(), "ease": dice.choice(EASES)} for frame in frames]
        return kind.model_validate({"rest": value(), "keys": keys, "after": dice.choice(WAYS)})

    def point() -> list[float]:
        return [dice.uniform(-9, 9) for _ in range(6)]

    kinds: list[Callable[[], Any]] = [
        lambda: track(dice, cadence=dice.random() < 0.3)[0],
        lambda: keyed(PairTrack, lambda: [dice.uniform(-9, 9), dice.uniform(-9, 9)]),
        lambda: keyed(ColourTrack, lambda: f"#{dice.getrandbits(32):08x}"),
        lambda: keyed(OutlineTrack, lambda: [point(), point()]),
    ]
    tracks = [dice.choice(kinds)() for _ in range(dice.randint(1, 9))]
    shared = [np.array([dice.uniform(-30, 90) for _ in range(size)]) for size in (0, 1, 7)]
    frames = [dice.choice(shared) if dice.random() < 0.7 else np.arange(-5.0, 70.0) for _ in tracks]
    for one, at, found in zip(tracks, frames, evaluate(tracks, frames, 30.0), strict=True):
        assert np.array_equal(found, evaluate([one], [at], 30.0)[0])


@cases(60)
@given(seed=SEEDS)
def test_speeds_are_the_way_from_the_frame_before(seed: int) -> None:
    """Of any track, split or not, from any frame on and of a single frame too; what never changes has none."""
    dice = random.Random(seed)
    moved = {"name": "Moved", "id": "moved", "span": {"start": dice.randint(0, 20), "length": 200}}
    (_, turn), fixed = track(dice, cadence=dice.random() < 0.3), {"rest": 30, "keys": []}
    while isinstance(turn["rest"], list):
        _, turn = track(dice)
    made = scene(layer(**moved, rotation=turn, opacity=fixed))
    first = dice.randint(0, 90)
    frames = np.arange(first, first + dice.choice([1, 2, 30]))
    found = speeds(resolve(made, frames, NO_MEDIA))["moved"]
    assert np.abs(found.get("opacity", np.zeros(1))).max() == 0
    start = moved["span"]["start"]
    if len(turn["keys"]) > 1:
        at = [reference.value(turn, frame - start, 30.0)[0] for frame in range(first - 1, frames[-1] + 1)]
        assert found["rotation"][:, 0] == pytest.approx(np.abs(np.diff(at)) * 30.0, abs=4)
    else:
        assert np.abs(found.get("rotation", np.zeros(1))).max() == 0


def seams(document: dict[str, Any]) -> np.ndarray:
    """The frames at which one round meets the next with a jump, of which one alone is shown: no key can be both."""
    keys = document["keys"]
    found = np.zeros(len(FRAMES), dtype=bool)
    if len(keys) < 2:
        return found
    wide = keys[-1]["frame"] - keys[0]["frame"]
    ways = (document["before"], document["after"])
    if ways == ("repeat", "repeat"):
        found |= np.mod(FRAMES - keys[0]["frame"], wide) < 1e-6
    jumps = any("points" in key["ease"] or "steps" in key["ease"] for key in keys if isinstance(key["ease"], dict))
    if "bounce" in ways and jumps:
        for key in keys:
            for at in (key["frame"], 2 * keys[-1]["frame"] - key["frame"]):
                found |= np.mod(FRAMES - at, 2 * wide) < 1e-6
    return found


@cases(140)
@given(seed=SEEDS)
@example(seed=592)  # thousands of jumps, round after round
@example(seed=1569)  # steps that are cut where they step
@example(seed=2451)  # an overshoot that leaves its key by what floats lose
def test_a_key_made_anywhere_leaves_the_motion(seed: int) -> None:
    """Within a stretch or beyond the keys: nowhere off by more than 0.2 % of the way, at quarters of a frame."""
    dice = random.Random(seed)
    made, document = track(dice)
    frame = float(dice.choice([dice.randint(0, 59), dice.randint(-20, 90), dice.uniform(0, 59)]))
    name = "position" if made.dims == 2 else "rotation"
    try:
        after = inserted(made, name, frame, 30.0)
    except Refused as refusal:
        why = str(refusal)
        after = made
    else:
        why = ""
        assert any(abs(key.frame - frame) < 1e-6 for key in after.keys)
    assert not why or "would change what goes round" in why or "at most 10,000 keys" in why
    # The way is as long as it goes, also where an easing or a handle takes it beyond its keys.
    between = (document["keys"][0]["frame"] <= FRAMES) & (document["keys"][-1]["frame"] >= FRAMES)
    keyed = np.ptp([np.atleast_1d(key["value"]) for key in document["keys"]], axis=0).max()
    size = max(float(keyed), float(np.ptp(values(made)[between], axis=0).max()) if between.any() else 0.0, 1.0)
    gap = np.abs(values(after) - values(made)).max(axis=1)
    gap[seams(document)] = 0
    assert gap.max() < 0.002 * size + 0.02, (document, frame, FRAMES[gap.argmax()])
    cut = all(key["ease"] in ("linear", "hold") or {"steps", "points"} & set(key["ease"]) for key in document["keys"])
    if cut and made.dims == 1 and made.before == made.after == "hold":
        assert gap.max() < 1e-6 * size, (document, frame)


def corners(made: Scene, frames: Any, which: int = 0) -> np.ndarray:
    """The corners of a layer's box in the scene: (frames, 4, 2)."""
    one = list(resolve(made, frames, NO_MEDIA).layers.values())[which]
    box = np.broadcast_to(one.box, (len(frames), 4))
    matrix = np.broadcast_to(one.matrix, (len(frames), 6))
    return np.stack([apply(matrix, box[:, :2] + box[:, 2:] * at) for at in ((0, 0), (1, 0), (1, 1), (0, 1))], axis=1)


BENT = {
    "rest": [0, 0],
    "keys": [
        {"frame": 0, "value": [80, 60], "leave": [60, -90]},
        {"frame": 22, "value": [300, 200], "leave": [40, 120], "arrive": [-70, -10], "ease": "ease-in-out"},
        {"frame": 50, "value": [520, 90], "arrive": [-30, 80]},
    ],
}
KEY = {"layer": "plate", "property": "position", "frame": 22}


@pytest.mark.parametrize(
    "edit",
    [
        {"edit": "move_layers", "layers": ["plate"], "frame": 22, "by": [0, 0]},
        {"edit": "set_property", "layer": "plate", "property": "position", "frame": 22, "value": [300, None]},
        {"edit": "set_key", "layer": "plate", "property": "position", "frame": 22, "value": [300, 200]},
        {"edit": "bring_to", "layers": ["plate"], "frame": 22, "to": [300, None]},
        {"edit": "move_keys", "keys": [KEY], "by": 0},
        {"edit": "edit_values", "keys": [KEY], "way": "add", "value": 0},
        {"edit": "change_property", "layers": ["plate"], "property": "position", "frame": 22, "way": "add", "value": 0},
    ],
)
def test_a_position_key_written_where_it_is_keeps_its_handles(edit: dict[str, Any]) -> None:
    made = scene(layer(position=BENT, rotation=20))
    frames = np.arange(0, 59, 0.5)
    assert np.abs(corners(done(made, edit).scene, frames) - corners(made, frames)).max() < 1e-9


@cases(60)
@given(seed=SEEDS)
def test_a_cadence_keeps_its_moments(seed: int) -> None:
    """Split, trimmed, and at another rate every renewal is when it was; a key moved by 0 changes nothing."""
    dice = random.Random(seed)
    turn = {
        "rest": 0,
        "keys": [{"frame": f, "value": dice.uniform(-90, 90), "ease": dice.choice(EASES)} for f in (3, 29, 51)],
    }
    turn["cadence"] = dice.choice([{"on": 2}, {"on": 5}, {"per_second": 8.0}, {"on": 3, "phase": 1.25}])
    made = scene(layer(rotation=turn))
    cut = dice.randint(1, 58)
    halves = done(made, {"edit": "split_layer", "layer": "plate", "frame": cut, "id": "tail"}).scene
    whole = corners(made, np.arange(60.0))
    assert np.abs(corners(halves, np.arange(cut * 1.0)) - whole[:cut]).max() < 1e-9
    assert np.abs(corners(halves, np.arange(cut, 60.0), 1) - whole[cut:]).max() < 1e-9
    trimmed = done(made, {"edit": "trim_span", "layer": "plate", "start": cut - 40, "length": 70}).scene
    assert np.abs(corners(trimmed, np.arange(60.0)) - whole).max() < 1e-9
    nothing = {"edit": "move_keys", "by": 0, "keys": [{"layer": "plate", "property": "rotation", "frame": 29}]}
    assert done(made, nothing).scene.layers[0].rotation.keys == made.layers[0].rotation.keys
    rate = dice.choice([(60, 1), (25, 1), (24, 1), (30_000, 1_001)])
    ratio = rate[0] / rate[1] / 30
    slower = done(made, {"edit": "set_scene", "frame_rate": rate}).scene
    inner = np.arange(0.37, 58, 1.0)  # between renewals: at one itself the last digit decides
    step = made.layers[0].rotation.cadence.step(30.0)
    phase = made.layers[0].rotation.cadence.phase
    off = np.mod(inner - phase, step)
    clear = inner[(off > 1e-3) & (step - off > 1e-3)]
    assert np.abs(corners(slower, clear * ratio) - corners(made, clear)).max() < 1e-6


@pytest.mark.parametrize("cadence", [{"on": 2}, {"per_second": 7.0}])
@pytest.mark.parametrize("after", ["hold", "carry on"])
def test_x_and_y_apart_and_together_on_a_cadence(cadence: dict[str, Any], after: str) -> None:
    made = scene(layer(position={**BENT, "cadence": cadence, "after": after}))
    frames = np.arange(0, 60.0)
    apart = done(made, {"edit": "split_position", "layer": "plate"}).scene
    assert np.abs(corners(apart, frames) - corners(made, frames)).max() < 0.02
    again = done(apart, {"edit": "join_position", "layer": "plate"}).scene
    assert np.abs(corners(again, frames) - corners(made, frames)).max() < 0.03


RECIPES: dict[str, float] = {
    "grow from an edge": 14, "swing in on a corner": 30, "drop in": 24, "settle with bounce": 24, "impact": 10,
    "orbit": 20,
}  # fmt: skip


@cases(80)
@given(seed=SEEDS)
def test_what_lands_leaves_what_comes_after(seed: int) -> None:
    """Recipes and entrances on layers keyed before, at and after the landing: at it and later nothing moves."""
    dice = random.Random(seed)

    def keys(make: Any) -> list[dict[str, Any]]:
        frames = sorted(dice.sample(range(60), dice.randint(0, 4)))
        return [{"frame": f, "value": make(), "ease": dice.choice(EASES[:5])} for f in frames]

    path = keys(lambda: [dice.uniform(0, 640), dice.uniform(0, 360)])
    for key in path if dice.random() < 0.5 else []:
        key |= {"leave": [dice.uniform(-60, 60), 20], "arrive": [-30, dice.uniform(-60, 60)]}
    made = scene(
        layer(
            position={"rest": [320, 180], "keys": path},
            rotation={"rest": 10, "keys": keys(lambda: dice.uniform(-120, 120))},
            scale={"rest": [100, 100], "keys": keys(lambda: [dice.uniform(30, 160), dice.uniform(30, 160)])},
            anchor={"rest": [0.5, 0.5], "keys": keys(lambda: [dice.uniform(0, 1), dice.uniform(0, 1)])},
        )
    )
    landing = dice.randint(32, 40)
    if dice.random() < 0.5:
        ways = {"side": dice.choice(["left", "top", None]), "station": dice.choice(["left", "bottom right", None])}
        ways |= {"angle": dice.choice([None, -90.0]), "transparent": True}
        edit = {"edit": "bring_in", "layers": ["plate"], "frame": landing, "length": 12, **ways}
    else:
        name = dice.choice(list(RECIPES))
        recipe = {"recipe": name} | ({"length": 20} if name == "orbit" else {})
        edit = {"edit": "apply_recipe", "layers": ["plate"], "frame": landing - RECIPES[name], "recipe": recipe}
    after = done(made, edit).scene
    frames = np.arange(landing, 60, 1.0)
    assert np.abs(corners(after, frames) - corners(made, frames)).max() < 0.06, edit


def test_an_endless_spin_stays_mirrored_and_covers_a_box_that_changes() -> None:
    size = {"rest": [900, 500], "keys": [{"frame": 0, "value": [900, 500]}, {"frame": 40, "value": [700, 400]}]}
    ground = layer(content={"kind": "shape", "items": [{"shape": "rectangle", "size": size}]}, scale=[-100, 100])
    ground["anchor"] = {"rest": [0.2, 0.2], "keys": [{"frame": 0, "value": [0, 0]}, {"frame": 30, "value": [1, 1]}]}
    spin = {
        "edit": "apply_recipe",
        "layers": ["plate"],
        "frame": 5,
        "recipe": {"recipe": "endless spin that always covers"},
    }
    after = done(scene(ground), spin).scene
    assert after.layers[0].scale.rest[0] < 0 < after.layers[0].scale.rest[1]
    assert [one for one in check_scene(after, NO_MEDIA) if one.check == "coverage"] == []


def random_scene(dice: random.Random) -> Scene:
    """Texts and grounds somewhere about the frame, still or in motion."""

    def place() -> list[float]:
        return [dice.uniform(-200, 840), dice.uniform(-100, 460)]

    def moving(make: Any, rest: Any) -> dict[str, Any]:
        frames = sorted(dice.sample(range(60), dice.choice([0, 0, 2, 3])))
        keys = [{"frame": f, "value": make(), "ease": dice.choice(EASES[:5])} for f in frames]
        return {"rest": rest, "keys": [*keys, *({**keys[-1], "frame": 59.5} for _ in keys[:1])]}

    def turn() -> float:
        return dice.choice([0.0, dice.uniform(-40, 40)])

    layers = []
    for n in range(dice.randint(1, 3)):
        text = {
            "kind": "text",
            "text": dice.choice(["Low tide", "Nine days on the mudflats"]),
            "size": dice.choice([20, 60]),
        }
        item = {"shape": "rectangle", "size": [dice.choice([640, 700, 300]), 380]}
        content = text if dice.random() < 0.6 else {"kind": "shape", "items": [item]}
        one = layer(
            f"L{n}", content=content, position=moving(place, dice.choice([place(), [320, 180], [-1e6, 0]])),
            rotation=moving(turn, 0), opacity=moving(lambda: dice.choice([0, 100]), 100),
            span={"start": dice.randint(-5, 30), "length": dice.randint(5, 60)},
        )  # fmt: skip
        layers.append(one)
    return scene(*layers)


@cases(60)
@given(seed=SEEDS)
def test_a_mend_clears_its_finding_and_adds_none(seed: int) -> None:
    """Of every check there is, and of those there will be: what is offered can be made, and it mends."""
    made = random_scene(random.Random(seed))
    found = check_scene(made, NO_MEDIA)
    for finding in found:
        if not finding.edits:
            continue
        after = apply_edits(made, list(finding.edits), NO_MEDIA).scene
        left = {one.check for one in check_scene(after, NO_MEDIA) if one.layer == finding.layer}
        assert finding.check not in left
        assert left <= {one.check for one in found if one.layer == finding.layer}


def test_an_entrance_from_a_side_is_no_finding() -> None:
    """The wait outside the frame is not read; a keyed text that rests outside is mended where it rests."""
    text = {"kind": "text", "text": "Low tide", "size": 30}
    made = scene(layer("Title", content=text, position=[320, 100]))
    came = done(made, {"edit": "bring_in", "layers": ["title"], "frame": 30, "side": "left"}).scene
    assert [one for one in check_scene(came, NO_MEDIA) if one.check == "safe area"] == []
    low = scene(layer("Title", content=text, position=[320, 352]))
    came = done(low, {"edit": "bring_in", "layers": ["title"], "frame": 30, "side": "left"}).scene
    (finding,) = [one for one in check_scene(came, NO_MEDIA) if one.check == "safe area"]
    after = apply_edits(came, list(finding.edits), NO_MEDIA).scene
    first, last = after.layers[0].position.keys
    assert first.value == came.layers[0].position.keys[0].value
    assert last.value[1] < 352


@pytest.mark.parametrize("pinned", [True, False])
def test_a_size_drawn_by_a_handle_meets_the_hand(pinned: bool) -> None:
    """With a pinned anchor and with a fixed one the handle stands where it was brought."""
    item = {"shape": "rectangle", "size": [200, 100], "at": [30, -10]}
    anchor = {"rest": [0.2, 0.9] if pinned else [-40, 25], "pinned": pinned}
    made = scene(layer(content={"kind": "shape", "items": [item]}, anchor=anchor, rotation=25, scale=[130, 70]))
    for handle, at, to in (("bottom right", 2, [480, 260]), ("top right", 1, [480, 120])):
        edit = {"edit": "drag_handle", "layer": "plate", "frame": 0, "handle": handle, "to": to, "by": "size"}
        after = done(made, edit).scene
        assert corners(after, [0.0])[0, at] == pytest.approx(to, abs=0.02)


def test_a_layer_named_twice_is_moved_once() -> None:
    made = scene(layer())
    edit = EDIT.validate_python({"edit": "move_layers", "layers": ["plate", "plate"], "frame": 0, "by": [5, 0]})
    assert apply_edits(made, [edit], NO_MEDIA).scene.layers[0].position.rest == (325, 180)


def test_throughout_holds_between_frames_too() -> None:
    """A whole turn in 59 frames, seen at twice the rate: nowhere off by 0.06 px."""
    turn = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 59, "value": 360}]}
    made = scene(layer(rotation=turn))
    edit = {"edit": "move_anchor", "layer": "plate", "frame": 0, "to": {"fraction": [-1, 2]}, "scope": "throughout"}
    after = done(made, edit).scene
    frames = np.arange(0, 59, 0.125)
    assert np.abs(corners(after, frames) - corners(made, frames)).max() < 0.06
