"""What people reach for: the pointer over a frame, its menu, free zoom, facts beside it."""

from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.actions.wheel_input import ScrollOrigin
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_compare import begun, tiles
from tests.browser.test_whole_job import opened
from tests.pictures import NOON, write_jpeg

pytestmark = pytest.mark.browser


def frame(page: Page, name: str) -> WebElement:
    return page.one(f'[role=option][aria-label^="{name},"]')


def hover(page: Page, element: WebElement) -> None:
    ActionChains(page.driver, duration=10).move_to_element(element).perform()


def choose(page: Page, words: str) -> None:
    """Choose from the menu that is open."""
    items = f"//*[@role='menuitem'][contains(., {words!r})]"
    page.until(lambda: page.driver.find_elements("xpath", items)[0]).click()
    page.until(lambda: not page.all("[role=menu]"))


def wheel(page: Page, element: WebElement, turns: int, x: int = 0, y: int = 0) -> None:
    """Turn the wheel over an element, towards the screen by positive turns."""
    origin = ScrollOrigin.from_element(element, x, y)
    for _ in range(abs(turns)):
        step = -100 if turns > 0 else 100
        ActionChains(page.driver, duration=10).scroll_from_origin(origin, 0, step).perform()


def scale(page: Page) -> float:
    return float(page.one("[data-testid=photograph]").get_attribute("data-scale") or 0)


def test_the_mouse_marks_and_the_menu_does_the_rest(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2, 3])
    page.until(page.analysed)
    hover(page, frame(page, "QH_0002"))
    page.until(lambda: page.text("[data-hover]") == "QH_0002")
    page.one("[data-hover] [aria-label^='Reject']").click()
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")
    # The right button means the frame under it.
    ActionChains(page.driver, duration=10).context_click(frame(page, "QH_0003")).perform()
    page.until(lambda: "QH_0003" in page.text("[role=menu]"))
    choose(page, "Pick")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, picked")
    for name in ("QH_0003", "QH_0004"):
        ActionChains(page.driver, duration=10).context_click(frame(page, name)).perform()
        choose(page, "Select this, too")
    page.until(lambda: "2 selected" in page.text("header"))
    ActionChains(page.driver, duration=10).context_click(frame(page, "QH_0004")).perform()
    page.until(lambda: "Take out of the selection" in page.text("[role=menu]"))
    assert "2 frames" in page.text("[role=menu]")
    page.keys("Escape")
    page.until(lambda: not page.all("[role=menu]"))
    # Names under the frames, for whoever wants them.
    assert "QH_0001" not in page.text("[role=listbox]")
    page.keys("Escape", "M")
    page.until(lambda: "QH_0001" in page.text("[role=listbox]"))
    page.keys("M")
    # A double click shows one frame.
    ActionChains(page.driver, duration=10).double_click(frame(page, "QH_0001")).perform()
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))


def test_a_finger_that_stays_opens_the_menu(winnow: Running, page: Page, tmp_path: Path) -> None:
    page.driver.execute_cdp_cmd(
        "Emulation.setTouchEmulationEnabled", {"enabled": True, "maxTouchPoints": 5}
    )
    opened(winnow, page, tmp_path, [1, 2])
    page.until(page.analysed)
    page.until(lambda: page.button("no, thanks")).click()
    page.until(lambda: "New here?" not in page.text())

    def stay(element: WebElement) -> None:
        box = element.rect
        at = {"x": box["x"] + box["width"] / 2, "y": box["y"] + box["height"] / 2}
        touch = "Input.dispatchTouchEvent"
        page.driver.execute_cdp_cmd(touch, {"type": "touchStart", "touchPoints": [at]})
        page.until(lambda: page.all("[role=menu]"))
        page.driver.execute_cdp_cmd(touch, {"type": "touchEnd", "touchPoints": []})

    stay(frame(page, "QH_0002"))
    choose(page, "Pick")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, picked")
    page.keys("Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    stay(page.one("[data-testid=photograph]"))
    choose(page, "Reject")
    # It was no tap: the picture is whole as before.
    assert scale(page) == 0
    page.keys("Space")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")


def test_zoom_is_free_and_the_facts_stand_beside(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    begun(winnow, page, tmp_path, [(0, 0, 0), (40, 25, 0), (-60, 30, 3)])
    page.viewport(900, 700)
    page.keys("Home", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    photograph = page.one("[data-testid=photograph]")
    wheel(page, photograph, 1, 60, 40)
    page.until(lambda: 0 < scale(page) < 1)
    wheel(page, photograph, 9, 60, 40)
    page.until(lambda: scale(page) > 1)
    wheel(page, photograph, 12)
    page.until(lambda: scale(page) == 4)
    page.until(lambda: "400 %" in page.text("[aria-label='How close']"))
    wheel(page, photograph, -30)
    page.until(lambda: scale(page) == 0)
    page.keys("Ctrl+ArrowUp")
    page.until(lambda: scale(page) > 0)
    page.keys("Ctrl+ArrowDown")
    page.until(lambda: scale(page) == 0)
    # A double click looks close, as a click does, and no more.
    ActionChains(page.driver, duration=10).double_click(photograph).perform()
    page.until(lambda: scale(page) == 1)
    page.keys("D")
    page.until(lambda: scale(page) == 0)
    # The facts stand beside it, and the keys go on working.
    page.viewport(1280, 800)
    page.one("footer [aria-label='All facts of this frame']").click()
    page.until(lambda: "Facts of QH_0001" in page.text("aside[aria-label='All facts']"))
    page.keys("F", "L")
    page.until(lambda: "Facts of QH_0003" in page.text("aside[aria-label='All facts']"))
    page.keys("Shift+M")
    page.until(lambda: not page.all("aside[aria-label='All facts']"))
    page.one("footer [aria-label='Captions and rights']").click()
    page.until(lambda: page.all("aside[aria-label='Captions and rights']"))


def test_side_by_side_as_many_as_wanted_together_or_alone(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    begun(winnow, page, tmp_path, [(n * 12 - 30, n * 8, 0) for n in range(6)])
    page.keys("Home", "V")
    page.until(lambda: len(tiles(page)) == 6)
    sizes = {(t.rect["width"], t.rect["height"]) for t in page.all("[data-tile] [data-near]")}
    assert len({(round(w), round(h)) for w, h in sizes}) == 1
    page.one("[aria-label='How many side by side at most']").send_keys("4")
    page.until(lambda: len(tiles(page)) == 3 and "page 1 of 2" in page.text())
    first, second = page.all("[data-tile] [data-near]")[:2]
    wheel(page, first, 12)
    page.until(lambda: float(first.get_attribute("data-near") or 0) > 1)
    together = first.get_attribute("data-near")
    assert second.get_attribute("data-near") == together
    # One alone: by the sign in the bar or its key.
    page.keys("E")
    page.until(lambda: "one alone" in page.text())
    wheel(page, second, -3)
    name = tiles(page)[1]
    page.until(lambda: " %" in page.text(f"[data-tile={name}] figcaption"))
    assert first.get_attribute("data-near") == together
    page.keys("Shift+Backspace")
    page.until(lambda: " %" not in page.text(f"[data-tile={name}] figcaption"))


def test_frames_go_to_a_folder_from_where_they_are(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.until(page.analysed)
    target = tmp_path / "for the web"
    page.keys("Home", "Shift+F", ":")
    page.until(lambda: "2 frames to a folder" in page.text("[role=dialog]"))
    page.field("Folder").send_keys(str(target))
    page.until(lambda: page.button("Copy 2 frames").is_enabled())
    page.field("Folder").send_keys(Keys.ENTER)
    page.until(lambda: page.all("[role=dialog] [data-delivery=done]"))
    assert sorted(p.name for p in target.glob("*.jpg")) == ["QH_0001.jpg", "QH_0002.jpg"]
    page.button("Close").click()
    # The place is remembered, and what is there is not offered again.
    page.until(lambda: not page.all("[role=dialog]"))
    page.keys(":")
    page.until(lambda: "nothing is left to deliver" in page.text("[role=dialog]"))
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))
    # Taken back from the same place.
    page.keys("Escape", "End", ":")
    page.until(lambda: page.button("Copy 1 frame").is_enabled())
    page.button("Copy 1 frame").click()
    page.until(lambda: page.button("Take back")).click()
    page.until(lambda: page.all("[role=dialog] [data-delivery=returned]"))
    assert not (target / "QH_0003.jpg").exists()
    page.button("Close").click()
    page.until(lambda: not page.all("[role=dialog]"))
    page.keys('"')
    page.until(lambda: "No program is known yet" in page.text("[role=dialog]"))


def test_commands_are_found_by_everyday_words(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.until(page.analysed)

    def search(words: str) -> None:
        page.keys("Ctrl+K")
        page.until(lambda: page.all("[role=dialog] [cmdk-input]"))
        page.one("[role=dialog] [cmdk-input]").send_keys(words)

    def shown() -> str:
        return page.text("[role=dialog] [cmdk-list]")

    search("rotate")
    page.until(lambda: "Turn left (on screen only)" in shown())
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))
    search("export")
    page.until(lambda: "Wrap up: Deliver to a folder" in shown())
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))
    # A command of another view says where it is one, and is run there.
    search("200 %")
    page.until(lambda: "in: frame" in shown())
    page.keys("Enter")
    page.until(lambda: page.all("[data-testid=photograph]") and scale(page) == 2)
    page.keys("Escape", "Escape")
    page.until(lambda: len(page.cells()) == 3)
    # Conditions are read as a filter; what is no form of it is explained.
    page.keys("3")
    search("stars>2 rejected")
    page.until(lambda: "Write “reject”" in shown())
    page.keys("Escape")
    page.until(lambda: not page.all("[role=dialog]"))
    search("stars>2")
    page.until(lambda: "Show only:" in shown())
    page.driver.find_element("xpath", "//*[contains(., 'Show only:')][@cmdk-item]").click()
    page.until(lambda: page.cells() == ["QH_0001"])
    # By keys: with what is filtered for already, and back.
    page.keys("Shift+A", "F", "L")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, picked")
    page.keys("Shift+L")
    page.until(lambda: page.cells() == ["QH_0002"])
    page.keys("4", "Shift+3")
    page.until(lambda: "pick" in page.text("header") and "3" in page.text("header"))
    assert page.cells() == ["QH_0002"]
    page.keys("Shift+5")
    page.until(lambda: "No frame passes" in page.text() or not page.cells())
    page.keys("Shift+A")
    page.until(lambda: len(page.cells()) == 3)
    # The sheet of keys says where each holds, and controls say theirs.
    page.keys("?")
    page.until(lambda: "frame, side by side, knockout" in page.text("[role=dialog]"))
    page.keys("Escape")
    titles = {b.text: b.get_attribute("title") for b in page.all("header nav button")}
    assert titles["Side by side"] == "Side by side (V)"
    assert page.one("footer [aria-label=History]").get_attribute("title") == "History (Shift Z)"


def test_days_and_folders_are_seen_and_filtered(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    for n, (where, seconds) in enumerate(
        [("harbour", 0), ("harbour", 1), ("fair", 86_400), ("fair", 86_401), ("fair", 86_402)]
    ):
        write_jpeg(folder / where / f"QH_{n + 1:04d}.jpg", n, NOON + seconds)
    (folder / "fair" / "QH_0009.jpg").write_bytes(b"\xff\xd8 no picture")
    page.open(winnow.open(folder))
    page.until(lambda: len(page.cells()) == 6)
    page.until(page.analysed)
    days = page.until(lambda: [day.text for day in page.all("[data-day]")])
    assert len(days) == 2
    assert "2026" in days[0]
    assert "2 frames" in days[0]
    assert "00:00" not in page.text("[role=listbox]")
    page.keys("/")
    page.one("#written-filter").send_keys("day 2026-06-16 folder fair")
    page.until(lambda: page.cells() == ["QH_0003", "QH_0004", "QH_0005"])
    assert not page.all("[data-day]")
    page.keys("Escape", "E")
    page.keys("Shift+A")
    page.until(lambda: len(page.cells()) == 6)


def test_a_tablet_has_buttons_for_a_thumb(winnow: Running, page: Page, tmp_path: Path) -> None:
    page.driver.execute_cdp_cmd(
        "Emulation.setTouchEmulationEnabled", {"enabled": True, "maxTouchPoints": 5}
    )
    page.viewport(768, 1024)
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.until(page.analysed)
    for decision in ("reject", "undecided", "pick"):
        size = page.one(f"[data-decide={decision}]").size
        assert size["height"] >= 56
        assert size["width"] >= 150
    page.keys("Home")
    page.one("[data-decide=pick]").click()
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")
    page.one("[data-decide=reject]").click()
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")


def test_undo_shows_what_it_takes_back_and_says_what_it_does_not(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.until(page.analysed)
    page.keys("Home", "L", "J", "Home")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")
    # Among the picks, the last mark was on a frame that is not seen.
    page.keys("Shift+L")
    page.until(lambda: page.cells() == ["QH_0001"])
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided")
    page.until(lambda: "the filter is off to show it" in page.text("header"))
    page.until(lambda: "frame 2 of 3" in page.text("header"))
    page.keys("Z")
    page.until(lambda: page.cells() == ["QH_0001"])
    # Files are no steps of it, and it says where they are taken back.
    page.keys("Shift+Z")
    page.until(lambda: "in the wrap-up: nothing yet" in page.text("[role=dialog]"))
    page.keys("Escape", "Shift+A")
    page.until(lambda: len(page.cells()) == 3)
    page.keys("Home", ":")
    page.until(lambda: page.all("[role=dialog]"))
    page.field("Folder").send_keys(str(tmp_path / "out"))
    page.until(lambda: page.button("Copy 1 frame").is_enabled())
    page.button("Copy 1 frame").click()
    page.until(lambda: page.all("[data-delivery=done]"))
    page.button("Close").click()
    page.until(lambda: not page.all("[role=dialog]"))
    page.keys("Shift+Z")
    page.button("deliveries").click()
    page.until(lambda: page.driver.current_url.endswith("/wrap-up#step-4"))
