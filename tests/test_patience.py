"""Waiting goes on over a machine that stood still."""

import pytest

from tests import patience


def test_minutes_that_the_machine_slept_are_not_waited(monkeypatch: pytest.MonkeyPatch) -> None:
    times = iter([0.0, 1.0, 700.0, 701.0, 730.0, 731.0])
    monkeypatch.setattr("tests.patience.time.monotonic", lambda: next(times))
    assert len(list(patience.patiently(60))) == 4
