"""Vector art from outside: SVG or a page of a PDF, read in a child process with limits, as layers of a scene."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import ValidationError

from ..core.contents.assets import NO_MEDIA
from ..core.contents.shape import ShapeContent
from ..core.contents.text import TextContent
from ..core.document.framing import Crop
from ..core.document.scene import Layer, Scene, Span
from ..core.geometry.bezier import Floats
from ..core.geometry.transform import apply, linear_part, matrices
from ..core.ground.errors import Refused, refusal_of
from ..core.resolve.context import Context
from ..core.shapes import Group, Item, ItemTransform
from ..core.text.families import INSTALLED, PLAIN, installed
from ..core.text.fonts import Font
from ..core.tracks.kinds import NumberTrack, PathTrack
from ..core.tracks.motion import AnchorTrack
from ..core.tracks.walk import evaluated, tracks_in

MOST_BYTES = 24 * 1024 * 1024
SECONDS = 30
SPECK = 0.5
"""Pixels by which art may reach past its frame before it is cropped to that."""
GENERIC = {"serif": "Source Serif 4", "cursive": "Caveat", "fantasy": "Bricolage Grotesque"}


@dataclass(frozen=True)
class Art:
    """Art of a size in pixels: its parts back to front, as `svg.art.read_art` has them, and what it could not keep."""

    name: str
    width: float
    height: float
    parts: list[dict[str, Any]]
    notes: tuple[str, ...]

    @property
    def groups(self) -> int:
        """How many layers it makes where each of its top groups becomes one."""
        return len(_bundles(self._opened(), each=True))

    @property
    def weight(self) -> int:
        """How many shapes it holds, at any depth; a text takes as long as four."""
        return sum(4 * len(part["texts"]) + _shapes_in(part["items"]) for part in self.parts)

    def layers(self, span: Span, at: tuple[float, float] = (0.0, 0.0), *, each: bool = False) -> tuple[Layer, ...]:
        """Layers back to front, with the top left corner of the art at a point of the scene: one of all shapes, or with
        `each` one of each top group; texts are layers of their own, and part the shapes before them from those after.

        The anchor is in the middle of each layer's box. Refused in words where the art holds more than a layer can.
        """
        try:
            return self._made(span, at, each=each)
        except ValidationError as error:
            raise refusal_of(error, self.name) from None

    def _made(self, span: Span, at: tuple[float, float], *, each: bool) -> tuple[Layer, ...]:
        found: list[Layer] = []
        for name, items, texts, reach in _bundles(self._opened() if each else self.parts, each=each):
            if items:
                # A layer is a group already.
                alone = items[0] if len(items) == 1 and name and not {"masks", "transform"} & items[0].keys() else {}
                found.append(
                    self._shapes(name or self.name, alone.get("items", items), span, at, crops=self._crops(reach))
                )
            found += self._texts(texts, span, at)
        return tuple(found)

    def scene(self) -> Scene:
        """A scene of the art's own size, with nothing behind it."""
        length = 150
        size = {"width": max(round(self.width), 1), "height": max(round(self.height), 1), "length": length}
        layers = self.layers(Span(start=0, length=length))
        return Scene(name=self.name, layers=layers, **size)

    def _opened(self) -> list[dict[str, Any]]:
        """The parts; those within it where the art is but one group that does nothing else."""
        if len(self.parts) != 1 or len(self.parts[0]["items"]) != 1 or self.parts[0]["texts"]:
            return self.parts
        (item,) = self.parts[0]["items"]
        if item["shape"] != "group" or "masks" in item or "transform" in item:
            return self.parts
        return [
            {**self.parts[0], "name": one["name"], "group": one["shape"] == "group", "items": [one]}
            for one in item["items"]
        ]

    def _crops(self, reach: list[list[float]]) -> bool:
        """Whether something reaches past the frame of the art, which cuts it off."""
        ends = (self.width + SPECK, self.height + SPECK)
        return any(min(box[:2]) < -SPECK or box[2] > ends[0] or box[3] > ends[1] for box in reach)

    def _shapes(
        self, name: str, items: list[dict[str, Any]], span: Span, at: tuple[float, float], *, crops: bool
    ) -> Layer:
        content: ShapeContent = ShapeContent.model_validate({"kind": "shape", "items": items})
        content = content.model_copy(update={"items": tuple(_centred(item) for item in content.items)})
        layer = Layer(name=name, content=content, span=span)
        if crops:
            layer = layer.model_copy(update={"crop": Crop.around(np.array([0.0, 0.0, self.width, self.height]))})
        one = Context(_alone(layer), NO_MEDIA).one(layer, span.start)
        x, y = (float(n) for n in one.anchor[0] + np.array(at))
        return layer.model_copy(update={"position": PathTrack(rest=(round(x, 4), round(y, 4)))})

    def _texts(self, runs: list[dict[str, Any]], span: Span, at: tuple[float, float]) -> list[Layer]:
        """Texts as layers whose first baselines begin where the runs do; all are set in one go."""
        layers = [self._text(run, span) for run in runs]
        scene = Scene(name="Art", width=1, height=1, length=1, layers=tuple(layers))
        placed = []
        for run, one in zip(runs, Context(scene, NO_MEDIA).resolve(layers, [span.start]), strict=True):
            baseline = float(one.baselines[0, 0])
            step: Floats = linear_part(one.values["scale"], one.values["rotation"][:, 0])[0]
            x, y = np.array([run["x"], run["y"]]) + np.array(at) + step @ (one.anchor[0] - np.array([0.0, baseline]))
            place = PathTrack(rest=(round(float(x), 4), round(float(y), 4)))
            placed.append(one.layer.model_copy(update={"position": place}))
        return placed

    def _text(self, run: dict[str, Any], span: Span) -> Layer:
        content = TextContent(
            text=run["text"][:5_000], font=_font(run), size=NumberTrack(rest=max(min(run["size"], 10_000.0), 0.1)),
            align=run["align"], fill=run["fill"],
            tracking=NumberTrack(rest=min(max(run["spacing"] / run["size"] * 1000, -1000.0), 10_000.0)),
        )  # fmt: skip
        return Layer(
            name=content.default_name, content=content, span=span, rotation=NumberTrack(rest=run["rotation"]),
            opacity=NumberTrack(rest=run["opacity"] * 100),
        )  # fmt: skip


def read_art(data: bytes, name: str) -> Art:
    """Take an SVG file or the first page of a PDF in; Refused in words where it is none, or holds what is never taken
    in."""
    stem = re.sub(r"\.(svg|pdf)$", "", name.rsplit("/", 1)[-1], flags=re.IGNORECASE).strip()[:200] or "Art"
    if len(data) > MOST_BYTES:
        raise Refused(
            f"Art may hold at most {MOST_BYTES // 2**20} MB, and this one holds {len(data) / 2**20:.0f} MB.",
            where=name, mend="Save it smaller, then add it again.",
        )  # fmt: skip
    try:
        child = subprocess.run(
            [sys.executable, "-m", "mudskipper.readers.svg"], input=data, capture_output=True, timeout=SECONDS
        )
    except subprocess.TimeoutExpired:
        raise Refused(f"It could not be read within {SECONDS} seconds.", where=name, mend="Simplify it.") from None
    if child.returncode < 0 or b"MemoryError" in child.stderr:
        raise Refused("It takes more memory or time to read than it may.", where=name, mend="Simplify it.")
    if child.returncode != 0:
        raise Refused("It is written in a way that cannot be read.", where=name, mend="Save it again as plain SVG.")
    answer = json.loads(child.stdout)
    if "refused" in answer:
        raise Refused(answer["refused"], where=name, mend=answer["mend"])
    if not answer["parts"]:
        raise Refused("There is nothing in it that could be seen.", where=name, mend="Choose another file.")
    notes = [*answer["notes"], *_missing_fonts(answer["parts"])]
    return Art(stem, answer["width"], answer["height"], answer["parts"], tuple(notes))


def notes_in_words(notes: tuple[str, ...]) -> str:
    """What did not come in as it is in the file, as one sentence; empty where all did.

    >>> notes_in_words(("filters", "markers"))
    'Not taken in, or not as in the file: filters and markers.'
    """
    if not notes:
        return ""
    listed = notes[0] if len(notes) == 1 else f"{', '.join(notes[:-1])} and {notes[-1]}"
    return f"Not taken in, or not as in the file: {listed}."


Bundle = tuple[str, list[dict[str, Any]], list[dict[str, Any]], list[list[float]]]


def _bundles(parts: list[dict[str, Any]], *, each: bool) -> list[Bundle]:
    """Names, shapes and texts of the layers that parts make, and what these take up in the art."""
    found: list[Bundle] = []
    open_ = False
    for part in parts:
        own = each and part["group"]
        if not open_ or own:
            found.append(("", [], [], []))
        name, items, texts, reach = found[-1]
        items += part["items"]
        texts += part["texts"]
        reach += [part["reach"]] if part["reach"] else []
        found[-1] = (part["name"] if own else name, items, texts, reach)
        # Shapes after a text lie in front of it, and so in a layer of their own.
        open_ = not own and not part["texts"]
    return found


def _shapes_in(items: list[dict[str, Any]]) -> int:
    return sum(1 + _shapes_in(item.get("items", [])) for item in items)


def _alone(layer: Layer) -> Scene:
    return Scene(name="Art", width=1, height=1, length=1, layers=(layer,))


def _centred(item: Item) -> Item:
    """An item with the anchors that are fixed at the origin pinned to the middles of their boxes, at any depth."""
    if isinstance(item, Group):
        item = item.model_copy(update={"items": tuple(_centred(one) for one in item.items)})
    own = item.transform
    if own is None or own.anchor.pinned:
        return item
    box = item.box(evaluated(dict(tracks_in(item)), np.zeros(1), 30.0))[0]
    middle = box[:2] + box[2:] / 2
    place: Any = own.position
    matrix = matrices(
        np.array([own.anchor.rest]), np.array([place.rest]), np.array([own.scale.rest]), np.array([own.rotation.rest])
    )
    x, y = apply(matrix[0], middle)
    position = PathTrack(rest=(float(x), float(y)))
    moved: ItemTransform = own.model_copy(update={"anchor": AnchorTrack(rest=(0.5, 0.5)), "position": position})
    return item.model_copy(update={"transform": moved})


def _font(run: dict[str, Any]) -> Font:
    """The installed font that is nearest to what a text names."""
    family = installed()[_family(run["family"])[0]]
    weight = min(max(int(run["weight"]), family.lightest), family.heaviest)
    return Font(family=family.name, weight=weight, italic=run["italic"] and family.italic)


def _family(text: str) -> tuple[str, bool]:
    """The installed family that fits a list of names best, and whether it is in that list."""
    names = [name.strip().strip("'\"") for name in text.split(",") if name.strip()]
    for name in names:
        there = next((one for one in installed() if one.lower() == name.lower()), None)
        if there:
            return there, True
    generic = next((GENERIC[name.lower()] for name in names if name.lower() in GENERIC), PLAIN)
    generic = INSTALLED.family_of(generic).name
    return generic, not names or names[0].lower() in (*GENERIC, "sans-serif", "system-ui")


def _missing_fonts(parts: list[dict[str, Any]]) -> list[str]:
    """The fonts that are not installed, in words."""
    found: dict[str, str] = {}
    for part in parts:
        for run in part["texts"]:
            family, named = _family(run["family"])
            if not named:
                found[run["family"].split(",")[0].strip().strip("'\"")[:60]] = family
    return [f"the font {name} (set in {family})" for name, family in found.items()]
