"""Layers brought from one project into another, with the media, the fonts, the scenes, the styles and the named colours
that they need."""

from __future__ import annotations

import json
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from ..core.document.scene import Layer, Scene
from ..core.edits.layers import free_among
from .faults import Gone
from .pack import SHARED, pack, relinked, unpack
from .store import Store


def bring(store: Store, layers: tuple[Layer, ...], source: str, target: str) -> tuple[Layer, ...]:
    """Layers of the project `source` as they are in the project `target`: by the ids that what they need has there.
    What is there already, by its bytes, is used."""
    if source == target:
        return layers
    store.project(target)
    carried = Scene(name="Brought", width=1920, height=1080, length=max(one.span.end for one in layers) or 1)
    carried = carried.with_layers(_alone(layers))
    ids: dict[str, str] = {}
    with TemporaryDirectory(dir=store.folder / "cache") as work:
        for picture in sorted(carried.pictures):
            row = next((one for one in store.pictures.rows(source) if one.id == picture), None)
            if row is None:
                raise Gone("A picture of these layers is not there any more.")
            data = store.pictures.file(picture).read_bytes()
            ids[picture] = str(store.pictures.add(target, row.name, data).id)
        for clip in sorted(carried.clips):
            row_of = next((one for one in store.clips.rows(source) if one.id == clip), None)
            if row_of is None:
                raise Gone("A clip of these layers is not there any more.")
            part = store.clips.part()
            part.write_bytes(Path(store.clips.file(row_of).path).read_bytes())
            ids[clip] = str(store.clips.add(target, row_of.name, part)[0].id)
        families = {family for one in layers for family in getattr(one.content, "families", ())}
        for face in store.fonts.faces(source):
            if families & set(_families(face.facts)):
                store.fonts.add(target, Path(face.path).name, Path(face.path))
        if carried.scenes:
            path = Path(work) / "scenes.zip"
            pack(store, source, path, tuple(sorted(carried.scenes)), stays=True)
            ids |= unpack(store, path, target, "scenes").ids
    _bring_shared(store, carried, source, target)
    return relinked(carried, ids).layers


def _bring_shared(store: Store, carried: Scene, source: str, target: str) -> None:
    """Keep the styles and the named colours that layers follow in another project, too, under free names; one that is
    there by its id is the one that they follow then."""
    text = carried.to_json()
    for kind in SHARED:
        there = store.presets.of(target, kind)
        known, taken = {one.id for one in there.values()}, set(there)
        for name, one in store.presets.of(source, kind).items():
            if one.id not in known and f'"{one.id}"' in text:
                free = free_among(taken, name)
                taken.add(free)
                store.presets.keep(target, kind, free, one)


def _alone(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
    """Layers that lean on none but each other."""
    there = {one.id for one in layers}
    found = []
    for one in layers:
        changes: dict[str, Any] = {}
        if one.carrier is not None and one.carrier not in there:
            changes["carrier"] = None
        if one.matte is not None and one.matte.layer not in there:
            changes["matte"] = None
        found.append(one.model_copy(update=changes))
    return tuple(found)


def _families(facts: str) -> list[str]:
    told = json.loads(facts)
    return [str(told.get("family", ""))]
