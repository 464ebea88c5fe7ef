"""Values that came from a table, written as keys."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import NO_FORMULA, label_of, remade, track_of, with_track
from ..document.scene import Scene
from ..geometry.fewest_beziers import eased_keys
from ..geometry.fewest_keys import fitted_keys
from ..ground.base_model import LayerId, Number
from ..ground.errors import Refused
from ..tracks.base import KeyFrame
from ..tracks.colour import Colour, ColourTrack
from ..tracks.kinds import TextTrack
from ..tracks.outline import OutlineTrack
from .base import Edit, EditContext, label_in, name_of, unlocked
from .values_and_keys import PropertyName, refuse_unplaced

MOST_VALUES = 200_000


class KeysFromValues(Edit):
    """Write the values of a property at frames of the scene, in order, as the fewest keys, straight or eased, that are
    nowhere further off than `near`, in the property's unit; its keys and its formula go. A value is a list of as many
    numbers as the property has, or a colour."""

    sets_formulas: ClassVar[bool] = True
    takes_items: ClassVar[bool] = False

    edit: Literal["keys_from_values"] = "keys_from_values"
    layer: LayerId
    property: PropertyName
    frames: Annotated[tuple[KeyFrame, ...], Field(min_length=1, max_length=MOST_VALUES)]
    values: Annotated[tuple[tuple[Number, ...] | Colour, ...], Field(min_length=1, max_length=MOST_VALUES)]
    near: Annotated[float, Field(strict=True, gt=0, le=1e6)] = 0.05

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        refuse_unplaced(layer, self.property)
        track = track_of(layer, self.property)
        label = label_of(self.property, layer)
        if isinstance(track, TextTrack | OutlineTrack):
            raise Refused(f"{label} of '{layer.name}' takes no numbers.", where="property")
        if len(self.frames) != len(self.values):
            raise Refused(
                f"{len(self.frames)} frames and {len(self.values)} values were given.", where="frames",
                mend="Give a value for each frame.",
            )  # fmt: skip
        if list(self.frames) != sorted(set(self.frames)):
            raise Refused("The frames must stand in order, each once.", where="frames")
        rows = self._rows(isinstance(track, ColourTrack), track.dims, label)
        local = np.array(self.frames, dtype=np.float64) - layer.span.start
        straight = isinstance(track, ColourTrack) or (np.diff(local) != 1).any()
        near = max(self.near, 1.0) if isinstance(track, ColourTrack) else self.near
        fitted = fitted_keys(local, rows, near) if straight else eased_keys(local, rows, near)
        if isinstance(track, ColourTrack):
            fitted = [{**key, "value": _hex(key["value"])} for key in fitted]
        fields: dict[str, Any] = {"rest": fitted[0]["value"], "keys": fitted if len(fitted) > 1 else ()}
        fields |= {**NO_FORMULA, "cadence": None, "before": "hold", "after": "hold"}
        if isinstance(track, ColourTrack):
            fields |= {"mix": "srgb", "named": None}
        return scene.with_layer(with_track(layer, self.property, remade(track, self.property, **fields)))

    def _rows(self, colour: bool, dims: int, label: str) -> np.ndarray:
        """The values as numbers (n, d); Refused where one is of another kind."""
        rows = []
        for frame, value in zip(self.frames, self.values, strict=True):
            row = list(bytes.fromhex(value[1:])) if isinstance(value, str) else list(value)
            if isinstance(value, str) != colour or len(row) != dims:
                told = "a colour #rrggbb" if colour else "a number" if dims == 1 else f"{dims} numbers"
                raise Refused(f"{label} takes {told}, and {value!r} was given for frame {frame:g}.", where="values")
            rows.append(row)
        return np.array(rows, dtype=np.float64)

    def words(self, scene: Scene) -> str:
        what = label_in(scene, self.layer, self.property).lower()
        return f"Wrote {len(self.values)} values of {what} of {name_of(scene, self.layer)} as keys"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.property


def _hex(value: Any) -> str:
    return "#" + bytes(int(min(max(round(part), 0), 255)) for part in value).hex()
