"""Captions, files, profiles and lists through the API."""

import base64
import json
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.conftest import until
from tests.pictures import write_shoot
from tests.ready import ready
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts
from winnow.photos.xmp import read_sidecar, with_stated
from winnow.work.runtime import Runtime


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    return folder


@pytest.fixture
def url(runtime: Runtime, folder: Path) -> str:
    return f"/api/shoots/{ready(runtime, folder, 'shoot')}"


def ids(client: TestClient, url: str) -> list[int]:
    found: list[int] = client.get(f"{url}/frames").json()["id"]
    return found


def write(client: TestClient, url: str, **order: Any) -> dict[str, Any]:
    assert client.post(f"{url}/files", json=order).status_code == 202
    until(lambda: not client.get(f"{url}/files").json()["running"])
    result: dict[str, Any] = client.get(f"{url}/files").json()["result"]
    return result


def find(client: TestClient, url: str, written: str) -> int:
    found: int = client.post(f"{url}/find", json={"written": written}).json()["shown"]
    return found


def test_what_would_be_written_then_writing(client: TestClient, url: str, folder: Path) -> None:
    first, second, _ = ids(client, url)
    client.post(f"{url}/marks", json={"frames": [first], "stars": 5})
    client.post(f"{url}/texts/edit", json={"frames": [second], "put": {"title": "Dusk"}})
    plan = client.get(f"{url}/files/plan").json()
    assert plan["counts"] == {"new": 2}
    assert [frame["writes"] for frame in plan["frames"]] == [
        [{"file": "QH_0001.xmp", "prop": "xmp:Rating", "before": "", "after": "5"}],
        [{"file": "QH_0002.xmp", "prop": "dc:title", "before": "", "after": "Dusk"}],
    ]
    assert not list(folder.glob("*.xmp"))
    assert client.get(f"{url}/files").json()["unwritten"] == 2
    assert write(client, url)["written"] == 2
    assert client.get(f"{url}/files").json()["unwritten"] == 0
    assert read_sidecar((folder / "QH_0001.xmp").read_bytes()).mark == FileMark(5)


def test_conflicts_are_shown_with_both_values_and_decided(
    client: TestClient, url: str, folder: Path
) -> None:
    frame = ids(client, url)[0]
    client.post(f"{url}/marks", json={"frames": [frame], "stars": 2, "decision": "pick"})
    path = folder / "QH_0001.xmp"
    path.write_bytes(with_stated(None, Stated(FileMark(4), Texts("Theirs"))))
    client.post(f"{url}/texts/edit", json={"frames": [frame], "put": {"caption": "At the quay"}})
    plan = client.get(f"{url}/files/plan").json()
    (planned,) = plan["frames"]
    assert (planned["outcome"], planned["conflicts"], planned["took"]) == (
        "conflict",
        ["stars"],
        ["title"],
    )
    assert plan["takes_away"] == 0, "nothing is taken before it is decided"
    assert (planned["here"]["mark"]["stars"], planned["in_file"]["mark"]["stars"]) == (2, 4)
    assert write(client, url)["problems"][0]["frame"] == frame
    single = [{"frame": frame, "part": "stars", "side": "file"}]
    seen = client.get(f"{url}/files/plan").json()["plan"]
    order = {"single": single, "kinds": {"stars": "here"}}
    assert write(client, url, **order, plan=seen)["taken"] == 1
    facts = client.get(f"/api/frames/{frame}").json()
    assert facts["texts"]["title"] == "Theirs"
    assert read_sidecar(path.read_bytes()).mark == FileMark(4, None, True)


def test_changes_outside_can_be_taken_or_left(client: TestClient, url: str, folder: Path) -> None:
    frames = ids(client, url)
    client.post(f"{url}/marks", json={"frames": frames, "stars": 1})
    write(client, url)

    def outside(stars: int) -> None:
        path = folder / "QH_0001.xmp"
        path.write_bytes(with_stated(path.read_bytes(), Stated(FileMark(stars))))
        shoot = int(url.rpartition("/")[2])
        client.app.state.runtime.indexer.start(shoot, offer=True)  # type: ignore[attr-defined]
        until(lambda: client.get(url).json()["tally"]["changed_outside"] == 1)

    outside(3)
    assert client.get(f"{url}/files").json()["changed_outside"] == frames[:1]
    assert client.delete(f"{url}/files/take").status_code == 204
    assert client.get(url).json()["tally"]["changed_outside"] == 0
    assert client.get(f"{url}/frames").json()["stars"] == [1, 1, 1]
    outside(4)
    taken = client.post(f"{url}/files/take", json={}).json()
    assert taken["sentence"] == "taken from the files of 1 frame"
    assert client.get(f"{url}/frames").json()["stars"] == [4, 1, 1]


def test_texts_of_many_frames(client: TestClient, url: str) -> None:
    frames = ids(client, url)
    edit = f"{url}/texts/edit"
    client.post(edit, json={"frames": frames, "put": {"city": "Holm"}, "add": ["quay", "dusk"]})
    change = client.post(
        edit,
        json={
            "frames": frames[:2],
            "put": {"title": "{name} in {city}"},
            "remove": ["DUSK"],
            "filled": True,
        },
    ).json()
    assert change["sentence"] == "title and keywords of 2 frames"
    assert change["texts"] == frames[:2]
    found = client.post(f"{url}/texts", json={"frames": frames}).json()
    assert found["texts"]["city"] == "Holm"
    assert found["texts"]["keywords"] == ["quay"]
    assert (found["several"], found["some"]) == (["title"], {"dusk": 1})
    used = client.get("/api/texts/used", params={"field": "keywords"}).json()
    assert used == [{"value": "quay", "frames": 3}, {"value": "dusk", "frames": 1}]
    assert find(client, url, "qh_0001 holm") == 1
    assert find(client, url, "keyword=dusk or title QH_0002") == 2
    assert find(client, url, "title none") == 1
    client.post(f"{url}/undo", json={})
    assert find(client, url, "title none") == 3


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"put": {"title": "{nmae}"}, "filled": True}, "no field"),
        ({"put": {"title": ["a"]}}, "one text"),
        ({"put": {"creators": "a"}}, "a list"),
        ({"put": {"mood": "a"}}, "mood"),
    ],
)
def test_texts_that_can_not_be_are_refused(
    client: TestClient, url: str, body: dict[str, Any], words: str
) -> None:
    answer = client.post(f"{url}/texts/edit", json={"frames": ids(client, url), **body})
    assert answer.status_code == 400
    assert words in answer.json()["detail"]


def test_frames_of_another_shoot_are_refused(client: TestClient, url: str) -> None:
    for path in ("texts", "texts/edit", "lists"):
        assert client.post(f"{url}/{path}", json={"frames": [9999]}).status_code == 404


def test_templates_are_kept(client: TestClient) -> None:
    template = {"name": "Press", "put": {"rights": "© {year} Ann"}, "add": ["{city}"]}
    assert client.put("/api/text-templates", json=template).json() == [template]
    wrong = {**template, "put": {"rights": "{yaer}"}}
    assert client.put("/api/text-templates", json=wrong).status_code == 400
    assert client.delete("/api/text-templates", params={"name": "Press"}).json() == []


def test_profiles_are_shown_by_example_kept_and_used(
    client: TestClient, url: str, folder: Path
) -> None:
    profile = {"name": "Agency", "pick_stars": 3, "pick_label": "Chosen", "labels": {"A": "Red"}}
    client.post(f"{url}/marks", json={"frames": ids(client, url)[:1], "decision": "pick"})
    client.post(f"{url}/marks", json={"frames": ids(client, url)[1:], "stars": 4})
    preview = client.post(f"{url}/profiles/preview", json=profile).json()
    pick = preview["samples"][0]
    assert (pick["rating"], pick["label"], pick["good"]) == (3, "Chosen", True)
    assert preview["ambiguous"] == 2
    (kept,) = client.put("/api/profiles", json=profile).json()
    assert kept["labels"] == {"A": "Red"}
    settings = client.get("/api/settings").json()
    client.put("/api/settings", json={**settings, "profile": "Agency"})
    write(client, url)
    assert read_sidecar((folder / "QH_0001.xmp").read_bytes()).mark == FileMark(3, "Chosen", True)
    # Read again under the profile it is a pick, and nothing is in conflict.
    assert client.get(f"{url}/files/plan").json()["counts"] == {"same": 3}
    alike = {**profile, "pick_label": "Red"}
    assert "two different" in client.put("/api/profiles", json=alike).json()["detail"]
    assert client.post(f"{url}/profiles/preview", json=alike).json()["problem"]
    assert client.delete("/api/profiles", params={"name": "Agency"}).json() == []
    assert client.get(f"{url}/files/plan").json()["counts"] == {"change": 1, "same": 2}


def test_label_texts_of_others_are_given_a_meaning(
    client: TestClient, url: str, folder: Path
) -> None:
    (folder / "QH_0002.xmp").write_bytes(with_stated(None, Stated(FileMark(2, "Zweite Wahl"))))
    client.post(f"{url}/index")
    until(lambda: client.get(f"{url}/frames").json()["stars"] == [0, 2, 0])
    assert client.get(f"{url}/files/plan").json()["unknown_labels"] == {"Zweite Wahl": 1}
    meant = {"text": "Zweite Wahl", "letter": "A"}
    assert client.post(f"{url}/label-texts", json=meant).json()["marks"][0]["label"] == "A"
    assert client.get("/api/label-texts").json() == {"Zweite Wahl": "A"}
    assert client.delete("/api/label-texts", params={"text": "Zweite Wahl"}).json() == {}
    assert client.post(f"{url}/label-texts", json={"text": "x", "letter": "?"}).status_code == 400


def as_file(text: str, name: str = "list.csv") -> dict[str, str]:
    return {"name": name, "content": base64.b64encode(text.encode()).decode()}


def test_a_list_goes_out_and_comes_back(client: TestClient, url: str) -> None:
    frames = ids(client, url)
    client.post(f"{url}/marks", json={"frames": frames[:1], "decision": "pick", "label": "A"})
    text = client.post(f"{url}/lists", json={"frames": frames}).json()["text"]
    assert client.post(f"{url}/lists/read", json=as_file(text)).json()["changes"] == 0
    lines = text.splitlines()
    assert lines[0].startswith("\ufefffile,folder,hash,decision,stars,label,title")
    changed = text.replace(",pick,0,Album,", ",reject,2,none,")
    came = client.post(f"{url}/lists/read", json=as_file(changed)).json()
    assert (came["rows"], came["same"], came["changes"]) == (3, 2, 1)
    assert came["frames"][0]["after"]["mark"] == {"decision": "reject", "stars": 2, "label": None}
    assert client.get(f"{url}/frames").json()["decision"][0] == "pick"
    change = client.post(f"{url}/lists/apply", json=as_file(changed)).json()
    assert change["sentence"] == "list “list.csv” on 1 frame"
    client.post(f"{url}/undo", json={})
    assert client.get(f"{url}/frames").json()["decision"][0] == "pick"


def test_a_json_list_has_facts_and_hints(client: TestClient, url: str) -> None:
    frames = ids(client, url)
    wanted = {"frames": frames[::-1], "form": "json", "parts": ["facts", "hints"]}
    listed = json.loads(client.post(f"{url}/lists", json=wanted).json()["text"])["frames"]
    assert [row["file"] for row in listed] == ["QH_0003.jpg", "QH_0002.jpg", "QH_0001.jpg"]
    assert listed[0]["width"] == 480
    assert "hints" in listed[0]


@pytest.mark.parametrize(("content", "words"), [("!!", "base64"), ("AAAA", "columns")])
def test_what_is_no_list_is_refused(client: TestClient, url: str, content: str, words: str) -> None:
    for path in ("read", "apply"):
        answer = client.post(f"{url}/lists/{path}", json={"content": content})
        assert answer.status_code == 400
        assert words in answer.json()["detail"]


def test_writing_can_be_stopped(client: TestClient, url: str) -> None:
    assert client.delete(f"{url}/files").json()["running"] is False


def test_the_cull_in_numbers(client: TestClient, url: str, tmp_path: Path) -> None:
    frames = ids(client, url)
    client.post(f"{url}/marks", json={"frames": frames[:2], "decision": "pick", "stars": 3})
    client.post(f"{url}/marks", json={"frames": frames[2:], "decision": "reject"})
    target = {"target": str(tmp_path / "out"), "filter": {"decisions": ["pick"]}}
    client.post(f"{url}/deliveries", json=target)
    until(lambda: client.get(f"{url}/deliveries").json()[0]["state"] == "done")
    found = client.get(f"{url}/funnel").json()
    bars = [(bar["kind"], bar["value"], bar["frames"]) for bar in found["bars"]]
    assert bars == [
        ("shot", "", 3), ("decided", "", 3), ("picks", "", 2), ("stars", "1", 2), ("stars", "2", 2),
        ("stars", "3", 2), ("delivered", "", 2),
    ]  # fmt: skip
    assert (found["groups"], found["without_pick"], found["alike"]) == (3, 1, [])
    assert find(client, url, "delivered") == 2


def test_recipes_are_kept(client: TestClient, url: str, tmp_path: Path) -> None:
    recipe = {"name": "Client", "target": str(tmp_path / "out"), "template": "{shoot}/{seq:2}"}
    (kept,) = client.put("/api/recipes", json=recipe).json()
    assert (kept["template"], kept["which"], kept["how"]) == ("{shoot}/{seq:2}", "all", "copy")
    wish = {name: kept[name] for name in ("target", "template", "which", "how", "manifest")}
    frames = ids(client, url)[1:]
    plan = client.post(f"{url}/deliveries/plan", json={**wish, "frames": frames}).json()
    assert [row["copy_name"] for row in plan["names"]] == ["shoot/01.jpg", "shoot/02.jpg"]
    wrong = {**wish, "template": "{nmae}", "frames": frames}
    assert "no field" in client.post(f"{url}/deliveries/plan", json=wrong).json()["detail"]
    assert "{seq:3}" in client.get("/api/deliveries/fields").json()["seq"]
    assert client.delete("/api/recipes", params={"name": "Client"}).json() == []


def test_setting_aside_through_the_api(client: TestClient, url: str, folder: Path) -> None:
    frames = ids(client, url)
    client.post(f"{url}/marks", json={"frames": frames[1:], "decision": "reject"})
    plan = client.get(f"{url}/aside").json()
    assert (plan["rejects"]["frames"], plan["rejects"]["files"]) == (2, 2)
    assert plan["folders"] == [f"{folder} set aside"]
    assert client.post(f"{url}/aside", json={"frames": [9999]}).status_code == 404
    assert client.post(f"{url}/aside", json={}).status_code == 202
    until(lambda: client.get(f"{url}/aside").json()["moved"] == 2)
    now = client.get(f"{url}/aside").json()
    assert (now["held_frames"], now["rejects"]["frames"]) == (frames[1:], 0)
    assert client.get(f"{url}/frames").json()["held"] == frames[1:]
    assert "Bring them back" in client.delete(url).json()["detail"]
    assert client.post(f"{url}/aside/back", json={"frames": frames[1:2]}).status_code == 202
    until(lambda: client.get(f"{url}/aside").json()["held_frames"] == frames[2:])
    client.post(f"{url}/aside/back", json={})
    until(lambda: client.get(f"{url}/aside").json()["held_frames"] == [])
    assert len(list(folder.glob("*.jpg"))) == 3
    assert client.delete(f"{url}/aside").json()["running"] is False
