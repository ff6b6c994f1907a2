"""Thousands of damaged files: each is a picture or a notice, no process is lost, and memory stays
bounded."""

from pathlib import Path

import pytest

from tests import soak


@pytest.mark.soak
def test_damaged_files(tmp_path: Path) -> None:
    """Each time the same ones, the first of ten thousand in `make test`."""
    count, pictures, notices, deaths, errors, memory = soak.run(
        Path(__file__).with_name("fuzz.py"), tmp_path, soak.rounds(200), 11
    )
    assert count == soak.rounds(200)
    assert errors == 0
    assert pictures + notices + deaths == count
    assert deaths <= 2, "the decoders' own faults; a process that dies is started again"
    assert min(pictures, notices) > count / 5
    assert memory < 1500, "MB"
