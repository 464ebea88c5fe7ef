"""Letters that are others while a cascade moves them: elsewhere on the axes of their font, or scrambled; and the caret
behind those that have come."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..formulas.random_numbers import hashed
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..text.fonts import Face, face_named, is_layer
from ..text.layout import Places, Setting, bare
from .cascade import Cascade
from .cascade_units import Units

OTHERS = 8
"""How many letters each is scrambled through."""
HELD = 2.0
"""Frames for which a scrambled letter is the same."""
SETS = ("ABCDEFGHJKLMNPRSTUVXYZ", "abcdefghknopqrstuvxyz", "0123456789")


@dataclass(frozen=True)
class Told:
    """What a cascade tells of each letter (n, g): how much of its values it has, and how far it is on its way, 0…1."""

    cascade: Cascade
    values: Values
    units: Units
    share: Floats
    far: Floats


def names_at(setting: Setting, frames: int) -> NDArray[np.object_]:
    """The names of the glyphs at each frame (n, g), "" where a frame has none."""
    found = np.empty((frames, len(setting.names)), dtype=object)
    found[:] = np.array(setting.names, dtype=object)
    for at, names in setting.styled:
        found[at] = np.array(names, dtype=object)
    return found


def on_axes(setting: Setting, told: Told) -> tuple[Setting, Floats] | None:
    """A text whose letters are drawn elsewhere on the axes of their font; and by how many ems each goes on further
    (n, g). None where its fonts have none of these axes."""
    frames, count = told.share.shape
    names = names_at(setting, frames)
    wider = np.zeros((frames, count))
    wanted = [
        (axis.tag, np.broadcast_to(told.values[f"axes.{index}.value"], (frames, 1))[:, 0])
        for index, axis in enumerate(told.cascade.axes)
    ]
    changed = False
    for row, slot in np.argwhere(told.share != 0):
        name = names[row, slot]
        if not name or is_layer(name):
            continue
        share = float(told.share[row, slot])
        other, more = _elsewhere(name, tuple((tag, float(to[row])) for tag, to in wanted), round(share, 4))
        if other != name:
            names[row, slot], wider[row, slot], changed = other, more, True
    if not changed:
        return None
    styled = tuple((np.array([row]), tuple(names[row].tolist())) for row in range(frames))
    places = np.broadcast_to(setting.places, (frames, setting.places.shape[1]))
    return replace(setting, styled=styled, places=places), wider


@lru_cache(maxsize=65_536)
def _elsewhere(name: str, wanted: tuple[tuple[str, float], ...], share: float) -> tuple[str, float]:
    """The name of a glyph by a share of the way to places on axes, and by how many ems it goes on further there."""
    key, _, glyph = name.rpartition(":")
    face = face_named(key)
    there = face.moved_to({tag: to for tag, to in wanted}, share)
    if there.key == key:
        return name, 0.0
    return f"{there.key}:{glyph}", there.advance(int(glyph)) - face.advance(int(glyph))


def scrambled(setting: Setting, told: Told, local: Floats) -> tuple[Setting, Places]:
    """A text whose letters, until they have arrived, or from when they begin to go, are others of their kind in turn;
    and the numbers of those in whose place the letters stand that it has more."""
    frames, count = told.share.shape
    others = [_others(bare(name), told.cascade.seed) for name in setting.names]
    away = told.share != 0
    turn = np.floor(local / HELD)
    # By the letter and not by the glyph, which is of one here and of another there where a text reflows.
    letter = np.broadcast_to(setting.belongs[:, :, 0], (frames, count))
    picked = np.floor(hashed(turn[:, None] * 977.0 + letter, np.array([[told.cascade.seed]])) * OTHERS)
    slots = [slot for slot in range(count) for _ in others[slot]]
    which = [number for one in others for number in range(len(one))]
    if not slots:
        return setting, np.zeros(0, dtype=np.intp)
    some = np.array(slots, dtype=np.intp)
    swapped = np.array([bool(one) for one in others])
    own = np.broadcast_to(setting.seen, (frames, count)) * ~(away & swapped)
    of = picked % np.maximum(np.array([len(one) for one in others]), 1)
    more = np.broadcast_to(setting.seen, (frames, count))[:, some] * away[:, some] * (of[:, some] == np.array(which))
    glyphs = [glyph for one in others for glyph in one]
    shift = np.array([by for _, by in glyphs]) * setting.size[:, some]
    places = setting.places.reshape(-1, count, 2)[:, some] + np.stack([shift, 0 * shift], axis=2)

    def with_more(column: Floats, width: int) -> Floats:
        """A column (1 | n, width · g) with those of the letters in the place of others."""
        each = column.reshape(len(column), count, width)
        return np.concatenate([each, each[:, some]], axis=1).reshape(len(column), -1)

    rows = max(len(places), len(setting.places))
    both = np.concatenate(
        [
            np.broadcast_to(setting.places.reshape(-1, count, 2), (rows, count, 2)),
            np.broadcast_to(places, (rows, len(some), 2)),
        ],
        axis=1,
    )
    made = replace(
        setting, names=(*setting.names, *_in_place(setting.names, slots, glyphs)),
        units=np.concatenate([setting.units, setting.units[some]]),
        parts=np.concatenate([setting.parts, setting.parts[some]]), places=both.reshape(rows, -1),
        size=with_more(setting.size, 1), lines=with_more(setting.lines, 4),
        seen=np.concatenate([own, more], axis=1).astype(np.float64), widths=with_more(setting.widths, 1),
        cells=with_more(setting.cells, 4),
        belongs=np.concatenate([setting.belongs, setting.belongs[:, some]], axis=1),
        turns=None if setting.turns is None else with_more(setting.turns, 2),
        styled=tuple((at, (*names, *_in_place(names, slots, glyphs))) for at, names in setting.styled),
    )  # fmt: skip
    return made, some


def _in_place(names: Sequence[str], slots: Sequence[int], glyphs: Sequence[tuple[int, float]]) -> Iterator[str]:
    """The names of glyphs in the place of some letters: in the faces of these, "" where there is none."""
    for slot, (glyph, _) in zip(slots, glyphs, strict=True):
        key, _, _ = names[slot].rpartition(":")
        yield f"{key}:{glyph}" if key else ""


@lru_cache(maxsize=16_384)
def _others(name: str, seed: int) -> tuple[tuple[int, float], ...]:
    """Letters in the place of one: of capitals capitals, of figures figures, each with the shift in ems by which it
    stands in the middle of what the one takes up. None of signs, and of scripts that have no capitals."""
    if not name or is_layer(name):
        return ()
    key, _, number = name.rpartition(":")
    face, glyph = face_named(key), int(number)
    kind = next((letters for letters in SETS if glyph in _glyphs(face, letters)), None)
    if kind is None:
        return ()
    known = _glyphs(face, kind)
    drawn = hashed(np.arange(float(OTHERS)) + 31.0 * glyph, np.array([float(seed)]))
    wide = face.advance(glyph)
    picked = [known[int(share * len(known))] for share in drawn]
    return tuple((one, (wide - face.advance(one)) / 2) for one in picked)


@lru_cache(maxsize=512)
def _glyphs(face: Face, letters: str) -> tuple[int, ...]:
    return tuple(glyph for letter in letters if (glyph := face.glyph(letter)))


def caret_of(setting: Setting, told: Told) -> tuple[Floats, Floats]:
    """Where a caret stands (n, 8), the corners of a bar behind the last letter that has come; and whether (n, 1): from
    when the first begins until the last has."""
    frames, _ = told.share.shape
    units = told.units
    most = units.box.shape[1]
    come = np.zeros((frames, most))
    of = np.broadcast_to(units.of, told.far.shape)
    np.maximum.at(come, (np.arange(frames)[:, None], of), told.far)
    begun = (come > 0) if told.cascade.way != "out" else (come < 1)
    number = np.broadcast_to(np.arange(most)[None], begun.shape)
    last = np.where(begun, number, -1).max(axis=1)
    there = (last >= 0) & (last < np.broadcast_to(units.count, (frames,)) - 1)
    row, at = np.arange(frames), np.maximum(last, 0)
    box = np.broadcast_to(units.box, (frames, most, 4))[row, at]
    size = np.broadcast_to(setting.size, (frames, setting.size.shape[1])).max(axis=1)
    left, wide = box[:, 0] + box[:, 2] + 0.06 * size, 0.07 * size
    top, low = box[:, 1] + 0.12 * box[:, 3], box[:, 1] + 0.88 * box[:, 3]
    corners = np.stack([left, top, left + wide, top, left + wide, low, left, low], axis=1).reshape(frames, 4, 2)
    origin, way = (np.broadcast_to(one, (frames, most, 2))[row, at] for one in (units.origin, units.way))
    cos, sin = way[:, None, 0], way[:, None, 1]
    x, y = corners[:, :, 0], corners[:, :, 1]
    placed = origin[:, None] + np.stack([cos * x - sin * y, sin * x + cos * y], axis=2)
    return placed.reshape(frames, 8), there[:, None].astype(np.float64)
