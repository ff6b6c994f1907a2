"""Ten thousand damaged files: each is a picture or a notice, no process is lost, and memory stays bounded."""

import os
import subprocess
import sys
from pathlib import Path

SCRIPT = Path(__file__).with_name("fuzz.py")


def test_ten_thousand_damaged_files(tmp_path: Path) -> None:
    done = subprocess.run(
        [sys.executable, SCRIPT, tmp_path, "10000", "11"],
        capture_output=True,
        text=True,
        timeout=1200,
        env={**os.environ, "PYTHONPATH": str(SCRIPT.parents[2])},
    )
    assert done.returncode == 0, done.stderr[-3000:]
    count, pictures, notices, deaths, errors, memory = map(int, done.stdout.split())
    said = [line for line in done.stderr.splitlines() if "Error" in line or "error" in line]
    assert errors == 0, said[-20:]
    assert pictures + notices + deaths == count
    assert deaths <= 2, "the decoders' own faults; a process that dies is started again"
    assert min(pictures, notices) > 2000
    assert memory < 1500, "MB"
