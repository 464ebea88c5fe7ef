"""What the core must know of a project's media."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated

from pydantic import Field

from .base_model import Id, Model, Whole
from .errors import Refused


class PictureInfo(Model):
    """What the core must know of a picture: its size in pixels."""

    id: Id
    width: Annotated[Whole, Field(ge=1)]
    height: Annotated[Whole, Field(ge=1)]


@dataclass(frozen=True)
class Assets:
    """A project's media by their ids."""

    pictures: Mapping[str, PictureInfo] = field(default_factory=dict)

    def picture(self, picture_id: str) -> PictureInfo:
        """A picture; Refused in words where the project has it no more."""
        found = self.pictures.get(picture_id)
        if found is None:
            raise Refused(
                f"The picture {picture_id} is not among the project's media.",
                where="content.asset",
                mend="Add the picture again, or delete the layer that shows it.",
            )
        return found


NO_MEDIA = Assets()
"""A project without any."""
