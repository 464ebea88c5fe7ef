"""What a formula that is being written would give: its values over the layer's span, what is wrong with it, what looks
wrong, and what each name in it is at a frame. Nothing is changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..contents.assets import Assets
from ..document.properties import shown_of
from ..document.scene import Scene
from ..formulas.hints import hints_of
from ..formulas.language import program_of
from ..formulas.problem import Faulty, FormulaProblem
from ..formulas.reader import plain_lines
from ..formulas.texts import Texts, texts_of
from ..geometry.bezier import Floats
from ..ground.errors import Refused
from ..resolve.formulas.scope import WRITTEN, Scope
from ..resolve.resolved import resolve
from . import apply_edits
from .formulas import SetFormula

MOST_POINTS = 240
MARK = "0.5 + 0.25 + 0.125"
"""A formula that nobody has, by which the path of an item's property in its layer is found."""


@dataclass(frozen=True)
class Trial:
    """Values with the formula and without it (n, d), at frames (n,): those of the span, and the one asked about last;
    of a text its code points."""

    frames: Floats
    values: Floats
    base: Floats
    path: str
    problem: FormulaProblem | None
    hints: tuple[FormulaProblem, ...]

    @property
    def text(self) -> str | None:
        """The text at the frame asked about; None where it is none, or is as it was typed."""
        return texts_of(self.values[-1:])[0] if self.path == WRITTEN and self.values.shape[1] else None


def tried(scene: Scene, assets: Assets, address: str, name: str, text: str, frame: float) -> Trial:
    """Try a formula of a property of a layer or an item, which may be locked; an empty one is none."""
    text = plain_lines(text)
    outer = address.split("/")[0]
    scene = _unlocked(scene, outer)
    path = _path(scene, assets, address, name)
    span = scene.layer(outer).span
    every = max(span.length // MOST_POINTS, 1)
    frames = np.concatenate([np.arange(span.start, span.end, every, dtype=np.float64), [frame]])

    def resolved(formula: str) -> tuple[Floats, FormulaProblem | None, FormulaProblem | None]:
        edit = SetFormula(layer=address, property=name, text=formula)
        after = apply_edits(scene, [edit], assets).scene
        whole = resolve(after, frames, assets, ids=[outer])
        one = whole.layers[outer]
        found = one.values.get(path, np.zeros((1, 0)))
        values = np.broadcast_to(found, (len(frames), found.shape[1]))
        return values, one.problems.get(path), whole.context.formulas.beyond.get((outer, path))

    base, _, _ = resolved("")
    values, problem, beyond = resolved(text) if text.strip() else (base, None, None)
    hints: list[FormulaProblem] = []
    if text.strip() and problem is None and path != WRITTEN:
        layer = scene.layer(outer)
        shares = path == "anchor" and layer.anchor.pinned
        hints = hints_of(text, shown_of(layer, path), values, base, shares)
        hints += [] if beyond is None else [beyond]
    return Trial(frames, values, base, path, problem, tuple(hints))


def values_of(
    scene: Scene, assets: Assets, address: str, name: str, texts: Sequence[str], frame: float
) -> list[Floats | Texts | None]:
    """What texts give at a frame where a formula of a property stands: numbers (1, d) or a text each; None where one
    gives nothing."""
    outer = address.split("/")[0]
    scene = _unlocked(scene, outer)
    path = _path(scene, assets, address, name)
    # Without its own formula the property is its base, so that nothing needs itself.
    bare = apply_edits(scene, [SetFormula(layer=address, property=name, text="")], assets).scene
    if path == WRITTEN:
        bare = apply_edits(bare, [SetFormula(layer=address, property=name, text="base")], assets).scene
    at = np.array([frame])
    resolved = resolve(bare, at, assets, ids=[outer])
    formulas, layer = resolved.context.formulas, bare.layer(outer)
    base = formulas.base(layer, layer.tracks[path], at)
    found: list[Floats | Texts | None] = []
    for text in texts:
        try:
            with np.errstate(all="ignore"):
                value = program_of(text).run(Scope(formulas, layer, path, at, base))
        except (Faulty, Refused):
            value = None
        finite = isinstance(value, Texts) or (value is not None and bool(np.isfinite(value).all()))
        found.append(value if finite else None)
    return found


def _unlocked(scene: Scene, layer_id: str) -> Scene:
    """The scene with a layer that may be changed: nothing of this is kept."""
    return scene.with_layer(scene.layer(layer_id).model_copy(update={"locked": False}))


def _path(scene: Scene, assets: Assets, address: str, name: str) -> str:
    """The path that a property of a layer or an item has in its layer."""
    if "/" not in address:
        return name
    outer = address.split("/")[0]
    marked = apply_edits(scene, [SetFormula(layer=address, property=name, text=MARK)], assets).scene
    return next(path for path, text in marked.layer(outer).formulas.items() if text == MARK)
