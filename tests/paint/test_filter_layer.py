"""Filter layers: their effects run on all that lies below, within masks, by their opacity, within their own scene."""

from __future__ import annotations

from typing import Any

import numpy as np

from mudskipper.core.checks.not_showing import unseen
from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import Painter
from tests.conftest import layer, scene

GREY = {"effect": "tones", "contrast": 0, "saturation": 0}
PLATES = [
    layer("Sky", content={"kind": "shape", "items": [{"shape": "rectangle", "size": [640, 200], "fill": "#d24b1e"}]},
          position=[320, 100]),
    layer("Sun", content={"kind": "shape", "items": [{"shape": "ellipse", "size": [120, 120], "fill": "#ffd23f"}]},
          position=[200, 180], opacity=70),
]  # fmt: skip


def filtering(*effects: dict[str, Any], **more: Any) -> dict[str, Any]:
    fixed = {"position": [0, 0], "anchor": {"rest": [0, 0], "pinned": False}}
    return layer("Filter", content={"kind": "filter"}, **fixed, **more) | {"effects": list(effects)}


def seen(made: Scene, media: Assets = NO_MEDIA) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    painter.paint(draw_list(resolve(made, [3.0], media)), 0)
    return painter.pixels().astype(int)


def test_all_that_lies_below_is_filtered_and_nothing_above() -> None:
    above = layer("Above", content={"kind": "text", "text": "Tide", "size": 90, "fill": "#0e6b61"}, position=[450, 250])
    plain = seen(scene(*PLATES, background="#fff8eaff"))
    found = seen(scene(*PLATES, filtering(GREY), above, background="#fff8eaff"))
    light = np.floor(plain[..., :3] @ [0.213, 0.715, 0.072] + 0.5)
    assert np.abs(found[:, :300, :3] - light[:, :300, None]).max() <= 1
    assert (found == [14, 107, 97, 255]).all(axis=2).any(), "what lies above keeps its colour"
    assert (seen(scene(*PLATES, filtering(), background="#fff8eaff")) == plain).all()
    alone = seen(scene(filtering(GREY), background="#d24b1eff"))
    assert np.abs(alone[..., :3] - 101).max() <= 1


def test_masks_opacity_and_a_blend_say_how_much_of_it() -> None:
    plain = seen(scene(*PLATES, background="#fff8eaff"))
    whole = seen(scene(*PLATES, filtering(GREY), background="#fff8eaff"))
    window = {"name": "Window", "shape": {"shape": "rectangle", "size": [200, 200], "at": [200, 180]}}
    masked = seen(scene(*PLATES, filtering(GREY, masks=[window]), background="#fff8eaff"))
    assert (masked[100:260, 110:290] == whole[100:260, 110:290]).all()
    assert (masked[:, 310:] == plain[:, 310:]).all()
    half = seen(scene(*PLATES, filtering(GREY, opacity=50), background="#fff8eaff"))
    assert np.abs(half - (plain + whole) / 2).max() <= 2
    multiplied = seen(scene(*PLATES, filtering(GREY, blend="multiply"), background="#fff8eaff"))
    assert np.abs(multiplied[..., :3] - plain[..., :3] * whole[..., :3] / 255).max() <= 2
    gone = seen(scene(*PLATES, filtering(GREY, span={"start": 20, "length": 5}), background="#fff8eaff"))
    assert (gone == plain).all()


def test_no_blur_lets_the_ground_through_at_the_edges() -> None:
    for effect in ({"effect": "soft-blur", "amount": [40, 40]}, {"effect": "soft-blur", "amount": [90, 90]},
                   {"effect": "zoom-blur"}, {"effect": "wave", "height": 40}):  # fmt: skip
        found = seen(scene(filtering(effect), background="#d24b1eff"))
        assert np.abs(found - [210, 75, 30, 255]).max() <= 2, effect


def test_it_filters_its_own_scene_alone_and_keeps_what_is_see_through() -> None:
    inner = scene(PLATES[1], filtering({"effect": "soft-blur", "amount": [12, 12]}), id="in", name="In")
    media = Assets(scenes={"in": inner})
    ground = layer("Ground", content={"kind": "shape", "items": [{"shape": "rectangle", "size": [40, 360],
                   "fill": "#0e6b61"}]}, position=[320, 180])  # fmt: skip
    shown = layer("Shown", content={"kind": "scene", "asset": "in"}, position=[320, 180], opacity=80)
    found = seen(scene(ground, shown, background="#fff8eaff"), media)
    edge = found[40, 300:304]
    assert (found[40, 299] != found[40, 301]).any(), "the ground outside of the scene stays sharp"
    assert edge.any()
    # As the same blur of the layer itself.
    own = scene({**PLATES[1], "effects": [{"effect": "soft-blur", "amount": [12, 12]}]}, id="in", name="In")
    same = seen(scene(ground, shown, background="#fff8eaff"), Assets(scenes={"in": own}))
    assert np.abs(found - same).max() <= 3


def test_a_filter_without_effects_says_so_and_is_read_again() -> None:
    made = scene(*PLATES, filtering())
    (why,) = [one for one in unseen(made, 3, NO_MEDIA) if one.layer == "filter"]
    assert "has no effects that are on" in why.sentence
    assert read_scene(made.to_json()) == made
