"""A scene as an OpenTimelineIO timeline: layers as clips, beats as markers, scenes within as stacks."""

from __future__ import annotations

import json
from collections.abc import Mapping
from fractions import Fraction
from typing import Any

import opentimelineio as otio
from opentimelineio.opentime import RationalTime, TimeRange

from ...core.contents.assets import Assets
from ...core.document.scene import Layer, Scene
from ...core.slots.filling import filled
from ...core.tracks.base import Track

META = "mudskipper"
FADE = "opacity"


def timeline_of(scene: Scene, assets: Assets, names: Mapping[str, str]) -> otio.schema.Timeline:
    """The timeline of a scene. Layers that do not overlap and lie one above another share a track; where one fades in
    over all that both are there, it is a transition. Each clip has its layer's document in its metadata."""
    stack = _stack(scene, assets, names, ())
    timeline = otio.schema.Timeline(scene.name, global_start_time=RationalTime(0, scene.fps))
    timeline.tracks = stack
    timeline.metadata[META] = {"scene": json.loads(scene.model_copy(update={"layers": ()}).to_json())}
    return timeline


def _stack(scene: Scene, assets: Assets, names: Mapping[str, str], around: tuple[str, ...]) -> otio.schema.Stack:
    stack = otio.schema.Stack(scene.name)
    for kind, heard in (("Video", False), ("Audio", True)):
        layers = [layer for layer in scene.layers if (not layer.content.shows) == heard]
        for number, row in enumerate(_rows(layers)):
            stack.append(_track(f"{kind} {number + 1}", kind, row, scene, assets, names, around))
    for beat in scene.beats:
        stack.markers.append(
            otio.schema.Marker(
                beat.label or "beat", TimeRange(RationalTime(beat.frame, scene.fps), RationalTime(1, scene.fps))
            )
        )
    return stack


def _rows(layers: list[Layer]) -> list[list[Layer]]:
    """Layers back to front as rows of which none overlap, but for a fade from one to the next."""
    rows: list[list[Layer]] = []
    for layer in layers:
        last = rows[-1] if rows else []
        if last and (layer.span.start >= last[-1].span.end or _fades_over(last[-1], layer)):
            last.append(layer)
        else:
            rows.append([layer])
    return rows


def _fades_over(before: Layer, layer: Layer) -> bool:
    """Whether a layer fades in, straight, over all the frames at which the one before it is still there."""
    shared = before.span.end - layer.span.start
    keys = layer.opacity.keys if isinstance(layer.opacity, Track) else ()
    return (
        0 < shared < min(before.span.length, layer.span.length)
        and len(keys) == 2
        and [key.value for key in keys] == [0, 100]
        and abs(keys[0].frame) < 1e-6
        and abs(keys[1].frame - shared) < 1.5
    )


def _track(
    name: str, kind: str, row: list[Layer], scene: Scene, assets: Assets, names: Mapping[str, str],
    around: tuple[str, ...],
) -> otio.schema.Track:  # fmt: skip
    """Clips with gaps between; a clip is cut to where its transition meets in the middle."""
    track = otio.schema.Track(name, kind=kind)
    rate, at = scene.fps, 0
    for place, layer in enumerate(row):
        begin, end = layer.span.start, layer.span.end
        before, after = (row[place - 1] if place else None), (row[place + 1] if place + 1 < len(row) else None)
        if before is not None and before.span.end > begin:
            shared = before.span.end - begin
            cut = shared // 2
            track.append(
                otio.schema.Transition(
                    "fade", otio.schema.TransitionTypes.SMPTE_Dissolve, RationalTime(cut, rate),
                    RationalTime(shared - cut, rate),
                )
            )  # fmt: skip
            begin += cut
        if after is not None and after.span.start < end:
            end -= (end - after.span.start) - (end - after.span.start) // 2
        if begin > at:
            track.append(otio.schema.Gap(source_range=TimeRange(RationalTime(0, rate), RationalTime(begin - at, rate))))
        track.append(_clip(layer, begin, end, scene, assets, names, around))
        at = end
    return track


def _clip(
    layer: Layer, begin: int, end: int, scene: Scene, assets: Assets, names: Mapping[str, str], around: tuple[str, ...]
) -> otio.core.Item:
    rate = scene.fps
    start, own = _source_start(layer, begin, scene, assets)
    span = TimeRange(RationalTime(start, own), RationalTime((end - begin) * own / rate, own))
    inner = layer.content.scenes[0] if layer.content.scenes else None
    item: otio.core.Item
    if inner is not None and inner in assets.scenes and inner not in around:
        item = _stack(filled(assets.scene(inner), layer.content.filled, assets), assets, names, (*around, inner))
        item.name, item.source_range = layer.name, span
    else:
        item = otio.schema.Clip(layer.name, _reference(layer, assets, names), span)
    time = layer.content.source_time
    if time is not None and time.speed != 100:
        item.effects.append(otio.schema.LinearTimeWarp("speed", time_scalar=time.speed / 100))
    item.metadata[META] = {"layer": json.loads(layer.json_text)}
    item.enabled = layer.visible
    return item


def _source_start(layer: Layer, begin: int, scene: Scene, assets: Assets) -> tuple[float, float]:
    """The frame of its source at which a clip begins, and the rate in which that counts."""
    time = layer.content.source_time
    if time is None:
        return 0.0, scene.fps
    seconds = time.start + (begin - layer.span.start) / scene.fps * time.speed / 100
    inner = layer.content.scenes[0] if layer.content.scenes else None
    rate = assets.scene(inner).fps if inner in assets.scenes and inner is not None else scene.fps
    return round(seconds * rate, 6), rate


def _reference(layer: Layer, assets: Assets, names: Mapping[str, str]) -> otio.core.MediaReference:
    media = next(iter((*layer.content.clips, *layer.content.pictures)), None)
    if media is None:
        return otio.schema.GeneratorReference(layer.name, generator_kind=f"{META}.{layer.content.kind}")
    known = None
    if media in assets.clips:
        known = TimeRange(RationalTime(0, 1000), RationalTime(round(assets.clips[media].length * 1000), 1000))
    return otio.schema.ExternalReference(names.get(media, media), known)


def as_text(timeline: otio.schema.Timeline) -> str:
    """The timeline as JSON."""
    return str(otio.adapters.write_to_string(timeline, "otio_json"))


def edit_list(scene: Scene, assets: Assets, names: Mapping[str, str]) -> list[dict[str, Any]]:
    """The layers in order of time, as rows: what is shown from when to when, of which source from where."""
    rows = []
    rate = Fraction(*scene.frame_rate)
    for layer in sorted(scene.layers, key=lambda one: (one.span.start, one.span.end)):
        content = layer.content
        source = next(iter((*content.clips, *content.pictures, *content.scenes)), "")
        shown = names.get(source, assets.scenes[source].name if source in assets.scenes else source)
        time = content.source_time
        rows.append({
            "layer": layer.name, "kind": content.kind, "source": shown, "first frame": layer.span.start,
            "frames": layer.span.length, "starts at (s)": round(float(layer.span.start / rate), 6),
            "ends at (s)": round(float(layer.span.end / rate), 6),
            "source starts at (s)": "" if time is None else round(time.start, 6),
            "speed (%)": "" if time is None else time.speed, "shown": "yes" if layer.visible else "no",
        })  # fmt: skip
    return rows
