"""The hands on the stage: handles, ring, marquee, path, guides, view; judged by pixels and by the stored document."""

from __future__ import annotations

import math
import re
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from mudskipper.core.document.scene import SCHEMA
from mudskipper.core.ground.stations import STATIONS
from tests.conftest import Server, layer
from tests.ui.studio import Studio, decoded

AXE = Path(__file__).resolve().parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


def key(frame: float, value: Any, **more: Any) -> dict[str, Any]:
    return {"frame": frame, "value": value, **more}


def bench(server: Server) -> str:
    """A scene for these tests: a plate, a turned sign in motion, a layer off the frame; its name."""
    motion = {"rest": [160, 250], "keys": [key(0, [160, 250]), key(20, [330, 120]), key(40, [500, 250])]}
    swing = {"rest": 0, "keys": [key(0, -20), key(40, 35)]}
    layers = [
        layer("Ground", content=shape(640, 360, "#f6f1e7"), position=[320, 180]),
        layer("Plate", position=[140, 80]),
        layer("Sign", content=shape(90, 60, "#d9482f"), position=motion, rotation=swing, scale=[140, 70]),
        layer("Away", content=shape(40, 40, "#0e6b61"), position=[-300, 40]),
        layer("Ghost", content=shape(60, 60, "#f6f1e7"), position=[560, 60]),
    ]
    for one in layers:
        one["id"] = f"{one['id']}{bench.count}"
    bench.count += 1
    name = f"Bench {bench.count}"
    document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 60, "layers": layers}
    project = server.get("api/projects")[0]["id"]
    answer = httpx.post(f"{server.url}api/projects/{project}/documents", json=document)
    assert answer.status_code == 201, answer.text
    return name


bench.count = 0


def shape(width: float, height: float, fill: str) -> dict[str, Any]:
    return {"kind": "shape", "items": [{"shape": "rectangle", "size": [width, height], "fill": fill}]}


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    return Studio(page, server, bench(server)).open("?frame=10")


def undo_says(studio: Studio, words: str | re.Pattern[str]) -> None:
    expect(studio.page.get_by_test_id("undo")).to_have_attribute(
        "aria-label", f"Undo: {words}" if isinstance(words, str) else words
    )


def ring(studio: Studio, middle: tuple[float, float], angle: float, far: float) -> tuple[float, float]:
    return middle[0] + far * math.cos(math.radians(angle)), middle[1] + far * math.sin(math.radians(angle))


@pytest.mark.thorough
def test_the_anchor_goes_to_every_station_and_no_pixel_moves(studio: Studio) -> None:
    """On a turned, unevenly scaled layer in motion: nine stations, at this frame 0 differences each."""
    studio.select("Sign")
    before = studio.pixels()
    for name, at in STATIONS.items():
        start = tuple(studio.resolved("Sign", 10).values["position"][0])
        studio.drag(start, studio.point("Sign", at, 10))
        undo_says(studio, f"Moved the anchor of Sign to {name}, picture stays put")
        assert studio.layer("Sign")["anchor"]["rest"] == list(at)
        assert (studio.pixels() == before).all(), name
    for _ in STATIONS:
        studio.page.keyboard.press("Control+z")
    expect(studio.page.get_by_test_id("undo")).to_be_disabled()
    assert (studio.pixels() == before).all()


@pytest.mark.thorough
def test_how_near_a_station_draws(studio: Studio) -> None:
    """Within 12 screen pixels it holds; beyond, and with Ctrl, the hand is free; the line it holds to is drawn."""
    studio.select("Plate")
    scale = studio.to_page(1, 0)[0] - studio.to_page(0, 0)[0]
    for away, held, hold in ((10, True, ""), (15, False, ""), (10, False, "Control")):
        goal = (240 + away / scale, 97 + 0.0)
        studio.drag((140, 80), goal, drop=False, hold=hold) if not hold else studio.drag(
            (140, 80), goal, drop=False, keys=(hold,)
        )
        if held:
            studio.page.mouse.move(*studio.to_page(240 + away / scale, 80))
        expect(studio.marks).to_have_attribute("data-lit", "right" if held else "")
        studio.page.keyboard.press("Escape")
        studio.page.mouse.up()
    studio.drag((140, 80), (318, 66), drop=False)
    expect(studio.marks).to_have_attribute("data-note", "Scene centre")
    expect(studio.marks).to_have_attribute("data-guides", "320")
    studio.page.mouse.up()
    undo_says(studio, "Moved the anchor of Plate, picture stays put")
    assert studio.layer("Plate")["position"]["rest"] == [320, 66]


@pytest.mark.thorough
def test_handles_scale_about_the_anchor_flip_and_size(studio: Studio) -> None:
    """An edge draws one axis, Shift keeps proportion, through zero it flips; size grows from the anchor."""
    studio.select("Plate")
    studio.type("Anchor x", "0")
    studio.drag((240, 80), (340, 80), keys=("Control",))
    undo_says(studio, "Scaled Plate by its right handle")
    assert studio.layer("Plate")["scale"]["rest"] == [150, 100]
    studio.drag((340, 80), (-20, 80), keys=("Control",))
    assert studio.layer("Plate")["scale"]["rest"] == [-30, 100]
    assert studio.layer("Plate")["position"]["rest"] == [40, 80]
    for _ in range(2):
        studio.page.keyboard.press("Control+z")
    undo_says(studio, "Moved the anchor of Plate, picture stays put")
    studio.drag((240, 130), (290, 190), keys=("Control", "Shift"))
    x, y = studio.layer("Plate")["scale"]["rest"]
    assert x == y
    assert 100 < x < 220
    studio.page.keyboard.press("Control+z")
    undo_says(studio, "Moved the anchor of Plate, picture stays put")
    studio.settle()
    studio.page.get_by_role("radiogroup", name="What handles change").get_by_role("radio", name="Size").click()
    studio.drag((240, 80), (300, 80), keys=("Control",))
    undo_says(studio, "Sized Plate by its right handle")
    plate = studio.layer("Plate")
    assert plate["content"]["items"][0]["size"]["rest"] == [260, 100]
    assert plate["scale"]["rest"] == [100, 100]
    assert studio.point("Plate", (0, 0.5), 10) == pytest.approx((40, 80))
    studio.page.reload()
    studio.select("Plate")
    expect(studio.page.get_by_role("radio", name="Size")).to_be_checked()


@pytest.mark.thorough
def test_the_ring_counts_turns(studio: Studio) -> None:
    """Round and round past 360°, in steps of 15° with Shift; Esc gives it back."""
    studio.select("Plate")
    middle, far = (140, 80), 115
    ways = [ring(studio, middle, angle, far) for angle in range(0, 451, 15)]
    mouse = studio.page.mouse
    mouse.move(*studio.to_page(*ways[0]))
    expect(studio.marks).to_have_attribute("data-lit", "ring")
    mouse.down()
    for at in ways[1:]:
        mouse.move(*studio.to_page(*at))
    expect(studio.marks).to_have_attribute("data-note", "Rotation 450°: 1 turn and 90°")
    mouse.up()
    undo_says(studio, "Turned Plate by 450°")
    assert studio.layer("Plate")["rotation"]["rest"] == 450
    studio.drag(ring(studio, middle, 0, 66), ring(studio, middle, 38, 66), keys=("Shift",), drop=False)
    expect(studio.field("Rotation")).to_have_value("495")
    studio.page.keyboard.press("Escape")
    studio.page.mouse.up()
    expect(studio.field("Rotation")).to_have_value("450")


def test_several_layers_by_a_frame_and_their_common_box(studio: Studio) -> None:
    """A frame drawn on the empty stage selects what it touches; they grow by the common box, or about own anchors."""
    page = studio.page
    studio.row("Ground").get_by_role("button", name="More for Ground").click()
    page.get_by_role("menuitem", name="Lock", exact=True).click()
    undo_says(studio, "Locked Ground")
    studio.drag((250, 20), (20, 140), drop=False)
    expect(studio.marks).to_have_attribute("data-lit", "marquee")
    page.mouse.up()
    expect(studio.row("Plate")).to_have_attribute("data-selected", "yes")
    studio.drag((610, 15), (520, 100), keys=("Shift",))
    expect(page.get_by_test_id("panel").get_by_text("2 layers")).to_be_visible()
    studio.drag((590, 130), (865, 230), keys=("Control",))
    undo_says(studio, "Scaled 2 layers")
    plate, ghost = studio.layer("Plate"), studio.layer("Ghost")
    assert plate["scale"]["rest"] == ghost["scale"]["rest"] == [150, 200]
    assert studio.point("Plate", (0, 0), 10) == pytest.approx((40, 30))
    assert studio.point("Ghost", (1, 0), 10) == pytest.approx((865, 30))
    page.keyboard.press("Control+z")
    page.get_by_role("radio", name="Own anchors").click()
    undo_says(studio, "Locked Ground")
    studio.drag((590, 130), (865, 130), keys=("Control",))
    undo_says(studio, "Scaled 2 layers")
    assert studio.layer("Ghost")["position"]["rest"] == [560, 60]
    assert studio.layer("Ghost")["scale"]["rest"] == [150, 100]
    page.keyboard.press("Control+z")
    # Numbers of several: several where they differ; a sum steps each from its own.
    expect(studio.field("Position x")).to_have_attribute("placeholder", "several")
    expect(studio.field("Position x")).to_have_value("")
    studio.type("Position x", "+10")
    undo_says(studio, "Added to position of 2 layers")
    studio.type("Scale y", "*1.5")
    undo_says(studio, "Multiplied scale of 2 layers")
    expect(studio.field("Scale y")).to_have_value("150")
    assert [studio.layer(n)["position"]["rest"][0] for n in ("Plate", "Ghost")] == [150, 570]
    page.get_by_role("button", name="Left edges").click()
    undo_says(studio, "Aligned 2 layers left to the selection")
    assert studio.point("Ghost", (0, 0), 10)[0] == pytest.approx(50)
    studio.type("Opacity", "abc")
    expect(studio.said()).to_contain_text("Opacity takes a number or a calculation such as 1920/2, +10 or *1.5")


@pytest.mark.thorough
def test_the_path_is_drawn_and_bent_by_hand(studio: Studio) -> None:
    """A key of it dragged where it stands, whatever the playhead; its handles in the hand and in numbers."""
    page = studio.page
    studio.select("Sign")
    dots = decoded(studio.marks.screenshot())
    guides(page, "Motion path", on=False)
    assert (decoded(studio.marks.screenshot()) != dots).any(axis=2).sum() > 400
    guides(page, "Motion path", on=True)
    studio.drag((330, 120), (330, 60), keys=("Control",))
    undo_says(studio, "Set a key of position of Sign")
    assert [k["value"] for k in studio.layer("Sign")["position"]["keys"]] == [[160, 250], [330, 60], [500, 250]]
    # Its handles begin a third of the way to the neighbours; drawn, they bend the path, the other turning along.
    third = (330 + 170 / 3, 60 + 190 / 3)
    studio.drag(third, (420, 60), keys=("Control",))
    undo_says(studio, "Bent the path of Sign")
    keys = studio.layer("Sign")["position"]["keys"]
    assert keys[1]["leave"] == pytest.approx([90, 0], abs=1)
    assert keys[1]["arrive"] is None
    page.get_by_role("button", name="Smooth", exact=True).click()
    undo_says(studio, "Made the path of Sign smooth")
    keys = studio.layer("Sign")["position"]["keys"]
    assert keys[1]["arrive"][1] == pytest.approx(0, abs=0.01)
    studio.type("Handle leave y", "-25")
    undo_says(studio, "Bent the path of Sign")
    assert studio.layer("Sign")["position"]["keys"][1]["leave"][1] == -25
    bent = studio.resolved("Sign", 30).values["position"][0]
    page.get_by_role("button", name="Straight", exact=True).click()
    undo_says(studio, "Made the path of Sign straight")
    assert np.abs(studio.resolved("Sign", 30).values["position"][0] - bent).max() > 2
    page.get_by_role("button", name="Position: reset and more").click()
    page.get_by_role("menuitem", name="Split into x and y").click()
    expect(studio.field("Position x")).to_be_visible()
    page.get_by_role("button", name="Position x: reset and more").click()
    page.get_by_role("menuitem", name="Join x and y").click()
    undo_says(studio, "Joined position of Sign")
    assert [k["value"] for k in studio.layer("Sign")["position"]["keys"]] == [[160, 250], [330, 60], [500, 250]]


@pytest.mark.thorough
def test_ghosts_station_paths_speed_and_outlines_leave_the_picture_alone(studio: Studio) -> None:
    """What is drawn over the picture changes the marks, never the canvas that the export equals."""
    page = studio.page
    studio.select("Sign")
    picture, stage = studio.pixels(), page.get_by_test_id("stage")
    seen = [decoded(stage.screenshot())]
    page.get_by_role("button", name="Guides").click()
    menu = page.get_by_test_id("view-menu")
    for name in ("Ghosts of the poses beside", "Speed as thickness", "Thirds", "Title-safe and action-safe"):
        menu.get_by_label(name).check()
        studio.settle()
        seen.append(decoded(stage.screenshot()))
        assert (seen[-1] != seen[-2]).any(), name
    menu.get_by_label("Path of").select_option("bottom right")
    studio.settle()
    assert (decoded(stage.screenshot()) != seen[-1]).any()
    place = "c => c.getContext('2d').getImageData(160 / 640 * c.width, 250 / 640 * c.width, 1, 1).data[3]"
    assert page.get_by_test_id("ghosts").evaluate(place) == 255
    menu.get_by_label("Outlines only").check()
    assert (studio.pixels() == picture).all()
    page.keyboard.press("Escape")
    page.reload()
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    page.get_by_role("button", name="Guides").click()
    expect(menu.get_by_label("Outlines only")).to_be_checked()
    expect(menu.get_by_label("Path of")).to_have_value("bottom right")
    menu.get_by_label("Outlines only").uncheck()


@pytest.mark.thorough
def test_guides_rulers_zoom_and_pan(studio: Studio) -> None:
    """A guide drawn out of a ruler holds layers; the wheel zooms to the pointer, the middle button pans."""
    page = studio.page
    guides(page, "Rulers and guides", on=True)
    stage = page.get_by_test_id("stage").bounding_box()
    page.mouse.move(stage["x"] + 8, stage["y"] + 200)
    page.mouse.down()
    page.mouse.move(*studio.to_page(100, 100))
    page.mouse.move(*studio.to_page(400, 100))
    expect(studio.marks).to_have_attribute("data-note", "Guide at x 400 px")
    page.mouse.up()
    studio.select("Ghost")
    scale = studio.to_page(1, 0)[0] - studio.to_page(0, 0)[0]
    studio.drag((575, 75), (575 - 130 + 3 / scale, 75))
    undo_says(studio, "Moved Ghost by -130, 0 px")
    at = studio.to_page(500, 300)
    page.mouse.move(*at)
    stage_scale = page.get_by_test_id("stage")
    was = stage_scale.get_attribute("data-scale")
    page.keyboard.down("Control")
    page.mouse.wheel(0, -300)
    page.keyboard.up("Control")
    expect(stage_scale).not_to_have_attribute("data-scale", was)
    studio.comes_to((500, 300), at)
    page.mouse.down(button="middle")
    page.mouse.move(at[0] + 40, at[1] - 30)
    page.mouse.up(button="middle")
    studio.comes_to((500, 300), (at[0] + 40, at[1] - 30))
    page.keyboard.press("9")
    expect(stage_scale).to_have_attribute("data-scale", "1")
    page.keyboard.press("0")
    expect(stage_scale).to_have_attribute("data-scale", f"{scale:g}")
    studio.settle()  # the scale may be the same, and the place another
    page.mouse.move(*studio.to_page(400, 300))
    expect(stage_scale).to_have_css("cursor", "ew-resize")
    page.mouse.down()
    page.mouse.move(stage["x"] + 60, stage["y"] + 100)
    page.mouse.move(stage["x"] + 5, stage["y"] + 100)
    expect(studio.marks).to_have_attribute("data-note", "Let go to take the guide away")
    page.mouse.up()
    page.get_by_role("button", name="Guides").click()
    expect(page.get_by_label("Guide x 1")).to_have_count(0)


def guides(page: Page, name: str, *, on: bool) -> None:
    """Switch something of what is drawn over the picture."""
    page.get_by_role("button", name="Guides").click()
    page.get_by_label(name, exact=True).set_checked(on)
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("view-menu")).to_have_count(0)


def shown(page: Page, clip: Any) -> np.ndarray:
    """A piece of the page as it is seen, (height, width, 3), 0…1."""
    page.evaluate("() => new Promise(go => requestAnimationFrame(() => requestAnimationFrame(go)))")
    return decoded(page.screenshot(clip=clip))[..., :3] / 255


GROUNDS = ["#000000", "#ffffff", "#d9482f", "picture"]


@pytest.mark.thorough
def test_the_mark_is_legible_and_of_one_size(server: Server, page: Page) -> None:
    """On black, white, coral and a picture: light, dark and coral lines around it, and as large at any zoom."""
    studio = Studio(page, server, "Opener").open("?frame=60")
    for ground in GROUNDS:
        legible(studio, ground)


def legible(studio: Studio, ground: str) -> None:
    page = studio.page
    studio.select("Name plate")
    if ground != "picture":
        page.get_by_role("button", name="More colours for Fill").click()
        page.get_by_role("textbox", name="Fill as #rrggbbaa").fill(ground)
        page.keyboard.press("Enter")
        undo_says(studio, "Set fill of Name plate")
    else:
        studio.select("Harbour at dusk")
    sizes = set()
    for zoom in ("fit", "0.25"):
        page.get_by_role("combobox", name="Zoom").select_option(zoom)
        studio.settle()
        box = page.get_by_test_id("anchor-mark").bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        clip = {"x": round(x) - 20, "y": round(y) - 20, "width": 40, "height": 40}
        shot = shown(page, clip)
        linear = np.where(shot <= 0.04045, shot / 12.92, ((shot + 0.055) / 1.055) ** 2.4)[5:35, 5:35]
        light = linear @ [0.2126, 0.7152, 0.0722]
        contrast = (np.percentile(light, 97) + 0.05) / (np.percentile(light, 3) + 0.05)
        assert contrast > 4.5, f"{ground}: {contrast:.1f}"
        guides(page, "Anchor's mark", on=False)
        drawn = np.argwhere((np.abs(shown(page, clip) - shot) > 0.02).any(axis=2))
        guides(page, "Anchor's mark", on=True)
        sizes |= {int(n) for n in np.ptp(drawn, axis=0)}
    assert max(sizes) - min(sizes) <= 3, sizes  # its outermost line is lost in a ground of its colour
    assert min(sizes) >= 24
    assert max(sizes) <= 34
    if ground != "picture":
        page.keyboard.press("Control+z")


@pytest.mark.thorough
def test_layers_that_do_not_show_say_why_and_are_mended(studio: Studio) -> None:
    page, note = studio.page, studio.page.get_by_test_id("unseen")
    studio.select("Ghost")
    expect(note).to_contain_text("in the colour of what lies behind it")
    studio.select("Away")
    expect(note).to_contain_text("it stands 280 px left of the frame")
    note.get_by_role("button", name="Fix it").click()
    undo_says(studio, "Moved Away by 620, 140 px")
    expect(note).to_have_count(0)
    studio.type("Opacity", "0")
    expect(note).to_contain_text("its opacity is 0 % here")
    page.keyboard.press("Escape")
    studio.select("Plate")
    expect(note).to_have_count(0)
    page.keyboard.press("Escape")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("n")
    expect(studio.row("Ghost")).to_have_attribute("data-selected", "yes")


@pytest.mark.thorough
def test_the_explanation_tells_the_sum_in_live_numbers(studio: Studio) -> None:
    """The point that it computes is where the core has it; in the two spaces, of this frame."""
    page = studio.page
    studio.select("Sign")
    page.get_by_role("button", name="Explain the anchor: both spaces and the calculation").click()
    x, y = studio.point("Sign", (1, 1), 10)
    expect(page.get_by_test_id("sum")).to_contain_text(f"({round(x, 2):g}, {round(y, 2):g})")
    expect(page.get_by_role("img", name="The space drawn")).to_have_count(2)
    page.get_by_label("Follow the point").select_option("top left")
    x, y = studio.point("Sign", (0, 0), 10)
    expect(page.get_by_test_id("sum")).to_contain_text(f"({round(x, 2):g}, {round(y, 2):g})")


def test_all_of_it_without_a_mouse(studio: Studio) -> None:
    """Select, place the anchor by arrows, pad and numbers in each space, bring it to the centre, and turn."""
    page = studio.page
    stage = page.get_by_test_id("stage")
    stage.focus()
    for _ in range(4):
        page.keyboard.press("n")
    expect(studio.row("Plate")).to_have_attribute("data-selected", "yes")
    before = studio.pixels()
    page.keyboard.down("q")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.up("q")
    expect(studio.field("Anchor x")).to_have_value("55")
    page.keyboard.down("w")
    page.keyboard.press("ArrowRight")
    page.keyboard.up("w")
    expect(studio.field("Anchor x")).to_have_value("54.5")
    assert (studio.pixels() != before).any()
    page.get_by_label("Anchor in").select_option("scene")
    studio.type("Anchor y", "100")
    undo_says(studio, "Moved the anchor of Plate, picture stays put")
    assert studio.layer("Plate")["position"]["rest"] == [150, 100]
    page.get_by_role("button", name="Anchor to centre").press("Enter")
    expect(studio.field("Anchor x")).to_have_value("320")
    assert studio.layer("Plate")["position"]["rest"] == [320, 180]
    page.get_by_role("button", name="Reset anchor, position, scale, rotation and opacity").press("Enter")
    undo_says(studio, "Reset motion of Plate")
    page.get_by_role("button", name="Layer to centre").press("Enter")
    assert studio.layer("Plate")["anchor"]["rest"] == [0.5, 0.5]


def test_axe_finds_nothing_serious(studio: Studio) -> None:
    page = studio.page
    studio.select("Sign")
    page.evaluate(AXE.read_text())
    for _ in ("day", "night"):
        found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")["violations"]
        grave = [one["nodes"][0] for one in found if one["impact"] in ("serious", "critical")]
        told = [(node["html"][:160], node["failureSummary"]) for node in grave]
        assert told == []
        page.get_by_role("button", name=re.compile("(Night|Day) theme")).click()


@pytest.mark.thorough
def test_colours_strokes_and_contents_in_the_panel(studio: Studio) -> None:
    """A colour typed, refused in words, remembered among the recent ones; a stroke put on and taken off."""
    page = studio.page
    studio.select("Plate")
    page.get_by_role("button", name="More colours for Fill").click()
    text = page.get_by_role("textbox", name="Fill as #rrggbbaa")
    text.fill("teal-ish")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("“teal-ish” is not. Nothing was changed.")
    text.fill("#12c85a80")
    page.keyboard.press("Enter")
    undo_says(studio, "Set fill of Plate")
    assert studio.layer("Plate")["content"]["items"][0]["fill"]["rest"] == "#12c85a80"
    studio.select("Away")
    page.get_by_role("button", name="More colours for Fill").click()
    page.get_by_test_id("swatches").get_by_role("button", name="#12c85a80").first.click()
    undo_says(studio, "Set fill of Away")
    assert studio.layer("Away")["content"]["items"][0]["fill"]["rest"] == "#12c85a80"
    studio.select("Plate")
    page.get_by_role("button", name="Stroke", exact=True).click()
    undo_says(studio, "Set stroke of Plate")
    expect(studio.field("Line width")).to_have_value("4")
    studio.type("Fill alpha", "100")
    undo_says(studio, "Set fill of Plate")
    assert studio.layer("Plate")["content"]["items"][0]["fill"]["rest"] == "#12c85aff"
    page.get_by_role("button", name="Stroke", exact=True).click()
    expect(studio.field("Line width")).to_have_count(0)


@pytest.mark.thorough
def test_a_drag_that_leaves_the_window_and_one_that_is_cancelled(studio: Studio) -> None:
    """Off the window the hand still holds; let go there it is kept; nothing is half done."""
    studio.select("Plate")
    start = studio.to_page(100, 60)
    page = studio.page
    page.mouse.move(*start)
    page.mouse.down()
    page.keyboard.down("Control")
    for x in (start[0] - 60, 2, -200):
        page.mouse.move(x, start[1])
    page.keyboard.up("Control")
    page.mouse.up()
    undo_says(studio, re.compile(r"Undo: Moved Plate by -\d+, 0 px"))
    moved = studio.layer("Plate")["position"]["rest"]
    assert moved[0] < -100
    page.keyboard.press("Control+z")
    expect(studio.field("Position x")).to_have_value("140")
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] + 50, start[1] + 30)
    expect(studio.field("Position x")).not_to_have_value("140")
    page.evaluate("() => document.querySelector('[data-testid=stage]').dispatchEvent("
                  "new PointerEvent('pointercancel', {bubbles: true, pointerId: 1}))")  # fmt: skip
    expect(studio.field("Position x")).to_have_value("140")
    page.mouse.up()
    assert studio.layer("Plate")["position"]["rest"] == [140, 80]


@pytest.mark.thorough
def test_the_way_of_a_keyed_anchor_is_drawn_over_the_picture(studio: Studio) -> None:
    """From corner to corner it slides the layer with no position keys; its path lies on the picture as it stands."""
    page = studio.page
    studio.select("Plate")
    page.get_by_role("button", name="Anchor is not keyed. Start keying here").click()
    undo_says(studio, "Keyed anchor of Plate at frame 10")
    page.get_by_role("radiogroup", name="What stays put").get_by_role("radio", name="Anchor stays put").click()
    studio.type("Anchor x", "0")
    studio.go(40)
    before = decoded(studio.marks.screenshot())
    studio.type("Anchor x", "100")
    undo_says(studio, "Moved the anchor of Plate, anchor stays put")
    assert [k["value"][0] for k in studio.layer("Plate")["anchor"]["keys"]] == [0, 1]
    assert studio.layer("Plate")["position"]["keys"] == []
    x = [studio.point("Plate", (0, 0), frame)[0] for frame in (10, 25, 40)]
    assert x == pytest.approx([140, 40, -60])
    studio.settle()
    assert (decoded(studio.marks.screenshot()) != before).any(axis=2).sum() > 150
