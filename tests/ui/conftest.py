"""One application for the tests of the page: starting it takes longer than most of them."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.conftest import Server, serving

ALONE = {"choices", "clips", "controls", "first_job", "hands", "moving", "parity", "sound"}
"""Modules with an application of their own: they change the demo's scenes, count what is there, or kill the server."""


@pytest.fixture(scope="session")
def shared_server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """A server for the modules that make the scenes that they need."""
    with serving(tmp_path_factory.mktemp("shared")) as served:
        yield served


@pytest.fixture(scope="module")
def server(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """The shared server, or one for the module."""
    name = request.module.__name__.rpartition("test_")[2]
    if name in ALONE:
        with serving(tmp_path_factory.mktemp(name)) as served:
            yield served
    else:
        yield request.getfixturevalue("shared_server")


@pytest.fixture(autouse=True)
def _no_fault_of_the_server(request: pytest.FixtureRequest) -> Iterator[None]:
    """A test of the page fails where its server had a fault, also one that the page did not show."""
    yield
    if "server" in request.fixturenames:
        assert request.getfixturevalue("server").faults() == ""
