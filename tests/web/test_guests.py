"""Guests of a shared shoot: who they are, what they may ask, and that all else is refused."""

import json
import re
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from tests.conftest import indexed
from tests.pictures import write_shoot
from tests.web.conftest import HOST, TOKEN
from winnow.store import guests, people
from winnow.store.people import KeptFace
from winnow.web.app import create_app
from winnow.web.guests.addresses import own_addresses
from winnow.web.guests.guard import GuestGuard
from winnow.web.guests.rights import guests_may
from winnow.web.guests.sessions import BadName, May, Sharing
from winnow.web.guests.shares import Shares
from winnow.web.own_files import OwnToken
from winnow.web.security import cookie_name
from winnow.work.runtime import Runtime

PASSWORD = "a lantern at dusk é"
AWAY = "studio.local:8471"
ORIGIN = {"origin": f"https://{AWAY}"}


class Clock:
    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    write_shoot(tmp_path / "shoot", [1, 2, 3])
    return indexed(runtime, tmp_path / "shoot")


@pytest.fixture
def other(runtime: Runtime, tmp_path: Path, shoot: int) -> int:
    write_shoot(tmp_path / "other", [7])
    return indexed(runtime, tmp_path / "other")


@pytest.fixture
def sharing(clock: Clock, shoot: int) -> Sharing:
    return Sharing(shoot, PASSWORD, clock=clock)


@pytest.fixture
def app(runtime: Runtime) -> FastAPI:
    return create_app(runtime, TOKEN, frozenset({HOST}))


def coming_in(app: FastAPI, sharing: Sharing, address: str = "192.168.1.9") -> TestClient:
    shoot_of = Shares(app, app.state.runtime.db, Path(), 0)._shoot_of
    guard = GuestGuard(app, sharing, {AWAY}, "AB:CD", shoot_of)
    return TestClient(
        guard, base_url=f"https://{AWAY}", follow_redirects=False, client=(address, 5000)
    )


@pytest.fixture
def guest(app: FastAPI, sharing: Sharing) -> Iterator[TestClient]:
    client = coming_in(app, sharing)
    yield client
    client.close()


@pytest.fixture
def owner(app: FastAPI) -> Iterator[TestClient]:
    client = TestClient(app, base_url=f"http://{HOST}", follow_redirects=False)
    client.cookies.set(cookie_name(HOST), TOKEN)
    yield client
    client.close()


def sign_in(client: TestClient, name: str = "Ana", password: str = PASSWORD) -> int:
    return client.post(
        "/login", data={"password": password, "name": name}, headers=ORIGIN
    ).status_code


def test_nothing_is_shared_unless_it_is_switched_on(client: TestClient) -> None:
    told = client.get("/api/sharing").json()
    assert (told["on"], told["guests"], told["urls"]) == (False, [], [])
    assert client.post("/login", data={"password": PASSWORD}).status_code == 405


def test_a_guest_needs_name_and_password(guest: TestClient, shoot: int) -> None:
    page = guest.get("/")
    assert "Password" in page.text
    assert "AB:CD" in page.text.replace("<wbr>", ""), (
        "the fingerprint, to be compared with the owner's screen"
    )
    assert "form-action 'self'" in page.headers["content-security-policy"]
    assert guest.get("/api/shoots").status_code == 401
    assert guest.get(f"/?token={TOKEN}").status_code == 200, "the owner's token opens nothing here"
    guest.cookies.set(cookie_name(AWAY), TOKEN)
    assert guest.get("/api/shoots").status_code == 401
    bearer = {"authorization": f"Bearer {TOKEN}"}
    assert guest.get("/api/shoots", headers=bearer).status_code == 401
    guest.cookies.clear()
    assert sign_in(guest, password="something else") == 403
    assert sign_in(guest, name=" ") == 403
    assert sign_in(guest) == 303
    assert [shown["id"] for shown in guest.get("/api/shoots").json()] == [shoot]
    told = guest.get("/api/sharing").json()
    assert (told["guest"], told["may"], told["urls"], told["guests"]) == (
        "Ana", ["caption", "mark"], [], [],
    )  # fmt: skip
    assert all(
        cookie.has_nonstandard_attr("HttpOnly") and cookie.secure for cookie in guest.cookies.jar
    )
    assert all("strict" in str(vars(cookie)).lower() for cookie in guest.cookies.jar)


def test_names_are_one_guests_each(sharing: Sharing) -> None:
    token = sharing.sign_in("  Ana   B ", "192.168.1.9")
    guest = sharing.guest_of(token)
    assert guest is not None
    assert guest.name == "Ana B"
    for name in ("ana b", "", "x" * 41, "a\u202eb", "a\x07"):
        with pytest.raises(BadName):
            sharing.sign_in(name, "192.168.1.8")
    sharing.end(guest.id)
    assert sharing.guest_of(token) is None
    sharing.sign_in("Ana B", "192.168.1.8")


def test_passwords_can_not_be_tried_out(guest: TestClient, clock: Clock, shoot: int) -> None:
    wrong = [sign_in(guest, password=f"wrong {n}") for n in range(6)]
    assert wrong == [403] * 5 + [429]
    assert sign_in(guest) == 429, "not even the right one, for a while"
    clock.now += 61
    assert sign_in(guest) == 303
    # Many addresses together are slowed down, too.
    several = Sharing(shoot, PASSWORD, clock=clock)
    assert sum(several.may_try(f"10.0.0.{n}") for n in range(60)) == 30


def test_too_many_requests_are_refused_for_a_moment(
    guest: TestClient, clock: Clock, sharing: Sharing
) -> None:
    sign_in(guest)
    assert all(sharing.may_ask("192.168.1.9") for _ in range(1400))
    assert [guest.get("/api/sharing").status_code for _ in range(120)][-1] == 429
    clock.now += 6
    assert guest.get("/api/sharing").status_code == 200


def test_guests_look_and_mark_and_nothing_else(
    guest: TestClient, shoot: int, other: int, runtime: Runtime
) -> None:
    sign_in(guest)
    url = f"/api/shoots/{shoot}"
    frames = guest.get(f"{url}/frames").json()["id"]
    marked = guest.post(f"{url}/marks", json={"frames": frames[:1], "decision": "pick"})
    assert marked.json()["undo"] == "picked QH_0001"
    assert guest.get(f"/api/frames/{frames[0]}/preview").status_code == 200
    assert guest.post(f"{url}/undo", json={}).json()["sentence"] == "taken back: picked QH_0001"
    (theirs,) = guest_frames(runtime, other)
    for method, path, body in [
        ("GET", "/api/folders?path=/", None),
        ("GET", "/api/folders/within?path=/", None),
        ("GET", "/api/folders/places", None),
        ("POST", "/api/folders/find", {"name": "fair", "files": {}}),
        ("GET", f"/api/frames/{frames[0]}/original", None),
        ("POST", f"{url}/paths", {"frames": frames[:1]}),
        ("GET", "/api/cards/picture?source=/&path=x", None),
        ("GET", "/api/programs", None),
        ("GET", "/api/notices", None),
        ("GET", "/api/openapi.json", None),
        ("PUT", "/api/programs", {"name": "x", "command": "sh"}),
        ("POST", f"{url}/hand-over", {"program": "x"}),
        ("POST", "/api/shoots", {"folders": ["/"]}),
        ("DELETE", url, None),
        ("GET", f"{url}/history/all", None),
        ("POST", f"{url}/history", {"change": None}),
        ("POST", f"{url}/groups/edit", {"do": "alone", "frames": frames[:1]}),
        ("POST", f"{url}/lists", {}),
        ("POST", f"{url}/deliveries", {"target": "/tmp/x"}),
        ("POST", f"{url}/renamings", {"template": "{seq}"}),
        ("POST", f"{url}/aside", {}),
        ("POST", f"{url}/aside/deletion", {"number": 1, "trash": False}),
        ("POST", f"{url}/files", {}),
        ("POST", f"{url}/guests/take", {}),
        ("PUT", "/api/settings", {}),
        ("PUT", "/api/sharing", {"shoot": other, "password": PASSWORD, "may": []}),
        ("DELETE", "/api/sharing", None),
        # Every other shoot.
        ("GET", f"/api/shoots/{other}", None),
        ("GET", f"/api/shoots/{other}/frames", None),
        ("POST", f"/api/shoots/{other}/marks", {"frames": [theirs], "decision": "pick"}),
        ("GET", f"/api/frames/{theirs}", None),
        ("GET", f"/api/frames/{theirs}/thumbnail", None),
        ("GET", f"/api/frames/{theirs}/part?left=0&top=0&width=9&height=9", None),
        ("GET", "/api/frames/99999/preview", None),
    ]:
        answer = guest.request(method, path, json=body)
        assert answer.status_code == 403, (method, path)
        assert "owner of this shoot" in answer.json()["detail"]
    # A frame of another shoot is none of this one's.
    wrong = guest.post(f"{url}/marks", json={"frames": [theirs], "decision": "pick"})
    assert wrong.status_code == 404
    # Another page in the guest's browser changes nothing, nor does another name of the host.
    evil = {"origin": "https://evil.example"}
    assert guest.post(f"{url}/undo", json={}, headers=evil).status_code == 403
    assert guest.get("/api/shoots", headers={"host": "evil.example"}).status_code == 421


def guest_frames(runtime: Runtime, shoot: int) -> list[int]:
    return [
        row["id"]
        for row in runtime.db.read.execute("SELECT id FROM frame WHERE shoot_id = ?", (shoot,))
    ]


def test_guests_are_told_of_their_shoot_alone(
    guest: TestClient, owner: TestClient, shoot: int, other: int
) -> None:
    sign_in(guest)
    assert [shown["id"] for shown in guest.get("/api/shoots").json()] == [shoot]
    assert {shown["id"] for shown in owner.get("/api/shoots").json()} == {shoot, other}


def test_nothing_of_where_files_are_is_told(
    guest: TestClient, owner: TestClient, shoot: int, tmp_path: Path, runtime: Runtime
) -> None:
    with runtime.db.write() as conn:
        conn.execute(
            "UPDATE frame SET serial = 'S-1', lens_serial = 'S-2', "
            "latitude = -41.58731, longitude = 172.57913"
        )
    sign_in(guest)
    frames = guest.get(f"/api/shoots/{shoot}/frames").json()["id"]
    paths = ("/api/shoots", f"/api/shoots/{shoot}", f"/api/frames/{frames[0]}", "/api/settings")
    owner.put("/api/settings", json={"backup_place": str(tmp_path)})
    told = json.dumps([guest.get(path).json() for path in paths])
    for secret in (str(tmp_path), "S-1", "S-2", "41.58731", "172.57913"):
        assert secret not in told, secret
    assert str(tmp_path) in json.dumps([owner.get(path).json() for path in paths])


@pytest.mark.parametrize(
    ("may", "allowed"),
    [([], set()), (["mark"], {"marks", "undo"}), (["caption"], {"texts/edit", "undo"})],
)
def test_what_guests_may_is_chosen(
    app: FastAPI, shoot: int, may: list[May], allowed: set[str]
) -> None:
    client = coming_in(app, Sharing(shoot, PASSWORD, may))
    sign_in(client)
    frames = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    for what, body in (
        ("marks", {"frames": frames[:1], "stars": 2}),
        ("texts/edit", {"frames": frames[:1], "put": {"title": "A"}}),
        ("undo", {}),
    ):
        status = client.post(f"/api/shoots/{shoot}/{what}", json=body).status_code
        assert status == (200 if what in allowed else 403), what
    client.close()


def test_every_request_is_meant_or_refused() -> None:
    """A new route is closed to guests until somebody opens it here."""
    may = {
        f"{method} {path}"
        for path, methods in create_app(None).openapi()["paths"].items()
        for method in map(str.upper, methods)
        if guests_may(
            method, re.sub(r"\{[^}]*\}", "1", path), 1, {"mark", "caption"}, lambda frame: frame
        )
    }
    shoot, frame = "/api/shoots/{shoot}", "/api/frames/{frame}"
    assert may == {
        "GET /api/shoots", "GET /api/settings", "GET /api/labels", "GET /api/labels/choices",
        "GET /api/key-sets",
        "GET /api/filters", "GET /api/texts/fields", "GET /api/texts/filled", "GET /api/sharing",
        "POST /api/filters/written", "POST /api/filters/written/edit",
        f"GET {shoot}", f"GET {shoot}/frames", f"GET {shoot}/history", f"GET {shoot}/events",
        f"GET {shoot}/groups",
        f"GET {shoot}/alike/{{frame}}", f"GET {shoot}/hints", f"GET {shoot}/hints/{{kind}}",
        f"GET {shoot}/second-look", f"POST {shoot}/find", f"POST {shoot}/beside",
        f"POST {shoot}/faces",
        f"POST {shoot}/groups/preview", f"POST {shoot}/texts", f"POST {shoot}/choices/{{fact}}",
        f"PUT {shoot}/looking-at", f"POST {shoot}/marks", f"POST {shoot}/marks/groups",
        f"POST {shoot}/hints/apply", f"POST {shoot}/undo",
        f"POST {shoot}/redo", f"POST {shoot}/texts/edit",
        f"GET {frame}", f"GET {frame}/thumbnail", f"GET {frame}/preview", f"GET {frame}/full",
        f"GET {frame}/part", f"GET {frame}/focus",
        f"GET {frame}/hints", f"GET {frame}/matters",
    }  # fmt: skip


def test_what_guests_did_carries_their_name_and_waits(
    guest: TestClient, owner: TestClient, shoot: int, runtime: Runtime, tmp_path: Path
) -> None:
    sign_in(guest)
    url = f"/api/shoots/{shoot}"
    frames = guest.get(f"{url}/frames").json()["id"]
    guest.post(f"{url}/marks", json={"frames": frames[:2], "decision": "pick"})
    steps = owner.get(f"{url}/history/all").json()
    assert [(step["by"], step["sentence"]) for step in steps] == [("Ana", "picked 2 frames")]
    assert owner.get(f"/api/frames/{frames[0]}").json()["marked_by"] == "Ana"
    assert owner.get(f"{url}/guests").json() == [{"by": "Ana", "steps": 1, "frames": frames[:2]}]
    # Nothing of it is written: not by a plan, nor into what is delivered.
    plan = owner.get(f"{url}/files/plan").json()
    assert (plan["unchecked"], plan["frames"]) == (2, [])
    assert owner.get(f"{url}/files").json()["unwritten"] == 0
    listed = {"frames": frames, "form": "csv"}
    assert owner.post(f"{url}/lists", json=listed).status_code == 400
    assert owner.post(f"{url}/lists", json={**listed, "frames": frames[2:]}).status_code == 200
    gallery = {"kind": "gallery", "title": "Proof"}
    proof = {"frames": frames, "target": str(tmp_path / "out"), "proof": gallery}
    for path in ("proofs/plan", "proofs"):
        answer = owner.post(f"{url}/{path}", json=proof)
        assert (answer.status_code, "Guests changed 2 frames" in answer.text) == (400, True)
    assert owner.post(f"{url}/guests/take", json={"by": "Ana"}).json() == []
    assert owner.post(f"{url}/lists", json=listed).status_code == 200
    assert owner.get(f"{url}/files").json()["unwritten"] == 2
    plan = owner.get(f"{url}/files/plan").json()
    assert (plan["unchecked"], plan["counts"]) == (0, {"new": 2})
    # And taken back as one step.
    guest.post(f"{url}/marks", json={"frames": frames[2:], "decision": "reject"})
    back = owner.post(f"{url}/guests/take-back", json={}).json()
    assert back["sentence"] == "taken back: what Ana did"
    assert guests.waiting(runtime.db, shoot) == []
    assert owner.get(f"{url}/frames").json()["decision"] == ["pick", "pick", "undecided"]


def test_a_guest_does_not_get_the_owners_undo(
    guest: TestClient, owner: TestClient, shoot: int
) -> None:
    """Two requests destroyed everything once: back to the beginning, then one mark."""
    sign_in(guest)
    url = f"/api/shoots/{shoot}"
    frames = guest.get(f"{url}/frames").json()["id"]
    owner.post(f"{url}/marks", json={"frames": frames, "decision": "pick"})
    assert guest.get(f"{url}/history").json() == {"undo": None, "redo": None}
    assert guest.post(f"{url}/history", json={"change": None}).status_code == 403
    assert guest.post(f"{url}/undo", json={}).json()["sentence"] is None
    guest.post(f"{url}/marks", json={"frames": frames[:1], "stars": 1})
    assert owner.get(f"{url}/frames").json()["decision"] == ["pick"] * 3
    answer = owner.post(f"{url}/undo", json={}).json()
    assert answer["sentence"] == "taken back: picked 3 frames"
    assert owner.get(f"{url}/frames").json()["stars"][0] == 1


def test_an_ended_session_is_answered_nothing_more(
    guest: TestClient, sharing: Sharing, shoot: int
) -> None:
    sign_in(guest)
    assert guest.get(f"/api/shoots/{shoot}").status_code == 200
    (known,) = sharing.guests()
    sharing.end(known.id)
    answer = guest.get(f"/api/shoots/{shoot}")
    assert (answer.status_code, "session has ended" in answer.text) == (401, True)
    assert sign_in(guest, "Ana") == 303


def test_pictures_for_guests_say_nothing_of_where_they_were_taken(
    guest: TestClient, owner: TestClient, shoot: int, tmp_path: Path
) -> None:
    """At full size they are made anew: never the file itself, and the owner's are that still."""
    sign_in(guest)
    (first, *_) = guest.get(f"/api/shoots/{shoot}/frames").json()["id"]
    original = (tmp_path / "shoot" / "QH_0001.jpg").read_bytes()
    assert b"Exif" in original
    for kind in ("full", "thumbnail", "preview", "part?left=0&top=0&width=64&height=64"):
        data = guest.get(f"/api/frames/{first}/{kind}").content
        assert data.startswith(b"\xff\xd8")
        assert b"Exif" not in data
        assert b"ns.adobe.com" not in data
        assert data != original
    assert owner.get(f"/api/frames/{first}/full").content == original


def test_addresses_are_others() -> None:
    assert not any(name.startswith("127.") for name in own_addresses())
    assert own_addresses()


def test_short_passwords_are_refused(owner: TestClient, shoot: int) -> None:
    answer = owner.put("/api/sharing", json={"shoot": shoot, "password": "short", "may": []})
    assert (answer.status_code, "8 characters" in answer.text) == (400, True)
    assert owner.get("/api/sharing").json()["on"] is False


def test_a_program_s_token_and_a_version_in_the_address_open_nothing_more(
    guest: TestClient, owner: TestClient, runtime: Runtime, shoot: int
) -> None:
    token = OwnToken(runtime.places.data).make()
    shown = {"authorization": f"Bearer {token}"}
    assert guest.get(f"/api/shoots/{shoot}", headers=shown).status_code == 401
    sign_in(guest)
    for path in ("folders/places", f"shoots/{shoot}/people"):
        for api in ("api", "api/v1"):
            assert guest.get(f"/{api}/{path}", headers=shown).status_code == 403, (api, path)


def test_guests_are_never_told_who_is_in_a_frame(
    guest: TestClient, owner: TestClient, runtime: Runtime, shoot: int
) -> None:
    frame = owner.get(f"/api/shoots/{shoot}/frames").json()["id"][0]
    people.switch_on(runtime.db, shoot)
    face = KeptFace(frame, 0, 0.5, 0.5, np.zeros(128, np.float32), sure=True, person=3)
    people.keep(runtime.db, shoot, {frame: ("key", [face])})
    asked = {"written": "person 3"}
    assert owner.post(f"/api/shoots/{shoot}/find", json=asked).json()["ids"] == [frame]
    sign_in(guest)
    for method, path in (
        ("GET", ""), ("PUT", ""), ("DELETE", ""), ("POST", "/undo"), ("POST", "/join"),
        ("GET", f"/face?frame={frame}&left=0&top=0&right=1&bottom=1"),
    ):  # fmt: skip
        answer = guest.request(method, f"/api/shoots/{shoot}/people{path}", headers=ORIGIN)
        assert answer.status_code == 403, path
    found = guest.post(f"/api/shoots/{shoot}/find", json=asked, headers=ORIGIN)
    assert (found.status_code, found.json()["ids"]) == (200, [])
