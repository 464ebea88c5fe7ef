"""Functions of the moment: a value held for a while, another one from a frame on, how far an easing has come."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...easings.batch import ease_at
from ...easings.text import read_ease
from ...geometry.bezier import Floats
from ...ground.errors import Refused
from ..problem import Faulty, FormulaProblem
from ..texts import Texts, chosen
from ..values import alike, numbers, texts
from .base import Call, Function


def _stepped(call: Call) -> Floats | Texts:
    rate = numbers(call.arguments[1](call.here))
    if not (rate > 0).all():
        raise Faulty(FormulaProblem(sentence="stepped(value, per_second) takes more than 0 times a second."))
    # As a cadence holds: a moment on the edge belongs to the value that begins there.
    held = np.floor(call.here.seconds * rate[:, 0] + 1e-9) / rate[:, 0]
    found = call.here.at_seconds(held, call.arguments[0])
    return texts(found) or numbers(found)


def _if_before(call: Call) -> Any:
    early = call.here.local[:, None] < call.number(0)
    given = call.value(1), call.value(2)
    words = texts(given[0]), texts(given[1])
    if words[0] is not None and words[1] is not None:
        return chosen(early.astype(np.float64), words[0], words[1])
    return np.where(early, *alike(*given))


def _ease(call: Call) -> Floats:
    words = call.value(0)
    if not isinstance(words, str):
        raise Faulty(FormulaProblem(sentence='ease("name", k) takes the name of an easing in quotes.'))
    try:
        easing = read_ease(words)
    except Refused as refusal:
        raise Faulty(FormulaProblem(sentence=refusal.sentence)) from None
    share = call.number(1)
    return ease_at(easing, np.clip(share, 0, 1).reshape(-1)).reshape(share.shape)


STEPPED = Function(
    name="stepped", written="stepped(value, per_second)", run=_stepped, least=2, most=2, passes=slice(1),
    sentence="A value that is renewed only so many times a second.", example="stepped(t * 90, 8)",
)  # fmt: skip
EASE = Function(
    name="ease", written='ease("name", k)', run=_ease, least=2, most=2,
    sentence="How far an easing has come at a share k of its time.",
    example='ease("soft landing", clamp(t, 0, 1)) * 100',
)  # fmt: skip
IF_BEFORE = Function(
    name="if_before", written="if_before(frame, before, after)", run=_if_before, least=3, most=3, passes=slice(1, None),
    sentence="One value before a frame of the layer, another from it on.", example="if_before(30, base, 50)",
)  # fmt: skip
