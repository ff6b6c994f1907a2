"""A shoot whose disk is away, or comes back under another name: the cull goes on, and every mark
comes along."""

from pathlib import Path

import pytest

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import opened
from tests.pictures import jpeg

pytestmark = pytest.mark.browser

KEPT = "the kept preview: its file can’t be read now"


def test_a_folder_that_is_elsewhere_now_is_opened_with_its_marks(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = opened(winnow, page, tmp_path, [1, 2])
    start = page.driver.current_url.partition("/shoots")[0]
    page.keys("L")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")
    # The person opens the folder at its new place, and is asked.
    now = folder.rename(tmp_path / "another disk")
    page.open(start)
    page.until(lambda: page.field("Folder")).send_keys(str(now))
    page.button("Open").click()
    page.until(lambda: "seems to have moved: 2 of its 2 frames lie here" in page.text())
    page.button("Open “shoot” here, with its marks").click()
    page.until(lambda: page.all("[data-frame]") and page.cell("QH_0001") == "QH_0001, picked")
    # It is moved once more, and named from the open shoot.
    third = now.rename(tmp_path / "third")
    page.until(lambda: page.button("look again")).click()
    page.until(lambda: page.button("It is elsewhere now …")).click()
    page.field("Folder").send_keys(str(third))
    page.button("Use this folder").click()
    page.until(lambda: not page.all("[role=dialog]"))
    page.until(lambda: not page.all("[role=alert]"))
    assert page.cell("QH_0001") == "QH_0001, picked"


def test_the_cull_goes_on_from_what_is_kept_while_the_files_are_away(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    folder.mkdir()
    for n in (1, 2):
        (folder / f"QH_000{n}.jpg").write_bytes(jpeg(n, 4500, 3000))
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) == 2)
    page.until(page.analysed)
    away = folder.rename(tmp_path / "away")
    page.driver.refresh()
    page.until(lambda: page.button("look again")).click()
    # What is pressed with the pointer leaves the keys to the stage.
    page.keys("Space", "L")
    page.until(lambda: page.all("[data-testid=photograph]"))
    page.keys("ArrowLeft", "D")
    page.until(lambda: KEPT in page.text())
    assert "100 %" not in page.text()
    page.keys("Escape", "Escape")
    page.until(lambda: page.all("[data-frame]"))
    page.keys("Ctrl+A", "V")
    page.until(lambda: len(page.all("[data-tile]")) == 2)
    page.keys("D")
    page.until(lambda: page.text().count(KEPT) == 2)
    # Back at its place, it is seen at full size again.
    away.rename(folder)
    page.button("look again").click()
    page.keys("Escape", "D", "D")
    page.until(lambda: KEPT not in page.text())
    page.until(lambda: [d for d in page.ask("frames")["decision"] if d == "pick"] == ["pick"])
