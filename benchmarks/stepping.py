"""How quickly the next frame is on screen while a key is held down, in headless Chromium.

    python benchmarks/stepping.py [FRAMES]

The demo shoot is stepped through in frame view, by single presses and with the key held at 25 presses
a second, as keyboards repeat. Measured in the page: from the key event until a display refresh in which
the frame's decoded preview is drawn; and every task of the page that takes longer than 50 ms.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from tests.browser.chromium import Page, chromium  # noqa: E402

_REPEAT_S = 0.04
_WATCH = """
window.seen = []; window.long = []; window.pressed = null;
new PerformanceObserver(list => long.push(...list.getEntries().map(e => e.duration)))
  .observe({type: 'longtask'});
addEventListener('keydown', e => { if (e.key === arguments[0]) pressed = performance.now(); }, true);
let last = '';
const look = () => {
  const image = document.querySelector('[data-testid=photograph] [data-ready=true]');
  const wanted = document.querySelector('aside [aria-current=true]');
  if (image && wanted && wanted.textContent.includes(image.ariaLabel) && image.ariaLabel !== last) {
    last = image.ariaLabel;
    // Drawn in the refresh that this callback belongs to.
    if (pressed !== null) seen.push(performance.now() - pressed);
  }
  requestAnimationFrame(look);
};
requestAnimationFrame(look);
"""


def main() -> None:
    """Start the demo, wait until it is analysed, and print the table."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 150
    with tempfile.TemporaryDirectory() as home:
        server = subprocess.Popen(
            [sys.executable, "-m", "winnow.cli", "demo", "--port", "0"],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "WINNOW_DATA": f"{home}/data", "WINNOW_CACHE": f"{home}/cache"},
        )
        assert server.stdout
        url = next(
            found.group(0) for line in server.stdout if (found := re.search(r"http://\S+", line))
        )
        try:
            with chromium() as page:
                page.driver.get(url)
                page.until(lambda: "of 243" in page.text(), 240)
                page.until(lambda: "analysed" not in page.text(), 240)
                print("| | frames | median | 95th percentile | frames/s | longest task |")
                print("|---|---|---|---|---|---|")
                for held in (False, True):
                    step_through(page, count, held=held)
        finally:
            server.terminate()
            server.wait(20)


def step_through(page: Page, count: int, *, held: bool) -> None:
    """Step through frames, and print a line of the table."""
    page.keys("Home")
    if "/frame" not in page.driver.current_url:
        page.keys("Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    time.sleep(1)  # the neighbours are prepared, as when somebody looks at a frame
    page.driver.execute_script(_WATCH, "f")
    key = {"key": "f", "code": "KeyF", "windowsVirtualKeyCode": 70, "text": "f"}
    started = time.monotonic()
    for n in range(count):
        repeated = {"autoRepeat": held and n > 0}
        page.driver.execute_cdp_cmd(
            "Input.dispatchKeyEvent", {"type": "keyDown", **key, **repeated}
        )
        if not held:
            page.driver.execute_cdp_cmd("Input.dispatchKeyEvent", {"type": "keyUp", **key})
        rest = started + (n + 1) * (_REPEAT_S if held else 0.25) - time.monotonic()
        time.sleep(max(0.0, rest))
    if held:
        page.driver.execute_cdp_cmd("Input.dispatchKeyEvent", {"type": "keyUp", **key})
    took = time.monotonic() - started
    time.sleep(0.5)
    seen = np.array(page.driver.execute_script("return seen"))
    long: list[float] = page.driver.execute_script("return long")
    name = "key held, 25/s" if held else "single presses"
    print(
        f"| {name} | {len(seen)} of {count} | {np.median(seen):.0f} ms | "
        f"{np.percentile(seen, 95):.0f} ms | {len(seen) / took:.0f} | "
        f"{max(long, default=0):.0f} ms ({len(long)} over 50) |"
    )
    page.driver.refresh()
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))


if __name__ == "__main__":
    main()
