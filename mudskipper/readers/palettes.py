"""Palettes: colours with names, as GPL (text) and ASE (blocks) files."""

from __future__ import annotations

import re
import struct
from dataclasses import dataclass

import numpy as np

from ..core.ground.errors import Refused
from .text_files import text_of

MOST = 500


@dataclass(frozen=True)
class Swatch:
    """A colour (#rrggbbff) and its name."""

    name: str
    colour: str


def read_palette(data: bytes, name: str) -> list[Swatch]:
    """A palette by its content; Refused in words where it is none."""
    try:
        found = _exchange(data) if data.startswith(b"ASEF") else _text(data, name)
    except (struct.error, UnicodeDecodeError, IndexError):
        found = []
    if not found:
        raise Refused("There are no colours in it that can be read.", where=name, mend="Save it as GPL or ASE.")
    if len(found) > MOST:
        raise Refused(f"It holds {len(found):,} colours; {MOST} are the most.", where=name)
    return found


def _text(data: bytes, name: str) -> list[Swatch]:
    text = text_of(data, name)
    if not text.lstrip().startswith("GIMP Palette"):
        return []
    rows = re.findall(r"^[ \t]*(\d{1,3})[ \t]+(\d{1,3})[ \t]+(\d{1,3})[ \t]*(.*)$", text, re.MULTILINE)
    return [
        _swatch(label.strip(), [int(one) / 255 for one in numbers])
        for *numbers, label in rows
        if all(int(one) <= 255 for one in numbers)
    ]


def _exchange(data: bytes) -> list[Swatch]:
    _, _, blocks = struct.unpack(">HHI", data[4:12])
    place, found = 12, []
    for _ in range(min(blocks, 10_000)):
        kind, size = struct.unpack(">HI", data[place : place + 6])
        block = data[place + 6 : place + 6 + size]
        place += 6 + size
        if kind != 1:
            continue  # groups begin and end
        (letters,) = struct.unpack(">H", block[:2])
        label = block[2 : 2 + 2 * letters].decode("utf-16-be").rstrip("\0")
        rest = block[2 + 2 * letters :]
        model, numbers = rest[:4].decode("ascii"), rest[4:]
        count = {"RGB ": 3, "Gray": 1, "CMYK": 4, "LAB ": 3}.get(model, 0)
        values = list(struct.unpack(f">{count}f", numbers[: 4 * count])) if count else []
        if values:
            found.append(_swatch(label, _rgb(model, values)))
    return found


def _rgb(model: str, values: list[float]) -> list[float]:
    if model == "Gray":
        return values * 3
    if model == "CMYK":
        return [(1 - one) * (1 - values[3]) for one in values[:3]]
    return _of_lab(values) if model == "LAB " else values


def _of_lab(values: list[float]) -> list[float]:
    """CIELAB (D50; lightness 0…1) as sRGB, by the matrix of CSS Color 4, 10.4."""
    light = values[0] * 100
    fy = (light + 16) / 116
    f = np.array([fy + values[1] / 500, fy, fy - values[2] / 200])
    ratio = np.where(f > 6 / 29, f**3, (116 * f - 16) / 903.3)
    xyz = ratio * [0.9642956764295677, 1.0, 0.8251046025104602]
    matrix = np.array([
        [3.1341359569958707, -1.6173863321612538, -0.4906619460083532],
        [-0.978795502912089, 1.916254567259524, 0.03344273116131949],
        [0.07195537988411677, -0.2289768264158322, 1.405386058324125],
    ])  # fmt: skip
    linear = np.clip(matrix @ xyz, 0.0, 1.0)
    stored = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)
    return [float(one) for one in stored]


def _swatch(label: str, rgb: list[float]) -> Swatch:
    colour = "#" + bytes([*(round(min(max(one, 0.0), 1.0) * 255) for one in rgb), 255]).hex()
    return Swatch(label[:200] or colour[:7], colour)
