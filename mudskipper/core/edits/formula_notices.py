"""What an edit says of formulas: where what it wrote is not seen, since the formula does not read it, and where a
formula went into keys."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from ..document.properties import label_of, track_of
from ..document.scene import Layer, Scene
from ..moves.under_formula import reads_base
from ..tracks.base import Track

if TYPE_CHECKING:
    from .base import EditContext


def formula_notices(before: Scene, after: Scene, *, layers_alone: bool) -> list[str]:
    """A sentence for each formula of a layer that hides what was written under it, or was written as keys.

    With `layers_alone` what lies in layers is left out: items that were laid elsewhere are others than before."""
    if after.layers is before.layers:
        return []
    found: list[str] = []
    for layer in after.layers:
        place = before.places.get(layer.id)
        was = layer if place is None else before.layers[place]
        if was is not layer and was.formulas:
            found += _of_layer(was, layer, layers_alone)
    return found


def _of_layer(was: Layer, now: Layer, layers_alone: bool) -> list[str]:
    hidden: list[str] = []
    keyed: list[str] = []
    for path in was.formulas:
        if layers_alone and path.startswith(("content.", "masks.")):
            continue
        old, new = was.tracks[path], now.tracks.get(path)
        if new is None:
            # A position in two that became one, or the other way round.
            new = now.tracks.get("position") if path.startswith("position") else None
            if new is None:
                continue
        if new.formula is None and new is not old:
            keyed.append(label_of(path, now).lower())
        elif new.formula == old.formula and _values(new) != _values(old) and not reads_base(new):
            hidden.append(label_of(path, now).lower())
    said: list[str] = []
    if hidden:
        said.append(unread(now, hidden))
    if keyed:
        said.append(written_as_keys(now, keyed))
    return said


def written_as_keys(layer: Layer, labels: list[str]) -> str:
    """What is said where formulas of properties became keys."""
    return f"The formula of {_and(labels)} of '{layer.name}' was written as keys."


def unread(layer: Layer, labels: list[str]) -> str:
    """What is said where properties are changed under formulas that do not read it."""
    return (
        f"The formula of {_and(labels)} of '{layer.name}' does not read base, so what was changed there is not seen. "
        "Write base + … in it, or take it off."
    )


def say_unseen(layer: Layer, after: Layer, names: Iterable[str], context: EditContext) -> None:
    """Say of properties that were to be seen elsewhere, or otherwise, whose formulas do not let them."""
    for name in names:
        track = track_of(layer, name)
        if track.formula is None:
            continue
        label = label_of(name, layer).lower()
        said = (
            f"The formula of {label} of '{after.name}' does not let it come there."
            if reads_base(track)
            else unread(after, [label])
        )
        if said not in context.notices:
            context.notices.append(said)


def _values(track: Track) -> tuple[object, ...]:
    """What is written under a formula; when its keys stand does not count."""
    return track.rest, tuple(key.value for key in track.keys)


def _and(names: list[str]) -> str:
    return " and ".join(dict.fromkeys(names))
