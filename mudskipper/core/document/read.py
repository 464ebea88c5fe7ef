"""Scenes from JSON text: files from outside, documents of any stored version, and what this version wrote itself."""

from __future__ import annotations

import gc
import hashlib
import json
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any

from pydantic import ValidationError
from pydantic_core import from_json

from ..ground.errors import Refused, refusal_of
from .scene import BETWEEN, SCHEMA, Scene
from .upgrades import upgraded

LAYERS = ',"layers":['
"""Where the layers begin in a document that `Scene.to_json` wrote; within a string its quotes would be escaped."""
END = "]}"
LARGE = 1_000_000
"""Characters of a document whose objects are so many that a search for garbage cycles among them is felt."""


def read_scene(text: str | bytes, subject: str = "scene") -> Scene:
    """Read a document; Refused with the path to each wrong field."""
    with collection_paused(len(text)):
        try:
            data = json.loads(text)
        except (ValueError, UnicodeDecodeError, RecursionError) as fault:
            place = f" (line {fault.lineno}, column {fault.colno})" if isinstance(fault, json.JSONDecodeError) else ""
            raise Refused(f"A scene file must be JSON text, and this is not{place}.", where=subject) from None
        return scene_of(data, subject)


def read_written(text: str) -> Scene:
    """Read a document that `Scene.to_json` of the same `schema_form` wrote; each layer keeps its text, so that it is
    not written again. Refused as by `read_scene`."""
    begin = text.find(LAYERS)
    if begin < 0 or not text.endswith(END):
        return read_scene(text)
    body = text[begin + len(LAYERS) : -len(END)]
    with collection_paused(len(text)):
        texts = body.split(BETWEEN) if body else []
        try:
            layers = [from_json(one) for one in texts]
            data = json.loads(f"{text[:begin]}}}")
        except ValueError:
            return read_scene(text)
        scene = scene_of({**data, "layers": layers})
        for made, written in zip(scene.layers, texts, strict=True):
            made.__dict__["json_text"] = written
        return scene


def scene_of(data: Any, subject: str = "scene") -> Scene:
    """A document from parsed JSON of any stored version."""
    if not isinstance(data, dict):
        raise Refused(f'A scene must be a JSON object that begins {{"schema": "{SCHEMA}"}}.', where=subject)
    data = upgraded(data)
    given = data.get("schema")
    if given != SCHEMA:
        raise Refused(
            f"The field schema must be '{SCHEMA}', and it is {given!r}.",
            where=subject,
            mend="Was the file saved by a later version, or is it another kind of file?",
        )
    try:
        return Scene.model_validate(data)
    except ValidationError as error:
        raise refusal_of(error, subject) from None


@cache
def schema_form() -> str:
    """A fingerprint of the document's JSON Schema: a text written under the same one is what would be written now."""
    return hashlib.sha256(json.dumps(Scene.model_json_schema(), sort_keys=True).encode()).hexdigest()[:16]


@contextmanager
def collection_paused(size: int) -> Iterator[None]:
    """No search for garbage cycles while a document of `size` characters is read: it would take half of the time.

    The many objects of a large document are left out of later searches too; they hold no cycles.
    """
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if size > LARGE:
            gc.freeze()
        if enabled:
            gc.enable()
