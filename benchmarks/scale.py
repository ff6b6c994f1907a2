"""How work grows with the size of a shoot: 1,000 to 100,000 frames, as rows with shared pictures.

Each figure has a floor measured beside it; docs/figures/scale.png is drawn.
"""

from __future__ import annotations

import math
import statistics
import sys
import tempfile
import time
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from benchmarks.run import bare_writes, many_frames, percentile, set_marks, timed
from benchmarks.table import keep, row
from winnow.core.filters.filter import Filter
from winnow.core.marks import Decision, Edit
from winnow.photos.proof_pdf import font_path
from winnow.store import frames
from winnow.store.db import Database
from winnow.work import filtering
from winnow.work.index import regroup

SIZES = (1_000, 10_000, 50_000, 100_000)
GOALS = {
    "filter with counts": 30.0,
    "5,000 marked at once": 150.0,
    "a mark, p95": 10.0,
    "start, known": 2000.0,
}


def started(path: Path, shoot: int) -> float:
    """From opening the database to the rows of the sheet, in ms."""
    begin = time.perf_counter()
    db = Database(path)
    frames.rows(db, shoot)
    db.close()
    return (time.perf_counter() - begin) * 1000


def measure(count: int, folder: Path) -> dict[str, tuple[float, float]]:
    """Each figure with its floor, in ms; sizes in MB."""
    path = folder / f"{count}.db"
    db = Database(path)
    shoot = many_frames(db, count)
    ids = filtering.matching(db, shoot, Filter())
    turn = iter(range(10**9))
    read = db.read
    median = statistics.median

    def floor(sql: str) -> float:
        return median(timed(lambda: read.execute(sql, (shoot,)).fetchall(), 7))

    one_mark = timed(
        lambda: set_marks(db, shoot, [ids[next(turn) % count]], Edit(Decision.REJECT)), 200
    )
    some = ids[:: max(1, count // 5000)][:5000]
    bulk = timed(lambda: set_marks(db, shoot, some, Edit(stars=next(turn) % 5 + 1)), 5)
    values = [(n % 5, frame) for n, frame in enumerate(some)]

    def bare() -> None:
        with db.write() as conn:
            conn.executemany("UPDATE mark SET stars = ? WHERE frame_id = ?", values)

    wanted = Filter((Decision.PICK, Decision.UNDECIDED), stars=2)
    found = timed(lambda: filtering.find(db, shoot, wanted), 9)
    listed = timed(lambda: frames.rows(db, shoot), 3)
    regrouped = timed(lambda: regroup.regroup(db, shoot), 3)
    own = "SELECT frame.id FROM frame JOIN mark ON frame_id = frame.id WHERE shoot_id = ?"
    figures = {
        "a mark, p95": (percentile(one_mark, 0.95), percentile(bare_writes(folder), 0.95)),
        "5,000 marked at once": (median(bulk), median(timed(bare, 5))),
        "filter with counts": (
            median(found),
            floor(f"{own} AND stars >= 2 AND decision != 'reject'"),
        ),
        "every row of the sheet": (median(listed), floor(own.replace("frame.id FROM", "* FROM"))),
        "grouped anew": (median(regrouped), floor("SELECT likeness FROM frame WHERE shoot_id = ?")),
    }
    db.close()
    figures["start, known"] = (started(path, shoot), figures["every row of the sheet"][1])
    figures["database, MB"] = (path.stat().st_size / 1e6, count * 300 / 1e6)
    (folder / "floor.db").unlink()
    return figures


def plot(results: dict[int, dict[str, tuple[float, float]]], target: Path) -> None:
    """Time against size, both by powers of ten; each line is named at its end."""
    width, height, left, bottom, right, top = 900, 560, 80, 60, 230, 30
    image = Image.new("RGB", (width, height), "#fafafa")
    draw = ImageDraw.Draw(image)
    font = ImageFont.truetype(font_path(), 15)
    low, high = 0.1, 10_000.0

    def at(size: float, value: float) -> tuple[float, float]:
        x = (math.log10(size) - 3) / 2
        y = (math.log10(max(value, low)) - math.log10(low)) / math.log10(high / low)
        return left + x * (width - left - right), height - bottom - y * (height - bottom - top)

    for power in range(-1, 5):
        x, y = at(1000, 10.0**power)
        draw.line([(x, y), (width - right, y)], "#d3d5d6")
        draw.text((left - 8, y), f"{10.0**power:g} ms", "#565b60", font, anchor="rm")
    for size in (1_000, 10_000, 100_000):
        x, y = at(size, low)
        draw.line([(x, y), (x, top)], "#d3d5d6")
        draw.text((x, y + 10), f"{size:,}", "#565b60", font, anchor="mt")
    draw.text(((left + width - right) / 2, height - 20), "frames", "#565b60", font, anchor="mm")
    names = [name for name in next(iter(results.values())) if "MB" not in name]
    ends = sorted((results[SIZES[-1]][name][0], name) for name in names)
    used = 0.0
    for place, (value, name) in enumerate(ends):
        colour = ("#1b1d1f", "#0b7a75", "#a63d1f", "#6b3fa0", "#1f5fa6", "#7a5b0b")[place % 6]
        points = [at(size, results[size][name][0]) for size in SIZES]
        draw.line(points, colour, 3)
        for x, y in points:
            draw.ellipse([x - 4, y - 4, x + 4, y + 4], colour)
        y = at(1000, value)[1]
        y = y if not used else min(y, used - 20)
        used = y
        draw.text((width - right + 14, y), name, colour, font, anchor="lm")
    image.save(target, optimize=True)


def main() -> None:
    """Measure every size, keep the table and draw the plot."""
    results: dict[int, dict[str, tuple[float, float]]] = {}
    with tempfile.TemporaryDirectory() as name:
        for size in SIZES:
            results[size] = measure(size, Path(name))
            print(f"{size:,} frames done", file=sys.stderr)
    lines = ["| what (floor) | " + " | ".join(f"{size:,}" for size in SIZES) + " | goal |"]
    lines.append("|---|" + "---|" * (len(SIZES) + 1))
    for what in results[SIZES[0]]:
        unit = "" if "MB" in what else " ms"
        cells = [f"{results[s][what][0]:,.1f} ({results[s][what][1]:,.1f}){unit}" for s in SIZES]
        goal = f"{GOALS[what]:,.0f} ms" if what in GOALS else ""
        lines.append(f"| {what} | " + " | ".join(cells) + f" | {goal} |")
    keep("scale", "\n".join(lines))
    start, floor = results[SIZES[-1]]["start, known"]
    row(
        f"start to usable with {SIZES[-1]:,} frames known",
        f"{start / 1000:.1f} s",
        "2 s",
        floor=f"{floor / 1000:.1f} s: the bare SQL",
        met=start < 2000,
    )
    plot(results, Path(__file__).parent.parent / "docs" / "figures" / "scale.png")


if __name__ == "__main__":
    main()
