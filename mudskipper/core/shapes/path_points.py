"""Geometry of paths: points with handles from and to outlines, the nearest place on one, cuts, smooth points.

Points are arrays (…, m, 6): x, y, and the handles in pixels from there, that on which a curve arrives and that on which
one leaves. A contour is a run of them, open or closed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..draw.bounds import points_at
from ..draw.operations import TAKES
from ..geometry.bezier import Floats

MET = 1e-6
"""Pixels within which two points are one."""


@dataclass(frozen=True)
class Run:
    """A contour: its first point, how many it has, and whether it is closed."""

    first: int
    count: int
    closed: bool

    @property
    def segments(self) -> int:
        """The curves between its points."""
        return self.count if self.closed and self.count > 1 else self.count - 1

    def after(self, point: int) -> int:
        """The point after one, round past the end."""
        return self.first + (point - self.first + 1) % self.count

    def before(self, point: int) -> int:
        """The point before one, round past the start."""
        return self.first + (point - self.first - 1) % self.count


def runs(contours: Any) -> list[Run]:
    """The contours of a path (each with a `count` and whether `closed`) with their places."""
    found, first = [], 0
    for one in contours:
        found.append(Run(first, one.count, one.closed))
        first += one.count
    return found


def curves(points: Floats, run: Run) -> Floats:
    """The curves of a contour (…, segments, 4, 2)."""
    at = points[..., run.first : run.first + run.count, :]
    place = at[..., :2]
    leave, arrive = place + at[..., 4:], place + at[..., 2:4]
    ends, arrive = (np.roll(part, -1, axis=-2) for part in (place, arrive))
    return np.stack([place, leave, arrive, ends], axis=-2)[..., : run.segments, :, :]


def outlined(points: Floats, contours: list[Run], bent: Floats) -> tuple[str, Floats]:
    """Verbs and points (n, 2k) of an outline from points (n, m, 6); `bent` (m, 2) says of which points a curve arrives,
    and of which one leaves, at any time."""
    verbs, out = [], []
    for run in contours:
        verbs.append("M")
        out.append(points[:, run.first, :2])
        pieces = curves(points, run)
        for number in range(run.segments):
            here, there = run.first + number, run.after(run.first + number)
            curved = bool(bent[here, 1] or bent[there, 0])
            if curved:
                verbs.append("C")
                out += [pieces[:, number, i] for i in (1, 2, 3)]
            elif number < run.count - 1:
                verbs.append("L")
                out.append(pieces[:, number, 3])
        # A point alone has no outline; closed, painters would not agree on whether it has ends.
        if run.closed and run.count > 1:
            verbs.append("Z")
    return "".join(verbs), np.concatenate(out, axis=1)


def taken_apart(verbs: str, numbers: Floats) -> tuple[list[tuple[int, bool]], Floats]:
    """The contours (how many points, closed or not) and the points (n, m, 6) of an outline; straight pieces without a
    length at the end of a closed contour go."""
    at = numbers.reshape(len(numbers), -1, 2)
    contours: list[tuple[int, bool]] = []
    points: list[list[Floats]] = []
    run: list[list[Floats]] = []
    none = np.zeros_like(at[:, 0])
    place = 0

    def ended(closed: bool) -> None:
        if not run:
            return
        meets = len(run) > 1 and np.abs(run[-1][0] - run[0][0]).max() <= MET
        if closed and meets:
            run[0][1] = run.pop()[1]
        contours.append((len(run), closed))
        points.extend(run)
        run.clear()

    for verb in verbs:
        given = [at[:, place + i] for i in range(TAKES[verb])]
        place += TAKES[verb]
        if verb == "Z":
            ended(True)
            continue
        if verb == "M":
            ended(False)
            run.append([given[0], none, none])
            continue
        here = run[-1][0]
        if verb == "Q":
            given = [here + (given[0] - here) * 2 / 3, given[1] + (given[0] - given[1]) * 2 / 3, given[1]]
        if len(given) == 3:
            run[-1][2] = given[0] - here
            run.append([given[2], given[1] - given[2], none])
        else:
            run.append([given[0], none, none])
    ended(False)
    return contours, np.stack([np.concatenate(point, axis=1) for point in points], axis=1)


def cut(points: Floats, run: Run, segment: int, share: float, *, curved: bool) -> Floats:
    """Points (…, m, 6) with one more on a segment of a contour, at a share of its curve; the outline does not change
    (de Casteljau). One that is not `curved`, at any time, gets a corner. Either way the new points are linear in the
    old ones, so that what lies between two keys is cut as they are."""
    here, there = run.first + segment, run.after(run.first + segment)
    a, b, c, d = np.moveaxis(curves(points, run)[..., segment, :, :], -2, 0)
    if not curved:
        middle = a + (d - a) * share
        return np.insert(
            points, here + 1, np.concatenate([middle, np.zeros_like(middle), np.zeros_like(middle)], -1), -2
        )
    ab, bc, cd = (p + (q - p) * share for p, q in ((a, b), (b, c), (c, d)))
    abc, bcd = ab + (bc - ab) * share, bc + (cd - bc) * share
    middle = abc + (bcd - abc) * share
    out = np.array(points)
    out[..., here, 4:] = ab - a
    out[..., there, 2:4] = cd - d
    return np.insert(out, here + 1, np.concatenate([middle, abc - middle, bcd - middle], axis=-1), axis=-2)


def nearest(points: Floats, contours: list[Run], at: Floats) -> tuple[int, int, float, float]:
    """The place on an outline of points (m, 6) that is nearest to one (2,): contour, segment, share, and how far away.

    Each curve is looked at in 64 places, and the best of each is closed in on by halves to a millionth.
    """
    best = (0, 0, 0.0, np.inf)
    steps = np.linspace(0, 1, 65)
    for index, run in enumerate(contours):
        if run.segments < 1:
            continue
        pieces = curves(points, run)
        each = np.broadcast_to(steps, (run.segments, 65))
        share = steps[np.argmin(_away(pieces, each, at), axis=1)]
        width = 1 / 64
        while width > 1e-6:
            tries = np.clip(share[:, None] + width * np.array([-1.0, -0.5, 0.0, 0.5, 1.0]), 0, 1)
            share = np.take_along_axis(tries, np.argmin(_away(pieces, tries, at), axis=1)[:, None], axis=1)[:, 0]
            width /= 2
        far = _away(pieces, share[:, None], at)[:, 0]
        segment = int(np.argmin(far))
        if far[segment] < best[3]:
            best = (index, segment, float(share[segment]), float(far[segment]))
    return best


def _away(pieces: Floats, shares: Floats, at: Floats) -> Floats:
    """How far points of curves (s, 4, 2) at shares (s, k) are from one (2,): (s, k)."""
    return np.asarray(np.hypot(*np.moveaxis(points_at(pieces[None], shares[None])[0] - at, -1, 0)))


def smooth(points: Floats, run: Run, point: int) -> Floats:
    """Points (…, m, 6) with one made smooth: its handles along the line between its neighbours, a third of the way to
    each; at the end of an open contour, towards its only neighbour."""
    out = np.array(points)
    place = points[..., :, :2]
    back = run.before(point) if run.closed or point > run.first else point
    on = run.after(point) if run.closed or point < run.first + run.count - 1 else point
    way = place[..., on, :] - place[..., back, :]
    long = np.maximum(np.hypot(way[..., :1], way[..., 1:]), 1e-12)
    for other, sign, part in ((back, -1, slice(2, 4)), (on, 1, slice(4, 6))):
        reach = place[..., other, :] - place[..., point, :]
        out[..., point, part] = sign * way / long * np.hypot(reach[..., :1], reach[..., 1:]) / 3
    return out


def is_smooth(point: Floats) -> bool:
    """Whether the handles of a point (6,) lie in one line, on either side of it."""
    (ax, ay), (bx, by) = point[2:4], point[4:6]
    long = np.hypot(ax, ay) * np.hypot(bx, by)
    return bool(long > 0 and abs(ax * by - ay * bx) <= 1e-3 * long and ax * bx + ay * by < 0)


def with_handle(points: Floats, point: int, side: str, handle: Floats, together: bool) -> Floats:
    """Points (m, 6) with a handle of one of them set, in pixels from it; `together` keeps the other in line with it, as
    long as it was."""
    mine, other = (slice(2, 4), slice(4, 6)) if side == "in" else (slice(4, 6), slice(2, 4))
    out = np.array(points)
    out[point, mine] = handle
    long = float(np.hypot(*handle))
    if together and long > 0:
        out[point, other] = -handle / long * float(np.hypot(*points[point, other]))
    return out
