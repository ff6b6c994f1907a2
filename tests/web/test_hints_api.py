"""Hints and faces over the API."""

import json
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.pictures import NOON, write_jpeg, write_natural
from tests.ready import ready
from winnow.work.index.indexer import Indexer
from winnow.work.runtime import Runtime

# One subject, hand-held; the third is soft.
LOOKS = [(0, 0, 0), (30, 10, 0), (-20, 15, 4), (10, -20, 0)]


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    write_natural(tmp_path / "shoot", LOOKS)
    return ready(runtime, tmp_path / "shoot", "shoot")


def kinds(client: TestClient, shoot: int) -> dict[str, Any]:
    answer = client.get(f"/api/shoots/{shoot}/hints").json()
    assert answer["waits"] is False
    return {kind["name"]: kind for kind in answer["kinds"]}


def frames_of(client: TestClient, shoot: int) -> list[int]:
    return list(client.get(f"/api/shoots/{shoot}/frames").json()["id"])


def test_kinds_with_their_frames_and_figures(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    soft = kinds(client, shoot)["soft"]
    assert soft["named"] == [ids[2]]
    assert soft["threshold"] == soft["usual"] == 30
    figures = client.get(f"/api/shoots/{shoot}/hints/soft").json()
    assert figures["frames"][-1] == ids[2]
    assert figures["figures"] == sorted(figures["figures"])
    assert client.get(f"/api/shoots/{shoot}/hints/grumpy").status_code == 400
    assert client.get("/api/shoots/99/hints").status_code == 404


def test_a_threshold_moves_within_its_range_and_back(client: TestClient, shoot: int) -> None:
    path = f"/api/shoots/{shoot}/hints/soft"
    moved = client.put(path, json={"threshold": 900}).json()
    assert moved["threshold"] == moved["most"]
    assert client.put(path, json={"threshold": 12}).json()["threshold"] == 12
    assert kinds(client, shoot)["soft"]["threshold"] == 12
    assert client.put(path, json={"threshold": None}).json()["threshold"] == 30
    assert client.put(path, json={"threshold": -1}).status_code == 400
    assert client.put(path, json={"threshold": True}).status_code == 400


def test_moving_what_others_count_by_makes_reasons_anew(
    client: TestClient, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    started: list[int] = []
    monkeypatch.setattr(Indexer, "start", lambda self, shoot: started.append(shoot))
    for kind in ("soft_eyes", "eyes_closed"):
        client.put(f"/api/shoots/{shoot}/hints/{kind}", json={"threshold": 10})
    assert started == [shoot]
    assert client.get(f"/api/shoots/{shoot}/hints").json()["waits"]


def test_what_is_noticed_of_a_frame(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    noticed = client.get(f"/api/frames/{ids[2]}/hints").json()
    assert (noticed["best"], noticed["usable"]) == (False, False)
    assert noticed["verdict"] == "can’t be used: soft all over"
    said = noticed["hints"]
    assert said[0]["kind"] == "soft"
    assert said[0]["named"] is True
    assert "softer at the eyes" in said[0]["words"]
    assert [kind["named"] for kind in said] == sorted((o["named"] for o in said), reverse=True)
    assert client.get("/api/frames/999/hints").status_code == 404
    matters = client.get(f"/api/frames/{ids[0]}/matters").json()
    assert matters["at"] == "eyes"
    assert matters["radius"] > 0
    assert client.get("/api/frames/999/matters").status_code == 404


def test_the_same_is_said_of_a_frame_wherever_it_is_shown(client: TestClient, shoot: int) -> None:
    """Ladder and sort (columns of the sheet), side by side, facts, the filter, what it offers,
    hints, and lists."""
    columns = client.get(f"/api/shoots/{shoot}/frames").json()
    ids = columns["id"]
    said = [columns["standings"][n] for n in columns["standing"]]
    assert said[2]["state"] == "softer"
    body = {"frame": ids[0], "frames": ids, "prepare": False}
    beside = client.post(f"/api/shoots/{shoot}/beside", json=body).json()
    # Looked at closer, at the point that was answered, it is the same verdict; at another one it is
    # measured.
    at = {"x": beside[0]["x"], "y": beside[0]["y"]}
    closer = client.post(f"/api/shoots/{shoot}/beside", json=body | at).json()
    assert [place["standing"] for place in closer] == [place["standing"] for place in beside]
    aside = client.post(f"/api/shoots/{shoot}/beside", json=body | at | {"x": 0.1}).json()
    assert not any(place["judged"] for place in aside)
    best = [place for place in beside if place["standing"]["state"] in ("sharpest", "tied")]
    choices = client.post(f"/api/shoots/{shoot}/choices/blur", json={}).json()
    listed = client.post(
        f"/api/shoots/{shoot}/lists", json={"frames": ids, "form": "json", "parts": ["hints"]}
    )
    verdicts = {
        entry["file"]: entry["verdict"] for entry in json.loads(listed.json()["text"])["frames"]
    }
    order = client.get(f"/api/shoots/{shoot}/hints").json()["verdicts"]
    for n, frame in enumerate(ids):
        blur, words = columns["blur"][n], said[n]["words"]
        facts = client.get(f"/api/frames/{frame}").json()
        noticed = client.get(f"/api/frames/{frame}/hints").json()
        side = next(place["standing"] for place in beside if place["frame"] == frame)
        for place in (side, facts["standing"]):
            # Of 1.2497, rounded twice, one place would say 1.3 px and another one 1.2.
            assert place["blur"] == blur
            assert (place["words"], place["state"]) == (words, said[n]["state"])
        passing = [
            client.post(f"/api/shoots/{shoot}/find", json={"written": f"blur<{limit:.3f}"}).json()[
                "ids"
            ]
            for limit in (blur - 0.01, blur + 0.01)
        ]
        assert [frame in ids_of for ids_of in passing] == [False, True]
        assert any(choice["value"] <= blur < choice["high"] for choice in choices)
        assert noticed["verdict"] == facts["verdict"] == verdicts[columns["name"][n] + ".jpg"]
        place = order["place"][order["frame"].index(frame)]
        assert noticed["best"] == (place == 1)
        if said[n]["state"] == "softer":
            soft = next(hint for hint in noticed["hints"] if hint["kind"] == "soft")
            px = blur * (1 - 1 / (1 + soft["figure"] / 100))
            assert soft["words"].startswith(f"{px:.1f} px softer at the eyes")
            assert blur > max(place["standing"]["blur"] for place in best)
            assert words in noticed["verdict"] or not noticed["usable"]


def test_a_mark_by_hints_is_one_step(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    body = {"kinds": ["soft"], "frames": [ids[2]], "decision": "reject"}
    change = client.post(f"/api/shoots/{shoot}/hints/apply", json=body).json()
    assert change["sentence"] == "rejected QH_0003, by hints (soft)"
    assert change["marks"][0]["decision"] == "reject"
    assert client.post(f"/api/shoots/{shoot}/undo", json={}).json()["marks"][0]["decision"] == (
        "undecided"
    )
    path = f"/api/shoots/{shoot}/hints/apply"
    assert client.post(path, json={**body, "frames": [ids[0], 999]}).status_code == 404
    assert client.post(path, json={"kinds": ["soft"], "frames": [ids[0]]}).status_code == 400
    assert client.post(path, json={**body, "label": "?"}).status_code == 400
    assert client.post(path, json={**body, "kinds": []}).status_code == 400


def test_a_second_look(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    path = f"/api/shoots/{shoot}/second-look"
    assert client.get(path).json() == []
    body = {"kinds": ["soft"], "frames": [ids[2]], "decision": "reject"}
    client.post(f"/api/shoots/{shoot}/hints/apply", json=body)
    assert client.get(path).json() == []
    client.post(f"/api/shoots/{shoot}/marks", json={"frames": ids, "decision": "reject"})
    (group,) = client.get(path).json()
    assert sorted(shown["frame"] for shown in group["frames"]) == sorted(ids)
    assert group["frames"][-1]["frame"] == ids[2]
    assert group["by_hints"] == 1


def test_evidence_of_what_is_named(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    path = f"/api/shoots/{shoot}/evidence"
    (group,) = client.get(path, params={"kind": ["soft"]}).json()
    assert (group["frame"], group["beside"] in ids) == (ids[2], True)
    assert 0 < group["at"]["x"] < 1
    assert client.get(path).status_code == 400
    assert client.get(path, params={"kind": ["nothing"]}).status_code == 400


def test_faces_in_rows(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    # The picture is one that was enlarged.
    client.put(f"/api/shoots/{shoot}/hints/soft_eyes", json={"threshold": 3})
    table = client.post(f"/api/shoots/{shoot}/faces", json={"frames": ids}).json()
    assert table["frames"] == ids
    assert table["waits"] is False
    (row,) = table["rows"]
    assert [face["frame"] for face in row["faces"]] == ids
    assert {face["eyes_closed"] for face in row["faces"]} == {False}
    assert row["faces"][2]["eyes_soft"] is True
    # The word is that of the figure beside it.
    assert [face["eyes_soft"] for face in row["faces"]] == [
        face["judged_px"] >= 3 for face in row["faces"]
    ]
    assert row["faces"][0]["eyes_soft"] is False
    # The frame's own figure, which stands wherever the frame does.
    columns = client.get(f"/api/shoots/{shoot}/frames").json()
    blurs = dict(zip(columns["id"], columns["blur"], strict=True))
    assert {face["frame"]: face["judged_px"] for face in row["faces"]} == blurs
    assert 2 not in row["best"]
    face = row["faces"][0]
    assert face["box"][0] < face["eyes"][0]["x"] < face["eyes"][1]["x"] < face["box"][2]
    path = f"/api/shoots/{shoot}/faces"
    assert client.post(path, json={"frames": [*ids, 999]}).status_code == 404
    assert client.post(path, json={"frames": []}).status_code == 400


def test_somebody_says_whose_face_counts(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    path = f"/api/shoots/{shoot}/faces"

    def face() -> dict[str, Any]:
        table = client.post(path, json={"frames": ids}).json()
        return dict(table["rows"][0]["faces"][1])

    left, top, right, bottom = face()["box"]
    place = {"frame": ids[1], "x": (left + right) / 2, "y": (top + bottom) / 2}
    said = client.put(f"{path}/counts", json={"faces": [place], "weight": "none"})
    assert said.json() == {"frames": 4}
    assert (face()["weight"], face()["counts"]) == ("none", False)
    find = {"written": "faces 1"}
    assert client.post(f"/api/shoots/{shoot}/find", json=find).json()["ids"] == []
    client.put(f"{path}/counts", json={"faces": [place], "weight": ""})
    assert (face()["weight"], face()["counts"]) == ("", True)
    everywhere = {"faces": [place], "weight": "most", "everywhere": True}
    refused = client.put(f"{path}/counts", json=everywhere)
    assert refused.status_code == 409
    assert "say it in this group" in refused.json()["detail"]
    elsewhere = {"faces": [{**place, "frame": 999}], "weight": "most"}
    assert client.put(f"{path}/counts", json=elsewhere).status_code == 404
    assert client.put(f"{path}/counts", json={"faces": [], "weight": "most"}).status_code == 400


def test_compared_frames_are_locked_to_the_eyes(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)
    body = {"frame": ids[0], "frames": ids, "prepare": False}
    found = client.post(f"/api/shoots/{shoot}/beside", json=body).json()
    table = client.post(f"/api/shoots/{shoot}/faces", json={"frames": ids}).json()
    for place, face in zip(found, table["rows"][0]["faces"], strict=True):
        assert place["sure"]
        assert (place["faces"], place["closed"]) == (1, 0)
        nearest = min(abs(place["x"] - eye["x"]) for eye in face["eyes"])
        assert nearest < 0.01
    assert found[2]["standing"]["state"] == "softer"
    assert found[2]["eyes_blur"] > found[0]["eyes_blur"]


def test_frames_are_filtered_by_hints_and_faces(client: TestClient, shoot: int) -> None:
    ids = frames_of(client, shoot)

    def found(text: str) -> list[int]:
        answer = client.post(f"/api/shoots/{shoot}/find", json={"written": text})
        assert answer.status_code == 200, answer.text
        return list(answer.json()["ids"])

    client.put(f"/api/shoots/{shoot}/hints/soft_eyes", json={"threshold": 3})
    assert found("hint soft") == [ids[2]]
    assert found("hint none") == [id for id in ids if id != ids[2]]
    assert found('hint "soft eyes" or hint motion') == [ids[2]]
    assert found("faces>=1") == ids
    assert found("not faces 1") == []
    client.put(f"/api/shoots/{shoot}/hints/soft", json={"threshold": 120})
    before = found("hint soft")
    client.put(f"/api/shoots/{shoot}/hints/soft", json={"threshold": 10})
    assert set(before) <= set(found("hint soft"))
    wrong = client.post("/api/filters/written", json={"text": "hint grumpy"}).json()
    assert "no hint “grumpy”" in wrong["problem"]
    choices = client.post(f"/api/shoots/{shoot}/choices/hint", json={}).json()
    words = {choice["words"]: choice["count"] for choice in choices}
    assert words["Soft"] == 1
    edit = {"text": "pick", "edit": {"do": "toggle", "fact": "hint", "value": "eyes_closed"}}
    assert client.post("/api/filters/written/edit", json=edit).json()["text"] == (
        'pick hint "eyes_closed"'
    )


def test_another_picture_under_a_marked_name_is_asked_about_until_it_is_marked(
    client: TestClient, runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "fair"
    for n in (1, 2, 3):
        write_jpeg(folder / f"QH_000{n}.jpg", n, NOON + n)
    shoot = ready(runtime, folder, "fair")
    ids = frames_of(client, shoot)
    marks = f"/api/shoots/{shoot}/marks"
    client.post(marks, json={"frames": ids[:2], "decision": "pick"})
    # One shows something else, one was only written again, and the one without a mark is nobody's
    # loss.
    write_jpeg(folder / "QH_0001.jpg", 8, NOON + 500)
    (folder / "QH_0002.jpg").write_bytes((folder / "QH_0002.jpg").read_bytes() + b"\0" * 9)
    write_jpeg(folder / "QH_0003.jpg", 9, NOON + 501)
    ready(runtime, folder, "fair")
    replaced = kinds(client, shoot)["replaced"]
    assert replaced["named"] == ids[:1]
    (said,) = [
        hint
        for hint in client.get(f"/api/frames/{ids[0]}/hints").json()["hints"]
        if hint["kind"] == "replaced"
    ]
    assert "another picture had this name when it was marked" in said["words"]
    # Its mark stays until somebody says what it is worth: here, that it is right.
    columns = client.get(f"/api/shoots/{shoot}/frames").json()
    assert dict(zip(columns["id"], columns["decision"], strict=True))[ids[0]] == "pick"
    assert client.post(marks, json={"frames": ids[:1], "decision": "pick"}).status_code == 200
    ready(runtime, folder, "fair")
    assert kinds(client, shoot)["replaced"]["named"] == []
