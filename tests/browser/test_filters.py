"""Filters: saved, typed, clicked together; and going to a frame by its name."""

from pathlib import Path

from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import opened
from tests.pictures import NOON, write_jpeg


def test_a_filter_is_saved_used_and_forgotten(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.keys("L", "E")
    page.button("picks").click()
    page.until(lambda: page.cells() == ["QH_0001"])
    page.button("save this filter").click()
    page.field("Name of the filter").send_keys("For the paper" + Keys.ENTER)
    page.until(lambda: page.driver.find_elements(By.XPATH, "//button[.='For the paper']"))
    page.keys("Shift+A")
    page.until(lambda: len(page.cells()) == 3)
    page.keys("Ctrl+K")
    page.one("[cmdk-input]").send_keys("paper")
    page.until(lambda: "For the paper" in page.text("[cmdk-item][data-selected=true]"))
    page.one("[cmdk-input]").send_keys(Keys.ENTER)
    page.until(lambda: page.cells() == ["QH_0001"])
    page.one('[aria-label="Forget the filter For the paper"]').click()
    page.until(lambda: not page.driver.find_elements(By.XPATH, "//button[.='For the paper']"))


def test_search_goes_to_a_frame_by_its_name(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.keys("Shift+L")
    page.until(lambda: "No frame passes" in page.text())
    page.keys("Ctrl+K")
    page.one("[cmdk-input]").send_keys("0003")
    page.until(lambda: "QH_0003" in page.text("[cmdk-item][data-selected=true]"))
    page.one("[cmdk-input]").send_keys(Keys.ENTER)
    page.until(lambda: "frame 3 of 3" in page.text("header"))


def test_a_filter_is_typed_and_mistakes_are_shown_where_they_are(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    for n, iso in ((1, 100), (2, 800), (3, 3200)):
        write_jpeg(folder / f"QH_{n:04d}.jpg", n, NOON + n, iso=iso)
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) == 3)
    page.keys("/")
    field = page.field("Written filter")
    field.send_keys("iso>=800 not qh_0003")
    page.until(lambda: page.cells() == ["QH_0002"])
    page.until(lambda: "ISO from 800, not any text with “qh_0003”" in page.text("#written-says"))
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("isoo>800")
    page.until(lambda: "Did you mean “iso”?" in page.text("#written-says"))
    page.until(lambda: page.text("#written-says mark") == "isoo")
    # What can't be read changes nothing.
    assert page.cells() == ["QH_0002"]
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("iso>6400" + Keys.ENTER)
    page.until(lambda: "No frame passes “ISO over 6400”" in page.text())
    page.keys("L")
    page.button("Without what is typed").click()
    page.until(lambda: len(page.cells()) == 3)
    page.until(lambda: page.field("Written filter").get_attribute("value") == "")


def test_a_filter_over_facts_is_clicked_together(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    for n, iso in enumerate((100, 400, 800, 3200), 1):
        camera = "Quillon H2" if n < 3 else "Quillon H5"
        write_jpeg(folder / f"QH_{n:04d}.jpg", n, NOON + n, iso=iso, camera=camera)
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) == 4)
    page.keys("/")

    def written() -> str | None:
        return page.field("Written filter").get_attribute("value")

    def fact(name: str) -> None:
        here = f"//section//button[.='{name}']"
        page.until(lambda: page.driver.find_element(By.XPATH, here)).click()

    fact("camera")
    page.until(lambda: "Quillon H5" in page.text("[role=dialog]"))
    page.button("Quillon H5").click()
    page.until(lambda: page.cells() == ["QH_0003", "QH_0004"])
    page.until(lambda: written() == 'camera="Quillon H5"')
    page.keys("Escape")
    fact("ISO")
    # Only what the rest of the filter leaves is offered, the focused choice by a key, too.
    page.until(lambda: len(page.all("[role=dialog] li button")) == 2)
    page.one("[role=dialog] li:last-child button").send_keys(Keys.ENTER)
    page.until(lambda: page.cells() == ["QH_0004"])
    page.keys("Escape")
    page.button("camera “Quillon H5”").click()
    page.until(lambda: written() == 'not camera="Quillon H5" iso 3200')
    page.until(lambda: "No frame passes" in page.text())
    page.button("all of").click()
    page.until(lambda: page.cells() == ["QH_0001", "QH_0002", "QH_0004"])
    page.field("Take out not camera “Quillon H5”").click()
    page.until(lambda: page.cells() == ["QH_0004"])
    fact("ISO")
    page.until(lambda: len(page.all("[role=dialog] li button")) > 3)
    rows = page.all("[role=dialog] li button")
    ActionChains(page.driver, duration=40).click_and_hold(rows[1]).move_to_element(
        rows[2]
    ).release().perform()
    page.until(lambda: page.cells() == ["QH_0002", "QH_0003"])
    page.until(lambda: written() == "iso 400..800")
