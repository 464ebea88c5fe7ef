"""Edits of what checks find."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..document.scene import CheckName, Scene
from ..ground.base_model import Flag, LayerId
from .base import Edit, EditContext, name_of


class LeaveFinding(Edit):
    """Leave what a check finds in a layer as it is, so that it no longer counts; or let it count again."""

    takes_items: ClassVar[bool] = False

    edit: Literal["leave_finding"] = "leave_finding"
    layer: LayerId
    check: CheckName
    leave: Flag = True

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = scene.layer(self.layer)
        others = tuple(name for name in layer.unchecked if name != self.check)
        left = (*others, self.check) if self.leave else others
        return scene.with_layer(layer.model_copy(update={"unchecked": left}))

    def words(self, scene: Scene) -> str:
        what = f"the {self.check} of {name_of(scene, self.layer)}"
        return f"Left {what} as it is" if self.leave else f"Checks {what} again"
