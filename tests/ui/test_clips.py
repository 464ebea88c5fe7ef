"""Clips in the real page: taken in, shown frame by frame as the exporter has them, played, trimmed, turned round."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.films import bars, number_in, write_film
from tests.ui.studio import LAG, Studio


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_film(tmp_path_factory.mktemp("films") / "Surf.mp4", 120, (25, 1), gop=50)


@pytest.fixture
def surf(server: Server, page: Page, film: Path, request: pytest.FixtureRequest) -> Studio:
    """A scene of 30 fps with a film of 25 fps in it, dropped in by the shelf."""
    name = server.keep(f"Surf {request.node.name}", [layer("Plate", position=[60, 40])])
    studio = Studio(page, server, name).open()
    taken_in(studio, film)
    return studio


def taken_in(studio: Studio, film: Path) -> None:
    page = studio.page
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(film)
    expect(studio.said()).to_contain_text(f"Added {film.name}, 160 × 90 px, 4.8 s.")
    studio.settle()


def seen(studio: Studio) -> int:
    """The number on the film as the stage paints it now; the layer lies in the scene's middle at its own size."""
    picture = studio.pixels()[135:225, 240:400]
    return number_in(picture) if picture[30:, :, 3].any() else -1


def source(studio: Studio) -> str:
    return studio.page.get_by_test_id("source-frame").inner_text()


def test_a_film_comes_in_and_every_frame_is_the_exporters(surf: Studio) -> None:
    """25 in 30: frames as the definition has them, the same bytes as the still; the panel says which."""
    for frame in (0, 29, 3):
        surf.go(frame)
        assert seen(surf) == frame * 25 // 30
        assert (np.abs(surf.pixels() - surf.still(frame)) <= 1).all()
        shown = frame * 25 // 30
        assert source(surf).endswith(f"shows {shown // 25}:{shown % 25:02d} of the clip")
    assert surf.layer("Surf")["span"] == {"start": 0, "length": 144}
    assert surf.layer("Surf")["anchor"]["rest"] == [0.5, 0.5]


@pytest.mark.thorough
def test_nothing_is_painted_before_it_is_known_what_a_film_is(surf: Studio) -> None:
    """The facts come late: the first picture has the film's frame all the same, and no other picture is asked for."""
    page, lost = surf.page, []
    page.on("response", lambda answer: lost.append(answer.url) if answer.status >= 400 else None)
    page.add_init_script(LAG + "window.lag = { '/api/facts': 1200 };")
    surf.open("?frame=30")
    assert seen(surf) == 25
    assert lost == []


@pytest.mark.thorough
def test_it_is_trimmed_slowed_turned_frozen_and_keyed(surf: Studio) -> None:
    page = surf.page
    surf.go(30)
    assert seen(surf) == 25
    surf.type("Source start", "1")
    surf.settle()
    assert seen(surf) == 50
    surf.type("Speed", "50")
    surf.settle()
    assert seen(surf) == 37
    # A speed beyond its range stops there, and says so.
    surf.type("Speed", "3")
    expect(surf.said()).to_contain_text("3 % stops at 10 %")
    expect(surf.field("Speed")).to_have_value("10")
    surf.type("Speed", "50")
    surf.settle()
    assert surf.layer("Surf")["content"]["time"]["speed"] == 50
    page.get_by_role("button", name="Freeze from here").click()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Shift+Period")
    assert seen(surf) == 37
    page.get_by_role("button", name="Frozen from 1:00").click()
    surf.settle()
    assert seen(surf) == 41
    for _ in range(6):
        page.keyboard.press("Control+z")
    surf.settle()
    assert seen(surf) == 33
    surf.go(10)
    page.get_by_role("button", name="Backwards").click()
    surf.settle()
    assert surf.layer("Surf")["content"]["time"]["speed"] == -100
    assert seen(surf) == (143 - 10) * 25 // 30
    page.get_by_role("button", name="Backwards").click()
    surf.settle()
    assert seen(surf) == 8
    page.get_by_role("button", name="Key its time").click()
    surf.settle()
    assert seen(surf) == 8
    surf.type("Source time", "4")
    surf.settle()
    assert seen(surf) == 100
    assert [key["frame"] for key in surf.layer("Surf")["content"]["time"]["keyed"]["keys"]] == [0, 10, 144]


@pytest.mark.thorough
def test_what_lies_outside_of_it_and_a_span_whose_head_is_dragged(surf: Studio) -> None:
    page = surf.page
    surf.type("Source start", "4.4")
    surf.go(50)
    surf.settle()
    assert seen(surf) == 119
    page.get_by_role("combobox", name="After its end").select_option("nothing")
    surf.settle()
    assert seen(surf) == -1
    assert source(surf) == "Scene 1:20 shows nothing of the clip"
    page.get_by_role("combobox", name="After its end").select_option("loop")
    surf.settle()
    assert seen(surf) == (110 + 50 * 25 // 30) % 120
    surf.type("Source start", "0")
    surf.settle()
    shown = seen(surf)
    span = page.get_by_label("Span of Surf")
    head = span.get_by_test_id("span-start").bounding_box()
    assert head
    page.mouse.move(head["x"] + 2, head["y"] + 5)
    page.mouse.down()
    page.mouse.move(head["x"] + 90, head["y"] + 5, steps=4)
    page.mouse.up()
    surf.settle()
    trimmed = surf.layer("Surf")
    assert trimmed["span"]["start"] > 5
    assert trimmed["content"]["time"]["start"] == pytest.approx(trimmed["span"]["start"] / 30)
    assert seen(surf) == shown
    # With Alt the source slips under the span.
    box = span.bounding_box()
    assert box
    page.keyboard.down("Alt")
    page.mouse.move(box["x"] + 60, box["y"] + 8)
    page.mouse.down()
    page.mouse.move(box["x"] + 100, box["y"] + 8, steps=4)
    page.mouse.up()
    page.keyboard.up("Alt")
    surf.settle()
    slipped = surf.layer("Surf")
    assert slipped["span"] == trimmed["span"]
    assert slipped["content"]["time"]["start"] < trimmed["content"]["time"]["start"]
    assert seen(surf) < shown


def test_playing_paints_frames_of_the_film_and_never_a_wrong_one(surf: Studio) -> None:
    """Whatever is painted while it plays is the frame that belongs there, also where frames come late."""
    page = surf.page
    page.evaluate("() => {" + LAG + "}")
    page.evaluate("() => { window.lag = {'/frames?': 150} }")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    found = page.evaluate(
        """() => new Promise(done => {
          const found = [];
          const look = () => {
            const canvases = [...document.querySelectorAll('canvas')];
            const small = canvases.find(one => one !== picture && one.style.display === 'block');
            const on = small ?? picture;
            const scale = on.width / 640;
            const data = on.getContext('2d', {willReadFrequently: true}).getImageData(0, 0, on.width, on.height);
            let number = 0;
            for (let bar = 0; bar < 12; bar += 1) {
              const x = Math.round((240 + 9 + bar * 13) * scale), y = Math.round(195 * scale);
              if (data.data[(y * on.width + x) * 4] > 128) number |= 1 << bar;
            }
            found.push([Number(picture.dataset.painted), number]);
            const frames = new Set(found.map(([frame]) => frame)).size;
            frames < 12 && found.length < 2000 ? requestAnimationFrame(look) : done(found);
          };
          const picture = document.querySelector('[data-testid=picture]');
          requestAnimationFrame(look);
        })"""
    )
    page.keyboard.press("Space")
    assert all(number == frame * 25 // 30 for frame, number in found), found
    assert len({frame for frame, _ in found}) == 12


@pytest.mark.thorough
def test_frames_are_made_ready_where_the_pointer_rests_over_the_ruler(surf: Studio) -> None:
    page = surf.page
    box = page.get_by_test_id("ruler").bounding_box()
    assert box
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "/frames?at=" in request.url else None)
    page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + box["height"] / 2)
    page.wait_for_timeout(400)
    surf.settle()
    assert len(asked) == 1
    at = int(re.findall(r"at=(\d+)", asked[0])[0])
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "0")
    page.mouse.down()
    page.mouse.up()
    expect(page.get_by_test_id("playhead")).not_to_have_attribute("data-frame", "0")
    surf.settle()
    assert seen(surf) == at


@pytest.mark.thorough
def test_a_file_that_is_no_film_and_a_server_that_is_away(
    surf: Studio, tmp_path: Path, server: Server, film: Path
) -> None:
    """Refused in a sentence, nothing added; a clip whose file is lost says so, and is found by the same file."""
    page = surf.page
    wrong = tmp_path / "notes.mp4"
    wrong.write_text("Low tide at six\n" * 40)
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(wrong)
    expect(surf.said()).to_contain_text("notes.mp4: A clip must be a film, and this is a text by its content.")
    assert [one["name"] for one in surf.stored()["layers"]] == ["Plate", "Surf"]
    project = server.get(f"api/scenes/{surf.scene_id}")["project"]
    (clip,) = [one for one in server.get(f"api/projects/{project}/clips") if one["name"] == "Surf.mp4"]
    lost = [
        path
        for path in (server.folder / "media").iterdir()
        if path.suffix == ".film" and path.stat().st_size == film.stat().st_size
    ]
    assert len(lost) == 1
    lost[0].unlink()
    page.reload()
    surf.select("Surf")
    expect(page.get_by_text("Its file is missing. Add the same file again, and it is found.")).to_be_visible()
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(film)
    expect(surf.said()).to_contain_text("Found again: Surf.mp4.")
    surf.settle()
    assert not httpx.get(f"{server.url}api/projects/{project}/clips").json()[-1]["missing"]
    # It is the same clip, and no layer more.
    assert [one["name"] for one in surf.stored()["layers"]] == ["Plate", "Surf"]
    assert clip["id"] in str(surf.stored())


@pytest.mark.thorough
def test_numbered_pictures_come_in_as_one_clip_or_as_layers(surf: Studio, tmp_path: Path) -> None:
    """It is asked, by mouse and by Enter; Esc adds nothing."""
    page = surf.page
    files = []
    for number in range(5, 12):
        files.append(tmp_path / f"foam_{number:03d}.png")
        Image.fromarray(bars(number)).save(files[-1])
    for take in ("Escape", "Enter"):
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_test_id("picture-file").set_input_files(files)
        expect(page.get_by_test_id("numbered-dialog")).to_contain_text("7 pictures from foam_005.png to foam_011.png")
        expect(page.get_by_role("button", name="One clip")).to_be_focused()
        page.keyboard.press(take)
    expect(surf.said()).to_contain_text("Added foam.zip, 160 × 90 px, 0.2 s.")
    surf.settle()
    assert [one["name"] for one in surf.stored()["layers"]] == ["Plate", "Surf", "foam"]
    surf.go(3)
    assert seen(surf) == 8
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(files[:3])
    page.get_by_role("button", name="3 layers").click()
    expect(surf.said()).to_contain_text("Added 3 pictures")


@pytest.mark.thorough
def test_a_file_is_stopped_on_its_way(surf: Studio, server: Server, film: Path) -> None:
    """A large one is stopped by the button of the line; nothing of it stays."""
    page = surf.page
    before = sorted((server.folder / "media").iterdir())
    requests: list[Any] = []
    page.route("**/clips?name=*", lambda route: requests.append(route))
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(film)
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(surf.said()).to_contain_text("Surf.mp4 was stopped.")
    assert len(surf.stored()["layers"]) == 2
    assert sorted((server.folder / "media").iterdir()) == before


@pytest.mark.thorough
def test_media_are_listed_with_where_they_are_used(surf: Studio, film: Path) -> None:
    """And a click adds one at the playhead, by mouse and by keyboard."""
    page = surf.page
    surf.go(12)
    page.get_by_role("button", name="Media", exact=True).click()
    entry = page.get_by_test_id("drawer").get_by_role("button").filter(has_text="Surf.mp4").last
    expect(entry).to_contain_text("160 × 90 · 25 fps · 4.8 s")
    expect(entry).to_contain_text(surf.name)
    expect(entry.locator("img")).to_be_visible()
    entry.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("drawer")).to_have_count(0)
    surf.settle()
    assert surf.layer("Surf 2")["span"] == {"start": 12, "length": 144}
    # Without a layer that shows it, it is said not to be used.
    for _ in range(2):
        page.keyboard.press("Control+z")
    surf.settle()
    page.get_by_role("button", name="Media", exact=True).click()
    expect(page.get_by_test_id("drawer").get_by_role("button").filter(has_text="Surf.mp4").last).not_to_contain_text(
        surf.name
    )


@pytest.mark.thorough
def test_the_lanes_show_the_film_and_where_it_ends(surf: Studio) -> None:
    """Pictures of the frames that belong there; while it slips, those at both ends of its span over the stage."""
    page = surf.page
    surf.type("Source start", "4")
    surf.settle()
    expect(page.get_by_test_id("source-end")).to_have_attribute("data-frame", "24")
    page.get_by_role("button", name="Open the lanes of Surf").click()
    pictures = page.get_by_test_id("film-picture")
    expect(pictures.first).to_have_attribute("data-source", "100")
    expect(pictures.last).to_have_attribute("data-source", "119")
    expect(pictures.first).to_have_css("background-image", re.compile("blob:"))
    box = page.get_by_label("Span of Surf").bounding_box()
    assert box
    page.keyboard.down("Alt")
    page.mouse.move(box["x"] + 60, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 200, box["y"] + 10, steps=3)
    expect(page.get_by_test_id("slip-first").locator("img")).to_be_visible()
    first = int(page.get_by_test_id("slip-first").get_attribute("data-source") or -1)
    page.mouse.up()
    page.keyboard.up("Alt")
    expect(page.get_by_test_id("slip-first")).to_have_count(0)
    surf.settle()
    surf.go(0)
    assert seen(surf) == first < 100
