"""Tracks evaluated one number at a time, written from the definitions and not from the code: slow, and sure."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

NAMED = {"ease": (0.25, 0.1, 0.25, 1), "ease-in": (0.42, 0, 1, 1), "ease-out": (0, 0, 0.58, 1),
         "ease-in-out": (0.42, 0, 0.58, 1)}  # fmt: skip
SAME = 1e-6


def eased(ease: Any, u: float) -> float:
    """The share of the way at a share of the time, 0…1."""
    if isinstance(ease, str) and ease not in NAMED:
        return u if ease == "linear" else float(u >= 1)
    if isinstance(ease, str) or "bezier" in ease:
        return bezier(NAMED[ease] if isinstance(ease, str) else tuple(ease["bezier"]), u)
    if "steps" in ease:
        n, jump = ease["steps"], ease.get("jump", "end")
        level = math.floor(u * n + 1e-12) + (jump in ("start", "both"))
        jumps = n + {"start": 0, "end": 0, "none": -1, "both": 1}[jump]
        return min(max(level, 0), jumps) / jumps
    if "points" in ease:
        points = ease["points"]
        at = max(i for i in range(len(points) - 1) if points[i][0] <= u)
        (a, va), (b, vb) = points[at], points[at + 1]
        return vb if b <= a else va + (vb - va) * (u - a) / (b - a)
    if "overshoot" in ease:
        share = ease["overshoot"] / 100
        low, high = 0.0, 1e4
        for _ in range(200):  # the pull at which 1 + c³·4/27/(c + 1)² peaks at 1 + share
            c = (low + high) / 2
            low, high = (c, high) if 4 * c**3 / (27 * (c + 1) ** 2) < share else (low, c)
        return 1 + (c + 1) * (u - 1) ** 3 + c * (u - 1) ** 2
    if "bounce" in ease:
        numbers = {"count": 3, "damping": 0.6} | ease["bounce"]
        t = u * (1 + sum(2 * math.sqrt((1 - numbers["damping"]) ** k) for k in range(1, numbers["count"] + 1)))
        if t < 1:
            return t * t
        start = 1.0
        for k in range(1, numbers["count"] + 1):
            height = (1 - numbers["damping"]) ** k
            long = 2 * math.sqrt(height)
            if t <= start + long + 1e-12:
                x = (t - start) / long
                return 1 - height * (1 - (2 * x - 1) ** 2)
            start += long
        return 1.0
    numbers = {"response": 0.35, "damping": 0.5} | ease["spring"]
    left = lambda at: fallen(2 * math.pi / numbers["response"], numbers["damping"], at)  # noqa: E731
    return 1 - left(u) + u * left(1)


def fallen(omega: float, zeta: float, t: float) -> float:
    """x of x'' + 2ζω·x' + ω²·x = 0 from rest at 1."""
    if zeta < 1:
        d = omega * math.sqrt(1 - zeta * zeta)
        return math.exp(-zeta * omega * t) * (math.cos(d * t) + zeta * omega / d * math.sin(d * t))
    if zeta == 1:
        return math.exp(-omega * t) * (1 + omega * t)
    r = omega * math.sqrt(zeta * zeta - 1)
    a, b = -zeta * omega + r, -zeta * omega - r
    return (a * math.exp(b * t) - b * math.exp(a * t)) / (a - b)


def bezier(numbers: tuple[float, ...], u: float) -> float:
    """CSS cubic-bezier() by bisection."""
    x1, y1, x2, y2 = numbers
    if u <= 0 or u >= 1:
        return float(u >= 1)
    low, high = 0.0, 1.0
    for _ in range(80):
        s = (low + high) / 2
        x = 3 * (1 - s) ** 2 * s * x1 + 3 * (1 - s) * s * s * x2 + s**3
        low, high = (s, high) if x < u else (low, s)
    return 3 * (1 - s) ** 2 * s * y1 + 3 * (1 - s) * s * s * y2 + s**3


@lru_cache(maxsize=4096)
def polyline(a: tuple[float, ...], b: tuple[float, ...], c: tuple[float, ...], d: tuple[float, ...]) -> Any:
    """A cubic as 20,000 points with the length up to each."""
    points, far = [], [0.0]
    for i in range(20_001):
        s = i / 20_000
        w = ((1 - s) ** 3, 3 * (1 - s) ** 2 * s, 3 * (1 - s) * s * s, s**3)
        points.append(tuple(w[0] * p + w[1] * q + w[2] * r + w[3] * t for p, q, r, t in zip(a, b, c, d, strict=True)))
        if i:
            far.append(far[-1] + math.dist(points[-1], points[-2]))
    return points, far


def along(key: dict[str, Any], after: dict[str, Any], share: float) -> tuple[float, ...]:
    """A point of the way from a key to the next: straight, or by arc length along its curve and straight on beyond."""
    a, d = tuple(key["value"]), tuple(after["value"])
    leave, arrive = key.get("leave") or (0,) * len(a), after.get("arrive") or (0,) * len(a)
    b, c = tuple(x + y for x, y in zip(a, leave, strict=True)), tuple(x + y for x, y in zip(d, arrive, strict=True))
    if not any(leave) and not any(arrive):
        return tuple(x + (y - x) * share for x, y in zip(a, d, strict=True))
    points, far = polyline(a, b, c, d)
    goal = share * far[-1]
    if not 0 <= goal <= far[-1]:
        end, before = (points[0], points[1]) if goal < 0 else (points[-1], points[-2])
        size = math.dist(end, before) or 1
        over = goal if goal < 0 else goal - far[-1]
        way = [(y - x) / size * (1 if goal < 0 else -1) for x, y in zip(end, before, strict=True)]
        return tuple(x + w * over for x, w in zip(end, way, strict=True))
    low, high = 0, len(far) - 1
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if far[middle] <= goal else (low, middle)
    k = (goal - far[low]) / ((far[high] - far[low]) or 1)
    return tuple(x + (y - x) * k for x, y in zip(points[low], points[high], strict=True))


def value(track: dict[str, Any], frame: float, rate: float) -> tuple[float, ...]:
    """The value of a track's document at a frame counted from the layer's start."""
    keys = track["keys"]
    pair = lambda v: tuple(v) if isinstance(v, list | tuple) else (v,)  # noqa: E731
    keys = [{**key, "value": pair(key["value"])} for key in keys]
    if not keys:
        return pair(track["rest"])
    if len(keys) == 1:
        return keys[0]["value"]
    cadence = track.get("cadence")
    if cadence:
        step = cadence.get("on") or rate / cadence["per_second"]
        phase = cadence.get("phase", 0)
        frame = phase + math.floor((frame - phase) / step + 1e-9) * step
    first, last = keys[0]["frame"], keys[-1]["frame"]
    wide = last - first
    for outside, way in ((frame < first - SAME, track.get("before")), (frame > last + SAME, track.get("after"))):
        if outside and way == "repeat":
            over = (frame - first) % wide
            meets = over < SAME or wide - over < SAME  # the first key before the keys, the last one after them
            frame = (first if frame < first else last) if meets else first + over
        elif outside and way == "bounce":
            over = (frame - first) % (2 * wide)
            frame = first + (over if over <= wide else 2 * wide - over)
        elif outside and way == "carry on":
            # A carried-on motion runs straight at the speed of the last, or first, moment between the keys.
            step = 1e-8 * (keys[1]["frame"] - first if frame < first else last - keys[-2]["frame"])
            end, way_in = (first, step) if frame < first else (last, -step)
            near = keys[0]["value"] if frame < first else keys[-1]["value"]
            # Speeds one and a half and three steps within; what bends there is taken out by both.
            one, two, four = (between(keys, end + steps * way_in) for steps in (1, 2, 4))
            speed = [2 * (b - a) / way_in - (c - b) / (2 * way_in) for a, b, c in zip(one, two, four, strict=True)]
            return tuple(n + s * (frame - (first if frame < first else last)) for n, s in zip(near, speed, strict=True))
    if frame < first:
        return keys[0]["value"]
    return keys[-1]["value"] if frame >= last else between(keys, frame)


def between(keys: list[dict[str, Any]], frame: float) -> tuple[float, ...]:
    """The value between the first key and the last, approached from within."""
    number = max(i for i in range(len(keys) - 1) if keys[i]["frame"] <= frame)
    key, after = keys[number], keys[number + 1]
    u = (frame - key["frame"]) / (after["frame"] - key["frame"])
    return along(key, after, eased(key["ease"], min(max(u, 0.0), 1.0)))
