"""Shapes within layers, paths drawn by hand, gradients aimed: by mouse and keys, as stored and as painted."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from mudskipper.core.document.items_as_layers import item_layer
from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import Layer
from tests.conftest import Server, layer
from tests.ui.studio import LAG, Studio

FIXED = {"rest": [0, 0], "pinned": False}
CLAW = {
    "shape": "path", "name": "Finger", "contours": [{"count": 3, "closed": True}], "fill": "#d9482f",
    "points": [[0, 0, 0, 20, 0, -40], [120, -30, -10, -40, -20, -6], [60, 10, 20, -4, -30, 4]],
    "transform": {"anchor": FIXED, "position": [60, 0]},
}  # fmt: skip
ARM = {"shape": "rectangle", "name": "Arm", "size": [90, 30], "at": [10, 0], "fill": "#a83220"}
SHELL = {"shape": "ellipse", "name": "Shell", "size": [160, 100], "fill": "#f07a55"}
GROUP = {"shape": "group", "name": "Claw", "items": [ARM, CLAW], "transform": {"anchor": FIXED, "position": [90, -20]}}


@pytest.fixture
def crab(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A scene of one crab, whose claw is a group, turned and in motion."""
    turn = {"rest": 0, "keys": [{"frame": 0, "value": -8}, {"frame": 40, "value": 20}]}
    data = layer(
        "Crab", content={"kind": "shape", "items": [SHELL, GROUP]}, rotation=turn, anchor=FIXED, position=[250, 190]
    )
    return Studio(page, server, server.keep(f"Crab {request.node.name}", [data])).open()


def item(studio: Studio, address: str) -> Layer:
    """A shape as it is stored, as a layer."""
    scene = scene_of(studio.stored())
    (first,) = scene.layers
    return item_layer(scene, f"{first.id}{address}")


def test_a_joint_is_set_inside_a_group_and_nothing_moves(crab: Studio) -> None:
    """Enter goes in, the mark says whose anchor it is, Q and a drag set it with no pixel moved, and Esc comes out."""
    page, note = crab.page, crab.page.get_by_test_id("inside-note")
    crab.select("Crab")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    expect(note).to_contain_text("Crab › Claw")
    page.keyboard.press("Enter")
    expect(note).to_contain_text("Crab › Claw › Finger")
    mark = page.get_by_test_id("anchor-mark")
    expect(mark).to_have_attribute("aria-label", "Finger: Anchor · 395.8, 149.3 px")
    before, outer = crab.pixels(), crab.layer("Crab")["anchor"]
    crab.drag((395.76, 149.32), (430, 160), hold="q")
    crab.settle()
    assert (crab.pixels() == before).all()
    moved = item(crab, "/1/1")
    assert moved.anchor.rest != (0, 0)
    assert crab.layer("Crab")["anchor"] == outer
    turn = page.get_by_role("textbox", name="Rotation", exact=True)
    turn.fill("40")
    turn.press("Enter")
    crab.settle()
    assert item(crab, "/1/1").rotation.rest == 40
    assert item(crab, "/1").rotation.rest == 0
    for words in ("Crab › Claw", None):
        page.get_by_test_id("stage").focus()
        page.keyboard.press("Escape")
        if words:
            expect(note).to_have_text(f"{words}Out")
    expect(note).to_have_count(0)
    expect(crab.row("Crab")).to_have_attribute("data-selected", "yes")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    crab.settle()
    assert item(crab, "/1/1").anchor.rest == (0, 0)
    assert (crab.pixels() == before).all()


@pytest.mark.thorough
def test_a_second_double_click_goes_in_and_a_shape_is_dragged(crab: Studio) -> None:
    page = crab.page
    at = crab.to_page(262, 188)
    page.mouse.click(*at)
    expect(crab.row("Crab")).to_have_attribute("data-selected", "yes")
    page.wait_for_timeout(450)
    page.mouse.dblclick(*at)
    expect(page.get_by_test_id("inside-note")).to_contain_text("Crab › Shell")
    was = item(crab, "/0").position.rest
    crab.drag((262, 188), (300, 150))
    crab.settle()
    now = item(crab, "/0").position.rest
    away = np.hypot(now[0] - was[0], now[1] - was[1])
    assert abs(away - np.hypot(38, 38)) < 12, "as far in the scene, in the pixels of a layer that is turned"
    assert item(crab, "/1").position.rest == (90, -20)
    assert (np.abs(crab.pixels() - crab.still(0)) <= 2).all()


def test_the_tree_adds_groups_orders_hides_and_deletes(crab: Studio) -> None:
    page = crab.page
    crab.select("Crab")
    tree = page.get_by_role("tree")

    def names() -> list[str]:
        return [one.get_attribute("aria-label") or "" for one in tree.get_by_role("treeitem").all()]

    assert names() == ["Claw", "Finger", "Arm", "Shell"]
    tree.get_by_role("treeitem", name="Arm").click()
    page.keyboard.press("F2")
    page.get_by_role("textbox", name="Shape name").fill("Upper arm")
    page.keyboard.press("Enter")
    expect(tree.get_by_role("treeitem", name="Upper arm")).to_be_visible()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    expect(tree.get_by_role("treeitem", name="Upper arm")).to_have_count(0)
    tree.get_by_role("treeitem", name="Shell").click()
    page.get_by_role("button", name="Add a shape").click()
    page.get_by_role("menuitem", name="Star").click()
    expect(tree.get_by_role("treeitem", name="Star")).to_have_attribute("aria-selected", "true")
    assert names() == ["Star", "Claw", "Finger", "Arm", "Shell"]
    page.get_by_role("button", name="Send the shape back").click()
    expect(tree.get_by_role("treeitem").first).to_have_attribute("aria-label", "Claw")
    tree.get_by_role("treeitem", name="Shell").click(modifiers=["Shift"])
    page.get_by_role("button", name="Group the selected shapes").click()
    expect(tree.get_by_role("treeitem", name="Group 1")).to_be_visible()
    assert names() == ["Claw", "Finger", "Arm", "Group 1", "Star", "Shell"]
    before = crab.pixels()
    page.get_by_role("button", name="Take the group apart").click()
    expect(tree.get_by_role("treeitem", name="Group 1")).to_have_count(0)
    assert (crab.pixels() == before).all()
    tree.get_by_role("button", name="Hide Star").click()
    crab.settle()
    assert (crab.pixels() != before).any()
    tree.get_by_role("treeitem", name="Star").click()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Delete")
    expect(tree.get_by_role("treeitem", name="Star")).to_have_count(0)
    assert names() == ["Claw", "Finger", "Arm", "Shell"]


@pytest.mark.thorough
def test_arrows_walk_the_tree_that_tab_has_reached(crab: Studio) -> None:
    page = crab.page
    crab.select("Crab")
    before = crab.stored()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("F6")
    for _ in range(40):
        if page.evaluate("document.activeElement.closest('[role=tree]') !== null"):
            break
        page.keyboard.press("Tab")
    chosen = page.get_by_role("tree").locator("[aria-selected=true]")
    for key, name in [("Home", "Claw"), ("ArrowDown", "Finger"), ("ArrowDown", "Arm"), ("ArrowLeft", "Claw"),
                      ("End", "Shell"), ("ArrowDown", "Shell"), ("ArrowUp", "Arm"), ("ArrowLeft", "Claw"),
                      ("ArrowRight", "Finger")]:  # fmt: skip
        page.keyboard.press(key)
        expect(chosen).to_have_attribute("aria-label", name)
        expect(page.locator(":focus")).to_have_text(name)
    crab.settle()
    assert crab.stored() == before, "no arrow has moved a shape"


@pytest.mark.thorough
def test_a_shape_is_keyed_in_its_own_row_of_the_lanes(crab: Studio) -> None:
    page = crab.page
    crab.select("Crab")
    crab.row("Crab").get_by_role("button", name="Open the lanes of Crab").click()
    page.get_by_role("button", name="Open the lanes of Claw").click()
    row = page.get_by_test_id("item-row").filter(has_text="Finger").last
    row.get_by_role("button", name="Finger", exact=True).click()
    turn = page.get_by_test_id("panel").get_by_role("group", name="Rotation")
    turn.get_by_test_id("pebble-rotation").click()
    crab.settle()
    crab.go(20)
    page.get_by_role("textbox", name="Rotation", exact=True).fill("-35")
    page.keyboard.press("Enter")
    crab.settle()
    keys = item(crab, "/1/1").rotation.keys
    assert [(key.frame, key.value) for key in keys] == [(0, 0), (20, -35)]
    row.get_by_role("button", name="Open the lanes of Finger").click()
    expect(
        page.get_by_test_id("lane-rotation").last.get_by_role("button", name="Key of Rotation at frame 20")
    ).to_be_visible()
    assert (np.abs(crab.pixels() - crab.still(20)) <= 2).all()


@pytest.fixture
def blank(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A scene without layers."""
    return Studio(page, server, server.keep(f"Blank {request.node.name}", [])).open()


def drawn(studio: Studio) -> dict[str, Any]:
    """The path of the first layer."""
    return studio.stored()["layers"][0]["content"]["items"][0]


@pytest.mark.thorough
def test_a_path_is_drawn_edited_and_taken_back(blank: Studio) -> None:
    """Corners by clicks, a curve by a drag, closed on the first point; undo while drawing; points by hand."""
    page, studio = blank.page, blank

    def click(x: float, y: float) -> None:
        page.mouse.click(*studio.to_page(x, y))
        studio.settle()

    page.get_by_test_id("stage").focus()
    page.keyboard.press("p")
    click(120, 200)
    studio.drag((250, 90), (320, 110))
    studio.settle()
    click(420, 240)
    click(500, 40)
    page.keyboard.press("Control+z")
    studio.settle()
    assert drawn(studio)["contours"] == [{"count": 3, "closed": False}]
    click(280, 310)
    click(122, 202)
    path = drawn(studio)
    assert path["contours"] == [{"count": 4, "closed": True}]
    assert path["points"]["rest"][1] == [130, -110, -70, -20, 70, 20]
    assert path["fill"]
    before = studio.pixels()
    assert (np.abs(before - studio.still(0)) <= 2).all()
    page.keyboard.press("Enter")
    expect(studio.marks).to_have_attribute("data-points", "4")
    click(250, 90)
    x = page.get_by_role("textbox", name="Point x", exact=True)
    x.fill("150")
    page.keyboard.press("Control+z")
    x.press("Escape")
    studio.settle()
    assert drawn(studio)["points"]["rest"][1][0] == 130, "undo in a field that is typed in is the field's"
    studio.drag((250, 90), (230, 60))
    studio.settle()
    assert np.abs(np.array(drawn(studio)["points"]["rest"][1][:2]) - [110, -140]).max() < 0.01
    page.mouse.dblclick(*studio.to_page(350, 275))
    studio.settle()
    assert drawn(studio)["contours"][0]["count"] == 5
    page.get_by_test_id("stage").focus()
    kept = drawn(studio)["points"]["rest"]
    page.keyboard.press("Delete")
    studio.settle()
    left = [point[:2] for point in drawn(studio)["points"]["rest"]]
    assert left == [point[:2] for point in kept if np.hypot(point[0] - 230, point[1] - 75) > 5], (
        "the new one is selected"
    )
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    page.keyboard.press("Delete")
    studio.settle()
    assert drawn(studio)["contours"][0]["count"] == 4, "what was selected before points came and went means no other"
    click(420, 240)
    page.keyboard.press("Delete")
    studio.settle()
    assert drawn(studio)["contours"][0]["count"] == 3
    for _ in range(2):
        page.keyboard.press("Escape")
    expect(studio.marks).to_have_attribute("data-points", "")
    for _ in range(2):
        page.keyboard.press("Control+z")
    assert (studio.pixels() == before).all()
    assert studio.steps()[-1] == "Closed Path and 1 more"


@pytest.mark.parametrize("closes", [True, False])
@pytest.mark.thorough
def test_a_path_is_drawn_faster_than_the_answers_come(server: Server, page: Page, closes: bool) -> None:
    """Each click is a point of the one path, and the last is none too many nor too few."""
    page.add_init_script(LAG)
    studio = Studio(page, server, server.keep(f"Fast {closes}", [])).open()
    page.evaluate("() => { window.lag = {edits: 300, resolved: 100} }")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("p")
    for at in [(120, 200), (300, 120), (420, 240), *([(121, 201)] if closes else [])]:
        page.mouse.click(*studio.to_page(*at))
        page.wait_for_timeout(60)
    if not closes:
        page.keyboard.press("Enter")
    for _ in range(100):
        page.wait_for_timeout(50)
        layers = studio.stored()["layers"]
        if layers and layers[0]["content"]["items"][0]["contours"] == [{"count": 3, "closed": closes}]:
            break
    studio.settle()
    assert len(studio.stored()["layers"]) == 1
    said = studio.said().inner_text() if studio.said().count() else ""
    assert drawn(studio)["contours"] == [{"count": 3, "closed": closes}], (said, studio.steps())
    page.mouse.click(*studio.to_page(500, 320))
    page.wait_for_timeout(700)
    assert drawn(studio)["contours"] == [{"count": 3, "closed": closes}], "the drawing has ended"


@pytest.mark.thorough
def test_a_path_that_is_begun_is_left_by_escape(blank: Studio) -> None:
    page = blank.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("p")
    expect(blank.marks).to_have_attribute("data-note", "Click for corners, drag for curves. The first point closes the "
                                                       "path; Enter or Esc ends it.")  # fmt: skip
    page.keyboard.press("Escape")
    page.mouse.click(*blank.to_page(200, 200))
    blank.settle()
    assert blank.stored()["layers"] == []


@pytest.mark.thorough
def test_an_open_path_is_gone_on_with_after_a_reload(blank: Studio) -> None:
    page = blank.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("p")
    for x in (100, 200):
        page.mouse.click(*blank.to_page(x, 100))
        blank.settle()
    page.reload()
    expect(blank.picture).to_have_attribute("data-ready", "yes")
    blank.select("Path")
    page.get_by_role("button", name="Go on drawing the path at its end").click()
    page.mouse.click(*blank.to_page(200, 220))
    blank.settle()
    page.keyboard.press("Enter")
    path = drawn(blank)
    assert path["contours"] == [{"count": 3, "closed": False}]
    assert [point[:2] for point in path["points"]["rest"]] == [[0, 0], [100, 0], [100, 120]]


@pytest.mark.thorough
def test_a_shape_that_another_window_deleted_leads_the_hand_to_no_other(crab: Studio, browser: Browser) -> None:
    crab.select("Crab")
    tree = crab.page.get_by_role("tree")
    tree.get_by_role("treeitem", name="Shell").click()
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    other = Studio(context.new_page(), crab.server, crab.name).open()
    other.select("Crab")
    other.page.get_by_role("tree").get_by_role("treeitem", name="Shell").click()
    other.page.get_by_role("button", name="Delete the selected shapes").click()
    expect(tree.get_by_role("treeitem", name="Shell")).to_have_count(0)
    before = item(crab, "/1")
    crab.page.get_by_test_id("stage").focus()
    crab.page.keyboard.press("ArrowRight")
    crab.settle()
    assert item(crab, "/1").position == before.position
    context.close()


@pytest.mark.thorough
def test_points_are_keyed_and_one_outline_becomes_another(crab: Studio) -> None:
    page = crab.page
    crab.select("Crab")
    page.get_by_role("tree").get_by_role("treeitem", name="Finger").click()
    page.get_by_test_id("panel").get_by_test_id("pebble-content.items.0.points").click()
    crab.settle()
    crab.go(30)
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    expect(crab.marks).to_have_attribute("data-points", "3")
    page.get_by_role("button", name="Next point").click()
    page.get_by_role("button", name="Next point").click()
    page.get_by_test_id("stage").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowUp")
    crab.settle()
    stored = item(crab, "/1/1").content.items[0].points
    assert [key.frame for key in stored.keys] == [0, 30]
    assert stored.keys[0].value[0] == stored.keys[1].value[0]
    assert stored.keys[0].value[1] != stored.keys[1].value[1]
    crab.go(15)
    assert (np.abs(crab.pixels() - crab.still(15)) <= 2).all()


@pytest.mark.thorough
def test_a_gradient_is_aimed_on_the_stage(server: Server, page: Page) -> None:
    plate = {"shape": "rectangle", "size": [200, 100], "fill": "#0e6b61"}
    data = [layer("Plate", content={"kind": "shape", "items": [plate]}, rotation=-20)]
    studio = Studio(page, server, server.keep("Gradient", data)).open()
    studio.select("Plate")
    for kind in ("linear", "radial", "conic"):
        aimed(studio, kind)


def aimed(studio: Studio, kind: str) -> None:
    page = studio.page
    page.get_by_role("button", name="More colours for Fill").click()
    page.get_by_role("radiogroup", name="Fill: colour or gradient").get_by_role("radio", name=kind).click()
    page.get_by_role("button", name="Add a stop to the fill").click()
    page.get_by_role("button", name="Aim the gradient of the fill on the stage").click()
    expect(studio.marks).to_have_attribute("data-gradient", kind)
    start = studio.point("Plate", (0, 0.5) if kind == "linear" else (0.5, 0.5), 0)
    studio.drag(start, (300, 200))
    studio.settle()
    fill = studio.layer("Plate")["content"]["items"][0]["fill"]
    assert [stop["at"]["rest"] for stop in fill["stops"]] == [0, 50, 100]
    moved = fill["start" if kind == "linear" else "centre"]["rest"]
    box = studio.point("Plate", (moved[0] / 100, moved[1] / 100), 0)
    assert np.hypot(box[0] - 300, box[1] - 200) < 1
    assert (np.abs(studio.pixels() - studio.still(0)) <= 2).all()
    page.keyboard.press("Escape")
    expect(studio.marks).to_have_attribute("data-gradient", "")
    page.get_by_role("combobox", name="Fill: colour or gradient").select_option("colour")
    studio.settle()
    assert studio.layer("Plate")["content"]["items"][0]["fill"]["rest"] == "#0e6b61ff"


@pytest.mark.thorough
def test_a_shape_is_turned_into_a_path_that_looks_the_same(server: Server, page: Page) -> None:
    star = {"shape": "star", "size": [220, 220], "fill": "#f2b544", "stroke": {"colour": "#1b2628", "width": 9}}
    data = [layer("Star", content={"kind": "shape", "items": [star]}, rotation=15)]
    studio = Studio(page, server, server.keep("To a path", data)).open()
    studio.select("Star")
    before = studio.pixels()
    page.get_by_role("button", name="Turn it into a path, which looks the same").click()
    expect(page.get_by_role("group", name="Points", exact=True)).to_be_visible()
    studio.settle()
    assert (np.abs(studio.pixels() - before) <= 2).all()
    assert drawn(studio)["shape"] == "path"
