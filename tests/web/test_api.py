"""The API over real files."""

import io
import json
from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.conftest import until
from tests.pictures import write_jpeg
from tests.web.conftest import ids
from winnow.web.openapi import description
from winnow.work.runtime import Runtime


def test_the_description_in_the_repository_is_current() -> None:
    kept = Path(__file__).parents[2] / "frontend" / "openapi.json"
    assert json.loads(kept.read_text("utf-8")) == json.loads(description()), "run `make openapi`"


def test_opening_the_same_folders_is_the_same_shoot(
    client: TestClient, shoot: int, folder: Path
) -> None:
    again = client.post("/api/shoots", json={"folders": [f"{folder}/"]})
    assert again.json()["id"] == shoot
    assert again.json()["name"] == "shoot"


@pytest.mark.parametrize(
    ("folders", "words"),
    [
        (["/no/such/folder"], "no folder"),
        (["relative"], "whole path"),
        ([""], "at least 1 character"),
        (["a\0b"], "null"),
        ([], "at least 1 item"),
        (["/" + "x" * 3000], "can’t be opened"),
    ],
)
def test_folders_that_cannot_be_opened(client: TestClient, folders: list[str], words: str) -> None:
    answer = client.post("/api/shoots", json={"folders": folders})
    assert answer.status_code == 400
    assert words in answer.json()["detail"]


def test_a_folder_within_another_is_left_out(
    client: TestClient, tmp_path: Path, folder: Path
) -> None:
    answer = client.post("/api/shoots", json={"folders": [str(tmp_path), str(folder)]})
    assert "lies within" in answer.json()["detail"]


def test_marks_undo_and_redo(client: TestClient, shoot: int) -> None:
    first, second, *_ = ids(client, shoot)
    url = f"/api/shoots/{shoot}"
    made = client.post(f"{url}/marks", json={"frames": [first, second], "decision": "pick"}).json()
    assert made["sentence"] == "picked 2 frames"
    assert made["marks"][0] == {"frame": first, "decision": "pick", "stars": 0, "label": None}
    same = client.post(f"{url}/marks", json={"frames": [first], "decision": "pick"}).json()
    assert same["sentence"] is None
    assert same["undo"] == "picked 2 frames"
    client.post(f"{url}/marks", json={"frames": [first], "stars": 3, "label": "R"})
    undone = client.post(f"{url}/undo", json={}).json()
    assert undone["marks"] == [{"frame": first, "decision": "pick", "stars": 0, "label": None}]
    assert client.get(f"{url}/history").json() == {
        "undo": "picked 2 frames",
        "redo": undone["redo"],
    }
    redone = client.post(f"{url}/redo", json={}).json()
    assert redone["marks"][0]["stars"] == 3


@pytest.mark.parametrize(
    ("edit", "status"),
    [
        ({}, 400),
        ({"decision": "maybe"}, 400),
        ({"stars": 6}, 400),
        ({"stars": True}, 400),
        ({"stars": "3"}, 400),
        ({"label": "Z"}, 400),
        ({"stars": 1, "frames": [999]}, 404),
        ({"stars": 1, "frames": []}, 400),
        ({"stars": 1, "surprise": 1}, 400),
    ],
)
def test_marks_that_cannot_be(
    client: TestClient, shoot: int, edit: dict[str, object], status: int
) -> None:
    body = {"frames": ids(client, shoot)[:1], **edit}
    answer = client.post(f"/api/shoots/{shoot}/marks", json=body)
    assert answer.status_code == status
    assert answer.json()["detail"].endswith(".")


def test_find_counts_and_is_remembered(client: TestClient, shoot: int) -> None:
    first, second, third, _ = ids(client, shoot)
    url = f"/api/shoots/{shoot}"
    client.post(f"{url}/marks", json={"frames": [first, second], "decision": "pick"})
    client.post(f"{url}/marks", json={"frames": [second, third], "stars": 2})
    found = client.post(f"{url}/find", json={"decisions": ["pick"], "stars": 1}).json()
    assert found["ids"] == [second]
    assert found["words"] == "Picks, 1 star or more"
    assert found["decisions"] == {"pick": 1, "undecided": 1, "reject": 0}
    assert found["stars"] == [2, 1, 1, 0, 0, 0]
    assert client.get(url).json()["filter"]["stars"] == 1


def test_after_a_mark_only_what_is_different_is_said(client: TestClient, shoot: int) -> None:
    first, second, *others = ids(client, shoot)
    url = f"/api/shoots/{shoot}"
    undecided = {"decisions": ["undecided"]}
    every = client.post(f"{url}/find", json={}).json()
    found = client.post(f"{url}/find", json=undecided).json()
    assert found["ids"] == every["ids"] == [first, second, *others]
    client.post(f"{url}/marks", json={"frames": [second], "decision": "pick"})
    again = client.post(f"{url}/find", json={"since": every["answer"]}).json()
    assert (again["ids"], again["came"], again["gone"]) == (None, [], [])
    assert again["decisions"]["pick"] == 1
    less = client.post(f"{url}/find", json={**undecided, "since": found["answer"]}).json()
    assert (less["ids"], less["came"], less["gone"]) == (None, [], [second])
    client.post(f"{url}/marks", json={"frames": [second], "decision": "undecided"})
    more = client.post(f"{url}/find", json={**undecided, "since": less["answer"]}).json()
    assert (more["ids"], more["came"], more["gone"]) == (None, [second], [])
    # Another Winnow, or one that was started anew, knows nothing of it.
    whole = client.post(f"{url}/find", json={**undecided, "since": "of another one"}).json()
    assert whole["ids"] == found["ids"]


def test_pictures_are_upright_and_kept_by_content(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "one"
    write_jpeg(folder / "a.jpg", 1, orientation=6)
    shoot = client.post("/api/shoots", json={"folders": [str(folder)]}).json()["id"]
    until(lambda: client.get(f"/api/shoots/{shoot}").json()["tally"]["done"] == 1)
    (frame,) = ids(client, shoot)
    key = client.get(f"/api/shoots/{shoot}/frames").json()["key"][0]
    for kind in ("thumbnail", "preview"):
        answer = client.get(f"/api/frames/{frame}/{kind}?key={key}")
        with Image.open(io.BytesIO(answer.content)) as image:
            assert image.size == (320, 480)
        assert "immutable" in answer.headers["cache-control"]
    same = client.get(
        f"/api/frames/{frame}/preview?key={key}", headers={"if-none-match": f'"{key}"'}
    )
    assert same.status_code == 304
    full = client.get(f"/api/frames/{frame}/full")
    assert full.content == (folder / "a.jpg").read_bytes()
    for kind in ("thumbnail", "preview", "full"):
        assert client.get(f"/api/frames/999/{kind}").status_code == 404


def test_a_picture_that_is_not_made_yet_is_made_at_once(
    client: TestClient, runtime: Runtime, shoot: int
) -> None:
    frame = ids(client, shoot)[0]
    key = client.get(f"/api/shoots/{shoot}/frames").json()["key"][0]
    runtime.cache.path(key, "preview").unlink()
    assert client.get(f"/api/frames/{frame}/preview").status_code == 200


def test_facts_of_a_frame(client: TestClient, shoot: int) -> None:
    facts = client.get(f"/api/frames/{ids(client, shoot)[0]}").json()
    assert (facts["name"], facts["files"]) == ("QH_0001", ["QH_0001.jpg"])
    assert {
        "fact": "camera",
        "title": "Camera",
        "value": "Quillon H2",
        "words": "Quillon H2",
        "alone": "",
    } in facts["stated"]
    assert client.get("/api/frames/999").status_code == 404
    assert client.get("/api/frames/0").status_code == 400


def test_windows_are_told_of_each_others_marks(
    client: TestClient, runtime: Runtime, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[tuple[object, ...]] = []
    monkeypatch.setattr(runtime.events, "tell", lambda *a, **k: told.append((*a, k)))
    frame = ids(client, shoot)[0]
    client.post(
        f"/api/shoots/{shoot}/marks", json={"frames": [frame], "stars": 2, "window": "left"}
    )
    ((to, name, data),) = told
    assert (to, name) == (shoot, "marks")
    assert isinstance(data, dict)
    assert data["window"] == "left"
    json.dumps(data)


def test_delivery_through_the_api(client: TestClient, shoot: int, tmp_path: Path) -> None:
    url = f"/api/shoots/{shoot}"
    client.post(f"{url}/marks", json={"frames": ids(client, shoot)[:2], "decision": "pick"})
    body = {"target": str(tmp_path / "out")}
    plan = client.post(f"{url}/deliveries/plan", json=body).json()
    assert (plan["frames"], plan["files"], plan["makes_folder"]) == (2, 4, True)
    delivery = client.post(f"{url}/deliveries", json=body).json()["id"]
    until(lambda: client.get(f"{url}/deliveries").json()[0]["state"] == "done")
    items = client.get(f"/api/deliveries/{delivery}/items").json()
    assert {item["state"] for item in items} == {"done"}
    for target, words in (("relative", "whole path"), ("a\0b", "null"), ("", "whole path")):
        answer = client.post(f"{url}/deliveries/plan", json={"target": target})
        assert answer.status_code == 400
        assert words in answer.json()["detail"]
    nothing = {"target": str(tmp_path / "out2"), "filter": {"labels": ["R"]}}
    assert client.post(f"{url}/deliveries", json=nothing).status_code == 400


def test_the_cache_can_be_limited_and_emptied(client: TestClient, shoot: int) -> None:
    before = client.get("/api/cache").json()
    assert before["bytes"] > 0
    assert before["most"] == 20_000_000_000
    settings = client.get("/api/settings").json()
    assert client.put("/api/settings", json=settings | {"cache_gb": 0}).status_code == 400
    client.put("/api/settings", json=settings | {"cache_gb": 5})
    assert client.get("/api/cache").json()["most"] == 5_000_000_000
    assert client.delete("/api/cache").json()["bytes"] == 0
    # What was removed comes again when somebody looks at it.
    frame = client.get(f"/api/shoots/{shoot}/frames").json()["id"][0]
    assert client.get(f"/api/frames/{frame}/preview").status_code == 200
    assert client.get("/api/cache").json()["bytes"] > 0


def test_a_keep_target_can_be_set_and_taken_away(client: TestClient, shoot: int) -> None:
    name = client.get(f"/api/shoots/{shoot}").json()["name"]
    set_to = client.patch(f"/api/shoots/{shoot}", json={"keep_target": 60}).json()
    assert (set_to["keep_target"], set_to["name"]) == (60, name)
    assert client.patch(f"/api/shoots/{shoot}", json={"name": "New"}).json()["keep_target"] == 60
    assert (
        client.patch(f"/api/shoots/{shoot}", json={"keep_target": 0}).json()["keep_target"] is None
    )
    assert client.patch(f"/api/shoots/{shoot}", json={"keep_target": -1}).status_code == 400


def test_settings_and_labels(client: TestClient) -> None:
    settings = client.get("/api/settings").json()
    settings["row_height"] = 300
    settings["after"]["stars"] = "next_undecided"
    assert client.put("/api/settings", json=settings).status_code == 200
    assert client.get("/api/settings").json() == settings
    assert client.put("/api/settings", json={**settings, "row_height": 9}).status_code == 400
    labels = client.get("/api/labels").json()
    assert len({label["shape"] for label in labels}) == len(labels) == 5


def test_completion_renaming_and_forgetting(client: TestClient, shoot: int, folder: Path) -> None:
    found = client.get("/api/folders", params={"path": str(folder)[:-1]}).json()
    assert str(folder) in found["folders"]
    url = f"/api/shoots/{shoot}"
    assert client.patch(url, json={"name": " Quay "}).json()["name"] == "Quay"
    assert client.patch(url, json={"name": "  "}).status_code == 400
    assert client.delete(url).status_code == 204
    assert client.get(url).status_code == 404
    assert len(list(folder.iterdir())) == 4


def test_paths_and_files_leave_as_they_are(client: TestClient, shoot: int, folder: Path) -> None:
    columns = client.get(f"/api/shoots/{shoot}/frames").json()
    answer = client.post(f"/api/shoots/{shoot}/paths", json={"frames": columns["id"][:2]}).json()
    assert [Path(path).parent for path in answer["paths"]] == [folder, folder]
    first = Path(answer["paths"][0])
    found = client.get(f"/api/frames/{columns['id'][0]}/original")
    assert found.content == first.read_bytes()
    assert f"filename*=UTF-8''{first.name}" in found.headers["content-disposition"]
    assert client.get("/api/frames/999/original").status_code == 404
    assert client.post(f"/api/shoots/{shoot}/paths", json={"frames": [999]}).status_code == 404
    # A link in its place leads nowhere.
    first.unlink()
    first.symlink_to("/etc/hostname")
    assert client.get(f"/api/frames/{columns['id'][0]}/original").status_code == 404


def test_frames_are_turned_on_screen_only(client: TestClient, shoot: int, folder: Path) -> None:
    before = {path.name: path.read_bytes() for path in folder.iterdir()}
    first, second, *_ = ids(client, shoot)

    def turn(by: int) -> dict[str, int]:
        asked = {"frames": [first, second], "by": by}
        turned: dict[str, int] = client.post(f"/api/shoots/{shoot}/turn", json=asked).json()[
            "turned"
        ]
        return turned

    assert turn(1) == {str(first): 1, str(second): 1}
    assert turn(3) == {str(first): 0, str(second): 0}
    assert turn(3) == {str(first): 3, str(second): 3}
    assert client.get(f"/api/shoots/{shoot}/frames").json()["turned"] == [3, 3, 0, 0]
    assert (
        client.post(f"/api/shoots/{shoot}/turn", json={"frames": [first], "by": 4}).status_code
        == 400
    )
    assert {path.name: path.read_bytes() for path in folder.iterdir()} == before


def test_every_frame_has_its_blur(client: TestClient, shoot: int) -> None:
    blur = client.get(f"/api/shoots/{shoot}/frames").json()["blur"]
    assert all(0.2 <= figure <= 25 for figure in blur)


def test_history_and_pace(client: TestClient, shoot: int) -> None:
    first, second, *_ = ids(client, shoot)
    for frame in (first, second):
        client.post(f"/api/shoots/{shoot}/marks", json={"frames": [frame], "decision": "pick"})
    steps = client.get(f"/api/shoots/{shoot}/history/all").json()
    assert [step["sentence"] for step in steps] == ["picked QH_0002", "picked QH_0001"]
    back = client.post(f"/api/shoots/{shoot}/history", json={"change": steps[1]["id"]}).json()
    assert back["sentence"] == "1 step undone"
    assert [(m["frame"], m["decision"]) for m in back["marks"]] == [(second, "undecided")]
    assert (back["undo"], back["redo"]) == ("picked QH_0001", "picked QH_0002")
    gone = client.post(f"/api/shoots/{shoot}/history", json={"change": 999})
    assert (gone.status_code, gone.json()["detail"]) == (
        404, "This step is no longer in the history.",
    )  # fmt: skip
    assert client.get(f"/api/shoots/{shoot}/pace").json()["a_minute"] is None


def test_the_way_of_the_first_pass_is_kept(client: TestClient, shoot: int) -> None:
    assert client.get(f"/api/shoots/{shoot}").json()["way"] == ""
    changed = client.patch(f"/api/shoots/{shoot}", json={"way": "weed_out"}).json()
    assert changed["way"] == "weed_out"
    assert client.patch(f"/api/shoots/{shoot}", json={"way": "other"}).status_code == 400


def test_label_sets_are_used_saved_and_exchanged(client: TestClient) -> None:
    own = client.get("/api/labels").json()
    own[0] |= {"letter": "X", "name": "Extra", "written_as": "Extra"}
    assert client.put("/api/labels", json=own).json() == own
    alike = [own[0], own[1] | {"shape": own[0]["shape"]}]
    refused = client.put("/api/labels", json=alike)
    assert (refused.status_code, "same shape" in refused.json()["detail"]) == (400, True)
    client.put("/api/label-sets", json={"name": "Paper", "labels": own})
    text = client.post("/api/label-sets/to-file", json={"name": "Paper", "labels": own}).json()
    back = client.post("/api/label-sets/from-file", json=text).json()
    assert client.get("/api/label-sets").json() == [back] == [{"name": "Paper", "labels": own}]
    assert client.delete("/api/label-sets", params={"name": "Paper"}).json() == []
    bad = client.post("/api/label-sets/from-file", json={"text": "{}"})
    assert bad.json()["detail"] == "This file holds no label set."


def test_key_sets_and_filters_are_saved(client: TestClient) -> None:
    keys = {"name": "Left hand", "keys": {"pick": ["X", "Shift+X"]}}
    assert client.put("/api/key-sets", json=keys).json() == [keys]
    assert client.delete("/api/key-sets", params={"name": "Left hand"}).json() == []
    wanted = {
        "decisions": ["pick"], "stars_rule": "at_least", "stars": 2, "labels": [],
        "written": "iso>800",
    }  # fmt: skip
    saved = {"name": "Good ones", "filter": wanted}
    assert client.put("/api/filters", json=saved).json() == [saved]
    assert client.get("/api/filters").json() == [saved]
    assert client.delete("/api/filters", params={"name": "Good ones"}).json() == []


def test_unknown_addresses(client: TestClient) -> None:
    assert client.get("/api/nothing").status_code == 404
    assert client.get("/assets/nothing.js").status_code == 404
    assert client.delete("/api/shoots").status_code == 405
    assert client.get("/shoots/1/frame").status_code == 200


def test_a_worker_that_ends_over_a_wanted_picture_is_an_answer_in_words(
    client: TestClient, runtime: Runtime, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> Future[object]:
        # Done before anybody waits for it, as a pool gives that broke just now.
        future: Future[object] = Future()
        future.set_exception(BrokenProcessPool())
        return future

    monkeypatch.setattr(runtime.workers, "submit", broken)
    frame = ids(client, shoot)[0]
    key = client.get(f"/api/shoots/{shoot}/frames").json()["key"][0]
    runtime.cache.path(key, "preview").unlink()
    for kind in ("preview", "full"):
        answer = client.get(f"/api/frames/{frame}/{kind}")
        assert answer.status_code == 503
        assert "stopped the decoder" in answer.json()["detail"]


def test_a_second_place_for_backups_is_looked_at_first(client: TestClient, tmp_path: Path) -> None:
    settings = client.get("/api/settings").json()
    assert settings["backup_place"] == ""
    for wrong, words in (("other", "whole path"), (str(tmp_path / "none"), "There is no folder")):
        answer = client.put("/api/settings", json={**settings, "backup_place": wrong})
        assert answer.status_code == 400
        assert words in answer.json()["detail"]
    assert client.get("/api/settings").json()["backup_place"] == ""
    good = {**settings, "backup_place": str(tmp_path)}
    assert client.put("/api/settings", json=good).json() == good
