"""Whatever is asked, the server does not fail."""

from __future__ import annotations

from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings

from haze.web.app import create_app
from helpers import coarse


@pytest.mark.thorough
def test_no_request_makes_the_server_fail(tmp_path: Path) -> None:
    held = coarse(tmp_path / "fuzz")
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", create_app(held))
    tried: list[str] = []

    for found in schema.get_all_operations():
        operation = found.ok()

        @settings(
            max_examples=2,  # `soak requests` tries thousands
            deadline=None,
            suppress_health_check=list(HealthCheck),
            phases=[Phase.generate],
        )
        @given(case=operation.as_strategy())
        def check(case: schemathesis.Case) -> None:
            response = case.call()
            tried.append(case.path)
            assert response.status_code < 500, response.text
            if response.status_code >= 400:
                kind = response.headers["content-type"][0]
                assert kind.startswith("application/problem+json"), (case.path, kind)

        check()
    held.close()
    assert len(set(tried)) >= 15
