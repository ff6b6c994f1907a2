"""Written filters: found, counted, refused with their place, changed by clicks."""

from typing import Any, cast

from fastapi.testclient import TestClient

from tests.web.conftest import ids


def test_a_written_filter_finds_counts_and_is_refused_with_its_place(
    client: TestClient, shoot: int
) -> None:
    first, *_ = ids(client, shoot)
    client.post(f"/api/shoots/{shoot}/marks", json={"frames": [first], "decision": "pick"})
    found = client.post(f"/api/shoots/{shoot}/find", json={"written": "qh_0001 or qh_0002"}).json()
    assert len(found["ids"]) == found["shown"] == 2
    assert (found["total"], found["decisions"]["undecided"]) == (4, 1)
    assert found["words"] == "Any text with “qh_0001” or any text with “qh_0002”"
    assert client.get(f"/api/shoots/{shoot}").json()["filter"]["written"] == "qh_0001 or qh_0002"
    bad = client.post(f"/api/shoots/{shoot}/find", json={"written": "iso>"})
    assert (bad.status_code, bad.json()["detail"]) == (400, "What should iso be? (character 1)")
    checked = client.post("/api/filters/written", json={"text": "stars>=2 flsh>1"}).json()
    assert (checked["at"], checked["until"]) == (9, 13)
    assert (
        client.post("/api/filters/written", json={"text": "flash"}).json()["words"] == "with flash"
    )


def test_clicks_change_a_written_filter(client: TestClient) -> None:
    def edited(text: str, **edit: object) -> dict[str, Any]:
        answer = client.post("/api/filters/written/edit", json={"text": text, "edit": edit})
        assert answer.status_code == 200, answer.text
        return cast(dict[str, Any], answer.json())

    text = edited("", do="toggle", fact="camera", value="Quillon Two")["text"]
    text = edited(text, do="range", fact="iso", low=800, high=3200)["text"]
    text = edited(text, do="toggle", fact="flash", value="flash")["text"]
    after = edited(text, do="turn", part=2)
    assert after["text"] == 'camera="Quillon Two" iso 800..3200 not flash'
    assert [part["fact"] for part in after["parts"]] == ["camera", "iso", "flash"]
    assert [part["inverted"] for part in after["parts"]] == [False, False, True]
    any_of = edited(after["text"], do="join", how="any")
    assert any_of["joined"] == "any"
    assert edited(any_of["text"], do="remove", part=0)["text"] == "iso 800..3200 or not flash"
    assert edited("iso", do="remove", part=0)["problem"].startswith("What should iso be?")
    assert edited("flash", do="remove", part=7)["text"] == "flash"


def test_choices_say_what_each_value_would_leave(client: TestClient, shoot: int) -> None:
    url = f"/api/shoots/{shoot}/choices"
    first, *_ = ids(client, shoot)
    client.post(f"/api/shoots/{shoot}/marks", json={"frames": [first], "decision": "pick"})
    every = client.post(f"{url}/decision", json={"written": "pick"}).json()
    assert {choice["value"]: choice["count"] for choice in every} == {"pick": 1, "undecided": 3}
    for choice in client.post(f"{url}/time", json={}).json():
        text = f"time {clock(choice['value'])}..{clock(choice['high'] - 1)}"
        found = client.post(f"/api/shoots/{shoot}/find", json={"written": text}).json()
        assert found["shown"] == choice["count"]
    one_of_two = client.post(f"{url}/decision", json={"written": "qh_0001 or pick"}).json()
    found = client.post(f"/api/shoots/{shoot}/find", json={"written": "qh_0001 or undecided"})
    counts = {choice["value"]: choice["count"] for choice in one_of_two}
    assert counts["undecided"] == found.json()["shown"]


def clock(seconds: float) -> str:
    whole = int(seconds)
    return f"{whole // 3600}:{whole // 60 % 60:02d}:{whole % 60:02d}"


def test_a_saved_filter_whose_label_is_gone_says_so(client: TestClient, shoot: int) -> None:
    saved = {"name": "For print", "filter": {"written": "label album"}}
    client.put("/api/filters", json=saved)
    client.put("/api/labels", json=[client.get("/api/labels").json()[0]])
    (kept,) = client.get("/api/filters").json()
    assert kept["filter"]["written"] == "label album"
    refused = client.post(f"/api/shoots/{shoot}/find", json=kept["filter"])
    assert (refused.status_code, "no label “album”" in refused.json()["detail"]) == (400, True)
