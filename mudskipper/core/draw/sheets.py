"""The sheets that groups with effects are painted on: the group's own pixels, as large as they are in the scene.

Effects run along the axes of what they lie on, whatever turns it. So the parts of a group are painted on a sheet whose
axes are the group's, with as much around the picture as its effects reach; they run there, and the sheet is drawn into
the scene, bilinear. A group that is not turned has a sheet of the scene's own pixels, and nothing is drawn twice.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import COLLAPSED, UNMOVED, inverse, multiply
from .blurs import MOST_SHEET
from .inks import EffectInk, Layering
from .operations import EffectPaint, Effects, column

ALMOST = 1e-9
"""The share of its area at which a matrix has collapsed."""
EVERYWHERE = np.array([[-1e7, -1e7, 2e7, 2e7]])
ROOM, SHARE = 16.0, 0.1
"""Pixels, and the share of its size, by which what is painted may reach beyond its bounds."""
ASKEW = 1e-7
"""By how much a sheet of another scale is off from parallel to the pixels: no painter then takes a short cut."""


def reach_of(inks: Sequence[EffectInk]) -> Floats:
    """How far effects, one after another, reach beyond what they lie on: left, top, right, bottom (1 | n, 4), in the
    pixels of that."""
    return np.asarray(sum(ink.reach for ink in inks))


def grown(region: Floats, matrix: Floats, reach: Floats) -> Floats:
    """A region (1 | n, 4) of the outer space, left, top, right, bottom, and all of what lies within a reach of it in
    the pixels of a group under a matrix."""
    a, b, c, d = (matrix[:, i : i + 1] for i in range(4))
    ways = []
    for across, down in ((a, c), (b, d)):
        x = np.concatenate([-across * reach[:, :1], across * reach[:, 2:3]], axis=1)
        y = np.concatenate([-down * reach[:, 1:2], down * reach[:, 3:]], axis=1)
        ways.append((x.min(axis=1) + y.min(axis=1), x.max(axis=1) + y.max(axis=1)))
    (left, right), (top, bottom) = ways
    more = np.stack([left, top, right, bottom], axis=1)
    return np.asarray(region + more)


def effects_on(layering: Layering, matrix: Floats, region: Floats) -> Effects | None:
    """The effects of a group as operations, under a matrix (1 | n, 6) to the scene, of which a region (1 | n, 4) is to
    be right; None without any that acts."""
    inks = layering.effects
    if not any(ink.acts.any() for ink in inks):
        return None
    extent = EVERYWHERE if layering.extent is None else layering.extent
    count = max(len(matrix), len(region), len(extent), *(max(len(ink.acts), len(ink.reach)) for ink in inks))
    m, region = np.broadcast_to(matrix, (count, 6)), np.broadcast_to(region, (count, 4))
    reach = np.broadcast_to(reach_of(inks), (count, 4))
    axes = np.broadcast_to(UNMOVED, (count, 6)) if layering.filters else m
    sheet = _sheets(inks, axes, reach, region, np.broadcast_to(extent, (count, 4)))
    acts = np.any([np.broadcast_to(ink.acts, (count, 1)) for ink in inks], axis=0)
    there = multiply(sheet[:, :6], m)
    steps = tuple(
        EffectPaint(ink.kind, column(np.asarray(ink.acts, dtype=np.float64)), column(ink.numbers(there)))
        for ink in inks
    )
    return Effects(steps, column(np.where(acts, sheet, 0.0)))


def _sheets(inks: Sequence[EffectInk], m: Floats, reach: Floats, region: Floats, extent: Floats) -> Floats:
    """Sheets (n, 14), as `operations.Effects` has them; 0 where the matrix has collapsed, where nothing that is painted
    reaches the region, and where the scene would be less than a point of the sheet."""
    a, b, c, d = m[:, 0], m[:, 1], m[:, 2], m[:, 3]
    lengths = np.stack([np.hypot(a, b), np.hypot(c, d)], axis=1)
    area = a * d - b * c
    there = np.abs(area) > ALMOST * np.maximum(lengths[:, 0] * lengths[:, 1], 1e-300)
    share = np.min([ink.share(lengths) for ink in inks], axis=0)
    upright, turned = (b == 0) & (c == 0), (a == 0) & (d == 0)
    safe = np.where(there, area, 1.0)
    # Along the group's own axes; in the scene's pixels, where these are the same ways.
    scale = share * lengths
    own = np.stack([d * scale[:, 0], -b * scale[:, 1], -c * scale[:, 0], a * scale[:, 1]], axis=1) / safe[:, None]
    flat = np.zeros((len(m), 4))
    flat[:, 0], flat[:, 3] = np.where(turned, share[:, 1], share[:, 0]), np.where(turned, share[:, 0], share[:, 1])
    flat[:, 1] = np.where((share < 1).any(axis=1), ASKEW, 0.0)
    linear = np.where((upright | turned)[:, None], flat, own)
    both = np.maximum(reach, reach[:, [2, 3, 0, 1]])
    ends = _mapped(linear, grown(region, m, both))
    painted = grown(_mapped(multiply(_moved(linear), m), _with_room(extent)), multiply(_moved(linear), m), both)
    ends = np.concatenate([np.maximum(ends[:, :2], painted[:, :2]), np.minimum(ends[:, 2:], painted[:, 2:])], axis=1)
    there &= (ends[:, 2:] > ends[:, :2]).all(axis=1)
    ends = np.where(there[:, None], ends, 0.0)
    longest = np.maximum(ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1])
    less = np.minimum(1.0, MOST_SHEET / np.maximum(longest, 1.0))[:, None]
    linear = linear * less
    # Of so wide a blur the scene is less than a point: there is no way back from its sheet.
    there &= np.abs(linear[:, 0] * linear[:, 3] - linear[:, 1] * linear[:, 2]) >= COLLAPSED
    low, high = np.floor(ends[:, :2] * less) - 2, np.ceil(ends[:, 2:] * less) + 2
    to_sheet = np.concatenate([linear, -low], axis=1)
    whole = np.where(there[:, None], to_sheet, (1.0, 0.0, 0.0, 1.0, 0.0, 0.0))
    back = inverse(whole)
    assert back is not None
    return np.where(there[:, None], np.concatenate([whole, back, high - low], axis=1), 0.0)


def _with_room(extent: Floats) -> Floats:
    """left, top, right, bottom of what is painted, with room for what bounds leave out, such as caps on cusps."""
    room = ROOM + SHARE * extent[:, 2:]
    return np.concatenate([extent[:, :2] - room, extent[:, :2] + extent[:, 2:] + room], axis=1)


def _moved(linear: Floats) -> Floats:
    """Linear matrices (n, 4) as ones (n, 6) that move nothing."""
    return np.concatenate([linear, np.zeros((len(linear), 2))], axis=1)


def _mapped(matrix: Floats, region: Floats) -> Floats:
    """left, top, right, bottom (n, 4) of a region under matrices (n, 4 | 6)."""
    x, y = region[:, [0, 2, 2, 0]], region[:, [1, 1, 3, 3]]
    across = matrix[:, :1] * x + matrix[:, 2:3] * y
    down = matrix[:, 1:2] * x + matrix[:, 3:4] * y
    if matrix.shape[1] == 6:
        across, down = across + matrix[:, 4:5], down + matrix[:, 5:6]
    return np.stack([across.min(axis=1), down.min(axis=1), across.max(axis=1), down.max(axis=1)], axis=1)
