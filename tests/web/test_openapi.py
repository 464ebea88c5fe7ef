"""The OpenAPI document says what the server does: generated requests get no answer outside it, and none of them 5xx."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from mudskipper.demo.low_tide_week import fill_store
from mudskipper.store.store import Store
from mudskipper.web.app import create_app

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]


@pytest.fixture(scope="module")
def api(tmp_path_factory: pytest.TempPathFactory) -> Iterator[schemathesis.BaseSchema]:
    folder: Path = tmp_path_factory.mktemp("data")
    store = Store(folder)
    fill_store(store)
    yield schemathesis.openapi.from_asgi("/openapi.json", create_app(store))


schema = schemathesis.pytest.from_fixture("api")


@schema.parametrize()
@settings(
    max_examples=12, deadline=None, derandomize=True, phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)  # fmt: skip
def test_no_answer_is_outside_the_document(case: schemathesis.Case) -> None:
    case.headers = {**(case.headers or {}), "host": "127.0.0.1"}
    case.call_and_validate(checks=CHECKS)
