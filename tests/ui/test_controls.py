"""View, entrances, lanes and scenes: what was missing or went wrong at the hand, by what is painted and stored."""

from __future__ import annotations

import itertools
import re
import sqlite3
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import LAG, Studio, middle

NUMBERS = itertools.count(1)


def key(frame: float, value: Any, **more: Any) -> dict[str, Any]:
    return {"frame": frame, "value": value, **more}


def keyed(*keys: dict[str, Any], rest: Any = 0) -> dict[str, Any]:
    return {"rest": rest, "keys": list(keys)}


def made(server: Server, page: Page, *layers: dict[str, Any], **fields: Any) -> Studio:
    number = next(NUMBERS)
    for one in layers:
        one["id"] += f"-c{number}"
    return Studio(page, server, server.keep(f"Controls {number}", list(layers), **fields))


def small(name: str, side: float, **tracks: Any) -> dict[str, Any]:
    item = {"shape": "rectangle", "size": [side, side], "fill": "#d9482f"}
    return layer(name, content={"kind": "shape", "items": [item]}, **tracks)


def undo_says(studio: Studio, words: str) -> None:
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile(f"^Undo: {words}"))


def rested(of: Locator) -> tuple[float, float]:
    """Its middle, once it has stood in one place for a while."""
    of.page.wait_for_timeout(250)
    before, now = None, middle(of)
    while before != now:
        of.page.wait_for_timeout(250)
        before, now = now, middle(of)
    return now


def middle_of_view(studio: Studio) -> tuple[float, float]:
    """The scene point in the middle of the stage."""
    x, y = middle(studio.page.get_by_test_id("stage"))
    left, top = studio.to_page(0, 0)
    scale = studio.to_page(1, 0)[0] - left
    return (x - left) / scale, (y - top) / scale


@pytest.mark.thorough
def test_zoom_keeps_the_middle_of_the_view(server: Server, page: Page) -> None:
    """By the wheel to a corner, then by the list and by keys: what is in the middle stays; Z shows the selection."""
    studio = made(server, page, layer("Plate", position=[140, 80]), small("Buoy", 30, position=[900, 700])).open()
    at = studio.to_page(160, 90)
    page.mouse.move(*at)
    page.keyboard.down("Control")
    page.mouse.wheel(0, -420)
    page.keyboard.up("Control")
    expect(page.get_by_test_id("stage")).not_to_have_attribute("data-scale", "1")
    here = middle_of_view(studio)
    for zoom in ("8", "0.25", "2"):
        page.get_by_role("combobox", name="Zoom").select_option(zoom)
        expect(page.get_by_test_id("stage")).to_have_attribute("data-scale", zoom)
        assert middle_of_view(studio) == pytest.approx(here, abs=1.0 / float(zoom) + 0.1)
    for keys in ("Equal", "Equal", "Minus"):
        page.keyboard.press(keys)
    assert middle_of_view(studio) == pytest.approx(here, abs=1)
    # Far out of the frame, and found by one key.
    studio.select("Buoy")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("z")
    studio.settle()
    expect(page.get_by_test_id("stage")).to_have_attribute("data-scale", "8")
    assert middle_of_view(studio) == pytest.approx((900, 700), abs=0.3)
    page.keyboard.press("0")
    expect(page.get_by_test_id("stage")).to_have_attribute("data-scale", "1")


@pytest.mark.thorough
def test_a_tiny_layer_is_moved_and_sized_before_its_anchor(server: Server, page: Page) -> None:
    studio = made(server, page, layer("Plate", position=[200, 200]), small("Buoy", 14, position=[200, 200])).open()
    studio.select("Buoy")
    studio.drag((197, 197), (297, 147), keys=("Control",))
    undo_says(studio, "Moved Buoy by 100, -50 px")
    studio.drag((307, 157), (317, 167), keys=("Control", "Shift"))
    undo_says(studio, "Scaled Buoy by its bottom right handle")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    # A click on the mark without a drag is a click: the layer below is next.
    studio.select("Plate")
    page.mouse.click(*studio.to_page(200, 200))
    expect(studio.row("Buoy")).to_have_attribute("data-selected", "yes")


@pytest.mark.thorough
def test_bringing_in_near_the_start_and_with_motion_after_it(server: Server, page: Page) -> None:
    """Shortened to what fits, and said; from a station the frames after the landing stay as they were."""
    swing = keyed(key(20, 0), key(50, 120))
    studio = made(
        server,
        page,
        layer("Plate", rotation=swing, scale=keyed(key(20, [100, 100]), key(40, [60, 140]), rest=[100, 100])),
    )
    studio.open("?frame=20")
    studio.select("Plate")
    spots = [(frame, share) for frame in (20, 27, 35, 44, 55) for share in ((0, 0), (1, 0), (1, 1))]
    after = [studio.point("Plate", share, frame) for frame, share in spots]
    landed = studio.still(20)
    page.get_by_role("button", name="In…").click()
    sheet = page.get_by_test_id("bring-in")
    sheet.get_by_role("radio", name="–").click()
    sheet.get_by_label("Scale 0 at").select_option("bottom left")
    sheet.get_by_label("Length of the move").fill("30")
    page.keyboard.press("Enter")
    sheet.get_by_role("button", name="Bring in").click()
    expect(studio.said()).to_contain_text("takes 20 frames and not 30: no more fit before the landing.")
    assert [k["frame"] for k in studio.layer("Plate")["scale"]["keys"]] == [0, 20, 40]
    assert studio.layer("Plate")["anchor"]["rest"] == [0, 1]
    assert [studio.point("Plate", share, frame) for frame, share in spots] == [
        pytest.approx(was, abs=0.05) for was in after
    ]
    assert (studio.still(20) == landed).all()
    page.keyboard.press("Home")
    page.get_by_role("button", name="In…").click()
    page.get_by_test_id("bring-in").get_by_role("button", name="Bring in").click()
    expect(studio.said()).to_contain_text("begins at this very frame")


@pytest.mark.thorough
def test_every_key_and_throughout_say_what_they_add(server: Server, page: Page) -> None:
    """The choice is there as soon as anything is keyed; the picture stays at every key; the count is told."""
    studio = made(server, page, layer("Plate", rotation=keyed(key(5, 0), key(30, 90), key(45, 40)))).open("?frame=12")
    studio.select("Plate")
    page.get_by_role("button", name="Anchor: reset and more").click()
    page.get_by_role("menuitem", name="Picture stays put: every key").click()
    beside = page.get_by_role("radiogroup", name="When the picture stays put")
    expect(beside.get_by_role("radio", name="every key")).to_be_checked()
    was = [studio.still(frame) for frame in (5, 30, 45)]
    page.get_by_test_id("anchor-pad").get_by_role("radio", name="top left", exact=True).focus()
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("3 keys of position were added to 'Plate'.")
    for frame, before in zip((5, 30, 45), was, strict=True):
        assert np.abs(studio.still(frame) - before).max() <= 2
    studio.said().get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("undo")).to_be_disabled()


# The curve is drawn whole within its box.
WHOLE = """() => {
  const svg = document.querySelector("svg[aria-label^='The easing']");
  const [box, curve] = [svg, svg.querySelectorAll('path')[2]].map(e => e.getBoundingClientRect());
  return curve.height > 30 && curve.top >= box.top - 3 && curve.bottom <= box.bottom + 3;
}"""


@pytest.mark.thorough
def test_an_easing_far_beyond_its_box_is_seen_and_taken_again(server: Server, page: Page) -> None:
    studio = made(server, page, layer("Plate", rotation=keyed(key(0, 0), key(40, 90)))).open("?frame=5")
    studio.select("Plate")
    page.get_by_role("button", name=re.compile("^Easing of the move")).click()
    editor = page.get_by_test_id("easing-editor")
    text = editor.get_by_label("Easing as text")
    for given in ("cubic-bezier(0.3, -1.9, 0.6, 2.8)", "overshoot(280)"):
        text.fill(given)
        page.keyboard.press("Enter")
        undo_says(studio, re.escape(f"Eased 1 key of Plate: {given}"))
        page.wait_for_function(WHOLE)
    text.fill("cubic-bezier(0.3, -1.9, 0.6, 2.8)")
    page.keyboard.press("Enter")
    handle = editor.get_by_role("slider", name="Handle at the end")
    expect(handle).to_have_attribute("aria-valuenow", "2.8")
    for _ in range(2):  # thrown far out of the box, it is at the box's edge, and comes back
        start = rested(handle)
        page.mouse.move(*start)
        page.mouse.down()
        page.mouse.move(start[0], start[1] - 300)
        page.mouse.up()
        expect(handle).to_have_attribute("aria-valuenow", "3")
        at, box = rested(handle), editor.get_by_role("group", name="The easing's curve").bounding_box()
        assert box["y"] <= at[1] <= box["y"] + box["height"]
        page.mouse.move(*at)
        page.mouse.down()
        page.mouse.move(at[0], at[1] + 40)
        page.mouse.up()
        expect(handle).not_to_have_attribute("aria-valuenow", "3")


@pytest.mark.thorough
def test_names_are_dragged_beyond_the_edge_of_the_list(server: Server, page: Page) -> None:
    """Held at the list's edge it scrolls: a layer goes from the front to the back of forty."""
    rows = [{**layer(f"Row {n}"), "id": f"row{n}"} for n in range(40)]
    studio = made(server, page, *rows).open()
    grab = middle(studio.row("Row 39").get_by_role("button", name="Row 39", exact=True))
    box = page.get_by_test_id("layer-list").bounding_box()
    page.mouse.move(*grab)
    page.mouse.down()
    page.mouse.move(grab[0], grab[1] + 20)
    page.mouse.move(grab[0], box["y"] + box["height"] - 2)
    expect(studio.row("Row 0")).to_be_visible(timeout=15_000)
    page.wait_for_function(
        "() => { const l = document.querySelector('[data-testid=layer-list]');"
        " return l.scrollTop + l.clientHeight >= l.scrollHeight - 1 }"
    )
    page.mouse.move(grab[0], box["y"] + box["height"] - 3)
    page.mouse.up()
    undo_says(studio, "Moved Row 39 back")
    assert studio.stored()["layers"][0]["name"] == "Row 39"


@pytest.mark.thorough
def test_a_range_plays_without_the_frame_before_it(server: Server, page: Page) -> None:
    studio = made(server, page, layer("Plate", rotation=keyed(key(0, 0), key(59, 90)))).open("?frame=40")
    page.keyboard.press("Shift+End")
    page.get_by_label("Playhead", exact=True).fill("20")
    page.keyboard.press("Enter")
    page.keyboard.press("Shift+Home")
    expect(studio.said()).to_contain_text("Looping over frames 20 to 40.")
    page.evaluate(
        "() => { window.seen = []; new MutationObserver(() => window.seen.push("
        "Number(document.querySelector('[data-testid=playhead]').dataset.frame))).observe("
        "document.querySelector('[data-testid=playhead]'), {attributes: true, attributeFilter: ['data-frame']}); }"
    )
    for _ in range(6):
        page.keyboard.press("Space")
        page.wait_for_timeout(150)
        page.keyboard.press("Space")
    page.keyboard.press("Space")
    page.wait_for_timeout(900)
    page.keyboard.press("Space")
    seen = set(page.evaluate("() => window.seen"))
    assert seen
    assert seen <= set(range(20, 41))


@pytest.mark.thorough
def test_pebbles_of_a_stations_path_stand_on_it(server: Server, page: Page) -> None:
    """With the path of a corner shown, its key is dragged where the corner is, and the corner goes there."""
    way = keyed(key(0, [200, 200]), key(40, [440, 200]), rest=[200, 200])
    studio = made(server, page, layer("Plate", position=way)).open("?frame=20")
    studio.select("Plate")
    page.get_by_role("button", name="Guides").click()
    page.get_by_label("Path of").select_option("bottom right")
    page.keyboard.press("Escape")
    studio.drag((300, 250), (330, 300), keys=("Control",))
    undo_says(studio, "Set a key of position of Plate")
    assert studio.layer("Plate")["position"]["keys"][0]["value"] == [230, 250]
    assert studio.point("Plate", (1, 1), 0) == pytest.approx((330, 300))


@pytest.mark.thorough
def test_keys_are_stretched_moved_and_layers_aligned_by_numbers(server: Server, page: Page) -> None:
    """Stretched in percent and in frames they stay selected where they are; the next edit is taken; undo lets go."""
    turn = keyed(key(0, 0), key(7, 20), key(20, 90))
    studio = made(server, page, layer("Plate", rotation=turn), small("Buoy", 40, position=[500, 300])).open()
    studio.row("Plate").get_by_role("button", name="Open the lanes of Plate").click()
    studio.row("Plate").get_by_role("button", name="Key of Rotation at frame 0").click(button="right")
    page.get_by_role("menuitem", name="All of this property").click()
    frames = lambda: [one["frame"] for one in studio.layer("Plate")["rotation"]["keys"]]  # noqa: E731
    studio.type("Stretch the selected keys to", "133")
    undo_says(studio, "Stretched 3 keys to 133 %")
    page.keyboard.press("Alt+ArrowRight")
    undo_says(studio, r"Moved 3 keys of Plate by \+1 frames")
    page.get_by_label("Frames that the selected keys take").fill("20")
    page.keyboard.press("Enter")
    undo_says(studio, "Stretched 3 keys to")
    page.get_by_label("Time of the selected keys").fill("10")
    page.keyboard.press("Enter")
    undo_says(studio, r"Moved 3 keys of Plate by \+9 frames")
    assert frames() == pytest.approx([10, 17, 30])
    page.keyboard.press("Escape")
    studio.row("Plate").get_by_role("button", name="Key of Rotation at frame 30").click()
    expect(page.get_by_role("group", name="Selected keys")).to_contain_text("1 key")
    for _ in range(4):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    expect(page.get_by_role("group", name="Selected keys")).to_have_count(0)
    studio.select("Buoy")
    studio.row("Plate").get_by_role("button", name="Plate", exact=True).click(modifiers=["Shift"])
    page.get_by_label("Align to", exact=True).select_option("first")
    page.get_by_role("button", name="Bottom edges").click()
    undo_says(studio, "Aligned 2 layers bottom to Buoy")
    assert studio.point("Plate", (0, 1), 0)[1] == pytest.approx(320)
    assert studio.layer("Buoy")["position"]["rest"] == [500, 300]


@pytest.mark.thorough
def test_beats_come_back_and_meet(server: Server, page: Page) -> None:
    studio = made(server, page, layer("Plate"), beats=[{"frame": f} for f in (1, 2, 3, 33, 58)]).open()
    for rate in ("25/1", "30/1"):
        page.get_by_label("Frames a second").select_option(rate)
        undo_says(studio, "Set the scene's rate")
        page.wait_for_timeout(150)
    assert [one["frame"] for one in studio.stored()["beats"]] == [1, 2, 3, 33, 58]
    page.get_by_label("Scene length").fill("40")
    page.keyboard.press("Enter")
    undo_says(studio, "Set the scene's length")
    page.get_by_role("button", name="Beat at 1:03").press("Enter")
    page.get_by_label("Time of the beat").fill("3f")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("Two beats at 0:03 became one.")
    assert [one["frame"] for one in studio.stored()["beats"]] == [1, 2, 3, 58]


@pytest.mark.thorough
def test_layers_are_carried_with_the_scenes_size(server: Server, page: Page) -> None:
    studio = made(server, page, layer("Plate", position=[160, 90])).open()
    page.get_by_label("How layers go along with the size").select_option("fraction")
    studio.type("Scene width", "1280")
    expect(studio.picture).to_have_attribute("width", "1280")
    assert studio.layer("Plate")["position"]["rest"] == [320, 90]
    assert studio.layer("Plate")["scale"]["rest"] == [100, 100]


@pytest.mark.thorough
def test_each_scene_keeps_its_own_choices(server: Server, page: Page) -> None:
    """Solo, range, lanes and comparison of one scene are not the next one's, and are there when it is opened again."""
    first = made(server, page, layer("Plate"), layer("Sign", position=[100, 100]))
    second = made(server, page, layer("Buoy", position=[200, 200]))
    first.open()
    first.select("Plate")
    page.get_by_test_id("stage").focus()
    first.go(12)
    page.keyboard.press("s")
    page.keyboard.press("Shift+Home")
    alone = first.pixels()
    page.get_by_role("link", name="mudskipper").click()
    page.get_by_test_id("scene-card").filter(has_text=second.name).click()
    expect(second.picture).to_have_attribute("data-ready", "yes")
    expect(page.get_by_test_id("note")).to_have_count(0)
    assert (second.pixels() == second.still(0)).all()
    expect(page.get_by_role("combobox", name="Play over")).to_have_value("all")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "0")
    first.open()
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "12")
    expect(page.get_by_test_id("note")).to_contain_text("Solo: Plate")
    expect(page.get_by_role("combobox", name="Play over")).to_have_value("range")
    assert (first.pixels() == alone).all()


@pytest.mark.thorough
def test_projects_are_renamed_removed_and_brought_back(server: Server, page: Page) -> None:
    page.add_init_script(LAG)
    page.add_init_script("window.lag = {projects: 400}")
    page.goto(server.url)
    name = f"Project {len(server.get('api/projects')) + 1}"
    page.get_by_role("button", name="New project").click()
    expect(page.get_by_role("heading", name=name)).to_be_visible()
    page.evaluate("() => { window.lag = {} }")
    page.get_by_role("button", name=f"Rename {name}").click()
    field = page.get_by_role("textbox", name="Project name")
    field.fill("Spring tide")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Spring tide")).to_be_visible()
    page.get_by_role("button", name="Remove project Spring tide").click()
    expect(page.get_by_role("heading", name="Spring tide")).to_have_count(0)
    page.get_by_role("button", name="Remove Tide gauge").click()
    removed = page.get_by_role("region", name="Removed")
    expect(removed).to_contain_text("scene of Low Tide Week")
    page.reload()
    for item in ("Spring tide", "Tide gauge"):
        removed.get_by_role("button", name=f"Bring back {item}").click()
        expect(page.get_by_test_id("said")).to_contain_text(f"{item} is back.")
    expect(page.get_by_role("heading", name="Spring tide")).to_be_visible()
    expect(page.get_by_test_id("scene-card").filter(has_text="Tide gauge")).to_be_visible()
    expect(removed).to_have_count(0)


@pytest.mark.thorough
def test_an_unreadable_scene_says_why_and_comes_back(server: Server, page: Page) -> None:
    """Its card gives the reason and the stored file, opens nothing, and brings back the last step that can be read."""
    studio = made(server, page, layer("Hull"))
    rename = {"edit": "rename_layer", "layer": studio.stored()["layers"][0]["id"]}
    edits = f"{server.url}api/scenes/{studio.scene_id}/edits"
    for name in ("Keel", "Mast"):
        answer = httpx.post(edits, json={"edits": [rename | {"name": name}]}).raise_for_status().json()
    port = int(server.url.rstrip("/").rsplit(":", 1)[1])
    server.kill()
    with sqlite3.connect(server.folder / "mudskipper.sqlite3") as database:
        database.execute("UPDATE document SET body = x'00' WHERE revision = ?", (answer["revision"],))
    server.start(port)
    page.goto(server.url)
    card = page.get_by_test_id("unreadable-scene").filter(has_text="cannot be opened")
    stored = card.get_by_role("link", name="Its file as stored")
    expect(stored).to_have_attribute("href", f"/api/scenes/{studio.scene_id}/raw")
    card.get_by_role("button", name="Bring back its last good step").click()
    expect(page.get_by_test_id("said")).to_contain_text("stands at its last good step")
    expect(page.get_by_test_id("unreadable-scene")).to_have_count(0)
    assert studio.stored()["layers"][0]["name"] == "Keel"


@pytest.mark.thorough
def test_an_export_of_a_span_and_an_empty_field(server: Server, page: Page) -> None:
    studio = made(server, page, layer("Plate", span={"start": 10, "length": 20})).open("?frame=12")
    studio.select("Plate")
    page.get_by_role("button", name="Export", exact=True).click()
    dialog = page.get_by_test_id("export-dialog")
    dialog.get_by_label("Frames of").select_option("span")
    expect(dialog.get_by_label("First frame")).to_have_value("0:10")
    expect(dialog.get_by_label("Last frame")).to_have_value("0:29")
    dialog.get_by_label("First frame").fill("")
    dialog.get_by_role("button", name="Start export").click()
    expect(dialog.get_by_role("alert")).to_contain_text("First frame: No time is given")
    expect(page.get_by_test_id("export-job")).to_have_count(0)
