"""Who is in it, as the page asks for it."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.conftest import indexed, until
from tests.pictures import write_natural
from winnow.work.runtime import Runtime


@pytest.fixture
def url(runtime: Runtime, tmp_path: Path) -> str:
    write_natural(tmp_path / "shoot", [(0, 0, 0), (30, 10, 0), (-20, 15, 0)])
    return f"/api/shoots/{indexed(runtime, tmp_path / 'shoot')}"


def told(client: TestClient, url: str) -> dict[str, Any]:
    until(lambda: not client.get(f"{url}/people").json()["waits"])
    answer: dict[str, Any] = client.get(f"{url}/people").json()
    return answer


def test_off_on_and_forgotten(client: TestClient, url: str) -> None:
    assert client.get(f"{url}/people").json()["on"] is False
    assert client.put(f"{url}/people").json()["on"] is True
    (person,) = told(client, url)["people"]
    assert (person["number"], len(person["faces"]), person["picks"]) == (1, 3, [])
    found = client.post(f"{url}/find", json={"written": "person 1"}).json()
    assert len(found["ids"]) == 3
    assert found["words"] == "Person 1"
    gone = client.delete(f"{url}/people").json()
    assert (gone["on"], gone["people"]) == (False, [])
    assert client.post(f"{url}/find", json={"written": "person 1"}).json()["ids"] == []


def test_a_face_is_a_small_picture(client: TestClient, url: str) -> None:
    client.put(f"{url}/people")
    face = told(client, url)["people"][0]["faces"][0]
    edges = dict(zip(("left", "top", "right", "bottom"), face["box"], strict=True))
    answer = client.get(f"{url}/people/face", params={"frame": face["frame"], **edges})
    with Image.open(io.BytesIO(answer.content)) as picture:
        assert picture.size == (160, 160)
    nowhere = client.get(f"{url}/people/face", params={"frame": 999, **edges})
    assert nowhere.status_code == 404


def test_what_is_said_can_be_taken_back(client: TestClient, url: str) -> None:
    client.put(f"{url}/people")
    face = told(client, url)["people"][0]["faces"][0]
    left, top, right, bottom = face["box"]
    place = {"frame": face["frame"], "x": (left + right) / 2, "y": (top + bottom) / 2}
    assert client.post(f"{url}/people/out", json=place).json()["said"] is True
    after = told(client, url)
    assert len(after["people"][0]["faces"]) == 2
    assert [seen["frame"] for seen in after["unsure"]] == [face["frame"]]
    assert client.post(f"{url}/people/undo").json()["said"] is False
    assert len(told(client, url)["people"][0]["faces"]) == 3
    assert client.post(f"{url}/people/join", json={"one": 1, "other": 7}).status_code == 404
    assert client.post(f"{url}/people/out", json={**place, "frame": 999}).status_code == 404
