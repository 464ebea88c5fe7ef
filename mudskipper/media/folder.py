"""Media of a scene that lie in a folder, named by their ids: what the command line reads."""

from __future__ import annotations

import atexit
import json
import shutil
import tempfile
from pathlib import Path

from PIL import Image

from ..core.contents.assets import Assets, PictureInfo
from ..core.document.nesting import refuse_nesting
from ..core.document.read import read_scene
from ..core.document.scene import Scene
from ..core.ground.errors import Refused
from .clips import ClipFile, probe_clip
from .digests import digest_of
from .files import MediaFiles
from .fonts import faces_in_folder, fonts_of
from .sounds import squares_in


def media_in_folder(scene: Scene, folder: Path, name: str) -> tuple[Assets, MediaFiles]:
    """The pictures, clips and scenes of a scene, each a file in that folder or one within it, named with
    or without its ending, and all fonts
    there; Refused where one is missing."""
    scenes = _scenes(scene, folder, name)
    every = (scene, *scenes.values())
    pictures, files = {}, {}
    for asset in sorted(set().union(*(one.pictures for one in every))):
        found = _file(folder, asset, name, "picture", f"{asset}.png")
        with Image.open(found) as image:
            pictures[asset] = PictureInfo(id=asset, width=image.width, height=image.height)
        files[asset] = str(found)
    names = sorted(set().union(*(one.clips for one in every)))
    clips_at = {asset: _file(folder, asset, name, "clip", f"{asset}.mp4") for asset in names}
    clips = {asset: clip_at(path) for asset, path in clips_at.items()}
    infos = {asset: clip.info(asset) for asset, clip in clips.items()}
    own = _own_folder()
    named = {asset: Path(files[asset]).name for asset in files} | {asset: clips_at[asset].name for asset in clips}
    media = MediaFiles(files, clips, str(own) if clips else "", fonts=faces_in_folder(folder, own), names=named)
    fonts = fonts_of(tuple(media.fonts))
    refuse_nesting(scene, assets := Assets(pictures, infos, scenes, squares_in(media), fonts))
    return assets, media


def _scenes(scene: Scene, folder: Path, name: str) -> dict[str, Scene]:
    """The scenes that a scene shows, and those that these show, by the ids by which they are shown."""
    found: dict[str, Scene] = {}
    missing = [(asset, name) for asset in sorted(scene.scenes)]
    while missing:
        asset, shown_in = missing.pop()
        if asset in found or asset == scene.id:
            continue
        path = _file(folder, asset, shown_in, "scene", f"{asset}.json")
        found[asset] = read_scene(path.read_bytes(), path.name).model_copy(update={"id": asset})
        missing += [(inner, path.name) for inner in sorted(found[asset].scenes)]
    return found


def _file(folder: Path, asset: str, scene: str, what: str, wanted: str) -> Path:
    whole = folder / asset
    alike = sorted(whole.parent.iterdir()) if whole.parent.is_dir() else []
    scenes = what == "scene"
    named = (file for file in alike if file.stem == whole.name and (file.suffix == ".json") == scenes)
    found = whole if whole.is_file() else next(named, None)
    if found is None:
        mend = f"Put {wanted if whole.suffix == '' else asset} there, or name its folder with --media."
        raise Refused(f"The {what} {asset} is not in {folder}.", where=scene, mend=mend)
    return found


def clip_at(path: Path) -> ClipFile:
    """A clip from a file of its own; what its probe writes goes when this process ends."""
    folder = _own_folder()
    stamps = folder / "clip.npy"
    facts = probe_clip(path, stamps, path.name)
    film = folder / "clip.npy.mkv" if facts.get("converted") else path
    return ClipFile(digest_of(path), str(film), str(stamps), json.dumps(facts))


def _own_folder() -> Path:
    """A folder that goes when this process ends."""
    folder = Path(tempfile.mkdtemp(prefix="mudskipper-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder
