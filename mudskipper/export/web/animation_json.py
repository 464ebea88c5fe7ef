"""Scenes as the animation JSON of the Lottie Animation Community (specification 1.0): shapes, pictures, motion, masks
and mattes; letters are shapes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path as FilePath
from typing import Any

import numpy as np

from ...core.contents.assets import Assets
from ...core.document.scene import Layer, Scene
from ...core.draw.operations import (
    TAKES,
    Below,
    Column,
    Glyphs,
    GradientPaint,
    Group,
    Image,
    MaskPath,
    Matte,
    Operation,
    Paint,
    Path,
)  # fmt: skip
from ...core.easings.batch import bezier_numbers
from ...core.geometry.bezier import Floats
from ...core.geometry.perspective import project
from ...core.resolve.resolved import resolve
from ...core.text.fonts import outline
from ...core.tracks.base import Track
from ...core.tracks.kinds import PathTrack
from ...core.tracks.motion import position_values
from ...media.files import MediaFiles
from .easing_css import keep_points
from .scene_parts import Part, parts_of
from .svg_drawing import data_url, product

BLENDS = (
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light",
    "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
)  # fmt: skip
NO_EFFECTS = "Effects are left out."
NO_FILTERS = "Filter layers are left out."
NO_CLIPS = "Clips are left out: it holds no film."
NO_CONIC = "Conic gradients are left out: their first colour is there instead."
NO_BLEND = "A blend that it does not know is left out."
NO_FEATHER = "The softness of masks is left out."
NO_INNER = "Masks, mattes and blends within a layer are left out."
NO_WHOLE = "A layer of several pictures and shapes is blended piece by piece."
NO_MATTE_PICTURES = "Pictures in mattes are left out."
NO_OVAL = "Oval gradients are round."
NO_SLANT = "Pictures that are slanted within a layer stand upright."
NO_GROWING = "Pictures whose frame grows within a layer keep their size."
NO_STRETCH = "Strokes that are stretched more one way than the other are drawn evenly."
NEAR = {"p": 0.01, "a": 0.01, "s": 0.002, "r": 0.005, "o": 0.2}
"""How far what is told by straight lines between frames may be off at a frame, in px, %, degrees."""


@dataclass
class AnimationDocument:
    """A scene's frames first…stop (not included) as animation JSON; what it cannot say stands in `lost`."""

    scene: Scene
    assets: Assets
    files: MediaFiles
    first: int
    stop: int
    with_pictures: bool = True
    lost: dict[str, None] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._count = self.stop - self.first
        self._pictures: dict[str, dict[str, Any]] = {}
        self._layers: list[dict[str, Any]] = []
        self._hosts: dict[str, int] = {}

    def document(self) -> dict[str, Any]:
        """The whole animation; frames count from 0."""
        parts = {part.layer.id: part for part in parts_of(self.scene, self.assets, self.first, self.stop)}
        carriers = {part.layer.carrier for part in parts.values() if part.layer.carrier}
        for name in carriers:
            self._carrier(name)
        for part in parts.values():
            self._part(part, parts)
        if not self.scene.background.endswith("00"):
            self._layers.insert(0, self._ground())
        layers = list(reversed(self._layers))
        rate = self.scene.frame_rate
        return {
            "v": "5.9.0", "fr": rate[0] / rate[1], "ip": 0, "op": self._count, "w": self.scene.width,
            "h": self.scene.height, "nm": self.scene.name, "ddd": 0, "assets": list(self._pictures.values()),
            "layers": layers,
        }  # fmt: skip

    def _index(self) -> int:
        return len(self._layers) + 1

    def _carrier(self, name: str) -> int:
        """A layer that is not seen and moves as one that carries others; its index."""
        if name not in self._hosts:
            layer = self.scene.layer(name)
            outer = self._carrier(layer.carrier) if layer.carrier else None
            ks = self._moves(layer)
            ks["o"] = {"a": 0, "k": 0}
            self._hosts[name] = self._index()
            self._layers.append({"ty": 3, "nm": layer.name, "ind": self._index(), **self._whole(outer), "ks": ks})
        return self._hosts[name]

    def _whole(self, parent: int | None) -> dict[str, Any]:
        return {"ip": 0, "op": self._count, "st": 0, **({} if parent is None else {"parent": parent})}

    def _ground(self) -> dict[str, Any]:
        red, green, blue, alpha = bytes.fromhex(self.scene.background[1:])
        ks = _still({"a": [0, 0], "p": [0, 0], "s": [100, 100], "r": 0, "o": alpha / 2.55})
        return {
            "ty": 1, "nm": "Background", "ind": self._index() + 1_000_000, **self._whole(None), "ks": ks,
            "sc": f"#{red:02x}{green:02x}{blue:02x}", "sw": self.scene.width, "sh": self.scene.height,
        }  # fmt: skip

    def _moves(self, layer: Layer, part: Part | None = None) -> dict[str, Any]:
        """The transform of a layer: by its keys where these tell it, else from frame to frame."""
        frames = np.arange(self.first, self.stop, dtype=np.float64)
        one = part.resolved if part else resolve(self.scene, frames, self.assets, ids=[layer.id]).layers[layer.id]
        straight = isinstance(layer.position, PathTrack) and not any(
            key.leave or key.arrive for key in layer.position.keys
        )
        position = layer.position if straight else None
        return {
            "a": self._baked("a", one.anchor),
            "p": self._told(position, layer) or self._baked("p", position_values(one.values)),
            "s": self._told(layer.scale, layer) or self._baked("s", one.values["scale"]),
            "r": self._told(layer.rotation, layer) or self._baked("r", one.values["rotation"]),
            "o": self._told(layer.opacity, layer) or self._baked("o", one.opacity * 100.0),
        }

    def _told(self, track: object, layer: Layer) -> dict[str, Any] | None:
        """A property by a track's own keys; None where keys and Bézier curves alone do not tell it."""
        if not isinstance(track, Track) or track.formula is not None or track.cadence is not None:
            return None
        if not track.keys:
            return _still({"k": _bare(track.to_array(track.rest))})["k"]  # type: ignore[no-any-return]
        if (track.before, track.after) != ("hold", "hold"):
            return None
        keys: list[dict[str, Any]] = []
        for at, key in enumerate(track.keys):
            value = [float(number) for number in track.to_array(key.value)]
            one: dict[str, Any] = {"t": round(key.frame + layer.span.start - self.first, 6), "s": value}
            if at < len(track.keys) - 1:
                if key.ease == "hold":
                    one["h"] = 1
                else:
                    curve = (0.0, 0.0, 1.0, 1.0) if key.ease == "linear" else bezier_numbers(key.ease)
                    if curve is None:
                        return None
                    one |= {"o": {"x": [curve[0]], "y": [curve[1]]}, "i": {"x": [curve[2]], "y": [curve[3]]}}
            keys.append(one)
        return {"a": 1, "k": keys}

    def _baked(self, name: str, values: Floats) -> dict[str, Any]:
        rows = np.broadcast_to(values, (self._count, values.shape[1]))
        if (rows == rows[0]).all():
            return {"a": 0, "k": _bare(rows[0].tolist())}
        kept = keep_points(np.arange(self._count, dtype=np.float64), np.asarray(rows, dtype=np.float64), NEAR[name])
        line = {"o": {"x": [0], "y": [0]}, "i": {"x": [1], "y": [1]}}
        return {"a": 1, "k": [{"t": at, "s": [round(one, 5) for one in rows[at].tolist()], **line} for at in kept]}

    def _part(self, part: Part, parts: dict[str, Part]) -> None:
        """A layer in front of those before it, in as many as it has kinds of parts, each under what its matte is."""
        layer = part.layer
        if layer.content.filters:
            self.lost[NO_FILTERS] = None
            return
        if part.own.effects is not None:
            self.lost[NO_EFFECTS] = None
        if layer.blend not in BLENDS:
            self.lost[NO_BLEND] = None
        matte = part.own.matte
        masks = self._masks(part.own.masks)
        pieces = self._pieces(part)
        if len(pieces) > 1 and layer.blend != "normal":
            self.lost[NO_WHOLE] = None
        for made in pieces:
            if masks:
                made |= {"hasMask": True, "masksProperties": masks}
            if layer.blend in BLENDS[1:]:
                made["bm"] = BLENDS.index(layer.blend)
            if matte is not None:
                made["tt"] = {"opacity": 1, "brightness": 3}[matte.by] + int(matte.inverted)
            self._add(made)
            if matte is not None:
                # What a matte is made of lies just in front of what it is for, where it stands in the scene.
                self._add({"ty": 4, "nm": "Matte", **self._whole(None), "ks": UNMOVED, "td": 1, **self._matte(matte)})
                self._layers[-2]["tp"] = self._layers[-1]["ind"]

    def _matte(self, matte: Matte) -> dict[str, Any]:
        """The shapes of a matte, the first in front."""
        found = self._flat(matte.parts, IDENTITY, SEEN)
        if any(image is not None for _, image, *_ in found):
            self.lost[NO_MATTE_PICTURES] = None
        return {"shapes": [shape for shape, image, *_ in reversed(found) if image is None]}

    def _add(self, made: dict[str, Any]) -> None:
        self._layers.append(made | {"ind": self._index()})

    def _pieces(self, part: Part) -> list[dict[str, Any]]:
        """What a layer shows, back to front: shapes that follow each other are one layer, a picture is one."""
        layer = part.layer
        ks = self._moves(layer, part)
        begin, end = (min(max(edge - self.first, 0), self._count) for edge in (layer.span.start, layer.span.end))
        parent = {"parent": self._carrier(layer.carrier)} if layer.carrier else {}
        common = {"nm": layer.name, "ip": begin, "op": end, "st": 0, **parent}
        found: list[dict[str, Any]] = []
        host: int | None = None
        for shape, image, matrix, shown in self._flat(part.own.parts, part.own.matrix, SEEN):
            if image is not None:
                if host is None and not _is_identity(matrix, shown):
                    # Pictures that stand elsewhere within the layer move along with a layer that is not seen.
                    still = ks | {"o": {"a": 0, "k": 0}}
                    self._add({"ty": 3, "nm": layer.name, **self._whole(parent.get("parent")), "ks": still})
                    host = self._layers[-1]["ind"]
                made = self._picture(image, ks, common, matrix, shown, part.resolved.opacity, host)
                found += [made] if made else []
            elif found and found[-1]["ty"] == 4:
                found[-1]["shapes"].insert(0, shape)
            else:
                found.append({"ty": 4, **common, "ks": ks, "shapes": [shape]})
        return found

    def _flat(
        self, parts: Sequence[Operation], matrix: Column, shown: Floats
    ) -> list[tuple[dict[str, Any], Image | None, Column, Floats]]:
        """Operations back to front as shapes, or as pictures with their matrix; `shown` (1 | n, 1) is 0…1."""
        found: list[tuple[dict[str, Any], Image | None, Column, Floats]] = []
        for part in parts:
            if isinstance(part, Group):
                if part.effects is not None:
                    self.lost[NO_EFFECTS] = None
                if part.masks or part.matte is not None or part.blend != "normal":
                    self.lost[NO_INNER] = None
                opacity = part.opacity / 255.0 if part.apart else SEEN
                found += self._flat(part.parts, part.matrix, shown * part.visible * opacity)
            elif isinstance(part, Path):
                shape = self._shape(_outlines(part.verbs, part.points, matrix), part, matrix, shown)
                found.append((shape, None, matrix, shown))
            elif isinstance(part, Glyphs):
                found += [(one, None, matrix, shown) for one in self._letters(part, matrix, shown)]
            elif isinstance(part, Image):
                found.append(({}, part, matrix, shown * part.opacity / 255.0))
            elif isinstance(part, Below):
                self.lost[NO_FILTERS] = None
        return found

    def _letters(self, part: Glyphs, matrix: Column, shown: Floats) -> list[dict[str, Any]]:
        many = part.matrices.shape[1] // max(len(part.names), 1)
        letters = []
        for place, name in enumerate(part.names):
            shape, own = outline(name), part.matrices[:, many * place : many * place + many].astype(np.float64)
            points = np.array([shape.coordinates], dtype=np.float64)
            if many == 9:
                rows = [project(row, points.reshape(-1, 2)).reshape(-1) for row in own]
                letters.append(_outlines(shape.verbs, np.array(rows), matrix))
            else:
                letters.append(_outlines(shape.verbs, _moved(points, own), matrix))
        if part.single:
            outlines = [one for each in letters for one in each]
            return [self._group(outlines, [self._fill(part.fill, matrix, "nonzero")], shown)]
        return [
            self._group(each, [self._fill(part.fill[:, 4 * place : 4 * place + 4], matrix, "nonzero")], shown)
            for place, each in enumerate(letters)
        ]

    def _shape(self, outlines: list[_Outline], part: Path, matrix: Column, shown: Floats) -> dict[str, Any]:
        inks = []
        if part.stroke is not None and part.stroke_width is not None:
            inks.append(self._stroke(part, matrix))
        if part.fill is not None:
            inks.append(self._fill(part.fill, matrix, part.rule))
        return self._group(outlines, inks, shown)

    def _group(self, outlines: list[_Outline], inks: list[dict[str, Any]], shown: Floats) -> dict[str, Any]:
        tr = {
            "ty": "tr",
            **_still({"a": [0, 0], "p": [0, 0], "s": [100, 100], "r": 0}),
            "o": self._each(shown * 100, _bare),
        }
        return {"ty": "gr", "it": [*({"ty": "sh", "ks": self._path(one)} for one in outlines), *inks, tr]}

    def _path(self, one: _Outline) -> dict[str, Any]:
        return self._each(one.points, lambda row: one.bezier(row), wrapped=True)

    def _each(self, values: Any, told: Callable[[list[float]], Any], wrapped: bool = False) -> dict[str, Any]:
        """A property by its values (1 | n, k), held from frame to frame."""
        if len(values) == 1 or (values == values[0]).all():
            return {"a": 0, "k": told(values[0].tolist())}
        keys = []
        for at, row in enumerate(values):
            if at == 0 or (row != values[at - 1]).any():
                value = told(row.tolist())
                keys.append({"t": at, "s": [value] if wrapped or not isinstance(value, list) else value, "h": 1})
        return {"a": 1, "k": keys}

    def _colours(self, colour: Column) -> dict[str, Any]:
        return {
            "c": self._each(colour[:, :3], lambda row: [round(one / 255, 5) for one in row]),
            "o": self._each(colour[:, 3:4], lambda row: round(row[0] / 2.55, 3)),
        }

    def _fill(self, paint: Paint, matrix: Column, rule: str) -> dict[str, Any]:
        by = {"r": 2 if rule == "evenodd" else 1}
        if isinstance(paint, GradientPaint):
            return (
                {"ty": "gf", **self._gradient(paint, matrix), **by} if paint.kind != "conic" else self._conic(paint, by)
            )
        return {"ty": "fl", **self._colours(paint), **by}

    def _conic(self, paint: GradientPaint, by: dict[str, Any]) -> dict[str, Any]:
        self.lost[NO_CONIC] = None
        return {"ty": "fl", **self._colours(paint.colours[:, :4]), **by}

    def _gradient(self, paint: GradientPaint, matrix: Column) -> dict[str, Any]:
        geometry = np.asarray(paint.geometry, dtype=np.float64)
        begin = geometry[:, :2]
        end = geometry[:, 2:4] if paint.kind == "linear" else begin + np.pad(geometry[:, 2:3], ((0, 0), (0, 1)))
        for under in (paint.matrix, matrix):
            if under is not None:
                begin, end = _moved(begin, under), _moved(end, under)
        under = matrix if paint.matrix is None else product(matrix, paint.matrix)
        if paint.kind == "radial" and not _even(under):
            self.lost[NO_OVAL] = None
        stops = paint.offsets.shape[1]
        colours = paint.colours.reshape(len(paint.colours), stops, 4)
        count = max(len(paint.offsets), len(colours))
        offsets = np.broadcast_to(paint.offsets, (count, stops))[..., None]
        colours = np.broadcast_to(colours, (count, stops, 4))
        rows = np.concatenate([offsets, colours[..., :3] / 255.0], axis=2).reshape(count, -1)
        if (colours[..., 3] != 255).any():
            rows = np.concatenate(
                [rows, np.concatenate([offsets, colours[..., 3:] / 255.0], axis=2).reshape(count, -1)], axis=1
            )
        ramp = self._each(rows, lambda row: [round(one, 5) for one in row])
        return {
            "t": 1 if paint.kind == "linear" else 2, "s": self._each(begin, _rounded), "e": self._each(end, _rounded),
            "g": {"p": stops, "k": ramp}, "o": {"a": 0, "k": 100},
        }  # fmt: skip

    def _stroke(self, part: Path, matrix: Column) -> dict[str, Any]:
        assert part.stroke is not None
        assert part.stroke_width is not None
        a, b, c, d = np.asarray(matrix, dtype=np.float64)[:, :4].T
        if np.abs(np.hypot(a, b) - np.hypot(c, d)).max() > 1e-3 * np.hypot(a, b).max():
            self.lost[NO_STRETCH] = None
        grown = np.sqrt(np.abs(a * d - b * c))[:, None]
        made: dict[str, Any] = {
            "w": self._each(np.maximum(part.stroke_width, 0) * grown, _bare),
            "lc": {"butt": 1, "round": 2, "square": 3}[part.cap], "lj": {"miter": 1, "round": 2, "bevel": 3}[part.join],
            "ml": 10.0 if part.mitre is None else float(part.mitre[0, 0]),
        }  # fmt: skip
        if part.dash is not None and part.dash_offset is not None and part.dash[0, 0] >= 0:
            dashes = [
                # Players know them by their names, each of which must be another.
                {"n": "g" if at % 2 else "d", "nm": f"dash {at}", "v": self._each(part.dash[:, [at]] * grown, _bare)}
                for at in range(part.dash.shape[1])
            ]
            offset = {"n": "o", "nm": "offset", "v": self._each(part.dash_offset * grown, _bare)}
            made["d"] = [*dashes, offset]
        if isinstance(part.stroke, GradientPaint):
            if part.stroke.kind != "conic":
                return {"ty": "gs", **self._gradient(part.stroke, matrix), **made}
            self.lost[NO_CONIC] = None
            return {"ty": "st", **self._colours(part.stroke.colours[:, :4]), **made}
        return {"ty": "st", **self._colours(part.stroke), **made}

    def _picture(
        self,
        image: Image,
        ks: dict[str, Any],
        common: dict[str, Any],
        matrix: Column,
        shown: Floats,
        opacity_of_layer: Floats,
        host: int | None,
    ) -> dict[str, Any] | None:
        """A picture as a layer: it is drawn from its left top corner, which the anchor is counted from; with a `host`
        under its own matrix, in that layer's pixels."""
        if image.frame is not None:
            self.lost[NO_CLIPS] = None
            return None
        left, top, wide, high = (float(one) for one in image.box[0])
        name = f"{image.source}-{wide:g}x{high:g}"
        if name not in self._pictures:
            data = FilePath(self.files.pictures[image.source]).read_bytes() if self.with_pictures else b""
            self._pictures[name] = {"id": name, "w": wide, "h": high, "u": "", "p": data_url(data), "e": 1}
        if len(image.box) > 1 and (image.box != image.box[0]).any():
            self.lost[NO_GROWING] = None
        if _is_identity(matrix, shown):
            return {"ty": 2, **common, "refId": name, "ks": ks | {"a": _shifted(ks["a"], left, top)}}
        a, b, c, d, e, f = np.asarray(matrix, dtype=np.float64).T
        wide_by = np.hypot(a, b)
        with np.errstate(divide="ignore", invalid="ignore"):
            high_by = np.where(wide_by > 0, (a * d - b * c) / wide_by, 0.0)
            slant = np.where(wide_by > 0, np.abs(a * c + b * d) / wide_by, 0.0)
        if slant.max() > 1e-3:
            self.lost[NO_SLANT] = None
        # The layer's own opacity is not handed down by the one that carries it.
        opacity = np.broadcast_to(shown * opacity_of_layer * 100.0, (self._count, 1))
        own = {
            "a": {"a": 0, "k": [-left, -top]}, "p": self._each(np.stack([e, f], axis=1), _bare),
            "s": self._each(np.stack([wide_by, high_by], axis=1) * 100, _bare),
            "r": self._each(np.degrees(np.arctan2(b, a))[:, None], _bare), "o": self._each(opacity, _bare),
        }  # fmt: skip
        return {"ty": 2, **common, "parent": host, "refId": name, "ks": own}

    def _masks(self, masks: tuple[MaskPath, ...]) -> list[dict[str, Any]]:
        found = []
        for mask in masks:
            if (mask.blur > 0).any():
                self.lost[NO_FEATHER] = None
            for part in mask.parts:
                for one in _outlines(part.verbs, part.points, mask.matrix):
                    found.append({
                        "mode": mask.mode[0], "inv": mask.inverted, "pt": self._path(one),
                        "o": self._each(mask.strength / 2.55, _bare), "x": {"a": 0, "k": 0},
                    })  # fmt: skip
        return found


SEEN = np.ones((1, 1))
IDENTITY = np.array([[1.0, 0.0, 0.0, 1.0, 0.0, 0.0]], dtype=np.float32)


@dataclass(frozen=True)
class _Outline:
    """A piece of an outline: its points (1 | n, 2k), one and then three for each curve, and whether it is closed."""

    points: Floats
    closed: bool

    def bezier(self, row: list[float]) -> dict[str, Any]:
        """At one frame, as the animation JSON has it: handles count from their points."""
        pairs = [row[i : i + 2] for i in range(0, len(row), 2)]
        corners, handles = pairs[::3], pairs
        coming, going = [[0.0, 0.0] for _ in corners], [[0.0, 0.0] for _ in corners]
        for at, corner in enumerate(corners):
            if at:
                coming[at] = _from(handles[3 * at - 1], corner)
            if at < len(corners) - 1:
                going[at] = _from(handles[3 * at + 1], corner)
        if self.closed and len(corners) > 1 and _near(corners[0], corners[-1]):
            coming[0] = coming.pop()
            corners = corners[:-1]
            going.pop()
        return {"c": self.closed, "v": [_rounded(one) for one in corners], "i": coming, "o": going}


def _outlines(verbs: str, points: Any, matrix: Column) -> list[_Outline]:
    """The pieces of an outline under a matrix, all as cubic curves."""
    numbers = np.asarray(_moved(np.asarray(points, dtype=np.float64), matrix))
    found: list[_Outline] = []
    piece: list[Floats] = []
    place = 0

    def end(closed: bool) -> None:
        if len(piece) > 1:
            found.append(_Outline(np.concatenate(piece, axis=1), closed))
        piece.clear()

    start = numbers[:, :2]
    for verb in verbs:
        taken = [numbers[:, place + 2 * i : place + 2 * i + 2] for i in range(TAKES[verb])]
        place += 2 * TAKES[verb]
        if verb == "M":
            end(False)
            piece.append(taken[0])
            start = taken[0]
        elif verb == "Z":
            end(True)
            piece.append(start)
        else:
            last = piece[-1]
            if verb == "L":
                piece += [last, taken[0], taken[0]]
            elif verb == "Q":
                piece += [last + (taken[0] - last) * (2 / 3), taken[1] + (taken[0] - taken[1]) * (2 / 3), taken[1]]
            else:
                piece += taken
    end(False)
    return found


def _moved(points: Floats, matrix: Any) -> Floats:
    """Points (1 | n, 2k) under matrices (1 | m, 6)."""
    under = np.asarray(matrix, dtype=np.float64)
    a, b, c, d, e, f = (under[:, [i]] for i in range(6))
    x, y = points[:, ::2], points[:, 1::2]
    moved = np.stack([a * x + c * y + e, b * x + d * y + f], axis=2)
    return np.asarray(moved.reshape(len(moved), -1))


def _still(values: dict[str, Any]) -> dict[str, Any]:
    return {name: {"a": 0, "k": value} for name, value in values.items()}


def _bare(row: Sequence[float]) -> Any:
    numbers = [round(float(one), 5) for one in row]
    return numbers[0] if len(numbers) == 1 else numbers


def _rounded(row: Sequence[float]) -> list[float]:
    return [round(float(one), 3) for one in row]


def _from(handle: Sequence[float], corner: Sequence[float]) -> list[float]:
    return [round(handle[0] - corner[0], 3), round(handle[1] - corner[1], 3)]


def _near(one: Sequence[float], other: Sequence[float]) -> bool:
    return abs(one[0] - other[0]) < 1e-4 and abs(one[1] - other[1]) < 1e-4


def _shifted(prop: dict[str, Any], left: float, top: float) -> dict[str, Any]:
    """A point's property counted from another corner."""
    if not prop["a"]:
        return {"a": 0, "k": [prop["k"][0] - left, prop["k"][1] - top]}
    return {"a": 1, "k": [key | {"s": [key["s"][0] - left, key["s"][1] - top]} for key in prop["k"]]}


def _is_identity(matrix: Column, shown: Floats) -> bool:
    return bool((matrix == IDENTITY).all() and (np.asarray(shown) == 1).all())


def _even(matrix: Any) -> bool:
    """Whether a matrix (1 | n, 6) makes a round of a round."""
    a, b, c, d = np.asarray(matrix, dtype=np.float64)[:, :4].T
    size = np.maximum(np.hypot(a, b), 1e-9)
    return bool((np.abs(a * c + b * d) < 1e-3 * size**2).all() and (np.abs(np.hypot(c, d) / size - 1) < 1e-3).all())


UNMOVED = _still({"a": [0, 0], "p": [0, 0], "s": [100, 100], "r": 0, "o": 100})
