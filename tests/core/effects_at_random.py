"""Effects of every kind at random, with some of their values in motion."""

from __future__ import annotations

import random
from typing import Any

RANGES: dict[str, dict[str, Any]] = {
    "two-tone": {"dark": "#12454fff", "light": "#ffb27ae0", "amount": (20, 100)},
    "tones": {"brightness": (-30, 30), "contrast": (-40, 80), "saturation": (0, 220), "hue": (-180, 180),
              "exposure": (-1, 1), "temperature": (-60, 60), "black": ((0, 20), (0, 10)),
              "white": ((80, 100), (90, 100)), "gamma": (0.5, 2),
              "drawn": [[], [[0.0, 0.0], [0.4, 0.7], [1.0, 1.0]], [[0.2, 0.9], [0.5, 0.3], [0.8, 0.1]]]},
    "colour-wash": {"colour": "#d24b1ec0", "amount": (10, 100), "shaded": [True, False]},
    "gradient-map": {"amount": (30, 100)},
    "soft-blur": {"amount": ((0, 20), (0, 20))},
    "directional-blur": {"length": (3, 90), "angle": (-90, 90)},
    "turn-blur": {"angle": (1, 60), "centre": ((0, 100), (0, 100))},
    "zoom-blur": {"amount": (2, 60), "centre": ((0, 100), (0, 100))},
    "shadow": {"blur": (0, 14), "offset": ((-20, 20), (-20, 20)), "distance": (0, 9), "spread": (0, 80),
               "inner": [True, False]},
    "glow": {"blur": (2, 14), "strength": (10, 260), "own": [True, False]},
    "outline": {"width": (0.5, 14), "colour": "#ffd23fe0"},
    "grain": {"amount": (5, 60), "size": (1, 6), "coloured": [True, False], "still": [True, False]},
    "noise-field": {"size": ((20, 200), (20, 200)), "evolution": (0, 9), "contrast": (50, 300), "amount": (40, 100)},
    "vignette": {"amount": (20, 100), "size": (20, 90), "softness": (5, 90), "centre": ((20, 80), (20, 80))},
    "pixels": {"size": ((2, 30), (2, 30))},
    "halftone": {"size": (4, 20), "angle": (-60, 60), "amount": (50, 100), "paper": "#fff8ea80"},
    "stripes": {"period": (6, 50), "left": (10, 90), "angle": (-90, 90), "softness": (0, 8), "shift": (-40, 40)},
    "key-out": {"colour": "#0e6b61ff", "tolerance": (5, 40), "softness": (1, 50), "spill": (0, 100)},
    "bulge": {"amount": (-80, 200), "radius": (20, 150), "centre": ((20, 80), (20, 80))},
    "wave": {"height": (2, 20), "length": (20, 200), "angle": (-90, 90), "phase": (0, 360)},
    "corner-pin": {"top_left": ((-20, 30), (-20, 30)), "bottom_right": ((70, 130), (70, 130))},
    "perspective-turn": {"about_x": (-50, 50), "about_y": (-60, 60), "distance": (200, 900)},
}  # fmt: skip


def effect(dice: random.Random, kind: str, moving: float = 0.3) -> dict[str, Any]:
    """An effect of a kind."""

    def number(low: float, high: float) -> float:
        return round(dice.uniform(low, high), 2)

    made: dict[str, Any] = {"effect": kind}
    for name, given in RANGES[kind].items():
        if isinstance(given, str):
            made[name] = given
        elif isinstance(given, list):
            made[name] = dice.choice(given)
        else:
            pair = isinstance(given[0], tuple)
            first, last = ([number(*one) for one in given] if pair else number(*given) for _ in range(2))
            made[name] = {"rest": first}
            if dice.random() < moving:
                made[name]["keys"] = [{"frame": 0, "value": first}, {"frame": 50, "value": last}]
    return made
