"""Any edit, as requests and the history hold them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any

from ..ground.kinds import OneOf
from . import EDITS
from .base import Edit

AnyEdit: Any = Edit if TYPE_CHECKING else Annotated[Any, OneOf(EDITS)]
