"""A shoot whose folder is elsewhere now: found by content, asked about, pointed there with all its
marks."""

import os
import shutil
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.conftest import until
from tests.pictures import dng, jpeg, write_shoot
from winnow.work.moves import set_aside
from winnow.work.runtime import Runtime


@pytest.fixture
def disk(tmp_path: Path) -> Path:
    """A disk with a shoot, as it is first mounted."""
    folder = tmp_path / "media" / "one" / "Fair"
    write_shoot(folder, range(1, 7))
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    return tmp_path / "media" / "one"


@pytest.fixture
def shoot(client: TestClient, disk: Path) -> int:
    made = client.post("/api/shoots", json={"folders": [str(disk / "Fair")]}).json()
    until(lambda: settled(client, made["id"]))
    return int(made["id"])


def settled(client: TestClient, shoot: int) -> bool:
    found = client.get(f"/api/shoots/{shoot}").json()
    return bool(found["tally"]["done"]) and not found["status"]["running"]


def picks(client: TestClient, shoot: int) -> list[str]:
    columns = client.get(f"/api/shoots/{shoot}/frames").json()
    return [
        name
        for name, decision in zip(columns["name"], columns["decision"], strict=True)
        if decision == "pick"
    ]


def test_a_disk_under_another_name_is_asked_about_and_brings_all_marks(
    client: TestClient, runtime: Runtime, disk: Path, shoot: int
) -> None:
    ids = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    client.post(f"/api/shoots/{shoot}/marks", json={"frames": ids[:4], "decision": "pick"})
    set_aside.set_aside(runtime.db, ids[4:5])
    before = picks(client, shoot)
    now = disk.rename(disk.parent / "two")

    answer = client.post("/api/shoots", json={"folders": [str(now / "Fair")]})
    assert answer.status_code == 409
    asked = answer.json()
    assert "“Fair” seems to have moved: 5 of its 5 frames lie here" in asked["detail"]
    moved = asked["moved"]
    assert (moved["shoot"], moved["found"], moved["was"]) == (shoot, 5, str(disk / "Fair"))

    place = f"/api/shoots/{shoot}/folders/{moved['folder']}/place"
    pointed = client.post(place, json={"place": str(now / "Fair")})
    assert pointed.status_code == 200
    assert [folder["path"] for folder in pointed.json()["folders"]] == [str(now / "Fair")]
    until(lambda: settled(client, shoot))
    assert picks(client, shoot) == before
    assert client.get(f"/api/shoots/{shoot}").json()["tally"]["missing"] == 0
    assert len(client.get("/api/shoots").json()) == 1
    # What was set aside moved along, and comes back.
    assert set_aside.bring_back(runtime.db, ids).frames == 1
    assert len(os.listdir(now / "Fair")) == 7
    # The same folder opens the same shoot from then on.
    again = client.post("/api/shoots", json={"folders": [str(now / "Fair")]})
    assert (again.status_code, again.json()["id"]) == (201, shoot)


def test_a_copy_elsewhere_is_a_shoot_of_its_own_while_the_first_is_there_and_when_asked_for(
    client: TestClient, disk: Path, shoot: int, tmp_path: Path
) -> None:
    copy = tmp_path / "copy"
    shutil.copytree(disk / "Fair", copy)
    made = client.post("/api/shoots", json={"folders": [str(copy)]})
    assert made.status_code == 201
    assert made.json()["id"] != shoot
    disk.rename(disk.parent / "two")
    third = tmp_path / "third"
    shutil.copytree(copy, third)
    wanted = {"folders": [str(third)]}
    assert client.post("/api/shoots", json=wanted).status_code == 409
    assert client.post("/api/shoots", json={**wanted, "as_new": True}).status_code == 201


def test_a_folder_with_other_pictures_under_the_same_names_is_not_taken_for_it(
    client: TestClient, disk: Path, shoot: int, tmp_path: Path
) -> None:
    other = tmp_path / "other"
    shutil.copytree(disk / "Fair", other)
    for path in other.iterdir():
        data = bytearray(path.read_bytes())
        data[-20] ^= 1
        path.write_bytes(data)
    disk.rename(disk.parent / "two")
    assert client.post("/api/shoots", json={"folders": [str(other)]}).status_code == 201


def test_a_place_without_its_frames_or_of_another_shoot_is_refused_in_words(
    client: TestClient, disk: Path, shoot: int, tmp_path: Path
) -> None:
    (folder,) = client.get(f"/api/shoots/{shoot}").json()["folders"]
    place = f"/api/shoots/{shoot}/folders/{folder['id']}/place"
    (tmp_path / "empty").mkdir()
    refused = client.post(place, json={"place": str(tmp_path / "empty")})
    assert refused.status_code == 400
    assert refused.json()["detail"].startswith("None of the frames of “Fair” lies in")
    copy = tmp_path / "copy"
    shutil.copytree(disk / "Fair", copy)
    client.post("/api/shoots", json={"folders": [str(copy)], "name": "Copy"})
    refused = client.post(place, json={"place": str(copy)})
    assert refused.status_code == 400
    assert "is open as “Copy” already" in refused.json()["detail"]
    assert client.post(place, json={"place": "nowhere"}).status_code == 400
    assert client.get(f"/api/shoots/{shoot}").json()["folders"] == [folder]
