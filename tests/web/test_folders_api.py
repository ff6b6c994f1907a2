"""Choosing a folder: what lies where, paths as they were pasted, and what is more than a shoot."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.pictures import write_shoot


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("HOME", str(tmp_path))
    monkeypatch.delenv("XDG_CONFIG_HOME", raising=False)
    write_shoot(tmp_path / "Pictures" / "the fair", [1, 2])
    write_shoot(tmp_path / "Pictures" / "the quay", [3])
    return tmp_path


def test_folders_are_listed_with_their_shoots(client: TestClient, home: Path) -> None:
    pictures = home / "Pictures"
    opened = client.post("/api/shoots", json={"folders": [f"'{pictures}/the fair'"]})
    assert (opened.status_code, opened.json()["name"]) == (201, "the fair")
    listed = client.get("/api/folders/within", params={"path": "~/Pictures"}).json()
    assert (listed["path"], listed["parent"]) == (str(pictures), str(home))
    assert [(each["name"], each["pictures"], each["shoot"]) for each in listed["folders"]] == [
        ("the fair", 2, "the fair"),
        ("the quay", 1, None),
    ]
    # What is not there, or half typed, begins at the nearest folder that is.
    near = client.get("/api/folders/within", params={"path": f"{pictures}/the f"}).json()
    assert near["path"] == str(pictures)
    assert client.get("/api/folders/within").json()["path"] == str(home)
    assert client.get("/api/folders/within", params={"path": "/\0"}).status_code == 400
    places = client.get("/api/folders/places").json()
    assert (places["home"], places["pictures"]) == (str(home), str(pictures))
    assert places["recent"] == [str(pictures)]


def test_completions_of_a_pasted_path(client: TestClient, home: Path) -> None:
    def folders(typed: str) -> list[str]:
        found: list[str] = client.get("/api/folders", params={"path": typed}).json()["folders"]
        return found

    pictures = str(home / "Pictures")
    assert folders("~/Pict") == [pictures]
    assert folders(f"file://{pictures}/the%20f") == [f"{pictures}/the fair"]
    assert folders(f'"{pictures}/"') == [f"{pictures}/the fair", f"{pictures}/the quay"]
    assert pictures in folders("")


def test_everything_of_a_person_is_asked_about(client: TestClient, home: Path) -> None:
    asked = client.post("/api/shoots", json={"folders": ["~/"]})
    assert asked.status_code == 409
    assert (asked.json()["wide"], asked.json()["moved"]) == (str(home), None)
    assert "holds more than a shoot" in asked.json()["detail"]
    assert client.get("/api/shoots").json() == []
    whole = client.post("/api/shoots", json={"folders": ["~/"], "whole": True})
    assert whole.status_code == 201
    # Once it is open, opening it again asks nothing.
    assert client.post("/api/shoots", json={"folders": [f"{home}/"]}).status_code == 201


def test_a_dropped_folder_is_found(client: TestClient, home: Path) -> None:
    fair = home / "Pictures" / "the fair"
    files = {path.name: path.stat().st_size for path in fair.iterdir()}
    found = client.post("/api/folders/find", json={"name": "the fair", "files": files})
    assert found.json() == {"folders": [str(fair)]}
    loose = client.post("/api/folders/find", json={"files": files})
    assert loose.json() == {"folders": [str(fair)]}
    assert client.post("/api/folders/find", json={"files": {}}).status_code == 400


def test_shoots_go_into_the_archive_and_have_days(client: TestClient, home: Path) -> None:
    shoot = client.post("/api/shoots", json={"folders": ["~/Pictures/the fair"]}).json()
    assert not shoot["archived"]
    url = f"/api/shoots/{shoot['id']}"
    assert client.patch(url, json={"archived": True}).json()["archived"]
    assert client.get("/api/shoots").json()[0]["archived"]
    assert not client.patch(url, json={"archived": False}).json()["archived"]
