"""The first steps are offered once, shown in under a minute, and never return."""

from pathlib import Path

import pytest

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import opened

pytestmark = pytest.mark.browser
OFFER = "[aria-label='First steps']"


def test_the_tour_is_offered_once(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 2])
    page.until(lambda: "New here?" in page.text(OFFER))
    page.button("Show me").click()
    page.until(lambda: "1 of 5: Decide" in page.text(OFFER))
    # The keys that are shown can be tried at once.
    page.keys("L")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")
    for number in (2, 3, 4, 5):
        page.button("Next").click()
        page.until(lambda number=number: f"{number} of 5" in page.text(OFFER))
    page.button("Done").click()
    page.until(lambda: not page.all(OFFER))
    page.driver.refresh()
    page.until(lambda: len(page.cells()) == 2)
    assert not page.all(OFFER)


def test_the_tour_can_be_declined(alone: Running, page: Page, tmp_path: Path) -> None:
    opened(alone, page, tmp_path, [1, 2])
    page.until(lambda: page.button("no, thanks")).click()
    page.until(lambda: not page.all(OFFER))
    alone.stop()
    page.open(alone.open(tmp_path / "shoot"))
    page.until(lambda: len(page.cells()) == 2)
    assert not page.all(OFFER)
