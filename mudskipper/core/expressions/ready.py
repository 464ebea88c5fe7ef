"""Ready formulas by need, in plain words; for one number and for a pair."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Ready:
    """A need, and the formulas that meet it: of a property of one number, and of a pair."""

    need: str
    number: str
    pair: str


READY = [
    Ready("turn or grow steadily", "base + t * 30", "base + t * (30, 0)"),
    Ready("wander", "base + wander(1, 10)", "base + wander(1, (30, 20))"),
    Ready("follow another layer, a little later", 'layer("{layer}").{property}.at(t - 0.2)',
          'layer("{layer}").{property}.at(t - 0.2)'),
    Ready("count up", "min(t * 25, 100)", "base + min(t * 25, 100)"),
    Ready("keep the distance", 'base + layer("{layer}").{property} - layer("{layer}").{property}.at(0)',
          'base + layer("{layer}").{property} - layer("{layer}").{property}.at(0)'),
    Ready("pulse on the beat", "base + 20 * (1 - beat.phase) ** 2", "base * (1 + 0.2 * (1 - beat.phase) ** 2)"),
    Ready("swing like a pendulum", "base + 30 * cos(t * tau / 2) * exp(-t / 2)",
          "base + (60 * cos(t * tau / 2) * exp(-t / 2), 0)"),
    Ready("look at a point", "angle_to((scene.width / 2, scene.height / 2))", "(scene.width / 2, base.y)"),
]  # fmt: skip
