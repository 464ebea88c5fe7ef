"""A name that formulas may use, as the editor, the documentation and the sentences of errors tell of it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class Entry:
    """A name: how it is written, in which unit its value is, what it is in a sentence, and an example. One that
    `yields` came when formulas had been written: those that give its name to a value of their own mean that."""

    name: str
    written: str
    sentence: str
    example: str
    unit: str = ""
    yields: bool = False
    is_function = False
