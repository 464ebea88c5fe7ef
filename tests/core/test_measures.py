"""What a picture measures, against counts written pixel by pixel."""

from __future__ import annotations

import numpy as np

from mudskipper.core.draw.measures import LEVELS, histogram, waveform


def test_a_waveform_and_a_histogram_count_pixels() -> None:
    dice = np.random.default_rng(5)
    for wide, high in ((96, 7), (150, 20), (33, 4), (1, 1)):
        pixels = dice.integers(0, 256, (high, wide, 4), dtype=np.uint8)
        pixels[..., 3] = dice.choice([0, 128, 255], (high, wide))
        columns = min(96, wide)
        wave, lights = np.zeros((columns, LEVELS), dtype=int), np.zeros((3, LEVELS), dtype=int)
        for y in range(high):
            for x in range(wide):
                seen = [int(part) * int(pixels[y, x, 3]) / 255 for part in pixels[y, x, :3]]
                bright = round(0.2126 * seen[0] + 0.7152 * seen[1] + 0.0722 * seen[2])
                wave[x * columns // wide, bright * LEVELS // 256] += 1
                for part in range(3):
                    lights[part, round(seen[part]) * LEVELS // 256] += 1
        assert (waveform(pixels) == wave).all()
        assert (histogram(pixels) == lights).all()
