"""A real Winnow in a process of its own, and a real browser on it: both last for all tests.

Each test has a window with cookies and storage of its own, and shoots of its own; afterwards the
shoots are forgotten, and settings, labels, filters and sets are what they were. A test that kills,
shares or restarts its Winnow asks for ``alone``.
"""

import json
import os
import re
import signal
import sqlite3
import subprocess
import sys
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.browser.chromium import Browser, Page, chromium
from tests.conftest import by_number, until


class Running:
    """Winnow as a person starts it, on its own data folder."""

    def __init__(self, home: Path) -> None:
        self.home = home
        self.url = ""
        self._process: subprocess.Popen[str] | None = None

    def start(self, *arguments: object) -> str:
        """Start it and return the address it prints."""
        with (self.home / "log").open("a") as log:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "winnow", *map(str, arguments), "--port", "0"],
                stdout=subprocess.PIPE,
                stderr=log,
                text=True,
                env={
                    **os.environ,
                    "WINNOW_DATA": str(self.home / "data"),
                    "WINNOW_CACHE": str(self.home / "cache"),
                    "XDG_DATA_HOME": str(self.home / "own"),  # where the system has its trash
                },
            )
        assert self._process.stdout
        for line in self._process.stdout:
            if found := re.search(r"http://\S+", line):
                self.url = found.group(0)
                return self.url
        raise AssertionError((self.home / "log").read_text())

    def open(self, folder: Path) -> str:
        """Start it with a folder, and return the address of the shoot."""
        return self.start("open", folder)

    def stop(self, how: int = signal.SIGINT) -> None:
        """Stop it, or kill it."""
        if self._process:
            self._process.send_signal(how)
            self._process.communicate(timeout=60)
            self._process = None


class Shared(Running):
    """A Winnow that one test after the other uses."""

    # What is not of a shoot; the rest goes with the shoots.
    _KEPT = ("label", "setting", "saved_filter", "saved_set")

    def start(self, *arguments: object) -> str:
        url = super().start(*arguments)
        self._base, _, self._token = url.partition("/?token=")
        with sqlite3.connect(self.home / "data" / "winnow.db") as db:
            self._first = {
                table: db.execute(f"SELECT * FROM {table}").fetchall() for table in self._KEPT
            }
        return url

    def _ask(self, method: str, path: str, body: Any = None) -> Any:
        data = json.dumps(body).encode() if body is not None else None
        headers = {"Authorization": f"Bearer {self._token}", "Content-Type": "application/json"}
        asked = urllib.request.Request(
            f"{by_number(self._base)}/api{path}", data, headers, method=method
        )
        with urllib.request.urlopen(asked, timeout=60) as answer:
            content = answer.read()
        return json.loads(content) if content else None

    def open(self, folder: Path) -> str:
        """Make a shoot of a folder, and return its address once it is analysed: the page then draws
        it once."""
        shoot = self._ask("POST", "/shoots", {"folders": [str(folder)]})["id"]
        until(lambda: not self._ask("GET", f"/shoots/{shoot}")["status"]["running"])
        return f"{self._base}/shoots/{shoot}?token={self._token}"

    def put_back(self) -> bool:
        """Forget what a test left behind.

        False where that can't be: frames that are set aside stay.
        """
        try:
            for shoot in self._ask("GET", "/shoots"):
                self._ask("DELETE", f"/shoots/{shoot['id']}")
        except urllib.error.HTTPError:
            return False
        with sqlite3.connect(self.home / "data" / "winnow.db", timeout=60) as db:
            for table, rows in self._first.items():
                db.execute(f"DELETE FROM {table}")
                for row in rows:
                    db.execute(f"INSERT INTO {table} VALUES ({', '.join('?' * len(row))})", row)
        db.close()
        return True


class _Server:
    """The shared Winnow, begun anew where it can't be put back."""

    def __init__(self, homes: pytest.TempPathFactory) -> None:
        self._homes = homes
        self.running: Shared | None = None

    def get(self) -> Shared:
        if self.running is None:
            running = Shared(self._homes.mktemp("home"))
            running.start("serve")
            self.running = running
        return self.running

    def end(self) -> None:
        if self.running is not None:
            self.running.stop()
            self.running = None


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[_Server]:
    made = _Server(tmp_path_factory)
    yield made
    made.end()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as made:
        yield made


@pytest.fixture
def winnow(server: _Server) -> Iterator[Shared]:
    running = server.get()
    yield running
    if not running.put_back():
        server.end()


@pytest.fixture
def alone(tmp_path: Path) -> Iterator[Running]:
    """A Winnow for one test."""
    home = tmp_path / "home"
    home.mkdir()
    running = Running(home)
    yield running
    running.stop()


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    browser.errors()  # those of tests before
    with browser.page() as made:
        yield made
        assert browser.errors() == []
