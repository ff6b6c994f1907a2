"""A sheet of 50,000 frames in headless Chromium: its elements, how smoothly it scrolls, what it and
the server take.

The shoot is made-up rows that share the demo's pictures.
"""

from __future__ import annotations

import statistics
import time
from pathlib import Path

import psutil
from tests.browser.chromium import Page

from benchmarks.run import many_frames, percentile
from benchmarks.table import row
from winnow.store.db import Database

FRAMES = 50_000
# Wheels on, half a window each refresh for three seconds; then jumps over the whole shoot.
_SCROLL = """
const [done] = arguments;
const sheet = [...document.querySelectorAll('main *')].find(e => e.scrollHeight > e.clientHeight *
20);
const times = []; let most = 0, last = performance.now(), n = 0;
const step = now => {
  if (n) times.push(now - last);
  last = now;
  most = Math.max(most, document.querySelectorAll('*').length);
  if (++n > 240) return done([times, most]);
  sheet.scrollTop = n < 180 ? sheet.scrollTop + 300 : sheet.scrollHeight * (n * 0.618 % 1);
  requestAnimationFrame(step);
};
requestAnimationFrame(step);
"""


def prepare(database: Path, frames: int = FRAMES) -> int:
    """Add the shoot to a database whose server does not run; its pictures are those of frames that
    are there."""
    db = Database(database)
    shoot = many_frames(db, frames)
    known = db.read.execute(
        "SELECT key FROM frame WHERE shoot_id != ? AND picture = 2 AND key != 'k'", (shoot,)
    ).fetchall()
    with db.write() as conn:
        conn.executemany(
            "UPDATE frame SET key = ? WHERE shoot_id = ? AND id % ? = ?",
            [(row["key"], shoot, len(known), n) for n, row in enumerate(known)],
        )
    db.close()
    return shoot


def measure(page: Page, server: psutil.Process) -> None:
    """Of the sheet that is open in the page."""
    page.until(lambda: f"of {FRAMES:,}" in page.text(), 120)
    page.until(lambda: page.all("[data-frame]"), 60)
    time.sleep(2)
    page.driver.set_script_timeout(120)
    times, elements = page.driver.execute_async_script(_SCROLL)
    page.driver.execute_cdp_cmd("HeapProfiler.collectGarbage", {})
    renderers = [
        process.memory_full_info().pss
        for process in psutil.Process(page.driver.service.process.pid).children(recursive=True)
        if "--type=renderer" in process.cmdline()
    ]
    shown = max(renderers) / 2**20
    taken = server.memory_full_info().pss / 2**20
    p95 = percentile(times, 0.95)
    what = f"sheet of {FRAMES:,} frames"
    row(f"{what}: elements in the page", f"{elements}", "600", met=elements < 600)
    row(
        f"{what}: a refresh while scrolling, p50 / p95",
        f"{statistics.median(times):.0f} / {p95:.0f} ms",
        "smooth",
        floor="17 ms",
        met=p95 < 34,
    )
    row(f"{what}: the server's memory", f"{taken:.0f} MiB", "1,024 MiB", met=taken < 1024)
    row(f"{what}: the page's memory", f"{shown:.0f} MiB", "500 MiB", met=shown < 500)
