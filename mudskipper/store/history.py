"""The way through the revisions of a scene."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .tables import Revision, database


@dataclass(frozen=True)
class Step:
    """A step of a scene's history: its revision, what was done in words, when, and whether the scene stands there."""

    revision: int
    words: str
    made_at: str
    here: bool


def child_of(scene_id: str, number: int) -> Revision | None:
    """The newest revision that was made from one; within a session."""
    fields = Revision.select(Revision.id, Revision.words)
    found = fields.where((Revision.scene_id == scene_id) & (Revision.parent == number))
    child: Revision | None = found.order_by(Revision.id.desc()).first()
    return child


def line_of(scene_id: str, head: int) -> tuple[list[int], int]:
    """The revisions from the first to the head, and on to the newest made from it; and the place of the head. Within a
    session."""
    up = database.execute_sql(
        "WITH RECURSIVE up (id, parent) AS (SELECT id, parent FROM revision WHERE id = ? UNION ALL"
        " SELECT r.id, r.parent FROM revision r JOIN up ON r.id = up.parent) SELECT id FROM up",
        (head,),
    ).fetchall()
    down = database.execute_sql(
        "WITH RECURSIVE down (id) AS (VALUES (?) UNION ALL SELECT (SELECT max(c.id) FROM revision c"
        " WHERE c.scene_id = ? AND c.parent = down.id) AS child FROM down WHERE child IS NOT NULL)"
        " SELECT id FROM down WHERE id IS NOT NULL",
        (head, scene_id),
    ).fetchall()
    return [number for (number,) in reversed(up)] + [number for (number,) in down[1:]], len(up) - 1


def steps_of(numbers: Sequence[int], head: int) -> list[Step]:
    """Revisions as steps of a history that stands at `head`; within a session."""
    rows: dict[int, tuple[str, str]] = {}
    for start in range(0, len(numbers), 500):
        part = numbers[start : start + 500]
        query = Revision.select(Revision.id, Revision.words, Revision.made_at).where(Revision.id.in_(part))
        rows |= {row.id: (row.words, row.made_at.isoformat()) for row in query}
    return [Step(number, *rows[number], number == head) for number in numbers]
