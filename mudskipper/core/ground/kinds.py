"""Lists of kinds: a kind is a class of its own, and a line in the list of its folder."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Union

from pydantic import Field

from .base_model import Model


def union_of(kinds: Sequence[type[Model]]) -> Any:
    """The type of a field that holds any of these kinds."""
    if len(kinds) == 1:
        return kinds[0]
    return Annotated[Union[tuple(kinds)], Field(discriminator=kinds[0].told_by)]  # noqa: UP007
