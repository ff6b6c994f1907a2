"""Cards, clocks and parts of frames through the API."""

import io
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.conftest import until
from tests.photos.test_decode import quadrants, saved
from tests.pictures import NOON, dng, write_jpeg


def make_card(root: Path, count: int = 3) -> Path:
    for n in range(1, count + 1):
        write_jpeg(root / "DCIM" / "100QUILL" / f"QH2_{n:04d}.JPG", n, NOON + n)
    return root


def wish(card: Path, tmp_path: Path, **other: str) -> dict[str, str]:
    return {
        "source": str(card), "target": str(tmp_path / "disk"), "template": "{date} {shoot}",
        "shoot": "Quay", **other,
    }  # fmt: skip


def test_a_card_from_plan_to_report(client: TestClient, tmp_path: Path) -> None:
    card = make_card(tmp_path / "card")
    planned = client.post("/api/bringings/plan", json=wish(card, tmp_path)).json()
    assert (planned["files"], planned["folders"]) == (3, ["2026-06-15 Quay"])
    assert planned["first"][0] == "2026-06-15 Quay/QH2_0001.JPG"
    begun = client.post("/api/bringings", json=wish(card, tmp_path))
    assert begun.status_code == 201
    until(lambda: client.get("/api/bringings").json()[0]["state"] == "done")
    (found,) = client.get("/api/bringings").json()
    assert found["safe"]
    assert "Safe to format" in found["report"]
    items = client.get(f"/api/bringings/{found['id']}/items").json()
    assert [item["state"] for item in items] == ["done"] * 3
    until(lambda: client.get(f"/api/shoots/{found['shoot_id']}").json()["tally"]["done"] == 3)
    # What was chosen is offered the next time.
    chosen = client.get("/api/cards").json()
    assert (chosen["target"], chosen["template"]) == (str(tmp_path / "disk"), "{date} {shoot}")
    assert "date" in chosen["fields"]
    for what in ("stop", "resume"):
        assert client.post(f"/api/bringings/{found['id']}/{what}").status_code == 200
    assert client.post("/api/bringings/99/stop").status_code == 404


def test_a_card_is_looked_at_and_only_a_part_comes_along(
    client: TestClient, tmp_path: Path
) -> None:
    card = make_card(tmp_path / "card")
    look = {"source": str(card), "target": str(tmp_path / "disk")}
    found = client.post("/api/cards/look", json=look).json()
    assert [frame["path"][-12:] for frame in found] == [
        "QH2_0001.JPG",
        "QH2_0002.JPG",
        "QH2_0003.JPG",
    ]
    assert {frame["day"] for frame in found} == {found[0]["taken_at"] // 86_400}
    at = {"source": str(card), "path": found[0]["path"]}
    small = client.get("/api/cards/picture", params=at)
    assert (small.status_code, small.headers["content-type"]) == (200, "image/jpeg")
    assert max(Image.open(io.BytesIO(small.content)).size) <= 240
    for path, status in (("../card/DCIM", 400), ("/etc/hosts", 400), ("DCIM/none.JPG", 404)):
        refused = client.get("/api/cards/picture", params={**at, "path": path})
        assert refused.status_code == status
    nowhere = {**look, "source": str(tmp_path)}
    assert client.post("/api/cards/look", json=nowhere).status_code == 400

    leave = [file for frame in found[1:] for file in frame["files"]]
    wanted = {**wish(card, tmp_path), "leave": leave}
    planned = client.post("/api/bringings/plan", json=wanted).json()
    assert (planned["files"], planned["left"]) == (1, 2)
    begun = client.post("/api/bringings", json=wanted).json()
    until(lambda: client.get("/api/bringings").json()[0]["state"] == "done")
    (ended,) = client.get("/api/bringings").json()
    assert not ended["safe"]
    assert "2 files were left out and are only on the card" in ended["report"]
    until(lambda: client.get(f"/api/shoots/{begun['shoot_id']}").json()["tally"]["done"] == 1)
    # The next look says what is there; leaving all out leaves nothing to do.
    assert [f["copied"] for f in client.post("/api/cards/look", json=look).json()] == [1, 0, 0]
    everything = [file for frame in found for file in frame["files"]]
    again = client.post("/api/bringings/plan", json={**wanted, "leave": everything}).json()
    assert (again["already_there"], again["left"]) == (1, 2)
    other = {**wanted, "leave": everything, "target": str(tmp_path / "other")}
    refused = client.post("/api/bringings", json=other)
    assert (refused.status_code, "left out" in refused.json()["detail"]) == (400, True)


@pytest.mark.parametrize(
    "changes", [{"source": "/nowhere"}, {"target": "a\0b"}, {"template": "{x}"}]
)
def test_refusals_are_in_words(client: TestClient, tmp_path: Path, changes: dict[str, str]) -> None:
    card = make_card(tmp_path / "card", 1)
    for path in ("/api/bringings/plan", "/api/bringings"):
        answer = client.post(path, json=wish(card, tmp_path, **changes))
        assert answer.status_code == 400
        assert len(answer.json()["detail"]) > 15
    assert not (tmp_path / "disk").exists()


def opened(client: TestClient, folder: Path, frames: int) -> int:
    shoot = client.post("/api/shoots", json={"folders": [str(folder)]}).json()["id"]
    until(lambda: client.get(f"/api/shoots/{shoot}").json()["tally"]["done"] == frames)
    return int(shoot)


def test_clocks_bring_cameras_in_one_order(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "two"
    for n in range(3):
        write_jpeg(folder / f"a{n}.jpg", n, NOON + 10 * n, camera="Quillon H2", serial="1")
        # Taken a second later each, by a clock that is 47 s ahead.
        write_jpeg(folder / f"b{n}.jpg", n, NOON + 10 * n + 48, camera="Tessel Nine", serial="2")
    shoot = opened(client, folder, 6)

    def names() -> list[str]:
        return list(client.get(f"/api/shoots/{shoot}/frames").json()["name"])

    assert names() == ["a0", "a1", "a2", "b0", "b1", "b2"]
    clocks = client.get(f"/api/shoots/{shoot}/clocks").json()
    assert [(c["camera"], c["frames"], c["offset_s"]) for c in clocks] == [
        ("Quillon H2", 3, 0), ("Tessel Nine", 3, 0),
    ]  # fmt: skip
    wanted = {"camera": "Tessel Nine", "serial": "2", "offset_s": -47}
    assert client.put(f"/api/shoots/{shoot}/clocks", json=wanted).json()[1]["offset_s"] == -47
    assert names() == ["a0", "b0", "a1", "b1", "a2", "b2"]
    listed = client.get(f"/api/shoots/{shoot}/frames").json()
    assert listed["shot_at"][1] == NOON + 1
    facts = client.get(f"/api/frames/{listed['id'][1]}").json()
    assert (facts["taken_at"], facts["clock_offset_s"]) == (NOON + 48, -47)
    # It stays when frames are added.
    write_jpeg(folder / "b3.jpg", 3, NOON + 12 + 47, camera="Tessel Nine", serial="2")
    client.post(f"/api/shoots/{shoot}/index")
    until(
        lambda: (
            len(names()) == 7 and client.get(f"/api/shoots/{shoot}").json()["tally"]["done"] == 7
        )
    )
    assert names() == ["a0", "b0", "a1", "b1", "b3", "a2", "b2"]
    unknown = {"camera": "Other", "offset_s": 1}
    assert client.put(f"/api/shoots/{shoot}/clocks", json=unknown).status_code == 404


def part(client: TestClient, frame: int, **where: int) -> np.ndarray:
    answer = client.get(f"/api/frames/{frame}/part", params=where)
    assert answer.status_code == 200, answer.text
    with Image.open(io.BytesIO(answer.content)) as image:
        return np.asarray(image.convert("RGB")).astype(int)


def test_parts_at_one_and_two_to_one(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "one"
    folder.mkdir()
    (folder / "a.png").write_bytes(saved(quadrants(900, 600), "PNG"))
    shoot = opened(client, folder, 1)
    (frame,) = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    once = part(client, frame, left=430, top=280, width=40, height=40)
    assert once.shape == (40, 40, 3)
    for y, x, colour in ((5, 5, (255, 0, 0)), (5, 35, (0, 255, 0)), (35, 5, (0, 0, 255))):
        assert np.abs(once[y, x] - colour).max() < 30
    twice = part(client, frame, left=430, top=280, width=40, height=40, scale=2)
    assert twice.shape == (80, 80, 3)
    assert np.abs(twice[10, 10] - (255, 0, 0)).max() < 30
    # What lies outside is left off; nothing at all is said.
    assert part(client, frame, left=880, top=0, width=100, height=10).shape == (10, 20, 3)
    beyond = client.get(f"/api/frames/{frame}/part?left=2000&top=0&width=10&height=10")
    assert beyond.status_code == 404
    wrong = client.get(f"/api/frames/{frame}/part?left=0&top=0&width=10&height=10&scale=3")
    assert wrong.status_code == 400


def test_a_raw_frame_with_a_small_preview_is_developed_for_100_percent(
    client: TestClient, tmp_path: Path
) -> None:
    folder = tmp_path / "raw"
    folder.mkdir()
    preview = saved(quadrants(1200, 900), "JPEG", quality=95, subsampling=2)
    (folder / "a.dng").write_bytes(dng(preview, 2600, 1950))
    shoot = opened(client, folder, 1)
    (frame,) = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    facts = client.get(f"/api/frames/{frame}").json()
    assert (facts["shown_from"], facts["close_from"]) == ("embedded", "developed")
    assert (facts["width"], facts["height"]) == (2600, 1950)
    for _ in range(2):  # made, then from the cache
        full = client.get(f"/api/frames/{frame}/full")
        with Image.open(io.BytesIO(full.content)) as image:
            assert image.size == (1300, 975)
    # In the frame's own px, whatever was developed.
    assert part(client, frame, left=1000, top=700, width=300, height=200).shape == (200, 300, 3)


def test_facts_of_a_file(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "facts"
    write_jpeg(folder / "a.jpg", 1, exposure_bias_ev=-0.67, serial="0417003", lens_serial="L7")
    shoot = opened(client, folder, 1)
    (frame,) = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    facts = client.get(f"/api/frames/{frame}").json()
    stated = {fact["fact"]: fact["words"] for fact in facts["stated"]}
    assert stated["bias"] == "−0.67 EV"
    assert (stated["serial"], stated["lensserial"]) == ("0417003", "L7")
    assert facts["content_hash"]
    assert len(facts["clipped"]["high"]) == 4


def test_where_a_frame_is_sharp(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "sharp"
    folder.mkdir()
    (folder / "a.jpg").write_bytes(saved(quadrants(640, 448), "JPEG", quality=95))
    shoot = opened(client, folder, 1)
    (frame,) = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    found = client.get(f"/api/frames/{frame}/focus").json()
    assert (found["rows"], found["columns"], found["tile"]) == (7, 10, 64)
    assert len(found["blur"]) == 70
    assert found["blur"][0] is None
    assert any(blur is not None and blur < 1 for blur in found["blur"])
    assert client.get("/api/frames/99/focus").status_code == 404
