"""Named colours and styles of a project: what follows them changes with them, and what was changed by hand does not."""

from __future__ import annotations

from typing import Any

import pytest

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.ground.errors import Refused
from mudskipper.core.tracks.colour import ColourTrack, contrast
from tests.conftest import layer, scene
from tests.core.edits_at_random import EDIT

CORAL, SAND = "#d9482fff", "#e8d9b5ff"


def made(before: Scene, *edits: dict[str, Any]) -> Scene:
    found = apply_edits(before, [EDIT.validate_python(one) for one in edits], NO_MEDIA).scene
    assert read_scene(found.to_json(), "made.json") == found
    return found


def colours(found: Scene) -> dict[str, tuple[str, list[str]]]:
    tracks = {f"{one.id}.{path}": track for one in found.layers for path, track in one.tracks.items()}
    return {
        path: (track.rest, [key.value for key in track.keys])
        for path, track in tracks.items()
        if isinstance(track, ColourTrack)
    }


def test_a_colour_changes_wherever_it_is_followed_and_nowhere_else() -> None:
    """Fills, strokes, stops and keys; of layers that are locked as well. Of the same colour what does not follow stays,
    and so does what was changed by hand since."""
    stops = [{"colour": {"rest": CORAL, "named": "coral"}, "at": 0}, {"colour": CORAL, "at": 100}]
    gradient = {"gradient": "linear", "start": [0, 0], "end": [90, 0], "stops": stops}
    shape = {"shape": "rectangle", "size": [90, 60]}
    keyed = {"rest": SAND, "keys": [{"frame": 0, "value": CORAL}, {"frame": 9, "value": SAND}], "named": "coral"}
    items = [
        shape | {"fill": {"rest": CORAL, "named": "coral"}, "stroke": {"colour": CORAL, "width": 4}},
        shape | {"fill": gradient},
        shape | {"fill": keyed},
    ]
    plate = layer("Plate", content={"kind": "shape", "items": items})
    glow = {"effect": "glow", "colour": {"rest": CORAL, "named": "coral"}}
    sign = layer("Sign", content={"kind": "text", "text": "Tide", "fill": CORAL}, effects=[glow], locked=True)
    before = scene(plate, sign)
    change = {"edit": "recolour", "colour": "coral", "name": "Coral", "was": CORAL, "value": "#0b7568ff"}
    after = made(before, change)
    same, now = colours(before), colours(after)
    follows = {
        "plate.content.items.0.fill": ("#0b7568ff", []),
        "plate.content.items.1.fill.stops.0.colour": ("#0b7568ff", []),
        "plate.content.items.2.fill": (SAND, ["#0b7568ff", SAND]),
        "sign.effects.0.colour": ("#0b7568ff", []),
    }
    assert now == same | follows
    # Set by hand it follows no longer; set to what it is in the project, it does.
    by_hand = {"edit": "set_property", "layer": "plate", "property": "content.items.0.fill", "frame": 0}
    other = made(after, by_hand | {"value": SAND})
    back = change | {"was": "#0b7568ff", "value": CORAL}
    assert colours(made(other, back))["plate.content.items.0.fill"] == (SAND, [])
    taken = made(other, by_hand | {"value": "#0b7568ff", "named": "coral"})
    assert colours(made(taken, back))["plate.content.items.0.fill"] == (CORAL, [])
    with pytest.raises(Refused, match="is no colour"):
        made(before, by_hand | {"property": "rotation", "value": 3.0, "named": "coral"})


def test_texts_follow_a_style_in_what_is_still_as_it_has_it() -> None:
    keys = [{"frame": 0, "value": 10.0}, {"frame": 20, "value": 50.0}]
    words = {"kind": "text", "text": "Tide", "font": {"family": "Literata", "weight": 400}}
    texts = [
        layer("One", content=words),
        layer("Two", content=words | {"size": 30}),
        layer("Three", content=words | {"tracking": {"rest": 0, "keys": keys}}),
        layer("Plate"),
    ]
    before = scene(*texts)
    display = {"font": {"weight": 900}, "size": 120, "fill": {"rest": CORAL, "named": "coral"}, "case": "upper"}
    use = {"edit": "use_style", "layers": ["one", "two", "three"], "style": "display", "name": "Display"}
    styled = made(before, use | {"look": display})
    contents: list[Any] = [one.content for one in styled.layers]
    for one in contents[:3]:
        assert (one.size.rest, one.font.weight, one.case) == (120, 900, "upper")
        assert (one.fill.named, one.style) == ("coral", "display")
    assert contents[2].tracking.keys == before.layer("three").tracks["content.tracking"].keys
    look = contents[0].look
    assert (look.size.rest, look.fill.named, look.font.weight) == (120, "coral", 900)
    # Two has a size of its own from here on.
    own = made(styled, {"edit": "set_property", "layer": "two", "property": "content.size", "value": 44.0, "frame": 0})
    change = {"edit": "restyle", "style": "display", "name": "Display", "was": display}
    after = made(own, change | {"look": display | {"size": 90, "case": "typed", "tracking": 25}})
    contents = [one.content for one in after.layers]
    assert [one.size.rest for one in contents[:3]] == [90, 44, 90]
    assert [one.tracking.rest for one in contents[:3]] == [25, 25, 0]
    assert {one.case for one in contents[:3]} == {"typed"}
    assert after.layer("plate") == before.layer("plate")
    off = made(after, use | {"style": None})
    assert off.layer("one").content == contents[0].model_copy(update={"style": None})
    with pytest.raises(Refused, match="'Plate' is no text"):
        made(before, use | {"layers": ["plate"], "look": display})


def test_contrast_is_that_of_wcag() -> None:
    """Pairs from the tables that accessibility guides give."""
    known = {("#000000", "#ffffff"): 21.0, ("#767676", "#ffffff"): 4.54, ("#0000ff", "#ffffff"): 8.59,
             ("#ff0000", "#ffffff"): 4.0, ("#00ff00", "#000000"): 15.3, ("#595959", "#ffffff"): 7.0}  # fmt: skip
    for pair, ratio in known.items():
        assert contrast(*pair) == pytest.approx(ratio, abs=0.01)
        assert contrast(*reversed(pair)) == contrast(*pair)
