"""Kinds from outside of the package (`tests/toys.py`): the document, the interface, the painters and exports."""

from __future__ import annotations

import time
from collections.abc import Iterator
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from mudskipper.export.writers.pixels import NO_ALPHA
from tests.conftest import Server, layer
from tests.toys import installed
from tests.ui.studio import Studio
from tests.ui.test_parity import premultiplied


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    packages = installed(tmp_path_factory.mktemp("packages"))
    served = Server(tmp_path_factory.mktemp("data"), packages=str(packages))
    served.start()
    yield served
    served.kill()


def nest(name: str, **fields: Any) -> dict[str, Any]:
    return layer(name, content={"kind": "nest", "depth": 3, **fields})


@pytest.mark.thorough
def test_groups_within_groups_are_the_same_picture(server: Server, page: Page) -> None:
    """Four levels, each turned, faded and blended, in layers that are so themselves: at most 2 of 255 apart."""
    turned = nest("Turned", blend="screen", opacity=35) | {"rotation": 31, "position": [420, 190], "opacity": 70}
    blended = nest("Blended", blend="difference") | {"blend": "overlay", "scale": [140, -80], "position": [200, 120]}
    name = server.keep("Nests", [layer("Ground"), nest("Plain"), turned, blended], background="#f6f1e7ff")
    studio = Studio(page, server, name).open()
    stage, still = studio.pixels(), studio.still(0)
    assert np.abs(premultiplied(stage) - premultiplied(still)).max() <= 2
    assert len(np.unique(still.reshape(-1, 4), axis=0)) > 40


@pytest.mark.thorough
def test_kinds_from_outside_work_everywhere(server: Server, page: Page) -> None:
    """A shape and its property in the panel, an easing typed, a formula's function; an edit, a check and a format over
    HTTP."""
    kite = {"shape": "kite", "size": [200, 160], "fill": "#3b6ea8"}
    track = {"rest": [320, 180], "keys": [{"frame": 0, "value": [100, 180]}, {"frame": 40, "value": [500, 180]}]}
    turn = {"rest": 0, "formula": "base + tide(6.2) * 20"}
    made = layer("Flyer", content={"kind": "shape", "items": [kite]}, position=track, rotation=turn)
    studio = Studio(page, server, server.keep("Kites", [made])).open("?frame=20")
    studio.select("Flyer")
    expect(studio.field("Rotation")).to_have_value("-20")
    before = studio.pixels()
    studio.type("Waist", "70")
    studio.settle()
    assert studio.layer("Flyer")["content"]["items"][0]["waist"]["rest"] == 70
    assert (studio.pixels() != before).any()
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set waist of Flyer")
    studio.type("Waist", "140")
    expect(studio.said()).to_contain_text("Waist goes from 0 to 100 %: 140 stops at 100.")
    easing = page.get_by_label("Easing in words")
    easing.fill("late(0.6)")
    easing.press("Enter")
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Eased 1 key of Flyer: late(0.6)")
    assert studio.layer("Flyer")["position"]["keys"][0]["ease"] == {"late": 0.6}
    assert (studio.pixels() == studio.still(20)).all()
    assert (studio.still(20) == studio.still(0)).all()
    assert [one["written"] for one in server.get("api/formulas")["names"]][-1] == "tide(hours)"
    url = f"{server.url}api/scenes/{studio.scene_id}"
    assert httpx.post(f"{url}/edits", json={"edits": [{"edit": "shout", "layer": "flyer"}]}).status_code == 200
    expect(studio.row("FLYER")).to_be_visible()
    assert [one["sentence"] for one in server.get(f"{url.removeprefix(server.url)}/checks")] == ["'FLYER' shouts."]
    for kind, lines, lost in (("means", 30, NO_ALPHA), ("names", 1, "Everything but the names was left out.")):
        job = httpx.post(f"{url}/exports", json={"kind": kind, "first": 0, "stop": 30}).json()["id"]
        while (state := server.get(f"api/exports/{job}"))["state"] in ("queued", "running"):
            time.sleep(0.1)
        assert (state["state"], state["notes"]) == ("done", lost), state
        assert len(httpx.get(f"{server.url}api/exports/{job}/file").text.splitlines()) == lines
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.get_by_role("radio", name="Mean colours")).to_be_visible()
    expect(page.get_by_test_id("export-job").filter(has_text="Names of layers")).to_contain_text(lost)
