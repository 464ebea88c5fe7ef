"""Slots and titles over HTTP: what fills them, what needs a look, and the files of rows, frame by frame."""

from __future__ import annotations

import io
import time
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.conftest import Server, layer, scene
from tests.web.test_cli import run


@pytest.fixture
def titles(client: TestClient) -> tuple[str, str]:
    """The address of a scene begun as the starter of a lower third, and its project."""
    project = client.get("/api/projects").json()[0]["id"]
    made = client.post(f"/api/projects/{project}/starters/begin", json={"starter": "Lower third"}).json()
    return f"/api/scenes/{made['scene']['id']}", project


def edits(client: TestClient, url: str, *given: dict[str, Any]) -> dict[str, Any]:
    answer = client.post(f"{url}/edits", json={"edits": list(given)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def decoded(data: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))


def pasted(client: TestClient, url: str, text: str) -> list[dict[str, Any]]:
    """Rows of a spreadsheet in the table, as it has them."""
    read = client.post(f"{url}/table/read", json={"text": text}).json()
    return edits(client, url, read["edit"])["scene"]["rows"]


def test_slots_are_told_offered_and_filled(client: TestClient, titles: tuple[str, str]) -> None:
    url, _ = titles
    told = {one["name"]: one for one in client.get(f"{url}/slots").json()}
    assert [(name, one["kind"], one["written"]) for name, one in told.items()] == [
        ("Name", "text", "Ines Okafor-Lind"), ("Role", "text", "Intertidal ecologist"), ("Plate", "colour", "#0e3f45"),
        ("Edge", "colour", "#f2b544"),
    ]  # fmt: skip
    assert told["Name"]["fills"] == ["Text of Name"]
    layers = {one["name"]: one["id"] for one in client.get(url).json()["scene"]["layers"]}
    offers = client.get(f"{url}/slots/offers?layer={layers['Name']}").json()
    assert (offers[0]["label"], offers[0]["slot"]) == ("Text", told["Name"]["id"])
    assert {"Opacity", "Whether it is shown", "The length", "The font", "Text size"} <= {one["label"] for one in offers}
    inner = client.get(f"{url}/slots/offers?layer={layers['Plate']}/0").json()
    assert [one["slot"] for one in inner if one["label"].startswith("Fill")] == [told["Plate"]["id"]]
    for address, of in ((layers["Name"], offers), (f"{layers['Plate']}/0", inner)):
        for offer in of:
            if not offer["slot"]:
                edits(client, url, {"edit": "make_slot", "layer": address, "path": offer["path"]})
    now = client.get(f"{url}/slots").json()
    assert len({one["name"] for one in now}) == len(now) == 4 + len(offers) - 1 + sum(not one["slot"] for one in inner)
    assert all(one["value"] is not None and not one["gone"] for one in now)
    gone = edits(client, url, {"edit": "delete_layers", "layers": [layers["Name"]]})
    assert gone["scene"]["slots"][0]["name"] == "Name"
    assert client.get(f"{url}/slots").json()[0]["gone"] == "What the slot Name fills was deleted; undo brings it back."


def test_rows_are_looked_at_pictured_and_rendered(client: TestClient, titles: tuple[str, str]) -> None:
    """Each file holds its own row: as the scene is when it is filled by hand, to the byte."""
    url, _ = titles
    rows = pasted(client, url, "Role\tName\tPlate\nPilot\tBram Tidesley\t#7a1f4b\nGuide\tOle\tfoo\nPilot\tBram Tidesley"
                  "\t#7a1f4b\nPale\tAda\tfbf3e2\n")  # fmt: skip
    ids = [row["id"] for row in rows]
    looks = {one["id"]: one["troubles"] for one in
             client.post(f"{url}/table/looks", json={"rows": ids, "frame": 90}).json()}  # fmt: skip
    assert looks[ids[0]] == looks[ids[2]] == []
    assert "“foo” is no colour" in looks[ids[1]][0]["sentence"]
    assert "contrast" in looks[ids[3]][0]["sentence"]
    places = client.get(f"{url}/table/rows", params={"pattern": "{Name} – {role}"}).json()
    assert [(one["file"], one["same"]) for one in places] == [
        ("Bram Tidesley – Pilot", None), ("Ole – Guide", None), ("Bram Tidesley – Pilot 2", 1), ("Ada – Pale", None)
    ]  # fmt: skip
    wrong = client.get(f"{url}/table/rows", params={"pattern": "{Nom}"}).json()
    assert "There is no slot “Nom”" in wrong["detail"]
    asked = {"rows": [ids[0], ids[3]], "kind": "png", "first": 90, "stop": 91, "pattern": "{Name}"}
    jobs = client.post(f"{url}/table/exports", json=asked).json()
    assert len({job["batch"] for job in jobs}) == 1
    done = finished(client, url)
    assert [(job["row"], job["state"], job["file"]) for job in done] == [
        (ids[0], "done", "Bram Tidesley.png"), (ids[3], "done", "Ada.png"),
    ]  # fmt: skip
    for job, name, role, plate in zip(done, ("Bram Tidesley", "Ada"), ("Pilot", "Pale"), ("#7a1f4bff", "#fbf3e2ff"),
                                      strict=True):  # fmt: skip
        slots = {one["name"]: one["id"] for one in client.get(f"{url}/slots").json()}
        fills = [{"slot": slots[slot], "value": value} for slot, value in
                 (("Name", name), ("Role", role), ("Plate", plate))]  # fmt: skip
        edits(client, url, {"edit": "fill_slots", "fills": fills})
        by_hand = decoded(client.get(f"{url}/still?frame=90").content)
        assert np.array_equal(decoded(client.get(f"/api/exports/{job['id']}/file").content), by_hand)
        thumb = decoded(client.get(f"{url}/table/rows/{job['row']}/still?frame=90&width=240").content)
        assert np.array_equal(thumb, decoded(client.get(f"{url}/still?frame=90&width=240").content))
    edits(client, url, {"edit": "delete_rows", "rows": [ids[0]]})
    refused = client.post(f"{url}/table/exports", json=asked)
    assert refused.status_code == 422
    assert "gone" in refused.json()["detail"]


def finished(client: TestClient, url: str) -> list[dict[str, Any]]:
    """The jobs of a scene once all have ended, the first first."""
    for _ in range(300):
        jobs = client.get(f"{url}/exports").json()
        if all(job["state"] not in ("queued", "running") for job in jobs):
            return jobs[::-1]
        time.sleep(0.1)
    raise AssertionError(jobs)


def test_tables_of_files_come_in(client: TestClient, titles: tuple[str, str]) -> None:
    """At the table, and dropped on the window like any other file; values at frames still become keys."""
    url, _ = titles
    for way, told in (("table/take-in", "notes"), ("take-in", "said")):
        answer = client.post(f"{url}/{way}", files={"file": ("names.csv", b"Name;Extra\nOle;1\nAda;2\n")})
        assert answer.status_code == 200, answer.text
        body = answer.json()
        rows = edits(client, url, body["edit"] if way == "table/take-in" else body["edits"][0])["scene"]["rows"]
        assert [row["cells"][0]["text"] for row in rows[-2:]] == ["Ole", "Ada"]
        assert body["notes"] == ["No slot is called “Extra”."]
        assert told == "notes" or body["said"] == "2 titles in the table of this scene, from names.csv"
    keys = client.post(f"{url}/take-in", files={"file": ("v.csv", b"frame,Plate.rotation\n0,0\n9,30\n")}).json()
    assert keys["edits"][0]["edit"] == "keys_from_values"
    for data, said in ((b"PK no", "no workbook"), (b"\x00", "no text"), (b"Name\n", "no rows below")):
        refused = client.post(f"{url}/table/take-in", files={"file": ("t.xlsx", data)})
        assert refused.status_code == 422
        assert said in refused.json()["detail"]


@pytest.mark.thorough
def test_titles_go_on_where_a_killed_server_left_them(server: Server) -> None:
    """One job for each row; those that were not made yet are made after the restart, each once, of the rows as they
    were started."""
    url = server.url
    project = server.get("api/projects")[0]["id"]
    begun = httpx.post(f"{url}api/projects/{project}/starters/begin", json={"starter": "Lower third"}).json()
    here = f"{url}api/scenes/{begun['scene']['id']}"
    text = "Name\n" + "\n".join(f"Speaker {number}" for number in range(4))
    read = httpx.post(f"{here}/table/read", json={"text": text}).json()
    rows = httpx.post(f"{here}/edits", json={"edits": [read["edit"]]}).json()["scene"]["rows"]
    asked = {"rows": [row["id"] for row in rows], "kind": "webm", "first": 0, "stop": 60, "pattern": "{Name}"}
    httpx.post(f"{here}/table/exports", json=asked).raise_for_status()
    while not any(job["done"] for job in httpx.get(f"{here}/exports").json()):
        time.sleep(0.05)
    server.kill()
    server.start()
    here = f"{server.url}api/scenes/{begun['scene']['id']}"
    # What is typed now is not in what was started before.
    cell = {"row": rows[3]["id"], "slot": rows[3]["cells"][0]["slot"], "text": "Somebody else"}
    httpx.post(f"{here}/edits", json={"edits": [{"edit": "set_cells", "cells": [cell]}]}).raise_for_status()
    for _ in range(600):
        jobs = httpx.get(f"{here}/exports").json()
        if all(job["state"] == "done" for job in jobs):
            break
        time.sleep(0.2)
    assert sorted(job["file"] for job in jobs) == [f"Speaker {number}.webm" for number in range(4)]
    assert {job["state"] for job in jobs} == {"done"}


def test_a_batch_writes_a_file_of_each_row(tmp_path: Path) -> None:
    """Pictures by the names of their files; rows that need a look are told and left out, and the exit code says so."""
    for name, colour in (("shell.png", "red"), ("gull.png", "blue")):
        Image.new("RGB", (64, 48), colour).save(tmp_path / name)
    slots = [
        {"id": "p", "name": "Picture", "places": [{"layer": "face", "path": "content.asset"}]},
        {"id": "n", "name": "Name", "places": [{"layer": "words", "path": "content.text"}]},
    ]
    face = layer("Face", content={"kind": "picture", "asset": "shell.png"}, position=[64, 48])
    words = layer("Words", content={"kind": "text", "text": "Ines", "size": 10}, position=[64, 48])
    made = scene(face, words, width=128, height=96, slots=slots)
    (tmp_path / "third.json").write_text(made.to_json())
    (tmp_path / "names.csv").write_text("Name,Picture\nBram,gull.png\nOle,crab.png\nAda,\n日本,shell.png\n")
    told = run("batch", tmp_path / "third.json", tmp_path / "names.csv", "--out", tmp_path / "out", "--format", "png",
               "--files", "{Name}")  # fmt: skip
    assert told.returncode == 2
    assert "Row 2: " in told.stderr
    assert "crab.png" in told.stderr
    assert "Row 4: No font here has" in told.stderr
    assert "Wrote 2 of 4 titles" in told.stderr
    assert sorted(path.name for path in (tmp_path / "out").iterdir()) == ["Ada.png", "Bram.png"]
    for name, colour in (("Bram", (0, 0, 255, 255)), ("Ada", (255, 0, 0, 255))):
        assert tuple(decoded((tmp_path / "out" / f"{name}.png").read_bytes())[48, 40]) == colour
    again = run("batch", tmp_path / "third.json", tmp_path / "names.csv", "--out", tmp_path / "out", "--files", "{Nom}")
    assert (again.returncode, "no slot “Nom”" in again.stderr) == (2, True)
