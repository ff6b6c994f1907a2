"""The application over a runtime, as the person's own browser sees it."""

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

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
