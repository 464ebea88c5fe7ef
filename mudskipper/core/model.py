"""What every part of the document is made of: a frozen model and numbers with bounds."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints


class Model(BaseModel):
    """Frozen; unknown fields are refused; NaN and infinity are no numbers."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


Number = Annotated[float, Field(strict=True, ge=-1e6, le=1e6)]
Whole = Annotated[int, Field(strict=True, ge=-1_000_000, le=1_000_000)]
Flag = Annotated[bool, Field(strict=True)]
Name = Annotated[str, StringConstraints(strict=True, strip_whitespace=True, min_length=1, max_length=200)]
Id = Annotated[str, StringConstraints(strict=True, pattern=r"^[A-Za-z0-9_-]{1,64}$")]
Pair = tuple[Number, Number]
