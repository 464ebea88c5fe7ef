"""Easings for the interface: their curves, their text, and a project's own presets."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Depends
from pydantic import BaseModel, Field

from ..core.easings.batch import Ease, bezier_numbers, ease_at
from ..core.easings.text import PRESETS, ease_name, ease_text, read_ease
from ..core.ground.base_model import Name
from ..store.store import Store
from .schemas import store_of

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]
POINTS = 97


class EaseFacts(BaseModel):
    """An easing as it is shown: name, text, its progress at 97 even steps of time, and the numbers of a bezier."""

    ease: Ease
    name: str
    text: str
    curve: list[float]
    bezier: tuple[float, float, float, float] | None


class EaseList(BaseModel):
    """Easings whose facts are wanted."""

    eases: Annotated[list[Ease], Field(max_length=500)]


class EaseText(BaseModel):
    """An easing as somebody typed or pasted it."""

    text: Annotated[str, Field(max_length=20_000)]


class Preset(BaseModel):
    """An easing under a name."""

    name: Name
    ease: Ease


def facts_of(ease: Ease) -> EaseFacts:
    """How an easing is shown."""
    curve = ease_at(ease, np.linspace(0, 1, POINTS))
    return EaseFacts(
        ease=ease, name=ease_name(ease), text=ease_text(ease), curve=np.round(curve, 5).tolist(),
        bezier=bezier_numbers(ease),
    )  # fmt: skip


@router.post("/easings/curves")
def curves(wanted: EaseList) -> list[EaseFacts]:
    """Names, texts and curves of easings."""
    return [facts_of(ease) for ease in wanted.eases]


@router.post("/easings/read")
def read(typed: EaseText) -> EaseFacts:
    """The easing that a text tells."""
    return facts_of(read_ease(typed.text))


@router.get("/easings")
def easings() -> list[Preset]:
    """The easings offered by name."""
    return [Preset(name=name, ease=ease) for name, ease in PRESETS.items()]


@router.get("/projects/{project_id}/easings")
def presets(project_id: str, store: Kept) -> list[Preset]:
    """A project's own presets, by name."""
    return [Preset(name=name, ease=ease) for name, ease in store.presets.of(project_id, "easing").items()]


@router.put("/projects/{project_id}/easings")
def keep_preset(project_id: str, preset: Preset, store: Kept) -> list[Preset]:
    """Keep a preset; one of the same name is replaced."""
    store.presets.keep(project_id, "easing", preset.name, preset.ease)
    return presets(project_id, store)


@router.delete("/projects/{project_id}/easings/{name}")
def delete_preset(project_id: str, name: str, store: Kept) -> list[Preset]:
    """Take a preset away."""
    store.presets.keep(project_id, "easing", name, None)
    return presets(project_id, store)
