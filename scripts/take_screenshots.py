"""Take the pictures of docs/screenshots from a running `make demo`. Usage: take_screenshots.py URL"""

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

TARGET = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
ARGS = "--no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync"


def drag_anchor(page: Page) -> None:
    """Take the plate's mark near the left station, and hold it there."""
    mark = page.get_by_test_id("anchor-mark").bounding_box()
    left = page.locator('[data-stations] [data-station="left"]').bounding_box()
    page.mouse.move(mark["x"] + mark["width"] / 2, mark["y"] + mark["height"] / 2)
    page.mouse.down()
    page.mouse.move(left["x"] + 60, left["y"])
    page.mouse.move(left["x"] + 8, left["y"] + 6)
    page.wait_for_timeout(400)


def select(page: Page, name: str) -> None:
    """Select a layer by its name in the lanes."""
    row = page.get_by_role("listitem", name=name, exact=True)
    row.get_by_role("button", name=name, exact=True).click()


def main(url: str) -> None:
    """Home, main view, anchor drag, export and night, at 1280 × 800."""
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=ARGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800})

        def shot(name: str) -> None:
            page.wait_for_timeout(500)
            page.screenshot(path=str(TARGET / f"{name}.png"))

        page.goto(url)
        page.wait_for_load_state("networkidle")
        shot("home")
        page.get_by_test_id("scene-card").filter(has_text="Opener").click()
        page.wait_for_selector("[data-ready=yes]")
        select(page, "Name plate")
        for _ in range(6):
            page.keyboard.press("Shift+Period")
        shot("main")
        drag_anchor(page)
        shot("anchor-drag")
        page.keyboard.press("Escape")
        page.mouse.up()
        select(page, "Plate edge")
        page.get_by_role("button", name="Open the lanes of Plate edge").click()
        page.keyboard.press("Home")
        page.keyboard.press("Shift+Period")
        for _ in range(8):
            page.keyboard.press("Period")
        page.get_by_role("button", name="Night theme").click()
        shot("night")
        page.get_by_role("button", name="Day theme").click()
        page.get_by_role("button", name="Export", exact=True).click()
        page.get_by_role("radio", name="PNG still").click()
        page.get_by_role("button", name="Start export").click()
        page.locator("[data-testid=export-job][data-state=done]").first.wait_for()
        page.get_by_role("radio", name="WebM").click()
        page.get_by_role("button", name="Start export").click()
        page.get_by_role("progressbar", name="Export").wait_for()
        page.wait_for_function("() => Number(document.querySelector('[role=progressbar]').ariaValueNow) > 24")
        shot("export")
        page.get_by_role("button", name="Stop").click()
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1])
