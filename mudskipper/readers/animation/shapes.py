"""Shapes of animation JSON as items: each outline with the fills and strokes that stand after it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ...core.geometry.transform import matrices
from ...core.shapes.path import PathShape
from .outlines import Outline, drawn, joined, moved
from .paints import Box, colour, gradient, stroke
from .properties import moves, number, path_track, still, track

OUTLINES = ("sh", "rc", "el", "sr")
PAINTS = {"fl": "fill", "gf": "fill", "st": "stroke", "gs": "stroke"}
LEFT = {
    "mm": "merged paths", "zz": "zigzags", "pb": "pucker and bloat", "tw": "twists", "op": "offset paths",
    "rd": "rounded corners of paths",
}  # fmt: skip
NO_COUNT = "outlines whose points change in number"
NO_SKEW = "skews"
NO_TRIM = "the fills of outlines that are drawn in part (they are whole)"
NO_JOIN = "shapes that are filled as one and move apart (each is filled by itself)"
NO_BEGIN = "where dashes begin on outlines that are drawn in part"
NO_STEADY = "gradients of outlines that change (they change along)"
NO_FADE = "copies that fade from one to the next"
NO_TURNED_PART = "outlines that are drawn in part one after another (each is by itself)"


Drawn = tuple[dict[str, Any], Outline]
"""A shape of the file, and its outline."""


@dataclass
class Shapes:
    """Reads the shapes of a layer; `shift` is added to the frames of keys, what is left out goes to `notes`."""

    shift: float
    notes: dict[str, None] = field(default_factory=dict)

    def items(self, shapes: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Items back to front."""
        return self._within(shapes, (), None)

    def outline(self, shape: dict[str, Any]) -> dict[str, Any] | None:
        """One outline as a path without paint; None where it cannot be one."""
        made = drawn(shape, self.shift)
        if made is None:
            self.notes[NO_COUNT] = None
            return None
        return {"shape": "path", "contours": made[0], "points": made[1]}

    def _within(
        self, shapes: list[dict[str, Any]], paints: tuple[dict[str, Any], ...], trim: dict[str, Any] | None
    ) -> list[dict[str, Any]]:
        """The first stands in front; what paints, and what changes outlines, is for all that stand before it."""
        found: list[dict[str, Any]] = []
        together: list[Drawn] = []
        copied: list[tuple[dict[str, Any], list[dict[str, Any]]]] = []

        def close() -> None:
            found.extend(self._painted(together, paints, trim))
            together.clear()

        for shape in reversed(shapes):
            if shape.get("ty") == "gr" and shape.get("hd"):
                continue
            kind = shape.get("ty")
            if kind in PAINTS:
                close()
                if not shape.get("hd"):
                    paints = (*paints, shape)
            elif kind == "tm":
                close()
                if shape.get("m") == 2:
                    self.notes[NO_TURNED_PART] = None
                trim = shape
            elif kind == "rp":
                close()
                # What is copied is all that stands before it.
                copied.append((shape, found))
                found = []
            elif kind == "gr":
                plain = self._plain(shape) if paints and trim is None else None
                if plain is not None:
                    together += reversed(plain)
                    continue
                close()
                if paints:
                    self.notes[NO_JOIN] = None
                made = self._group(shape, paints, trim)
                found += [made] if made else []
            elif kind in OUTLINES:
                together += self._drawn(shape)
            elif kind in LEFT:
                self.notes[LEFT[kind]] = None
        close()
        for repeater, after in reversed(copied):
            found = [*after, *([self._copies(repeater, found)] if found else [])]
        return found

    def _drawn(self, shape: dict[str, Any]) -> list[Drawn]:
        if shape.get("hd"):
            return []
        made = drawn(shape, self.shift)
        if made is None:
            self.notes[NO_COUNT] = None
        return [] if made is None else [(shape, made)]

    def _plain(self, group: dict[str, Any]) -> list[Drawn] | None:
        """The outlines of a group that holds nothing else and stands still, in the pixels of what it lies in: what is
        painted from outside is one with what stands beside it. None where it is otherwise."""
        inner = group.get("it", [])
        tr: dict[str, Any] = next((one for one in inner if one.get("ty") == "tr"), {})
        if any(_position_moves(tr.get(name)) for name in "apsro") or still(tr.get("o"), 1, [100]) != [100]:
            return None
        found: list[Drawn] = []
        for shape in inner:
            if shape.get("ty") == "gr":
                within = self._plain(shape)
                if within is None:
                    return None
                found += within
            elif shape.get("ty") in OUTLINES:
                found += self._drawn(shape)
            elif shape.get("ty") != "tr":
                return None
        if self.transform(tr) is None:
            return found
        (scale, (turn,)) = still(tr.get("s"), 2, [100, 100]), still(tr.get("r"), 1, [0])
        anchor, position = (np.array([still(tr.get(name), 2, [0, 0])]) for name in ("a", "p"))
        matrix = matrices(anchor, position, np.array([scale]), np.array([turn]))[0]
        # Only paths keep under it what they are.
        return [({**shape, "ty": "sh"}, moved(outline, matrix)) for shape, outline in found]

    def _group(
        self, group: dict[str, Any], paints: tuple[dict[str, Any], ...], trim: dict[str, Any] | None
    ) -> dict[str, Any] | None:
        inner = group.get("it", [])
        items = self._within([one for one in inner if one.get("ty") != "tr"], paints, trim)
        if not items:
            return None
        moved = next((self.transform(one) for one in inner if one.get("ty") == "tr"), None)
        if moved is None and len(items) == 1 and "name" not in items[0]:
            return {**items[0], **_named(group)}
        return {"shape": "group", "items": items, **_named(group), **({"transform": moved} if moved else {})}

    def transform(self, tr: dict[str, Any]) -> dict[str, Any] | None:
        """An item's transform; None where it leaves everything as it is."""
        if any(still(tr.get("sk"), 1, [0])) or moves(tr.get("sk")):
            self.notes[NO_SKEW] = None
        parts = [("a", 2, [0, 0]), ("p", 2, [0, 0]), ("s", 2, [100, 100]), ("r", 1, [0]), ("o", 1, [100])]
        if not any(_position_moves(tr.get(name)) for name, _, _ in parts) and all(
            still(tr.get(name), dims, default) == default for name, dims, default in parts if not _apart(tr.get(name))
        ) and not _apart(tr.get("p")):  # fmt: skip
            return None
        return placed(tr, self.shift)

    def _copies(self, copied: dict[str, Any], items: list[dict[str, Any]]) -> dict[str, Any]:
        step = copied.get("tr", {})
        (x, y) = still(step.get("a"), 2, [0, 0])
        if any(still(step.get(name), 1, [100]) != [100] for name in ("so", "eo")):
            self.notes[NO_FADE] = None
        shift = self.shift
        (first,) = still(copied.get("o"), 1, [0])
        move = still(step.get("p"), 2, [0, 0])
        (turn,), grow = still(step.get("r"), 1, [0]), still(step.get("s"), 2, [100, 100])
        return {
            "shape": "group", "items": items,
            "transform": {
                "anchor": {"rest": [x, y], "pinned": False},
                "position": [x + move[0] * first, y + move[1] * first], "rotation": turn * first,
                "scale": [100 * (max(one, 0.0) / 100) ** first for one in grow],
            },
            "repeat": {
                "copies": track(copied.get("c"), 1, [1], shift, lambda row: min(max(round(row[0]), 1), 500)),
                "move": track(step.get("p"), 2, [0, 0], shift, list),
                "turn": number(step.get("r"), 0.0, shift), "grow": track(step.get("s"), 2, [100, 100], shift, list),
            },
        }  # fmt: skip

    def _painted(
        self, outlines: list[Drawn], paints: tuple[dict[str, Any], ...], trim: dict[str, Any] | None
    ) -> list[dict[str, Any]]:
        """Outlines that stand together, back to front, under their paints, the first of which lies at the back."""
        if not outlines or not paints:
            return []
        if len(outlines) > 1:
            whole = joined([outline for _, outline in outlines])
            if whole is None:
                self.notes[NO_JOIN] = None
            else:
                outlines = [({**outlines[0][0], "ty": "sh"}, whole)]
        return [one for shape, outline in outlines for one in self._inked(shape, outline, paints, trim)]

    def _inked(
        self, shape: dict[str, Any], outline: Outline, paints: tuple[dict[str, Any], ...], trim: dict[str, Any] | None
    ) -> list[dict[str, Any]]:
        base = self._shape(shape, outline, plain=trim is None and not any(paint.get("d") for paint in paints))
        box = _box(outline)
        found: list[dict[str, Any]] = []
        for paint in paints:
            inked = PAINTS[paint["ty"]]
            if paint["ty"] in ("gf", "gs"):
                ink = gradient(paint, self.shift, box, self.notes)
                if "keys" in outline[1]:
                    self.notes[NO_STEADY] = None
            else:
                ink = colour(paint, self.shift)
            if inked == "fill":
                if trim is not None:
                    self.notes[NO_TRIM] = None
                rule = {"fill_rule": "evenodd"} if paint.get("r") == 2 else {}
                found.append({**base, "fill": ink, **rule})
            else:
                line = stroke(paint, self.shift, ink, self.notes)
                if trim is not None and "dashes" in line:
                    self.notes[NO_BEGIN] = None
                if trim is not None:
                    line["part"] = self._part(trim)
                # A stroke on top of a fill is the same shape's.
                if found and "stroke" not in found[-1]:
                    found[-1]["stroke"] = line
                else:
                    found.append({**base, "stroke": line})
        return found

    def _part(self, trim: dict[str, Any]) -> dict[str, Any]:
        return {
            "start": number(trim.get("s"), 0.0, self.shift), "end": number(trim.get("e"), 100.0, self.shift),
            "shift": number(trim.get("o"), 0.0, self.shift, 1 / 3.6),
        }  # fmt: skip

    def _shape(self, shape: dict[str, Any], outline: Outline, *, plain: bool) -> dict[str, Any]:
        """The shape of its kind, where no line depends on where its outline begins; else a path."""
        if plain and shape["ty"] in ("rc", "el"):
            made = {
                "at": track(shape.get("p"), 2, [0, 0], self.shift, list),
                "size": track(shape.get("s"), 2, [0, 0], self.shift, lambda row: [max(one, 0.0) for one in row]),
                **_named(shape),
            }  # fmt: skip
            if shape["ty"] == "el":
                return {"shape": "ellipse", **made}
            corners = track(shape.get("r"), 1, [0], self.shift, lambda row: max(row[0], 0.0))
            return {"shape": "rectangle", "corners": corners, **made}
        contours, points = outline
        return {"shape": "path", "contours": contours, "points": points, **_named(shape)}


def placed(tr: dict[str, Any], shift: float, factor: tuple[float, float] = (1.0, 1.0)) -> dict[str, Any]:
    """Anchor, position, scale, rotation and opacity as a document has them; the content's pixels are `factor` times
    as many as the file has."""

    def sized(row: list[float]) -> list[float]:
        return [row[0] / factor[0], row[1] / factor[1]]

    def counted(row: list[float]) -> list[float]:
        return [row[0] * factor[0], row[1] * factor[1]]

    return {
        "anchor": track(tr.get("a"), 2, [0, 0], shift, counted, pinned=False),
        "position": path_track(tr.get("p"), shift),
        "scale": track(tr.get("s"), 2, [100, 100], shift, sized),
        "rotation": number(tr.get("r", tr.get("rz")), 0.0, shift),
        "opacity": track(tr.get("o"), 1, [100], shift, lambda row: min(max(row[0], 0.0), 100.0)),
    }


def _apart(prop: Any) -> bool:
    return isinstance(prop, dict) and prop.get("s") is True


def _position_moves(prop: Any) -> bool:
    return moves(prop) or (_apart(prop) and any(moves(prop.get(axis)) for axis in ("x", "y")))


def _named(shape: dict[str, Any]) -> dict[str, Any]:
    name = shape.get("nm")
    return {"name": name[:200]} if isinstance(name, str) and name else {}


def _box(outline: Outline) -> Box:
    contours, points = outline
    shape = PathShape.model_validate({"shape": "path", "contours": contours, "points": points["rest"]})
    left, top, wide, high = (float(one) for one in shape.still_box[0]) if shape.still_box is not None else (0, 0, 1, 1)
    return left, top, wide, high
