"""What a project's table is read with: the names of its media and colours, and the fonts that are at hand."""

from __future__ import annotations

from ..core.document.scene import Scene
from ..core.slots import Asked
from .store import Store


def asked_of(store: Store, project_id: str, scene: Scene) -> Asked:
    """By the project's media as they are called; two of one name are known by it as the one that came last."""
    assets = store.assets(project_id)
    media = {("picture", str(row.name).casefold()): str(row.id) for row in store.pictures.rows(project_id)
             if not row.removed}  # fmt: skip
    for row in store.clips.rows(project_id):
        if row.removed:
            continue
        kind = "clip" if assets.clips[str(row.id)].width else "sound"
        media[kind, str(row.name).casefold()] = str(row.id)
    colours = {name.casefold(): one.colour for name, one in store.presets.of(project_id, "colour").items()}
    return Asked(scene.frame_rate, media, colours, frozenset(assets.fonts.families))
