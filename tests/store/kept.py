"""A database as a version of Winnow left it, and what is in it, as a person sees that.

``python -m tests.store.kept NAME`` makes both anew from the present version: NAME.sql is what
SQLite dumps, without what can be measured again; NAME.json is what the API says. It is done once
for a release, and never again for the same one: what was released stays what it was.
"""

from __future__ import annotations

import json
import sqlite3
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from tests.conftest import indexed, until
from tests.pictures import write_shoot
from winnow.store.backups import all_of
from winnow.web.app import create_app
from winnow.work.runtime import Places, Runtime
from winnow.work.workers.pool import Workers

FOLDER = Path(__file__).parent / "kept"
# Where the shoot's pictures were: on no computer of this world.
PLACE = "/photographs/Fair at the quay"
_LISTS = (
    "filters", "recipes", "text-templates", "profiles", "programs", "settings", "labels",
    "label-sets", "key-sets", "label-texts",
)  # fmt: skip
_COLUMNS = ("name", "kind", "decision", "stars", "label", "group", "turned", "pairs", "shot_at")


def opened(places: Places) -> tuple[Runtime, TestClient]:
    """A Winnow over places, with one thread, and who may ask it."""
    runtime = Runtime(places, Workers(lambda: ThreadPoolExecutor(1)))
    app = create_app(runtime, "token", frozenset({"testserver"}))
    return runtime, TestClient(app, headers={"authorization": "Bearer token"})


def told(client: TestClient) -> dict[str, Any]:
    """What a person finds: the first shoot with all that was said of it, and what is kept."""

    def get(path: str) -> Any:
        answer = client.get(f"/api/{path}")
        assert answer.status_code == 200, (path, answer.text)
        return answer.json()

    frames = get("shoots/1/frames")
    shoot = get("shoots/1")
    texts = [
        client.post("/api/shoots/1/texts", json={"frames": [frame]}).json()
        for frame in frames["id"]
    ]
    return {
        "shoot": {key: shoot[key] for key in ("name", "folders", "keep_target", "way", "filter")},
        "picks": shoot["tally"]["picks"],
        "frames": {key: frames[key] for key in _COLUMNS},
        "texts": texts,
        "history": [step["sentence"] for step in get("shoots/1/history/all")],
        "undo": get("shoots/1/history")["undo"],
        "clocks": get("shoots/1/clocks"),
        "deliveries": [(one["state"], one["files"]) for one in get("shoots/1/deliveries")],
        **{name: get(name) for name in _LISTS},
    }


def _fill(client: TestClient, folder: Path) -> None:
    """Say something of everything that is kept."""

    def put(path: str, body: object) -> None:
        answer = client.put(f"/api/{path}", json=body)
        assert answer.status_code < 300, (path, answer.text)

    def post(path: str, body: object) -> None:
        answer = client.post(f"/api/shoots/1/{path}", json=body)
        assert answer.status_code < 300, (path, answer.text)

    a, b, c, d, e = client.get("/api/shoots/1/frames").json()["id"]
    labels = client.get("/api/labels").json()
    put("labels", [{**labels[0], "name": "Parade", "meaning": "goes into the album"}, *labels[1:]])
    post("marks", {"frames": [a, d], "decision": "pick", "stars": 4})
    post("marks", {"frames": [b], "decision": "reject"})
    post("marks", {"frames": [d], "label": labels[0]["letter"]})
    post("texts/edit", {"frames": [a], "put": {"title": "Lanterns"}, "add": ["fair", "night"]})
    post("groups/edit", {"do": "split", "frames": [b]})
    post("pairs", {"frames": [d, e]})
    post("turn", {"frames": [c], "by": 1})
    post("marks", {"frames": [c], "stars": 5})
    client.post("/api/shoots/1/undo", json={})
    client.patch("/api/shoots/1", json={"keep_target": 3})
    put("filters", {"name": "Keepers", "filter": {"decisions": ["pick"], "written": "iso<800"}})
    put("text-templates", {"name": "Fair", "put": {"city": "Saltmarsh"}, "add": ["fair"]})
    put(
        "recipes", {"name": "To the client", "target": PLACE + " picks", "template": "{name}_{seq}"}
    )
    put("profiles", {"name": "Mine", "pick_stars": 2})
    put("programs", {"name": "Editor", "command": "editor {files}"})
    put("label-sets", {"name": "Wedding", "labels": labels})
    put("key-sets", {"name": "Left hand", "keys": {"pick": ["G"]}})
    post("deliveries", {"target": str(folder.parent / "picks")})
    until(lambda: client.get("/api/shoots/1/deliveries").json()[0]["state"] == "done")


def main(name: str) -> None:
    """Make both files anew."""
    with tempfile.TemporaryDirectory() as home:
        folder = Path(home) / "Fair at the quay"
        write_shoot(folder, [1, 1, 2, 2, 3])
        places = Places(Path(home) / "data", Path(home) / "cache")
        runtime, client = opened(places)
        indexed(runtime, folder)
        _fill(client, folder)
        known = told(client)
        runtime.back_up(0)
        runtime.close()
        with sqlite3.connect(all_of(places.data)[0].path) as conn:
            version = conn.execute("PRAGMA user_version").fetchone()[0]
            lines = [*conn.iterdump(), f"PRAGMA user_version = {version};"]
        FOLDER.mkdir(exist_ok=True)
        for suffix, text in (
            ("sql", "\n".join(lines) + "\n"),
            ("json", json.dumps(known, indent=1, ensure_ascii=False, sort_keys=True) + "\n"),
        ):
            text = text.replace(str(folder), PLACE).replace(home, "/photographs")
            (FOLDER / f"{name}.{suffix}").write_text(text, "utf-8")


if __name__ == "__main__":
    main(sys.argv[1])
