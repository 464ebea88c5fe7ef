"""Recipes that move on by formulas, several layers as one, layers across a cut, clips in time; and motions that a
project keeps. Each as its sentence says, against closed forms and painted pictures; what it does not name rests."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from mudskipper.core.contents.assets import Assets, ClipInfo
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.ground.errors import Refused
from mudskipper.core.recipes.cuts import CUTS
from mudskipper.core.recipes.kept_motion import motion_of
from mudskipper.core.resolve.bounds import bounds
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.corners import corners
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.layers import ResolvedLayer
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import Painter
from tests.conftest import layer, scene
from tests.core.edits_at_random import EDIT

MEDIA = Assets(clips={"film": ClipInfo.steady("film", (640, 360), 300, (30, 1), sound=True)})


def made(before: Scene, recipe: dict[str, Any], *layers: str, frame: float = 10) -> Scene:
    edit = {"edit": "apply_recipe", "layers": list(layers or ("plate",)), "recipe": recipe, "frame": frame}
    found = apply_edits(before, [EDIT.validate_python(edit)], MEDIA).scene
    assert read_scene(found.to_json(), "made.json") == found
    return found


def at(found: Scene, name: str, frames: Any) -> ResolvedLayer:
    return Context(found, MEDIA).resolve([found.layer(name)], frames)[0]


def test_swaying_breathing_and_shaking_lie_on_top_of_what_is_keyed() -> None:
    keys = [{"frame": 0, "value": 0}, {"frame": 59, "value": 59}]
    before = scene(layer("Plate", rotation={"rest": 0, "keys": keys}), length=120)
    frames = np.arange(0, 60.0)
    since = np.maximum(frames - 10, 0)
    swayed = at(made(before, {"recipe": "sway", "angle": 5.0, "period": 1.0}), "plate", frames)
    wanted = frames + 5 * np.sin(math.tau * since / 30)
    assert swayed.values["rotation"][:, 0] == pytest.approx(wanted, abs=1e-9)
    breathed = at(made(before, {"recipe": "breathe", "grow": 10.0, "period": 2.0}), "plate", frames)
    size = 100 * (1 + 0.1 * (1 - np.cos(math.tau * since / 60)) / 2)
    assert breathed.values["scale"][:, 0] == pytest.approx(size, abs=1e-9)
    shaken = made(before, {"recipe": "shake", "reach": 20.0, "length": 30})
    away = at(shaken, "plate", frames).values["position"] - [320, 180]
    assert np.abs(away[:10]).max() == 0
    assert np.abs(away[40:]).max() == 0
    assert 3 < np.abs(away[10:20]).max() <= 20
    with pytest.raises(Refused, match="has a formula already"):
        made(shaken, {"recipe": "shake"})


def test_a_pop_a_drawn_line_and_a_push_in_on_a_place() -> None:
    popped = at(made(scene(layer("Plate", scale=[80, 50])), {"recipe": "pop", "over": 20.0, "length": 20}), "plate",
                [10.0, 22.0, 30.0, 50.0])  # fmt: skip
    assert popped.values["scale"] == pytest.approx(np.array([[0, 0], [96, 60], [80, 50], [80, 50]]))
    line = {"shape": "line", "start": [-90, 0], "end": [90, 0], "stroke": {"colour": "#0e3f45", "width": 6}}
    lined = scene(layer("Plate", content={"kind": "shape", "items": [line]}))
    drawn = at(made(lined, {"recipe": "draw the line", "length": 20, "ease": "linear"}), "plate", [10.0, 20.0, 30.0])
    assert drawn.values["content.items.0.stroke.part.end"][:, 0] == pytest.approx([0, 50, 100])
    with pytest.raises(Refused, match="no line that could be drawn"):
        made(scene(layer("Plate")), {"recipe": "draw the line"})
    for carried in ({}, {"carrier": "raft"}):
        raft = layer("Raft", content={"kind": "carrier"}, rotation=30, scale=[140, 140], position=[200, 120])
        before = scene(raft, layer("Plate", rotation=20, position=[250, 90], **carried))
        pushed = made(before, {"recipe": "push in on a place", "place": [150.0, 260.0], "zoom": 250.0, "length": 20})
        first, last = (at(pushed, "plate", [frame]) for frame in (10.0, 30.0))
        # What lay at the place lies in the middle, and everything is so many times as far from it.
        moved = (corners(first) - [150, 260]) * 2.5 + [320, 180]
        assert corners(last) == pytest.approx(moved, abs=1e-6)
        assert corners(at(pushed, "plate", [60.0])) == pytest.approx(moved, abs=1e-6)


def test_two_swap_places_and_many_go_round() -> None:
    keyed = {"rest": [0, 0], "keys": [{"frame": 0, "value": [100, 100]}, {"frame": 10, "value": [120, 80]}]}
    before = scene(layer("Plate", position=keyed), layer("Flag", position=[500, 300]), layer("Buoy"))
    swapped = made(before, {"recipe": "swap places", "length": 20}, "plate", "flag")
    assert at(swapped, "plate", [30.0]).place == pytest.approx(np.array([[500, 300]]))
    assert at(swapped, "flag", [30.0]).place == pytest.approx(np.array([[120, 80]]))
    assert at(swapped, "plate", [5.0]).place == pytest.approx(at(before, "plate", [5.0]).place)
    middle = [at(swapped, name, [20.0]).place[0] for name in ("plate", "flag")]
    assert np.hypot(*(middle[0] - middle[1])) == pytest.approx(2 * 0.3 * math.hypot(380, 220), rel=1e-6)
    for names, told in ((("plate",), "and 1 was given"), (("plate", "flag", "buoy"), "Two layers swap places, and 3")):
        with pytest.raises(Refused, match=told):
            made(before, {"recipe": "swap places"}, *names)
    three = ("plate", "flag", "buoy")
    with pytest.raises(Refused, match="The position of 'Plate' has a formula already"):
        made(made(before, {"recipe": "shake"}, "plate"), {"recipe": "carousel"}, *three)
    round_ = made(before, {"recipe": "carousel", "period": 2.0, "far": 50.0}, *three)
    for frame in (10.0, 25.0, 51.5):
        for index, name in enumerate(three):
            angle = math.tau * (index / 3 + (frame - 10) / 60)
            one = at(round_, name, [frame])
            place = (320 + 192 * math.sin(angle), 180 + 25.2 * math.cos(angle))
            assert one.place[0] == pytest.approx(place, abs=1e-3)
            assert one.values["scale"][0, 0] == pytest.approx(100 * (0.75 + 0.25 * math.cos(angle)), abs=1e-3)


def halves(above: bool, **fields: Any) -> Scene:
    """A red picture that gives way to a blue one at frame 30, each as large as the scene; which of them lies above."""

    def ground(name: str, fill: str, start: int) -> dict[str, Any]:
        item = {"shape": "rectangle", "size": [640, 360], "fill": fill}
        content = {"kind": "shape", "items": [item]}
        return layer(name, content=content, position=[320, 180], span={"start": start, "length": 30})

    both = [ground("Red", "#ff0000", 0), ground("Blue", "#0000ff", 30)]
    return scene(*(both if above else both[::-1]), background="#000000ff", **fields)


def picture(found: Scene, frame: int) -> np.ndarray:
    painter = Painter(found.width, found.height, lambda *_: None)
    painter.paint(draw_list(resolve(found, [frame], MEDIA)), 0)
    return painter.pixels()[..., :3].astype(int)


@pytest.mark.parametrize("above", [True, False])
@pytest.mark.parametrize("recipe", [kind.model_fields["recipe"].default for kind in CUTS])
def test_a_cut_is_crossed_from_one_picture_to_the_other(recipe: str, above: bool) -> None:
    """Before it lasts the one, after it the other, to the byte; in the middle something of its own, and never the bare
    ground, but where it dips into it. Whichever of both is named first."""
    before = halves(above)
    names = ("red", "blue") if above else ("blue", "red")
    found = made(before, {"recipe": recipe, "length": 16}, *names)
    for frame in (0, 21, 22, 38, 39, 59):
        wanted = [255, 0, 0] if frame <= 22 else [0, 0, 255]
        assert (picture(found, frame) == wanted).all(), frame
    middle = picture(found, 30)
    alike = [(np.abs(middle - colour).sum(axis=2) < 3).mean() for colour in ([255, 0, 0], [0, 0, 255])]
    if recipe == "dip to a colour":
        assert (middle == 0).all()
        assert found.layer("red") == before.layer("red")
        assert len(found.layers) == 3
    elif recipe in ("zoom through", "spin through"):
        assert (middle.sum(axis=2) >= 250).all(), "the ground is nowhere bare"
        assert max(alike) < 1
    elif recipe == "cross-fade":
        assert np.abs(middle - [128, 0, 128]).max() <= 3
    elif recipe == "whip":
        assert (middle[:, 310:330].min(axis=(0, 1)) != [255, 0, 0]).any()
    else:
        assert alike == pytest.approx([0.5, 0.5], abs=0.01)
    if recipe != "whip":
        every = [picture(found, frame) for frame in range(23, 38, 3)]
        # But for the line along which two edges meet between pixels.
        assert recipe == "dip to a colour" or all((one.sum(axis=2) < 240).mean() < 0.004 for one in every)
    edit = {"recipe": recipe, "length": 80}
    with pytest.raises(Refused, match="longer than"):
        made(before, edit, *names)
    with pytest.raises(Refused, match="joins two layers"):
        made(scene(layer("Plate"), layer("Flag")), {"recipe": recipe}, "plate", "flag")


def test_a_cut_goes_to_the_nearest_beat_and_sounds_fade_along() -> None:
    def film(name: str, start: int) -> dict[str, Any]:
        content = {"kind": "clip", "asset": "film", "time": {"start": start / 30}}
        return layer(name, content=content, position=[320, 180], span={"start": start, "length": 30})

    beats = [{"frame": 12}, {"frame": 33}]
    before = scene(film("One", 0), film("Two", 30), beats=beats)
    found = made(before, {"recipe": "cross-fade", "length": 10, "on_beat": "nearest beat"}, "one", "two")
    one, two = found.layer("one"), found.layer("two")
    assert (one.span.end, two.span.start, two.span.end) == (38, 28, 60)
    sounds: list[Any] = [one.content, two.content]
    assert (sounds[0].sound.fade_out, sounds[1].sound.fade_in) == pytest.approx((1 / 3, 1 / 3), abs=1e-3)
    # The clip shows at each frame what it did: its head was there, before its span.
    for name in ("one", "two"):
        for frame in (29.0, 31.0, 37.0):
            content = found.layer(name).content
            around = Context(found, MEDIA).around(found.layer(name), np.array([frame]))
            assert content.source_time is not None
            assert content.source_time.seconds(around.local, 30.0)[0] == pytest.approx(frame / 30)
    silent = made(before, {"recipe": "cross-fade", "sound": "as it is"}, "one", "two")
    assert silent.layer("one").content.sound_of(MEDIA) == before.layer("one").content.sound_of(MEDIA)


def test_a_speed_ramp_runs_at_the_speeds_that_it_names() -> None:
    clip = layer("Plate", content={"kind": "clip", "asset": "film", "time": {"start": 1.0}}, position=[320, 180])
    recipe = {"recipe": "speed ramp", "speed": 25.0, "ramp": 8, "hold": 12}
    found = made(scene(clip | {"span": {"start": 5, "length": 55}}), recipe, frame=15)
    seconds = at(found, "plate", np.arange(5, 60, 0.25)).values["content.time.keyed"][:, 0]
    assert seconds[0] == 1.0
    frames = np.arange(5, 60, 0.25)
    speed = np.interp(frames[:-1] + 0.125, [0, 15, 23, 35, 43, 60], [1, 1, 0.25, 0.25, 1, 1])
    assert np.diff(seconds) * 30 / 0.25 == pytest.approx(speed, abs=2e-3)
    for wrong, told in ((scene(layer("Plate")), "no source"), (found, "keyed or frozen already")):
        with pytest.raises(Refused, match=told):
            made(wrong, recipe, frame=15)


def test_a_kept_motion_lands_on_other_layers_as_it_did_on_the_first() -> None:
    """On the layer it was kept of the very motion; on one twice as large ways twice as long, or as long for the scene;
    with its handles, easings and what it did to scale, rotation and opacity."""
    path = [{"frame": 5, "value": [200, 100], "ease": "ease-in", "leave": [20, -30]},
            {"frame": 25, "value": [320, 180], "arrive": [-10, -40]}]  # fmt: skip
    grows = [{"frame": 5, "value": [50, 20], "ease": "ease-out"}, {"frame": 15, "value": [110, 110]},
             {"frame": 25, "value": [100, 100]}]  # fmt: skip
    fades = [{"frame": 5, "value": 0}, {"frame": 12, "value": 100}]
    turns = [{"frame": 5, "value": -30, "ease": {"overshoot": 12.0}}, {"frame": 25, "value": 10}]
    tracks = {"position": {"rest": [0, 0], "keys": path}, "scale": {"rest": [100, 100], "keys": grows},
              "opacity": {"rest": 100, "keys": fades}, "rotation": {"rest": 0, "keys": turns}}  # fmt: skip
    source = scene(layer("Plate", **tracks))
    kept = motion_of(source.layer("plate"), source, Context(source, MEDIA), "Arrive")
    assert (kept.by, kept.length) == ("its own size", 20)
    recipe = kept.model_dump(mode="json")
    bare = scene(layer("Plate", rotation=10))
    again = made(bare, recipe, frame=5)
    frames = np.arange(5, 60, 0.5)
    assert corners(at(again, "plate", frames)) == pytest.approx(corners(at(source, "plate", frames)), abs=1e-6)
    assert at(again, "plate", frames).opacity == pytest.approx(at(source, "plate", frames).opacity, abs=1e-9)
    twice = scene(layer("Plate", rotation=10, scale=[200, 200]))
    large = at(made(twice, recipe, frame=5), "plate", frames)
    gap = large.place - [320, 180]
    assert gap == pytest.approx(2 * (at(source, "plate", frames).place - [320, 180]), abs=1e-6)
    assert large.values["scale"] == pytest.approx(2 * at(source, "plate", frames).values["scale"], abs=1e-6)
    # Kept by the scene where it comes from outside, and as far across another one.
    inward = [{"frame": 0, "value": [-200, 180]}, {"frame": 20, "value": [320, 180]}]
    outside = scene(layer("Plate", position={"rest": [0, 0], "keys": inward}))
    comes = motion_of(outside.layer("plate"), outside, Context(outside, MEDIA), "Come in")
    assert comes.by == "the scene"
    wide = scene(layer("Plate", position=[640, 360], scale=[30, 30]), width=1280, height=720)
    first = at(made(wide, comes.model_dump(mode="json"), frame=5), "plate", [5.0])
    assert first.place[0] == pytest.approx((640 - 1040, 360))
    assert bounds(first)[0, 2] < 0
    with pytest.raises(Refused, match="no motion of two keys"):
        motion_of(bare.layer("plate"), bare, Context(bare, MEDIA), "None")


def test_an_impact_strikes_at_its_moments_and_covers_while_it_turns() -> None:
    item = {"shape": "rectangle", "size": [640, 360], "fill": "#224466"}
    ground = scene(layer("Plate", content={"kind": "shape", "items": [item]}))
    recipe = {"recipe": "impact", "draw_back": 3, "strike": 4, "rebound": 5, "rest": 6, "angle": 10.0, "slide": 8.0,
              "enlarge": 0.0}  # fmt: skip
    found = at(made(ground, recipe), "plate", [10.0, 13.0, 17.0, 22.0, 28.0])
    assert found.values["rotation"][:, 0] == pytest.approx([0, -2.5, 10, -4, 0])
    assert found.values["position"][:, 0] == pytest.approx([320, 318, 328, 316.8, 320])
    covered = made(ground, recipe | {"covers": "while it turns", "slide": 0.0})
    every = at(covered, "plate", np.arange(10, 29, 0.5))
    assert found.values["scale"].max() == 100
    inside = np.array([[1.0, 1.0], [639.0, 1.0], [1.0, 359.0], [639.0, 359.0]])
    for index, matrix in enumerate(np.broadcast_to(every.matrix, (38, 6))):
        a, b, c, d, e, f = matrix
        back = np.linalg.inv(np.array([[a, c], [b, d]])) @ (inside - [e, f]).T
        if index % 2 == 0 and np.arange(10, 29, 0.5)[index] in (10, 13, 17, 22, 28):
            assert np.abs(back[0]).max() <= 320.5
            assert np.abs(back[1]).max() <= 180.5
    sizes = at(covered, "plate", [10.0, 17.0, 28.0]).values["scale"][:, 0]
    assert sizes[[0, 2]] == pytest.approx([100, 100])
    # Just enough: the factor at which a box of 16 : 9 covers itself turned by 10°.
    turn = math.radians(10)
    assert sizes[1] == pytest.approx(100 * (math.cos(turn) + 640 / 360 * math.sin(turn)), rel=1e-3)
