"""Which scenes of a project show which, kept at hand so that no edit has to read them all."""

from __future__ import annotations

from collections.abc import Callable

from ..core.document.nesting import Shows
from ..core.document.scene import Scene


class ShownScenes:
    """What each scene of a project shows, as they stand; read once for a project."""

    def __init__(self, read: Callable[[str], dict[str, Shows]]) -> None:
        self._read = read
        self._projects: dict[str, dict[str, Shows]] = {}

    def of(self, project_id: str) -> dict[str, Shows]:
        """What each scene of a project shows; to be changed where one does."""
        found = self._projects.get(project_id)
        if found is None:
            found = self._projects.setdefault(project_id, self._read(project_id))
        return found

    def stands(self, project_id: str, scene: Scene) -> None:
        """Take note of a scene as it stands."""
        if project_id in self._projects:
            self._projects[project_id][scene.id] = Shows.of(scene)
