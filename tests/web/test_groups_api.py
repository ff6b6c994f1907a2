"""Groups over the API: the slider, changes by hand with undo, and frames that are alike."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.conftest import until
from tests.pictures import NOON, write_jpeg, write_natural, write_shoot
from tests.ready import ready
from winnow.work.runtime import Runtime


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    write_shoot(tmp_path / "shoot", [1, 1, 2, 2, 1])
    return ready(runtime, tmp_path / "shoot", "shoot")


def opened(client: TestClient, folder: Path, count: int) -> int:
    shoot: int = client.post("/api/shoots", json={"folders": [str(folder)]}).json()["id"]
    until(lambda: client.get(f"/api/shoots/{shoot}").json()["tally"]["done"] == count)
    until(lambda: not client.get(f"/api/shoots/{shoot}").json()["status"]["running"])
    return shoot


def groups(client: TestClient, shoot: int) -> list[list[int]]:
    """The groups by the numbers in the names of their frames, as they are listed."""
    listed = client.get(f"/api/shoots/{shoot}/frames").json()
    found: dict[int, list[int]] = {}
    for name, group in zip(listed["name"], listed["group"], strict=True):
        found.setdefault(group, []).append(int(name[-4:]))
    assert list(found) == sorted(found)
    return list(found.values())


def test_the_slider_previews_and_stores(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}/groups"
    assert groups(client, shoot) == [[1, 2], [3, 4], [5]]
    assert client.get(url).json()["number"] == 3
    loose = client.post(f"{url}/preview", json={"looseness": 1}).json()
    assert (loose["number"], loose["group"]) == (1, [0] * 5)
    assert groups(client, shoot) == [[1, 2], [3, 4], [5]]
    assert client.put(url, json={"looseness": 1}).json()["number"] == 1
    assert groups(client, shoot) == [[1, 2, 3, 4, 5]]
    assert client.get(url).json()["looseness"] == 1
    assert client.put(url, json={"looseness": 1.5}).status_code == 400


def test_groups_by_hand_are_steps_of_the_history(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}"
    a, b, c, d, e = client.get(f"{url}/frames").json()["id"]

    def edit(do: str, *frames: int, to: int | None = None) -> str:
        answer = client.post(f"{url}/groups/edit", json={"do": do, "frames": frames, "to": to})
        assert answer.status_code == 200, answer.text
        return str(answer.json()["undo"])

    assert edit("split", b) == "split the group at QH_0002"
    assert groups(client, shoot) == [[1], [2], [3, 4], [5]]
    assert edit("join", c) == "joined the group of QH_0003 with the next"
    assert edit("move", a, to=c) == "moved QH_0001 to another group"
    # A frame that was moved is listed in its group.
    assert groups(client, shoot) == [[1, 3, 4, 5], [2]]
    assert client.post(f"{url}/find", json={}).json()["ids"] == [a, c, d, e, b]
    edit("alone", d, e)
    assert groups(client, shoot) == [[1, 3], [2], [4, 5]]
    client.put(f"{url}/groups", json={"looseness": 0.4})
    assert groups(client, shoot) == [[1, 3], [2], [4, 5]]
    for _ in range(4):
        client.post(f"{url}/undo", json={})
    assert groups(client, shoot) == [[1, 2], [3, 4], [5]]
    client.post(f"{url}/redo", json={})
    assert groups(client, shoot) == [[1], [2], [3, 4], [5]]
    steps = client.get(f"{url}/history/all").json()
    client.post(f"{url}/history", json={"change": steps[0]["id"]})
    assert groups(client, shoot) == [[1, 3], [2], [4, 5]]
    client.post(f"{url}/history", json={"change": None})
    assert groups(client, shoot) == [[1, 2], [3, 4], [5]]


def test_edits_that_say_nothing_or_something_impossible(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}/groups/edit"
    first, *_, last = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    for do, frame in (("split", first), ("join", last)):
        assert client.post(url, json={"do": do, "frames": [frame]}).json()["undo"] is None
    assert client.post(url, json={"do": "split", "frames": [999]}).status_code == 404
    refused = client.post(url, json={"do": "move", "frames": [first]})
    assert refused.json()["detail"] == "Say to which frame’s group."


def test_groups_can_be_filtered_by_size_and_by_their_picks(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}"
    a, b, c, d, e = client.get(f"{url}/frames").json()["id"]
    client.post(f"{url}/marks", json={"frames": [d], "decision": "pick"})
    found = client.post(f"{url}/find", json={"written": "unpicked"}).json()
    assert (found["ids"], found["words"]) == ([a, b, e], "In a group without a pick")
    found = client.post(f"{url}/find", json={"written": "group>=2 not unpicked"}).json()
    assert found["ids"] == [c, d]


def test_frames_like_one_come_nearest_first(client: TestClient, shoot: int) -> None:
    a, b, c, d, e = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    alike = client.get(f"/api/shoots/{shoot}/alike/{e}").json()["ids"]
    assert (alike[0], set(alike[1:3]), set(alike[3:])) == (e, {a, b}, {c, d})
    assert client.get(f"/api/shoots/{shoot}/alike/999").status_code == 404


def test_clocks_apart_are_noticed(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "two cameras"
    for n in range(1, 6):
        write_jpeg(folder / f"A_{n}.jpg", n, NOON + 60 * n, camera="Quillon H2")
        write_jpeg(folder / f"B_{n}.jpg", n, NOON + 60 * n - 7200, camera="Tessel Nine")
    write_jpeg(folder / "A_9.jpg", 9, NOON + 900, camera="Quillon H2")
    shoot = opened(client, folder, 11)
    (found,) = client.get(f"/api/shoots/{shoot}/clocks/suggested").json()
    assert (found["camera"], found["seconds"], found["agree"]) == ("Tessel Nine", 7200, 5)


def test_compared_frames_show_the_same_part_with_their_ranks(
    client: TestClient, tmp_path: Path
) -> None:
    folder = tmp_path / "beside"
    write_natural(folder, [(0, 0, 2), (60, 20, 0), (-40, 30, 4)])
    shoot = opened(client, folder, 3)
    a, b, c = client.get(f"/api/shoots/{shoot}/frames").json()["id"]
    url = f"/api/shoots/{shoot}/beside"
    body = {"frame": a, "x": 0.4, "y": 0.3, "frames": [a, b, c]}
    first, second, third = client.post(url, json=body).json()
    assert (first["x"], first["y"], first["sure"]) == (0.4, 0.3, True)
    assert abs(second["x"] * 1200 - (480 - 60)) < 1.5
    assert abs(second["y"] * 800 - (240 - 20)) < 1.5
    assert abs(third["x"] * 1200 - (480 + 40)) < 3
    stand = [place["standing"] for place in (first, second, third)]
    assert [place["state"] for place in stand] == ["softer", "sharpest", "softer"]
    assert stand[1]["blur"] < stand[0]["blur"] < stand[2]["blur"]
    assert not any(place["judged"] for place in (first, second, third))
    exact = client.post(url, json=body | {"fine": True}).json()
    assert abs(exact[1]["x"] * 1200 - (480 - 60)) < 0.3
    assert abs(exact[1]["y"] * 800 - (240 - 20)) < 0.3
    # Without a point, the one that matters.
    assert client.post(url, json={"frame": a, "frames": [b]}).json()[0]["frame"] == a
    assert client.post(url, json={"frame": a, "frames": [999]}).status_code == 404


def test_frames_of_other_moments_are_looked_at_by_what_matters_in_them(
    client: TestClient, shoot: int
) -> None:
    columns = client.get(f"/api/shoots/{shoot}/frames").json()
    ids = columns["id"]
    assert len(set(columns["group"])) == 3
    url = f"/api/shoots/{shoot}/beside"
    found = client.post(url, json={"frame": ids[0], "frames": ids}).json()
    others = [n for n, group in enumerate(columns["group"]) if group != columns["group"][0]]
    for n in others:
        own = client.get(f"/api/frames/{ids[n]}/matters").json()
        place = found[n]
        assert (place["x"], place["y"]) == pytest.approx((own["x"], own["y"]))
        assert place["sure"]
        assert place["standing"]["blur"] == columns["blur"][n]
    # What is looked at by hand is looked for in all of them.
    aside = {"x": 0.9 if found[0]["x"] < 0.5 else 0.1, "y": 0.5}
    elsewhere = client.post(url, json={"frame": ids[0], "frames": ids, **aside}).json()
    assert not any(place["judged"] for place in elsewhere)


def test_frames_are_linked_as_parts_of_one_picture(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}"
    a, b, *_ = client.get(f"{url}/frames").json()["id"]
    answer = client.post(f"{url}/pairs", json={"frames": [b, a]})
    assert answer.json()["undo"] == "linked QH_0001 and QH_0002 as one picture"
    assert client.get(f"{url}/frames").json()["pairs"] == [[a, b]]
    assert client.post(f"{url}/find", json={"written": "linked"}).json()["ids"] == [a, b]
    picked = client.post(f"{url}/marks", json={"frames": [a], "decision": "reject"}).json()
    assert {mark["frame"]: mark["decision"] for mark in picked["marks"]} == {
        a: "reject",
        b: "reject",
    }
    said = client.post(f"{url}/texts", json={"frames": [a, b]}).json()
    assert said["texts"]["keywords"] == ["composite"]
    assert client.post(f"{url}/pairs/apart", json={"frame": b}).status_code == 200
    assert client.get(f"{url}/frames").json()["pairs"] == []
    assert client.post(f"{url}/pairs", json={"frames": [a, a]}).status_code == 400
    assert client.post(f"{url}/pairs", json={"frames": [a, 999]}).status_code == 404
