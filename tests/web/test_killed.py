"""A server that is killed in the middle of a cull loses nothing that it answered."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

KILLER = Path(__file__).with_name("kill_server.py")


# Twice fifty, so that both processors have some.
@pytest.mark.parametrize("seed", [5, 6])
def test_a_hundred_kills_in_the_middle_of_a_cull(tmp_path: Path, seed: int) -> None:
    """Server and workers, with SIGKILL at random moments; see kill_server.py."""
    done = subprocess.run(
        [sys.executable, KILLER, tmp_path, "50", str(seed)],
        capture_output=True,
        text=True,
        timeout=1500,
        env={**os.environ, "PYTHONPATH": str(KILLER.parents[2])},
    )
    assert done.returncode == 0, done.stderr[-3000:]
    kills, answered = map(int, done.stdout.split())
    assert kills == 50
    assert answered > 500
