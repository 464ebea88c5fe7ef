"""Numbers as they are typed: a value, or a step from the one that is there."""

from __future__ import annotations

import re

from .typed_time import number_of

UNIT = re.compile(r"\s*(px|%|°|deg|‰|em|×|fps|dB)$", re.IGNORECASE)
THOUSANDS = re.compile(r"(?<=\d)[\s\u00a0\u2009\u202f'’](?=\d{3}(?!\d))")
COMMAS = re.compile(r"[+*/]?-?[1-9]\d{0,2}(,\d{3})+(\.\d+)?")


def typed_number(text: str, now: float) -> float | None:
    """The number that a text makes of the one that is there; None where it tells none.

    `960`, `-20`, `50%`, `1 000 px`, `0,5` and `1920/2` are values; `+10` and `+-10` add, `*1.5` and `/2` multiply.

    >>> typed_number("1 920/2 px", 7), typed_number("+-10", 7), typed_number("*1,5", 8), typed_number("wide", 8)
    (960.0, -3.0, 12.0, None)
    """
    bare = THOUSANDS.sub("", UNIT.sub("", text.strip()))
    given = bare.replace(",", "") if COMMAS.fullmatch(bare) else bare
    way = given[:1] if given[:1] in ("+", "*", "/") else ""
    value = number_of(given[len(way) :])
    if value is None or (way == "/" and value == 0):
        return None
    made = {"": value, "+": now + value, "*": now * value, "/": now / value if value else 0.0}[way]
    return made if abs(made) < float("inf") else None
