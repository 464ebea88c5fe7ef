"""The wheel: all that the application needs is in it, the page too, and nothing of the checkout."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path

import httpx
import pytest

import mudskipper

ROOT = Path(mudskipper.__file__).parents[1]


@pytest.mark.thorough
def test_an_installed_wheel_serves_the_page_without_node(tmp_path: Path) -> None:
    pip = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check"]
    source = tmp_path / "source"
    shutil.copytree(ROOT / "mudskipper", source / "mudskipper", ignore=shutil.ignore_patterns("__pycache__"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, source)
    built = [*pip, "wheel", str(source), "--no-deps", "--no-build-isolation", "-w", str(tmp_path / "dist")]
    subprocess.run(built, check=True, capture_output=True, env={**os.environ, "PIP_NO_INDEX": "1"})
    (wheel,) = (tmp_path / "dist").glob("mudskipper-*.whl")
    place = tmp_path / "installed"
    subprocess.run([*pip, "install", "--no-deps", "--no-index", "--target", str(place), str(wheel)], check=True)
    # No Node, no checkout: the tools of the system alone, in a folder of its own.
    environment = {"PATH": "/usr/bin:/bin", "PYTHONPATH": str(place), "PYTHONUNBUFFERED": "1", "HOME": str(tmp_path)}
    serve = [sys.executable, "-m", "mudskipper.cli", "serve", "--demo", "--port", "0", "--data", str(tmp_path / "data")]
    with subprocess.Popen(serve, stdout=subprocess.PIPE, text=True, cwd=tmp_path, env=environment) as server:
        try:
            assert server.stdout
            url = server.stdout.readline().split()[-1]
            page = httpx.get(url).text
            script = next(part for part in page.split('"') if part.startswith("/assets/") and part.endswith(".js"))
            assert len(httpx.get(f"{url}{script[1:]}").content) > 500_000
            scene = httpx.get(f"{url}api/projects").json()[0]["scenes"][0]["id"]
            assert httpx.get(f"{url}api/scenes/{scene}/still", params={"frame": 0}).content[:4] == b"\x89PNG"
            code = "import mudskipper; print(mudskipper.__file__)"
            where = subprocess.run([sys.executable, "-c", code], env=environment, cwd=tmp_path, capture_output=True)
            assert str(place) in where.stdout.decode()
        finally:
            server.terminate()


def test_the_package_names_what_it_needs() -> None:
    """What the package requires has a version that is tested, among those that run."""
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    needs = {need.split(">")[0].split("=")[0].lower() for need in project["dependencies"]}
    pinned = {line.split("==")[0].lower() for line in (ROOT / "requirements.txt").read_text().split()}
    assert needs <= pinned
