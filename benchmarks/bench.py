"""Every figure of speed and size, as one table: `make bench`.

Takes a quarter of an hour; nothing else should run.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

from benchmarks import behind, card, comparing, run, scale, stepping
from benchmarks.table import keep_rows


def main() -> None:
    """Measure one after the other, print the table and keep it in docs/benchmarks.md."""
    run.main()
    with tempfile.TemporaryDirectory() as folder:
        behind.main(Path(folder))
    stepping.main()
    comparing.main()
    scale.main()
    card.main()
    keep_rows()


if __name__ == "__main__":
    main()
