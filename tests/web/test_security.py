"""Only the person's own browser gets an answer."""

import argparse
import asyncio

import pytest
from fastapi.testclient import TestClient
from starlette.types import Message

from tests.web.conftest import HOST, TOKEN
from winnow.cli.main import _on_this_computer
from winnow.web.server import hosts_at


def test_without_the_token_nothing_is_told(stranger: TestClient) -> None:
    for path in ("/", "/api/shoots", "/api/frames/1/preview", "/assets/x.js", "/api/openapi.json"):
        assert stranger.get(path).status_code == 401
    assert stranger.get("/?token=wrong").status_code == 401
    # Who opens it in a browser gets a page that says what to do; the API answers as ever.
    shown = stranger.get("/shoots/1", headers={"accept": "text/html,*/*"})
    assert (shown.status_code, shown.headers["cache-control"]) == (401, "no-store")
    assert "This address lacks its key" in shown.text
    assert "?token=" in shown.text
    assert "application/json" in stranger.get("/api/shoots").headers["content-type"]
    stranger.cookies.set("winnow-8470", "wrong")
    assert stranger.get("/api/shoots").status_code == 401


def test_the_token_becomes_a_cookie_and_leaves_the_address(stranger: TestClient) -> None:
    answer = stranger.get(f"/shoots/1?token={TOKEN}&x=1")
    assert (answer.status_code, answer.headers["location"]) == (303, "/shoots/1?x=1")
    cookie = answer.headers["set-cookie"].lower()
    assert cookie.startswith("winnow-8470=")
    assert "httponly" in cookie
    assert "samesite=strict" in cookie
    assert stranger.get("/api/shoots").status_code == 200


def test_a_bearer_token_works_for_the_command_line(stranger: TestClient) -> None:
    headers = {"authorization": f"Bearer {TOKEN}"}
    assert stranger.get("/api/shoots", headers=headers).status_code == 200


@pytest.mark.parametrize("host", ["evil.example", "127.0.0.1:1", "localhost", ""])
def test_other_hosts_are_refused(client: TestClient, host: str) -> None:
    assert client.get("/api/shoots", headers={"host": host}).status_code == 421


def test_two_hosts_and_paths_that_name_a_host_are_refused(client: TestClient) -> None:
    two = [("host", HOST), ("host", HOST)]
    assert client.get("/api/shoots", headers=two).status_code == 421
    for path in ("//evil.example/", "/\\evil.example/"):
        status, headers = asyncio.run(answered(client, path))
        assert (status, b"location" in headers) == (400, False), path


async def answered(client: TestClient, path: str) -> tuple[int, dict[bytes, bytes]]:
    """What a request for a path gets that no client sends as it stands."""
    sent: list[Message] = []

    async def send(message: Message) -> None:
        sent.append(message)

    async def receive() -> Message:
        return {"type": "http.request", "body": b""}

    scope = {
        "type": "http", "method": "GET", "path": path, "query_string": f"token={TOKEN}".encode(),
        "headers": [(b"host", HOST.encode())],
    }  # fmt: skip
    await client.app(scope, receive, send)
    return sent[0]["status"], dict(sent[0]["headers"])


@pytest.mark.parametrize("origin", ["http://evil.example", "null", "https://" + HOST])
def test_other_origins_may_not_change_anything(client: TestClient, origin: str) -> None:
    answer = client.post("/api/shoots", json={"folders": ["/"]}, headers={"origin": origin})
    assert answer.status_code == 403
    assert client.get("/api/shoots").json() == []


def test_oversized_and_unmeasured_requests_are_refused(client: TestClient) -> None:
    big = client.post("/api/shoots", content=b"x" * (5 << 20))
    assert big.status_code == 413
    unmeasured = client.post("/api/shoots", content=iter([b"{}"]))
    assert unmeasured.status_code == 411


def test_every_answer_carries_the_policy(client: TestClient, stranger: TestClient) -> None:
    for answer in (client.get("/"), client.get("/api/shoots"), client.get("/api/nothing")):
        assert "default-src 'none'" in answer.headers["content-security-policy"]
        assert answer.headers["x-content-type-options"] == "nosniff"
        assert answer.headers["cache-control"]


@pytest.mark.parametrize(
    "path", ["/..%2f..%2fetc/passwd", "/assets/../../../etc/passwd", "/%2e%2e/x"]
)
def test_no_path_leads_out_of_the_page(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert "root:" not in answer.text


def test_a_page_that_is_built_on_may_come_from_one_other_address_when_that_is_said() -> None:
    usual = {"127.0.0.1:8470", "localhost:8470"}
    assert hosts_at(8470) == usual
    assert hosts_at(8470, page_from="127.0.0.1:5173") == {*usual, "127.0.0.1:5173"}
    for elsewhere in ("192.0.2.1:5173", "127.0.0.1", "127.0.0.1:5173.example.org", "localhost:1"):
        with pytest.raises(argparse.ArgumentTypeError):
            _on_this_computer(elsewhere)
    assert _on_this_computer("127.0.0.1:5173") == "127.0.0.1:5173"
