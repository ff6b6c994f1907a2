"""A token for programs of the person's own, and a script that culls with it."""

from __future__ import annotations

import os
import signal
import stat
import subprocess
import sys
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.pictures import write_natural
from tests.web.kill_server import Server
from winnow.cli.main import main
from winnow.web.app import create_app
from winnow.web.own_files import OwnToken
from winnow.work.runtime import Runtime

SCRIPT = Path("docs/examples/cull.py").resolve()


@pytest.fixture
def asker(runtime: Runtime) -> TestClient:
    """Somebody without any cookie or token yet."""
    app = create_app(runtime, "the token of this start", frozenset({"testserver"}))
    return TestClient(app, follow_redirects=False)


def status(asker: TestClient, token: str, path: str = "/api/v1/shoots") -> int:
    return asker.get(path, headers={"authorization": f"Bearer {token}"}).status_code


def test_without_a_token_no_program_gets_in(asker: TestClient, runtime: Runtime) -> None:
    own = OwnToken(runtime.places.data)
    assert own.kept() == ""
    for given in ("", "x", "none"):
        assert status(asker, given) == 401
    (runtime.places.data / "token").write_text("")
    assert status(asker, "") == 401
    # Something else has its name.
    (runtime.places.data / "token").write_text("short")
    assert status(asker, "short") == 401


def test_a_token_lasts_until_another_one_is_made(asker: TestClient, runtime: Runtime) -> None:
    own = OwnToken(runtime.places.data)
    token = own.make()
    assert stat.S_IMODE((runtime.places.data / "token").stat().st_mode) == 0o600
    assert status(asker, token) == 200
    assert status(asker, token + "x") == 401
    # It is for programs: no page is opened by it, and it becomes no cookie.
    opened = asker.get("/", params={"token": token})
    assert (opened.status_code, "set-cookie" in opened.headers) == (401, False)
    assert asker.get("/api/shoots", headers={"cookie": f"winnow-={token}"}).status_code == 401
    another = own.make()
    assert (status(asker, token), status(asker, another)) == (401, 200)
    assert own.forget() is True
    assert status(asker, another) == 401
    assert own.forget() is False


def test_version_1_is_what_the_page_asks(asker: TestClient, runtime: Runtime) -> None:
    token = OwnToken(runtime.places.data).make()
    headers = {"authorization": f"Bearer {token}"}
    for path in ("shoots", "settings", "openapi.json"):
        now = asker.get(f"/api/{path}", headers=headers)
        assert now.status_code == 200
        assert asker.get(f"/api/v1/{path}", headers=headers).json() == now.json()
    assert status(asker, token, "/api/v2/shoots") == 404
    assert status(asker, token, "/api/v1/v1/shoots") == 404


def test_the_command_prints_it(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("WINNOW_DATA", str(tmp_path / "data"))

    def said(*arguments: str) -> tuple[str, str]:
        assert main(["token", *arguments]) == 0
        out, wrong = capsys.readouterr()
        return out, wrong

    first, wrong = said()
    url, token = (line.partition("=")[2] for line in first.split())
    assert url == "http://127.0.0.1:8470/api/v1"
    assert token == OwnToken(tmp_path / "data").kept()
    assert "start it with" in wrong
    assert said()[0] == first
    # It may be the first that Winnow ever does here: nobody else looks into its folder.
    assert stat.S_IMODE((tmp_path / "data").stat().st_mode) == 0o700
    assert said("--new")[0] != first
    assert said("--forget")[0] == "No program gets in any more.\n"
    assert said("--forget")[0] == "There was no token.\n"


def test_a_folder_is_culled_by_script(tmp_path: Path) -> None:
    folder, target = tmp_path / "shoot", tmp_path / "keepers"
    write_natural(folder, [(0, 0, 0), (30, 10, 0), (-20, 15, 4)])
    server = Server(tmp_path, folder)
    env = {**os.environ, "WINNOW_DATA": str(tmp_path / "data")}

    def run(*command: object) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, *map(str, command)], env=env, capture_output=True, text=True
        )

    printed = run("-m", "winnow", "token").stdout
    env |= dict(line.split("=", 1) for line in printed.split())
    assert env["WINNOW_URL"] == f"http://127.0.0.1:{server.port}/api/v1"
    try:
        ended = run(SCRIPT, folder, target)
        assert ended.returncode == 0, ended.stderr
        picks = sorted(path.name for path in target.iterdir())
        assert picks
        assert "QH_0003.jpg" not in picks
        assert f"{len(picks)} of {len(picks)} files copied to {target}" in ended.stdout
        # It is a step of the history, as anybody's.
        assert server.ask("GET", "/api/shoots/1/history")["undo"] == "rejected QH_0003"
        refused = run(SCRIPT, tmp_path / "nowhere", target)
        assert refused.returncode == 1
        assert "nowhere" in refused.stderr
        env["WINNOW_TOKEN"] = "another"
        assert "Open Winnow with the address" in run(SCRIPT, folder, target).stderr
    finally:
        server.end(signal.SIGINT)


def test_the_script_is_short() -> None:
    assert len(SCRIPT.read_text().splitlines()) <= 70
