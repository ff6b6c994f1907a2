"""A job in a Winnow that speaks a made-up language, in which every text stands in « ».

Run by tests/test_say.py, in a process of its own: a language is settled when Winnow starts.
"""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from tests.conftest import until
from tests.pictures import write_jpeg, write_natural, write_shoot
from winnow.core.counts import counted
from winnow.core.filters import conditions
from winnow.core.filters import filter as filters
from winnow.core.measure import faces
from winnow.core.verdict import hints
from winnow.say import LANGUAGE, say
from winnow.web.guests.login import login_page
from winnow.work import doctor
from winnow.work.runtime import Places

# What stands for a person under these names is a text.
TEXTS = {
    "detail", "figure", "meaning", "notice", "notices", "problem", "redo", "report", "sentence",
    "title", "undo",
    "why", "words",
}  # fmt: skip


def texts(answer: Any, name: str = "") -> Iterator[tuple[str, str]]:
    if isinstance(answer, dict):
        for key, value in answer.items():
            yield from texts(value, key)
    elif isinstance(answer, list):
        for value in answer:
            yield from texts(value, name)
    elif isinstance(answer, str) and re.search("[a-z]{2}", answer) and name in TEXTS:
        yield name, answer


class Hearing:
    """Asks, and keeps what was said that is not in the language."""

    def __init__(self, client: TestClient) -> None:
        self._client = client
        self.missed: list[tuple[str, str, str]] = []
        self.heard = 0

    def __call__(self, how: str, path: str, **more: Any) -> Any:
        answer = self._client.request(how, path, **more)
        said = answer.json() if "json" in answer.headers.get("content-type", "") else None
        for name, text in texts(said):
            self.heard += 1
            if "«" not in text:
                self.missed.append((f"{how} {path}", name, text))
        return said


def test_numbers_nouns_and_constants() -> None:
    assert counted(1, "frame") == "«1 frame»"
    assert counted(2345, "frame") == "«2.345 frames»"  # the made-up language swaps the signs
    assert say(
        "{px:.1f} px softer at {place} than the sharpest of {of}", px=1.5, place="it", of=2
    ).startswith("«1,5")
    assert all("«" in kind.title + kind.meaning for kind in hints.KINDS.values())
    assert filters.in_words(filters.Filter(), {}) == "«All frames»"
    assert conditions.FACTS["mm"].words == "«focal length»"
    assert faces.CLOSED_BELOW  # nothing that is no text was touched


def test_the_page_for_guests() -> None:
    assert LANGUAGE == "nl"
    assert '<html lang="nl">' in login_page("AB:CD")


def test_what_the_doctor_finds(places: Places) -> None:
    found: list[str] = []
    doctor.report(places, found.append)
    assert found
    assert [line for line in found if "«" not in line] == []


def test_a_job(client: TestClient, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_natural(folder, [(0, 0, 0), (30, 10, 0), (-20, 15, 4), (10, -20, 0)])
    write_shoot(folder / "more", [7, 7, 8])
    (folder / "QH_0900.jpg").write_bytes(b"")
    (folder / "QH_0901.jpg").write_bytes(write_jpeg(tmp_path / "x.jpg", 3).read_bytes()[:2000])
    (folder / "QH_0001.xmp").write_text("<broken")
    ask = Hearing(client)
    shoot = ask("POST", "/api/shoots", json={"folders": [str(folder)]})["id"]
    url = f"/api/shoots/{shoot}"
    until(lambda: not client.get(url).json()["status"]["running"])
    ids = ask("GET", f"{url}/frames")["id"]
    ask("GET", url)
    ask("GET", f"{url}/hints")
    for frame in ids:
        ask("GET", f"/api/frames/{frame}/hints")
    for mark in (
        {"decision": "pick"},
        {"stars": 3},
        {"label": "A"},
        {"decision": "reject", "stars": 0, "label": ""},
    ):
        ask("POST", f"{url}/marks", json={"frames": ids[:3], **mark})
    ask("POST", f"{url}/texts/edit", json={"frames": ids[:2], "put": {"caption": "x", "city": "y"}})
    ask("POST", f"{url}/groups/edit", json={"do": "alone", "frames": ids[:2]})
    for path in (
        "history",
        "history/all",
        "aside",
        "funnel",
        "files/plan",
        "deliveries",
        "label-texts",
        "clocks",
    ):
        ask("GET", f"{url}/{path}")
    for path in (
        "texts/fields",
        "texts/filled",
        "deliveries/fields",
        "notices",
        "sharing",
        "cards",
        "filters",
    ):
        ask("GET", f"/api/{path}")
    ask("GET", f"{url}/choices/hint")
    ask("POST", "/api/label-sets/from-file", json={"text": "{}"})
    for written_as in (
        "iso",
        "isu = 3",
        "(pick",
        "iso ..",
        "label nix",
        "time later",
        "hint nix",
        "pick or",
    ):
        ask("POST", "/api/filters/written", json={"text": written_as})
        ask("POST", f"{url}/find", json={"written": written_as})
    for text in (
        "iso 800..3200 not flash",
        "hint soft or stars > 2",
        "label none",
        "name ~ x or text none",
    ):
        ask(
            "POST",
            f"{url}/find",
            json={"written": text, "decisions": ["pick", "undecided"], "stars": 2},
        )
    for at in ("undo", "undo", "redo"):
        ask("POST", f"{url}/{at}", json={})
    target = {"target": str(tmp_path / "out"), "frames": ids}
    for wish in (
        {**target, "template": "{nix}"},
        {**target, "target": str(folder)},
        {**target, "target": "x"},
        target,
    ):
        ask("POST", f"{url}/deliveries/plan", json=wish)
    ask("POST", f"{url}/renamings/plan", json={"frames": ids, "template": "a/b"})
    ask("POST", f"{url}/renamings", json={"frames": ids, "template": "{name}"})
    ask("POST", f"{url}/aside/deletion", json={"number": 3, "trash": False})
    ask("POST", f"{url}/proofs/answer/read", json={"text": "{}"})
    ask("POST", f"{url}/hand-over", json={"program": "nix", "frames": ids})
    ask(
        "POST",
        "/api/bringings/plan",
        json={
            "source": str(tmp_path),
            "target": str(tmp_path),
            "shoot": "x",
            "template": "{date} {shoot}",
        },
    )
    ask("POST", f"{url}/lists/read", json={"name": "x.csv", "content": "aGVsbG8="})
    for path in ("/api/shoots/99", "/api/frames/999", "/api/deliveries/99", "/api/shoots/99/hints"):
        ask("GET", path)
    ask("POST", "/api/shoots", json={"folders": ["not/whole"]})
    ask("POST", "/api/shoots", json={"folders": [str(tmp_path / "none")]})
    assert ask.heard > 100
    assert "\n".join(map(str, ask.missed)) == ""
