"""Masks, crops, framing and mattes as they are painted, against the arithmetic of coverages."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from tests.conftest import layer, scene
from tests.core.edits_at_random import EDIT
from tests.paint.test_painting import painted

WHITE = {"kind": "shape", "items": [{"shape": "rectangle", "size": [2000, 2000], "fill": "#ffffffff"}]}
MODES = {
    "add": lambda now, mask: now + mask - now * mask,
    "subtract": lambda now, mask: now * (1 - mask),
    "intersect": lambda now, mask: now * mask,
}


def alpha(made: Scene, scale: float = 1) -> np.ndarray:
    return painted(made, scale=scale)[..., 3] / 255


def sheet(**fields: Any) -> Scene:
    """A white layer that covers the scene, its origin in the middle of it."""
    return scene(layer(content=WHITE, anchor={"rest": [0, 0], "pinned": False}, **fields))


@st.composite
def mask(draw: st.DrawFn) -> dict[str, Any]:
    number = st.floats(-200, 200)
    return {
        "shape": {
            "shape": draw(st.sampled_from(["rectangle", "ellipse", "star", "polygon"])),
            "at": [draw(number), draw(st.floats(-120, 120))],
            "size": [draw(st.floats(1, 400)), draw(st.floats(1, 300))],
            "stroke": draw(st.sampled_from([None, None, {"colour": "#ffffff", "width": 30, "part": {"end": 60}}])),
        },
        "mode": draw(st.sampled_from(list(MODES))), "inverted": draw(st.booleans()),
        "feather": draw(st.sampled_from([0, 4, 17.5])), "visible": draw(st.sampled_from([True, True, True, False])),
        "transform": {
            "rotation": draw(number), "scale": [draw(st.floats(30, 200))] * 2,
            "opacity": draw(st.sampled_from([100, 40])),
            "position": [draw(number), draw(number)],
        },
    }  # fmt: skip


@given(masks=st.lists(mask(), min_size=1, max_size=4), turn=st.floats(-90, 90))
def test_masks_act_one_after_another(masks: list[dict[str, Any]], turn: float) -> None:
    """Each by the formula of its mode over the coverage of its outline, which a layer of that shape paints: but for the
    rounding to a 255th of each coverage, of each mask laid in, and of the whole."""
    seen = [one for one in masks if one["visible"]]
    made = sheet(masks=masks, rotation=turn)
    now = np.ones((360, 640)) * (0.0 if seen and seen[0]["mode"] == "add" else 1.0)
    for one in seen:
        strength = one["transform"]["opacity"] / 100
        plain = {**one, "mode": "add", "inverted": False, "transform": {**one["transform"], "opacity": 100}}
        alone = alpha(sheet(masks=[plain], rotation=turn))
        now = MODES[one["mode"]](now, strength * (1 - alone if one["inverted"] else alone))
    assert np.abs(alpha(made) - now).max() <= (len(seen) + 1) / 255


PART = {"start": st.floats(0, 60), "end": st.floats(0, 130), "shift": st.floats(0, 90)}
DASHES = {"dash": st.floats(0, 60), "gap": st.floats(0, 60)}
ENDS = {"cap": st.sampled_from(["butt", "round", "square"]), "join": st.sampled_from(["miter", "round", "bevel"])}
STROKE = st.fixed_dictionaries(
    {"width": st.floats(1, 60), **ENDS},
    optional={"part": st.fixed_dictionaries(PART), "dashes": st.fixed_dictionaries(DASHES)},
)


# Dashes shorter than painters can tell apart once ended an export.
@example(covers={}, kind="star", stroke={"width": 1.0, "dashes": {"dash": 1e-184, "gap": 1e-184}})
@given(
    covers=st.sampled_from([{}, {"fill": "#112233"}]), kind=st.sampled_from(["star", "ellipse", "line"]), stroke=STROKE
)
def test_a_mask_covers_what_its_shape_paints(covers: dict[str, Any], kind: str, stroke: dict[str, Any]) -> None:
    """Its stroke, whole or in part or in dashes, and its inside where it is filled: as in white, but for a rounding."""
    shape = {"shape": kind} | ({"start": [-90, 40], "end": [80, -9]} if kind == "line" else {"size": [180, 140]})
    covers = {} if kind == "line" else covers
    place = {"anchor": {"rest": [0, 0], "pinned": False}, "rotation": 25}
    white = {**shape, **({"fill": "#ffffff"} if covers else {}), "stroke": {**stroke, "colour": "#ffffff"}}
    seen = alpha(scene(layer(content={"kind": "shape", "items": [white]}, **place)))
    masking = {**shape, **covers, "stroke": {**stroke, "colour": "#3366994d"}}
    masked = alpha(scene(layer(content=WHITE, masks=[{"shape": masking}], **place)))
    assert np.abs(masked - seen).max() < 1.01 / 255


def test_a_feather_is_a_blur_of_that_deviation() -> None:
    """The edge of a straight mask is the integral of the normal distribution, whatever the layer's scale."""
    half = {"shape": {"shape": "rectangle", "size": [400, 1200], "at": [-200, 0]}, "feather": 12}
    for scale, sigma in ((100, 12.0), (200, 24.0)):
        row = alpha(sheet(masks=[half], scale=[scale, scale]))[180]
        x = np.arange(640) + 0.5 - 320
        expected = np.array([0.5 * math.erfc(at / sigma / math.sqrt(2)) for at in x])
        near = np.abs(x) < 150
        assert np.abs(row - expected)[near].max() < 0.02


def test_a_crop_and_a_window_cut_to_the_pixel() -> None:
    """Whole pixels on upright layers: what is inside is all there, and nothing else is."""
    crop = {"left": -100, "top": -50, "right": 60, "bottom": 40}
    inside = np.zeros((360, 640))
    inside[130:220, 220:380] = 1
    for framing in (None, {"zoom": 250, "turn": 12}):
        assert (alpha(sheet(crop=crop, framing=framing)) == inside).all()


def test_content_moves_behind_a_mask_whose_pixels_do_not() -> None:
    """The coverage of a masked picture stays to the byte while what lies behind is moved, zoomed and turned."""
    waves = np.indices((400, 700)).sum(axis=0).astype(np.uint8)
    picture = np.dstack([waves, 255 - waves, waves, np.full_like(waves, 255)])
    star = {"shape": {"shape": "star", "size": [200, 200], "at": [350, 200]}, "feather": 3}
    content = {"kind": "picture", "asset": "p"}
    shots = [
        painted(scene(layer(content=content, masks=[star], framing=framing)), picture=picture)
        for framing in (None, {"offset": [30, -20], "zoom": 150, "turn": 9})
    ]
    assert (shots[0][..., 3] == shots[1][..., 3]).all()
    there = shots[0][..., 3] > 200
    assert np.abs(shots[0].astype(int) - shots[1])[there].mean() > 5


@pytest.mark.parametrize("inverted", [False, True])
@pytest.mark.parametrize("by", ["opacity", "brightness"])
def test_a_matte_shows_where_another_layer_is(by: str, inverted: bool) -> None:
    """By its alpha, or by its relative luminance on black (SVG 2: 0.2125 R + 0.7154 G + 0.0721 B), hidden or not."""
    ball = {"shape": "ellipse", "size": [200, 200], "fill": "#e0409080"}
    over = layer("Ball", content={"kind": "shape", "items": [ball]}, visible=False, opacity=70)
    made = scene(over, layer("Sheet", content=WHITE, matte={"layer": "ball", "by": by, "inverted": inverted}))
    shown = painted(scene({**over, "visible": True})) / 255.0
    want = shown[..., 3]
    if by == "brightness":
        want = want * (0.2125 * shown[..., 0] + 0.7154 * shown[..., 1] + 0.0721 * shown[..., 2])
    if inverted:
        want = 1 - want
    assert np.abs(alpha(made) - want).max() <= 2.5 / 255


def test_a_matte_is_what_its_own_masks_leave_and_only_within_its_span() -> None:
    half = {"shape": {"shape": "rectangle", "size": [320, 800], "at": [-160, 0]}}
    over = layer("Over", content=WHITE, visible=False, masks=[half], span={"start": 5, "length": 10},
                 anchor={"rest": [0, 0], "pinned": False})  # fmt: skip
    made = scene(over, layer("Sheet", content=WHITE, matte={"layer": "over"}))
    early, late = (painted(made, frame)[..., 3] for frame in (4, 5))
    assert not early.any()
    assert (late[:, :320] == 255).all()
    assert not late[:, 320:].any()


@pytest.mark.parametrize("side", ["left", "right", "top", "bottom"])
def test_what_comes_in_from_a_side_begins_outside_with_all_that_is_painted(side: str) -> None:
    """A thick stroke is outside, too; of a masked layer only what the mask leaves has to be."""
    stroked = {"shape": "rectangle", "size": [90, 60], "stroke": {"colour": "#ffffff", "width": 40}}
    half = {"shape": {"shape": "rectangle", "size": [30, 30], "at": [9, 4]}, "feather": 5}
    plate = layer("Plate", content={"kind": "shape", "items": [stroked]}, rotation=20)
    coming = {"edit": "bring_in", "layers": ["plate"], "frame": 20, "length": 12, "side": side}
    for fields in ({}, {"masks": [half]}):
        after = apply_edits(scene({**plate, **fields}), [EDIT.validate_python(coming)], NO_MEDIA).scene
        assert not painted(after, 8)[..., 3].any()
        assert painted(after, 20)[..., 3].any()


@pytest.mark.parametrize("side", ["left", "right", "top", "bottom"])
@pytest.mark.parametrize("way", ["bring_in", "take_out"])
def test_a_wipe_shows_part_after_part_and_all_where_it_lands(side: str, way: str) -> None:
    """Nothing of it at the one end, the half by that side midway, all at the other, also where it grows afterwards, is
    masked already, turned, blurred or stroked."""
    size = {"rest": [90, 60], "keys": [{"frame": 20, "value": [90, 60]}, {"frame": 50, "value": [200, 120]}]}
    stroked = {"shape": "rectangle", "size": size, "fill": "#ffffff", "stroke": {"colour": "#ffffff", "width": 40}}
    half = {"shape": {"shape": "rectangle", "size": [80, 400], "at": [9, 4]}, "feather": 5}
    blur = {"effect": "soft-blur", "amount": [12, 12]}
    plate = layer("Plate", content={"kind": "shape", "items": [stroked]})
    edit = {"edit": way, "layers": ["plate"], "frame": 20, "length": 10, "wipe": side, "ease": "linear"}
    for fields in ({}, {"masks": [half]}, {"rotation": 30, "effects": [blur]}):
        made = scene({**plate, **fields})
        after = apply_edits(made, [EDIT.validate_python(edit)], NO_MEDIA).scene
        assert Scene.model_validate_json(after.to_json()) == after
        gone = 10 if way == "bring_in" else 30
        assert not painted(after, gone)[..., 3].any()
        for frame in (20, 55, 0)[: 2 if way == "bring_in" else 1]:
            assert np.array_equal(painted(after, frame), painted(made, frame))
        middle = (gone + 20) // 2
        left, whole = (painted(one, middle)[..., 3].sum(dtype=float) for one in (after, made))
        assert 0.1 < left / whole < 0.9
    seen = painted(apply_edits(scene(plate), [EDIT.validate_python(edit)], NO_MEDIA).scene, middle)[..., 3] > 128
    down, across = (float(places.mean()) for places in np.nonzero(seen))
    off = {"left": 320 - across, "right": across - 320, "top": 180 - down, "bottom": down - 180}
    assert off[side] > 10
    assert abs(off[{"left": "top", "right": "bottom", "top": "left", "bottom": "right"}[side]]) < 2
