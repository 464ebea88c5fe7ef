"""Checks of the painted picture: texts without contrast, flashes, effects that cost much."""

from __future__ import annotations

from typing import Any

import pytest

from mudskipper.core.checks.base import Finding
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.paint.picture_checks import look_at
from tests.conftest import layer, scene


def found(made: Scene, check: str, **more: Any) -> list[Finding]:
    return [one for one in look_at(made, NO_MEDIA, lambda *_: None, **more) if one.check == check]


def sign(fill: str, size: float = 16, **fields: Any) -> dict[str, Any]:
    return layer("Sign", content={"kind": "text", "text": "Low tide", "size": size, "fill": fill}, **fields)


@pytest.mark.parametrize(
    ("fill", "size", "ratio"),
    [("#8a8a8a", 7, 3.45), ("#767676", 7, None), ("#8a8a8a", 40, None), ("#a8a8a8", 40, 2.38), ("#ffffff", 40, 1.0)],
)
def test_a_text_needs_contrast_with_what_lies_behind_it(fill: str, size: float, ratio: float | None) -> None:
    """Known pairs on white: 4.5 for small letters, 3 for large ones; mended by dark letters, and nothing else."""
    made = scene(sign(fill, size), background="#ffffffff")
    seen = found(made, "contrast")
    if ratio is None:
        assert seen == []
        return
    (one,) = seen
    assert one.figure == pytest.approx(ratio, abs=0.02)
    after = apply_edits(made, list(one.edits), NO_MEDIA).scene
    assert found(after, "contrast") == []
    assert after.with_layer(made.layers[0]) == made


def test_contrast_is_measured_where_it_is_worst_and_with_what_lies_below_alone() -> None:
    """A dark plate that goes behind a dark text late; one in front of it does not count. A text that fades in is looked
    at where it is seen, and half transparent letters are as faint as they look."""
    item = {"shape": "rectangle", "size": [640, 360], "fill": "#101414"}
    dark = {"kind": "shape", "items": [item]}
    late = layer("Dark", content=dark, position=[320, 180], span={"start": 40, "length": 20})
    text = sign("#303030", 40)
    (one,) = found(scene(late, text, background="#ffffffff"), "contrast")
    assert one.frame >= 40
    assert found(scene(text, late, background="#ffffffff"), "contrast") == []
    faint = sign("#000000", 40, opacity=20)
    assert found(scene(faint, background="#ffffffff"), "contrast")
    fades = sign("#000000", 40, opacity={"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 20, "value": 100}]})
    assert found(scene(fades, background="#ffffffff"), "contrast") == []
    left = scene(sign("#ffffff", 40, unchecked=["contrast"]), background="#ffffffff")
    assert [one.left for one in found(left, "contrast")] == [True]
    # Nothing but the text itself: there is no ground to measure.
    assert found(scene(sign("#ffffff", 40)), "contrast") == []


@pytest.mark.parametrize(("apart", "size", "flashes"), [(3, 640, True), (12, 640, False), (3, 60, False)])
def test_flashes_are_found_in_the_picture(apart: int, size: int, flashes: bool) -> None:
    """A white plate on black that goes on and off every so many frames, over the whole picture or little of it."""
    item = {"shape": "rectangle", "size": [size, size], "fill": "#ffffff"}
    keys = [{"frame": at, "value": 100 * (at // apart % 2), "ease": "hold"} for at in range(0, 60, apart)]
    plate = layer(
        "Light", content={"kind": "shape", "items": [item]}, position=[320, 180], opacity={"rest": 0, "keys": keys}
    )
    seen = found(scene(plate, background="#000000ff"), "flashes")
    assert bool(seen) == flashes
    if flashes:
        assert seen[0].layer == ""
        assert "WCAG 2.3.1" in seen[0].sentence


def test_effects_are_told_of_where_they_cost_more_than_a_tenth_of_a_second() -> None:
    """By a clock that is given: each look at it is so much later."""
    blurred = layer("Soft", effects=[{"effect": "soft-blur", "name": "Soft blur"}])
    for with_effects, told in ((0.25, 1), (0.12, 0)):
        takes = iter([0.0, with_effects, 1.0, 1.03])
        seen = found(scene(blurred), "costly effects", clock=takes.__next__)
        assert len(seen) == told
    assert "'Soft blur' of 'Soft' costs 220 ms a frame" in found(
        scene(blurred), "costly effects", clock=iter([0.0, 0.25, 1.0, 1.03]).__next__
    )[0].sentence  # fmt: skip
    off = layer("Soft", effects=[{"effect": "soft-blur", "visible": False}])
    assert found(scene(off), "costly effects", clock=iter([]).__next__) == []
