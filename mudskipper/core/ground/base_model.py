"""What every part of the document is made of: a frozen model and numbers with bounds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints


class Model(BaseModel):
    """Frozen; unknown fields are refused; NaN and infinity are no numbers."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)
    told_by: ClassVar[str] = ""
    """The field that tells kinds of it apart, where there are several."""
    aside: ClassVar[frozenset[str]] = frozenset()
    """The fields whose tracks rest: they are none of its properties."""
    shown_elsewhere: ClassVar[frozenset[str]] = frozenset()
    """The fields whose parts are shown as those of the same kind elsewhere: no patterns of their own are made."""

    def __eq__(self, other: object) -> bool:
        """Equal by fields alone, whatever is cached beside them."""
        if self is other:
            return True
        if type(self) is not type(other):
            return NotImplemented
        return all(getattr(self, name) == getattr(other, name) for name in type(self).model_fields)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy with fields changed; what is cached on the original is not copied."""
        copy = super().model_copy(update=update, deep=deep)
        for name in copy.__dict__.keys() - type(self).model_fields.keys():
            del copy.__dict__[name]
        return copy


Number = Annotated[float, Field(strict=True, ge=-1e6, le=1e6)]
Whole = Annotated[int, Field(strict=True, ge=-1_000_000, le=1_000_000)]
Flag = Annotated[bool, Field(strict=True)]
MOST_NAME = 200
Name = Annotated[str, StringConstraints(strict=True, strip_whitespace=True, min_length=1, max_length=MOST_NAME)]
Id = Annotated[str, StringConstraints(strict=True, pattern=r"^[A-Za-z0-9_-]{1,64}$")]


def _media(text: str) -> str:
    parts = text.split("/")
    if any(part.strip() in ("", ".", "..") for part in parts) or not text.isprintable() or "\\" in text:
        raise ValueError(
            'must be the id of what the project has, or a file in the scene\'s folder, such as "harbour.mp4"'
        )
    return text


MediaName = Annotated[str, StringConstraints(strict=True, min_length=1, max_length=MOST_NAME), AfterValidator(_media)]
"""A picture, a clip, a sound or a scene: by its id in a project, as its file is called in a folder of files."""


@dataclass(frozen=True)
class Names:
    """In the annotation of a field that names layers, or items and masks of them by their addresses, or what these lie
    in (`around`). An edit of items is made of what its fields name (`edits/of_items`)."""

    around: bool = False


Address = Annotated[str, StringConstraints(strict=True, pattern=r"^[A-Za-z0-9_-]{1,64}(/(@|[0-9a-z]{1,12})){0,32}$")]
WholeLayer = Annotated[Id, Names()]
"""A layer by its id."""
LayerId = Annotated[Address, Names()]
"""A layer by its id, or an item or a mask of it by its address: see `inside`."""
Around = Annotated[Address, Names(around=True)]
"""What items lie in, by its address."""
Ids = Annotated[
    tuple[LayerId, ...], Field(min_length=1, max_length=5_000), AfterValidator(lambda ids: tuple(dict.fromkeys(ids)))
]
"""Layers by their ids; one that is named twice counts once."""
Pair = tuple[Number, Number]
