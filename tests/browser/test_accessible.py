"""Every main view, panel and form, light and dark, passes axe-core's rules, which follow WCAG
2.2."""

from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_bring_in import make_card
from tests.browser.test_files import choose, write
from tests.browser.test_whole_job import opened
from tests.browser.test_wrap_up import fill, step

pytestmark = pytest.mark.browser


def check(page: Page, what: str) -> None:
    """In both themes; only colours differ between them."""
    assert page.violations() == [], what
    page.theme("dark")
    assert page.violations("color-contrast", "link-in-text-block") == [], f"{what}, dark"
    page.theme("light")


def check_panel(page: Page, what: str) -> None:
    check(page, what)
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))


def test_every_view(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.until(lambda: page.button("Show me")).click()
    check(page, "first steps")
    page.button("skip").click()
    page.keys("3", "Y", "L", "F", "J", "E", "/")
    page.until(lambda: page.driver.switch_to.active_element.get_attribute("id") == "written-filter")
    page.driver.switch_to.active_element.send_keys("pick or", Keys.ENTER)
    page.until(lambda: "is missing" in page.text())
    check(page, "sheet, with a filter that can't be read")
    fill(page, "Written filter", "stars>4")
    page.until(lambda: "None" in page.text() or "none" in page.text() or not page.cells())
    check(page, "nothing passes the filter")
    fill(page, "Written filter", "")
    page.field("Written filter").send_keys(Keys.BACKSPACE, Keys.ENTER)
    page.until(lambda: len(page.cells()) == 3)
    page.one("[aria-label='Help: The written filter']").click()
    page.until(lambda: "brackets group" in page.text())
    check_panel(page, "help")
    page.keys("E", "Ctrl+A")
    check(page, "sheet, all selected")
    page.keys("Shift+Q")
    page.until(lambda: page.field("Caption"))
    page.one("details[aria-label=Templates] summary").click()
    check(page, "captions")
    page.keys("Shift+Q", "Escape", "Home", "Space")
    page.until(lambda: "/frame" in page.driver.current_url)
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    check(page, "frame")
    page.keys("C", "Shift+C", "X", "M")
    page.until(lambda: "bright end" in page.text())
    check(page, "frame, with all that can lie over it")
    page.keys("D")
    check(page, "looking close")
    page.keys("Escape", "Escape", "Home", "V")
    page.until(lambda: len(page.all("[data-tile]")) == 2)
    check(page, "side by side")
    page.keys("D")
    page.until(lambda: page.all("[data-tile][data-near]") or page.all("[data-tile]"))
    page.keys("Shift+E")
    page.until(lambda: page.all("[aria-label=Faces]"))
    check(page, "faces, looking close")
    page.keys("Shift+E", "B")
    page.until(lambda: "1 comparison left" in page.text())
    check(page, "knockout")
    page.keys("Shift+H")
    page.until(lambda: page.all("[data-kind=soft]"))
    check(page, "hints")
    page.button("look again").click()
    page.until(lambda: page.all("[aria-label='Second look']"))
    check(page, "second look")
    page.one("header a").click()
    page.until(lambda: page.all("article img"))
    check(page, "shoots")


def test_every_panel(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("L")
    for chord in ("Shift+Y", "Shift+Z", "Ctrl+K", "Shift+T", "?"):
        page.keys(chord)
        page.until(lambda: page.all("[role=dialog]"))
        check_panel(page, chord)
    page.button("decided").click()
    page.until(lambda: "to be kept" in page.text())
    check_panel(page, "how far the cull is")
    page.keys("?")
    page.button("Change keys").click()
    page.until(lambda: page.all("[data-command]"))
    check_panel(page, "key editor")
    page.one("[aria-label=Looks]").click()
    check(page, "looks")
    lines = "//*[@role='group'][@aria-label='Lines']//button[.='dark']"
    page.until(lambda: page.driver.find_element(By.XPATH, lines)).click()
    page.until(lambda: page.all(":root[data-theme=dark]"))
    page.button("First pass").click()
    page.until(lambda: "Weed out" in page.text())
    check_panel(page, "way")
    page.keys("Ctrl+G")
    page.until(lambda: "of 3 frames" in page.text())
    check_panel(page, "groups")
    page.keys("/", "Escape")
    camera = "//section//button[.='camera']"
    page.until(lambda: page.driver.find_element(By.XPATH, camera)).click()
    page.until(lambda: "Click the ones you want" in page.text())
    check_panel(page, "a fact's choices")
    page.keys("Ctrl+K")
    page.driver.switch_to.active_element.send_keys("All facts", Keys.ENTER)
    page.until(lambda: "Facts of" in page.text())
    check_panel(page, "all facts")


def test_what_is_at_hand(winnow: Running, page: Page, tmp_path: Path) -> None:
    """Menus, choosers and small panels, in which what is done with a frame is said."""
    opened(winnow, page, tmp_path, [1, 1, 2, 3])
    page.until(page.analysed)
    page.keys("M")
    page.until(lambda: "QH_0001" in page.text("[role=listbox]"))
    first = page.one('[role=option][aria-label^="QH_0001"]')
    ActionChains(page.driver, duration=10).move_to_element(first).perform()
    page.until(lambda: page.all("[data-hover]"))
    check(page, "names under frames, the pointer over one")
    ActionChains(page.driver, duration=10).context_click(first).perform()
    page.until(lambda: page.all("[role=menu]"))
    check(page, "the menu of a frame")
    page.keys("Escape")
    page.until(lambda: not page.all("[role=menu]"))
    page.keys("Shift+M")
    page.until(lambda: "Facts of" in page.text())
    check(page, "facts beside the sheet")
    page.keys("Shift+M", ":")
    page.until(lambda: page.all("[role=dialog]"))
    page.field("Folder").send_keys(str(tmp_path / "out"))
    page.until(lambda: page.button("Copy 1 frame").is_enabled())
    check(page, "to a folder")
    page.until(lambda: page.button("Choose …")).click()
    page.until(lambda: page.all("[role=dialog] [data-name]"))
    check(page, "the folder chooser")
    page.keys("Escape")
    page.until(lambda: len(page.all("[role=dialog]")) == 1)
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))
    page.keys('"')
    page.until(lambda: page.all("[role=dialog]"))
    check_panel(page, "to a program")
    page.keys("Shift+U")
    page.until(lambda: page.all("[data-review] [data-why]"))
    page.until(lambda: "not compared yet" not in page.text("[data-why]"))
    check(page, "review")
    # Three groups, of which nothing is kept.
    page.keys("J", "J", "J")
    page.until(lambda: "The draft is through" in page.text())
    check(page, "the draft is through")


def test_every_step_of_the_wrap_up(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("L", "L", "J", "Q")
    page.until(lambda: page.button("Write 3 frames"))
    for summary in page.all("#wrap-up summary"):
        summary.click()
    check(page, "before anything is done")
    page.button("profiles").click()
    page.until(lambda: page.all("[role=dialog] tbody tr"))
    check_panel(page, "profiles")
    write(page, "Write 3 frames")
    page.until(lambda: page.all("[data-testid=written]"))
    step(page, "Rename in place")
    fill(page, "New names", "fair {nothing}")
    page.until(lambda: "There is no field" in page.text())
    check(page, "a name that can't be")
    fill(page, "New names", "fair {seq:2}")
    write(page, "Rename 2 frames")
    page.until(lambda: page.all("[data-renaming=done]"))
    step(page, "Deliver to a folder")
    page.field("Folder for the copies").send_keys(str(tmp_path / "out"))
    page.until(lambda: page.button("Copy 2 picks").is_enabled())
    check(page, "a delivery's plan")
    write(page, "Copy 2 picks")
    page.until(lambda: page.all("[data-delivery=done]"))
    page.button("what went where").click()
    page.until(lambda: "BLAKE3" in page.driver.page_source)
    step(page, "Hand to another program")
    page.button("Add a program").click()
    check(page, "delivered; a program's form")
    step(page, "Show proofs")
    page.field("Folder for the proof").send_keys(str(tmp_path / "proofs"))
    check(page, "a gallery's form")
    page.all("input[name=proof]")[1].click()
    page.until(lambda: "on 1 page" in page.text())
    check(page, "a contact sheet's form")
    step(page, "Lists")
    choose(page, "Which frames", "all frames")
    check(page, "lists")
    step(page, "Set the rejects aside")
    write(page, "Set 1 reject aside")
    page.until(lambda: page.all('[aria-label="Set aside"] input'))
    check(page, "set aside")


def test_bringing_in(alone: Running, page: Page, tmp_path: Path) -> None:
    make_card(tmp_path / "cards" / "QUILLON", 3)
    page.open(alone.start("serve", "--cards", tmp_path / "cards"))
    page.until(lambda: "QUILLON" in page.text())
    check(page, "no shoot yet, a card")
    page.button("Bring in …").click()
    page.field("Name of the shoot").send_keys("Quay")
    page.until(lambda: "3 files" in page.text())
    check(page, "bringing in")
    page.button("Look first").click()
    page.until(lambda: len(page.all("[aria-label='On the card'] img")) == 3)
    check_panel(page, "what is on the card")
