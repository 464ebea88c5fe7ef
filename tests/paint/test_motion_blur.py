"""Motion blur: what moves is averaged in linear light over the time that the shutter is open, the same everywhere."""

from __future__ import annotations

import random
from typing import Any

import numpy as np

from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.document.scene import MotionBlur, Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.resolve.shutter import exposed
from mudskipper.core.tracks.colour import to_linear, to_srgb
from mudskipper.export.frames import frames_of
from mudskipper.media.files import MediaFiles
from mudskipper.paint.exposure import paint_exposed
from mudskipper.paint.painter import Painter
from tests.conftest import SEARCHING, layer, scene
from tests.core.documents_at_random import Documents
from tests.core.edits_at_random import EDIT


def seen(made: Scene, frame: float, media: Any = NO_MEDIA) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    paint_exposed(painter, exposed(made, frame, media))
    return painter.pixels()


def plain(made: Scene, frame: float, media: Any = NO_MEDIA) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    painter.paint(draw_list(resolve(made, [frame], media)), 0)
    return painter.pixels()


def blurred(made: Scene, **numbers: Any) -> Scene:
    return made.model_copy(update={"motion_blur": MotionBlur(**numbers)})


def bar(speed: float, **more: Any) -> Scene:
    """A white bar of 20 px on black that moves by so many pixels a frame, its middle at 100 at frame 5."""
    item = {"shape": "rectangle", "size": [20, 400], "fill": "#ffffff"}
    keys = [{"frame": frame, "value": [100 + speed * (frame - 5), 180]} for frame in (0, 40)]
    bars = layer("Bar", content={"kind": "shape", "items": [item]}, position={"rest": [0, 0], "keys": keys}, **more)
    return scene(bars, background="#000000ff")


def test_a_bar_that_moves_is_as_light_as_it_was_there_for_so_long() -> None:
    """Against the closed form, in linear light: the share of the time for which a pixel is covered."""
    for speed, shutter, phase in ((24, 180, -90), (40, 360, 0), (9, 90, 45)):
        found = seen(blurred(bar(speed), shutter=shutter, phase=phase, samples=64), 5)[180, :, 0]
        begin, long = 100 + speed * phase / 360, speed * shutter / 360
        fine = np.arange(0, 640, 0.05) + 0.025
        # Covered from when its right edge comes until its left one goes.
        share = np.clip(np.minimum(fine - begin + 10, begin + long + 10 - fine), 0, min(long, 20)) / long
        light = share.reshape(640, 20).mean(axis=1)
        wanted = to_srgb(np.clip(light, 0, 1)) * 255
        # Edges of each sample are mixed as they are stored, as all edges are.
        assert np.abs(to_linear(found / 255.0) - light).max() <= 0.12
        assert np.abs(found - wanted).mean() <= 1.5


def test_what_rests_is_untouched_and_a_layer_may_stay_sharp() -> None:
    still = layer("Still", content={"kind": "text", "text": "Tide", "size": 90, "fill": "#d24b1e"}, position=[400, 180])
    made = bar(20)
    with_text = made.model_copy(update={"layers": (*made.layers, *scene(still).layers)})
    found, without = seen(blurred(with_text), 5), plain(with_text, 5)
    assert (found[:, 250:] == without[:, 250:]).all()
    assert (found[:, :250] != without[:, :250]).any()
    sharp = blurred(with_text.with_layer(with_text.layers[0].model_copy(update={"motion_blur": False})))
    assert (seen(sharp, 5) == without).all()
    assert (seen(blurred(scene(still)), 3) == plain(scene(still), 3)).all()
    # Where it begins it is there for the whole of the shutter's time.
    late = bar(20, span={"start": 5, "length": 20})
    first = seen(blurred(late), 5)[180, :, 0]
    assert (first[:9] == 255).all()
    assert 0 < first[12] < 255


def test_a_scene_within_is_blurred_as_its_layers_were() -> None:
    """Layers put into a scene of their own, cut there, are the same smear as before; also slower, and kept sharp."""
    gone = layer("Gone", id="gone", span={"start": 0, "length": 5}, position=[400, 90])
    made = bar(30, span={"start": 5, "length": 30})
    made = blurred(made.model_copy(update={"layers": (*made.layers, *scene(gone).layers)}), samples=24)
    inner = made.model_copy(update={"id": "inner", "motion_blur": None})
    media = Assets(scenes={"inner": inner})

    def outer(**time: Any) -> Scene:
        shown = layer(
            "Shown", id="shown", content={"kind": "scene", "asset": "inner", "background": True, "time": time}
        )
        shown |= {"anchor": {"rest": [0, 0], "pinned": False}, "position": [0, 0]}
        return blurred(scene(shown, background="#000000ff"), samples=24)

    for frame in (4, 5, 9):
        gap = np.abs(seen(outer(), frame, media).astype(int) - seen(made, frame).astype(int))
        assert gap.max() <= 2, frame
    # At half the speed half as far: the shutter is open for half of its frame.
    half = made.model_copy(update={"motion_blur": MotionBlur(shutter=90, phase=-45, samples=24)})
    gap = np.abs(seen(outer(speed=50.0), 18, media).astype(int) - seen(half, 9).astype(int))
    assert gap.max() <= 2
    # Frozen, or kept sharp in it, it rests.
    assert (seen(outer(freeze=0.0), 9, media) == plain(outer(freeze=0.0), 9, media)).all()
    sharp = inner.with_layer(inner.layers[0].model_copy(update={"motion_blur": False}))
    still = Assets(scenes={"inner": sharp})
    assert (seen(outer(), 9, still) == plain(outer(), 9, still)).all()


def test_as_many_samples_as_it_takes() -> None:
    """At the default within 1 of 255 on average of 64 samples, on random scenes with formulas, carriers, effects; and
    what is exported is what is seen."""
    worst = 0.0
    for seed in (3, 11, 27) if SEARCHING else (11,):
        documents = Documents(seed)
        made, media = documents.scene(), documents.media()
        for frame in random.Random(seed).sample(range(8, 50), 1):
            default, fine = seen(blurred(made), frame, media), seen(blurred(made, samples=64), frame, media)
            worst = max(worst, np.abs(default.astype(int) - fine.astype(int)).mean())
    assert worst <= 1
    made = blurred(bar(30))
    for frame, painter in zip((4, 5), frames_of(made, NO_MEDIA, MediaFiles(), [4, 5]), strict=True):
        assert (painter.pixels() == seen(made, frame)).all()


def test_motion_blur_is_switched_and_its_numbers_kept() -> None:
    def edited(before: Scene, *edits: dict[str, Any]) -> Scene:
        return apply_edits(before, [EDIT.validate_python(one) for one in edits], NO_MEDIA).scene

    on = edited(bar(9), {"edit": "set_motion_blur"}, {"edit": "set_motion_blur", "shutter": 270})
    assert on.motion_blur == MotionBlur(shutter=270.0)
    off = edited(on, {"edit": "blur_layers", "layers": ["bar"], "on": False})
    assert not off.layers[0].motion_blur
    assert Scene.model_validate_json(off.to_json()) == off
    assert edited(off, {"edit": "set_motion_blur", "on": False}).motion_blur is None
