"""The scenes of a project as they stand."""

from __future__ import annotations

import zlib
from collections.abc import Callable, Iterator, Mapping

from ..core.document.scene import Scene
from ..core.ground.errors import Refused


class ProjectScenes(Mapping[str, Scene]):
    """Reads a scene of a project when it is asked for; those that cannot be read are not there."""

    def __init__(self, project_id: str, read: Callable[[str], tuple[str, Scene]], ids: Callable[[], list[str]]) -> None:
        self._project = project_id
        self._read = read
        self._ids = ids

    def __getitem__(self, scene_id: str) -> Scene:
        try:
            project, scene = self._read(scene_id)
        except (Refused, zlib.error):
            raise KeyError(scene_id) from None
        if project != self._project:
            raise KeyError(scene_id)
        return scene

    def __iter__(self) -> Iterator[str]:
        return iter(self._ids())

    def __len__(self) -> int:
        return len(self._ids())
