"""The easings that projects keep under names of their own."""

from __future__ import annotations

from pydantic import TypeAdapter

from ..core.easings.batch import Ease
from .connection import Connection
from .tables import PresetRow

EASES: TypeAdapter[Ease] = TypeAdapter(Ease)


class Presets:
    """Of all projects."""

    def __init__(self, connection: Connection) -> None:
        self._session, self._writing, self._project = connection.session, connection.writing, connection.project

    def of(self, project_id: str) -> dict[str, Ease]:
        """A project's own easings by name."""
        self._project(project_id)
        with self._session():
            rows = list(PresetRow.select().where(PresetRow.project_id == project_id).order_by(PresetRow.name))
        return {row.name: EASES.validate_json(row.ease) for row in rows}

    def keep(self, project_id: str, name: str, ease: Ease | None) -> None:
        """Keep an easing under a name, in place of one that had it; None takes it away."""
        self._project(project_id)
        with self._writing():
            PresetRow.delete().where((PresetRow.project_id == project_id) & (PresetRow.name == name)).execute()
            if ease is not None:
                ease_text = EASES.dump_json(ease).decode()
                PresetRow.create(project_id=project_id, name=name, ease=ease_text)
