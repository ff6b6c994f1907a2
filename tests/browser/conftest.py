"""A real Winnow in a process of its own, and a real browser on it."""

import os
import re
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.browser.chromium import Page, chromium


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
                [sys.executable, "-m", "winnow.cli", *map(str, arguments), "--port", "0"],
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

    def stop(self, how: int = signal.SIGINT) -> None:
        """Stop it, or kill it."""
        if self._process:
            self._process.send_signal(how)
            self._process.communicate(timeout=60)
            self._process = None


@pytest.fixture
def winnow(tmp_path: Path) -> Iterator[Running]:
    home = tmp_path / "home"
    home.mkdir()
    running = Running(home)
    yield running
    running.stop()


@pytest.fixture
def page() -> Iterator[Page]:
    with chromium() as made:
        yield made
        wrong = [
            entry
            for entry in made.driver.get_log("browser")
            if entry["level"] == "SEVERE" and "Failed to load resource" not in entry["message"]
        ]
        assert wrong == []
