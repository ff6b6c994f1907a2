"""Each guard of docs/safety.md has a test that fails when the guard is taken out: here each is
taken out."""

import json
import os
import subprocess
import sys
from collections.abc import Iterator

import pytest

from tests import guards


@pytest.fixture(scope="module")
def taker() -> Iterator["subprocess.Popen[str]"]:
    """A process that has everything loaded; see ``tests/guards.py``."""
    with subprocess.Popen(
        [sys.executable, "-m", "tests.guards"],
        cwd=guards.ROOT,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        # Alone with its own plugins: it is quicker, and no other test runner's child.
        env={
            name: value
            for name, value in {**os.environ, "PYTEST_DISABLE_PLUGIN_AUTOLOAD": "1"}.items()
            if not name.startswith("PYTEST_XDIST")
        },
    ) as process:
        yield process
        assert process.stdin
        process.stdin.close()


@pytest.mark.parametrize("name", guards.GUARDS)
def test_without_it_a_test_fails(taker: "subprocess.Popen[str]", name: str) -> None:
    assert taker.stdin
    assert taker.stdout
    print(name, file=taker.stdin, flush=True)
    status, said = json.loads(taker.stdout.readline())
    assert status == pytest.ExitCode.TESTS_FAILED, said
    assert "1 failed" in said


def test_every_guard_that_is_marked_is_taken_out() -> None:
    assert set(guards.places()) == set(guards.GUARDS)


def test_a_mark_stands_behind_its_line_or_above_it() -> None:
    source = "x = 1  # guard: a; b\n    # guard: c\n    y = 2\n"
    assert guards.marked(source) == {"a": {1}, "b": {1}, "c": {3}}
