"""Long loops: a few rounds in `make test`, so that none is ever broken unnoticed, and many in `make
soak`."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
# By how much `make soak` multiplies the rounds of every loop.
TIMES = int(os.environ.get("WINNOW_ROUNDS", "1"))


def rounds(few: int) -> int:
    """How often a loop goes round that goes round a few times in `make test`."""
    return few * TIMES


def run(script: Path, *arguments: object) -> list[int]:
    """Run a script of the tests to its end, however long that takes; the numbers that it prints
    last."""
    done = subprocess.run(
        [sys.executable, script, *map(str, arguments)],
        capture_output=True,
        text=True,
        timeout=600 + 250 * TIMES,
        env={**os.environ, "PYTHONPATH": str(ROOT)},
    )
    assert done.returncode == 0, done.stderr[-3000:]
    return [int(word) for word in done.stdout.splitlines()[-1].split()]
