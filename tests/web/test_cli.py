"""The command line, as a person starts and stops it."""

import errno
import json
import os
import re
import signal
import sqlite3
import subprocess
import sys
import urllib.request
from pathlib import Path
from urllib.parse import quote_plus

import pytest

from tests.conftest import by_number, until
from tests.pictures import write_shoot
from winnow.cli import serving
from winnow.cli.main import main


def start(tmp_path: Path, *arguments: object) -> "subprocess.Popen[str]":
    return subprocess.Popen(
        [sys.executable, "-m", "winnow", *map(str, arguments)],
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        env={
            **os.environ,
            "WINNOW_DATA": str(tmp_path / "data"),
            "WINNOW_CACHE": str(tmp_path / "cache"),
        },
    )


def address(process: "subprocess.Popen[str]") -> str:
    assert process.stdout
    for line in process.stdout:
        if found := re.search(r"http://\S+", line):
            return found.group(0)
    raise AssertionError("no address was printed")


def ask(url: str, path: str) -> object:
    base, token = re.fullmatch(r"(http://[^/]+)/.*token=(.+)", by_number(url)).groups()  # type: ignore[union-attr]
    request = urllib.request.Request(base + path, headers={"Authorization": f"Bearer {token}"})
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.load(answer)


def test_open_index_and_stop(tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    process = start(tmp_path, "open", folder, "--port", 0)
    url = address(process)
    assert "/shoots/1?" in url
    until(lambda: ask(url, "/api/shoots/1")["tally"]["done"] == 2)  # type: ignore[index]

    other = tmp_path / "other"
    write_shoot(other, [3])
    second = start(tmp_path, "open", other)
    said, _ = second.communicate(timeout=60)
    assert "running already" in said
    assert "/shoots/2?" in said
    assert second.returncode == 0

    process.send_signal(signal.SIGINT)
    said, _ = process.communicate(timeout=60)
    assert "Winnow has stopped." in said
    assert "Traceback" not in said
    assert process.returncode == 0


def test_a_folder_that_is_not_there(tmp_path: Path) -> None:
    process = start(tmp_path, "open", tmp_path / "nowhere")
    said, _ = process.communicate(timeout=60)
    assert process.returncode == 1
    assert "no folder" in said
    assert "Traceback" not in said


@pytest.mark.parametrize("arguments", [["--help"], ["serve", "--help"], ["--version"]])
def test_help(tmp_path: Path, arguments: list[str]) -> None:
    process = start(tmp_path, *arguments)
    said, _ = process.communicate(timeout=60)
    assert process.returncode == 0
    assert "innow" in said


def test_a_disk_that_fails_at_the_start_is_said_in_a_sentence(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    for error, words in (
        (sqlite3.OperationalError("disk I/O error"), "Winnow’s database can’t be used now"),
        (OSError(errno.EIO, "Input/output error", "/data/winnow.db"), "winnow.db: the disk"),
    ):

        def failing(*_: object, error: Exception = error, **__: object) -> None:
            raise error

        monkeypatch.setattr(serving, "Runtime", failing)
        assert main(["serve", "--port", "0"]) == 1
        said = capsys.readouterr().err
        assert said.startswith(f"winnow: {words}")
        assert "Errno" not in said


def test_everything_of_a_person_is_asked_about_in_the_page(tmp_path: Path) -> None:
    process = start(tmp_path, "open", "/", "--port", 0)
    url = address(process)
    assert f"/?open={quote_plus('/')}&token=" in url
    assert ask(url, "/api/shoots") == []
    process.send_signal(signal.SIGTERM)
    process.communicate(timeout=60)


def test_a_folder_of_a_shoot_that_moved_is_asked_about_in_the_page(tmp_path: Path) -> None:
    before, now = tmp_path / "one", tmp_path / "two"
    write_shoot(before, [1, 2])
    process = start(tmp_path, "open", before, "--port", 0)
    url = address(process)
    until(lambda: ask(url, "/api/shoots/1")["tally"]["done"] == 2)  # type: ignore[index]
    before.rename(now)
    second = start(tmp_path, "open", now)
    said, _ = second.communicate(timeout=60)
    assert "“one” seems to have moved: 2 of its 2 frames lie here" in said
    assert f"/?open={quote_plus(str(now))}&token=" in said
    process.send_signal(signal.SIGTERM)
    process.communicate(timeout=60)
    third = start(tmp_path, "open", now, "--port", 0)
    url = address(third)
    assert f"/?open={quote_plus(str(now))}&token=" in url
    assert len(ask(url, "/api/shoots")) == 1  # type: ignore[arg-type]
    third.send_signal(signal.SIGTERM)
    third.communicate(timeout=60)
    indexing = start(tmp_path, "index", now)
    said, _ = indexing.communicate(timeout=60)
    assert "Open it in the page first" in said
    assert indexing.returncode == 1


def test_a_studios_machine_shares_what_was_opened_last(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As a service starts it: nobody is there to be asked, and no folder is named."""
    monkeypatch.delenv("WINNOW_PASSWORD", raising=False)
    serve = ("serve", "--share", "--port", 0)
    asked = start(tmp_path, *serve)
    said, _ = asked.communicate(timeout=60)
    assert asked.returncode == 1
    assert "give it in WINNOW_PASSWORD" in said

    monkeypatch.setenv("WINNOW_PASSWORD", "a lantern at dusk")
    assert "Nothing is shared yet" in _said_and_stopped(start(tmp_path, *serve))
    write_shoot(tmp_path / "market", [1])
    _said_and_stopped(start(tmp_path, "open", tmp_path / "market", "--port", 0))
    assert "“market” is shared" in _said_and_stopped(start(tmp_path, *serve))


def _said_and_stopped(process: "subprocess.Popen[str]") -> str:
    """What a process says until it is ready, and until it ends, told to as a service is."""
    assert process.stdout
    lines = []
    for line in process.stdout:
        lines.append(line)
        if "Ctrl+C stops it" in line:
            break
    process.send_signal(signal.SIGTERM)
    rest, _ = process.communicate(timeout=60)
    said = "".join(lines) + rest
    assert process.returncode == 0, said
    assert "Winnow has stopped." in said
    assert "Traceback" not in said
    return said
