"""The application over a runtime, as the person's own browser sees it."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.pictures import write_shoot
from tests.ready import ready
from winnow.web.app import create_app
from winnow.web.security import cookie_name
from winnow.work.runtime import Runtime

TOKEN = "a-token-of-this-start"
HOST = "127.0.0.1:8470"


@pytest.fixture
def stranger(runtime: Runtime) -> Iterator[TestClient]:
    """A client that knows no token."""
    app = create_app(runtime, TOKEN, frozenset({HOST}))
    client = TestClient(app, base_url=f"http://{HOST}", follow_redirects=False)
    yield client
    client.close()


@pytest.fixture
def client(stranger: TestClient) -> TestClient:
    """A client with the cookie."""
    stranger.cookies.set(cookie_name(HOST), TOKEN)
    return stranger


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder of four pictures in two groups."""
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 1, 2, 2])
    return folder


@pytest.fixture
def shoot(runtime: Runtime, folder: Path) -> int:
    """That folder as a shoot, indexed."""
    return ready(runtime, folder, "shoot")


def ids(client: TestClient, shoot: int) -> list[int]:
    """The frames of a shoot, in order."""
    found: list[int] = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    return found
