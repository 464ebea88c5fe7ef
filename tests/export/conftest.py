"""The demo, for all that is written of it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

import mudskipper
from mudskipper.opened import OpenProject


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory, filled: Callable[[Path], Path]) -> OpenProject:
    """The demo's project."""
    return mudskipper.open(filled(tmp_path_factory.mktemp("data"))).project("Low Tide Week")
