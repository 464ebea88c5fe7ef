"""Texts of animation JSON: a layer for each document of a text, with its first baseline where the file has it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ...core.contents.assets import NO_MEDIA
from ...core.document.scene import Layer, Scene
from ...core.resolve.context import Context
from ...core.text.families import INSTALLED, PLAIN, installed
from .paints import hexed
from .properties import keys_in

ALIGNS = {0: "left", 1: "right", 2: "centre", 3: "justify", 4: "justify", 5: "justify", 6: "justify"}
WEIGHTS = {
    "thin": 100, "hairline": 100, "extralight": 200, "ultralight": 200, "light": 300, "medium": 500, "semibold": 600,
    "demibold": 600, "extrabold": 800, "ultrabold": 800, "bold": 700, "black": 900, "heavy": 900,
}  # fmt: skip
NO_ANIMATORS = "what moves the letters of a text"
NO_PATH = "texts along paths"


def text_layers(
    layer: dict[str, Any],
    base: dict[str, Any],
    motion: dict[str, Any],
    shift: float,
    fonts: dict[str, Any],
    notes: dict[str, None],
) -> list[dict[str, Any]]:
    """A text as layers back to front, one for each of its documents in the time that it is shown."""
    told = layer.get("t") or {}
    if told.get("a"):
        notes[NO_ANIMATORS] = None
    if isinstance(told.get("p"), dict) and "m" in told["p"]:
        notes[NO_PATH] = None
    start, length = base["span"]["start"], base["span"]["length"]
    stop = start + length
    keys = keys_in({"k": [one for one in (told.get("d") or {}).get("k") or [] if isinstance(one, dict)]})
    found: list[dict[str, Any]] = []
    for at, key in enumerate(keys):
        begin = start if at == 0 else max(math.ceil(key.frame + shift - 1e-6), start)
        end = stop if at == len(keys) - 1 else min(math.ceil(keys[at + 1].frame + shift - 1e-6), stop)
        content = _content(key.value, fonts, notes)
        if end <= begin or content is None:
            continue
        made = {**base, "content": content, "span": {"start": begin, "length": end - begin}}
        if found:
            made["id"] = f"{base['id']}x{at}"
        moved = _later(motion, begin - start)
        found.append({**made, **_on_baseline(made, moved)})
    return found or [{**base, **motion, "content": {"kind": "carrier"}}]


def _later(motion: dict[str, Any], by: int) -> dict[str, Any]:
    """Tracks whose layer begins so many frames later."""
    if not by:
        return motion
    return {
        name: _later(track, by)
        if "rest" not in track
        else {**track, "keys": [{**key, "frame": key["frame"] - by} for key in track.get("keys", ())]}
        for name, track in motion.items()
    }


def _content(told: dict[str, Any], fonts: dict[str, Any], notes: dict[str, None]) -> dict[str, Any] | None:
    words = str(told.get("t", "")).replace("\r\n", "\n").replace("\r", "\n").replace("\x03", "\n")
    words = "".join(letter for letter in words if letter == "\n" or ord(letter) >= 32)[:5_000]
    if not words.strip():
        return None
    size = min(max(float(told.get("s", 24)), 0.1), 10_000.0)
    content: dict[str, Any] = {
        "kind": "text", "text": words, "size": size, "font": _font(str(told.get("f", "")), fonts, notes),
        "align": ALIGNS.get(int(told.get("j", 0)), "left"), "tracking": float(told.get("tr") or 0),
        "fill": hexed(list(told["fc"])) if told.get("fc") else None,
        "case": {1: "upper", 2: "small capitals"}.get(int(told.get("ca") or 0), "typed"),
    }  # fmt: skip
    if told.get("lh"):
        content["leading"] = min(max(float(told["lh"]), 0.1), 100_000.0)
    if told.get("sc") and told.get("sw"):
        content["stroke"] = {"colour": hexed(list(told["sc"])), "width": float(told["sw"]), "join": "round"}
        content["stroke_behind"] = not told.get("of", True)
    if told.get("sz"):
        content["block"] = {"width": float(told["sz"][0])}
    elif content["align"] == "justify":
        content["align"] = "left"
    return content


def _font(name: str, fonts: dict[str, Any], notes: dict[str, None]) -> dict[str, Any]:
    """The installed font that is nearest to one of the file's list."""
    one = fonts.get(name) or {"fFamily": name}
    family = str(one.get("fFamily") or name)
    style = str(one.get("fStyle") or "").lower().replace(" ", "").replace("-", "")
    there = next((known for known in installed() if known.lower() == family.lower()), None)
    if there is None:
        plain = INSTALLED.family_of(PLAIN).name
        notes[f"the font {family[:60]} (set in {plain})"] = None
        there = plain
    known = installed()[there]
    italic = any(word in style for word in ("italic", "oblique"))
    style = style.replace("italic", "").replace("oblique", "")
    weight = next((WEIGHTS[word] for word in sorted(WEIGHTS, key=len, reverse=True) if word in style), 400)
    if str(one.get("fWeight") or "").isdigit():
        weight = int(one["fWeight"])
    return {
        "family": there, "weight": min(max(weight, known.lightest), known.heaviest), "italic": italic and known.italic
    }  # fmt: skip


def _on_baseline(made: dict[str, Any], motion: dict[str, Any]) -> dict[str, Any]:
    """The motion of a text whose anchor counts from its first baseline, as one that counts from its box."""
    lone = {"id": made["id"], "name": "Text", "span": {"start": 0, "length": 1}, "content": made["content"]}
    layer = Layer.model_validate(lone)
    scene = Scene(name="Text", width=1, height=1, length=1, layers=(layer,))
    (one,) = Context(scene, NO_MEDIA).resolve([layer], [0])
    baseline = float(np.asarray(one.baselines)[0, 0])
    anchor = motion["anchor"]

    def lower(value: list[float]) -> list[float]:
        return [value[0], value[1] + baseline]

    keys = [{**key, "value": lower(key["value"])} for key in anchor.get("keys", ())]
    return {**motion, "anchor": {**anchor, "rest": lower(anchor["rest"]), **({"keys": keys} if keys else {})}}
