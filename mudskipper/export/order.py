"""What is to be made of a scene: an order that holds no path, to be carried out on any machine that has the media."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, fields
from functools import cached_property
from pathlib import Path
from typing import Any

from ..core.contents.assets import Assets, PictureInfo
from ..core.document.read import read_scene
from ..core.document.scene import Scene
from ..core.ground.errors import Refused
from ..core.resolve.context import scenes_in
from ..media.clips import ClipFile
from ..media.files import MediaFiles
from ..media.fonts import OwnFace, fonts_of
from ..media.sounds import squares_in
from .choices import PLAIN, Choices
from .film import Film
from .frames import film_of
from .writers import FORMATS


@dataclass(frozen=True)
class Order:
    """Frames first…stop (not included) of a scene, as a kind of file. `inner` are the scenes that lie in it, `pictures`
    are ids, widths, heights and digests, `clips` ids, digests and what their probe found (JSON), `fonts` the digests of
    its own fonts and what was read of them (JSON), `choices` what is chosen besides (JSON)."""

    scene: str
    inner: tuple[str, ...]
    pictures: tuple[tuple[str, int, int, str], ...]
    clips: tuple[tuple[str, str, str], ...]
    kind: str
    first: int
    stop: int
    fonts: tuple[tuple[str, str], ...] = ()
    choices: str = "{}"

    @cached_property
    def film(self) -> Film:
        """What is written."""
        form = FORMATS[self.kind]
        stop = self.first + 1 if form.still else self.stop
        return film_of(read_scene(self.scene), self.first, stop, Choices.model_validate_json(self.choices), form.even)

    def to_json(self) -> str:
        """As text, for another machine."""
        return json.dumps(asdict(self))

    def opened(self, files: MediaFiles) -> tuple[Scene, Assets]:
        """The scene, and what must be known of its media, whose files here are given by their ids."""
        pictures = {name: PictureInfo(id=name, width=w, height=h) for name, w, h, _ in self.pictures}
        scenes = {one.id: one for one in map(read_scene, self.inner)}
        clips = {name: files.clips[name].info(name) for name, _, _ in self.clips}
        fonts = fonts_of(tuple(files.fonts))
        return read_scene(self.scene), Assets(pictures, clips, scenes, squares_in(files), fonts)

    def files_in(self, media: Path, sounds: Path) -> MediaFiles:
        """The files of its media in a folder that has them by their digests, as a data folder's `media`; samples of
        clips are kept in the folder `sounds`. Refused in words where one is missing."""
        pictures = {name: str(_found(media, digest, "picture")) for name, _, _, digest in self.pictures}
        clips = {
            name: ClipFile(digest, str(_found(media, digest, "clip")), str(media / f"{digest}.npy"), facts)
            for name, digest, facts in self.clips
        }
        fonts = [OwnFace(digest, str(_found(media, digest, "font")), facts) for digest, facts in self.fonts]
        digests = {name: digest for name, _, _, digest in self.pictures}
        return MediaFiles(pictures, clips, str(sounds), digests, fonts)


def _found(folder: Path, digest: str, what: str) -> Path:
    named = sorted(path for path in folder.glob(f"{digest}.*") if path.suffix != ".npy")
    if not named:
        raise Refused(f"The {what} {digest[:12]}… is not in {folder}.", mend="Bring its file there, under its digest.")
    return named[0]


def read_order(text: str) -> Order:
    """An order that was written; Refused in words where it is none."""
    try:
        given: dict[str, Any] = json.loads(text)
        given.setdefault("fonts", [])
        given.setdefault("choices", "{}")
        lists = {name: tuple(tuple(one) for one in given[name]) for name in ("pictures", "clips", "fonts")}
        return Order(
            **{**{one.name: given[one.name] for one in fields(Order)}, **lists, "inner": tuple(given["inner"])}
        )
    except (ValueError, KeyError, TypeError):
        raise Refused("This is no order of a file.", mend="Write one with Order.to_json().") from None


def make_order(
    scene: Scene, assets: Assets, files: MediaFiles, kind: str, first: int, stop: int, choices: Choices = PLAIN
) -> Order:
    """An order, refused in words where the format cannot hold the scene, does not heed a choice, or the frames are not
    the scene's."""
    if kind not in FORMATS:
        raise Refused(f"There is no format {kind!r}.", where="kind", mend=f"Formats: {', '.join(FORMATS)}.")
    form = FORMATS[kind]
    choices.heeded(form.takes, form.label)
    if not 0 <= first < stop <= scene.length:
        raise Refused(
            f"Frames {first} to {stop - 1} were asked, and '{scene.name}' has frames 0 to {scene.length - 1}.",
            where="frames",
        )
    form.check(film_of(scene, first, stop, choices, form.even))
    form.check_scene(scene, assets)
    inner = inner_scenes(scene, assets)
    every = (scene, *inner)
    used = [assets.picture(name) for name in sorted(set().union(*(one.pictures for one in every)))]
    pictures = tuple((info.id, info.width, info.height, files.digest(info.id)) for info in used)
    films = [(assets.clip(name).id, files.clips[name]) for name in sorted(set().union(*(one.clips for one in every)))]
    clips = tuple((name, film.digest, film.facts) for name, film in films)
    fonts = tuple((face.digest, face.facts) for face in files.fonts)
    documents = tuple(one.to_json() for one in inner)
    told = choices.model_dump_json(exclude_defaults=True)
    return Order(scene.to_json(), documents, pictures, clips, kind, first, stop, fonts, told)


def inner_scenes(scene: Scene, assets: Assets) -> list[Scene]:
    """The scenes that lie in a scene, at any depth."""
    found = scenes_in(scene.scenes, assets)
    return [one for _, one in sorted(found.items()) if isinstance(one, Scene)]
