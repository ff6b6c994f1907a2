"""`python -m benchmarks.truth FOLDER ... [--part tuned] [--only sharper]`.

The folders hold the free photographs that are not in scikit-image's package: those of Debian's
mate-backgrounds and of scikit-learn's wheel, unpacked. Prints one table; an hour on two cores for
all of both parts.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Final, get_args

from benchmarks.truth import bursts, places, sequences, sharper
from benchmarks.truth.free import Part, Scene, scenes
from benchmarks.truth.score import HEAD, Score

TABLES: Final[dict[str, Callable[[Sequence[Scene]], Iterator[Score]]]] = {
    "sharper": sharper.scores,
    "bursts": bursts.scores,
    "places": places.scores,
    "sequences": sequences.scores,
}


def main() -> None:
    """Measure, and print."""
    asked = argparse.ArgumentParser(prog="python -m benchmarks.truth", description=__doc__)
    asked.add_argument("folders", nargs="*", type=Path, help="where the photographs lie")
    asked.add_argument("--part", choices=get_args(Part), default="measured")
    asked.add_argument("--only", choices=TABLES, nargs="*", default=list(TABLES))
    wanted = asked.parse_args()
    try:
        seen = list(scenes(wanted.folders, wanted.part))
    except FileNotFoundError as error:
        sys.exit(f"These photographs lie in none of the folders: {error}.")
    print(HEAD)
    for name in wanted.only:
        for score in TABLES[name](seen):
            print(score.row(), flush=True)


if __name__ == "__main__":
    main()
