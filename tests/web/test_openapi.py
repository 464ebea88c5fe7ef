"""The OpenAPI document says what the server does: generated requests get no answer outside it, and none of them 5xx."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.core.failures import FailureGroup
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.conftest import TRIALS

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
LOCAL = {"host": "127.0.0.1"}
every_kind_of_request = settings(
    max_examples=2 * TRIALS, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck)
)


@pytest.fixture(scope="module")
def store(tmp_path_factory: pytest.TempPathFactory, filled: Callable[[Path], Path]) -> Store:
    return Store(filled(tmp_path_factory.mktemp("data")))


@pytest.fixture(scope="module")
def described(store: Store) -> schemathesis.BaseSchema:
    return schemathesis.openapi.from_asgi("/openapi.json", create_app(store), headers=LOCAL)


@pytest.mark.thorough
def test_no_answer_is_outside_the_document(described: schemathesis.BaseSchema, store: Store) -> None:
    project, scenes = store.projects()[0]
    real = {"project_id": project.id, "scene_id": scenes[0].id}
    operations = [found.ok() for found in described.get_all_operations()]
    assert len(operations) > 30
    faults: dict[str, str] = {}

    def ask(case: schemathesis.Case) -> None:
        case.headers = {**(case.headers or {}), **LOCAL}
        case.path_parameters = {name: real.get(name, value) for name, value in (case.path_parameters or {}).items()}
        try:
            case.call_and_validate(checks=CHECKS)
        except FailureGroup as group:
            faults[case.operation.label] = "\n".join(str(fault) for fault in group.exceptions)

    for operation in operations:
        every_kind_of_request(given(case=operation.as_strategy())(ask))()
    assert not faults, "\n\n".join(f"{name}: {fault}" for name, fault in faults.items())
