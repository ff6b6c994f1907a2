"""Moving out, renaming, programs, proofs and deleting through the API."""

import os
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from send2trash import plat_other

from tests.conftest import until
from tests.web.test_files_api import folder, ids, url  # noqa: F401 (fixtures)
from winnow.demo import stand_ins


def delivered(client: TestClient, url: str, **wish: Any) -> dict[str, Any]:
    made = client.post(f"{url}/deliveries", json={"frames": ids(client, url), **wish})
    assert made.status_code == 201, made.text
    return ended(client, url)


def ended(client: TestClient, url: str) -> dict[str, Any]:
    def state() -> dict[str, Any]:
        found: dict[str, Any] = client.get(f"{url}/deliveries").json()[0]
        return found

    until(lambda: state()["state"] not in ("planned", "running", "returning"))
    return state()


def test_frames_move_out_and_are_taken_back(
    client: TestClient, url: str, folder: Path, tmp_path: Path
) -> None:
    wish = {"target": str(tmp_path / "out"), "how": "move", "template": "{seq:2}"}
    done = delivered(client, url, **wish)
    assert (done["state"], done["how"], done["done"], done["speed"]) == ("done", "move", 3, None)
    frames = client.get(f"{url}/frames").json()
    assert (frames["held"], frames["moved_out"]) == ([], frames["id"])
    plan = client.post(f"{url}/deliveries/plan", json={"frames": frames["id"], **wish}).json()
    assert (plan["frames"], len(plan["elsewhere"])) == (0, 3)
    assert client.get(f"{url}/aside").json()["held"]["frames"] == 0
    # Nothing of it can be deleted: it is not set aside.
    answer = client.post(f"{url}/aside/deletion/look", json={"frames": frames["id"][:1]})
    assert answer.status_code == 400
    assert client.post(f"/api/deliveries/{done['id']}/take-back").status_code == 200
    back = ended(client, url)
    assert (back["state"], back["back"]) == ("returned", 3)
    assert len(list(folder.glob("*.jpg"))) == 3
    assert client.get(f"{url}/frames").json()["moved_out"] == []


def test_cancelling_a_delivery_that_is_through_changes_nothing(
    client: TestClient, url: str, tmp_path: Path
) -> None:
    done = delivered(client, url, target=str(tmp_path / "out"))
    answer = client.post(f"/api/deliveries/{done['id']}/cancel")
    assert answer.json()["state"] == "done"
    for act in ("cancel", "take-back", "stop", "resume"):
        assert client.post(f"/api/deliveries/999/{act}").status_code == 404


def test_names_count_from_where_one_says_and_go_on(
    client: TestClient, url: str, tmp_path: Path
) -> None:
    assert client.get(url).json()["seq_next"] == 1
    first, second, third = ids(client, url)
    order = {
        "frames": [first, second],
        "target": str(tmp_path / "out"),
        "template": "fair {seq:3}",
        "sidecars": False,
    }
    begun = client.post(f"{url}/deliveries", json={**order, "seq_from": 41}).json()
    until(lambda: client.get(f"{url}/deliveries").json()[0]["state"] == "done")
    assert begun["files"] == 2
    assert sorted(os.listdir(tmp_path / "out")) == ["fair 041.jpg", "fair 042.jpg"]
    assert client.get(url).json()["seq_next"] == 43
    more = {**order, "frames": [third], "seq_from": 43}
    planned = client.post(f"{url}/deliveries/plan", json=more).json()
    assert planned["names"] == [{"name": "QH_0003.jpg", "copy_name": "fair 043.jpg"}]
    # Names that count nothing leave it where it is.
    client.post(f"{url}/deliveries", json={**more, "template": "{name}"})
    until(lambda: client.get(f"{url}/deliveries").json()[0]["state"] == "done")
    assert client.get(url).json()["seq_next"] == 43


def test_renaming_and_undoing_it(client: TestClient, url: str, folder: Path) -> None:
    order = {"frames": ids(client, url), "template": "fair {seq:2}"}
    later = client.post(f"{url}/renamings/plan", json={**order, "seq_from": 9}).json()
    assert [row["copy_name"] for row in later["names"]][1:] == ["fair 10.jpg", "fair 11.jpg"]
    plan = client.post(f"{url}/renamings/plan", json=order).json()
    assert (plan["frames"], plan["files"], plan["left"]) == (3, 3, [])
    assert plan["names"][0] == {"name": "QH_0001.jpg", "copy_name": "fair 01.jpg"}
    made = client.post(f"{url}/renamings", json=order)
    assert made.status_code == 201
    until(lambda: client.get(f"{url}/renamings").json()[0]["state"] == "done")
    assert client.get(f"{url}/frames").json()["name"] == ["fair 01", "fair 02", "fair 03"]
    assert "that name already" in client.post(f"{url}/renamings", json=order).json()["detail"]
    wrong = {**order, "template": "a/{seq}"}
    assert "can’t hold" in client.post(f"{url}/renamings/plan", json=wrong).json()["detail"]
    renaming_id = made.json()["id"]
    assert client.post(f"/api/renamings/{renaming_id}/undo").status_code == 200
    until(lambda: client.get(f"{url}/renamings").json()[0]["state"] == "undone")
    assert sorted(os.listdir(folder)) == ["QH_0001.jpg", "QH_0002.jpg", "QH_0003.jpg"]
    assert "last renaming" in client.post(f"/api/renamings/{renaming_id}/undo").json()["detail"]
    assert client.post("/api/renamings/99/undo").status_code == 404
    assert client.post(f"/api/renamings/{renaming_id}/stop").json()["state"] == "undone"


def test_programs_are_kept_and_started(client: TestClient, url: str, folder: Path) -> None:
    command = "winnow demo-editor"
    program = {"name": "Editor", "command": command, "which": "ready"}
    assert client.put("/api/programs", json=program).json() == [program]
    order = {"frames": ids(client, url)[:1], "program": "Editor"}
    assert client.post(f"{url}/hand-over", json=order).status_code == 201
    until(lambda: client.get(f"{url}/hand-over").json()[0]["state"] == "ended")
    assert (folder / "QH_0001 edited.jpg").exists()
    assert client.post(f"{url}/hand-over", json={**order, "program": "None"}).status_code == 404
    for bad, words in [("'open", "quotation"), ("a\0b", "null"), ("{files}", "begins with")]:
        answer = client.put("/api/programs", json={**program, "command": bad})
        assert (answer.status_code, words in answer.json()["detail"]) == (400, True)
    client.put("/api/programs", json={**program, "command": "not-there-at-all"})
    assert "no program" in client.post(f"{url}/hand-over", json=order).json()["detail"]
    assert client.delete("/api/programs", params={"name": "Editor"}).json() == []


def test_a_proof_goes_out_and_its_answer_comes_back(
    client: TestClient, url: str, tmp_path: Path
) -> None:
    frames = ids(client, url)
    for proof, place in [
        ({"kind": "pdf", "title": "Fair", "rows": 3}, "Fair.pdf"),
        ({"kind": "gallery", "title": "Fair", "watermark": "PROOF"}, "Fair"),
    ]:
        order = {"frames": frames, "target": str(tmp_path / "out"), "proof": proof}
        plan = client.post(f"{url}/proofs/plan", json=order).json()
        assert plan["place"] == str(tmp_path / "out" / place)
        assert client.post(f"{url}/proofs", json=order).status_code == 202
        until(lambda: not client.get(f"{url}/proofs").json()["making"]["running"])
        assert client.get(f"{url}/proofs").json()["making"]["notice"] == ""
        assert (tmp_path / "out" / place).exists()
    text = stand_ins.answer(tmp_path / "out" / "Fair", "Ann").decode()
    said = client.post(f"{url}/proofs/answer/read", json={"text": text}).json()
    assert (said["client"], said["chosen"], said["gone"]) == ("Ann", frames[:2], 0)
    change = client.post(f"{url}/proofs/answer/apply", json={"text": text, "label": "A"}).json()
    assert [mark["label"] for mark in change["marks"]] == ["A", "A"]
    assert change["texts"] == frames[:2]
    assert change["undo"] == "answer of Ann: 2 chosen, 2 comments"
    made = client.get(f"{url}/proofs").json()["made"]
    assert [(proof["kind"], len(proof["answers"])) for proof in made] == [
        ("gallery", 1),
        ("pdf", 0),
    ]
    client.post(f"{url}/undo", json={})
    assert client.get(f"{url}/frames").json()["label"] == [None] * 3
    for path in ("read", "apply"):
        answer = client.post(f"{url}/proofs/answer/{path}", json={"text": "{}"})
        assert (answer.status_code, "not an answer" in answer.json()["detail"]) == (400, True)


@pytest.mark.parametrize(
    "proof",
    [
        {"kind": "pdf", "title": ""},
        {"kind": "pdf", "title": "A", "rows": 0},
        {"kind": "pdf", "title": "A", "paper": "B9"},
        {"kind": "gallery", "title": "A", "longest": 9},
        {"kind": "poster", "title": "A"},
    ],
)
def test_proofs_that_can_not_be(client: TestClient, url: str, proof: dict[str, Any]) -> None:
    order = {"frames": ids(client, url), "target": "/tmp/x", "proof": proof}
    assert client.post(f"{url}/proofs/plan", json=order).status_code == 400


def test_stopping_a_proof_that_is_not_made(client: TestClient, url: str) -> None:
    assert client.delete(f"{url}/proofs").json()["making"]["running"] is False


def test_deleting_for_good(
    client: TestClient, url: str, folder: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(plat_other, "HOMETRASH_B", os.fsencode(tmp_path / "home" / "Trash"))
    monkeypatch.setattr(plat_other, "XDG_DATA_HOME", os.fsencode(tmp_path / "home"))
    frames = ids(client, url)
    deletion = f"{url}/aside/deletion"
    assert "Look first" in client.post(deletion, json={"number": 0, "trash": True}).json()["detail"]
    client.post(f"{url}/aside", json={"frames": frames[1:]})
    until(lambda: client.get(f"{url}/aside").json()["moved"] == 2)
    assert client.post(f"{deletion}/look", json={}).status_code == 202
    until(lambda: client.get(deletion).json()["stage"] == "looked")
    look = client.get(deletion).json()["look"]
    assert (look["frames"], look["files"], look["only_files"]) == (2, 2, 2)
    assert look["only"] == ["QH_0002.jpg", "QH_0003.jpg"]
    assert client.delete(deletion).json()["stage"] == ""
    client.post(f"{deletion}/look", json={"frames": frames[1:2]})
    until(lambda: client.get(deletion).json()["stage"] == "looked")
    refused = client.post(deletion, json={"number": 2, "trash": True})
    assert (refused.status_code, "Nothing was done" in refused.json()["detail"]) == (400, True)
    assert client.post(deletion, json={"number": 1, "trash": True}).status_code == 202
    until(lambda: client.get(deletion).json()["stage"] == "deleted")
    assert client.get(deletion).json()["deleted"] == 1
    assert client.get(f"{url}/frames").json()["id"] == [frames[0], frames[2]]
    assert client.get(f"{url}/aside").json()["held_frames"] == frames[2:]
    assert client.get(f"{url}/funnel").json()["bars"][0]["frames"] == 3
    assert (tmp_path / "home" / "Trash" / "files" / "QH_0002.jpg").exists()
