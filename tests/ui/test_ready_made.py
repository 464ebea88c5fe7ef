"""Checks, recipes, a text edited where it stands, a key offered in its pose, and the room that each part takes."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio


def text(words: str, **tracks: Any) -> dict[str, Any]:
    content = {"kind": "text", "text": words, "align": "centre", "size": 40, "fill": "#1b2628"}
    return layer(words.split()[0], content=content, **tracks)


@pytest.fixture
def studio(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A scene with two texts at its edge, and a plate that turns."""
    turn = {"rest": 0, "keys": [{"frame": frame, "value": frame} for frame in (0, 20, 40)]}
    layers = [layer("Plate", rotation=turn), text("Shore", position=[320, 340]), text("Tide", position=[120, 345])]
    name = server.keep(f"Made {request.node.name}", layers, background="#f6f1e7")
    return Studio(page, server, name).open()


@pytest.mark.thorough
def test_checks_are_counted_shown_mended_and_left(studio: Studio) -> None:
    """From the bar to the layer, its frame and a figure on the stage; mended in one step; what is left stays left."""
    page = studio.page
    count = page.get_by_test_id("checks-count")
    expect(count).to_have_text("2")
    studio.go(30)
    count.click()
    shore = page.get_by_role("group", name="safe area of Shore")
    shore.get_by_title("Go to its layer and first frame").click()
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "0")
    expect(page.get_by_test_id("panel").get_by_text("Shore", exact=True).first).to_be_visible()
    expect(studio.marks).to_have_attribute("data-finding", "safe area 0 2")
    shore.get_by_role("button", name="Fix it").click()
    expect(shore).to_have_count(0)
    expect(count).to_have_text("1")
    expect(studio.marks).to_have_attribute("data-finding", "")
    assert len(studio.steps()) == 1
    assert studio.layer("Shore")["position"]["rest"][1] < 340
    tide = page.get_by_role("group", name="safe area of Tide")
    tide.get_by_role("button", name="Ignore").click()
    expect(count).to_have_text("")
    assert studio.layer("Tide")["unchecked"] == ["safe area"]
    page.reload()
    expect(count).to_have_accessible_name("Checks: nothing found")
    count.click()
    tide.get_by_role("button", name="Check it again").click()
    expect(count).to_have_text("1")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(count).to_have_text("")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(count).to_have_text("2")


@pytest.mark.thorough
def test_a_drag_ends_before_it_is_checked(studio: Studio) -> None:
    """While a hand holds a layer nobody asks what the checks find; when it has let go the finding goes."""
    page, asked = studio.page, []
    expect(page.get_by_test_id("checks-count")).to_have_text("2")
    page.on("request", lambda request: asked.append(request.url) if request.url.endswith("/checks") else None)
    studio.select("Shore")
    x, y = studio.point("Shore", (0.3, 0.6), 0)
    studio.drag((x, y), (x, y - 150), drop=False)
    page.wait_for_timeout(900)
    assert not asked
    page.mouse.up()
    expect(page.get_by_test_id("checks-count")).to_have_text("1")


def moving(studio: Studio) -> bool:
    """Whether each small picture of a recipe changes from one moment to another."""
    pictures = studio.page.get_by_test_id("drawer").locator("canvas[data-frame]")
    seen: list[set[str]] = [set() for _ in range(pictures.count())]
    # Some rest for most of their round.
    for _ in range(100):
        now = pictures.evaluate_all("all => all.map(canvas => canvas.toDataURL())")
        for found, picture in zip(seen, now, strict=True):
            found.add(picture)
        if all(len(found) > 1 for found in seen):
            return True
        studio.page.wait_for_timeout(90)
    return False


def test_a_recipe_is_seen_tried_given_back_and_taken(studio: Studio) -> None:
    """Ten moving pictures of the layer itself; provisional on the stage; Esc leaves no trace, Enter writes the keys."""
    page = studio.page
    page.get_by_role("button", name="Recipes").click()
    drawer = page.get_by_test_id("drawer")
    expect(drawer).to_contain_text("Select one layer or several")
    studio.select("Tide")
    # All but those for numbers, lines and clips.
    expect(drawer.locator("canvas[data-frame]")).to_have_count(29)
    assert moving(studio)
    before = studio.pixels()
    drawer.get_by_role("button", name="grow from an edge").click()
    form = page.get_by_role("group", name="Recipe grow from an edge")
    expect(form).to_be_visible()
    page.wait_for_function("() => document.querySelector('[data-testid=playhead]').dataset.frame > 8")
    page.keyboard.press("Escape")
    expect(form).to_have_count(0)
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "0")
    assert not studio.steps()
    assert (studio.pixels() == before).all()
    drawer.get_by_role("button", name="grow from an edge").click()
    form.get_by_role("textbox", name="Length").fill("20")
    page.keyboard.press("Enter")
    expect(form).to_be_visible()
    form.get_by_role("combobox", name="Station").select_option("left")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("play")).to_have_text("Play")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Grow from an edge: Tide")
    expect(drawer).to_have_count(0)
    keys = studio.layer("Tide")["scale"]["keys"]
    assert [(key["frame"], key["value"]) for key in keys] == [(0, [0, 100]), (20, [100, 100])]
    assert studio.layer("Tide")["anchor"]["rest"] == [0, 0.5]
    assert len(studio.steps()) == 1


@pytest.mark.parametrize("turn", ["arrow", "drag", "undo"])
@pytest.mark.thorough
def test_a_hand_that_turns_to_something_else_gives_the_recipe_back(studio: Studio, turn: str) -> None:
    """A nudge, a drag and an undo find the scene as it is kept, at the frame at which the recipe was begun."""
    page = studio.page
    studio.select("Tide")
    studio.go(10)
    page.get_by_role("button", name="Recipes").click()
    page.get_by_role("button", name="drop in").click()
    form = page.get_by_role("group", name="Recipe drop in")
    page.wait_for_function("() => document.querySelector('[data-testid=playhead]').dataset.frame > 14")
    if turn == "arrow":
        page.get_by_test_id("stage").focus()
        page.keyboard.press("ArrowUp")
    elif turn == "drag":
        x, y = studio.point("Tide", (0.3, 0.7), 10)
        studio.drag((x, y), (x + 200, y), keys=("Control",))
    else:
        page.keyboard.press("Control+z")
    expect(form).to_have_count(0)
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "10")
    studio.settle()
    position = studio.layer("Tide")["position"]
    assert not position["keys"]
    assert position["rest"] == {"arrow": [120, 344], "drag": [320, 345], "undo": [120, 345]}[turn]
    assert (studio.pixels() == studio.still(10)).all()


@pytest.mark.thorough
def test_findings_that_are_not_known_are_not_called_none(studio: Studio) -> None:
    """While the checks are made, and where they fail, nothing says that all is well."""
    page = studio.page
    count = page.get_by_test_id("checks-count")
    expect(count).to_have_text("2")
    page.route("**/checks", lambda route: route.fulfill(status=500, body="{}"))
    page.reload()
    expect(count).to_have_accessible_name("Checks: could not be made")
    page.unroute("**/checks")
    studio.row("Plate").get_by_role("button", name="Hide Plate").click()
    expect(count).to_have_accessible_name("Checks: 2 findings")


@pytest.mark.thorough
def test_a_recipe_on_several_layers_is_staggered(studio: Studio) -> None:
    page = studio.page
    studio.select("Shore")
    studio.row("Tide").get_by_role("button", name="Tide", exact=True).click(modifiers=["Shift"])
    page.get_by_role("button", name="Recipes").click()
    page.get_by_role("button", name="drop in").click()
    form = page.get_by_role("group", name="Recipe drop in")
    form.get_by_role("textbox", name="Stagger").fill("7")
    page.keyboard.press("Enter")
    form.get_by_role("combobox", name="Order").select_option("reversed")
    form.get_by_role("button", name="Use it on 2 layers").click()
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Drop in: 2 layers")
    assert [studio.layer(name)["position"]["keys"][0]["frame"] for name in ("Shore", "Tide")] == [7, 0]


def test_a_text_is_edited_where_it_stands(studio: Studio) -> None:
    """By a double click or Enter; seen while it is typed; Esc gives back; Ctrl Enter and a click elsewhere take."""
    page = studio.page
    field = page.get_by_test_id("text-in-place")
    page.mouse.dblclick(*studio.to_page(*studio.point("Tide", (0.5, 0.5), 0)))
    expect(field).to_be_focused()
    expect(field).to_have_value("Tide")
    before = studio.pixels()
    page.keyboard.type("Ebb")
    page.keyboard.press("Enter")
    page.keyboard.type("and flow")
    page.wait_for_function("() => document.documentElement.dataset.underWay !== '1'")
    assert (studio.pixels() != before).any()
    assert not studio.steps()
    page.keyboard.press("Escape")
    expect(field).to_have_count(0)
    assert (studio.pixels() == before).all()
    expect(page.get_by_test_id("stage")).to_be_focused()
    page.keyboard.press("Enter")
    expect(field).to_have_value("Tide")
    page.keyboard.press("End")
    page.keyboard.type("s at four")
    page.keyboard.press("Control+Enter")
    expect(field).to_have_count(0)
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set text of Tide")
    assert studio.layer("Tides at four")["content"]["text"] == "Tides at four"
    assert (studio.pixels() == studio.still(0)).all()
    page.keyboard.press("Enter")
    page.keyboard.type("High")
    page.mouse.click(*studio.to_page(600, 40))
    expect(field).to_have_count(0)
    studio.settle()
    assert studio.layer("High")["content"]["text"] == "High"
    assert len(studio.steps()) == 2
    # In any script, in the order in which it is read.
    studio.select("High")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    expect(field).to_be_focused()
    page.keyboard.type("مد 2:30 גאות")
    page.keyboard.press("Control+Enter")
    expect(field).to_have_count(0)
    studio.settle()
    assert studio.layer("مد 2:30 גאות")["content"]["text"] == "مد 2:30 גאות"
    # Names and fields have the letters, too.
    page.wait_for_function("""() => ['Script Heebo', 'Script Noto Sans Arabic'].every(name =>
      [...document.fonts].some(face => face.family.includes(name) && face.status === 'loaded'))""")
    assert (studio.pixels() == studio.still(0)).all()


@pytest.mark.thorough
def test_the_caret_stands_where_the_letters_are(studio: Studio) -> None:
    """The field over a turned text has its box: a click at the middle of a word stands in the middle of it."""
    page = studio.page
    studio.select("Shore")
    studio.type("Rotation", "-30")
    page.mouse.dblclick(*studio.to_page(*studio.point("Shore", (0.5, 0.5), 0)))
    field = page.get_by_test_id("text-in-place")
    expect(field).to_be_focused()
    page.evaluate("() => document.fonts.ready.then(() => true)")
    for share, place in ((0.04, 0), (0.96, 5), (0.5, 2)):
        page.mouse.click(*studio.to_page(*studio.point("Shore", (share, 0.5), 0)))
        assert abs(field.evaluate("field => field.selectionStart") - place) <= (share == 0.5)


@pytest.mark.thorough
def test_what_is_not_keyed_can_be_keyed_in_its_pose(studio: Studio) -> None:
    """Said on a pose alone; keyed there, the other poses are as they were."""
    studio.select("Plate")
    studio.go(20)
    studio.type("Opacity", "40")
    expect(studio.said()).to_contain_text("Opacity is not keyed: this changes the whole layer.")
    studio.said().get_by_role("button", name="Key it in this pose").click()
    expect(studio.page.get_by_test_id("undo")).to_have_attribute(
        "aria-label", "Undo: Keyed opacity of Plate in the pose at frame 20"
    )
    keys = studio.layer("Plate")["opacity"]["keys"]
    assert [(key["frame"], key["value"]) for key in keys] == [(0, 100), (20, 40), (40, 100)]
    studio.go(25)
    studio.type("Scale x", "90")
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set scale of Plate")
    expect(studio.said()).not_to_contain_text("not keyed")


@pytest.mark.thorough
def test_blocks_fold_and_the_strip_takes_one_line(studio: Studio) -> None:
    """Folded blocks stay folded; the lanes get the strip's room and do not move between the clicks of a double click;
    the picture never moves."""
    page, strip = studio.page, studio.page.get_by_test_id("pose-strip")
    stage = page.get_by_test_id("stage").bounding_box()

    def tall() -> float:
        box = strip.bounding_box()
        assert box
        return box["height"]

    expect(strip).to_have_attribute("data-room", "line")
    assert tall() <= 32
    page.evaluate("() => { window.pressed = []; window.addEventListener('pointerdown', "
                  "() => window.pressed.push(performance.now()), true); }")  # fmt: skip
    name = page.get_by_role("textbox", name="Layer name")
    for _ in range(8):
        studio.row("Plate").get_by_role("button", name="Plate", exact=True).dblclick()
        first, second = page.evaluate("() => window.pressed.slice(-2)")
        # On a busy machine the two clicks may come too far apart to be one double click.
        if second - first < 400:
            break
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        expect(strip).to_have_attribute("data-room", "line")
    expect(name).to_be_focused()
    page.keyboard.press("Escape")
    expect(strip).to_have_attribute("data-room", "cards")
    assert tall() > 100
    assert page.get_by_test_id("stage").bounding_box() == stage
    # A layer without a pose needs one line only, in which one is made.
    studio.select("Tide")
    expect(strip).to_have_attribute("data-room", "line")
    assert tall() <= 32
    page.get_by_role("button", name="Pose", exact=True).click()
    expect(strip).to_have_attribute("data-room", "cards")
    page.keyboard.press("Control+z")
    expect(strip).to_have_attribute("data-room", "line")
    page.get_by_role("button", name="Fold Text").click()
    expect(page.get_by_role("textbox", name="Text", exact=True)).to_have_count(0)
    page.reload()
    page.get_by_role("button", name="Open Text").click()
    expect(page.get_by_role("textbox", name="Text", exact=True)).to_be_visible()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Escape")
    expect(strip).to_have_attribute("data-room", "line")
    assert tall() <= 32


@pytest.mark.thorough
def test_nothing_in_the_top_bar_overlaps(studio: Studio) -> None:
    """What does not fit is in one menu, and works from there."""
    page = studio.page
    expect(page.get_by_test_id("checks-count")).to_have_text("2")
    for width in (1280, 1240, 1024):
        page.set_viewport_size({"width": width, "height": 700})
        studio.settle()
        boxes = page.locator("header button, header select, header input").evaluate_all(
            "all => all.map(one => one.getBoundingClientRect()).map(b => [b.left, b.right])"
        )
        ends = np.array(sorted(boxes))
        assert (ends[1:, 0] >= ends[:-1, 1]).all()
        assert ends[-1, 1] <= width
        if width == 1024:
            page.get_by_role("button", name="More: speed").click()
            page.get_by_role("combobox", name="Speed").select_option("0.5")
            page.get_by_role("combobox", name="Zoom").select_option("1")
            expect(page.get_by_test_id("stage")).to_have_attribute("data-scale", "1")


@pytest.mark.thorough
def test_a_font_is_searched_tried_by_arrows_given_back_and_taken(studio: Studio) -> None:
    """In their own shapes, what is used first; Esc and a click elsewhere change nothing, Enter is one step."""
    page = studio.page
    studio.select("Tide")
    studio.settle()
    before = studio.pixels()
    page.get_by_role("button", name="Font: Figtree").click()
    sheet = page.get_by_test_id("fonts")
    expect(sheet.get_by_role("combobox", name="Search fonts")).to_be_focused()
    listed = sheet.get_by_role("listbox", name="Fonts").get_by_role("option")
    first = listed.first
    expect(first).to_contain_text("Figtree")
    expect(first).to_contain_text("in this scene")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.wait_for_function("() => document.documentElement.dataset.underWay !== '1'")
    studio.settle()
    assert (studio.pixels() != before).any()
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)
    studio.settle()
    assert (studio.pixels() == before).all()
    assert not studio.steps()
    page.get_by_role("button", name="Font: Figtree").click()
    sheet.get_by_label("Has letters of").select_option("arabic")
    expect(listed).to_have_count(4)
    sheet.get_by_role("combobox", name="Search fonts").fill("cai")
    expect(listed).to_have_count(1)
    for _ in range(2):
        page.keyboard.press("Enter")
    expect(sheet).to_have_count(0)
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set font of Tide")
    assert studio.layer("Tide")["content"]["font"]["family"] == "Cairo"
    assert len(studio.steps()) == 1
    assert (studio.pixels() == studio.still(0)).all()


@pytest.mark.thorough
def test_a_cut_is_whipped_a_motion_is_kept_and_a_blow_strikes_on_a_beat(server: Server, page: Page) -> None:
    """Two layers that meet are offered moves for their cut; a kept motion is among the project's own; sliders and a
    beat set a blow."""

    def ground(name: str, fill: str, start: int) -> dict[str, Any]:
        content = {"kind": "shape", "items": [{"shape": "rectangle", "size": [640, 360], "fill": fill}]}
        return layer(name, content=content, position=[320, 180], span={"start": start, "length": 30})

    moves = {"rest": [0, 0], "keys": [{"frame": 0, "value": [-200, 90]}, {"frame": 12, "value": [300, 90]}]}
    layers = [ground("Red", "#c23a22", 0), ground("Teal", "#0e6b61", 30), layer("Plate", position=moves)]
    name = server.keep("Cuts", layers, beats=[{"frame": 20, "label": "splash"}])
    studio = Studio(page, server, name).open("?frame=5")
    studio.select("Red")
    studio.row("Teal").get_by_role("button", name="Teal", exact=True).click(modifiers=["Shift"])
    page.get_by_role("button", name="Recipes").click()
    cuts = page.get_by_role("group", name="For the cut from Red to Teal")
    expect(cuts.get_by_role("button")).to_have_count(8)
    cuts.get_by_role("button", name="whip", exact=True).click()
    page.get_by_role("button", name="Use it").click()
    studio.settle()
    red, teal = studio.layer("Red"), studio.layer("Teal")
    assert (red["span"]["length"], teal["span"]["start"]) == (36, 24)
    assert red["effects"][0]["length"]["keys"][1]["value"] == 260
    studio.go(30)
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    assert np.abs(studio.pixels() - studio.still(30)).max() <= 2
    page.keyboard.press("Control+z")
    studio.settle()
    assert studio.layer("Red")["span"]["length"] == 30

    studio.select("Plate")
    page.get_by_role("button", name="Recipes").click()
    page.get_by_role("button", name="Keep its motion as a recipe for other layers").click()
    page.get_by_label("Name of the motion").fill("Come in")
    page.keyboard.press("Enter")
    own = page.get_by_role("group", name="This project’s own")
    expect(own.get_by_role("button", name="motion: Come in")).to_be_visible()
    page.get_by_role("button", name="impact", exact=True).click()
    page.get_by_label("Harder", exact=True).fill("200")
    page.get_by_role("combobox", name="Strikes on").select_option("20")
    expect(page.get_by_label("Angle", exact=True)).to_have_value("16")
    page.get_by_role("button", name="Use it").click()
    studio.settle()
    keys = studio.layer("Plate")["rotation"]["keys"]
    assert [(key["frame"], key["value"]) for key in keys][:3] == [(15, 0), (17, -4), (20, 16)]
    # On another layer of another size.
    studio.select("Red")
    page.get_by_role("button", name="Recipes").click()
    page.get_by_role("button", name="motion: Come in").click()
    expect(page.get_by_role("combobox", name="Ways by")).to_have_value("the scene")
    page.get_by_role("button", name="Use it").click()
    studio.settle()
    landed = studio.layer("Red")["position"]["keys"]
    assert [key["value"][0] for key in landed] == [320 - 500, 320]
