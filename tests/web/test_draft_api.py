"""The draft over the API: proposed from what is stored, taken as one step."""

from __future__ import annotations

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.pictures import write_natural
from tests.ready import ready
from winnow.work.runtime import Runtime


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    # One subject, hand-held; the third is soft.
    write_natural(tmp_path / "shoot", [(0, 0, 0), (30, 10, 0), (-20, 15, 4), (10, -20, 0)])
    return ready(runtime, tmp_path / "shoot", "shoot")


def test_a_draft_is_proposed_and_taken_as_one_step(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}"
    ids = client.get(f"{url}/frames").json()["id"]
    made = client.get(f"{url}/draft").json()
    (only,) = made["proposals"]
    assert (made["picked"], made["kept"], made["target"]) == (0, 1, None)
    assert sorted(only["frames"]) == sorted(ids)
    assert only["frames"][-1] == ids[2]
    assert only["keep"][0] != ids[2] != only["runner_up"]
    assert only["words"].startswith("best of 4")
    # Nothing is marked by asking.
    assert set(client.get(f"{url}/frames").json()["decision"]) == {"undecided"}

    keep, out = only["keep"], [frame for frame in ids if frame not in only["keep"]]
    body = {"groups": [{"keep": keep, "out": out}], "proposed": True}
    change = client.post(f"{url}/marks/groups", json=body).json()
    name = client.get(f"/api/frames/{keep[0]}").json()["name"]
    assert change["sentence"] == f"picked {name}, rejected 3 frames, by the draft"
    after = client.get(f"{url}/draft").json()
    assert (after["picked"], after["proposals"][0]["decided"]) == (1, True)
    assert client.post(f"{url}/undo", json={}).json()["sentence"]
    assert set(client.get(f"{url}/frames").json()["decision"]) == {"undecided"}


def test_several_groups_are_decided_as_one_step(client: TestClient, shoot: int) -> None:
    ids = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    url = f"/api/shoots/{shoot}/marks"
    body = {"groups": [{"keep": ids[:1], "out": ids[1:2]}, {"keep": ids[2:3], "open": ids[3:]}]}
    # The fourth is undecided already: what doesn't change isn't told.
    assert client.post(f"{url}/groups", json=body | {"proposed": True}).json()["sentence"] == (
        "picked 2 frames of 2 groups, rejected QH_0002, by the draft"
    )
    assert client.post(f"{url}/groups", json=body).json()["sentence"] is None
    body = {"groups": [{"open": [ids[0]]}]}
    assert client.post(f"{url}/groups", json=body).json()["sentence"] == "left QH_0001 undecided"


def test_from_the_picks_to_the_number(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}"
    ids = client.get(f"{url}/frames").json()["id"]
    assert client.post(f"{url}/draft/number", json={}).json()["target"] is None
    client.patch(url, json={"keep_target": 2})
    fill = client.post(f"{url}/draft/number", json={}).json()
    assert (fill["picked"], fill["target"]) == (0, 2)
    assert fill["questions"][0]["words"] == "nothing of group 1 is picked yet"
    assert ids[2] not in {fill["questions"][0]["frame"], *fill["questions"][0]["others"]}
    client.post(f"{url}/marks", json={"frames": ids[:3], "decision": "pick"})
    (only,) = client.post(f"{url}/draft/number", json={}).json()["questions"]
    assert only["frame"] == ids[2]
    assert only["beside"] in ids[:2]
    settled = client.post(f"{url}/draft/number", json={"settled": [ids[2]]}).json()["questions"]
    assert settled[0]["frame"] in ids[:2]
    # Nothing is marked by asking.
    assert client.get(f"{url}/frames").json()["decision"].count("pick") == 3


def test_the_number_to_keep_is_met(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}"
    client.patch(url, json={"keep_target": 3})
    made = client.get(f"{url}/draft").json()
    assert (made["target"], made["kept"]) == (3, 3)
    third = client.get(f"{url}/frames").json()["id"][2]
    assert third not in made["proposals"][0]["keep"]


def test_frames_of_another_shoot_are_refused(client: TestClient, shoot: int) -> None:
    body = {"groups": [{"keep": [9999], "out": []}]}
    assert client.post(f"/api/shoots/{shoot}/marks/groups", json=body).status_code == 404
    assert client.post(f"/api/shoots/{shoot}/marks/groups", json={"groups": []}).status_code == 400
