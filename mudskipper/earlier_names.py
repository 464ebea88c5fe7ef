"""The names that modules had before the core had rooms: scripts from outside that use them go on working.

`mudskipper.core.assets` is `mudskipper.core.contents.assets`, and so on: the same module under both names.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Sequence
from importlib import import_module
from importlib.abc import Loader, MetaPathFinder
from importlib.machinery import ModuleSpec
from types import ModuleType
from typing import Any

EARLIER = {
    "core.anchor_moves": "core.moves.anchor_moves",
    "core.as_path": "core.moves.as_path",
    "core.assets": "core.contents.assets",
    "core.base_model": "core.ground.base_model",
    "core.bezier": "core.geometry.bezier",
    "core.box_handles": "core.moves.box_handles",
    "core.carrying": "core.moves.carrying",
    "core.context": "core.resolve.context",
    "core.coverage": "core.geometry.coverage",
    "core.covered": "core.moves.covered",
    "core.curved_path": "core.geometry.curved_path",
    "core.draw.inner_scene": "core.resolve.inner_scene",
    "core.draw.layers": "core.resolve.drawing",
    "core.easing": "core.easings.batch",
    "core.easing_cut": "core.easings.cut",
    "core.easing_functions": "core.easings.functions",
    "core.easing_text": "core.easings.text",
    "core.errors": "core.ground.errors",
    "core.fewest_beziers": "core.geometry.fewest_beziers",
    "core.fewest_keys": "core.geometry.fewest_keys",
    "core.formula_trial": "core.edits.formula_trial",
    "core.formulas.evaluation": "core.resolve.formulas.evaluation",
    "core.formulas.scope": "core.resolve.formulas.scope",
    "core.framing": "core.document.framing",
    "core.held_picture": "core.moves.held_picture",
    "core.inserted_keys": "core.moves.inserted_keys",
    "core.inside": "core.document.items_as_layers",
    "core.items_resolved": "core.resolve.items",
    "core.keys": "core.moves.keys",
    "core.kinds": "core.ground.kinds",
    "core.layer_bounds": "core.resolve.bounds",
    "core.layer_cache": "core.resolve.cache",
    "core.loudness": "core.resolve.sound.loudness",
    "core.mask_from": "core.moves.mask_from",
    "core.masks": "core.shapes.masks",
    "core.matte": "core.document.matte",
    "core.mix": "core.resolve.sound.mix",
    "core.motion": "core.tracks.motion",
    "core.moved_motion": "core.moves.moved_motion",
    "core.nesting": "core.document.nesting",
    "core.not_showing": "core.checks.not_showing",
    "core.outline_track": "core.tracks.outline",
    "core.path_points": "core.shapes.path_points",
    "core.position_keys": "core.moves.position_keys",
    "core.properties": "core.document.properties",
    "core.resolved_layer": "core.resolve.layers",
    "core.scene": "core.document.scene",
    "core.shapes.values": "core.geometry.values",
    "core.shown": "core.ground.shown",
    "core.sound": "core.contents.audible",
    "core.source_time": "core.tracks.source_time",
    "core.speeds": "core.resolve.speeds",
    "core.stations": "core.ground.stations",
    "core.time": "core.ground.time",
    "core.transform": "core.geometry.transform",
    "core.typed_time": "core.ground.typed_time",
    "core.under_formula": "core.moves.under_formula",
    "core.upgrades": "core.document.upgrades",
    "core.variant_differences": "core.document.variant_differences",
    "core.walk": "core.tracks.walk",
    "core.waves": "core.resolve.sound.waves",
    "core.window": "core.resolve.window",
    "export.formats": "export.writers",
    "formats": "readers",
}


def today(name: str) -> str:
    """What a module is called today, by its name of before; empty where it had none."""
    for earlier, now in EARLIER.items():
        was = f"{__package__}.{earlier}"
        if name == was or name.startswith(f"{was}."):
            return f"{__package__}.{now}{name.removeprefix(was)}"
    return ""


def held_by(package: str, *parts: str) -> Callable[[str], Any]:
    """What gives the names that parts of a package hold, as attributes of the package itself."""

    def held(name: str) -> Any:
        for part in parts if not name.startswith("_") else ():
            found = getattr(import_module(f"{package}.{part}"), name, None)
            if found is not None:
                return found
        raise AttributeError(f"module {package!r} has no attribute {name!r}")

    return held


class _Finder(MetaPathFinder, Loader):
    """Gives the module of today for its name of before."""

    def find_spec(
        self, fullname: str, path: Sequence[str] | None = None, target: ModuleType | None = None
    ) -> ModuleSpec | None:
        own = fullname.startswith(f"{__package__}.")
        return ModuleSpec(fullname, self) if own and today(fullname) else None

    def create_module(self, spec: ModuleSpec) -> ModuleType:
        found = import_module(today(spec.name))
        spec.loader_state = found.__spec__
        return found

    def exec_module(self, module: ModuleType) -> None:
        """It ran under its own name, which it keeps."""
        assert module.__spec__ is not None
        module.__spec__ = module.__spec__.loader_state


def known() -> None:
    """Have the names of before found."""
    sys.meta_path.insert(0, _Finder())
