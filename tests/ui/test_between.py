"""Between scenes, projects and windows: copied, pasted, duplicated, brought along, begun as starters, saved."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import httpx
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer, scene
from tests.ui.studio import Studio

JSON = {"content-type": "application/json"}


@pytest.mark.thorough
def test_layers_go_to_other_projects_with_what_they_need(server: Server, page: Page) -> None:
    """Copied in one window, pasted in a scene of another project: carried as they were, with the film; one undo."""
    other = httpx.post(f"{server.url}api/projects", json={"name": "Elsewhere"}).json()["id"]
    made = httpx.post(
        f"{server.url}api/projects/{other}/scenes",
        json={
            "name": "There",
            "width": 640,
            "height": 360,
            "frame_rate": [15, 1],
            "length": 60,
            "background": "#000000ff",
        },
    ).json()["scene"]["id"]
    studio = Studio(page, server, "Harbour at dusk").open("?frame=30")
    studio.select("Harbour film")
    page.keyboard.press("Control+c")
    expect(studio.said()).to_contain_text("Copied Harbour film. Paste with Ctrl V, in any scene.")
    page.goto(f"{server.url}scene/{made}?frame=30")
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    page.keyboard.press("Control+v")
    row = page.get_by_role("listitem", name="Harbour film", exact=True)
    expect(row).to_be_visible(timeout=20_000)
    (one,) = server.get(f"api/scenes/{made}")["scene"]["layers"]
    # The scene has half the frames a second: the film is there as long as it was.
    assert one["span"]["length"] * 2 == next(
        layer["span"]["length"]
        for layer in server.document("Harbour at dusk")["layers"]
        if layer["name"] == "Harbour film"
    )
    clips = server.get(f"api/projects/{other}/clips")
    assert [clip["id"] for clip in clips] == [one["content"]["asset"]]
    assert [clip["name"] for clip in clips] == ["Harbour at dusk.mp4"]
    expect(page.get_by_label("Clip", exact=True).first).to_contain_text("Harbour at dusk.mp4")
    page.keyboard.press("Control+z")
    expect(row).to_have_count(0)


@pytest.mark.thorough
def test_scenes_are_duplicated_brought_along_and_kept_as_starters(server: Server, page: Page, tmp_path: Path) -> None:
    """From the list of projects, with the keyboard too; a starter's scene and a copy in another project open again; the
    project is saved as a file, and comes in once more under a free name."""
    home = next(one["id"] for one in server.get("api/projects") if one["name"] == "Low Tide Week")
    board = scene(layer("Board"), name="Tide table")
    httpx.post(f"{server.url}api/projects/{home}/documents", content=board.to_json(), headers=JSON).raise_for_status()
    httpx.post(f"{server.url}api/projects", json={"name": "Guests"})
    page.goto(server.url)
    week = page.get_by_role("region", name="Low Tide Week", exact=True)
    guests = page.get_by_role("region", name="Guests")

    def act(what: str) -> None:
        week.get_by_role("button", name="More of Tide table", exact=True).focus()
        page.keyboard.press("Enter")
        page.get_by_role("menuitem", name=what, exact=True).click()

    act("Duplicate")
    expect(week.get_by_test_id("scene-card").filter(has_text="Tide table 2")).to_be_visible()
    act("Keep as a starter")
    expect(page.get_by_text("Tide table is a starter of Low Tide Week")).to_be_visible()
    act("Move to Guests")
    expect(guests.get_by_test_id("scene-card")).to_have_count(1, timeout=20_000)
    week.get_by_role("button", name="New scene").click()
    week.get_by_role("group", name="Starters").get_by_role("button", name="Tide table", exact=True).click()
    expect(page.get_by_role("listitem", name="Board", exact=True)).to_be_visible()
    page.go_back()
    guests.get_by_role("button", name="New scene").click()
    guests.get_by_role("group", name="Starters").get_by_role("button", name="Lower third", exact=True).click()
    expect(page.get_by_role("listitem", name="Plate", exact=True)).to_be_visible()
    page.go_back()
    with page.expect_download() as coming:
        page.get_by_label("Save Guests as a file").click()
    coming.value.save_as(tmp_path / "guests.zip")
    with zipfile.ZipFile(tmp_path / "guests.zip") as files:
        assert sum(name.startswith("scenes/") for name in files.namelist()) == 2
    page.get_by_test_id("project-file").set_input_files(tmp_path / "guests.zip")
    expect(page.get_by_role("region", name="Guests 2").get_by_test_id("scene-card")).to_have_count(2, timeout=20_000)
    page.get_by_test_id("project-file").set_input_files(
        {"name": "no.zip", "mimeType": "application/zip", "buffer": b"PK no"}
    )
    expect(page.get_by_text("no.zip: It is no project of Mudskipper.")).to_be_visible()


@pytest.mark.thorough
def test_subtitles_and_tables_come_in_as_steps(server: Server, page: Page) -> None:
    """Texts as the selected one looks, and keys of what a table names; what is refused is said beside what came in."""
    title = layer("Title", content={"kind": "text", "text": "Low tide", "size": 31}, position=[320, 90])
    studio = Studio(page, server, server.keep("Words", [title])).open()
    studio.select("Title")
    page.get_by_role("button", name="Add", exact=True).click()
    srt = b"1\n00:00:00,500 --> 00:00:01,000\nThe sea goes out\n"
    table = b"frame;Title.rotation\n0;0\n10;45,5\n20;0\n"
    page.get_by_test_id("picture-file").set_input_files([
        {"name": "tide.srt", "mimeType": "text/plain", "buffer": srt},
        {"name": "turn.csv", "mimeType": "text/csv", "buffer": table},
        {"name": "wrong.csv", "mimeType": "text/csv", "buffer": b"a;b\n1;2\n"},
    ])  # fmt: skip
    expect(studio.said()).to_contain_text('wrong.csv: It has no column "frame"')
    expect(studio.said()).to_contain_text("1 text from tide.srt. Keys of 1 property from turn.csv.")
    came = studio.layer("The sea goes out")
    assert came["span"] == {"start": 15, "length": 15}
    assert came["content"]["size"]["rest"] == 31
    assert [(key["frame"], key["value"]) for key in studio.layer("Title")["rotation"]["keys"]] == [
        (0, 0),
        (10, 45.5),
        (20, 0),
    ]
    page.keyboard.press("Control+z")
    expect(page.get_by_role("listitem", name="The sea goes out", exact=True)).to_be_visible()
    assert not studio.layer("Title")["rotation"]["keys"]


def test_keyframes_are_pasted_and_missing_media_found_again(server: Server, page: Page) -> None:
    """Keyframes of CSS onto the selected layer, as one step; a picture takes the place of the text that stood for it;
    animation JSON is a scene that is opened by a press."""
    stands = layer("Gull", content={"kind": "text", "text": "Missing: gull.png"}, span={"start": 3, "length": 20})
    studio = Studio(page, server, server.keep("Pasted", [stands, layer("Plate", position=[320, 90])])).open()
    studio.select("Plate")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    css = "@keyframes in { from { translate: -90px 0; opacity: 0 } to { opacity: 1 } } .a { animation: in 1s linear }"
    page.evaluate("text => navigator.clipboard.writeText(text)", css)
    page.keyboard.press("Control+v")
    expect(studio.said()).to_contain_text("Keys of 'Plate' from pasted.css")
    assert [key["value"] for key in studio.layer("Plate")["position"]["keys"]] == [[230, 90], [320, 90]]
    page.keyboard.press("Control+z")
    expect(studio.said()).to_contain_text("Undone")
    page.evaluate("text => navigator.clipboard.writeText(text)", "no keyframes at all")
    out = io.BytesIO()
    Image.new("RGB", (40, 20), "coral").save(out, "PNG")
    told = {"fr": 25, "ip": 0, "op": 9, "w": 90, "h": 60, "nm": "Bouncing", "layers": [{"ty": 3, "ks": {}, "op": 9}]}
    page.get_by_role("button", name="Add", exact=True).click()
    files = page.get_by_test_id("picture-file")
    files.set_input_files({"name": "Gull.PNG", "mimeType": "image/png", "buffer": out.getvalue()})
    expect(studio.said()).to_contain_text("in place of the text that stood for it")
    found = studio.layer("Gull")
    assert (found["content"]["kind"], found["span"]) == ("picture", {"start": 3, "length": 20})
    if not page.get_by_test_id("picture-file").count():
        page.get_by_role("button", name="Add", exact=True).click()
    files.set_input_files({"name": "a.json", "mimeType": "application/json", "buffer": json.dumps(told).encode()})
    page.get_by_role("button", name="Open it").click()
    expect(page.get_by_text("› Bouncing")).to_be_visible()
    page.context.clear_permissions()
