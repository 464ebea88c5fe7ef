"""What projects keep under names of their own: easings, cascades, looks."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import TypeAdapter

from ..core.easings.batch import Ease
from ..core.effects import Effects
from ..core.recipes.cascades import KeptCascade
from .connection import Connection
from .tables import PresetRow

PresetKind = Literal["easing", "cascade", "look"]
KINDS: dict[PresetKind, TypeAdapter[Any]] = {
    "easing": TypeAdapter(Ease), "cascade": TypeAdapter(KeptCascade), "look": TypeAdapter(Effects),
}  # fmt: skip


class Presets:
    """Of all projects."""

    def __init__(self, connection: Connection) -> None:
        self._session, self._writing, self._project = connection.session, connection.writing, connection.project

    def of(self, project_id: str, kind: PresetKind) -> dict[str, Any]:
        """What a project keeps of a kind, by name."""
        self._project(project_id)
        mine = (PresetRow.project_id == project_id) & (PresetRow.kind == kind)
        with self._session():
            rows = list(PresetRow.select().where(mine).order_by(PresetRow.name))
        return {row.name: KINDS[kind].validate_json(row.value) for row in rows}

    def keep(self, project_id: str, kind: PresetKind, name: str, value: Any) -> None:
        """Keep something under a name, in place of what had it; None takes it away."""
        self._project(project_id)
        mine = (PresetRow.project_id == project_id) & (PresetRow.kind == kind) & (PresetRow.name == name)
        with self._writing():
            PresetRow.delete().where(mine).execute()
            if value is not None:
                text = KINDS[kind].dump_json(value).decode()
                PresetRow.create(project_id=project_id, kind=kind, name=name, value=text)
