"""Scenes inside scenes: made of layers and taken apart again, what they show when, what is heard, circles."""

from __future__ import annotations

import random
import re
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import Assets, ClipInfo
from mudskipper.core.document.nesting import MOST_DRAWN, MOST_NESTED, Shows, refuse_nesting_around
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.operations import Group
from mudskipper.core.edits import Outcome, apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.resolve.sound.mix import heard, mixed
from mudskipper.paint.painter import Painter
from tests.conftest import cases, layer, scene
from tests.core.test_carrying import moving

EDITS: TypeAdapter[Any] = TypeAdapter(list[AnyEdit])


def done(before: Scene, assets: Assets, *edits: dict[str, Any]) -> Outcome:
    return apply_edits(before, EDITS.validate_python(list(edits)), assets)


def pictures(of: Scene, assets: Assets, frames: Any) -> np.ndarray:
    """Frames (n, height, width, 4), premultiplied over nothing."""
    drawing, painter = draw_list(resolve(of, frames, assets)), Painter(of.width, of.height, lambda *_: None)
    found = []
    for index in range(len(drawing.frames)):
        painter.paint(drawing, index)
        pixels = painter.pixels().astype(np.float64)
        pixels[..., :3] *= pixels[..., 3:] / 255
        found.append(pixels)
    return np.array(found)


def gap(one: tuple[Scene, Assets], other: tuple[Scene, Assets], frames: Any) -> float:
    return float(np.abs(pictures(*one, frames) - pictures(*other, frames)).max())


def inner(**fields: Any) -> Scene:
    """A scene in which a plate moves from edge to edge, one pixel a frame, on a ground of its own."""
    keys = [{"frame": 0, "value": [0, 30]}, {"frame": 100, "value": [100, 30]}]
    item = {"shape": "rectangle", "size": [20, 20], "fill": "#ffffff"}
    mover = layer("Mover", content={"kind": "shape", "items": [item]}, position={"rest": [0, 0], "keys": keys},
                  span={"start": 0, "length": 200})  # fmt: skip
    return scene(mover, id="strip", name="Strip", **{"width": 100, "height": 60, "length": 50, **fields})


def showing(asset: str = "strip", span: tuple[int, int] = (0, 60), **tracks: Any) -> dict[str, Any]:
    content = {"kind": "scene", "asset": asset, **tracks.pop("content", {})}
    start, length = span
    return layer("Shown", content=content, span={"start": start, "length": length}, **tracks)


@pytest.mark.parametrize("background", [False, True])
@pytest.mark.parametrize("blend", ["normal", "multiply"])
@pytest.mark.parametrize("effects", [[], [{"effect": "soft-blur", "amount": [6, 6]}]])
def test_a_frame_is_the_same_picture_whichever_others_are_asked_for(
    background: bool, blend: str, effects: list[dict[str, Any]]
) -> None:
    """A plate that drops in from outside of its scene, and at rest fills it from edge to edge, in a turned scene:
    at every frame as resolved alone, as the still has it, and among all, as the page; but for a rounding or two."""
    drop = {"rest": [50, 30], "keys": [{"frame": 0, "value": [50, -40]}, {"frame": 10, "value": [50, 30]}]}
    item = {"shape": "rectangle", "size": [100, 60], "fill": "#ffffff"}
    plate = layer("Plate", content={"kind": "shape", "items": [item]}, position=drop, blend=blend)
    strip = scene(plate, id="strip", name="Strip", width=100, height=60, length=40, background="#0e3f45ff")
    media = Assets().with_scenes([strip])
    shown = showing(
        content={"background": background}, position=[320, 180], rotation=7, scale=[300, 280], effects=effects
    )
    of = scene(shown, background="#f2b544ff")
    among = pictures(of, media, np.arange(30.0))
    for frame in (0, 5, 9, 10, 11, 29):
        assert np.abs(pictures(of, media, np.array([float(frame)]))[0] - among[frame]).max() <= 2, frame


@cases(24)
@given(
    outer=st.sampled_from([(24000, 1001), (24, 1), (25, 1), (30, 1), (60, 1)]),
    own=st.sampled_from([(24, 1), (25, 1), (30000, 1001), (12, 1), (50, 1)]),
    speed=st.sampled_from([100.0, 50.0, 250.0, -100.0]), start=st.integers(-20, 60), at=st.integers(-10, 10),
    ends=st.sampled_from(["hold", "nothing", "loop"]),
)  # fmt: skip
def test_a_scene_shows_its_own_frames_at_its_own_rate(
    outer: tuple[int, int], own: tuple[int, int], speed: float, start: int, at: int, ends: str
) -> None:
    """Each frame holds as long as its scene says, by exact fractions; beyond its ends it holds, is gone or loops."""
    strip = inner(frame_rate=own)
    time = {"start": start / 24, "speed": speed, "before": ends, "after": ends}
    frames = np.arange(at, at + 60)
    shown = scene(showing(span=(at, 60), content={"time": time}), frame_rate=outer)
    (group,) = draw_list(resolve(shown, frames, Assets(scenes={"strip": strip}))).groups
    assert isinstance(group, Group)
    for index in range(60):
        moment = Fraction(start, 24) + Fraction(index) * outer[1] / outer[0] * Fraction(speed) / 100
        number = moment * own[0] / own[1]
        if ends == "loop":
            number %= 50
        wanted = max(min(number.__floor__(), 49), 0)
        parts = [part for part in group.parts if isinstance(part, Group)]
        if not parts or (ends == "nothing" and not 0 <= number < 50):
            assert all(not part.visible[index if len(part.visible) > 1 else 0, 0] for part in parts)
            continue
        (part,) = parts
        (mover,) = part.parts
        assert isinstance(mover, Group)
        outside = float(group.matrix[index if len(group.matrix) > 1 else 0, 4])
        place = float(mover.matrix[index if len(mover.matrix) > 1 else 0, 4]) - outside
        # A moment that lies on the edge of a frame by a rounding of its start is either.
        assert place == pytest.approx(wanted, abs=1e-3) or abs(number - round(number)) < 1e-6


def blocks(seed: int, count: int) -> Scene:
    """Layers at random: still and moving, carried, hidden, with other spans; of plain and blended colours."""
    dice = random.Random(seed)
    made: list[dict[str, Any]] = []
    for number in range(count):
        item = {"shape": dice.choice(["rectangle", "ellipse", "star"]), "size": [dice.randint(20, 90), 40],
                "fill": f"#{dice.getrandbits(24):06x}{dice.choice(['ff', '90'])}"}  # fmt: skip
        start = dice.choice([0, 0, -5, 12])
        more = {
            "content": {"kind": "shape", "items": [item]}, "opacity": dice.choice([100, 100, 40]),
            "span": {"start": start, "length": dice.choice([60, 30])}, "visible": dice.random() < 0.9,
            "carrier": f"n{dice.randrange(number)}" if number and dice.random() < 0.3 else None,
            "blend": dice.choice(["normal"] * 12 + ["multiply"]),
            "matte": {"layer": f"n{dice.randrange(number)}"} if number and dice.random() < 0.1 else None,
        }  # fmt: skip
        made.append(moving(dice, f"N{number}", even=True, still=dice.random() < 0.5, **more))
    return scene(*made, beats=[{"frame": 5}], id="outer")


@cases(24)
@given(seed=st.integers(0, 2**32), tight=st.booleans(), margin=st.integers(0, 20))
def test_put_into_a_scene_and_taken_apart_nothing_is_seen_to_change(seed: int, tight: bool, margin: int) -> None:
    """To the byte, at every fourth frame; else it is refused, and says which other layer stands in the way."""
    dice = random.Random(seed)
    before = blocks(seed, 6)
    names = [f"n{n}" for n in range(6)]
    first = dice.randrange(6)
    chosen = names[first : first + dice.randint(1, 3)] if dice.random() < 0.7 else dice.sample(names, 2)
    edit = {"edit": "put_into_scene", "layers": chosen, "name": "Strip", "frame": "tight" if tight else "scene",
            "margin": margin, "scene": "strip"}  # fmt: skip
    try:
        outcome = done(before, Assets(), edit)
    except Refused as refusal:
        told = refusal.sentence
    else:
        told = ""
    if told:
        assert re.search("lies between|carried by|shown only|blends with|ever seen", told), told
        return
    (strip,) = outcome.made
    assert read_scene(strip.to_json()) == strip
    assets = Assets(scenes={"strip": strip})
    frames = np.arange(0, 60, 4)
    # What is isolated and cropped is laid over in one go, and may round by one.
    assert gap((before, Assets()), (outcome.scene, assets), frames) <= 2
    (shown,) = [one for one in outcome.scene.layers if one.content.scenes]
    back = done(outcome.scene, assets, {"edit": "take_apart", "layer": shown.id, "anyway": True})
    changed = [notice for notice in back.notices if notice.startswith("Changed by it")]
    if not changed:
        assert gap((before, Assets()), (back.scene, assets), frames) <= 2
        assert len(back.scene.layers) == len(before.layers)
    with pytest.raises(Refused, match="is there already"):
        done(before, assets, edit)


@cases(12)
@given(seed=st.integers(0, 2**32))
def test_nested_and_flat_are_the_same_picture(seed: int) -> None:
    """Scenes three deep, turned, grown, faster and slower, against the same layers carried by empty ones."""
    dice = random.Random(seed)
    scenes: dict[str, Scene] = {}
    for depth in range(3):
        made = [
            moving(dice, f"{depth}{n}", even=True, still=dice.random() < 0.6,
                   content={"kind": "shape", "items": [{"shape": "ellipse", "size": [60, 30], "fill": "#d9482fc0"}]})
            for n in range(2)
        ]  # fmt: skip
        if depth:
            content = {"kind": "scene", "asset": f"s{depth - 1}", "background": dice.random() < 0.5}
            made.insert(1, moving(dice, f"In{depth}", even=True, still=dice.random() < 0.5, content=content))
        # Large enough that nothing is cropped.
        size = {"width": 640, "height": 400} if depth == 2 else {"width": 9_000, "height": 9_000}
        for one in made:
            if depth < 2 and "x" not in one["position"]:
                _shift(one, 4_500)
        scenes[f"s{depth}"] = scene(*made, id=f"s{depth}", name=f"Scene {depth}", **size)
    assets = Assets(scenes=scenes)
    flat = scenes["s2"]
    for _ in range(2):
        (shown,) = [one for one in flat.layers if one.content.scenes]
        flat = done(flat, assets, {"edit": "take_apart", "layer": shown.id, "anyway": True}).scene
    assert not flat.scenes
    assert len(flat.layers) >= 6
    assert gap((scenes["s2"], assets), (flat, assets), np.arange(0, 60, 7)) <= 2


def _shift(one: dict[str, Any], by: float) -> None:
    position = one["position"]
    if isinstance(position, list):
        one["position"] = [n + by for n in position]
        return
    position["rest"] = [n + by for n in position["rest"]]
    for key in position["keys"]:
        key["value"] = [n + by for n in key["value"]]


def test_what_taking_apart_would_change_is_said() -> None:
    strip = inner(background="#204060ff")
    assets = Assets(scenes={"strip": strip})
    shown = scene(
        showing(
            opacity=50,
            blend="multiply",
            content={"time": {"speed": 50.0}},
            crop={"left": 0, "top": 0, "right": 9, "bottom": 9},
        ),
        layer("Reader", matte={"layer": "shown"}),
    )
    with pytest.raises(Refused) as told:
        done(shown, assets, {"edit": "take_apart", "layer": "shown"})
    for words in ("its opacity is lost", "multiply", "crop", "'Reader' has no matte", "own speed", "crops 'Mover'"):
        assert words in told.value.sentence
    anyway = {"edit": "take_apart", "layer": "shown", "anyway": True}
    outcome = done(shown, assets, anyway)
    assert outcome.notices[0].startswith("Changed by it: ")
    assert [one.name for one in outcome.scene.layers] == ["Mover", "Reader"]
    ground = done(
        scene(showing(content={"background": True})), assets, {"edit": "take_apart", "layer": "shown", "anyway": True}
    )
    assert [one.name for one in ground.scene.layers] == ["Background", "Mover"]


def test_its_frame_crops_it_and_its_background_is_shown_or_not() -> None:
    strip = inner(background="#204060ff")
    assets = Assets(scenes={"strip": strip})
    through = pictures(scene(showing()), assets, [5])[0]
    ground = pictures(scene(showing(content={"background": True})), assets, [5])[0]
    left, top = 320 - 50, 180 - 30
    # The plate is at x 5: half of it lies beyond the frame.
    assert through[180, left : left + 15, 0].min() == 255
    assert not through[:, :left].any()
    assert not through[180, left + 16 : left + 100].any()
    assert (ground[top : top + 60, left : left + 100, 3] == 255).all()
    assert ground[..., 3].sum() == 255 * 6_000
    assert (ground[180, left + 20] == (0x20, 0x40, 0x60, 255)).all()


def test_scenes_in_a_circle_are_refused_by_name() -> None:
    shown = scene(showing("b"), id="a", name="Opener")
    other = scene(layer("Plate"), id="b", name="Strip")
    assets = Assets(scenes={"a": shown, "b": other})
    add = {"edit": "add_layer", "content": {"kind": "scene", "asset": "a"}}
    with pytest.raises(Refused, match="'Strip' shows 'Opener', which shows 'Strip'"):
        done(other, assets, add)
    with pytest.raises(Refused, match="'Opener' would show itself"):
        done(shown, assets, add)
    with pytest.raises(Refused, match="This scene is not in this project"):
        done(shown, assets, {"edit": "add_layer", "content": {"kind": "scene", "asset": "gone"}})
    deep = {f"s{n}": scene(showing(f"s{n + 1}"), id=f"s{n}", name=f"S{n}") for n in range(20)}
    deep["s20"] = scene(id="s20")
    with pytest.raises(Refused, match="at most 12 deep"):
        done(scene(id="new"), Assets(scenes=deep), {"edit": "add_layer", "content": {"kind": "scene", "asset": "s0"}})


def test_what_is_heard_of_a_scene_is_its_mix_at_its_place() -> None:
    """Level, fades and mute of the layer that shows it; each sample is that of the inner scene, moved."""
    noise = np.random.default_rng(1).uniform(-0.5, 0.5, (48_000 * 4, 2)).astype(np.float32)
    clips = {"surf": ClipInfo.steady("surf", (320, 180), 100, (25, 1), sound=True)}

    def source(_: str, first: int, count: int) -> np.ndarray:
        out = np.zeros((count, 2), np.float32)
        low, high = max(first, 0), min(first + count, len(noise))
        if low < high:
            out[low - first : high - first] = noise[low:high]
        return out

    surf = layer("Surf", content={"kind": "clip", "asset": "surf"}, span={"start": 10, "length": 40})
    strip = scene(surf, id="strip", frame_rate=(25, 1), length=50)
    assets = Assets(clips=clips, scenes={"strip": strip})
    outer = scene(showing(span=(20, 60), content={"sound": {"level": -6}}), frame_rate=(25, 1), length=90)
    context = Context(outer, assets)
    assert [one.id for one in heard(outer, context)] == ["shown"]
    found = mixed(outer, context, 0, 48_000 * 3, source)
    alone = mixed(strip, Context(strip, assets), 0, 48_000 * 2, source)
    start = 48_000 * 20 // 25
    assert np.abs(found[start : start + len(alone)] - alone * 10 ** (-6 / 20)).max() < 1e-6
    assert not found[:start].any()
    assert not found[start + len(alone) :].any()
    muted = scene(showing(content={"sound": {"muted": True}}))
    assert heard(muted, Context(muted, assets)) == []
    silent = Assets(scenes={"strip": inner()})
    assert heard(outer, Context(outer, silent)) == []


def test_a_change_inside_is_another_picture_and_nothing_else_is_resolved_again() -> None:
    from mudskipper.core.resolve.resolved import ResolveCache

    shown, cache = scene(showing(), layer("Plate")), ResolveCache()
    one = resolve(shown, range(5), Assets(scenes={"strip": inner()}), cache)
    strip = inner(width=300)
    two = resolve(shown, range(5), Assets(scenes={"strip": strip}), cache)
    assert two.layers["shown"].box[0, 2] == 300
    assert two.layers["plate"] is one.layers["plate"]
    again = resolve(shown, range(5), Assets(scenes={"strip": strip}), cache)
    assert again.layers["shown"] is two.layers["shown"]


@given(links=st.lists(st.tuples(st.integers(0, 7), st.integers(0, 7)), max_size=24), changed=st.integers(0, 7))
def test_what_scenes_show_is_bounded_upwards_too(links: list[tuple[int, int]], changed: int) -> None:
    """Held against a walk of every way down from every scene, written from the words."""
    shown: dict[str, list[str]] = {f"s{n}": [] for n in range(8)}
    for outer, inner in links:
        if outer > inner:
            shown[f"s{outer}"] += [f"s{inner}"] * 3
    plain = ((0, 9, ""),) * 4
    found = {name: Shows(name, (*plain, *((0, 9, one) for one in inner))) for name, inner in shown.items()}

    def ways(name: str) -> list[int]:
        return [depth for inner in shown[name] for depth in (1, *(1 + deeper for deeper in ways(inner)))]

    def reaches(name: str) -> bool:
        return name == f"s{changed}" or any(reaches(inner) for inner in set(shown[name]))

    def drawn(name: str) -> int:
        return sum(4 + len(shown[inner]) + drawn(inner) for inner in shown[name])

    touched = [(ways(name), drawn(name)) for name in shown if reaches(name)]
    fits = all(max(ways_down, default=0) <= MOST_NESTED and count <= MOST_DRAWN for ways_down, count in touched)
    if fits:
        refuse_nesting_around(f"s{changed}", found)
        return
    with pytest.raises(Refused, match="layers of the scenes in it"):
        refuse_nesting_around(f"s{changed}", found)


def test_circles_are_found_at_once_however_often_scenes_are_shown() -> None:
    """Forty scenes, four of the next in each: once all ways down were walked."""
    line = {f"s{n}": Shows(f"S{n}", ((0, 9, f"s{n - 1}" if n else ""),) * 4) for n in range(40)}
    closed = {**line, "s0": Shows("S0", ((0, 9, "s39"),))}
    with pytest.raises(Refused, match="'S0' shows 'S39', which shows 'S38'"):
        refuse_nesting_around("s0", closed)
    with pytest.raises(Refused, match="at most 12 deep, and below 'S39'"):
        refuse_nesting_around("s39", {**line, "s39": Shows("S39", ((0, 9, "s38"),))})


def test_shots_that_follow_each_other_are_drawn_one_at_a_time() -> None:
    """Ninety shots of a scene of four hundred layers, side by side in time, are no more than one."""
    strip = Shows("Strip", ((0, 9, ""),) * 400)
    line = Shows("Edit", tuple((n * 10, n * 10 + 10, "strip") for n in range(90)))
    refuse_nesting_around("edit", {"edit": line, "strip": strip})
    over = Shows("Edit", tuple((n * 10, n * 10 + 200, "strip") for n in range(90)))
    assert over.may_be_more_than(line)
    assert not line.may_be_more_than(line)
    with pytest.raises(Refused, match="would draw 8,000 layers of the scenes in it at one frame"):
        refuse_nesting_around("edit", {"edit": over, "strip": strip})
