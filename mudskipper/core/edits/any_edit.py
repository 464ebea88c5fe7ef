"""Any edit, as requests and the history hold them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ..ground.kinds import union_of
from . import EDITS
from .base import Edit

AnyEdit: Any = Edit if TYPE_CHECKING else union_of(EDITS)
