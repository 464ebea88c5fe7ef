"""What the page asks once: fonts, properties, formats, named easings. It is the same as long as the server runs."""

from __future__ import annotations

from functools import lru_cache
from typing import get_args

from ..core.checks import SAFE
from ..core.contents import CONTENTS, Content
from ..core.document.scene import Blend, Layer
from ..core.easings.batch import NAMED
from ..core.effects import EFFECTS, Effect
from ..core.recipes import RECIPES
from ..core.shapes import ShapeItem
from ..core.text.families import INSTALLED, PLAIN, installed
from ..core.text.features import FEATURES
from ..core.tracks.walk import shown_kinds
from ..export.writers import FORMATS
from . import fonts
from .schemas import ContentFacts, EffectFacts, Facts, FormatFacts, PropertyFacts, RecipeFacts


@lru_cache(maxsize=2)
def facts_in_json(password: bool) -> str:
    """`Facts` of a server with or without a password."""
    formats = {
        name: FormatFacts(
            label=form.label, suffix=form.suffix, group=form.group, still=form.still, alpha=form.alpha,
            sound=form.sound, takes=form.takes, note=form.note(transparent=False),
            transparent_note=form.note(transparent=True),
        )
        for name, form in FORMATS.items()
    }  # fmt: skip
    return Facts(
        fonts=[fonts.family_answer(one) for one in installed().values()],
        features=dict(FEATURES),
        fallbacks=[one.name for one in INSTALLED.in_turn(PLAIN)],
        properties={pattern: PropertyFacts.of(about) for pattern, about in shown_kinds(Layer).items()},
        tags=[Content.told_by, ShapeItem.told_by, Effect.told_by],
        formats=formats,
        easings=NAMED,
        safe=SAFE,
        blends=list(get_args(Blend)),
        contents={
            kind.model_fields[Content.told_by].default: ContentFacts(
                shows=kind.shows, placed=kind.placed, runs=kind.runs
            )
            for kind in CONTENTS
        },
        effects={kind.model_fields[Effect.told_by].default: EffectFacts.of(kind) for kind in EFFECTS},
        recipes=[RecipeFacts.of(kind) for kind in RECIPES if kind.offered],
        password=password,
    ).model_dump_json()
