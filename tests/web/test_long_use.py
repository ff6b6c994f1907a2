"""A long day: memory stays where it is, and a clock that is set back does no harm."""

import gc
import time
from pathlib import Path
from typing import Any

import psutil
import pytest
from fastapi.testclient import TestClient

from tests import soak
from tests.pictures import write_shoot
from tests.ready import ready
from winnow.work.runtime import Runtime


@pytest.fixture
def url(runtime: Runtime, tmp_path: Path) -> str:
    write_shoot(tmp_path / "shoot", range(1, 13))
    return f"/api/shoots/{ready(runtime, tmp_path / 'shoot', 'shoot')}"


def an_hour(client: TestClient, url: str, ids: list[int], n: int) -> None:
    """What is asked in an hour of culling, without the pauses."""
    frame = ids[n % len(ids)]
    decision = ("pick", "reject", "undecided")[n % 3]
    assert (
        client.post(f"{url}/marks", json={"frames": [frame], "decision": decision}).status_code
        == 200
    )
    client.post(f"{url}/find", json={"written": f"stars {n % 5}"})
    client.get(f"/api/frames/{frame}/preview")
    client.get(f"/api/frames/{frame}")
    client.get(f"{url}/frames")
    if n % 10 == 0:
        client.post(f"{url}/undo", json={})
        client.get(f"{url}/funnel")
        client.post(f"{url}/beside", json={"frames": ids[:4]})
        client.get(f"{url}/aside")


@pytest.mark.soak
def test_memory_after_a_long_day_is_what_it_was(client: TestClient, url: str) -> None:
    """Some five requests an hour: memory afterwards within 10 % of that before."""
    ids = client.get(f"{url}/frames").json()["id"]
    process = psutil.Process()
    for n in range(30):
        an_hour(client, url, ids, n)
    gc.collect()
    before = process.memory_info().rss
    for n in range(soak.rounds(12)):
        an_hour(client, url, ids, n)
    gc.collect()
    after = process.memory_info().rss
    assert after < before * 1.1, f"{before / 1e6:.0f} MB, then {after / 1e6:.0f} MB"


def test_a_clock_that_is_set_back(
    client: TestClient, url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The history keeps the order in which things were done, whatever the clock says."""
    ids = client.get(f"{url}/frames").json()["id"]
    real = time.time
    for hours, stars in ((0, 1), (-5, 2), (-9, 3)):
        monkeypatch.setattr(
            "winnow.store.marks.time.time", lambda hours=hours: real() + hours * 3600
        )
        body: dict[str, Any] = {"frames": ids[:1], "stars": stars, "decision": "pick"}
        assert client.post(f"{url}/marks", json=body).status_code == 200
    changes = client.get(f"{url}/history/all").json()
    assert len(changes if isinstance(changes, list) else changes["changes"]) == 3
    assert client.get(f"{url}/pace").status_code == 200
    assert client.get(f"{url}/funnel").status_code == 200
    for stars in (2, 1, 0):
        client.post(f"{url}/undo", json={})
        assert client.get(f"{url}/frames").json()["stars"][0] == stars
