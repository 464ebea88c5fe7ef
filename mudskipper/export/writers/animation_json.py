"""Scenes as animation JSON, by its published schema."""

from __future__ import annotations

import json
import shutil
from pathlib import Path
from typing import TYPE_CHECKING

from ...core.resolve.context import Context
from ...core.resolve.sound.mix import heard
from ...media.files import MediaFiles
from ..film import Film
from ..frames import on_colour
from ..web.animation_json import AnimationDocument
from .base import Format, Run, whole
from .pixels import NO_SOUND
from .web_page import NO_BLUR

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ..order import Order


class AnimationJSON(Format):
    """Animation JSON: see `export.web.animation_json` for the standard."""

    kind = "animation-json"
    label = "Animation JSON"
    suffix = ".json"
    media_type = "application/json"
    alpha = True
    group = "web"
    takes = ("behind",)

    def note(self, transparent: bool) -> str:
        return "Shapes, letters as shapes, pictures and their motion, for players of the open animation JSON."

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        made = AnimationDocument(scene, assets, MediaFiles(), film.first, film.first + film.count, with_pictures=False)
        made.document()
        return (*made.lost, *_beside(scene, assets))

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        seen = on_colour(scene, order.film.choices.behind)
        made = AnimationDocument(seen, assets, files, order.first, order.stop)
        document = made.document()
        with whole(out) as part:
            part.write_text(json.dumps(document, separators=(",", ":"), ensure_ascii=False), encoding="utf-8")
        run.progress(order.film.count)
        shutil.rmtree(run.work, ignore_errors=True)
        return (*made.lost, *_beside(scene, assets))


def _beside(scene: Scene, assets: Assets) -> tuple[str, ...]:
    blur = (NO_BLUR,) if scene.motion_blur is not None else ()
    return (*blur, *((NO_SOUND,) if heard(scene, Context(scene, assets)) else ()))
