"""Two frames in which together nobody blinks: linked, decided and delivered as one, taken apart."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_files import choose, write
from tests.browser.test_hints import noticed
from tests.browser.test_wrap_up import fill, names, step
from tests.pictures import write_portraits
from winnow.photos.xmp import read_sidecar

pytestmark = pytest.mark.browser

FIRST, SECOND = "QH2_9959", "QH2_9960"
TOGETHER = f"nobody blinks in {FIRST} and {SECOND} together"
LINKED = f"{FIRST} and {SECOND} are one picture"


def test_a_linked_pair_from_its_group_to_the_delivery(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_portraits(folder, "QH2_9958")
    # In each of the two left somebody else blinks.
    for path in folder.iterdir():
        if path.stem not in (FIRST, SECOND):
            path.unlink()
    noticed(winnow, page, folder, 2)
    page.until(lambda: TOGETHER in page.text("[data-group]"))
    assert page.violations() == []

    # The keyword is the person's own.
    page.keys("Ctrl+G")
    fill(page, "Keyword of linked frames", "from two\n")
    page.until(lambda: page.ask("../../settings")["parts_keyword"] == "from two")
    page.keys("Escape")
    page.button("link them").click()
    page.until(lambda: LINKED in page.text("[data-group]"))
    page.until(lambda: page.cell(FIRST) == f"{FIRST}, picked, one picture with {SECOND}")
    assert len(page.all("[data-frame] [data-sign=linked]")) == 2

    # What is decided of one part is decided of both, and undone with it.
    page.keys("Home", "J")
    page.until(lambda: page.cell(SECOND) == f"{SECOND}, rejected, one picture with {FIRST}")
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell(SECOND).startswith(f"{SECOND}, picked"))

    # Side by side says the same, with the faces below.
    page.keys("Home", "V")
    page.until(lambda: page.all("[data-tile]") and LINKED in page.text("main"))
    page.keys("Escape")
    page.until(lambda: page.all("[data-group]"))

    # Only one of them is asked for: both go, with the keyword.
    page.keys("Home", "4")
    page.keys("/")
    page.until(lambda: page.driver.switch_to.active_element.tag_name == "input")
    page.driver.switch_to.active_element.send_keys("stars 4\n")
    page.until(lambda: len(page.cells()) == 1)
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))
    page.keys("Q")
    step(page, "Deliver to a folder")
    choose(page, "What is delivered", "what the filter shows")
    target = tmp_path / "out"
    page.field("Folder for the copies").send_keys(str(target))
    page.until(lambda: "come along, as parts of one picture" in page.text("main"))
    write(page, "Copy 2")
    page.until(lambda: page.all("[data-delivery=done]"))
    assert names(target) == [f"{n}.{e}" for n in (FIRST, SECOND) for e in ("jpg", "xmp")]
    for name in (FIRST, SECOND):
        sidecar = read_sidecar((target / f"{name}.xmp").read_bytes())
        assert sidecar.texts.keywords == ("from two",)

    # Found by a filter, and taken apart by the same key.
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Escape")
    page.until(lambda: len(page.cells()) == 1)
    page.keys("Shift+A")
    page.until(lambda: len(page.cells()) == 2)
    page.keys("Home", ",")
    page.until(lambda: page.cell(SECOND) == f"{SECOND}, picked")
    page.until(lambda: TOGETHER in page.text("[data-group]"))
