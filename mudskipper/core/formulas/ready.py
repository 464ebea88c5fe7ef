"""Ready formulas by need, in plain words, with their few numbers as fields; for a number, a pair and a text."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any


@dataclass(frozen=True)
class Field:
    """A number of a ready formula: `{name}` stands for it in the text. `unit` is its own; `=` is the property's."""

    name: str
    label: str
    value: float
    unit: str = ""


@dataclass(frozen=True)
class Form:
    """A ready formula: `{layer}` and `{property}` stand in it for another layer and the property."""

    text: str
    fields: tuple[Field, ...] = ()

    @property
    def filled(self) -> str:
        """The text with the fields as they are at first."""
        text = self.text
        for field in self.fields:
            text = text.replace(f"{{{field.name}}}", f"{field.value:g}")
        return text


@dataclass(frozen=True)
class Ready:
    """A need, and the formulas that meet it: of a property of one number, of a pair, of a text."""

    need: str
    number: Form | None = None
    pair: Form | None = None
    text: Form | None = None

    def as_document(self) -> dict[str, Any]:
        """Plain data."""
        return asdict(self)


_X, _Y = Field("x", "x", 30, "="), Field("y", "y", 0, "=")
_RATE, _LATER = Field("rate", "Times a second", 1), Field("later", "Later", 0.2, "s")
_LAYER = 'scene["{layer}"].{property}'
_DISTANCE = Form(f"base + {_LAYER} - {_LAYER}.at(0)")
_FOLLOW = Form(f"{_LAYER}.at(t - {{later}})", (_LATER,))
_END = Field("end", "Up to", 100)

READY = [
    Ready("turn or grow steadily",
          Form("base + t * {speed}", (Field("speed", "A second", 30, "="),)), Form("base + t * ({x}, {y})", (_X, _Y))),
    Ready("wander",
          Form("base + wander({rate}, {reach})", (_RATE, Field("reach", "At most", 10, "="))),
          Form("base + wander({rate}, ({x}, {y}))", (_RATE, _X, Field("y", "y", 20, "=")))),
    Ready("follow another layer, a little later", _FOLLOW, _FOLLOW),
    Ready("count up",
          Form("min(t * {speed}, {end})", (Field("speed", "A second", 25), _END)),
          Form("base + min(t * {speed}, {end})", (Field("speed", "A second", 25, "="), _END)),
          Form('format(min(t * {speed}, {end}), "0")', (Field("speed", "A second", 25), _END))),
    Ready("keep the distance", _DISTANCE, _DISTANCE),
    Ready("pulse on the beat",
          Form("base + {by} * (1 - beat.phase) ** 2", (Field("by", "By", 20, "="),)),
          Form("base * (1 + {by} / 100 * (1 - beat.phase) ** 2)", (Field("by", "By", 20, "%"),))),
    Ready("swing like a pendulum",
          Form("base + {reach} * cos(t * tau / {swing}) * exp(-t / {calm})",
               (Field("reach", "At most", 30, "="), Field("swing", "A swing takes", 2, "s"),
                Field("calm", "Calm after", 2, "s"))),
          Form("base + ({reach} * cos(t * tau / {swing}) * exp(-t / {calm}), 0)",
               (Field("reach", "At most", 60, "="), Field("swing", "A swing takes", 2, "s"),
                Field("calm", "Calm after", 2, "s")))),
    Ready("look at a point",
          Form("angle_to((scene.width * {x}, scene.height * {y}))",
               (Field("x", "Across", 0.5), Field("y", "Down", 0.5))),
          Form("(scene.width * {x}, base.y)", (Field("x", "Across", 0.5),))),
    Ready("run as a clock", text=Form('format(t + {start}, "0:00")', (Field("start", "From", 0, "s"),))),
    Ready("write letter by letter", text=Form("letters(base, t * {speed})", (Field("speed", "Letters a second", 12),))),
]  # fmt: skip
