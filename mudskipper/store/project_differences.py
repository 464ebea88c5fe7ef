"""How one state of a project differs from another, in words."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..core.document.properties import label_of
from ..core.document.scene import Layer, Scene
from ..core.ground.time import timecode

FIELDS = {
    "name": "name", "width": "width", "height": "height", "length": "length", "frame_rate": "frame rate",
    "background": "background", "beats": "beats", "motion_blur": "motion blur",
    "slots": "slots", "rows": "table of titles",
}  # fmt: skip
OF_LAYERS = {
    "name": "name", "visible": "whether it is seen", "locked": "lock", "span": "span", "blend": "blend",
    "matte": "matte", "carrier": "carrier", "masks": "masks", "crop": "crop", "framing": "framing",
    "effects": "effects", "motion_blur": "motion blur", "variants": "variants", "variant": "variant",
}  # fmt: skip
MOST = 6


def project_differences(before: Mapping[str, Scene], after: Mapping[str, Scene]) -> Iterator[str]:
    """A sentence for each difference between scenes by their ids; none where there is none."""
    for name, scene in after.items():
        if name not in before:
            yield f"“{scene.name}” is new: {len(scene.layers)} layers, {timecode(scene.length, scene.frame_rate)}."
    for name, scene in before.items():
        if name not in after:
            yield f"“{scene.name}” is gone."
        else:
            yield from scene_differences(scene, after[name])


def scene_differences(before: Scene, after: Scene) -> Iterator[str]:
    """The same for one scene."""
    if before == after:
        return
    told = [
        f"{words} {_short(was)} → {_short(now)}"
        for field, words in FIELDS.items()
        if (was := getattr(before, field)) != (now := getattr(after, field))
    ]
    if told:
        yield f"“{before.name}”: {', '.join(told)}."
    for layer in after.layers:
        old = before.layer(layer.id) if layer.id in before.places else None
        if old is None:
            yield f"“{after.name}”: “{layer.name}” is new."
        elif old != layer:
            yield f"“{after.name}”: “{layer.name}” has another {_listed(_changed(old, layer))}."
    for layer in before.layers:
        if layer.id not in after.places:
            yield f"“{after.name}”: “{layer.name}” is gone."
    shared = [one.id for one in before.layers if one.id in after.places]
    if shared != [one.id for one in after.layers if one.id in before.places]:
        yield f"“{after.name}”: its layers stand in another order."


def _changed(before: Layer, after: Layer) -> list[str]:
    """What of a layer is another, by its names."""
    paths = [path for path in {**before.tracks, **after.tracks} if before.tracks.get(path) != after.tracks.get(path)]
    found = [label_of(path, after if path in after.tracks else before).lower() for path in paths]
    found += [words for field, words in OF_LAYERS.items() if getattr(before, field) != getattr(after, field)]
    if before.content != after.content and not any(path.startswith("content.") for path in paths):
        found.append("content")
    return list(dict.fromkeys(found)) or ["form"]


def _listed(words: list[str]) -> str:
    shown = words[:MOST]
    more = f" and {len(words) - MOST} more" if len(words) > MOST else ""
    return ", ".join(shown) + more


def _short(value: Any) -> str:
    if isinstance(value, tuple) and len(value) == 2 and all(isinstance(part, int) for part in value):
        return f"{value[0] / value[1]:g}"
    if isinstance(value, tuple):
        return str(len(value))
    return "none" if value is None else str(value)[:40]
