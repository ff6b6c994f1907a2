"""The line by which guests come in: encrypted, known by its fingerprint, and patient only so
long."""

import contextlib
import hashlib
import http.client
import socket
import ssl
from collections.abc import Callable, Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from urllib.parse import urlencode

import pytest
from cryptography import x509
from fastapi.testclient import TestClient

from tests.conftest import indexed, until
from tests.pictures import write_shoot
from tests.web.conftest import HOST, TOKEN
from winnow.web import patience
from winnow.web.app import create_app
from winnow.web.guests import certificate, line
from winnow.web.guests.addresses import as_code, own_addresses
from winnow.web.guests.shares import Shared, Shares
from winnow.web.security import cookie_name
from winnow.work.runtime import Runtime

PASSWORD = "a lantern at dusk"


@pytest.fixture
def shares(runtime: Runtime, tmp_path: Path) -> Iterator[Shares]:
    write_shoot(tmp_path / "shoot", [1])
    indexed(runtime, tmp_path / "shoot")
    app = create_app(runtime, TOKEN, frozenset({HOST}))
    yield app.state.shares
    app.state.shares.switch_off()


@pytest.fixture
def shared(shares: Shares) -> Shared:
    return shares.switch_on(1, PASSWORD)


def unchecked() -> ssl.SSLContext:
    """As a person's browser after they compared the fingerprint."""
    context = ssl.create_default_context()
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    return context


def encrypted(shared: Shared) -> ssl.SSLSocket:
    raw = socket.create_connection(("127.0.0.1", shared.line.port), 10)
    return unchecked().wrap_socket(raw)


class Visitor:
    """Somebody on the network."""

    def __init__(self, shared: Shared) -> None:
        self._host = f"{own_addresses()[0]}:{shared.line.port}"
        self._connection = http.client.HTTPSConnection(
            "127.0.0.1", shared.line.port, timeout=10, context=unchecked()
        )
        self._cookie = ""

    def close(self) -> None:
        self._connection.close()

    def ask(self, method: str, path: str, body: str = "", **headers: str) -> tuple[int, bytes]:
        sent = {"Host": self._host, "Cookie": self._cookie, **headers}
        self._connection.request(method, path, body.encode() or None, sent)
        answer = self._connection.getresponse()
        if cookie := answer.headers.get("set-cookie"):
            self._cookie = cookie.partition(";")[0]
        return answer.status, answer.read()

    def sign_in(self) -> int:
        body = urlencode({"name": "Ana", "password": PASSWORD})
        return self.ask("POST", "/login", body, Origin=f"https://{self._host}")[0]

    def stream(self, path: str) -> http.client.HTTPResponse:
        self._connection.request("GET", path, headers={"Host": self._host, "Cookie": self._cookie})
        return self._connection.getresponse()


@pytest.fixture
def visit() -> Iterator[Callable[[Shared], Visitor]]:
    made = []

    def come(shared: Shared) -> Visitor:
        made.append(Visitor(shared))
        return made[-1]

    yield come
    for connection in made:
        connection.close()


Visit = Callable[[Shared], Visitor]


def test_guests_sign_in_over_an_encrypted_line(shared: Shared, visit: Visit) -> None:
    visitor = visit(shared)
    assert visitor.ask("GET", "/api/shoots")[0] == 401
    assert visitor.sign_in() == 303
    status, body = visitor.ask("GET", "/api/shoots/1/frames")
    assert (status, b"QH_0001" in body) == (200, True)
    assert visitor.ask("GET", "/api/shoots/2")[0] == 403
    (guest,) = shared.sharing.guests()
    assert (guest.name, guest.address) == ("Ana", "127.0.0.1")
    with socket.create_connection(("127.0.0.1", shared.line.port), 5) as plain:
        plain.sendall(b"GET / HTTP/1.1\r\nHost: x\r\n\r\n")
        assert not plain.recv(100).startswith(b"HTTP")


def test_the_owners_token_opens_nothing_here(shared: Shared, visit: Visit) -> None:
    visitor = visit(shared)
    assert visitor.ask("GET", "/api/shoots", Authorization=f"Bearer {TOKEN}")[0] == 401
    assert visitor.ask("GET", "/api/shoots", Host=HOST)[0] == 421


def test_the_fingerprint_is_that_of_the_certificate_and_stays(
    shares: Shares, shared: Shared, runtime: Runtime
) -> None:
    served = ssl.PEM_cert_to_DER_cert(
        ssl.get_server_certificate(("127.0.0.1", shared.line.port), timeout=10)
    )
    assert shared.fingerprint.replace(":", "").lower() == hashlib.sha256(served).hexdigest()
    assert shares.switch_on(1, PASSWORD).fingerprint == shared.fingerprint
    file = runtime.places.data / "shared-line.pem"
    assert file.stat().st_mode & 0o777 == 0o600
    assert shared.urls[0].startswith("https://")
    assert as_code(shared.urls[0]).startswith("data:image/svg+xml")


def test_a_certificate_is_made_anew_before_it_ends(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = certificate.certificate(tmp_path, ["192.0.2.7", "studio.local"])
    known = x509.load_pem_x509_certificate(first.file.read_bytes())
    names = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    assert [str(name.value) for name in names] == ["192.0.2.7", "studio.local"]
    # CA/Browser Forum, Baseline Requirements 6.3.2: no longer than 398 days.
    assert known.not_valid_after_utc - known.not_valid_before_utc <= timedelta(days=398)
    assert known.not_valid_before_utc < datetime.now(UTC)
    assert certificate.certificate(tmp_path, []).fingerprint == first.fingerprint
    monkeypatch.setattr(certificate, "_RENEWED_BEFORE", timedelta(days=400))
    assert certificate.certificate(tmp_path, []).fingerprint != first.fingerprint
    monkeypatch.undo()
    first.file.write_bytes(b"cut off")
    assert certificate.certificate(tmp_path, []).fingerprint != first.fingerprint


def test_no_more_connections_of_one_address_are_accepted_than_can_be_borne() -> None:
    with contextlib.ExitStack() as open_:
        listening = open_.enter_context(contextlib.closing(line.listening(0)))
        port = listening.getsockname()[1]
        found = []
        for _ in range(line._MOST_OF_ONE):
            open_.enter_context(socket.create_connection(("127.0.0.1", port), 10))
            found.append(open_.enter_context(listening.accept()[0]))
        open_.enter_context(socket.create_connection(("127.0.0.1", port), 10))
        with pytest.raises(ConnectionAbortedError):
            listening.accept()
        # What is closed counts no more.
        found[0].close()
        open_.enter_context(socket.create_connection(("127.0.0.1", port), 10))
        open_.enter_context(listening.accept()[0])


def test_unfinished_requests_lock_nobody_out(shared: Shared) -> None:
    """260 requests that never finish locked everybody out."""
    begun = []
    for _ in range(260):
        connection = socket.create_connection(("127.0.0.1", shared.line.port), 5)
        connection.settimeout(0.05)
        begun.append(connection)

    def refused(connection: socket.socket) -> bool:
        try:
            return connection.recv(1) == b""
        except TimeoutError:
            return False
        except OSError:
            return True

    until(lambda: sum(map(refused, begun)) >= 260 - line._MOST_OF_ONE)
    for connection in begun:
        connection.close()
    # What is closed counts no more.
    until(lambda: _answers(shared))


def _answers(shared: Shared) -> bool:
    with contextlib.closing(Visitor(shared)) as visitor:
        try:
            return visitor.ask("GET", "/")[0] == 200
        except OSError:
            return False


def test_headers_and_bodies_that_never_end_are_given_up(
    shares: Shares, monkeypatch: pytest.MonkeyPatch, visit: Visit
) -> None:
    monkeypatch.setattr(patience, "_HEADERS_S", 0.3)
    shared = shares.switch_on(1, PASSWORD)
    for begun in (b"", b"GET / HTTP/1.1\r\nHost: x\r\n"):
        with encrypted(shared) as connection:
            connection.sendall(begun)
            assert connection.recv(100) == b""
    monkeypatch.setattr("winnow.web.guests.guard._BODY_S", 0.3)
    visitor = visit(shared)
    host = visitor._host
    with encrypted(shared) as connection:
        connection.sendall(
            f"POST /login HTTP/1.1\r\nHost: {host}\r\nContent-Length: 50\r\n\r\nname=".encode()
        )
        while connection.recv(1000):
            pass


def test_streams_of_an_ended_session_end(shared: Shared, runtime: Runtime, visit: Visit) -> None:
    visitor = visit(shared)
    visitor.sign_in()
    stream = visitor.stream("/api/shoots/1/events")
    assert [stream.readline() for _ in range(3)] == [b"event: hello\n", b"data: {}\n", b"\n"]
    (guest,) = shared.sharing.guests()
    shared.sharing.end(guest.id)
    runtime.events.tell(1, "order")
    assert stream.readline() == b""


def test_a_shoot_that_is_forgotten_is_shared_no_more(
    shares: Shares, shared: Shared, runtime: Runtime, tmp_path: Path
) -> None:
    owner = TestClient(shares._app, base_url=f"http://{HOST}")
    owner.cookies.set(cookie_name(HOST), TOKEN)
    assert owner.delete("/api/shoots/1").status_code == 204
    write_shoot(tmp_path / "other", [2])
    assert indexed(runtime, tmp_path / "other") != shared.sharing.shoot_id
    assert shares.now is None
    owner.close()


def test_switching_off_ends_everything(shares: Shares, shared: Shared, visit: Visit) -> None:
    visitor = visit(shared)
    visitor.sign_in()
    shares.switch_off()
    assert shares.now is None
    with pytest.raises(OSError):  # noqa: PT011 (refused, or hung up)
        visit(shared).ask("GET", "/")
