"""Takes the pictures in docs/screenshots from the demo, at 1280 × 800."""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from tests.browser.chromium import Page, chromium  # noqa: E402

from winnow.demo import evening  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"


def main() -> None:
    """Start the demo on an empty data folder, mark some frames, and take every picture."""
    with tempfile.TemporaryDirectory() as home:
        process = subprocess.Popen(
            [sys.executable, "-m", "winnow.cli", "demo", "--port", "0"],
            stdout=subprocess.PIPE,
            text=True,
            env={
                "PATH": "/usr/bin:/bin",
                "WINNOW_DATA": f"{home}/data",
                "WINNOW_CACHE": f"{home}/cache",
            },
        )
        assert process.stdout
        url = next(
            found.group(0) for line in process.stdout if (found := re.search(r"http://\S+", line))
        )
        try:
            with chromium() as page:
                page.driver.get(url)
                # The largest part of the shoot must be shown and analysed before pictures are taken.
                whole = f"of {1 + sum(1 for _ in evening.frames())}"  # one is a copy
                page.until(lambda: whole in page.text(), 240)
                page.until(lambda: "analysed" not in page.text(), 240)
                take(page)
        finally:
            process.terminate()
            process.wait(20)


def take(page: Page) -> None:
    """Mark a few frames as a person would, and take the pictures on the way."""

    def shot(name: str, ready: Callable[[], object]) -> None:
        page.until(ready)
        page.until(still(page))
        page.driver.save_screenshot(str(FOLDER / f"{name}.png"))

    # Group by group: the sharp ones are picked, the others rejected, the best get stars and labels.
    for decisions in ("JJLJJ", "LJJ", "LJJLJ", "LJ", "LLJJJ"):
        page.keys(*decisions)
    page.keys("Home", "F", "F", "4", "Y", "R", "3", "U", "R", "5", "O", "F", "F", "F", "2")
    page.until(lambda: "undo “2 stars" in page.text())
    page.keys("Home", "F", "F")
    shot("sheet", lambda: page.all("[data-frame]"))
    page.keys("E")
    page.button("picks").click()
    shot("filter", lambda: "Picks" in page.one("header").text)
    page.keys("Shift+A", "E", "Home", "R", "R", "Space")
    ready = "[data-testid=photograph] img[data-ready=true]"
    shot("frame", lambda: page.all(ready) and "ISO" in page.text())
    page.keys("D")
    shot("look-close", lambda: "100 %" in page.text() and page.all(ready))
    page.keys("Escape", "Escape", "?")
    shot("keys", lambda: page.all("[role=dialog]"))
    page.keys("Escape", "Q")
    page.field("Folder for the copies").send_keys("/tmp/winnow-example/for the client")
    shot("wrap-up", lambda: "are free" in page.text())
    page.one("header a").click()
    shot("shoots", lambda: page.all("article img"))


def still(page: Page) -> Callable[[], bool]:
    """Whether every picture on the page is there and nothing moves any more."""
    script = """return [...document.images].every(i => i.complete) &&
        document.getAnimations().every(a => a.playState !== 'running') &&
        document.fonts.status === 'loaded'"""
    return lambda: bool(page.driver.execute_script(script))


if __name__ == "__main__":
    main()
