"""The edit, subtitles and tables, read back by others and by ourselves."""

from __future__ import annotations

import csv
import io
import json
import struct
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import openpyxl
import opentimelineio as otio
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA, Assets, ClipInfo
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.edits.base import EditContext
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.resolved import resolve
from mudskipper.export.choices import Choices
from mudskipper.export.edit.timeline import as_text, timeline_of
from mudskipper.export.edit.values import table_of
from mudskipper.opened import LoneScene
from mudskipper.readers.cues_as_layers import layers_of_cues
from mudskipper.readers.palettes import read_palette
from mudskipper.readers.subtitles import read_subtitles
from mudskipper.readers.tables import read_table
from mudskipper.readers.timeline import Known, read_timeline
from mudskipper.readers.values import value_edits
from tests.conftest import cases, layer, scene

NOTHING = Known({}, frozenset())
EDITS: TypeAdapter[Any] = TypeAdapter(AnyEdit)


def keyed(*pairs: tuple[float, Any]) -> dict[str, Any]:
    return {"rest": pairs[0][1], "keys": [{"frame": frame, "value": value} for frame, value in pairs]}


def text(name: str, words: str, start: int, length: int, **more: Any) -> dict[str, Any]:
    return layer(name, content={"kind": "text", "text": words, **more}, span={"start": start, "length": length})


WORDS = "Low tide\n<3 m & {at} six \\N >"
"""With letters that are marks in one format of subtitles or another."""


def edited(length: int = 120) -> LoneScene:
    """Two plates that fade over, one after a gap, a text, and beats."""
    layers = [
        layer("Sea", span={"start": 0, "length": 50}),
        layer("Harbour", span={"start": 40, "length": 30}, opacity=keyed((0, 0), (10, 100))),
        layer("Gulls", span={"start": 90, "length": 20}, visible=False),
        text("Title", WORDS, 12, 60),
    ]
    beats = [{"frame": 12, "label": "In"}, {"frame": 90, "label": ""}]
    return LoneScene(scene(*layers, length=length, frame_rate=[25, 1], beats=beats))


def test_a_timeline_as_its_own_library_reads_it(tmp_path: Path) -> None:
    """Clips where the layers are, a gap, a fade that meets in the middle, markers; motion beside its clip."""
    of = edited()
    of.render(tmp_path / "a.otio")
    timeline = otio.adapters.read_from_file(str(tmp_path / "a.otio"))
    first, second = timeline.video_tracks()
    kinds = [type(item).__name__ for item in first]
    assert kinds == ["Clip", "Transition", "Clip", "Gap", "Clip"]
    rows = [(item.name, item.range_in_parent()) for item in first if isinstance(item, otio.schema.Clip)]
    frames = [(name, round(at.start_time.value), round(at.duration.value)) for name, at in rows]
    assert frames == [("Sea", 0, 45), ("Harbour", 45, 25), ("Gulls", 90, 20)]
    assert first[1].in_offset.value + first[1].out_offset.value == 10
    assert [item.name for item in second if isinstance(item, otio.schema.Clip)] == ["Title"]
    assert [(one.name, one.marked_range.start_time.value) for one in timeline.tracks.markers] == [
        ("In", 12),
        ("beat", 90),
    ]
    assert not first[4].enabled
    assert first[2].metadata["mudskipper"]["layer"]["opacity"]["keys"][1]["value"] == 100


def test_a_scene_within_is_handed_over_as_it_is_filled() -> None:
    slots = [{"id": "name", "name": "Name", "places": [{"layer": "title", "path": "content.text"}]}]
    assets = NO_MEDIA.with_scenes([scene(text("Title", WORDS, 0, 60), slots=slots, id="inner")])
    shown = {"kind": "scene", "asset": "inner", "fills": [{"slot": "name", "value": "Bram"}]}
    [[stack]] = timeline_of(scene(layer("A", content=shown)), assets, {}).tracks
    assert [clip.metadata["mudskipper"]["layer"]["content"]["text"] for clip in stack.find_clips()] == ["Bram"]


@cases(40)
@given(
    spans=st.lists(st.tuples(st.integers(0, 100), st.integers(1, 80), st.booleans()), min_size=1, max_size=6),
    rate=st.sampled_from([(25, 1), (30000, 1001), (60, 1)]), beats=st.sets(st.integers(0, 100), max_size=4),
)  # fmt: skip
def test_a_timeline_comes_back_as_it_was(
    spans: list[tuple[int, int, bool]], rate: tuple[int, int], beats: set[int]
) -> None:
    """Layers, their order within a track, spans, keys, beats, size and rate of generated scenes."""
    layers = [
        layer(
            f"L{number}", span={"start": start, "length": length}, opacity=keyed((0, 0), (8, 100)) if fades else 100,
            rotation=keyed((0, 10.5), (9, 20)),
        )
        for number, (start, length, fades) in enumerate(spans)
    ]  # fmt: skip
    marks = [{"frame": float(frame), "label": f"b{frame}"} for frame in sorted(beats)]
    before = scene(*layers, length=181, frame_rate=list(rate), beats=marks, background="#112233ff")
    data = as_text(timeline_of(before, NO_MEDIA, {})).encode()
    after = read_timeline(data, "a.otio", NOTHING).scene
    assert after.layers == before.layers
    assert after.model_copy(update={"layers": (), "id": before.id}) == before.model_copy(update={"layers": ()})


def test_a_foreign_timeline_becomes_layers_and_says_what_is_missing() -> None:
    """Clips with slips, speed and gaps by their files' names; what is not there is a text in its place."""
    rate = 25
    at = otio.opentime.RationalTime
    track = otio.schema.Track("V1", kind="Video")
    for name, url, begin, long in (
        ("a", "file:///shoot/Harbour%20one.mp4", 50, 20),
        ("b", "D:\\shoot\\gone.mov", 5, 30),
    ):
        media = otio.schema.ExternalReference(url, otio.opentime.TimeRange(at(25, rate), at(500, rate)))
        clip = otio.schema.Clip(name, media, otio.opentime.TimeRange(at(begin + 25, rate), at(long, rate)))
        if name == "a":
            clip.effects.append(otio.schema.LinearTimeWarp(time_scalar=0.5))
        track.extend([otio.schema.Gap(source_range=otio.opentime.TimeRange(at(0, rate), at(10, rate))), clip])
    timeline = otio.schema.Timeline("Cut", global_start_time=at(0, rate))
    timeline.tracks.append(track)
    data = otio.adapters.write_to_string(timeline, "otio_json").encode()
    found = read_timeline(data, "cut.otio", Known({"harbour one.mp4": ("clip", "c1")}, frozenset({"c1"})))
    one, two = found.scene.layers
    assert found.scene.frame_rate == (25, 1)
    assert (one.span.start, one.span.length, two.span.start, two.span.length) == (10, 20, 40, 30)
    assert one.content.clips == ("c1",)
    assert one.content.source_time.start == 2.0  # type: ignore[union-attr]
    assert one.content.source_time.speed == 50  # type: ignore[union-attr]
    assert two.content.words == "Missing: gone.mov\nfrom 0.2 s"
    clip = ClipInfo.steady("c2", (320, 180), 100, (25, 1))
    there = {"edit": "relink", "layers": [two.id], "content": {"kind": "clip", "asset": "c2"}}
    linked = apply_edits(found.scene, [EDITS.validate_python(there)], Assets(clips={"c2": clip})).scene.layers[1]
    assert linked.content.clips == ("c2",)
    assert linked.content.source_time.start == 0.2
    assert (linked.span, linked.position, linked.name) == (two.span, two.position, two.name)
    with pytest.raises(Refused, match="Only a picture, a clip"):
        apply_edits(found.scene, [EDITS.validate_python(there | {"content": {"kind": "carrier"}})], NO_MEDIA)
    for odd in ("Missing: a\nfrom 1.2.3 s", "Missing: a\nfrom 2 s at 0 %"):
        stands = scene(text("Title", odd, 0, 9))
        edit = EDITS.validate_python(there | {"layers": ["title"]})
        if "1.2.3" in odd:
            with pytest.raises(Refused, match="stands for none"):
                apply_edits(stands, [edit], Assets(clips={"c2": clip}))
        else:
            apply_edits(stands, [edit], Assets(clips={"c2": clip}))
    lone = scene(text("Title", "Low tide", 0, 9))
    with pytest.raises(Refused, match="stands for none"):
        apply_edits(lone, [EDITS.validate_python(there | {"layers": ["title"]})], Assets(clips={"c2": clip}))
    assert found.notes == ["“gone.mov” is not among the project's media: a text stands in its place."]
    for wrong in (data[: len(data) // 2], b"{}", b"\xff\x00"):
        with pytest.raises(Refused, match=r"cut\.otio: (It is no timeline|There is no timeline)"):
            read_timeline(wrong, "cut.otio", NOTHING)


@pytest.mark.parametrize("kind", ["srt", "vtt", "ttml"])
def test_subtitles_say_what_the_texts_say(tmp_path: Path, kind: str) -> None:
    """Read back as layers of the same spans and words; TTML by an XML parser, too."""
    count = text("Count", "0", 30, 20, written={"rest": "", "formula": 'format(floor(frame / 10), "0")'})
    of = LoneScene(scene(*edited().document.model_dump(mode="json")["layers"], count, length=120, frame_rate=[25, 1]))
    out = tmp_path / f"a.{kind}"
    of.render(out, kind)
    cues = read_subtitles(out.read_bytes(), out.name)
    spans = [(round(one.start * 25), round(one.end * 25), one.words) for one in cues]
    assert spans == [(12, 72, WORDS), (30, 40, "0"), (40, 50, "1")]
    if kind == "ttml":
        assert "Low tide" in "".join(ElementTree.fromstring(out.read_text()).itertext())
    layers, notes = layers_of_cues(cues, of.document, of.document.layers[3])
    assert (layers[0].span.start, layers[0].span.length) == (12, 60)
    assert layers[0].content.words == WORDS
    assert not notes
    with pytest.raises(Refused, match="no subtitles in it"):
        read_subtitles(b"Dear all,\nthe tide is low.\n", "letter.srt")


@cases(40)
@given(
    seed=st.integers(0, 999), kind=st.sampled_from(["values-csv", "values-xlsx", "semicolons"]),
    near=st.sampled_from([0.01, 0.5]),
)  # fmt: skip
def test_values_come_back_as_keys(tmp_path_factory: pytest.TempPathFactory, seed: int, kind: str, near: float) -> None:
    """Through CSV, CSV with semicolons and decimal commas, and XLSX: each value at each frame within the tolerance."""
    rng = np.random.default_rng(seed)

    def keys(*size: int) -> dict[str, Any]:
        frames = np.unique(rng.integers(0, 59, 4))
        values = rng.uniform(-90, 90, (len(frames), *size)).round(3).tolist()
        return keyed(*zip(frames.tolist(), values, strict=True))

    item = {"shape": "rectangle", "size": [200, 100], "fill": keyed((0, "#102030ff"), (40, "#f0e0d0ff"))}
    plate = layer(position=keys(2), rotation=keys(), scale=keys(2), content={"kind": "shape", "items": [item]})
    of = LoneScene(scene(plate))
    folder = tmp_path_factory.mktemp("values")
    out = folder / f"a.{'xlsx' if kind.endswith('xlsx') else 'csv'}"
    of.render(out, "values-csv" if kind == "semicolons" else kind)
    if kind == "semicolons":
        with out.open(encoding="utf-8-sig") as file:
            rows = list(csv.reader(file))
        out.write_bytes(
            "\r\n".join(
                ";".join(one.replace(".", ",") if n else one for one in row) for n, row in enumerate(rows)
            ).encode("utf-16")
        )
    edits, left = value_edits(read_table(out.read_bytes(), out.name), of.document, out.name, near)
    assert left == []
    still = scene(layer(content={"kind": "shape", "items": [item | {"fill": "#ffffff"}]}))
    made = apply_edits(still, [EDITS.validate_json(json.dumps(one)) for one in edits], EditContext(NO_MEDIA)).scene
    frames = np.arange(60)
    was, now = (resolve(one, frames, NO_MEDIA).layers["plate"].values for one in (of.document, made))
    for path in ("position", "rotation", "scale"):
        gap = np.linalg.norm(np.broadcast_to(was[path], now[path].shape) - now[path], axis=1)
        assert gap.max() <= near * 1.001 + 1e-5, path
    assert np.abs(was["content.items.0.fill"] - now["content.items.0.fill"]).max() <= 2.1


def test_tables_as_another_reader_sees_them(tmp_path: Path) -> None:
    """Chosen properties of chosen layers; numbers are numbers in the workbook; too many cells are refused."""
    of = LoneScene(scene(layer("A", rotation=keyed((0, 0), (59, 90))), layer("B", position=[5, 6])))
    of.render(tmp_path / "a.xlsx", choices=Choices(values=("a.rotation", "b.position")))
    rows = list(openpyxl.load_workbook(tmp_path / "a.xlsx").active.values)
    assert rows[0] == ("frame", "time", "A.rotation", "B.position.x", "B.position.y")
    assert rows[30] == (29, pytest.approx(29 / 30, abs=1e-6), pytest.approx(29 * 90 / 59, abs=1e-6), 5, 6)
    with pytest.raises(Refused, match="Nothing moves"):
        LoneScene(scene(layer("B"))).render(tmp_path / "b.csv", "values-csv")
    many = scene(
        *(layer(f"L{n}", rotation=keyed((0, 0), (9, 9)), scale=keyed((0, [1, 1]), (9, [9, 9]))) for n in range(40)),
        length=9_000,
    )
    with pytest.raises(Refused, match="more than 1,000,000 cells"):
        table_of(many, NO_MEDIA, 0, 9_000)
    of.render(tmp_path / "list.csv", "edit-list")
    listed = list(csv.DictReader(io.StringIO((tmp_path / "list.csv").read_text("utf-8-sig"))))
    assert [(row["layer"], row["first frame"], row["frames"]) for row in listed] == [("A", "0", "60"), ("B", "0", "60")]


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"frame;A.rotation\n0;1\n0;2\n", "in order of time"), (b"A.rotation\n5\n", 'no column "frame"'),
        (b"frame,A.rotation\n0,tide\n", "“tide” is no number"), (b"frame,Z.rotation\n0,1\n", "names a property"),
        (b"frame,A.rotation\n", "a row of values below"), (b"PK\x03\x04rest", "no workbook"),
        (b"frame,A.rotation\n" + b"1,2,3,4,5,6,7,8,9,0\n" * 101_000, "more than 1,000,000 cells"),
    ],
)  # fmt: skip
def test_wrong_tables_are_told_so(data: bytes, told: str) -> None:
    with pytest.raises(Refused, match=told):
        value_edits(read_table(data, "a.csv"), scene(layer("A")), "a.csv", 0.1)


def test_palettes_have_names_and_colours() -> None:
    """GPL, and ASE of all its colour models, against colours that CSS gives for the same numbers."""
    told = b"GIMP Palette\nName: Tide\nColumns: 2\n# dusk\n217  72  47\tCoral\n 14 107 98 Deep sea\n300 0 0 wrong\n"
    assert [(one.name, one.colour) for one in read_palette(told, "a.gpl")] == [
        ("Coral", "#d9482fff"), ("Deep sea", "#0e6b62ff"),
    ]  # fmt: skip

    def block(name: str, model: bytes, *numbers: float) -> bytes:
        label = name.encode("utf-16-be") + b"\0\0"
        body = struct.pack(">H", len(name) + 1) + label + model + struct.pack(f">{len(numbers)}fH", *numbers, 0)
        return struct.pack(">HI", 1, len(body)) + body

    blocks = [
        struct.pack(">HI", 0xC001, 0), block("Sand", b"RGB ", 1, 0.5, 0.25), block("Mist", b"Gray", 0.5),
        block("Ink", b"CMYK", 1, 0.5, 0, 0.5), block("Lab", b"LAB ", 0.5, 40, 30), struct.pack(">HI", 0xC002, 0),
    ]  # fmt: skip
    found = read_palette(b"ASEF" + struct.pack(">HHI", 1, 0, len(blocks)) + b"".join(blocks), "a.ase")
    assert [one.name for one in found] == ["Sand", "Mist", "Ink", "Lab"]
    assert [one.colour for one in found[:3]] == ["#ff8040ff", "#808080ff", "#004080ff"]
    lab = bytes.fromhex(found[3].colour[1:7])
    # lab(50% 40 30), as Chromium paints it: rgb(187, 88, 70).
    assert list(lab) == [187, 88, 70]
    for wrong in (b"ASEF\0\1\0\0\0\0\0\9", b"GIMP Palette\n", b"Dear all", b"\xff\xfe\x00"):
        with pytest.raises(Refused, match=r"no colours in it|It is no text"):
            read_palette(wrong, "a.ase")
