"""Effects as they are painted: against the definition of a blur, on a larger ground, and within their bounds."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from mudskipper.core.checks.coverage import Coverage
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.bounds import painted_bounds
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import Painter
from tests.conftest import cases, layer, scene
from tests.core.edits_at_random import EDIT
from tests.paint.test_painting import painted

ITEM = {"shape": "polygon", "size": [120, 70], "sides": 5, "fill": "#ffffffff", "stroke": {"colour": "#ffffff"}}
STAR = {"kind": "shape", "items": [ITEM]}


def blur(x: Any, y: Any = None, **more: Any) -> dict[str, Any]:
    return {"effect": "soft-blur", "amount": [x, x if y is None else y], **more}


def star(*effects: dict[str, Any], **tracks: Any) -> dict[str, Any]:
    return layer("Star", content=STAR, effects=list(effects), **tracks)


def alpha(made: Scene) -> np.ndarray:
    return painted(made)[..., 3].astype(float)


def on_larger(made: dict[str, Any], by: int = 700) -> np.ndarray:
    """The opacity of a layer in the scene as it is painted on a ground that is larger on every side."""
    carrier = layer("All", content={"kind": "carrier"}, position=[by, by], anchor={"rest": [0, 0], "pinned": False})
    whole = alpha(scene(made | {"carrier": "all"}, carrier, width=640 + 2 * by, height=360 + 2 * by))
    return whole[by : by + 360, by : by + 640]


def by_definition(made: dict[str, Any], amount: tuple[float, float]) -> np.ndarray:
    """What a blur by deviations along the axes of a layer's pixels makes of it: its opacity in the scene, spread by the
    bell curve whose covariance is L · diag(x², y²) · Lᵀ, L being the layer's matrix; by way of its transform."""
    plain = scene(made | {"effects": []}, width=640 + 2 * AROUND, height=360 + 2 * AROUND)
    moved = plain.model_copy(update={"layers": tuple(_moved(one, AROUND) for one in plain.layers)})
    seen = alpha(moved)
    a, b, c, d = Context(moved, NO_MEDIA).one(moved.layers[0], 0).matrix[0, :4]
    linear = np.array([[a, c], [b, d]])
    covariance = linear @ np.diag(np.square(amount)) @ linear.T
    v, u = np.fft.fftfreq(seen.shape[0])[:, None], np.fft.fftfreq(seen.shape[1])[None]
    exponent = covariance[0, 0] * u * u + 2 * covariance[0, 1] * u * v + covariance[1, 1] * v * v
    spread = np.fft.ifft2(np.fft.fft2(seen) * np.exp(-2 * np.pi**2 * exponent)).real
    return np.asarray(spread[AROUND : AROUND + 360, AROUND : AROUND + 640])


def _moved(one: Any, by: float) -> Any:
    x, y = one.position.rest
    return one.model_copy(update={"position": one.position.model_copy(update={"rest": (x + by, y + by)})})


AROUND = 420
"""Pixels around the scene that the definition is computed on, too."""
AMOUNTS = [(8.0, 8.0), (20.0, 0.0), (0.0, 5.0), (1.2, 1.2), (0.6, 11.0), (90.0, 40.0)]
PLACES: list[dict[str, Any]] = [
    {}, {"rotation": 30.0}, {"rotation": 90.0}, {"scale": [-150.0, 80.0]}, {"rotation": -70.0, "scale": [60.0, 220.0]},
    {"position": [4.0, 350.0], "rotation": 12.0}, {"position": [-30.0, 180.0]},
]  # fmt: skip


@pytest.mark.parametrize(
    ("place", "amount"),
    [(place, AMOUNTS[(number + other) % 5]) for number, place in enumerate(PLACES) for other in (0, 2)]
    + [(PLACES[0], AMOUNTS[5]), (PLACES[1], AMOUNTS[5])],
)
def test_a_soft_blur_is_what_its_definition_says(place: dict[str, Any], amount: tuple[float, float]) -> None:
    """Along the layer's own axes however it is turned and stretched, what lies outside of the scene too; but for the
    three boxes that stand for the bell, by which painters blur (Filter Effects 1, 9.16)."""
    made = star(blur(*amount), position=place.get("position", [320.0, 180.0]), rotation=place.get("rotation", 0.0),
                scale=place.get("scale", [100.0, 100.0]))  # fmt: skip
    off = np.abs(alpha(scene(made)) - by_definition(made, amount))
    turned = place.get("rotation", 0.0) % 90 != 0
    # What is turned is drawn from a sheet of its own, bilinear: its corners lose a part of a pixel.
    assert off.max() < (45 if turned else 12), off.max()
    assert np.percentile(off, 99.9) < 11
    assert off.mean() < 0.6


number = st.floats(-250, 250)
AMOUNT = st.tuples(st.floats(0, 60), st.sampled_from([0.0, 1.5, 7.0, 40.0]))


@given(
    amount=AMOUNT, second=AMOUNT, turn=st.sampled_from([0.0, 90.0, 180.0, 33.0, -120.5]),
    scale=st.tuples(st.floats(20, 250), st.sampled_from([-100.0, 40.0, 180.0])),
    at=st.tuples(st.floats(-60, 700), st.floats(-60, 420)), masked=st.booleans(),
)  # fmt: skip
@example(amount=(30.0, 0.0), second=(0.0, 40.0), turn=33.0, scale=(100.0, 180.0), at=(0.0, 0.0), masked=False)
@example(amount=(0.0, 0.0), second=(0.0, 0.0), turn=0.0, scale=(20.0, -100.0), at=(1.0, 0.0), masked=False)
@example(amount=(60.0, 1.5), second=(60.0, 40.0), turn=0.0, scale=(250.0, 180.0), at=(0.0, 0.0), masked=True)
@cases(12)
def test_nothing_is_cut_off_and_all_lies_within_the_bounds(
    amount: tuple[float, float], second: tuple[float, float], turn: float, scale: tuple[float, float],
    at: tuple[float, float], masked: bool,
) -> None:  # fmt: skip
    """The same as on a larger ground, but for what bilinear drawing makes of another grid and what the ground's edge
    makes of an outline that it cuts; and nothing is painted outside of the box that the layer is said to paint."""
    masks = [{"shape": {"shape": "ellipse", "size": [90, 90]}, "feather": 6}] if masked else []
    made = star(blur(*amount), blur(*second), position=at, rotation=turn, scale=scale, masks=masks)
    seen, whole = alpha(scene(made)), on_larger(made)
    off = np.abs(seen - whole)
    straight = turn % 90 == 0 and max(amount + second) * max(map(abs, scale)) / 100 <= 64
    assert off.max() <= (12 if straight else 64)
    assert np.percentile(off, 99.5) <= 4
    of = scene(made)
    left, top, right, bottom = painted_bounds(Context(of, NO_MEDIA).one(of.layers[0], 0), Context(of, NO_MEDIA))[0]
    outside = np.ones_like(seen, dtype=bool)
    low_y, low_x = max(math.floor(top) - 1, 0), max(math.floor(left) - 1, 0)
    outside[low_y : max(math.ceil(bottom) + 1, 0), low_x : max(math.ceil(right) + 1, 0)] = False
    assert seen[outside].max(initial=0) <= 1


@given(turn=st.sampled_from([0.0, 25.0]), amount=st.tuples(st.floats(0, 40), st.floats(0, 40)), at=st.floats(-200, 900))
@cases(10)
def test_in_a_scene_of_its_own_it_looks_the_same(turn: float, amount: tuple[float, float], at: float) -> None:
    """A blurred layer within a blurred scene that is turned: its sheet covers what the outer effect reaches."""
    inner = scene(star(blur(*amount), position=[at, 100], rotation=turn), name="In", width=700, height=200, id="in")
    media = NO_MEDIA.with_scenes([inner])
    shown = layer("Shown", content={"kind": "scene", "asset": "in"}, effects=[blur(12, 3)], rotation=20,
                  position=[320, 180])  # fmt: skip
    pictures = []
    for more in (0, 600):
        carrier = layer(
            "All", content={"kind": "carrier"}, position=[more, more], anchor={"rest": [0, 0], "pinned": False}
        )
        of = scene(shown | {"carrier": "all"}, carrier, width=640 + 2 * more, height=360 + 2 * more)
        drawing = draw_list(resolve(of, np.array([0.0]), media))
        painter = Painter(of.width, of.height, lambda *_: None)
        painter.paint(drawing, 0)
        pictures.append(painter.pixels()[more : more + 360, more : more + 640, 3].astype(float))
    assert np.abs(pictures[0] - pictures[1]).max() <= 6


@pytest.mark.parametrize("effects", [[blur(0)], [blur(9, visible=False)], []])
def test_an_effect_that_does_nothing_changes_no_pixel(effects: list[dict[str, Any]]) -> None:
    plain, same = scene(star(rotation=20, opacity=60)), scene(star(*effects, rotation=20, opacity=60))
    assert (painted(plain) == painted(same)).all()


def test_effects_run_after_the_masks_and_before_the_matte() -> None:
    """A mask's edge is blurred with the layer, the matte's is not."""
    window = {"shape": {"shape": "rectangle", "size": [40, 400]}}
    matte = layer("Hole", content={"kind": "shape", "items": [{"shape": "rectangle", "size": [40, 400],
                                                              "fill": "#ffffff"}]}, visible=False)  # fmt: skip
    filled = {"kind": "shape", "items": [{"shape": "rectangle", "size": [400, 300], "fill": "#ffffff"}]}
    own = {"content": filled, "effects": [blur(10)], "position": [320, 180]}
    masked = alpha(scene(layer(**own, masks=[window])))
    matted = alpha(scene(matte | {"position": [320, 180]}, layer(**own, matte={"layer": "hole", "by": "opacity"})))
    assert 100 < masked[180, 339] < 160
    assert masked[180, 330] < 250
    assert matted[180, 330] == 255
    assert matted[180, 341] == 0


def edited(made: Scene, *edits: dict[str, Any]) -> Scene:
    return apply_edits(made, [EDIT.validate_python(edit) for edit in edits], NO_MEDIA).scene


def test_effects_are_added_moved_switched_and_taken_off() -> None:
    made = edited(scene(star()), *[{"edit": "add_effect", "layer": "star", "effect": "soft-blur"}] * 2)
    first, second = made.layers[0].effects
    assert (first.name, second.name, first.id, second.id) == ("Soft blur", "Soft blur 2", "0", "1")
    keyed = edited(
        made, {"edit": "set_key", "layer": "star", "property": "effects.1.amount", "frame": 8, "value": [3, 4]}
    )
    after = edited(keyed, {"edit": "set_effect", "layer": "star", "effect": "1", "to": 0, "visible": False})
    assert [one.id for one in after.layers[0].effects] == ["1", "0"]
    assert after.layers[0].effects[0].amount.keys[0].value == (3.0, 4.0)
    assert not after.layers[0].effects[0].visible
    assert after.layers[0].effects[1].visible
    assert Scene.model_validate_json(after.to_json()) == after
    gone = edited(after, {"edit": "remove_effect", "layer": "star", "effect": "1"})
    assert [one.name for one in gone.layers[0].effects] == ["Soft blur"]


def test_a_blur_that_wanders_goes_on_as_it_does_wherever_it_stands_among_effects() -> None:
    wandering = blur(9) | {"amount": {"rest": [9, 9], "formula": "base + wander(2, 6)"}}
    made = scene(star(blur(1), wandering))
    was = Context(made, NO_MEDIA).resolve(made.layers, np.arange(60.0))[0].values["effects.1.amount"]
    for edit in ({"edit": "set_effect", "effect": "1", "to": 0}, {"edit": "remove_effect", "effect": "0"}):
        after = edited(made, edit | {"layer": "star"})
        now = Context(after, NO_MEDIA).resolve(after.layers, np.arange(60.0))[0].values["effects.0.amount"]
        assert (now == was).all()


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        ({"edit": "add_effect", "layer": "star", "effect": "sparkle"}, "There is two-tone"),
        ({"edit": "set_effect", "layer": "star", "effect": "7", "to": 1}, "taken off in another window"),
        ({"edit": "remove_effect", "layer": "star", "effect": "7"}, "taken off in another window"),
        ({"edit": "add_effect", "layer": "all", "effect": "soft-blur"}, "Nothing of 'All' is painted"),
        ({"edit": "set_property", "layer": "star", "property": "effects.0.amount", "frame": 0, "value": [2e6, 1]}, ""),
    ],
)
def test_what_cannot_be_done_to_effects_is_said(edit: dict[str, Any], words: str) -> None:
    made = scene(star(blur(1)), layer("All", content={"kind": "carrier"}))
    if words:
        with pytest.raises(Refused) as refused:
            edited(made, edit)
        assert words in str(refused.value)
    else:
        assert edited(made, edit).layers[0].effects[0].amount.rest == (1000.0, 1.0)


GROUND = {"kind": "shape", "items": [{"shape": "rectangle", "size": [640, 360], "fill": "#ffffff"}]}


WINDOW = {"crop": {"left": -320, "top": -180, "right": 320, "bottom": 180}, "framing": {"zoom": 150.0}}


@pytest.mark.parametrize("more", [{}, WINDOW])
def test_a_blurred_ground_covers_only_within_its_edges(more: dict[str, Any]) -> None:
    """The check finds that it does not, behind a window neither, and what it offers covers, as it is painted."""
    covers = layer("Ground", content=GROUND, position=[320, 180], **more)
    plain, soft = scene(covers), scene(covers | {"effects": [blur(8)]})
    frames = np.arange(float(plain.length))

    def finding(of: Scene) -> Any:
        return Coverage().find(of, resolve(of, frames, NO_MEDIA).layers["ground"])

    assert finding(plain) is None
    assert alpha(soft).min() < 200
    found = finding(soft)
    assert found is not None
    mended = apply_edits(soft, list(found.edits), NO_MEDIA).scene
    assert alpha(mended).min() == 255
    assert finding(mended) is None


def test_a_blurred_scene_ends_at_the_frame_of_the_scene_that_shows_it() -> None:
    """What a blur carries over the frame of an inner scene is cropped there, as any other picture is."""
    size = {"width": 200, "height": 100}
    white = layer("White", content=GROUND, position=[100, 50])
    inner = scene(white, name="In", id="in", **size)
    soft = layer("Soft", content={"kind": "scene", "asset": "in"}, position=[100, 50], effects=[blur(10)])
    media = NO_MEDIA.with_scenes([inner, scene(soft, name="Mid", id="mid", **size)])
    shown = scene(layer("Shown", content={"kind": "scene", "asset": "mid"}, position=[320, 180]))
    painter = Painter(640, 360, lambda *_: None)
    painter.paint(draw_list(resolve(shown, np.array([0.0]), media)), 0)
    seen = painter.pixels()[..., 3]
    assert 100 < seen[180, 221] < 180
    assert seen[180, 219] == 0
    assert seen[180, 320] == 255


@pytest.mark.parametrize("scale", [1e5, 1e4, -1e5])
def test_a_blur_of_any_width_ends_no_picture(scale: float) -> None:
    """Carried by what is carried, a thousand times each: the scene is less than a point of the blur."""
    origin = {"rest": [0, 0], "pinned": False}
    carriers = [layer(name, content={"kind": "carrier"}, scale=[scale, scale], anchor=origin) for name in "AB"]
    made = star(blur(1000), scale=[scale, scale], rotation=20, carrier="b")
    assert painted(scene(carriers[0], carriers[1] | {"carrier": "a"}, made)).shape == (360, 640, 4)
