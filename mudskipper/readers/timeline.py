"""OpenTimelineIO: an edit as a scene, its clips as layers with spans and slips."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import unquote, urlparse

import opentimelineio as otio
from pydantic import ValidationError

from ..core.document.read import read_scene
from ..core.document.scene import SCHEMA, Layer, Scene, new_id
from ..core.edits.relink import stand_in
from ..core.ground.errors import Refused

META = "mudskipper"
MOST = 64 * 2**20


@dataclass
class ReadTimeline:
    """A scene, and what was not found or not taken over, a sentence each."""

    scene: Scene
    notes: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Known:
    """What the project has: the kind (picture, clip, sound) and the id of a medium by its file's name, in small
    letters, and the ids of its scenes."""

    media: Mapping[str, tuple[str, str]]
    ids: frozenset[str]


def read_timeline(data: bytes, name: str, known: Known, size: tuple[int, int] = (1920, 1080)) -> ReadTimeline:
    """A timeline as a scene; Refused in words where it is none. A clip that an export of ours wrote is the layer that
    it was; of others the media are found by their names, and for what is missing there is a text that says so."""
    if len(data) > MOST:
        raise Refused("It is too large a timeline.", where=name, mend="Export the part that is needed.")
    try:
        read = otio.adapters.read_from_string(data.decode("utf-8"), "otio_json")
    except Exception:
        raise Refused("It is no timeline that can be read.", where=name, mend="Export it again as .otio.") from None
    if isinstance(read, otio.schema.SerializableCollection):
        read = next(iter(read.find_children(descended_from_type=otio.schema.Timeline)), read)
    if not isinstance(read, otio.schema.Timeline):
        raise Refused("There is no timeline in it.", where=name, mend="Export the timeline itself.")
    return _Reader(read, name, known, size).scene()


class _Reader:
    def __init__(self, timeline: otio.schema.Timeline, name: str, known: Known, size: tuple[int, int]) -> None:
        self._timeline, self._name, self._known, self._size = timeline, name, known, size
        self._notes: list[str] = []
        self._missing: dict[str, None] = {}
        self._rate = 30.0

    def scene(self) -> ReadTimeline:
        told = dict(self._timeline.metadata.get(META, {}))
        base = json.loads(json.dumps(_plain(told.get("scene", {}))))
        self._rate = self._rate_of(base)
        layers: list[dict[str, Any]] = []
        for track in self._timeline.tracks:
            if isinstance(track, otio.schema.Track):
                self._track(track, layers)
        end = max((one["span"]["start"] + one["span"]["length"] for one in layers), default=1)
        beats = sorted({round(one.marked_range.start_time.value): one.name for one in self._markers()}.items())
        numerator, denominator = _fraction(self._rate)
        document = {
            "schema": SCHEMA, "width": self._size[0], "height": self._size[1], "length": end,
            "frame_rate": [numerator, denominator],
            "beats": [{"frame": float(frame), "label": label} for frame, label in beats if frame >= 0],
        }  # fmt: skip
        document |= {key: value for key, value in base.items() if key not in ("layers", "id")}
        document |= {"id": new_id(), "name": self._timeline.name or self._name, "layers": layers}
        scene = read_scene(json.dumps(document), self._name)
        for one in self._missing:
            self._notes.append(f"“{one}” is not among the project's media: a text stands in its place.")
        return ReadTimeline(scene, self._notes)

    def _rate_of(self, base: dict[str, Any]) -> float:
        if base.get("frame_rate"):
            return float(base["frame_rate"][0] / base["frame_rate"][1])
        start = self._timeline.global_start_time
        if start is not None and start.rate > 0:
            return float(start.rate)
        first = next(iter(self._timeline.find_clips()), None)
        return float(first.duration().rate) if first is not None else 30.0

    def _markers(self) -> list[Any]:
        return [*self._timeline.tracks.markers]

    def _track(self, track: otio.schema.Track, layers: list[dict[str, Any]]) -> None:
        for item in track:
            if isinstance(item, otio.schema.Gap):
                continue
            if isinstance(item, otio.schema.Transition):
                if not item.metadata.get(META) and item.transition_type != otio.schema.TransitionTypes.SMPTE_Dissolve:
                    self._notes.append(f"The transition “{item.name or item.transition_type}” is left out.")
                continue
            place = item.range_in_parent()
            start, length = self._frames(place.start_time), max(self._frames(place.duration), 1)
            told = _plain(item.metadata.get(META, {}))
            layers.append(self._ours(told, item) or self._foreign(item, track, start, length))

    def _frames(self, time: Any) -> int:
        frames: float = time.rescaled_to(self._rate).value
        return round(frames)

    def _ours(self, told: Any, item: Any) -> dict[str, Any] | None:
        """A layer as our own export wrote it; None where it was changed since, or its media are not here."""
        layer = told.get("layer") if isinstance(told, dict) else None
        if not isinstance(layer, dict):
            return None
        try:
            read = Layer.model_validate(layer)
        except ValidationError:
            return None
        gone = [
            one
            for one in (*read.content.clips, *read.content.pictures, *read.content.scenes)
            if one not in self._known.ids
        ]
        if not gone:
            return layer
        return None

    def _foreign(self, item: Any, track: Any, start: int, length: int) -> dict[str, Any]:
        name = item.name or "Clip"
        layer: dict[str, Any] = {"id": new_id(), "name": name[:200], "span": {"start": start, "length": length}}
        layer["visible"] = bool(item.enabled)
        if isinstance(item, otio.core.Composition):
            self._notes.append(f"“{name}” is a timeline within this one: a text stands in its place.")
            return layer | _text(name, self._size)
        file = _file(item.media_reference)
        known = self._known.media.get(file.lower()) if file else None
        begin = item.trimmed_range().start_time
        available = getattr(item.media_reference, "available_range", None)
        begins = round(begin.to_seconds() - (available.start_time.to_seconds() if available is not None else 0.0), 6)
        speed = 100.0
        for effect in item.effects:
            if isinstance(effect, otio.schema.LinearTimeWarp) and effect.time_scalar:
                speed = effect.time_scalar * 100.0
        if known is None:
            self._missing[file or name] = None
            return layer | _text(stand_in(file or name, begins, speed), self._size)
        kind, asset = known
        content: dict[str, Any] = {"kind": kind, "asset": asset}
        if kind != "picture":
            content["time"] = {"start": begins, "speed": speed}
            if kind == "clip" and track.kind == otio.schema.TrackKind.Audio:
                content["kind"] = "sound"
        place = [self._size[0] / 2, self._size[1] / 2]
        return layer | {"content": content, **({} if content["kind"] == "sound" else {"position": place})}


def _text(words: str, size: tuple[int, int]) -> dict[str, Any]:
    return {"content": {"kind": "text", "text": words}, "position": [size[0] / 2, size[1] / 2]}


def _file(reference: Any) -> str:
    """The name of a reference's file."""
    if not isinstance(reference, otio.schema.ExternalReference) or not reference.target_url:
        return ""
    url = reference.target_url.replace("\\", "/")
    path = urlparse(url).path if "://" in url else url
    return PurePosixPath(unquote(path)).name


def _fraction(rate: float) -> tuple[int, int]:
    if abs(rate - round(rate)) < 1e-6:
        return round(rate), 1
    ntsc = round(rate) * 1000
    return (ntsc, 1001) if abs(ntsc / 1001 - rate) < 0.01 else (round(rate * 1000), 1000)


def _plain(value: Any) -> Any:
    """Metadata as plain lists and dicts."""
    if hasattr(value, "items"):
        return {key: _plain(part) for key, part in value.items()}
    if isinstance(value, list | tuple) or type(value).__name__ == "AnyVector":
        return [_plain(part) for part in value]
    return value
