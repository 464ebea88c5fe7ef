"""Formulas in the real page: written with names that are offered, tried, given back, mended, taken off, made keys."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, Route, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio, at_rest

KEYED = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 59, "value": 59}]}


@pytest.fixture
def studio(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    name = f"Formula {request.node.name}"[:80]
    sign = layer("Sign", position=[520, 300], rotation=KEYED)
    studio = Studio(page, server, server.keep(name, [layer("Plate"), sign], beats=[{"frame": 0}, {"frame": 30}]))
    studio.open("?frame=20")
    studio.select("Plate")
    return studio


def opened(studio: Studio, label: str = "Rotation") -> None:
    """The formula of a property, opened by the menu of its name."""
    studio.page.get_by_role("button", name=f"{label}: reset and more").click()
    studio.page.get_by_role("menuitem", name="Formula…").click()
    studio.page.get_by_role("textbox", name=f"Formula of {label}").click()


def formula(studio: Studio, label: str = "Rotation") -> str | None:
    track = studio.layer("Plate")[label.lower()]
    return track.get("formula") if isinstance(track, dict) else None


def test_a_formula_is_written_tried_given_back_and_undone(studio: Studio) -> None:
    page = studio.page
    opened(studio)
    field = page.get_by_role("textbox", name="Formula of Rotation")
    before = studio.pixels()
    page.keyboard.type("base + 40 * si")
    expect(page.get_by_role("listbox", name="Names that fit").get_by_role("option").first).to_contain_text("sin(angle)")
    page.keyboard.press("Tab")
    page.keyboard.type("t * tau)")
    expect(field).to_have_js_property("value", "base + 40 * sin(t * tau)")
    expect(page.get_by_test_id("formula-value")).to_have_text("= -34.64 °")
    studio.settle()
    assert formula(studio) is None
    assert (studio.pixels() != before).any(), "what is typed is tried on the stage"
    page.keyboard.press("Escape")
    expect(field).to_have_js_property("value", "")
    studio.settle()
    assert (studio.pixels() == before).all()
    field.click()
    page.keyboard.type('base + scene["Sign"].rotation.at(t - 0.2)')
    page.keyboard.press("Enter")
    studio.settle()
    assert formula(studio) == 'base + scene["Sign"].rotation.at(t - 0.2)'
    assert studio.steps() == ["Set the formula of rotation of Plate"]
    assert np.abs(studio.pixels() - studio.still(20)).max() <= 2
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == pytest.approx(14)
    # Its number is the base, and the formula goes on from it.
    studio.type("Rotation", "100")
    studio.settle()
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == pytest.approx(114)
    # A layer that it names gets another name: the formula is rewritten in the same step.
    at_rest(page)
    studio.row("Sign").get_by_role("button", name="Sign", exact=True).dblclick()
    expect(page.get_by_role("textbox", name="Layer name")).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.type("Flag")
    page.keyboard.press("Enter")
    studio.settle()
    assert formula(studio) == 'base + scene["Flag"].rotation.at(t - 0.2)'
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    studio.settle()
    assert formula(studio) == 'base + scene["Sign"].rotation.at(t - 0.2)'


@pytest.mark.thorough
def test_what_is_wrong_is_said_and_mended_by_a_press(studio: Studio) -> None:
    page = studio.page
    opened(studio)
    field = page.get_by_role("textbox", name="Formula of Rotation")
    field.fill("30 * Math.sin(t * 6")  # typed, the bracket would be closed at once
    problem = page.get_by_test_id("formula-problem")
    expect(problem).to_contain_text("This cannot be read: a bracket ( is never closed.")
    problem.get_by_role("button", name="Write 30 * sin(t * 6)").click()
    expect(field).to_have_js_property("value", "30 * sin(t * 6)")
    expect(problem).to_have_count(0)
    studio.settle()
    assert formula(studio) == "30 * sin(t * 6)"
    # A wrong one is kept; the rest goes on, and the check tells of it.
    field.fill('scene["Sgin"].rotation')
    page.keyboard.press("Control+End")
    page.keyboard.press("Escape")
    field.fill('scene["Sgin"].rotation')
    page.keyboard.press("Enter")
    expect(problem).to_contain_text("There is no layer 'Sgin'. Did you mean 'Sign'?")
    studio.settle()
    assert formula(studio) == 'scene["Sgin"].rotation'
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == 0
    findings = studio.server.get(f"api/scenes/{studio.scene_id}/checks")
    assert [one["check"] for one in findings] == ["formula"]
    problem.get_by_role("button").click()
    studio.settle()
    assert formula(studio) == 'scene["Sign"].rotation'
    # One number for a pair offers both.
    opened(studio, "Position")
    page.keyboard.type("t * 10")
    expect(page.get_by_test_id("formula-problem").get_by_role("button")).to_have_text(
        ["Write (t * 10, base.y)", "Write (base.x, t * 10)", "Write (t * 10, t * 10)"]
    )
    page.keyboard.press("Escape")
    studio.settle()
    assert formula(studio, "Position") is None


@pytest.mark.thorough
def test_ready_formulas_keys_of_them_and_taken_off(studio: Studio) -> None:
    page = studio.page
    ready = studio.server.get("api/formulas")["ready"]
    assert len([one for one in ready if one["number"]]) == 8
    for label, kind in (("Rotation", "number"), ("Scale", "pair")):
        opened(studio, label)
        group = page.get_by_role("group", name=f"Formula of {label}")
        for one in ready:
            if one[kind]:
                group.get_by_role("combobox", name=f"Ready formulas for {label}").select_option(one["need"])
                group.get_by_role("button", name="Use it").click()
                studio.settle()
                assert formula(studio, label), one["need"]
                expect(group.get_by_test_id("formula-problem")).to_have_count(0)
        group.get_by_role("button", name="Take it off").click()
        studio.settle()
        assert formula(studio, label) is None
    # Its numbers are tried on the stage, given back by Esc, and taken by Enter once.
    before = studio.pixels()
    opened(studio)
    choice = page.get_by_role("combobox", name="Ready formulas for Rotation")
    choice.select_option("turn or grow steadily")
    page.get_by_role("textbox", name="A second").fill("9")
    expect(page.get_by_test_id("formula-value")).to_have_text("= 6 °")
    assert (studio.pixels() != before).any()
    page.keyboard.press("Escape")
    studio.settle()
    assert formula(studio) is None
    assert (studio.pixels() == before).all()
    choice.select_option("turn or grow steadily")
    speed = page.get_by_role("textbox", name="A second")
    speed.fill("fast")
    page.keyboard.press("Enter")
    expect(speed).to_have_attribute("aria-invalid", "true")
    expect(page.get_by_role("button", name="Use it")).to_be_disabled()
    speed.fill("60,0 °")
    count = len(studio.steps())
    for _ in range(3):
        page.keyboard.down("Enter")  # held
    page.keyboard.up("Enter")
    studio.settle()
    assert formula(studio) == "base + t * 60.0"
    assert len(studio.steps()) == count + 1
    whole = [studio.resolved("Plate", frame).values["rotation"][0, 0] for frame in range(0, 60, 7)]
    page.get_by_role("button", name="Land on the keys").click()
    studio.settle()
    assert "smoothstep" in formula(studio)
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    page.get_by_role("group", name="Formula of Rotation").get_by_role("button", name="Write as keys").click()
    studio.settle()
    assert formula(studio) is None
    assert len(studio.layer("Plate")["rotation"]["keys"]) == 2
    again = [studio.resolved("Plate", frame).values["rotation"][0, 0] for frame in range(0, 60, 7)]
    assert np.allclose(whole, again, atol=0.05)


TAB_WHILE_LOOKED_UP = """
  const fetched = window.fetch.bind(window);
  const held = new Promise(go => window.release = go);
  window.fetch = async (what, how) => {
    const answer = await fetched(what, how);
    if (!what.url?.includes('formula/layers')) return answer;
    await held;
    setTimeout(() => document.activeElement.dispatchEvent(
      new KeyboardEvent('keydown', {key: 'Tab', bubbles: true, cancelable: true})), 10);
    return answer;
  };
"""


@pytest.mark.thorough
def test_tab_takes_a_name_while_names_are_looked_up_again(studio: Studio) -> None:
    """As they are for 50 ms once late answers are here."""
    page = studio.page
    page.add_init_script(TAB_WHILE_LOOKED_UP)
    studio.open("?frame=20")
    studio.select("Plate")
    opened(studio)
    page.keyboard.type('scene["Si')
    expect(page.get_by_role("listbox", name="Names that fit").get_by_role("option")).to_have_count(1)
    page.evaluate("() => window.release()")
    field = page.get_by_role("textbox", name="Formula of Rotation")
    expect(field).to_have_js_property("value", 'scene["Sign"].')


@pytest.mark.thorough
def test_numbers_slide_names_tell_their_values_and_what_is_pointed_at_is_put_in(studio: Studio) -> None:
    page = studio.page
    opened(studio)
    field = page.get_by_role("textbox", name="Formula of Rotation")
    page.keyboard.type('scene["Si')
    page.keyboard.press("Tab")
    expect(field).to_have_js_property("value", 'scene["Sign"].')
    names = page.get_by_role("listbox", name="Names that fit")
    expect(names.get_by_role("option", name="rotation")).to_contain_text("= 20 °")
    page.keyboard.type("rotation + 40")
    expect(page.get_by_test_id("formula-value")).to_have_text("= 60 °")
    # The number at the caret has a slider; let go of, it is taken.
    slider = page.get_by_role("slider", name="The number in the formula")
    box = slider.bounding_box()
    assert box
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] / 2, y)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.7, y, steps=3)
    assert formula(studio) is None
    page.mouse.up()
    studio.settle()
    stored = formula(studio) or ""
    number = float(stored.removeprefix('scene["Sign"].rotation + '))
    assert 60 < number < 85
    assert studio.steps() == ["Set the formula of rotation of Plate"]
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == pytest.approx(20 + number)
    # It goes below 0, and stays in the hand there.
    page.mouse.move(box["x"] + box["width"] / 2, y)
    page.mouse.down()
    for share in (0.3, 0.1, 0.05):
        page.mouse.move(box["x"] + box["width"] * share, y)
    page.mouse.up()
    studio.settle()
    below = (formula(studio) or "").removeprefix('scene["Sign"].rotation + ')
    assert float(below) < -20
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    expect(field).to_have_js_property("value", stored)
    # Stepped by keys, and undone by Ctrl+Z as typing is.
    field.click()
    page.keyboard.press("Control+End")
    page.keyboard.press("Alt+ArrowUp")
    expect(field).to_have_js_property("value", f'scene["Sign"].rotation + {number + 1:g}')
    page.keyboard.press("Control+z")
    expect(field).to_have_js_property("value", stored)
    page.keyboard.press("Escape")
    # A name tells what it is, under the pointer.
    field.get_by_text("rotation", exact=False).first.hover(position={"x": 5, "y": 5})
    expect(page.get_by_test_id("formula-hover")).to_contain_text("every layer by its name")
    # Pointed at: a station on the stage, a lane, a number of the panel; what is pressed is not taken in the hand.
    for press, text in (
        (lambda: page.mouse.click(*studio.to_page(*studio.point("Sign", (1, 0), 20))),
         'scene["Sign"].in_scene(scene["Sign"].box.at(1, 0))'),
        (lambda: studio.row("Sign").get_by_role("button", name="Sign", exact=True).click(), 'scene["Sign"].position'),
        (lambda: page.get_by_role("textbox", name="Opacity", exact=True).click(), "opacity"),
        (lambda: page.get_by_role("textbox", name="Rotation", exact=True).click(), "base"),
    ):  # fmt: skip
        field.click()
        field.fill("1 + ")
        page.get_by_role("button", name="Point at it").click()
        press()
        expect(field).to_have_js_property("value", f"1 + {text}")
        page.keyboard.press("Escape")
        expect(field).to_have_js_property("value", stored)
        expect(studio.row("Plate")).to_have_attribute("data-selected", "yes")
    # The answer that says what a layer is called comes late: one press is one reference, and pointing ends with it.
    held: list[Route] = []
    late = True
    page.route("**/formula/layers", lambda route: held.append(route) if late else route.continue_())
    studio.type("Scale x", "130")  # what is known of the scene is asked for again
    field.click()
    field.fill("2 * ")
    page.get_by_role("button", name="Point at it").click()
    for _ in range(2):
        studio.row("Sign").get_by_role("button", name="Sign", exact=True).click()
    page.wait_for_timeout(150)
    assert held
    late = False
    for route in held:
        route.continue_()
    expect(field).to_have_js_property("value", '2 * scene["Sign"].position')
    expect(page.get_by_role("button", name="Point at it")).to_have_attribute("aria-pressed", "false")
    page.keyboard.press("Escape")
    expect(field).to_have_js_property("value", stored)
    page.get_by_role("button", name="Point at it").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Point at it")).to_have_attribute("aria-pressed", "false")
    studio.settle()
    assert formula(studio) == stored


@pytest.mark.thorough
def test_a_text_counts_and_its_picture_is_the_exported_one(server: Server, page: Page) -> None:
    words = layer("Gauge", content={"kind": "text", "text": "Low tide", "size": 60, "align": "centre"})
    studio = Studio(page, server, server.keep("Formula of a text", [layer("Plate"), words])).open("?frame=20")
    studio.select("Gauge")
    page.get_by_role("button", name="Write it by a formula…").click()
    field = page.get_by_role("textbox", name="Formula of Text")
    field.click()
    field.fill("t * 90")
    problem = page.get_by_test_id("formula-problem")
    expect(problem).to_contain_text("takes a text, and the formula gives a number")
    problem.get_by_role("button", name='Write format(t * 90, "0.0")').click()
    expect(page.get_by_test_id("formula-value")).to_have_text("= 60.0")
    for frame in (0, 20, 21):
        studio.go(frame)
        assert np.abs(studio.pixels() - studio.still(frame)).max() <= 2
    # A text of which nothing is seen yet is empty on the stage and in the export, and lanes show speeds all the same.
    page.get_by_role("button", name="What the lanes show").click()
    page.get_by_label("Curves as speed").check()
    page.keyboard.press("Escape")
    field.click()
    field.fill("letters(base, t * 8)")
    page.keyboard.press("Enter")
    studio.settle()
    for frame in (0, 20):
        studio.go(frame)
        assert np.abs(studio.pixels() - studio.still(frame)).max() <= 2
    page.mouse.dblclick(*studio.to_page(*studio.point("Gauge", (0.3, 0.5), 20)))
    expect(studio.said()).to_contain_text("The text of 'Gauge' is written by a formula.")
    expect(page.get_by_test_id("text-in-place")).to_have_count(0)
    lettered = studio.pixels()
    studio.go(0)
    assert (studio.pixels() != lettered).any()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    studio.settle()
    assert studio.layer("Gauge")["content"]["written"]["formula"] == 'format(t * 90, "0.0")'
    studio.row("Gauge").get_by_role("button", name="Open the lanes of Gauge").click()
    expect(page.get_by_test_id("lane-content.written").get_by_test_id("formula-mark")).to_have_text("f(t)")


@pytest.mark.thorough
def test_a_formula_is_copied_onto_many_and_a_hint_is_no_refusal(studio: Studio) -> None:
    page = studio.page
    opened(studio, "Opacity")
    field = page.get_by_role("textbox", name="Formula of Opacity")
    field.fill("t / 2")
    hint = page.get_by_test_id("formula-hint")
    expect(hint).to_contain_text("Opacity is in percent, and this gives 0.98 % at most.")
    hint.get_by_role("button", name="Write 100 * (t / 2)").click()
    expect(hint).to_have_count(0)
    studio.settle()
    assert formula(studio, "Opacity") == "100 * (t / 2)"
    page.get_by_role("group", name="Formula of Opacity").get_by_role("button", name="Copy").click()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+a")
    page.get_by_role("button", name="Opacity: formulas").click()
    page.get_by_role("menuitem", name="Paste the formula onto all").click()
    studio.settle()
    stored = [studio.layer(name)["opacity"]["formula"] for name in ("Plate", "Sign")]
    assert stored == ["100 * (t / 2)"] * 2
    page.get_by_role("button", name="Opacity: formulas").click()
    page.get_by_role("menuitem", name="Take the formulas off").click()
    studio.settle()
    assert len(studio.steps()) == 3
    assert formula(studio, "Opacity") is None
