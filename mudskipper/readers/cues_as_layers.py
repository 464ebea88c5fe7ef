"""Subtitles as texts of a scene."""

from __future__ import annotations

import math
from typing import Any

from ..core.document.scene import Layer, Scene, new_id
from ..core.ground.errors import Refused
from .subtitles import Cue

LOW = 0.88
"""Where subtitles stand, of the scene's height."""
SIZE = 0.045


def layers_of_cues(cues: list[Cue], scene: Scene, like: Layer | None) -> tuple[tuple[Layer, ...], list[str]]:
    """A text for each subtitle that begins in the scene, as `like` looks and where it stands, else below the middle;
    and what was left out, a sentence each."""
    base = _plain(scene) if like is None else _without_motion(like)
    found = []
    for cue in cues:
        start = round(cue.start * scene.fps)
        end = min(max(round(cue.end * scene.fps), start + 1), scene.length)
        if start >= scene.length or start < 0:
            continue
        content = base["content"] | {"text": cue.words}
        found.append(Layer.model_validate(base | {
            "id": new_id(), "name": cue.words.split("\n")[0][:40], "span": {"start": start, "length": end - start},
            "content": content,
        }))  # fmt: skip
    if not found:
        first = timeless(cues[0].start)
        raise Refused(f"The first subtitle begins at {first}, after the end of '{scene.name}'.", mend="Make it longer.")
    left = len(cues) - len(found)
    return tuple(found), [f"{left} subtitles begin after the scene's end and are left out."] if left else []


def timeless(seconds: float) -> str:
    """Seconds in words.

    >>> timeless(75.5)
    '1:15.5'
    """
    return f"{math.floor(seconds / 60)}:{seconds % 60:04.1f}"


def _plain(scene: Scene) -> dict[str, Any]:
    return {
        "name": "Subtitle", "position": [scene.width / 2, scene.height * LOW],
        "content": {"kind": "text", "text": "", "size": round(scene.height * SIZE, 1), "align": "centre"},
    }  # fmt: skip


def _without_motion(like: Layer) -> dict[str, Any]:
    if like.content.words is None:
        raise Refused(
            f"'{like.name}' is no text.", where="like", mend="Select the text that subtitles are to look like."
        )
    found = like.model_dump(mode="json", by_alias=True)
    return {key: found[key] for key in found if key not in ("id", "span", "variants", "variant", "matte", "carrier")}
