"""The sound of the demo's film: surf, and a bell on the flash of the lighthouse."""

from __future__ import annotations

import numpy as np

from .harbour import FILM_FRAMES, FLASH

RATE = 48_000
BELL = FLASH * RATE // 30
"""The sample on which the bell is struck."""


def harbour_sound() -> np.ndarray:
    """Samples (2, n), −1…1, of the whole film."""
    count = FILM_FRAMES * RATE // 30
    at = np.arange(count) / RATE
    dice = np.random.default_rng(30)
    sides = []
    for late in (0.0, 0.4):
        noise = np.cumsum(dice.normal(0, 1, count))
        noise -= np.convolve(noise, np.ones(800) / 800, "same")
        swell = 0.35 + 0.65 * np.sin((at - late) * 2 * np.pi / 3.6) ** 2
        sides.append(noise / noise.std() * swell * 0.075)
    struck = np.clip(at - BELL / RATE, 0, None)
    partials = ((520.0, 1.0, 1.1), (1044.0, 0.55, 1.8), (1562.0, 0.4, 2.6), (2190.0, 0.25, 4.0))
    bell = sum(height * np.sin(2 * np.pi * pitch * struck) * np.exp(-struck * fall) for pitch, height, fall in partials)
    ringing = np.where(at >= BELL / RATE, bell, 0.0) * 0.3
    start = np.clip(at / 0.5, 0, 1)
    return np.clip(np.stack(sides) * start + ringing, -1, 1).astype(np.float32)
