"""Recipes seen before they are taken, fonts for a text edited in place, what is offered after a change, over HTTP."""

from __future__ import annotations

from typing import Any

import msgpack
import numpy as np
import pytest
from fastapi.testclient import TestClient

from mudskipper.core.recipes import RECIPES
from mudskipper.core.recipes.cascades import CASCADES
from mudskipper.core.text.families import installed
from tests.web.test_api import edit


def layer_of(client: TestClient, url: str, name: str) -> dict[str, Any]:
    layers = client.get(url).json()["scene"]["layers"]
    found: dict[str, Any] = next(one for one in layers if one["name"] == name)
    return found


def seen(client: TestClient, url: str, layer: str, frame: int) -> tuple[dict[str, Any], dict[str, str]]:
    """What each recipe would make of a layer, unpacked; and the refused with their sentences."""
    answer = client.get(f"{url}/layers/{layer}/recipes?frame={frame}")
    assert answer.status_code == 200, answer.text
    told = msgpack.unpackb(answer.content)
    return {name: msgpack.unpackb(packed) for name, packed in told["items"].items()}, told["refused"]


def test_every_recipe_is_seen_on_the_layer_itself(client: TestClient, scene_url: str) -> None:
    """Each from the playhead on, the letters sent once; what is taken then is what was seen; nothing was stored."""
    title = layer_of(client, scene_url, "Week title")["id"]
    before = client.get(scene_url).json()["revision"]
    found, refused = seen(client, scene_url, title, 60)
    alone = [kind().recipe for kind in RECIPES if kind.offered and not kind.together]
    assert list(found) == [one for one in alone if one not in refused]
    assert set(refused) == {"count up", "draw the line", "speed ramp"}
    assert refused["count up"] == "'Week title' has no number to count up to. Write a number into the text."
    assert client.get(scene_url).json()["revision"] == before
    # Letters that are others on their way have outlines of their own.
    once = [bool(one["outlines"]) for name, one in found.items() if name not in ("scramble", "stretch by the font")]
    assert once == [True, *[False] * (len(once) - 1)]
    assert all(one["from"] == 60 and list(one["layers"]) == [title] for one in found.values())
    wanted = found["swing in on a corner"]
    recipe = {"edit": "apply_recipe", "layers": [title], "recipe": {"recipe": "swing in on a corner"}, "frame": 60}
    edit(client, scene_url, recipe)
    kept = msgpack.unpackb(client.get(f"{scene_url}/resolved?from=60&to={wanted['to']}&layers={title}").content)

    def matrices(message: dict[str, Any]) -> np.ndarray:
        layer = message["layers"][title]
        width, data = layer["columns"][layer["matrix"]]
        return np.frombuffer(data, dtype="<f4").reshape(-1, width)

    assert np.array_equal(matrices(wanted), matrices(kept))


def test_a_recipe_that_cannot_be_is_refused_in_words(client: TestClient, scene_url: str) -> None:
    """Of a collapsed picture nothing can be pointed at; the other recipes are seen. A layer that is gone is refused."""
    ground = layer_of(client, scene_url, "Harbour at dusk")["id"]
    edit(client, scene_url, {"edit": "stop_keying", "layer": ground, "property": "scale", "frame": 0})
    edit(client, scene_url, {"edit": "set_property", "layer": ground, "property": "scale", "value": [0, 0], "frame": 0})
    found, refused = seen(client, scene_url, ground, 0)
    letters = [kind().recipe for kind in CASCADES if kind.offered]
    assert sorted(set(refused) - set(letters)) == ["draw the line", "orbit", "speed ramp"]
    assert all("is no text" in refused[name] for name in letters)
    assert "scale 0 on both axes" in refused["orbit"]
    assert len(found) == 14
    gone = client.get(f"{scene_url}/layers/nobody/recipes")
    assert (gone.status_code, gone.json()["title"]) == (422, "Not done")


def test_what_the_page_knows_of_recipes_makes_them(client: TestClient) -> None:
    """The numbers that a form starts with are those that the recipe has, each within its range."""
    facts = {one["name"]: one for one in client.get("/api/facts").json()["recipes"]}
    for kind in (one for one in RECIPES if one.offered):
        told = facts[kind().recipe]
        assert told["sentence"]
        given = {field["name"]: field["default"] for field in told["fields"] if field["default"] is not None}
        assert kind.model_validate(given) == kind()
        assert sum(given[name] for name in told["lasts"]) == (kind().frames if told["lasts"] else 0)
        for field in told["fields"]:
            if field["kind"] == "number":
                assert (field["low"] or -1e6) <= field["default"] <= (field["high"] or 1e6)
            if field["kind"] == "choice":
                assert field["default"] in field["choices"]


def test_fonts_are_the_very_files(client: TestClient) -> None:
    fonts = {one["name"]: one for one in client.get("/api/facts").json()["fonts"]}
    assert list(fonts) == list(installed())
    for name, one in fonts.items():
        assert any(file["italic"] for file in one["files"]) == one["italic"]
        for there, file in zip(one["files"], installed()[name].files, strict=True):
            answer = client.get(there["address"])
            assert answer.headers["content-type"] == "font/ttf"
            assert answer.content == file.path.read_bytes()


@pytest.mark.parametrize("file", ["figtree-99.ttf", "..%2Ffonts.py", "LICENSE", "%2e%2e%2f%2e%2e%2fetc%2fpasswd"])
def test_no_other_file_is_a_font(client: TestClient, file: str) -> None:
    answer = client.get(f"/api/fonts/{file}")
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"


def test_a_key_is_offered_for_what_changed_in_a_pose(client: TestClient, scene_url: str) -> None:
    """With the edits that make it; not on other frames; not for the copy that another window is told of."""
    edge = layer_of(client, scene_url, "Plate edge")
    start = edge["span"]["start"] + int(edge["scale"]["keys"][0]["frame"])
    change = {"edit": "set_property", "layer": edge["id"], "property": "rotation", "value": 9.0, "frame": start}

    def offered(frame: int) -> Any:
        return client.post(f"{scene_url}/edits", json={"edits": [{**change, "frame": frame}]}).json()["offer"]

    offer = offered(start)
    assert (offer["sentence"], offer["button"]) == (
        "Rotation is not keyed: this changes the whole layer.",
        "Key it in this pose",
    )
    edit(client, scene_url, *offer["edits"])
    keys = layer_of(client, scene_url, "Plate edge")["rotation"]["keys"]
    assert keys[0]["value"] == 9.0
    assert {key["value"] for key in keys[1:]} == {edge["rotation"]["rest"]}
    assert client.post(f"{scene_url}/undo").json()["offer"] is None
    # Of steps that are one, what is keyed elsewhere is what was there before the first of them.
    move = {"edit": "move_layers", "layers": [edge["id"]], "frame": start, "by": [2.0, 0.0]}
    for _ in range(3):
        last = client.post(f"{scene_url}/edits", json={"edits": [move], "run": "nudge"}).json()
    assert last["offer"]["edits"][0]["was"] == edge["position"]["rest"]
    client.post(f"{scene_url}/undo")
    client.post(f"{scene_url}/undo")
    assert offered(start + 1) is None


def test_a_cascade_is_kept_by_its_project_and_used_on_other_words(client: TestClient, scene_url: str) -> None:
    """Seen among the recipes on the layer itself, used as one cascade; which letters took part stays behind; replaced,
    dropped; a wrong one is refused."""
    project = client.get(scene_url).json()["project"]
    path = f"/api/projects/{project}/cascades"
    cascade = {"offset": {"rest": [0, 30]}, "each": 9, "order": "back", "choice": {"start": 2}}
    (told,) = client.put(path, json={"name": "Tide in", "length": 40, "cascade": cascade}).json()
    assert (told["name"], told["length"], told["cascade"]["order"]) == ("Tide in", 40, "back")
    title = layer_of(client, scene_url, "Week title")["id"]
    found, _ = seen(client, scene_url, title, 60)
    assert "kept: Tide in" in found
    recipe = {"recipe": "kept cascade", "name": "Tide in", "kept": told["cascade"], "length": 50, "each": 7}
    edit(client, scene_url, {"edit": "apply_recipe", "layers": [title], "recipe": recipe, "frame": 60})
    made = layer_of(client, scene_url, "Week title")["content"]["cascades"][-1]
    assert (made["name"], made["each"], made["spread"], made["amount"]) == ("Tide in", 7, "total", 50)
    assert (made["order"], made["offset"]["rest"], made["choice"]) == ("back", [0, 30], None)
    client.put(path, json={"name": "Tide in", "length": 20, "cascade": {"opacity": 0}})
    assert [one["length"] for one in client.get(path).json()] == [20]
    assert client.put(path, json={"name": "Odd", "length": 0, "cascade": {}}).status_code == 422
    assert client.delete(f"{path}/Tide in").json() == []


def test_effects_are_seen_on_the_layer_itself_and_looks_are_kept(client: TestClient, scene_url: str) -> None:
    """A picture of each kind, and of each look of the project; on a shape within a layer in its layer; looks replaced,
    dropped, a wrong one refused."""
    project = client.get(scene_url).json()["project"]
    title = layer_of(client, scene_url, "Week title")["id"]
    path = f"/api/projects/{project}/looks"
    look = {"name": "Warm", "effects": [{"effect": "two-tone"}, {"effect": "grain", "amount": {"rest": 20}}]}
    assert [one["name"] for one in client.put(path, json=look).json()] == ["Warm"]
    before = client.get(scene_url).json()["revision"]
    found = msgpack.unpackb(client.get(f"{scene_url}/layers/{title}/effects?frame=60").content)
    kinds = list(client.get("/api/facts").json()["effects"])
    assert list(found["items"]) == [*kinds, "look: Warm"]
    assert client.get(scene_url).json()["revision"] == before
    shape = next(
        layer for layer in client.get(scene_url).json()["scene"]["layers"] if layer["content"]["kind"] == "shape"
    )
    within = f"{shape['id']}/{shape['content']['items'][0]['id']}"
    inside = msgpack.unpackb(client.get(f"{scene_url}/layers/{within}/effects").content)
    assert len(inside["items"]) + len(inside["refused"]) == len(kinds) + 1
    client.put(path, json={"name": "Warm", "effects": [{"effect": "glow"}]})
    assert [len(one["effects"]) for one in client.get(path).json()] == [1]
    assert client.put(path, json={"name": "Odd", "effects": [{"effect": "sparkle"}]}).status_code == 422
    assert client.put(path, json={"name": "Odd", "effects": []}).status_code == 422
    assert client.delete(f"{path}/Warm").json() == []


def test_a_colour_and_a_style_change_in_every_scene_that_follows_them(client: TestClient, scene_url: str) -> None:
    """In two scenes as a step of each; a name is had once, and what is gone is told; the rest of the project stays."""
    project = client.get(scene_url).json()["project"]
    made = {"name": "Second", "width": 320, "height": 180}
    other = f"/api/scenes/{client.post(f'/api/projects/{project}/scenes', json=made).json()['scene']['id']}"
    words = {"kind": "text", "text": "Tide", "size": 40.0}
    for url in (scene_url, other):
        edit(client, url, {"edit": "add_layer", "name": "Tide sign", "content": words})
    place = f"/api/projects/{project}"
    colour = client.put(f"{place}/colours", json={"name": "Sea", "colour": "#0e6b61"}).json()["id"]
    signs = {url: layer_of(client, url, "Tide sign")["id"] for url in (scene_url, other)}
    take = {"edit": "set_property", "property": "content.fill", "value": "#0e6b61", "frame": 0, "named": colour}
    for url, sign in signs.items():
        edit(client, url, take | {"layer": sign})
    answer = client.put(f"{place}/colours", json={"name": "Bay", "colour": "#123456", "id": colour}).json()
    assert ("Bay", "#123456ff") in [(one["name"], one["colour"]) for one in answer["colours"]]
    assert answer["said"].startswith("Changed the colour Bay in ")
    assert all(name in answer["said"] for name in ("Opener", "Second"))
    for url in signs:
        assert layer_of(client, url, "Tide sign")["content"]["fill"]["rest"] == "#123456ff"
        assert client.post(f"{url}/undo").status_code == 200
        assert layer_of(client, url, "Tide sign")["content"]["fill"]["rest"] == "#0e6b61ff"
    # What no scene follows any more is told so; a name that is taken, and a colour that is gone, are refused.
    again = client.put(f"{place}/colours", json={"name": "Bay", "colour": "#ffffff", "id": colour}).json()
    assert again["said"] == "Changed the colour Bay; nothing follows it."
    client.put(f"{place}/colours", json={"name": "Dune", "colour": "#e8d9b5"})
    for given, told in (
        ({"name": "Dune", "colour": "#fff000", "id": colour}, "has a colour 'Dune' already"),
        ({"name": "Dune", "colour": "#fff000"}, "has a colour 'Dune' already"),
        ({"name": "Mud", "colour": "#fff000", "id": "gone"}, "not in the project any more"),
    ):
        assert told in client.put(f"{place}/colours", json=given).json()["detail"]
    (bay,) = [one for one in client.get(f"{place}/colours?on=%23ffffff").json() if one["name"] == "Bay"]
    assert bay["contrast"] == 1.0
    left = [one["name"] for one in client.delete(f"{place}/colours/Bay").json()]
    assert "Dune" in left
    assert "Bay" not in left
    # A style of a text: kept, given to the other scene's, changed by the first.
    scene_id = scene_url.rsplit("/", 1)[1]
    source = {"scene": scene_id, "layer": signs[scene_url]}
    style = client.put(f"{place}/styles", json={"name": "Sign", **source}).json()
    look = style["styles"][0]["look"]
    for url, sign in signs.items():
        edit(client, url, {"edit": "use_style", "layers": [sign], "style": style["id"], "name": "Sign", "look": look})
    edit(client, scene_url, {"edit": "set_property", "layer": signs[scene_url], "property": "content.size",
                             "value": 77.0, "frame": 0})  # fmt: skip
    said = client.put(f"{place}/styles", json={"name": "Sign", "id": style["id"], **source}).json()["said"]
    assert said == "Changed the style Sign in Second."
    assert layer_of(client, other, "Tide sign")["content"]["size"]["rest"] == 77
    # A colour that a style follows changes in it, too: its texts follow both.
    mud = client.put(f"{place}/colours", json={"name": "Mud", "colour": "#5c4738"}).json()["id"]
    for url, sign in signs.items():
        edit(client, url, take | {"layer": sign, "value": "#5c4738", "named": mud})
    client.put(f"{place}/styles", json={"name": "Sign", "id": style["id"], **source})
    client.put(f"{place}/colours", json={"name": "Mud", "colour": "#224466", "id": mud})
    edit(client, scene_url, {"edit": "set_property", "layer": signs[scene_url], "property": "content.size",
                             "value": 50.0, "frame": 0})  # fmt: skip
    edit(client, scene_url, take | {"layer": signs[scene_url], "value": "#0e6b61", "named": None})
    client.put(f"{place}/styles", json={"name": "Sign", "id": style["id"], **source})
    there = layer_of(client, other, "Tide sign")["content"]
    assert (there["size"]["rest"], there["fill"]["rest"]) == (50, "#0e6b61ff")
    refused = client.put(f"{place}/styles", json={"name": "New"})
    assert "A style is made of a text" in refused.json()["detail"]
    assert client.delete(f"{place}/styles/Sign").json() == []
