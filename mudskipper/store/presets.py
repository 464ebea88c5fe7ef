"""What projects keep under names of their own: easings, cascades, looks, colours, styles of texts, motions, exports,
scenes to start from."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, TypeAdapter

from ..core.contents.text_style import TextStyle
from ..core.document.read import scene_of
from ..core.document.scene import Scene
from ..core.easings.batch import Ease
from ..core.effects import Effects
from ..core.ground.base_model import Id, Model
from ..core.recipes.cascades import KeptCascade
from ..core.recipes.kept_motion import KeptMotion
from ..core.tracks.colour import Colour
from ..export.choices import PLAIN, Choices
from .connection import Connection
from .tables import PresetRow


class KeptColour(Model):
    """A colour of a project; what follows it knows it by its id."""

    id: Id
    colour: Colour


class KeptStyle(Model):
    """A style of texts of a project; texts that follow it know it by its id."""

    id: Id
    look: TextStyle


class KeptExport(Model):
    """A format of files, and what was chosen of it."""

    kind: Annotated[str, Field(max_length=40)]
    choices: Choices = PLAIN


def _scene(given: Any) -> Any:
    """A document of any version that can be read."""
    return given if isinstance(given, Scene) else scene_of(given, "starter")


PresetKind = Literal["easing", "cascade", "look", "colour", "style", "motion", "export", "starter"]
KINDS: dict[PresetKind, TypeAdapter[Any]] = {
    "easing": TypeAdapter(Ease), "cascade": TypeAdapter(KeptCascade), "look": TypeAdapter(Effects),
    "colour": TypeAdapter(KeptColour), "style": TypeAdapter(KeptStyle),
    "motion": TypeAdapter(KeptMotion), "export": TypeAdapter(KeptExport),
    "starter": TypeAdapter(Annotated[Scene, BeforeValidator(_scene)]),
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
                text = KINDS[kind].dump_json(value, by_alias=True).decode()
                PresetRow.create(project_id=project_id, kind=kind, name=name, value=text)
