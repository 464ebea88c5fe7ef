"""Ids of things that lie beside one another."""

from __future__ import annotations

from typing import Any


def numbered(items: tuple[Any, ...]) -> tuple[Any, ...]:
    """Items, masks or effects, each with an id: one without gets the first number free, from its own place on."""
    taken = [item.id for item in items if item.id]
    twice = {one for one in taken if taken.count(one) > 1} if len(set(taken)) < len(taken) else set()
    if twice:
        raise ValueError(f"two {items[0].noun}s have the id {min(twice)!r}; those beside one another need their own")
    if len(taken) == len(items):
        return items
    used, made = set(taken), []
    for index, item in enumerate(items):
        if not item.id:
            number = index
            while str(number) in used:
                number += 1
            used.add(str(number))
            item = item.model_copy(update={"id": str(number)})
        made.append(item)
    return tuple(made)
