"""A whole cull with the keyboard alone, and one with fingers on a screen."""

import os
from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.pointer_input import PointerInput
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import opened
from tests.pictures import write_shoot

pytestmark = pytest.mark.browser


def press(page: Page, *keys: str) -> None:
    ActionChains(page.driver, duration=10).send_keys(*keys).perform()


def tab_to(page: Page, name: str) -> None:
    """Go on with Tab until a control with this name, or these words, has the focus."""
    said = (
        "const e = document.activeElement;"
        "return [e.getAttribute('aria-label'), e.textContent, "
        "e.closest('label')?.textContent].join(' ')"
    )
    for _ in range(150):
        if name in page.driver.execute_script(said):
            return
        press(page, Keys.TAB)
    raise AssertionError(f"Tab never comes to {name}")


def test_a_cull_by_keyboard_alone(winnow: Running, page: Page, tmp_path: Path) -> None:
    """From opening the folder to the copies, without a pointer."""
    folder, target = tmp_path / "shoot", tmp_path / "out"
    write_shoot(folder, [1, 1, 1, 2, 2, 3])
    page.open(winnow.url)
    page.until(lambda: page.field("Folder"))
    tab_to(page, "Folder")
    press(page, str(folder), Keys.ENTER)
    page.until(lambda: len(page.cells()) == 6)
    page.until(page.analysed)
    page.until(lambda: len(page.all("[data-group]")) == 3)
    # Compare a group, keep one of it, go on frame by frame, with a look close.
    page.keys("Home", "V")
    page.until(lambda: len(page.all("[data-tile]")) == 3)
    page.keys("L", "J", "J", "Escape")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, rejected")
    page.keys("N", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("D")
    page.until(lambda: "100 %" in page.text())
    page.keys("D", "4", "L", "J", "L", "Space")
    page.until(lambda: page.cell("QH_0006") == "QH_0006, picked")
    page.until(lambda: page.cell("QH_0004") == "QH_0004, picked · 4 stars")
    # A mistake is undone, and done again.
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0006") == "QH_0006, undecided")
    page.keys("Ctrl+Shift+Z")
    page.until(lambda: page.cell("QH_0006") == "QH_0006, picked")
    # Filter to the keepers by typing.
    page.keys("/")
    page.until(
        lambda: page.driver.switch_to.active_element.get_attribute("aria-label") == "Written filter"
    )
    press(page, "pick", Keys.ENTER)
    page.until(lambda: page.cells() == ["QH_0001", "QH_0004", "QH_0006"])
    press(page, Keys.ESCAPE)

    # Wrap up: to the step by its name, the folder, and the button.
    def let_go() -> bool:
        """Whether no field has the focus; else one step back."""
        free = page.driver.switch_to.active_element.tag_name == "body"
        if not free:
            press(page, Keys.ESCAPE)
        return free

    page.until(let_go)
    page.keys("Q")
    page.until(lambda: page.all("nav[aria-label='Steps of the wrap-up']"))
    tab_to(page, "Deliver to a folder")
    press(page, Keys.ENTER)
    tab_to(page, "Folder for the copies")
    press(page, str(target))
    # A plan of what was typed so far says that, too: the last one names the whole folder.
    page.until(lambda: f"{target} (the folder is made)" in page.text())
    page.until(lambda: page.button("Copy 3 picks").is_enabled())
    press(page, Keys.ENTER)
    page.until(lambda: page.all("[data-delivery=done]"))
    assert sorted(os.listdir(target)) == [
        "QH_0001.jpg", "QH_0001.xmp", "QH_0004.jpg", "QH_0004.xmp", "QH_0006.jpg", "QH_0006.xmp",
    ]  # fmt: skip


def tap(page: Page, element: WebElement) -> None:
    """Touch an element with a finger, once it lies still."""
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'nearest'})", element)
    places: list[object] = []

    def still() -> bool:
        places.append(element.rect)
        return len(places) > 3 and places[-1] == places[-2] == places[-3]

    page.until(still)
    finger = PointerInput("touch", "finger")
    actions = ActionBuilder(page.driver, mouse=finger)
    actions.pointer_action.move_to(element).pointer_down().pointer_up()
    actions.perform()


def test_a_cull_by_touch(winnow: Running, page: Page, tmp_path: Path) -> None:
    """On a tablet: frames and buttons under a finger, no key at all."""
    page.driver.execute_cdp_cmd(
        "Emulation.setTouchEmulationEnabled", {"enabled": True, "maxTouchPoints": 5}
    )
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    target = tmp_path / "out"

    def frame(name: str) -> WebElement:
        return page.one(f'[role=option][aria-label^="{name},"]')

    def button(words: str) -> WebElement:
        return page.until(lambda: next(b for b in page.all("footer button") if words in b.text))

    def choose(number: int) -> None:
        tap(page, frame(f"QH_000{number}"))
        page.until(lambda: f"frame {number} of 3" in page.text("header"))

    tap(page, page.button("no, thanks"))
    page.until(lambda: "New here?" not in page.text())
    choose(1)
    tap(page, button("pick"))
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")
    choose(2)
    tap(page, button("reject"))
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")
    tap(page, button("undo"))
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided")
    # One frame, large, and back.
    choose(3)
    nav = {b.text: b for b in page.all("nav[aria-label='Ways of looking'] button")}
    tap(page, nav["Frame"])
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    tap(page, button("pick"))
    nav = {b.text: b for b in page.all("nav[aria-label='Ways of looking'] button")}
    tap(page, nav["Sheet"])
    page.until(lambda: page.cell("QH_0003") == "QH_0003, picked")
    tap(page, nav["Wrap up"])
    # What comes from the server makes the steps above it higher.
    page.until(lambda: "groups has a pick" in page.text())
    page.until(lambda: "new file beside the picture" in page.text())
    tap(page, page.field("Folder for the copies"))
    page.until(
        lambda: (
            page.driver.switch_to.active_element.get_attribute("aria-label")
            == "Folder for the copies"
        )
    )
    # What the tablet's own keyboard types.
    page.driver.switch_to.active_element.send_keys(str(target))
    page.until(lambda: page.button("Copy 2 picks").is_enabled())
    tap(page, page.one("h2"))  # the list of folders closes
    tap(page, page.button("Copy 2 picks"))
    page.until(lambda: page.all("[data-delivery=done]"))
    assert {"QH_0001.jpg", "QH_0003.jpg"} < set(os.listdir(target))
    assert sorted(os.listdir(folder)) == ["QH_0001.jpg", "QH_0002.jpg", "QH_0003.jpg"]
