"""The whole API, as its own description says it can be used: no server error, and no answer that is
not described.

Schemathesis makes the requests, valid and not, from the OpenAPI description.
"""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis.checks import not_a_server_error
from schemathesis.core.result import Ok
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from tests import soak
from tests.conftest import indexed
from tests.pictures import write_shoot
from tests.web.conftest import HOST, TOKEN
from winnow.web.app import create_app
from winnow.web.guests.guard import GuestGuard
from winnow.web.guests.rights import guests_may
from winnow.web.guests.sessions import ALL_RIGHTS, Sharing
from winnow.web.security import cookie_name
from winnow.work.runtime import Places, Runtime
from winnow.work.workers.pool import Workers

CHECKS = (
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
)
PASSWORD, AWAY = "a lantern at dusk", "studio.local:8471"
# Paths that the test may use: others would be made, or read, on the machine it runs on.
PATHS = {"target", "second", "source"}


@pytest.fixture(scope="module")
def ground(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("whole api")


@pytest.fixture(scope="module")
def client(ground: Path) -> Iterator[TestClient]:
    write_shoot(ground / "shoot", [1, 2, 3])
    runtime = Runtime(
        Places(ground / "data", ground / "cache"), Workers(lambda: ThreadPoolExecutor(1))
    )
    indexed(runtime, ground / "shoot")
    app = create_app(runtime, TOKEN, frozenset({HOST}))
    made = TestClient(app, base_url=f"http://{HOST}", raise_server_exceptions=False)
    made.cookies.set(cookie_name(HOST), TOKEN)
    yield made
    made.close()
    app.state.shares.switch_off()
    runtime.close()


@pytest.fixture(scope="module")
def guest(client: TestClient) -> Iterator[TestClient]:
    """A guest of the shoot, who may whatever guests may."""
    shares = client.app.state.shares  # type: ignore[attr-defined]
    sharing = Sharing(1, PASSWORD, clock=lambda: 0.0)
    guard = GuestGuard(client.app, sharing, {AWAY}, "AB:CD", shares._shoot_of)
    made = TestClient(
        guard, base_url=f"https://{AWAY}", raise_server_exceptions=False, client=("192.0.2.9", 5000)
    )
    made.cookies.set(cookie_name(AWAY), sharing.sign_in("Ana", "192.0.2.9"))
    # Requests are counted by the clock, which stands still here.
    sharing.may_ask = lambda address: True  # type: ignore[method-assign]
    yield made
    made.close()


DESCRIBED = schemathesis.openapi.from_dict(create_app(None).openapi())
OPERATIONS = {
    f"{found.method.upper()} {found.path}": found
    for found in (
        operation.ok() for operation in DESCRIBED.get_all_operations() if isinstance(operation, Ok)
    )
}
del OPERATIONS["GET /api/shoots/{shoot}/events"]  # never ends


def within(value: Any, ground: Path, key: str = "") -> Any:
    """A body with every path in it leading below the test's own folder."""
    if isinstance(value, dict):
        return {name: within(part, ground, name) for name, part in value.items()}
    if isinstance(value, list):
        return [within(part, ground, key) for part in value]
    if isinstance(value, str) and key in PATHS and value.startswith(("/", "~")):
        return str(ground / "out")
    if isinstance(value, str) and key == "folders":
        return str(ground / "shoot")
    if key == "command":
        return "false"
    return value


@pytest.mark.parametrize("name", OPERATIONS)
def test_a_guest_is_answered_or_refused_and_told_of_no_path(
    name: str, guest: TestClient, ground: Path
) -> None:
    @settings(max_examples=soak.rounds(1), suppress_health_check=list(HealthCheck))
    @given(case=OPERATIONS[name].as_strategy(), known=st.sampled_from([1, 1, 2]))
    def holds(case: Any, known: int) -> None:
        case.body = within(case.body, ground)
        for parameter in case.path_parameters or ():
            case.path_parameters[parameter] = known if parameter == "frame" else 1
        asked = case.as_transport_kwargs(base_url=f"https://{AWAY}")
        headers = {str(k): str(v) for k, v in asked.pop("headers", {}).items()}
        asked.pop("cookies", None)
        answer = guest.request(**asked, headers={**headers, "origin": f"https://{AWAY}"})
        path = urlsplit(str(answer.request.url)).path
        may = guests_may(case.method.upper(), path, 1, set(ALL_RIGHTS), lambda frame: 1)
        assert answer.status_code < 500
        # What the request itself is wrong in is said before.
        assert may or answer.status_code in (400, 401, 403, 411, 413, 421), (name, answer.text)
        assert str(ground).encode() not in answer.content

    holds()


@pytest.mark.parametrize("name", OPERATIONS)
def test_every_request_has_a_described_answer(name: str, client: TestClient, ground: Path) -> None:
    @settings(max_examples=soak.rounds(2), suppress_health_check=list(HealthCheck))
    @given(case=OPERATIONS[name].as_strategy(), known=st.sampled_from([1, 1, 1, 2, None]))
    def holds(case: Any, known: int | None) -> None:
        case.body = within(case.body, ground)
        # Mostly of what is there: else nearly every answer is that it isn't.
        if name == "DELETE /api/shoots/{shoot}":
            case.path_parameters = {"shoot": 77}  # the others need theirs
        elif known:
            for parameter in case.path_parameters or ():
                case.path_parameters[parameter] = known if parameter == "frame" else 1
        asked = case.as_transport_kwargs(base_url=f"http://{HOST}")
        headers = {str(k): str(v) for k, v in asked.pop("headers", {}).items()}
        asked.pop("cookies", None)
        answer = client.request(**asked, headers={**headers, "origin": f"http://{HOST}"})
        case.validate_response(answer, checks=CHECKS)

    holds()
