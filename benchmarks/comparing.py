"""How quickly compared frames are sharp at 100 %, groups come in the review, and follow the slider,
in headless Chromium.

On the demo shoot: six frames side by side, from the key for looking close until a display refresh
in which every tile shows its part at full size; right after they came on screen (cold), and once
they were prepared. The whole demo reviewed by its draft: from the key that takes a group until the
pictures of the next one are drawn. Then a made-up shoot of 5,000 frames, from the slider's movement
until its number of groups is drawn.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

import numpy as np
import psutil
from tests.browser.chromium import Page, chromium

from benchmarks import large
from benchmarks.stepping import note, until_drawn

_SHARP = """
(() => { const all = [...document.querySelectorAll('[data-near]')];
  return all.length === 6 && all.every(e => e.dataset.near === '1' && e.dataset.ready === 'true');
  })()
"""
_OTHER_GROUP = """
(() => { const review = document.querySelector('[data-review]');
  if (!review) return true;
  const tiles = document.querySelectorAll('[data-tile]');
  const pictures = [...document.querySelectorAll('[data-tile] img[src*=preview]')];
  return review.dataset.review !== '%s' && pictures.length === tiles.length &&
    pictures.every(one => one.complete && one.naturalWidth > 0); })()
"""
_NOTICED = (
    "const [d] = arguments; fetch('/api/shoots/1/hints').then(r => r.json()).then(h => d(!h.waits))"
)
_FRAMES = "const [d] = arguments; fetch('/api/shoots/1/frames').then(r => r.json()).then(d)"


def six(page: Page, group: int) -> None:
    """Put the first six frames of a group side by side, from the sheet."""
    while not page.all("[data-frame]"):
        page.keys("Escape")
        time.sleep(0.2)
    page.keys("Escape", "Home", *["R"] * group, *["Shift+ArrowRight"] * 5)
    time.sleep(1)
    page.keys("V")
    page.until(lambda: len(page.all("[data-tile]")) == 6)


def main(times: int = 12) -> None:
    """Start Winnow, and measure."""
    with tempfile.TemporaryDirectory() as home, chromium() as browser, browser.page() as page:
        server, url = started(home, "demo")
        try:
            page.driver.get(url)
            page.until(lambda: "of 243" in page.text(), 240)
            page.until(page.analysed, 240)
            look_close(page, times)
            review(page)
        finally:
            server.terminate()
            server.wait(20)
        # The same data folder as the demo's, so that the browser may stay as it is.
        database = Path(home) / "data" / "demo" / "winnow.db"
        shoot = large.prepare(database, 5000)
        sheet = large.prepare(database)
        server, url = started(home, "demo")
        try:
            page.driver.get(url)
            page.driver.get(f"{url.split('/shoots/')[0]}/shoots/{shoot}")
            slide(page)
            page.driver.get(f"{url.split('/shoots/')[0]}/shoots/{sheet}")
            large.measure(page, psutil.Process(server.pid))
        finally:
            server.terminate()
            server.wait(20)


def started(home: str, command: str) -> tuple[subprocess.Popen[str], str]:
    """A running Winnow, and its address."""
    server = subprocess.Popen(
        [sys.executable, "-m", "winnow", command, "--port", "0"],
        stdout=subprocess.PIPE,
        text=True,
        stderr=subprocess.DEVNULL,
        env={**os.environ, "WINNOW_DATA": f"{home}/data", "WINNOW_CACHE": f"{home}/cache"},
    )
    assert server.stdout
    found = next(f for line in server.stdout if (f := re.search(r"http://\S+", line)))
    return server, found.group(0)


def look_close(page: Page, times: int) -> None:
    """Look close at six frames of one group after the other, cold and prepared."""
    listed = page.driver.execute_async_script(_FRAMES)
    large = [group for group, size in Counter(listed["group"]).items() if size >= 6]
    for name, wait, goal in (("right after they came on screen", 0.0, 400), ("prepared", 2.5, 100)):
        took = []
        # Others each time: what was seen before is prepared already.
        for n in range(times):
            six(page, large[(n if wait else times + n) % len(large)])
            time.sleep(wait)
            took.append(until_drawn(page, "d", _SHARP))
        note(f"six frames sharp at 100 % side by side, {name}", took, goal)


def review(page: Page) -> None:
    """Take group after group of the draft, each once it was looked at for a moment."""
    page.until(lambda: page.driver.execute_async_script(_NOTICED), 240)
    while not page.all("[data-frame]"):
        page.keys("Escape")
        time.sleep(0.2)
    page.keys("Escape", "Home", "Shift+U")
    page.until(lambda: page.all("[data-review]"))
    took: list[float] = []
    while page.all("[data-review]"):
        time.sleep(0.8)
        at = page.one("[data-review]").get_attribute("data-review")
        key = "l" if page.all("[data-other][aria-pressed=true]") else "j"
        took.append(until_drawn(page, key, _OTHER_GROUP % at))
    note(f"the next of {len(took)} groups in the review of the draft", took, 50)


def slide(page: Page) -> None:
    """Move the slider, and wait until the groups are drawn."""
    page.until(lambda: "of 5,000" in page.text(), 60)
    # Its files can't be found: that is told first.
    page.until(page.analysed, 240)
    time.sleep(3)
    page.keys("Ctrl+G")
    page.until(lambda: "groups of 5,000 frames" in page.text())
    script = """
        const [value, done] = arguments;
        const slider = document.querySelector('[aria-label="Tighter or looser groups"]');
        const words = () => document.querySelector('[aria-label=Groups] strong').textContent;
        const before = words();
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
        const started = performance.now();
        set.call(slider, value); slider.dispatchEvent(new Event('input', {bubbles: true}));
        const look = () => words() !== before ? done(performance.now() - started)
          : performance.now() - started > 5000 ? done(null) : requestAnimationFrame(look);
        requestAnimationFrame(look);"""
    # Each of these places gives these frames another number of groups.
    values = np.linspace(0.05, 0.62, 30)
    took = [page.driver.execute_async_script(script, f"{value:.2f}") for value in values]
    assert None not in took, "other groups were not drawn"
    note("5,000 frames regrouped and drawn after the slider", took, 100)


if __name__ == "__main__":
    main()
