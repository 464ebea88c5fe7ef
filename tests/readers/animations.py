"""Animation JSON made up at random, of all that is read of it."""

from __future__ import annotations

import random
from typing import Any

SIZE = (400, 300)
LENGTH = 40


def animation(seed: int) -> dict[str, Any]:
    """An animation of a few layers; valid by the published schema."""
    dice = random.Random(seed)
    inner = [_layer(dice, at + 1, "shapes", LENGTH, (200, 160)) for at in range(2)]
    assets = [{"id": "inner", "nm": "Inner", "fr": 25, "w": 200, "h": 160, "layers": inner}]
    layers: list[dict[str, Any]] = []
    for at in range(dice.choice([3, 4, 5])):
        kind = dice.choice(["shapes", "shapes", "shapes", "solid", "inner", "nothing"])
        layer = _layer(dice, at + 1, kind, LENGTH, SIZE)
        if at and dice.random() < 0.3:
            layer["parent"] = dice.randint(1, at)
        layers.append(layer)
    if dice.random() < 0.6:
        matte = _layer(dice, 90, "shapes", LENGTH, SIZE) | {"td": 1, "ip": 0, "op": LENGTH}
        kind = dice.choice(["shapes", "solid"])
        seen = _layer(dice, 91, kind, LENGTH, SIZE) | {"tt": dice.choice([1, 2, 3]), "tp": 90}
        layers += [matte, seen]
    return {
        "v": "5.9.0", "fr": 25, "ip": 0, "op": LENGTH, "w": SIZE[0], "h": SIZE[1], "nm": f"Animation {seed}",
        "ddd": 0, "assets": assets, "layers": layers,
    }  # fmt: skip


def _layer(dice: random.Random, index: int, kind: str, length: int, size: tuple[int, int]) -> dict[str, Any]:
    begin = dice.choice([0, 0, 3])
    whole = {
        "ind": index, "nm": f"{kind} {index}", "ip": begin, "op": dice.choice([length, length, length - 8]), "st": 0,
        "ks": _transform(dice, size, apart=dice.random() < 0.2),
    }  # fmt: skip
    if kind == "nothing":
        return {"ty": 3, **whole}
    if kind == "solid":
        return {"ty": 1, **whole, "sc": _hex(dice), "sw": 120, "sh": 70, **_masks(dice)}
    if kind == "inner":
        return {"ty": 0, **whole, "refId": "inner", "w": 200, "h": 160, "st": dice.choice([0, 4, -6])}
    return {"ty": 4, **whole, "shapes": [_group(dice, 0) for _ in range(dice.choice([1, 2]))], **_masks(dice)}


def _transform(dice: random.Random, size: tuple[int, int], *, apart: bool = False) -> dict[str, Any]:
    x, y = dice.uniform(size[0] * 0.3, size[0] * 0.7), dice.uniform(size[1] * 0.3, size[1] * 0.7)
    position: dict[str, Any] = _maybe(dice, [x, y], [x + dice.uniform(-60, 60), y + dice.uniform(-40, 40)])
    if apart:
        position = {"s": True, "x": _maybe(dice, [x], [x + 50]), "y": _maybe(dice, [y], [y - 40])}
    elif position["a"] and "h" not in position["k"][0] and dice.random() < 0.5:
        position["k"][0] |= {"to": [dice.uniform(-40, 40), 30], "ti": [dice.uniform(-30, 30), -25]}
        position["k"][0] |= {"o": {"x": [0.3], "y": [0.1]}, "i": {"x": [0.6], "y": [1]}}
    return {
        "a": _maybe(dice, [dice.uniform(-20, 40), dice.uniform(-20, 40)], [10, 12], 0.2), "p": position,
        "s": _maybe(dice, [dice.uniform(60, 130), dice.uniform(60, 130)], [110, -70], 0.4),
        "r": _maybe(dice, [dice.uniform(-40, 40)], [dice.uniform(-90, 200)]),
        "o": _maybe(dice, [dice.choice([100, 100, 60])], [30], 0.2),
    }  # fmt: skip


def _maybe(dice: random.Random, first: list[float], last: list[float], chance: float = 0.4) -> dict[str, Any]:
    if dice.random() < chance:
        return _keyed(dice, first, last)
    return {"a": 0, "k": first if len(first) > 1 else first[0]}


def _keyed(dice: random.Random, first: list[float], last: list[float]) -> dict[str, Any]:
    """Three keys at most: held, straight, along a curve for all numbers or for each."""
    begin, end = dice.choice([0, 5]), dice.choice([22, 34.5])
    middle = [a + (b - a) * 0.3 for a, b in zip(first, last, strict=True)]
    keys: list[dict[str, Any]] = [{"t": begin, "s": first}]
    if dice.random() < 0.5:
        keys.append({"t": 14, "s": middle})
    keys.append({"t": end, "s": last})
    for key in keys[:-1]:
        way = dice.choice(["held", "straight", "curve", "curves"])
        if way == "held":
            key["h"] = 1
        elif way == "straight":
            key |= {"o": {"x": [0], "y": [0]}, "i": {"x": [1], "y": [1]}}
        else:
            count = len(first) if way == "curves" else 1
            each = [[round(dice.random(), 2) for _ in range(count)] for _ in range(4)]
            key |= {"o": {"x": each[0], "y": each[1]}, "i": {"x": each[2], "y": each[3]}}
    return {"a": 1, "k": keys}


def _group(dice: random.Random, deep: int) -> dict[str, Any]:
    kind = dice.choice(["fill", "both", "gradient", "part", "repeated"])
    # What is filled together, or has a gradient, stands still within: else it is another picture, which is said.
    count = dice.choice([1, 2]) if kind != "gradient" else 1
    inside = [_outline(dice, still=count > 1 or kind == "gradient") for _ in range(count)]
    if kind == "part":
        told = {"s": _maybe(dice, [10], [40]), "e": _maybe(dice, [80], [95]), "o": _still(dice.choice([0, 60]))}
        inside += [{"ty": "tm", "m": 1, **told}, _stroke(dice)]
    elif kind == "gradient":
        inside.append(_gradient(dice))
    else:
        inside += [_stroke(dice), _fill(dice)] if kind == "both" else [_fill(dice)]
        # The player copies no gradients and nothing twice as it should.
        if deep < 1 and kind != "repeated" and dice.random() < 0.4:
            # Behind what is painted, where no paint of this group is for it; or in front of it.
            inside.insert(0 if dice.random() < 0.2 else len(inside), _group(dice, deep + 1))
    if kind == "repeated":
        step = {"a": [4, 6], "p": [26, 8], "s": [90, 95], "r": 12, "so": 100, "eo": 100}
        tr = {name: _still(value) for name, value in step.items()}
        inside.append({"ty": "rp", "c": _still(3), "o": _still(0), "m": 1, "tr": tr})
    inside.append({"ty": "tr", **_moved(dice)})
    return {"ty": "gr", "nm": "Group", "it": inside}


def _moved(dice: random.Random) -> dict[str, Any]:
    if dice.random() < 0.4:
        return {"a": _still([0, 0]), "p": _still([0, 0]), "s": _still([100, 100]), "r": _still(0), "o": _still(100)}
    return {
        "a": _still([5, -5]), "p": _maybe(dice, [dice.uniform(-30, 30), 10], [20, -20]),
        "s": _maybe(dice, [90, 120], [70, 80], 0.2), "r": _maybe(dice, [dice.uniform(-30, 30)], [45]), "o": _still(100),
    }  # fmt: skip


def _outline(dice: random.Random, *, still: bool) -> dict[str, Any]:
    at = [dice.uniform(-40, 40), dice.uniform(-30, 30)]
    back = {"d": dice.choice([1, 1, 3]), "p": _still(at)}
    chance = 0.0 if still else 0.3
    kind = dice.choice(["rc", "el", "sr", "sh"])
    if kind == "rc":
        return {"ty": "rc", **back, "s": _maybe(dice, [70, 40], [40, 60], chance), "r": _still(dice.choice([0, 9]))}
    if kind == "el":
        return {"ty": "el", **back, "s": _maybe(dice, [60, 40], [30, 50], chance)}
    if kind == "sr":
        # The player draws no polygons, which are by the same sums.
        props = {
            "pt": _still(5), "r": _maybe(dice, [10], [80], chance),
            "or": _still(36), "os": _still(dice.choice([0, 60])),
            "ir": _maybe(dice, [16], [24], chance), "is": _still(dice.choice([0, 40])),
        }  # fmt: skip
        return {"ty": "sr", **back, "sy": 1, **props}
    points = [[at[0] + x + dice.uniform(-8, 8), at[1] + y] for x, y in ((-30, -20), (30, -24), (26, 28), (-20, 22))]
    bent = [[dice.uniform(-12, 12), dice.uniform(-12, 12)] for _ in points]
    one = {"c": dice.random() < 0.8, "v": points, "i": bent, "o": [[-x, -y] for x, y in bent]}
    if dice.random() < chance:
        other = one | {"v": [[x * 0.7, y * 1.3] for x, y in points]}
        ease = {"o": {"x": [0.4], "y": [0]}, "i": {"x": [0.5], "y": [1]}}
        return {"ty": "sh", "ks": {"a": 1, "k": [{"t": 4, "s": [one], **ease}, {"t": 30, "s": [other]}]}}
    return {"ty": "sh", "ks": _still(one)}


def _fill(dice: random.Random) -> dict[str, Any]:
    colour = [round(dice.random(), 2) for _ in range(3)]
    seen = _still(dice.choice([100, 70]))
    return {"ty": "fl", "c": _maybe(dice, colour, colour[::-1], 0.2), "o": seen, "r": dice.choice([1, 2])}


def _stroke(dice: random.Random) -> dict[str, Any]:
    made: dict[str, Any] = {
        "ty": "st", "c": _still([round(dice.random(), 2) for _ in range(3)]), "o": _still(100),
        "w": _maybe(dice, [5], [9], 0.2), "lc": dice.choice([1, 2, 3]), "lj": dice.choice([1, 2, 3]), "ml": 4,
    }  # fmt: skip
    if dice.random() < 0.3:
        made["d"] = [
            {"n": "d", "nm": "dash", "v": _still(14)}, {"n": "g", "nm": "gap", "v": _still(9)},
            {"n": "o", "nm": "offset", "v": _maybe(dice, [0], [30])},
        ]  # fmt: skip
    return made


def _gradient(dice: random.Random) -> dict[str, Any]:
    stops = [0, 1, 0.8, 0.2, 0.5, 0.2, 0.4, 0.9, 1, 0.1, 0.1, 0.3]
    return {
        "ty": "gf", "t": dice.choice([1, 2]), "s": _still([-30, -10]), "e": _still([35, 20]), "o": _still(100), "r": 1,
        "g": {"p": 3, "k": _still(stops)},
    }  # fmt: skip


def _masks(dice: random.Random) -> dict[str, Any]:
    if dice.random() < 0.7:
        return {}
    corners = [[-60, -40], [80, -30], [60, 50], [-50, 60]]
    nothing = [[0, 0]] * 4
    path = {"c": True, "v": corners, "i": nothing, "o": nothing}
    # The player turns a mask inside out within a frame of its own.
    one = {"mode": dice.choice(["a", "s"]), "inv": False, "pt": _still(path), "o": _still(100), "x": _still(0)}
    return {"hasMask": True, "masksProperties": [one]}


def _still(value: Any) -> dict[str, Any]:
    return {"a": 0, "k": value}


def _hex(dice: random.Random) -> str:
    return "#" + "".join(f"{dice.randrange(256):02x}" for _ in range(3))
