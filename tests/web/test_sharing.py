"""Sharing on the local network: off by default, behind a password, rate-limited, for looking and marking only."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.conftest import indexed
from tests.pictures import write_shoot
from tests.web.conftest import HOST, TOKEN
from winnow.web.app import create_app
from winnow.web.security import cookie_name
from winnow.web.sharing import Sharing, guests_may, own_addresses
from winnow.work.studio import Studio

PASSWORD = "a lantern at dusk é"
AWAY = "studio.local:8470"


class Clock:
    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def sharing(clock: Clock) -> Sharing:
    return Sharing(PASSWORD, ("studio.local",), clock)


@pytest.fixture
def shoot(studio: Studio, tmp_path: Path) -> int:
    write_shoot(tmp_path / "shoot", [1, 2])
    return indexed(studio, tmp_path / "shoot")


@pytest.fixture
def guest(studio: Studio, sharing: Sharing, shoot: int) -> Iterator[TestClient]:
    app = create_app(studio, TOKEN, frozenset({HOST, AWAY}), sharing)
    client = TestClient(
        app, base_url=f"http://{AWAY}", follow_redirects=False, client=("192.168.1.9", 5000)
    )
    yield client
    client.close()


def log_in(guest: TestClient, password: str = PASSWORD) -> int:
    return guest.post(
        "/login", data={"password": password}, headers={"origin": f"http://{AWAY}"}
    ).status_code


def test_it_is_off_unless_it_is_asked_for(client: TestClient) -> None:
    assert client.get("/api/sharing").json() == {"on": False, "addresses": [], "guest": False}
    assert client.post("/login", data={"password": PASSWORD}).status_code == 405


def test_a_guest_needs_the_password(guest: TestClient, shoot: int) -> None:
    page = guest.get("/")
    assert "Password" in page.text
    assert "form-action 'self'" in page.headers["content-security-policy"]
    assert guest.get("/api/shoots").status_code == 401
    assert guest.get(f"/?token={TOKEN}").status_code == 200, "the owner's token opens nothing here"
    guest.cookies.set(cookie_name(AWAY), TOKEN)
    assert guest.get("/api/shoots").status_code == 401
    guest.cookies.clear()
    assert log_in(guest, "something else") == 403
    assert log_in(guest) == 303
    assert [one["id"] for one in guest.get("/api/shoots").json()] == [shoot]
    assert guest.get("/api/sharing").json()["guest"] is True
    cookie = guest.cookies.jar
    assert all(one.has_nonstandard_attr("HttpOnly") for one in cookie)


def test_passwords_can_not_be_tried_out(guest: TestClient, clock: Clock) -> None:
    assert [log_in(guest, f"wrong {n}") for n in range(6)] == [403] * 5 + [429]
    assert log_in(guest) == 429, "not even the right one, for a while"
    clock.now += 61
    assert log_in(guest) == 303
    # Many addresses together are slowed down, too.
    other = Sharing(PASSWORD, (), clock)
    assert sum(other.may_try(f"10.0.0.{n}") for n in range(60)) == 30


def test_too_many_requests_are_refused_for_a_moment(
    guest: TestClient, clock: Clock, sharing: Sharing
) -> None:
    log_in(guest)
    assert all(sharing.may_ask("192.168.1.9") for _ in range(1400))
    assert [guest.get("/api/sharing").status_code for _ in range(120)][-1] == 429
    clock.now += 6
    assert guest.get("/api/sharing").status_code == 200


def test_guests_look_and_mark_and_nothing_else(guest: TestClient, shoot: int) -> None:
    log_in(guest)
    url = f"/api/shoots/{shoot}"
    frames = guest.get(f"{url}/frames").json()["id"]
    marked = guest.post(f"{url}/marks", json={"frames": frames[:1], "decision": "pick"})
    assert marked.status_code == 200
    assert guest.get(f"/api/frames/{frames[0]}/preview").status_code == 200
    assert guest.post(f"{url}/undo", json={}).status_code == 200
    for method, path, body in [
        ("GET", "/api/folders?path=/", None),
        ("GET", "/api/programs", None),
        ("PUT", "/api/programs", {"name": "x", "command": "sh"}),
        ("POST", f"{url}/hand-over", {"program": "x"}),
        ("POST", "/api/shoots", {"folders": ["/"]}),
        ("DELETE", url, None),
        ("POST", f"{url}/deliveries", {"target": "/tmp/x"}),
        ("POST", f"{url}/renamings", {"template": "{seq}"}),
        ("POST", f"{url}/aside", {}),
        ("POST", f"{url}/aside/deletion", {"number": 1, "trash": False}),
        ("POST", f"{url}/files", {}),
        ("PUT", "/api/settings", {}),
    ]:
        answer = guest.request(method, path, json=body)
        assert answer.status_code == 403, (method, path)
        assert "computer that Winnow runs on" in answer.json()["detail"]
    # Another page in the guest's browser changes nothing, nor does another name of the host.
    origin = {"origin": "http://evil.example"}
    assert guest.post(f"{url}/undo", json={}, headers=origin).status_code == 403
    assert guest.get("/api/shoots", headers={"host": "evil.example"}).status_code == 421


def test_every_changing_request_is_meant_or_refused(guest: TestClient) -> None:
    """A new route is closed to guests until somebody opens it here."""
    may = {
        f"{method} {path}"
        for path, methods in create_app(None).openapi()["paths"].items()
        for method in map(str.upper, methods)
        if method != "GET" and guests_may(method, re.sub(r"\{[^}]*\}", "1", path))
    }
    assert may == {
        "POST /api/shoots/{shoot}/marks", "POST /api/shoots/{shoot}/undo", "POST /api/shoots/{shoot}/redo",
        "POST /api/shoots/{shoot}/history", "POST /api/shoots/{shoot}/find", "POST /api/shoots/{shoot}/turn",
        "POST /api/shoots/{shoot}/beside", "POST /api/shoots/{shoot}/faces", "POST /api/shoots/{shoot}/open",
        "POST /api/shoots/{shoot}/texts", "POST /api/shoots/{shoot}/texts/edit",
        "PUT /api/shoots/{shoot}/looking-at", "POST /api/shoots/{shoot}/choices/{fact}",
        "POST /api/shoots/{shoot}/groups/preview", "POST /api/shoots/{shoot}/groups/edit",
        "POST /api/shoots/{shoot}/hints/apply", "POST /api/shoots/{shoot}/lists",
        "POST /api/filters/written", "POST /api/filters/written/edit",
    }  # fmt: skip


def test_short_passwords_are_refused_and_addresses_are_others(sharing: Sharing) -> None:
    with pytest.raises(ValueError, match="8 characters"):
        Sharing("short")
    assert sharing.is_right(PASSWORD)
    assert not sharing.is_right(PASSWORD + " ")
    assert not any(name.startswith("127.") for name in own_addresses())


def test_the_owner_is_not_a_guest(studio: Studio, sharing: Sharing, shoot: int) -> None:
    app = create_app(studio, TOKEN, frozenset({HOST, AWAY}), sharing)
    owner = TestClient(app, base_url=f"http://{HOST}", follow_redirects=False)
    owner.cookies.set(cookie_name(HOST), TOKEN)
    told = owner.get("/api/sharing").json()
    assert told == {"on": True, "addresses": ["studio.local:8470"], "guest": False}
    assert owner.get("/api/programs").status_code == 200
    owner.cookies.set(cookie_name(HOST), sharing.token)
    assert owner.get("/api/shoots").status_code == 401
    owner.close()
