"""Take the pictures of docs/screenshots from a running `make demo`. Usage: take_screenshots.py URL"""

import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

TARGET = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
ARGS = "--no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync"


def drag_anchor(page: Page) -> None:
    """Take the plate's mark near the left station, and hold it there."""
    mark = page.get_by_test_id("anchor-mark").bounding_box()
    picture = page.get_by_test_id("picture").bounding_box()
    scale = picture["width"] / 1920
    left = {"x": picture["x"] + 184 * scale, "y": picture["y"] + 798 * scale}
    page.mouse.move(mark["x"] + mark["width"] / 2, mark["y"] + mark["height"] / 2)
    page.mouse.down()
    page.mouse.move(left["x"] + 60, left["y"])
    page.mouse.move(left["x"] + 8, left["y"] + 6)
    page.wait_for_timeout(400)


def select(page: Page, name: str) -> None:
    """Select a layer by its name in the lanes."""
    row = page.get_by_role("listitem", name=name, exact=True)
    for top in range(0, 600, 60):
        if row.count():
            break
        page.get_by_test_id("layer-list").evaluate("(list, top) => { list.scrollTop = top; }", top)
        page.wait_for_timeout(120)
    row.get_by_role("button", name=name, exact=True).click()


def titles(page: Page, shot: Callable[[str], None]) -> None:
    """The table of the festival's speakers, looked at."""
    page.get_by_role("button", name="Slots", exact=True).click()
    page.get_by_role("button", name="Titles from a table").click()
    page.get_by_role("button", name="Render 37 of 40").wait_for(timeout=60_000)
    page.wait_for_load_state("networkidle")
    shot("titles")


def fonts(page: Page, shot: Callable[[str], None]) -> None:
    """The families in their own shapes, one of them tried on a title in eight scripts and its plate."""
    field = page.get_by_label("Playhead", exact=True)
    field.fill("60")
    field.press("Enter")
    select(page, "Welcome")
    page.get_by_role("button", name="Font: Figtree").click()
    page.get_by_label("Has letters of").select_option("arabic")
    page.get_by_label("Search fonts").focus()
    for _ in range(2):
        page.keyboard.press("ArrowDown")
    shot("fonts")
    page.keyboard.press("Escape")


def effects(page: Page, shot: Callable[[str], None]) -> None:
    """A filter over all that lies below it, its blur about a point, and the effects to choose from."""
    field = page.get_by_label("Playhead", exact=True)
    field.fill("60")
    field.press("Enter")
    select(page, "Film")
    page.get_by_role("button", name="Effects", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button", name="zoom blur").click()
    page.get_by_role("button", name="Points of Zoom blur on the stage").scroll_into_view_if_needed()
    page.mouse.move(640, 200)
    page.wait_for_timeout(9000)
    shot("effects")
    page.get_by_role("button", name="Close Effects").click()
    for _ in range(2):
        page.keyboard.press("Control+z")
        page.wait_for_timeout(400)


def cascades(page: Page, shot: Callable[[str], None]) -> None:
    """A title whose letters flip in: its units on the stage, its staircase in the lanes, its numbers in the panel; then
    the ready-made ones."""
    field = page.get_by_label("Playhead", exact=True)
    field.fill("100")
    field.press("Enter")
    page.get_by_test_id("layer-list").evaluate("list => { list.scrollTop = 9999; }")
    select(page, "Title")
    page.get_by_role("button", name="Fold Anchor").click()
    page.get_by_role("button", name="Fold Text").click()
    page.get_by_role("button", name="Open the lanes of Title").click()
    page.get_by_role("button", name="Work on the cascade flip").click()
    page.get_by_test_id("layer-list").evaluate("list => { list.scrollTop = 9999; }")
    page.get_by_test_id("panel").get_by_role("group", name="Cascades", exact=True).scroll_into_view_if_needed()
    page.wait_for_selector("canvas[data-units]")
    shot("cascades")
    page.get_by_role("button", name="Open Text").click()
    page.get_by_role("button", name="Open Anchor").click()
    page.get_by_role("button", name="Recipes", exact=True).click()
    page.wait_for_selector("[data-testid=drawer] canvas[data-frame]")
    page.get_by_role("group", name="Letters, words and lines").scroll_into_view_if_needed()
    page.get_by_role("button", name="count up").scroll_into_view_if_needed()
    page.wait_for_timeout(900)
    shot("recipes")
    page.get_by_role("button", name="Recipes", exact=True).click()


def colours(page: Page, shot: Callable[[str], None]) -> None:
    """The project's named colours, with the frame measured and the colour under the pointer."""
    select(page, "Name plate")
    page.get_by_role("button", name="Guides").click()
    for name in ("Colour under the pointer", "Waveform and histogram"):
        page.get_by_text(name).click()
    page.keyboard.press("Escape")
    page.wait_for_selector("[data-testid=scopes] canvas[data-frame]")
    page.get_by_role("button", name="More colours for Fill").click()
    page.mouse.move(420, 240)
    shot("colours")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Guides").click()
    for name in ("Colour under the pointer", "Waveform and histogram"):
        page.get_by_text(name).click()
    page.keyboard.press("Escape")


def checks(page: Page, shot: Callable[[str], None]) -> None:
    """The text half out of the safe area: the finding, drawn on the stage."""
    select(page, "Speaker name")
    number = page.get_by_role("textbox", name="Position x", exact=True)
    number.fill("40")
    number.press("Enter")
    page.wait_for_timeout(1_500)
    page.get_by_test_id("checks-count").click()
    page.get_by_role("group", name="safe area of Speaker name").get_by_role("button").first.click()
    shot("checks")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    page.wait_for_timeout(500)
    select(page, "Name plate")
    field = page.get_by_label("Playhead", exact=True)
    field.fill("60")
    field.press("Enter")


def lanes(page: Page, shot: Callable[[str], None]) -> None:
    """A bar's lane made taller with its keys selected, and these as numbers; its easing; by night."""
    select(page, "Bar Fri")
    field = page.get_by_label("Playhead", exact=True)
    field.fill("46")
    field.press("Enter")
    page.get_by_role("button", name="Open the lanes of Bar Fri").click()
    page.get_by_role("button", name="Make the lane of Scale taller").click()
    page.get_by_test_id("layer-list").evaluate("list => { list.scrollTop = 27; }")
    page.get_by_role("button", name="Key of Scale at frame 36").click()
    page.keyboard.down("Shift")
    page.get_by_role("button", name="Key of Scale at frame 56").click()
    page.keyboard.up("Shift")
    page.get_by_role("button", name="Keys as numbers").click()
    page.wait_for_timeout(500)
    shot("lanes")
    page.get_by_role("button", name="Poses as cards").click()
    page.wait_for_timeout(500)
    page.get_by_role("button", name="Night theme").click()
    page.get_by_test_id("move").first.get_by_role("button").click()
    page.wait_for_timeout(500)
    shot("easing")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Day theme").click()


def items(page: Page, shot: Callable[[str], None]) -> None:
    """A finger of the crab's claw with its own anchor, inside its group."""
    page.get_by_test_id("stage").focus()
    for _ in range(7):
        page.keyboard.press("Shift+Period")
    for _ in range(4):
        page.keyboard.press("Period")
    select(page, "Crab")
    page.get_by_role("button", name="Open the lanes of Crab", exact=True).click()
    page.get_by_role("button", name="Open the lanes of Right claw").click()
    page.get_by_role("treeitem", name="Upper finger").first.click()
    shot("items")


def masks(page: Page, shot: Callable[[str], None]) -> None:
    """The harbour behind its porthole, half-way of its pan."""
    field = page.get_by_label("Playhead", exact=True)
    field.fill("60")
    field.press("Enter")
    select(page, "Harbour")
    page.wait_for_timeout(600)
    shot("masks")


def clip(page: Page, shot: Callable[[str], None]) -> None:
    """The film selected, just after its flash."""
    select(page, "Harbour film")
    field = page.get_by_label("Playhead", exact=True)
    field.fill("98")
    field.press("Enter")
    page.wait_for_timeout(800)
    page.wait_for_selector("[data-testid=picture][data-ready=yes]", timeout=30_000)
    shot("clip")


def inner(page: Page, shot: Callable[[str], None]) -> None:
    """The lower third gone into, with the harbour around it, and a text that is carried."""
    select(page, "Lower third")
    field = page.get_by_label("Playhead", exact=True)
    field.fill("60")
    field.press("Enter")
    page.get_by_role("button", name="Go in").click()
    page.get_by_test_id("surroundings").wait_for()
    select(page, "Where")
    page.wait_for_timeout(1_500)
    shot("inner")


def formula(page: Page, shot: Callable[[str], None]) -> None:
    """A formula being written, with its value, its plot and the names that fit."""
    select(page, "Curlew")
    field = page.get_by_label("Playhead", exact=True)
    field.fill("80")
    field.press("Enter")
    page.get_by_role("button", name="Fold Anchor").click()
    text = page.get_by_role("textbox", name="Formula of Rotation")
    text.click()
    page.keyboard.press("End")
    page.keyboard.type(" + 5 * s")
    page.wait_for_timeout(900)
    shot("formula")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Open Anchor").click()


def main(url: str) -> None:
    """Every main view, at 1280 × 800, on fresh demo data."""
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800})

        def shot(name: str) -> None:
            page.wait_for_timeout(500)
            page.screenshot(path=str(TARGET / f"{name}.png"))

        page.goto(url)
        page.wait_for_load_state("networkidle")
        page.get_by_role("button", name="New scene").first.click()
        page.get_by_role("group", name="Starters").get_by_role("button", name="Ticker").wait_for()
        page.wait_for_load_state("networkidle")
        page.evaluate("scrollTo(0, 0)")
        shot("home")
        page.get_by_test_id("scene-card").filter(has_text="Opener").click()
        page.wait_for_selector("[data-ready=yes]")
        select(page, "Name plate")
        for _ in range(6):
            page.keyboard.press("Shift+Period")
        shot("main")
        checks(page, shot)
        drag_anchor(page)
        shot("anchor-drag")
        page.keyboard.press("Escape")
        page.mouse.up()
        colours(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Welcome board").click()
        page.wait_for_selector("[data-ready=yes]")
        fonts(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Festival titles").click()
        page.wait_for_selector("[data-ready=yes]")
        cascades(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Speakers").click()
        page.wait_for_selector("[data-ready=yes]")
        titles(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Tide gauge").click()
        page.wait_for_selector("[data-ready=yes]")
        lanes(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Bird race").click()
        page.wait_for_selector("[data-ready=yes]")
        formula(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Bird race").click()
        page.wait_for_selector("[data-ready=yes]")
        effects(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Shore crab").click()
        page.wait_for_selector("[data-ready=yes]")
        items(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Harbour window").click()
        page.wait_for_selector("[data-ready=yes]")
        masks(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Harbour at dusk").click()
        page.wait_for_selector("[data-ready=yes]")
        clip(page, shot)
        inner(page, shot)
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Opener").click()
        page.wait_for_selector("[data-ready=yes]")
        page.get_by_role("button", name="Export", exact=True).click()
        page.get_by_role("radio", name="MOV (ProRes 4444)").click()
        page.get_by_label("Size", exact=True).select_option("half")
        page.get_by_label("Frames of").select_option("beat 41")
        page.locator("[data-testid=export-sample][data-ready=yes]").wait_for()
        page.get_by_role("button", name="Start export").click()
        page.locator("[data-testid=export-job][data-state=done]").first.wait_for(timeout=120_000)
        shot("export")
        page.goto(url)
        page.get_by_test_id("scene-card").filter(has_text="Festival titles").click()
        page.wait_for_selector("[data-ready=yes]")
        page.get_by_role("button", name="Export", exact=True).click()
        page.get_by_role("radio", name="CSS", exact=True).click()
        page.get_by_label("Begins").select_option("hover")
        page.get_by_role("note", name="What it cannot say").wait_for(timeout=120_000)
        shot("web")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1])
