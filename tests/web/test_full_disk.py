"""Full disks: of the database and of the picture cache.

It is said, nothing is half stored, and it goes on by itself.
"""

import errno
import os
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.conftest import until
from tests.pictures import write_shoot
from winnow.store import shoots
from winnow.work.runtime import Runtime


@pytest.fixture
def url(client: TestClient, tmp_path: Path) -> str:
    write_shoot(tmp_path / "shoot", range(1, 31))
    shoot = client.post("/api/shoots", json={"folders": [str(tmp_path / "shoot")]}).json()["id"]
    return f"/api/shoots/{shoot}"


def done(client: TestClient, url: str) -> int:
    return int(client.get(url).json()["tally"]["done"])


def fill(runtime: Runtime, *, full: bool) -> None:
    """Let the database file grow no further, as on a full disk; or let it."""
    with runtime.db.write() as conn:
        pages = conn.execute("PRAGMA page_count").fetchone()[0] if full else 1_000_000
        conn.execute(f"PRAGMA max_page_count = {pages}")


def test_a_full_disk_refuses_marks_whole_and_takes_them_later(
    client: TestClient, runtime: Runtime, url: str
) -> None:
    until(lambda: done(client, url) == 30)
    until(lambda: not client.get(url).json()["status"]["running"])
    frames = client.get(f"{url}/frames").json()["id"]
    fill(runtime, full=True)
    refused = None
    stored: list[str] = []
    for n in range(4000):
        decision = ("pick", "reject")[n % 2]
        answer = client.post(f"{url}/marks", json={"frames": frames, "decision": decision})
        if answer.status_code == 503:
            refused = answer.json()["detail"]
            break
        stored = [decision] * 30
    assert refused
    assert "is full" in refused
    assert "nothing of this was stored" in refused
    assert client.get(f"{url}/frames").json()["decision"] == stored
    fill(runtime, full=False)
    assert client.post(f"{url}/marks", json={"frames": frames, "stars": 3}).status_code == 200
    assert client.get(f"{url}/frames").json()["stars"] == [3] * 30


def test_a_full_cache_is_no_fault_of_the_pictures(
    client: TestClient, runtime: Runtime, url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = os.replace
    full = True

    def replace(source: str, target: Path) -> None:
        if full and str(target).endswith(".preview.jpg"):
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        real(source, target)

    monkeypatch.setattr("winnow.photos.cache.os.replace", replace)
    said = "is full, or can’t be written to"
    until(lambda: any(said in notice for notice in client.get(url).json()["status"]["notices"]))
    tally = client.get(url).json()["tally"]
    assert (tally["failed"], tally["frames"]) == (0, 30)
    full = False
    # As an open window's looks at the folder do, every few seconds.
    client.post(f"{url}/index")
    until(lambda: done(client, url) == 30)
    until(lambda: not client.get(url).json()["status"]["notices"])
    assert client.get(url).json()["tally"]["failed"] == 0


def test_a_failing_disk_is_said_in_a_sentence_whatever_was_asked(
    client: TestClient, url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def failing(*_: object) -> None:
        raise OSError(errno.EIO, "Input/output error", "/disk/a shoot")

    monkeypatch.setattr(shoots, "get", failing)
    answer = client.get(url)
    assert answer.status_code == 503
    assert answer.json()["detail"].startswith("a shoot: the disk reports a read or write error.")
