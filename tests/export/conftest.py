"""The demo, for all that is written of it."""

from __future__ import annotations

import pytest

import mudskipper
from mudskipper.demo.low_tide_week import fill_store
from mudskipper.opened import OpenProject
from mudskipper.store.store import Store


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> OpenProject:
    """The demo's project."""
    folder = tmp_path_factory.mktemp("data")
    fill_store(Store(folder))
    return mudskipper.open(folder).project("Low Tide Week")
