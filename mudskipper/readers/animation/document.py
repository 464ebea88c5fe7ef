"""Animation JSON as a scene, with a scene for each composition within it."""

from __future__ import annotations

import base64
import binascii
import io
import json
import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any
from urllib.parse import unquote_to_bytes

from PIL import Image
from pydantic import ValidationError

from ...core.document.scene import SCHEMA, Scene, new_id
from ...core.edits.relink import stand_in
from ...core.ground.errors import Refused, refusal_of
from .properties import number, still
from .shapes import Shapes, placed
from .texts import text_layers

MOST = 64 * 2**20
VERSION = 20_000
"""Of the specification, as `ver` has it: major · 10,000 + minor · 100 + patch. The first that is not read."""
BLENDS = (
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light",
    "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
)  # fmt: skip
MASKS = {"a": "add", "s": "subtract", "i": "intersect"}
MATTES = {1: ("opacity", False), 2: ("opacity", True), 3: ("brightness", False), 4: ("brightness", True)}
DEEPEST = 12
NO_EFFECTS = "effects and styles of layers"
NO_FORMULAS = "expressions (the keys stand)"
NO_DEPTH = "depth (layers lie flat)"
NO_ALONG = "layers that turn along their path"
NO_BETWEEN = "compositions whose time is another (they are shown frame by frame)"
NO_EXPANSION = "masks that are made larger or smaller"
NO_MODE = "masks that lighten, darken or differ (they add)"
NO_KIND = "layers of sound, cameras and data"


@dataclass
class ReadAnimation:
    """Scenes, those first that lie in others and last the whole; the pictures within the file by the ids that the
    scenes have for them; what was left out, a sentence each."""

    scenes: tuple[Scene, ...]
    pictures: dict[str, tuple[str, bytes]]
    notes: list[str]


def read_animation(data: bytes, name: str, pictures: Mapping[str, str] | None = None) -> ReadAnimation:
    """Animation JSON as scenes; Refused in words where it is none, or of a later version. Pictures beside the file are
    found among those of a project by their names in small letters; for what is missing there is a text that says so."""
    if len(data) > MOST:
        raise Refused(f"It is larger than {MOST // 2**20} MB.", where=name)
    try:
        told = json.loads(data.decode("utf-8-sig"))
    except (ValueError, RecursionError):
        raise Refused(
            "It is no JSON that can be read.", where=name, mend="Export it again; it may be cut off."
        ) from None
    if not isinstance(told, dict) or not isinstance(told.get("layers"), list) or not {"op", "fr"} <= told.keys():
        raise Refused(
            "There is no animation in it.", where=name, mend="Animation JSON has layers, a frame rate and an end."
        )
    if isinstance(told.get("ver"), int) and told["ver"] >= VERSION:
        major = told["ver"] // 10_000
        raise Refused(
            f"It follows version {major} of the specification, and version 1 is read.", where=name,
            mend="Export it by version 1.",
        )  # fmt: skip
    try:
        return _Reader(told, name, pictures or {}).read()
    except ValidationError as error:
        raise refusal_of(error, name) from None
    except Refused:
        raise
    except (TypeError, KeyError, ValueError, IndexError, AttributeError, OverflowError, RecursionError):
        raise Refused(
            "It is written in a way that cannot be read.", where=name,
            mend="Export it again by the published specification.",
        ) from None  # fmt: skip


@dataclass
class _Reader:
    told: dict[str, Any]
    name: str
    known: Mapping[str, str]
    notes: dict[str, None] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._assets = {str(one.get("id")): one for one in self.told.get("assets") or []}
        self._fonts = {str(one.get("fName")): one for one in (self.told.get("fonts") or {}).get("list") or []}
        self._scenes: dict[str, Scene] = {}
        self._pictures: dict[str, tuple[str, bytes]] = {}
        self._missing: dict[str, None] = {}
        self._rate = Fraction(float(self.told["fr"])).limit_denominator(1001)

    def read(self) -> ReadAnimation:
        told = self.told
        first, stop = float(told.get("ip", 0)), float(told["op"])
        size = (max(int(told.get("w", 512)), 1), max(int(told.get("h", 512)), 1))
        name = str(told.get("nm") or "").strip() or re.sub(r"\.json$", "", self.name, flags=re.IGNORECASE)
        length = max(math.ceil(stop - first - 1e-6), 1)
        marks: dict[float, str] = {}
        for one in told.get("markers") or []:
            at = round(min(max(float(one.get("tm", 0)) - first, 0.0), float(length)), 3)
            marks.setdefault(at, str(one.get("cm", ""))[:200])
        beats = [{"frame": frame, "label": marks[frame]} for frame in sorted(marks)]
        whole = self._scene(told["layers"], name[:200] or "Animation", size, length, -first, (), beats)
        notes = [f"Left out or changed: {', '.join(self.notes)}."] if self.notes else []
        notes += [
            f"The picture “{one}” is not in the file, or cannot be read; a text stands for it." for one in self._missing
        ]
        return ReadAnimation((*self._scenes.values(), whole), self._pictures, notes)

    def _scene(
        self,
        layers: list[dict[str, Any]],
        name: str,
        size: tuple[int, int],
        length: int,
        shift: float,
        above: tuple[str, ...],
        beats: list[dict[str, Any]] | None = None,
    ) -> Scene:
        ids = {layer.get("ind"): f"layer{at}" for at, layer in enumerate(layers)}
        found: list[dict[str, Any]] = []
        for at, layer in enumerate(layers):
            made = self._layer(layer, f"layer{at}", shift, above)
            if layer.get("tt") and made:
                self._matte(layer, layers, at, ids, made)
            for one in made:
                parent = layer.get("parent")
                if parent is not None and parent in ids:
                    one["carrier"] = ids[parent]
            found = [*made, *found]
        there = {one["id"] for one in found}
        for one in found:
            if one.get("carrier") not in there:
                one.pop("carrier", None)
            if one.get("matte", {}).get("layer") not in there:
                one.pop("matte", None)
        return Scene.model_validate({
            "schema": SCHEMA, "id": new_id(), "name": name, "width": size[0], "height": size[1], "length": length,
            "frame_rate": [self._rate.numerator, self._rate.denominator], "layers": found, "beats": beats or [],
        })  # fmt: skip

    def _matte(
        self,
        layer: dict[str, Any],
        layers: list[dict[str, Any]],
        at: int,
        ids: dict[Any, str],
        made: list[dict[str, Any]],
    ) -> None:
        """A matte is the layer that is named, or the one just in front."""
        by, inverted = MATTES.get(layer["tt"], MATTES[1])
        named = ids.get(layer.get("tp")) if layer.get("tp") is not None else None
        other = named or (f"layer{at - 1}" if at and layers[at - 1].get("td") else None)
        if other:
            for one in made:
                one["matte"] = {"layer": other, "by": by, "inverted": inverted}

    def _layer(self, layer: dict[str, Any], ident: str, shift: float, above: tuple[str, ...]) -> list[dict[str, Any]]:
        """A layer as one, or a text that becomes others as one after another."""
        if layer.get("ef") or layer.get("sy"):
            self.notes[NO_EFFECTS] = None
        if layer.get("ddd"):
            self.notes[NO_DEPTH] = None
        if layer.get("ao"):
            self.notes[NO_ALONG] = None
        start = math.ceil(float(layer.get("ip", 0)) + shift - 1e-6)
        stop = math.ceil(float(layer.get("op", self.told["op"])) + shift - 1e-6)
        # What is never seen may yet carry others.
        span = {"start": start, "length": max(stop - start, 1)}
        ks = layer.get("ks") or {}
        if any(isinstance(prop, dict) and isinstance(prop.get("x"), str) for prop in ks.values()):
            self.notes[NO_FORMULAS] = None
        shift_in = shift - start
        shapes = Shapes(shift_in, self.notes)
        base = {
            "id": ident, "name": str(layer.get("nm") or "").strip()[:200] or "Layer", "span": span,
            "visible": not (layer.get("hd") or layer.get("td") or stop <= start),
            "blend": BLENDS[layer.get("bm", 0)] if 0 <= int(layer.get("bm", 0)) < len(BLENDS) else "normal",
            "masks": self._masks(layer, shift_in),
        }  # fmt: skip
        shapes.transform(ks)  # says what is left out of it
        kind = layer.get("ty")
        if kind == 5:
            return text_layers(layer, base, placed(ks, shift_in), shift, self._fonts, self.notes)
        content, factor = self._content(layer, kind, span["start"] - shift, shapes, shift_in, above)
        return [{**base, **placed(ks, shift_in, factor), "content": content}]

    def _content(
        self, layer: dict[str, Any], kind: Any, first: float, shapes: Shapes, shift: float, above: tuple[str, ...]
    ) -> tuple[dict[str, Any], tuple[float, float]]:
        """What a layer shows, and how many of its pixels one of the file is."""
        plain = (1.0, 1.0)
        if kind == 4:
            items = shapes.items(layer.get("shapes") or [])
            return ({"kind": "shape", "items": items} if items else {"kind": "carrier"}), plain
        if kind == 1:
            size = [float(layer.get("sw", 1)), float(layer.get("sh", 1))]
            item = {
                "shape": "rectangle", "size": size, "at": [size[0] / 2, size[1] / 2],
                "fill": f"{str(layer.get('sc', '#000000'))[:7].lower()}ff",
            }  # fmt: skip
            return {"kind": "shape", "items": [item]}, plain
        if kind == 2:
            return self._picture(str(layer.get("refId")))
        if kind == 0:
            return self._inner(layer, first, shift, above), plain
        if kind != 3:
            self.notes[NO_KIND] = None
        return {"kind": "carrier"}, plain

    def _inner(self, layer: dict[str, Any], first: float, shift: float, above: tuple[str, ...]) -> dict[str, Any]:
        ref = str(layer.get("refId"))
        asset = self._assets.get(ref)
        if asset is None or not isinstance(asset.get("layers"), list):
            return {"kind": "carrier"}
        if ref in above or len(above) >= DEEPEST:
            raise ValueError("compositions within one another without end")
        if ref not in self._scenes:
            size = [max(int(layer.get(side) or asset.get(side) or self.told.get(side, 1)), 1) for side in ("w", "h")]
            ends = [float(one.get("op", 0)) for one in asset["layers"]]
            length = min(max(math.ceil(max(ends, default=1.0) - 1e-6), 1), 1_000_000)
            name = str(asset.get("nm") or layer.get("nm") or ref).strip()[:200] or "Scene"
            made = self._scene(asset["layers"], name, (size[0], size[1]), length, 0.0, (*above, ref))
            self._scenes[ref] = made
        fps, stretch = float(self._rate), float(layer.get("sr") or 1)
        time: dict[str, Any] = {
            "start": (first - float(layer.get("st", 0))) / stretch / fps, "speed": 100.0 / stretch,
            "before": "nothing", "after": "nothing",
        }  # fmt: skip
        if isinstance(layer.get("tm"), dict) or stretch != 1:
            self.notes[NO_BETWEEN] = None
        if isinstance(layer.get("tm"), dict):
            time = {"keyed": number(layer["tm"], 0.0, shift)}
        return {"kind": "scene", "asset": self._scenes[ref].id, "time": time}

    def _picture(self, ref: str) -> tuple[dict[str, Any], tuple[float, float]]:
        asset = self._assets.get(ref) or {}
        path = str(asset.get("p") or "")
        size = (float(asset.get("w") or 1), float(asset.get("h") or 1))
        name = path.replace("\\", "/").rsplit("/", 1)[-1]
        if path.startswith("data:"):
            name = f"{_file_name(ref)}.{_ending(path)}"
            data = self._pictures[ref][1] if ref in self._pictures else _bytes(path)
            real = _size(data)
            if real is not None:
                self._pictures[ref] = (name, data)
                return {"kind": "picture", "asset": ref}, (real[0] / size[0], real[1] / size[1])
        if name.lower() in self.known:
            return {"kind": "picture", "asset": self.known[name.lower()]}, (1.0, 1.0)
        self._missing[name or ref] = None
        return {"kind": "text", "text": stand_in(name or ref), "size": max(size[1] / 8, 8.0)}, (1.0, 1.0)

    def _masks(self, layer: dict[str, Any], shift: float) -> list[dict[str, Any]]:
        found = []
        for one in (layer.get("masksProperties") or []) if layer.get("hasMask") else []:
            mode = one.get("mode", "a")
            if mode == "n":
                continue
            if mode not in MASKS:
                self.notes[NO_MODE] = None
            if any(still(one.get("x"), 1, [0])):
                self.notes[NO_EXPANSION] = None
            shapes = Shapes(shift, self.notes)
            outline = shapes.outline({"ty": "sh", "ks": one.get("pt") or {}})
            if outline is None:
                continue
            # A mask closes by itself.
            outline["contours"] = [{**run, "closed": True} for run in outline["contours"]]
            strength = number(one.get("o"), 100.0, shift)
            found.append({
                "shape": outline, "mode": MASKS.get(mode, "add"), "inverted": bool(one.get("inv")),
                "name": str(one.get("nm") or "Mask").strip()[:200] or "Mask",
                **({} if strength["rest"] == 100 and "keys" not in strength else {
                    "transform": {"anchor": {"rest": [0.0, 0.0], "pinned": False}, "opacity": strength}
                }),
            })  # fmt: skip
        return found


def _ending(url: str) -> str:
    kind = url[5:].split(";")[0].split(",")[0].lower()
    return {"image/jpeg": "jpg", "image/svg+xml": "svg"}.get(kind, kind.rsplit("/", 1)[-1][:8] or "png")


def _bytes(url: str) -> bytes:
    head, _, body = url.partition(",")
    if ";base64" in head:
        try:
            return base64.b64decode(body, validate=False)
        except binascii.Error:
            raise ValueError("a picture that is none") from None
    return unquote_to_bytes(body)


def _file_name(ref: str) -> str:
    return re.sub(r"[^\w .-]", "-", ref)[:60] or "picture"


def _size(data: bytes) -> tuple[float, float] | None:
    """Pixels of a picture; None where it cannot be told."""
    try:
        with Image.open(io.BytesIO(data)) as image:
            return float(image.width), float(image.height)
    except Exception:
        return None
