"""Low Tide Week: a coast town's nine-day festival of the mudflats, as a project of ten scenes."""

from __future__ import annotations

from typing import Any

from ..core.document.scene import Scene
from ..media.pictures import Picture
from ..store.presets import KeptColour
from ..store.store import Store
from .data import fade, key, layer, scene, text
from .festival_poster import festival_poster
from .festival_titles import festival_titles
from .harbour import harbour
from .harbour_at_dusk import FILM, harbour_at_dusk, lower_third
from .harbour_window import harbour_window
from .shore_crab import shore_crab
from .speakers import speakers
from .welcome_board import welcome_board

COLOURS = {"Deep sea": ("deep-sea", "#0e3f45ff"), "Lantern": ("lantern", "#f2b544ff"), "Sail": ("sail", "#fff8eaff")}
"""The project's named colours, by their ids; the name plate of the opener follows them."""
LANDING = {"bezier": [0.1, 0.8, 0.3, 1]}


def fill_store(store: Store) -> None:
    """Put the demo project in, unless a project of its name is there already."""
    if any(project.name == "Low Tide Week" for project, _ in store.projects()):
        return
    project = store.make_project("Low Tide Week")
    for name, (name_id, colour) in COLOURS.items():
        store.presets.keep(project, "colour", name, KeptColour(id=name_id, colour=colour))
    painted = store.folder / "cache" / "harbour.png.part"
    painted.write_bytes(harbour())
    picture = store.pictures.keep(project, "Harbour at dusk.png", Picture(1920, 1080, painted))
    clip = store.clips.keep(project, "Harbour at dusk.mp4", FILM)
    for made in (opener(picture.id), tide_gauge(), bird_race(), shore_crab(), harbour_window(picture.id)):
        store.make_scene(project, made)
    strip = store.make_scene(project, lower_third())
    store.make_scene(project, harbour_at_dusk(clip.id, strip.scene.id))
    store.make_scene(project, welcome_board())
    store.make_scene(project, festival_poster())
    store.make_scene(project, festival_titles())
    store.make_scene(project, speakers())


def _named(name: str) -> dict[str, str]:
    """A colour that follows one of the project."""
    name_id, colour = COLOURS[name]
    return {"rest": colour, "named": name_id}


def opener(picture: str) -> Scene:
    """The opener: harbour, title, and a name plate whose motion is left to be made."""
    layers = [
        layer("Harbour at dusk", 0, 240, {"kind": "picture", "asset": picture}, position=[960, 540],
              scale={"rest": [104, 104], "keys": [key(0, [104, 104], "ease-out"), key(239, [110, 110])]}),
        layer("Week title", 6, 222, text("Low Tide Week", 176, 800, "#fff8eaff", tracking=-10), position={
            "rest": [960, 330], "keys": [key(0, [960, 392], LANDING), key(26, [960, 330])]}, opacity=fade(0, 18)),
        layer("Nine days", 16, 212, text("NINE DAYS ON THE MUDFLATS", 50, 500, "#fff3ddff", tracking=170),
              position=[960, 466], opacity=fade(0, 20)),
        layer("Name plate", 12, 150, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [860, 172], "corners": 32, "fill": _named("Deep sea")}]},
              position=[614, 798]),
        layer("Plate edge", 12, 150, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [22, 172], "corners": 11, "fill": _named("Lantern")}]}, position=[195, 884],
            anchor=[0.5, 1], scale={"rest": [100, 100], "keys": [key(0, [100, 0], LANDING), key(12, [100, 100])]}),
        layer("Speaker name", 26, 132, {**text("Ines Okafor-Lind\nIntertidal ecologist", 58, 650, "#fff8eaff"),
                                        "fill": _named("Sail"), "align": "left", "line_height": 126},
              anchor=[0, 0.5], position={
                  "rest": [256, 798], "keys": [key(0, [226, 798], LANDING), key(16, [256, 798])]},
              opacity=fade(0, 12)),
    ]  # fmt: skip
    return scene("Opener", 1920, 1080, [30, 1], 240, "#f7d09aff", layers, [{"frame": 41, "label": "splash"}])


def tide_gauge() -> Scene:
    """Five bars that grow from their feet, one after another, on a transparent ground."""
    layers = [
        layer("Panel", 0, 175, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [1160, 620], "corners": 44, "fill": "#fbf3e2f5"}]}, position=[640, 360]),
        layer("Heading", 0, 175, {**text("Tide at the old jetty", 54, 700, "#1b2628ff"), "align": "left"},
              anchor=[0, 0.5], position=[120, 124], opacity=fade(0, 12)),
        layer("Unit", 4, 171, {**text("metres over chart datum", 28, 450, "#5e7176ff"), "align": "left"},
              anchor=[0, 0.5], position=[120, 178], opacity=fade(0, 12)),
        layer("Floor", 0, 175, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [1040, 4], "fill": "#5e7176ff"}]}, position=[640, 572]),
    ]  # fmt: skip
    tides = [("Mon", 1.2), ("Tue", 2.1), ("Wed", 3.4), ("Thu", 2.6), ("Fri", 0.9)]
    for number, (day, metres) in enumerate(tides):
        start = 12 + 6 * number
        x = 210 + 215 * number
        tall = round(metres * 94, 1)
        bar = {"shape": "rectangle", "size": [118, tall], "corners": 14, "fill": "#0e6b61ff"}
        grow = {"rest": [100, 100], "keys": [key(0, [100, 0], LANDING), key(20, [100, 100])]}
        layers.append(layer(f"Bar {day}", start, 175 - start, {"kind": "shape", "items": [bar]}, anchor=[0.5, 1],
                            position=[x, 570], scale=grow))  # fmt: skip
        layers.append(layer(f"Value {day}", start + 12, 163 - start, text(f"{metres:.1f}", 34, 650, "#0e3f45ff"),
                            anchor=[0.5, 1], position=[x, 562 - tall], opacity=fade(0, 10)))  # fmt: skip
        layers.append(layer(f"Day {day}", start, 175 - start, text(day, 30, 550, "#1b2628ff"), position=[x, 602],
                            opacity=fade(0, 10)))  # fmt: skip
    return scene("Tide gauge", 1280, 720, [25, 1], 175, "#00000000", layers, [])


def bird_race() -> Scene:
    """A sunburst that turns and covers the frame at every angle, birds and a line that draw themselves, the title."""
    wing = {"shape": "ellipse", "size": [96, 64], "start": -84, "sweep": 168, "closing": "open"}

    def drawn(start: float, end: float) -> dict[str, Any]:
        return {"end": {"rest": 100, "keys": [key(start, 0, LANDING), key(end, 100)]}}

    def bird(name: str, start: int, x: float, y: float, size: float) -> dict[str, Any]:
        ink = {"colour": "#1b2628ff", "width": 10, "cap": "round", "part": drawn(0, 18)}
        wings = [{**wing, "at": [side * 48, 0], "stroke": ink} for side in (-1, 1)]
        return layer(
            name,
            start,
            180 - start,
            {"kind": "shape", "items": wings},
            position={"rest": [x, y], "keys": [key(0, [x, y]), key(180, [x + 150, y - 60])]},
            scale=[size, size],
            rotation={"rest": 0, "formula": "base + wander(0.8, 9)", "formula_seed": 7},
        )

    toned = {"effect": "two-tone", "name": "Two-tone", "dark": "#ee9b3aff", "light": "#f9d9a8ff"}
    grain = {"effect": "grain", "name": "Grain", "amount": 9.0, "size": 2.0, "hold": 3}
    edges = {"effect": "vignette", "name": "Vignette", "colour": "#b5541cff", "amount": 45.0, "size": 55.0}
    layers = [
        layer("Sky", 0, 180, {"kind": "shape", "items": [
            {"shape": "rectangle", "size": [1920, 1080], "fill": "#000000ff"}]}, position=[960, 540],
              effects=[toned, edges]),
        layer("Sunburst", 0, 180, {"kind": "shape", "items": [
            {"shape": "sunburst", "size": [2400, 2400], "rays": 14, "inner": 8, "twist": 18, "fill": "#ffffffff"}]},
              position=[960, 640], rotation={"rest": 0, "keys": [key(0, 0), key(180, 60)], "after": "carry on"},
              effects=[toned]),
        layer("Flats", 0, 180, {"kind": "shape", "items": [
            {"shape": "ellipse", "size": [2500, 620], "start": -90, "sweep": 180, "closing": "chord",
             "fill": "#4a3128ff"}]}, position=[960, 1120]),
        bird("Curlew", 34, 420, 330, 150), bird("Knot", 40, 1440, 250, 110), bird("Dunlin", 46, 1560, 420, 80),
        layer("Race title", 4, 176, text("Bird race", 230, 850, "#0e3f45ff", tracking=-14), position=[960, 530],
              effects=[{"effect": "shadow", "name": "Shadow", "colour": "#7a2e1080", "blur": 14, "offset": [0, 10]}],
              scale={"rest": [100, 100], "keys": [key(0, [0, 0], {"overshoot": 1.4}), key(20, [100, 100])]}),
        layer("Stroke under it", 20, 160, {"kind": "shape", "items": [
            {"shape": "line", "start": [-420, 0], "end": [420, -14], "stroke": {
                "colour": "#d9482fff", "width": 16, "cap": "round", "part": drawn(0, 16)}}]}, position=[960, 668]),
        layer("Race day", 30, 150, text("Dawn to dusk, over all the flats", 56, 600, "#0e3f45ff"), position=[960, 742],
              opacity=fade(0, 14)),
        layer("Film", 0, 180, {"kind": "filter"}, position=[960, 540], effects=[grain]),
    ]  # fmt: skip
    return scene("Bird race", 1920, 1080, [30, 1], 180, "#f2b544ff", layers, [])
