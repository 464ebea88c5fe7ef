"""Slots in the page: a starter is filled as a form, a property is made a slot, one scene is used three times, and a
table of names becomes files."""

from __future__ import annotations

import io

import httpx
import numpy as np
import pytest
from playwright.sync_api import Page, Route, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio, decoded

NAMES = (
    "Name\tRole\tPlate\nInes Okafor-Lind\tEcologist\t\nBram Tidesley\tHarbour pilot\t#7a1f4b\n"
    "Marguerite-Anne Quellstrand-Ottosen of the Northern Estuary Archive and its Library\tHead\t\nOle\tGuide\tmud\n"
    "Bram Tidesley\tHarbour pilot\t#7a1f4b\n"
)


def begun(server: Server, name: str) -> str:
    """A scene begun as the starter of a lower third, under a name."""
    project = server.get("api/projects")[0]["id"]
    body = {"starter": "Lower third", "name": name}
    answer = httpx.post(f"{server.url}api/projects/{project}/starters/begin", json=body)
    return answer.json()["scene"]["id"]


def test_a_starter_is_filled_as_a_form(server: Server, page: Page) -> None:
    """What is typed shows before it is taken, Esc gives it back, Enter takes it once, and one undo takes it back; what
    the stage shows is what the export would hold."""
    begun(server, "Form")
    studio = Studio(page, server, "Form").open("?slots&frame=90")
    form = page.get_by_role("form", name="Slots of this scene")
    name = form.get_by_role("textbox", name="Name", exact=True)
    before = studio.pixels()
    name.fill("Bram Tidesley of the mole")
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    studio.answered()
    name.press("Escape")
    expect(name).to_have_value("Ines Okafor-Lind")
    assert np.array_equal(studio.pixels(), before)
    assert studio.steps() == []
    name.fill("Bram")
    name.press("Shift+Enter")
    name.press_sequentially("Tidesley")
    name.press("Enter")
    studio.settle()
    assert studio.layer("Name")["content"]["text"] == "Bram\nTidesley"
    assert studio.steps() == ["Filled Name"]
    assert np.abs(studio.pixels() - studio.still(90)).max() <= 2
    plate = form.get_by_role("group", name="Plate", exact=True)
    plate.get_by_label("Plate", exact=True).fill("#7a1f4b")
    plate.get_by_role("button", name="More for the slot Plate").click()
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_label("Name of the slot Plate").fill("Ground")
    page.keyboard.press("Enter")
    expect(form.get_by_role("group", name="Ground", exact=True)).to_be_visible()
    # Who fills words has the keyboard there: Space writes, and nothing plays.
    name.click()
    page.keyboard.press("End")
    page.keyboard.type(" of the mole")
    page.keyboard.press("Tab")
    studio.settle()
    assert studio.layer("Name")["content"]["text"].endswith("of the mole")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(form.get_by_role("group", name="Plate", exact=True)).to_be_visible()


def test_three_uses_of_a_scene_have_three_names(server: Server, page: Page) -> None:
    """A property is made a slot in the panel of its layer; the scene that shows it has its slots there."""
    text = {"kind": "text", "text": "Ines", "size": 40, "fill": "#0e3f45"}
    inner = server.scene_id(server.keep("Badge", [layer("Words", content=text, position=[320, 60])]))
    uses = [
        layer(f"Use{number}", content={"kind": "scene", "asset": inner}, position=[0, 90 * number], anchor=[0, 0])
        for number in range(3)
    ]
    server.keep("Badges", uses, background="#ffffffff")
    badge = Studio(page, server, "Badge").open()
    badge.select("Words")
    page.get_by_role("button", name="Make a property of it a slot").click()
    page.get_by_role("menuitem", name="Text", exact=True).click()
    expect(badge.said()).to_contain_text("Text is a slot now")
    expect(badge.row("Words").get_by_label("filled by Words")).to_be_visible()
    page.get_by_role("button", name="Fill: reset and more").click()
    page.get_by_role("menuitem", name="Make a slot").click()
    expect(page.get_by_title("Fill: filled by the slot Words fill")).to_be_visible()
    studio = Studio(page, server, "Badges").open("?frame=10")
    for number, name in ((0, "Bram"), (2, "Ole")):
        studio.select(f"Use{number}")
        field = page.get_by_role("group", name="Slots", exact=True).get_by_role("textbox", name="Words", exact=True)
        field.fill(name)
        field.press("Enter")
        studio.settle()
    fills = [one["content"].get("fills", []) for one in studio.stored()["layers"]]
    assert [[fill["value"] for fill in one] for one in fills] == [["Bram"], [], ["Ole"]]
    assert np.abs(studio.pixels() - studio.still(10)).max() <= 2
    three = [studio.still(10)[90 * number : 90 * number + 90] for number in range(3)]
    assert not np.array_equal(three[0], three[1])
    assert not np.array_equal(three[0], three[2])
    page.get_by_role("button", name="Words as in the scene").click()
    studio.settle()
    assert np.array_equal(studio.still(10)[180:270], studio.still(10)[90:180])


def test_a_table_of_names_becomes_files(server: Server, page: Page) -> None:
    """Pasted, looked at, mended and rendered, with the mouse and by keys; each row's picture is the file's."""
    scene_id = begun(server, "Names")
    Studio(page, server, "Names").open("?slots")
    page.get_by_role("button", name="Titles from a table…").click()
    page.get_by_label("Rows of a spreadsheet").fill(NAMES)
    page.get_by_role("button", name="Take the rows").click()
    rows = page.get_by_test_id("title-row")
    expect(rows).to_have_count(5)
    expect(page.get_by_text("3 rows need a look")).to_be_visible(timeout=20_000)
    expect(rows.nth(4)).to_contain_text("The same as row 2.")
    rows.nth(2).get_by_role("button", name="Two lines").click()
    expect(rows.nth(2)).to_contain_text("beyond 'Plate'", timeout=20_000)
    rows.nth(2).get_by_role("button", name="Shrink to").click()
    expect(rows.nth(2)).to_contain_text("%, two lines", timeout=20_000)
    cell = page.get_by_label("Plate, row 4")
    cell.fill("#204060")
    cell.press("Enter")
    expect(page.get_by_label("Plate, row 5")).to_be_focused()
    # In a cell where nothing is being typed undo and redo are for the table.
    expect(cell).to_have_value("#204060")
    for keys, value in (("Control+z", "mud"), ("Control+Shift+z", "#204060")):
        page.keyboard.press(keys)
        expect(cell).to_have_value(value)
    expect(rows.nth(2)).to_contain_text("%, two lines")
    page.keyboard.type("no colour")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Plate, row 5")).to_have_value("#7a1f4b")
    # What was being typed is given back first; then Esc closes the window.
    page.get_by_label("Plate, row 5").press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="Titles from a table").click()
    page.get_by_role("button", name="Delete row 5").click()
    expect(rows).to_have_count(4)
    page.keyboard.press("Control+z")
    expect(rows).to_have_count(5)
    page.get_by_role("button", name="Redo").last.click()
    expect(rows).to_have_count(4)
    page.get_by_label("Names of the files").fill("{Nom}")
    expect(page.get_by_text("There is no slot “Nom”.")).to_be_visible()
    page.get_by_label("Names of the files").fill("{Name} – {Role}")
    page.get_by_label("Format", exact=True).select_option("png")
    render = page.get_by_role("button", name="Render 4 of 4")
    render.focus()
    # A key that is held presses once, also after the answer; so does a double click.
    for wait in (0, 400, 50, 50):
        page.wait_for_timeout(wait)
        page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    jobs = page.get_by_test_id("title-job")
    expect(page.locator("[data-testid=title-job][data-state=done]")).to_have_count(4, timeout=60_000)
    assert len(httpx.get(f"{server.url}api/scenes/{scene_id}/exports").json()) == 4
    with page.expect_download() as coming:
        jobs.nth(1).get_by_role("link").click()
    assert coming.value.suggested_filename == "Bram Tidesley – Harbour pilot.png"
    picture = rows.nth(1).get_by_role("img")
    assert picture.evaluate("one => one.complete && one.naturalWidth") == 288
    small = httpx.get(f"{server.url.rstrip('/')}{picture.get_attribute('src')}").content
    whole = decoded(io.BytesIO(coming.value.path().read_bytes()).getvalue())
    # The thumbnail is the file's own frame: its plate has the row's colour where the file's has.
    assert tuple(decoded(small)[143, 45, :3]) == tuple(whole[957, 300, :3]) == (0x7A, 0x1F, 0x4B)
    # A paste over cells fills them and those below, and goes on with rows of its own.
    page.get_by_label("Role, row 4").click()
    page.evaluate(
        """() => { const data = new DataTransfer(); data.setData('text/plain', 'Guide\\tfb4\\nPilot\\t\\n');
        document.activeElement.dispatchEvent(new ClipboardEvent('paste',
          {clipboardData: data, bubbles: true, cancelable: true})); }"""
    )
    expect(rows).to_have_count(5)
    expect(page.get_by_label("Role, row 5")).to_have_value("Pilot")
    expect(page.get_by_label("Plate, row 4")).to_have_value("fb4")
    page.get_by_role("button", name="Close", exact=True).click()
    expect(page.get_by_role("button", name="Titles from a table (5)…")).to_be_visible()


def test_a_look_that_comes_late_is_of_the_row_as_it_was(server: Server, page: Page) -> None:
    """What was asked of a row and answered after the next change says nothing of it when undo brings it back."""
    begun(server, "Late looks")
    studio = Studio(page, server, "Late looks").open("?slots")
    page.get_by_role("button", name="Titles from a table…").click()
    page.get_by_label("Rows of a spreadsheet").fill("Name\tPlate\nOle\tmud\n")
    page.get_by_role("button", name="Take the rows").click()
    page.get_by_text("1 row needs a look").wait_for()
    held: list[Route] = []
    holding = [True]
    page.route("**/table/looks", lambda route: held.append(route) if holding else route.continue_())
    cell = page.get_by_label("Plate, row 1")
    for value, keys in (("#204060", "Enter"), ("mud", "Control+z")):
        if keys == "Enter":
            cell.fill(value)
        page.keyboard.press(keys)
        expect(cell).to_have_value(value)
        studio.answered()
    holding.clear()
    with page.expect_response("**/table/looks"):
        held[0].continue_()
    for route in held[1:]:
        route.continue_()
    page.get_by_role("button", name="Redo").last.click()
    expect(cell).to_have_value("#204060")
    expect(page.get_by_role("button", name="Render 1 of 1")).to_be_visible()
    picture = page.get_by_test_id("title-row").get_by_role("img")
    page.wait_for_function("one => one.complete && one.naturalWidth", arg=picture.element_handle())


@pytest.mark.thorough
def test_a_thousand_rows_are_scrolled_without_a_pause(server: Server, page: Page) -> None:
    """While they are scrolled and looked at the window answers, and each row that is seen is looked at."""
    begun(server, "Thousand")
    text = "Name\n" + "\n".join(f"Speaker {number}" for number in range(1_000))
    Studio(page, server, "Thousand").open("?slots")
    page.get_by_role("button", name="Titles from a table…").click()
    page.get_by_label("Rows of a spreadsheet").fill(text)
    page.get_by_role("button", name="Take the rows").click()
    rows = page.get_by_test_id("titles-rows")
    expect(rows).to_be_visible()
    for _ in range(20):
        rows.evaluate("one => { one.scrollTop += 1800; }")
        page.wait_for_timeout(30)
    last = int(page.get_by_test_id("title-row").last.get_attribute("aria-rowindex") or 0) - 1
    assert last > 400
    expect(page.get_by_label(f"Name, row {last - 3}", exact=True)).to_have_value(f"Speaker {last - 4}")
    expect(page.get_by_test_id("title-row").filter(has_text="is looked at…")).to_have_count(0, timeout=60_000)
