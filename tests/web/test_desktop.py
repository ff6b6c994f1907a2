"""The page opens by itself where there is a screen, and Winnow is in the desktop's menu."""

from __future__ import annotations

import configparser
import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from tests.conftest import until
from tests.pictures import write_shoot
from winnow.cli import desktop
from winnow.cli.main import main
from winnow.web import own_files


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    monkeypatch.setattr(sys, "platform", "linux")
    return tmp_path / "share"


def arguments_of(entry: str) -> list[str]:
    """The Exec key, read as the specification says: first as a value, then as a command line, whose
    double quotes are those of a shell."""
    parser = configparser.RawConfigParser()
    parser.optionxform = str  # type: ignore[assignment]
    parser.read_string(entry)
    value = parser["Desktop Entry"]["Exec"].replace("\\\\", "\\")
    command = ["sh", "-c", f"printf '%s\\n' {value}"]
    said = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    return [argument.replace("%%", "%") for argument in said.splitlines()]


def test_it_is_put_into_the_menu_and_taken_out(home: Path) -> None:
    assert main(["desktop"]) == 0
    entry = (home / "applications" / "winnow.desktop").read_text()
    assert "MimeType=inode/directory;" in entry
    assert arguments_of(entry)[-2:] == ["open", "%F"]
    icon = (home / "icons/hicolor/scalable/apps/winnow.svg").read_text()
    assert icon.startswith("<svg")
    assert main(["desktop", "--remove"]) == 0
    assert [path for path in home.rglob("*") if path.is_file() and "cache" not in path.name] == []
    assert main(["desktop", "--remove"]) == 0


@pytest.mark.parametrize(
    "path", ["/opt/winnow/bin/winnow", '/home/a b/100 % "own"/$HOME/`x`/back\\slash/winnow']
)
def test_whatever_its_folder_is_called_it_is_started(path: str) -> None:
    assert arguments_of(desktop.entry([path])) == [path, "open", "%F"]


@pytest.mark.parametrize("platform", ["win32", "darwin"])
def test_other_systems_are_told(
    platform: str, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr(sys, "platform", platform)
    assert main(["desktop"]) == 1
    assert "winnow open" in capsys.readouterr().err


def test_a_screen_is_known(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    monkeypatch.setattr(sys, "platform", "linux")
    assert not own_files.has_screen()
    monkeypatch.setenv("WAYLAND_DISPLAY", "wayland-0")
    assert own_files.has_screen()
    monkeypatch.delenv("WAYLAND_DISPLAY")
    monkeypatch.setattr(sys, "platform", "darwin")
    assert own_files.has_screen()


def test_the_page_opens_by_itself_also_where_winnow_runs_already(tmp_path: Path) -> None:
    """A program stands in for the browser: it writes down what it is to open."""
    write_shoot(tmp_path / "shoot", [1])
    browser = tmp_path / "browser"
    browser.write_text(f'#!/bin/sh\nprintf "%s\\n" "$1" >> "{tmp_path}/opened"\n')
    browser.chmod(0o755)
    env = {
        **os.environ,
        "DISPLAY": ":77",
        "BROWSER": str(browser),
        "WINNOW_DATA": str(tmp_path / "data"),
        "WINNOW_CACHE": str(tmp_path / "cache"),
    }
    command = [sys.executable, "-m", "winnow", "open", str(tmp_path / "shoot"), "--port", "0"]

    def opened() -> list[str]:
        file = tmp_path / "opened"
        return file.read_text().split() if file.exists() else []

    with subprocess.Popen(command, env=env, stdout=subprocess.PIPE, text=True) as winnow:
        try:
            until(lambda: len(opened()) == 1)
            leads = (tmp_path / "data" / "open.html").read_text()
            assert "/shoots/1?token=" in leads
            assert opened() == [(tmp_path / "data" / "open.html").as_uri()]
            again = subprocess.run(command, env=env, capture_output=True, text=True, check=True)
            assert "running already" in again.stdout
            until(lambda: len(opened()) == 2)
            alone = [*command, "--no-browser"]
            subprocess.run(alone, env=env, capture_output=True, text=True, check=True)
            assert len(opened()) == 2
        finally:
            winnow.send_signal(signal.SIGINT)
            assert winnow.stdout
            said = winnow.stdout.read()
    assert "--no-browser" in said
