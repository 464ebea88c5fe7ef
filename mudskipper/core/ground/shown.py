"""What stands in the annotation of a property: its name, its unit and its range."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from pydantic import GetCoreSchemaHandler
from pydantic_core import CoreSchema, core_schema


@dataclass(frozen=True)
class Shown:
    """How a property is shown, in the annotation of its field: `Annotated[NumberTrack, Shown("Corners", "px")]`.

    `parts` names the numbers of a value, `role` is the colour it has everywhere, `step` that of a scrub; `linked` says
    that its parts go together. Values outside low…high are refused, in words that begin with `what`. What lies within
    it is called by `inside`, too, where it has one: `Line angle`. `noun` is what it is a part of, where that is one of
    several (a shape, a mask, an effect, a stop), and `told` that it is said which, even of the first.
    """

    label: str
    unit: str = ""
    parts: tuple[str, ...] = ("",)
    role: str = "size"
    step: float = 1.0
    linked: bool = False
    low: float | None = None
    high: float | None = None
    what: str = ""
    inside: str = ""
    noun: str = ""
    told: bool = False

    def within(self, outer: str, noun: str, told: bool) -> Shown:
        """The same as a part of what calls its own `outer`, one of several of a noun."""
        label = f"{outer} {self.label[0].lower()}{self.label[1:]}" if outer else self.label
        return replace(self, label=label, noun=noun, told=told)

    @property
    def is_point(self) -> bool:
        """Whether it is a place or a way (position, anchor, offset, centre), whose axes differ; no scale, no size."""
        return self.parts == ("x", "y") and self.low is None

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        schema = handler(source)
        if self.low is None or self.high is None:
            return schema
        return core_schema.no_info_after_validator_function(self._within, schema)

    def _within(self, track: Any) -> Any:
        """Refuse a track with a value outside low…high."""
        assert self.low is not None
        assert self.high is not None
        if track is None:
            return track
        for name, value in [("rest", track.rest), *((f"keys[{i}]", key.value) for i, key in enumerate(track.keys))]:
            for number in value if isinstance(value, tuple) else (value,):
                if not self.low <= number <= self.high:
                    rule = f"{self.what or self.label.lower()} must lie between {self.low:g} and {self.high:g}"
                    raise ValueError(f"{rule}, but {name} is {number:g}")
        return track
