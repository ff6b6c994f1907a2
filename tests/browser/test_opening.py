"""A folder is opened as a shoot: chosen among folders, pasted, dropped, and found again later."""

from pathlib import Path

import pytest
from selenium.webdriver.common.by import By

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.pictures import NOON, write_jpeg, write_shoot

pytestmark = pytest.mark.browser

# A folder as a desktop drops it: the browser tells its name and what is in it, not where it lies.
DROP = """
const [name, files] = arguments;
const entry = ([name, size]) => ({ name, isFile: true, isDirectory: false,
    file: (done) => done(new File([new Uint8Array(size)], name)) });
const folder = { name, isFile: false, isDirectory: true,
    createReader: () => ({ readEntries: (done) => done(Object.entries(files).map(entry)) }) };
const data = { types: ['Files'], files: [], getData: () => '',
    items: [{ webkitGetAsEntry: () => folder }] };
for (const type of ['dragover', 'drop']) {
  const event = new Event(type, { bubbles: true, cancelable: true });
  Object.defineProperty(event, 'dataTransfer', { value: data });
  document.body.dispatchEvent(event);
}
"""


def test_a_folder_is_chosen_pasted_and_dropped(winnow: Running, page: Page, tmp_path: Path) -> None:
    for name, numbers in (("fair", [1, 2]), ("quay", [3]), ("the pier", [4, 5])):
        write_shoot(tmp_path / "2026" / name, numbers)
    page.open(winnow.url)
    field = page.until(lambda: page.one("[role=combobox][aria-label=Folder]"))

    # Chosen: from a path that was typed half, by keys.
    field.send_keys(f"{tmp_path}/2026/nothing")
    page.until(lambda: page.button("Choose …")).click()
    page.until(lambda: "2 pictures" in page.text("[role=dialog] [data-name=fair]"))
    page.keys("f", "Enter")
    page.until(lambda: "2 pictures directly in “fair”" in page.text("[role=dialog]"))
    page.button("Use this folder").click()
    page.until(lambda: not page.all("[role=dialog]"))
    page.button("Open").click()
    page.until(lambda: len(page.cells()) == 2)

    # Pasted as a desktop writes it.
    page.driver.back()
    field = page.until(lambda: page.one("[role=combobox][aria-label=Folder]"))
    field.send_keys(f"file://{tmp_path}/2026/the%20pier\n")
    page.until(lambda: len(page.cells()) == 2 and "the pier" in page.driver.page_source)

    # Dropped, while another shoot is open: found beside those that are known.
    (file,) = (tmp_path / "2026" / "quay").glob("*.jpg")
    page.driver.execute_script(DROP, "quay", {file.name: file.stat().st_size})
    page.until(lambda: len(page.cells()) == 1)
    # One that is nowhere is asked for.
    page.driver.execute_script(DROP, "quay", {file.name: 1})
    page.until(lambda: "not found where pictures" in page.text("[role=dialog]"))
    page.keys("Escape")

    # The list: one is put into the archive, and found by its name all the same.
    page.open(winnow.url)
    page.until(lambda: len(page.all("article")) == 3)
    page.button("to the archive").click()
    page.until(lambda: len(page.all("article")) == 2)
    page.one("[type=search]").send_keys("quay")
    page.until(lambda: len(page.all("article")) == 1)
    assert page.all("article")[0].find_element(By.TAG_NAME, "a").is_displayed()


def test_the_page_can_be_installed_as_a_window_of_its_own(winnow: Running, page: Page) -> None:
    """By the browser's own word, which reads the manifest and its icons."""
    page.open(winnow.url)
    manifest = page.driver.execute_cdp_cmd("Page.getAppManifest", {})
    assert manifest["errors"] == []
    assert '"display": "standalone"' in manifest["data"]
    wrong = page.driver.execute_cdp_cmd("Page.getInstallabilityErrors", {})["installabilityErrors"]
    # Windows of tests keep nothing, as private ones.
    assert {error["errorId"] for error in wrong} <= {"in-incognito"}


def test_a_card_is_looked_at_before_it_is_copied(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    card = tmp_path / "card"
    for n, second in ((1, 0), (2, 1), (3, 90_000), (4, 90_001)):
        write_jpeg(card / "DCIM" / "100QUILL" / f"QH2_{n:04d}.JPG", n, NOON + second)
    page.open(winnow.url)
    page.button("Another place that holds a card").click()
    page.field("Card").send_keys(str(card))
    page.field("Name of the shoot").send_keys("Quay")
    target = page.field("Copy to")
    target.clear()
    target.send_keys(str(tmp_path / "disk"))
    page.until(lambda: "4 files" in page.text("[role=dialog]"))
    page.button("Look first").click()
    page.until(lambda: len(page.all("[aria-label='On the card'] section")) == 2)
    page.until(lambda: len(page.all("[aria-label='On the card'] img")) == 4)
    # The first day stays on the card, and one frame of the second.
    page.all("[aria-label='On the card'] h3 input")[0].click()
    page.until(lambda: "2 frames of 4 come along" in page.text("[role=dialog]"))
    page.one("[aria-label='QH2_0004.JPG']").click()
    page.until(lambda: "3 files left out" in page.text("[role=dialog]"))
    page.button("Bring in 1 file").click()
    page.until(lambda: page.cells() == ["QH2_0003"])
    page.driver.back()
    page.until(lambda: "3 files were left out and are only on the card" in page.text())
