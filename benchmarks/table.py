"""The table that `make bench` prints and keeps in docs/benchmarks.md: each figure with its floor
and its goal."""

from __future__ import annotations

import os
import platform
import re
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

DOCS = Path(__file__).parent.parent / "docs" / "benchmarks.md"
HEAD = "| what | measured | floor | goal | |\n|---|---|---|---|---|"


@dataclass(frozen=True, slots=True)
class Row:
    """A figure in words; the floor is what the machine itself takes for the bare work.

    ``met``: None without a goal.
    """

    what: str
    measured: str
    floor: str
    goal: str
    met: bool | None


ROWS: list[Row] = []


def row(
    what: str, measured: str, goal: str = "", *, floor: str = "", met: bool | None = None
) -> None:
    """Note a figure, and say it."""
    ROWS.append(Row(what, measured, floor, goal, met))
    print(line(ROWS[-1]), flush=True)


def line(row: Row) -> str:
    verdict = {True: "met", False: "**not met**", None: ""}[row.met]
    return f"| {row.what} | {row.measured} | {row.floor} | {row.goal} | {verdict} |"


def machine() -> str:
    """The machine in words; figures mean little without it."""
    cpu = next(
        (text.split(":")[1].strip() for text in _lines("/proc/cpuinfo") if "model name" in text),
        platform.processor() or platform.machine(),
    )
    memory = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES") / 2**30
    return (
        f"{os.cpu_count()} cores ({cpu}), {memory:.0f} GiB, {platform.system()} "
        f"{platform.machine()}, "
        f"Python {platform.python_version()}, {datetime.now(UTC):%d %B %Y}"
    )


def _lines(path: str) -> list[str]:
    try:
        return Path(path).read_text().splitlines()
    except OSError:
        return []


def keep(name: str, table: str) -> None:
    """Print a table and put it into docs/benchmarks.md, in the place of the last one of this
    name."""
    print(table, flush=True)
    begin, end = f"<!-- {name}: begin -->", f"<!-- {name}: end -->"
    text = DOCS.read_text()
    assert begin in text, f"{DOCS} has no place for {name}"
    DOCS.write_text(
        re.sub(f"{begin}.*?{end}", lambda _: f"{begin}\n{table}\n{end}", text, flags=re.S)
    )


def keep_rows() -> None:
    """The figures that were noted, as the first table."""
    keep("figures", "\n".join([f"{machine()}.", "", HEAD, *map(line, ROWS)]))
