"""Formats for the edit and for tables: small files that are made whole."""

from __future__ import annotations

import csv
import io
import shutil
from abc import abstractmethod
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import openpyxl
import pysubs2

from ...core.ground.errors import Refused
from ...core.resolve.said import sayings
from ..edit.timeline import as_text, edit_list, timeline_of
from ..edit.values import table_of
from ..film import Film
from .base import Format, Run, whole

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ...media.files import MediaFiles
    from ..order import Order


class SmallFile(Format):
    """A file that is made at once."""

    group = "edit"
    alpha = True

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        data = self.made(scene, assets, files, order)
        with whole(out) as part:
            part.write_bytes(data)
        run.progress(order.film.count)
        shutil.rmtree(run.work, ignore_errors=True)
        return self.lost(scene, assets, order.film)

    @abstractmethod
    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        """What the file holds."""


class _WholeScene(SmallFile):
    """One that tells all of a scene."""

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        return () if film.first == 0 and film.count == scene.length else ("The whole scene is written.",)


class OpenTimeline(_WholeScene):
    """An OpenTimelineIO file."""

    kind = "otio"
    label = "OpenTimelineIO"
    suffix = ".otio"
    media_type = "application/json"

    def note(self, transparent: bool) -> str:
        return "The edit: layers as clips with gaps and fades, beats as markers, each layer's motion beside its clip."

    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        return as_text(timeline_of(scene, assets, files.names)).encode()


class EditList(_WholeScene):
    """Layers in order of time, as CSV."""

    kind = "edit-list"
    label = "Edit list (CSV)"
    suffix = ".csv"
    media_type = "text/csv"
    by_ending = False

    def note(self, transparent: bool) -> str:
        return "What is shown from when to when, of which source from where, a row for each layer."

    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        rows = edit_list(scene, assets, files.names)
        return _csv([list(rows[0]), *(list(row.values()) for row in rows)] if rows else [["layer"]])


class Subtitles(SmallFile):
    """What the texts say, as subtitles of a kind."""

    def __init__(self, kind: str, label: str, suffix: str, media_type: str, form: str) -> None:
        self.kind, self.label, self.suffix, self.media_type, self._form = kind, label, suffix, media_type, form

    def note(self, transparent: bool) -> str:
        return "What the texts of the scene say, and when; without their looks."

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        within = any(layer.content.scenes for layer in scene.layers)
        return ("Texts of scenes within this one are left out.",) if within else ()

    def check_scene(self, scene: Scene, assets: Assets) -> None:
        if not any(layer.content.words for layer in scene.layers):
            raise Refused(f"There is no text in '{scene.name}' to be read.", mend="Add a text.")

    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        subtitles = pysubs2.SSAFile()
        for one in sayings(scene, assets, order.first, order.stop):
            start, end = (round((frame - order.first) * 1000 / scene.fps) for frame in (one.start, one.end))
            subtitles.append(_cue(start, end, one.words))
        return _written(subtitles, self._form)


class Chapters(SmallFile):
    """Beats as chapters, from one to the next."""

    kind = "chapters"
    label = "Chapters (WebVTT)"
    suffix = ".vtt"
    media_type = "text/vtt"
    by_ending = False

    def note(self, transparent: bool) -> str:
        return "Beats as chapter marks for players, from each to the next."

    def check_scene(self, scene: Scene, assets: Assets) -> None:
        if not scene.beats:
            raise Refused(f"'{scene.name}' has no beats.", mend="Set beats on the ruler, and give them names.")

    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        beats = [beat for beat in scene.beats if order.first <= beat.frame < order.stop]
        edges = [*(beat.frame for beat in beats), order.stop]
        chapters = pysubs2.SSAFile()
        for number, beat in enumerate(beats):
            start, end = (round((edge - order.first) * 1000 / scene.fps) for edge in edges[number : number + 2])
            chapters.append(_cue(start, end, beat.label or f"Chapter {number + 1}"))
        return _written(chapters, "vtt")


class ValuesCSV(SmallFile):
    """Values of properties, a row for each frame, as CSV."""

    kind = "values-csv"
    label = "Values (CSV)"
    suffix = ".csv"
    media_type = "text/csv"
    takes = ("values",)

    def note(self, transparent: bool) -> str:
        return "Values of what moves, a row for each frame; read back to keys."

    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        table = table_of(scene, assets, order.first, order.stop, order.film.choices.values)
        return _csv([table.heads, *table.rows])


class ValuesXLSX(ValuesCSV):
    """Values of properties, a row for each frame, as a workbook."""

    kind = "values-xlsx"
    label = "Values (XLSX)"
    suffix = ".xlsx"
    media_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

    def made(self, scene: Scene, assets: Assets, files: MediaFiles, order: Order) -> bytes:
        table = table_of(scene, assets, order.first, order.stop, order.film.choices.values)
        book = openpyxl.Workbook(write_only=True)
        sheet = book.create_sheet("Values")
        for row in (table.heads, *table.rows):
            sheet.append(list(row))
        out = io.BytesIO()
        book.save(out)
        return out.getvalue()


SPECIAL = dict(zip("{}\\<>&", map(chr, range(0xE000, 0xE006)), strict=True))
"""Letters that would be read as marks, and what stands for them while the file is written."""
IN_MARKUP = {"<": "&lt;", ">": "&gt;", "&": "&amp;"}


def _cue(start: int, end: int, words: str) -> pysubs2.SSAEvent:
    """Words from `start` to `end`, in milliseconds."""
    plain = "".join(SPECIAL.get(letter, letter) for letter in words)
    return pysubs2.SSAEvent(start=start, end=end, text=plain.replace("\n", "\\N"))


def _written(subtitles: pysubs2.SSAFile, form: str) -> bytes:
    """A file of a form, UTF-8: in WebVTT and TTML some letters stand as entities."""
    text: str = subtitles.to_string(form)
    for letter, mark in SPECIAL.items():
        written = letter if form == "srt" else IN_MARKUP.get(letter, letter)
        text = text.replace(mark, written).replace(f"&#{ord(mark)};", written)
    return text.encode()


def _csv(rows: Iterable[Iterable[Any]]) -> bytes:
    """CSV by RFC 4180, UTF-8 with its mark, by which spreadsheets know it."""
    out = io.StringIO()
    csv.writer(out).writerows(rows)
    return out.getvalue().encode("utf-8-sig")


SUBTITLES = (
    Subtitles("srt", "Subtitles (SRT)", ".srt", "application/x-subrip", "srt"),
    Subtitles("vtt", "Subtitles (WebVTT)", ".vtt", "text/vtt", "vtt"),
    Subtitles("ttml", "Subtitles (TTML)", ".ttml", "application/ttml+xml", "ttml"),
)
