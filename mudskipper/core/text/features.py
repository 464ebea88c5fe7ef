"""What a font's letters can be asked to do, by plain names, and the features that stand for them (OpenType 1.9)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType

from .fonts import OPTICAL

OPTICAL_KERNING = "optical kerning"
FEATURES: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "tabular figures": ("tnum",),
        "proportional figures": ("pnum",),
        "old-style figures": ("onum",),
        "lining figures": ("lnum",),
        "slashed zero": ("zero",),
        "fractions": ("frac",),
        "ordinals": ("ordn",),
        "superscript": ("sups",),
        "subscript": ("subs",),
        "more ligatures": ("dlig",),
        "no ligatures": ("-liga", "-clig", "-calt"),
        "no kerning": ("-kern",),
        OPTICAL_KERNING: ("-kern", OPTICAL),
        "swashes": ("swsh", "cswh"),
        "alternates": ("salt",),
        "title forms": ("titl",),
        "signs for capitals": ("case",),
        **{f"style set {number}": (f"ss{number:02}",) for number in range(1, 21)},
    }
)
"""A `-` in front switches off what a font does by itself."""
TABULAR = "tabular figures"
AGAINST = MappingProxyType(
    {"tabular figures": "proportional figures", "old-style figures": "lining figures", OPTICAL_KERNING: "no kerning"}
)
"""What cannot be together."""


def tags_of(names: Iterable[str]) -> tuple[str, ...]:
    """The features that names stand for."""
    return tuple(tag for name in names for tag in FEATURES[name])


def offered(tags: frozenset[str]) -> list[str]:
    """The names of what can be asked of a font that has these features."""
    can = {*tags, OPTICAL}
    return [name for name, asks in FEATURES.items() if any(tag.removeprefix("-") in can for tag in asks)]
