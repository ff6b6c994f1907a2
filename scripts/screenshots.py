"""Takes the pictures in docs/screenshots from the demo, at 1280 × 800."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from functools import partial
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from selenium.webdriver import Keys  # noqa: E402
from tests.browser.chromium import Page, chromium  # noqa: E402

from winnow.core.files.profiles import FileMark  # noqa: E402
from winnow.demo import evening, shoot  # noqa: E402
from winnow.photos.xmp import read_sidecar, with_stated  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"
EXAMPLE = Path("/tmp/winnow-example")


@contextmanager
def closing_folder(folder: Path) -> Iterator[Path]:
    """A folder that is gone afterwards."""
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def main() -> None:
    """Start the demo on an empty data folder, mark some frames, and take every picture."""
    # A folder with a name: it is seen in the pictures.
    shutil.rmtree(EXAMPLE, ignore_errors=True)
    EXAMPLE.mkdir()
    with closing_folder(EXAMPLE) as home:
        process = subprocess.Popen(
            [sys.executable, "-m", "winnow", "demo", "--port", "0"],
            stdout=subprocess.PIPE,
            text=True,
            env={
                "PATH": "/usr/bin:/bin",
                "HOME": str(home),
                "WINNOW_DATA": f"{home}/data",
                "WINNOW_CACHE": f"{home}/cache",
            },
        )
        assert process.stdout
        url = next(
            found.group(0) for line in process.stdout if (found := re.search(r"http://\S+", line))
        )
        try:
            with chromium() as browser, browser.page() as page:
                page.driver.get(url)
                # The largest part of the shoot must be shown and analysed before pictures are
                # taken.
                whole = f"of {1 + sum(1 for _ in evening.frames())}"  # one is a copy
                page.until(lambda: page.button("no, thanks")).click()
                page.until(lambda: whole in page.text(), 240)
                page.until(page.analysed, 240)
                page.until(lambda: noticed(page), 240)
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

    order = sorted(evening.frames(), key=lambda frame: frame.taken_at)
    names = [name for f in order for name in shoot.files_of(f) if name.endswith(".jpg")]
    clocks = {group.clock: index for index, group in enumerate(evening.groups())}

    def go_to(clock: str, number: int = 0) -> None:
        """To a frame of the group that begins at this time."""
        wanted = next(f for f in order if (f.group, f.number) == (clocks[clock], number))
        page.keys("Home", *["F"] * names.index(f"{wanted.name}.jpg"))

    # The sharp ones with open eyes are picked, the others rejected, the best get stars and labels.
    for clock, decisions in (
        ("19:12:00", "LJLJLJJL"), ("19:25:05", "JJJJJLJJLJ"), ("19:25:48", "JJLJL"),
        ("19:26:30", "LJLJ"), ("19:29:10", "JLJJLJJL"),
    ):  # fmt: skip
        go_to(clock)
        page.keys(*decisions)
    go_to("19:25:05", 8)
    page.keys("4", "U", "S", "S", "S", "5", "Y")
    page.until(lambda: "undo “" in page.text() and "5" in page.text())
    shot("sheet", lambda: page.all("[data-frame]"))
    page.keys("E")
    page.button("picks").click()
    shot("filter", lambda: "Picks" in page.one("header").text)
    page.keys("Shift+A", "E")
    go_to("19:25:05", 5)
    page.keys("Space")
    ready = "[data-testid=photograph] [data-ready=true]"
    shot("frame", lambda: page.all(ready) and "ISO" in page.text())
    page.keys("D")
    shot("look-close", lambda: "100 %" in page.text() and page.all(ready))
    page.keys("Escape")
    captions(page)
    shot("captions", lambda: page.all('[aria-label="Take out quay"]'))
    page.keys("Shift+Q")
    compare(page, shot, go_to)
    people(page, shot)
    page.keys("Escape", "Shift+U")
    shot("review", lambda: page.all("[data-review] [data-ready=true]"))
    page.keys("Escape", "Shift+H")
    page.one("[data-kind=motion]").click()
    shot("hints", lambda: len(page.all("[aria-label='Frames named'] [data-full=true]")) > 5)
    trim(page, shot)
    page.keys("Q")
    page.field("Folder for the copies").send_keys(f"{EXAMPLE}/for the client")
    page.field("Names of the copies").send_keys(Keys.CONTROL, "a")
    page.field("Names of the copies").send_keys("{date} {shoot} {seq:3}")
    page.until(lambda: "are free" in page.text())
    page.driver.execute_script("document.activeElement.blur()")
    go_to_step(page, "Deliver to a folder")
    shot("deliver", lambda: "evening 001.jpg" in page.text())
    gallery(page, shot)
    page.until(lambda: page.all("canvas"))
    page.keys("Q")
    page.until(lambda: page.all("#wrap-up h2"))
    page.driver.execute_script("document.querySelector('h2').scrollIntoView()")
    shot("wrap-up", lambda: page.all("canvas"))
    page.until(
        lambda: next(
            b
            for b in page.all("#wrap-up section button")
            if b.text.startswith("Write ") and b.is_enabled()
        )
    ).click()
    page.until(lambda: page.all("[data-testid=written]"))
    conflict(page)
    shot("conflict", lambda: page.all("[data-conflict] img"))
    page.one("header a").click()
    page.until(lambda: page.all("[data-card]"), 60)
    shot("shoots", lambda: page.all("article img"))
    page.button("Bring in …").click()
    page.field("Name of the shoot").send_keys("Lantern evening")
    for name, folder in (
        ("Copy to", "/home/nell/Pictures"),
        ("Second place", "/mnt/backup/Pictures"),
    ):
        page.field(name).send_keys(Keys.CONTROL, "a")
        page.field(name).send_keys(folder)
    page.field("Name of the shoot").click()
    shot("bring-in", lambda: "to the second place" in page.text())
    page.keys("Escape")


def people(page: Page, shot: Callable[[str, Callable[[], object]], None]) -> None:
    """Who is in it, switched on; forgotten again, so that the draft is everybody's."""

    def opened() -> None:
        page.one("button[aria-label=Looks]").click()
        page.button("Who is in it …").click()

    page.keys("Escape")
    page.until(lambda: page.all("[data-frame]"))
    opened()
    page.button("Tell people apart in this shoot").click()
    page.until(lambda: len(page.all("[data-person]")) == 6)
    page.until(lambda: "Looking" not in page.text("[role=dialog] [role=status]"))
    shot("people", lambda: len(page.all("[data-person] img")) >= 6)
    page.keys("Escape")


def trim(page: Page, shot: Callable[[str, Callable[[], object]], None]) -> None:
    """One question on the way to fewer picks; the number is put back."""

    def wanted(number: int) -> None:
        page.driver.execute_async_script(
            "const [number, done] = arguments; "
            "fetch(`/api${location.pathname.split('/').slice(0, 3).join('/')}`,"
            "{method: 'PATCH', headers: {'content-type': 'application/json'},"
            "body: JSON.stringify({keep_target: number})}).then(done)",
            number,
        )
        page.driver.refresh()

    wanted(8)
    page.until(lambda: page.all("[data-kind]"))
    page.keys("Shift+I")
    shot("trim", lambda: len(page.all("[data-number=trim] [data-ready=true]")) == 2)
    wanted(evening.KEEP_TARGET)
    page.until(lambda: page.all("[data-number=fill]"))


def go_to_step(page: Page, title: str) -> None:
    """Scroll to a step of the wrap-up by its name in the list of steps."""
    path = f"//nav//button[contains(normalize-space(.), {title!r})]"
    page.until(lambda: page.driver.find_elements("xpath", path)[0]).click()


def gallery(page: Page, shot: Callable[[str, Callable[[], object]], None]) -> None:
    """Make a gallery, and show it as the client sees it."""
    here = page.driver.current_url
    with tempfile.TemporaryDirectory() as folder:
        page.field("Folder for the proof").send_keys(folder)
        page.until(lambda: page.button("Make the gallery").is_enabled())
        page.button("Make the gallery").click()
        page.until(lambda: page.all("[data-proof=gallery]"), 60)
        (made,) = Path(folder).iterdir()
        page.driver.get(f"{made.as_uri()}/index.html")
        page.until(lambda: page.all(".sheet .choose"))
        for n in (1, 3):
            page.all(".sheet .choose")[n].click()
        shot("gallery", lambda: "2 chosen" in page.text())
        page.driver.get(here)
        page.until(lambda: page.all("canvas"))
        page.keys("Escape")
        page.until(lambda: page.all("[data-frame]"))


def _says(page: Page, name: str, text: str) -> bool:
    return page.field(name).get_attribute("value") == text


def captions(page: Page) -> None:
    """Write something about the frame in frame view."""
    page.keys("Shift+Q")
    for name, text in (("Title", "By the lanterns"), ("Caption", "A guest waits for the lanterns "
                                                                 "to be lit."),
                       ("Creator", "A. Nobody"), ("City", "Saltmarsh")):  # fmt: skip
        page.field(name).send_keys(text, Keys.CONTROL, Keys.ENTER)
        page.until(partial(_says, page, name, text))
    for word in ("portrait", "quay"):
        page.field("Add keywords").send_keys(word, Keys.ENTER)
        page.until(partial(page.all, f'[aria-label="Take out {word}"]'))
    page.driver.execute_script("document.activeElement.blur()")


def conflict(page: Page) -> None:
    """Another program and the person change the same frame."""
    shoot_id = int(page.driver.current_url.split("/shoots/")[1].split("/")[0])
    fetched = page.driver.execute_async_script(
        "const done = arguments[1]; fetch(`/api/shoots/${arguments[0]}`).then((r) => r.json())"
        ".then((s) => done(s.folders[0].path))",
        shoot_id,
    )
    sidecar = sorted(Path(fetched).glob("*.xmp"))[3]
    stated = read_sidecar(sidecar.read_bytes())
    other = replace(stated, mark=FileMark(2), texts=replace(stated.texts, title="Lanterns"))
    sidecar.write_bytes(with_stated(sidecar.read_bytes(), other))
    page.driver.execute_async_script(
        "const [shoot, name, done] = arguments; const post = (path, body) => fetch(path, "
        "{method: 'POST',"
        "headers: {'content-type': 'application/json'}, body: JSON.stringify(body)});"
        "fetch(`/api/shoots/${shoot}/frames`).then((r) => r.json()).then(async (f) => {"
        "const frame = f.id[f.name.indexOf(name)];"
        "await post(`/api/shoots/${shoot}/marks`, {frames: [frame], stars: 5});"
        "await post(`/api/shoots/${shoot}/texts/edit`, {frames: [frame], put: {title: 'Evening'}});"
        "done() })",
        shoot_id,
        sidecar.stem,
    )
    page.until(lambda: page.all("[data-conflict]"), 40)
    page.driver.execute_script(
        "document.querySelector('[aria-label=Conflicts]').scrollIntoView({block: 'center'})"
    )


def compare(
    page: Page, shot: Callable[[str, Callable[[], object]], None], go_to: Callable[..., None]
) -> None:
    """Side by side, fitted and close, a knockout, and the groups' slider."""

    page.keys("Escape")
    page.until(lambda: page.all("[data-frame]"))
    go_to("19:26:30")
    page.keys("V")
    page.until(lambda: page.all("main [type=checkbox]")).pop().click()  # rejects stay
    page.until(lambda: len(page.all("[data-tile]")) > 3)
    page.until(lambda: len(page.all("[data-tile] [data-eyes-say]")) > 3)
    shot("side-by-side", lambda: page.all("[data-tile]"))
    page.keys("B")
    page.until(lambda: "left of" in page.text())
    page.keys("F")
    shot(
        "knockout",
        lambda: page.all(
            "figcaption [data-standing='tied'], figcaption [data-standing='sharpest']"
        ),
    )
    page.keys("Escape", "Escape")
    page.until(lambda: page.all("[data-frame]"))
    go_to("19:32:20")
    page.keys("V")
    page.until(lambda: len(page.all("[data-tile] [data-eyes-say]")) > 3)
    page.keys("Shift+E")
    page.button("eyes").click()
    shot("faces", lambda: len(page.all("[data-face-row] [data-full=true]")) > 7)
    page.keys("Shift+E", "Escape")
    page.until(lambda: page.all("[data-frame]"))
    page.keys("Ctrl+G")
    shot("groups", lambda: "each" in page.text())
    page.keys("Escape")


def noticed(page: Page) -> bool:
    """Whether faces were looked for everywhere, and hints are made."""
    script = (
        "const done = arguments[0]; const shoot = location.pathname.split('/')[2];"
        "fetch(`/api/shoots/${shoot}/hints`).then((r) => r.json()).then((h) => done(!h.waits))"
    )
    return bool(page.driver.execute_async_script(script))


def still(page: Page) -> Callable[[], bool]:
    """Whether every picture in sight is there and nothing moves any more."""
    script = """const seen = (i) => i.checkVisibility() && [...i.getClientRects()].some(r =>
    r.bottom > 0 && r.top < innerHeight);
        return [...document.images].every(i => i.complete || !seen(i)) &&
        document.getAnimations().every(a => a.playState !== 'running') &&
        document.fonts.status === 'loaded'"""
    return lambda: bool(page.driver.execute_script(script))


if __name__ == "__main__":
    main()
