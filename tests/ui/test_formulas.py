"""Formulas in the real page: written with names that are offered, tried, given back, mended, taken off, made keys."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio

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
    return track.get("expression") if isinstance(track, dict) else None


def test_a_formula_is_written_tried_given_back_and_undone(studio: Studio) -> None:
    page = studio.page
    opened(studio)
    field = page.get_by_role("textbox", name="Formula of Rotation")
    before = studio.pixels()
    page.keyboard.type("base + 40 * si")
    expect(page.get_by_role("listbox", name="Names that fit").get_by_role("option").first).to_contain_text("sin(angle)")
    page.keyboard.press("Tab")
    page.keyboard.type("t * tau)")
    expect(field).to_have_value("base + 40 * sin(t * tau)")
    expect(page.get_by_test_id("formula-value")).to_have_text("= -34.64 °")
    studio.settle()
    assert formula(studio) is None
    assert (studio.pixels() != before).any(), "what is typed is tried on the stage"
    page.keyboard.press("Escape")
    expect(field).to_have_value("")
    studio.settle()
    assert (studio.pixels() == before).all()
    field.click()
    page.keyboard.type('base + layer("Sign").rotation.at(t - 0.2)')
    page.keyboard.press("Enter")
    studio.settle()
    assert formula(studio) == 'base + layer("Sign").rotation.at(t - 0.2)'
    assert studio.server.steps(studio.name) == ["Set the formula of rotation of Plate"]
    assert np.abs(studio.pixels() - studio.still(20)).max() <= 2
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == pytest.approx(14)
    # Its number is the base, and the formula goes on from it.
    studio.type("Rotation", "100")
    studio.settle()
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == pytest.approx(114)
    # A layer that it names gets another name: the formula is rewritten in the same step.
    studio.row("Sign").get_by_role("button", name="Sign", exact=True).dblclick()
    page.keyboard.press("Control+a")
    page.keyboard.type("Flag")
    page.keyboard.press("Enter")
    studio.settle()
    assert formula(studio) == 'base + layer("Flag").rotation.at(t - 0.2)'
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    studio.settle()
    assert formula(studio) == 'base + layer("Sign").rotation.at(t - 0.2)'


def test_what_is_wrong_is_said_and_mended_by_a_press(studio: Studio) -> None:
    page = studio.page
    opened(studio)
    field = page.get_by_role("textbox", name="Formula of Rotation")
    page.keyboard.type("30 * Math.sin(t * 6")
    problem = page.get_by_test_id("formula-problem")
    expect(problem).to_contain_text("This cannot be read: a bracket ( is never closed.")
    problem.get_by_role("button", name="Write 30 * sin(t * 6)").click()
    expect(field).to_have_value("30 * sin(t * 6)")
    expect(problem).to_have_count(0)
    studio.settle()
    assert formula(studio) == "30 * sin(t * 6)"
    # A wrong one is kept; the rest goes on, and the check tells of it.
    field.fill('layer("Sgin").rotation')
    page.keyboard.press("Control+End")
    page.keyboard.press("Escape")
    field.fill('layer("Sgin").rotation')
    page.keyboard.press("Enter")
    expect(problem).to_contain_text("There is no layer 'Sgin'. Did you mean 'Sign'?")
    studio.settle()
    assert formula(studio) == 'layer("Sgin").rotation'
    assert studio.resolved("Plate", 20).values["rotation"][0, 0] == 0
    findings = studio.server.get(f"api/scenes/{studio.scene_id}/checks")
    assert [one["check"] for one in findings] == ["formula"]
    problem.get_by_role("button").click()
    studio.settle()
    assert formula(studio) == 'layer("Sign").rotation'
    # One number for a pair offers both.
    opened(studio, "Position")
    page.keyboard.type("t * 10")
    expect(page.get_by_test_id("formula-problem").get_by_role("button")).to_have_text(
        ["Write (t * 10, base.y)", "Write (base.x, t * 10)", "Write (t * 10, t * 10)"]
    )
    page.keyboard.press("Escape")
    studio.settle()
    assert formula(studio, "Position") is None


def test_ready_formulas_keys_of_them_and_taken_off(studio: Studio) -> None:
    page = studio.page
    needs = [one["need"] for one in studio.server.get("api/expressions")["ready"]]
    assert len(needs) == 8
    opened(studio)
    for need in needs:
        page.get_by_role("combobox", name="Ready formulas for Rotation").select_option(need)
        studio.settle()
        assert formula(studio)
        expect(page.get_by_test_id("formula-problem")).to_have_count(0)
    opened(studio, "Scale")
    for need in needs[:3] + needs[5:7]:
        page.get_by_role("combobox", name="Ready formulas for Scale").select_option(need)
        studio.settle()
        assert formula(studio, "Scale")
    page.get_by_role("group", name="Formula of Scale").get_by_role("button", name="Take it off").click()
    studio.settle()
    assert formula(studio, "Scale") is None
    page.get_by_role("combobox", name="Ready formulas for Rotation").select_option("turn or grow steadily")
    studio.settle()
    whole = [studio.resolved("Plate", frame).values["rotation"][0, 0] for frame in range(0, 60, 7)]
    page.get_by_role("group", name="Formula of Rotation").get_by_role("button", name="Write as keys").click()
    studio.settle()
    assert formula(studio) is None
    assert len(studio.layer("Plate")["rotation"]["keys"]) == 2
    again = [studio.resolved("Plate", frame).values["rotation"][0, 0] for frame in range(0, 60, 7)]
    assert np.allclose(whole, again, atol=0.05)
