"""Choosing within a group: side by side, knockout, groups by slider and by hand."""

import io
from collections.abc import Sequence
from pathlib import Path

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from PIL import Image
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import opened
from tests.pictures import write_natural, write_shoot

pytestmark = pytest.mark.browser

# One subject, hand-held; the third and fifth are soft.
SIX = [(0, 0, 0), (40, 25, 0), (-60, 30, 3), (25, -40, 0), (-30, -20, 4), (70, 10, 0)]


def begun(
    winnow: Running, page: Page, tmp_path: Path, looks: Sequence[tuple[int, int, float]]
) -> None:
    write_natural(tmp_path / "shoot", looks)
    page.open(winnow.open(tmp_path / "shoot"))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) >= min(len(looks), 12), 40)
    page.until(page.analysed, 40)


def tiles(page: Page) -> list[str]:
    return [tile.get_attribute("data-tile") or "" for tile in page.all("[data-tile]")]


def active(page: Page) -> str:
    return page.one("[data-tile][data-active=true]").get_attribute("data-tile") or ""


def focus(page: Page, name: str) -> str:
    """How a tile's frame stands by its focus; "" until that is known."""
    found = page.all(f"[data-tile={name}] [data-standing]")
    return (found[0].get_attribute("data-standing") or "") if found else ""


def close_and_sharp(page: Page) -> bool:
    return len(page.all("[data-near='1'][data-ready=true]")) == len(page.all("[data-near]"))


def pictures(page: Page) -> list[NDArray[np.uint8]]:
    """What is drawn in the middle of each tile, in grey."""
    shot = np.asarray(Image.open(io.BytesIO(page.driver.get_screenshot_as_png())).convert("L"))
    found = []
    for tile in page.all("[data-near]"):
        box = tile.rect
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        found.append(shot[int(y) - 70 : int(y) + 70, int(x) - 90 : int(x) + 90])
    return found


def alike(one: NDArray[np.uint8], other: NDArray[np.uint8]) -> float:
    return float(cv2.matchTemplate(one, other, cv2.TM_CCOEFF_NORMED)[0, 0])


def sameness(page: Page) -> list[float]:
    """How much what is drawn in each tile looks like what is in the first."""
    drawn = pictures(page)
    return [alike(drawn[0], sample) for sample in drawn]


def decisions(page: Page) -> list[str]:
    """As they are stored."""
    listed = page.ask("frames")
    in_order = sorted(zip(listed["name"], listed["decision"], strict=True))
    return [decision for _, decision in in_order]


def test_the_best_of_six_is_chosen_by_elimination_at_100_percent(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    begun(winnow, page, tmp_path, SIX)
    page.keys("Ctrl+A", "V")
    page.until(lambda: len(tiles(page)) == 6)
    page.until(lambda: focus(page, "QH_0003") == focus(page, "QH_0005") == "softer")
    # The eye of the subject; every tile shows the same part, whatever way the camera moved.
    first = page.one("[data-tile=QH_0001] [data-near]")
    ActionChains(page.driver).move_to_element_with_offset(first, 0, -40).click().perform()
    page.until(lambda: close_and_sharp(page))
    page.until(lambda: focus(page, "QH_0003") == "softer")
    # The sharp ones look the same; the soft ones, too, but for their details.
    wanted = (0.97, 0.97, 0.85, 0.97, 0.85, 0.97)
    page.until(
        lambda: all(same > least for same, least in zip(sameness(page), wanted, strict=True))
    )
    page.until(lambda: focus(page, "QH_0005") == "softer")

    page.one("[data-tile=QH_0003] [data-near]").click()
    page.until(lambda: active(page) == "QH_0003")
    page.keys("J")  # a rejected frame leaves, and the next one is active
    page.until(lambda: tiles(page) == ["QH_0001", "QH_0002", "QH_0004", "QH_0005", "QH_0006"])
    page.until(lambda: active(page) == "QH_0004")
    page.keys("F", "-")  # one that is only taken out is not marked
    page.until(lambda: tiles(page) == ["QH_0001", "QH_0002", "QH_0004", "QH_0006"])
    page.keys("=")
    page.until(lambda: "QH_0005" in tiles(page) and active(page) == "QH_0005")
    page.keys("J")
    page.until(lambda: len(tiles(page)) == 4)
    page.keys("Ctrl+Z")
    page.until(lambda: "QH_0005" in tiles(page))
    page.keys("Ctrl+Shift+Z")
    page.until(lambda: "QH_0005" not in tiles(page))
    for _ in range(3):
        page.keys("Home", "-")
    page.until(lambda: tiles(page) == ["QH_0006"])
    page.until(lambda: page.one("[data-near]").get_attribute("data-ready") == "true")
    page.keys("L")
    page.until(lambda: "picked" in (page.one("[data-tile]").get_attribute("aria-label") or ""))
    page.until(
        lambda: (
            decisions(page) == ["undecided", "undecided", "reject", "undecided", "reject", "pick"]
        )
    )
    page.keys("Escape", "Escape")
    page.until(lambda: len(page.cells()) == 6)


def test_stepping_on_while_close_stays_on_the_subject(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    # Larger than the stage, so that the subject can be in its middle.
    for path in write_natural(tmp_path / "shoot", [(0, 0, 0), (60, 30, 0)]):
        Image.open(path).resize((2400, 1600)).save(path, quality=93)
    page.open(winnow.open(tmp_path / "shoot"))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) == 2)
    page.keys("Home", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    photograph = page.one("[data-testid=photograph]")
    ActionChains(page.driver).move_to_element_with_offset(photograph, 20, -120).click().perform()
    ready = "[data-close=true] img[data-ready=true]"

    def middle() -> NDArray[np.uint8]:
        shot = np.asarray(Image.open(io.BytesIO(page.driver.get_screenshot_as_png())).convert("L"))
        return shot[300:500, 500:760]

    page.until(lambda: page.all(ready))
    first = middle()
    page.keys("F")
    page.until(lambda: page.one(ready).get_attribute("alt") == "QH_0002")
    page.until(lambda: alike(middle(), first) > 0.97)


def test_one_tile_is_nudged_and_keeps_that(winnow: Running, page: Page, tmp_path: Path) -> None:
    begun(winnow, page, tmp_path, SIX[:3])
    page.keys("Ctrl+A", "V")
    page.until(lambda: focus(page, "QH_0002"))
    page.keys("D")
    page.until(lambda: close_and_sharp(page))
    page.keys("F")
    page.until(lambda: active(page) == "QH_0002")
    before = pictures(page)
    for _ in range(5):
        page.keys("Shift+ArrowRight")
    page.until(lambda: "nudged" in page.text("[data-tile=QH_0002] figcaption"))
    page.until(lambda: alike(pictures(page)[1][:, 20:], before[1][:, :-20]) > 0.98)
    page.until(lambda: alike(pictures(page)[0], before[0]) > 0.99)
    # All are dragged together; the nudge stays.
    tile = page.one("[data-tile=QH_0001] [data-near]")
    ActionChains(page.driver, duration=60).click_and_hold(tile).move_by_offset(
        -30, 12
    ).release().perform()
    page.until(lambda: close_and_sharp(page))
    page.until(lambda: "nudged" in page.text("[data-tile=QH_0002] figcaption"))
    page.until(lambda: alike(pictures(page)[0], before[0]) < 0.9)
    # With Alt, one alone.
    others = pictures(page)
    third = page.one("[data-tile=QH_0003] [data-near]")
    ActionChains(page.driver, duration=60).key_down(Keys.ALT).click_and_hold(third).move_by_offset(
        40, 0
    ).release().key_up(Keys.ALT).perform()
    page.until(lambda: "nudged" in page.text("[data-tile=QH_0003] figcaption"))
    page.until(lambda: alike(pictures(page)[0], others[0]) > 0.99)
    page.keys("Shift+Backspace")
    page.until(lambda: "nudged" not in page.text("[data-testid=tiles]"))


def test_forty_frames_go_in_pages_with_one_carried_along(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    write_shoot(tmp_path / "shoot", [1] * 40)
    page.open(winnow.open(tmp_path / "shoot"))
    page.until(lambda: len(page.all("[data-frame]")) > 5)
    page.keys("Ctrl+A", "V")
    page.until(lambda: "page 1 of 4" in page.text())
    page.until(lambda: tiles(page) == [f"QH_{n:04d}" for n in range(1, 11)])
    page.keys("F", "Shift+V", "PageDown")
    page.until(lambda: "page 2 of 4" in page.text())
    page.until(lambda: tiles(page)[0] == "QH_0002")
    page.until(lambda: "carried" in page.text("[data-tile=QH_0002] figcaption"))
    seen = {*tiles(page)}
    page.keys("PageDown", "PageDown")
    page.until(lambda: "page 4 of 4" in page.text())
    page.until(lambda: tiles(page)[0] == "QH_0002")
    page.until(lambda: active(page) == "QH_0002")
    assert not seen & set(tiles(page)[1:])
    page.keys("PageDown")
    page.until(lambda: "This is the last page" in page.text("header"))
    # A reload of the page goes on where it was.
    page.driver.refresh()
    page.until(lambda: "page 4 of 4" in page.text())
    page.keys("Escape")
    page.until(lambda: len(page.all("[data-frame]")) > 5)


def test_a_knockout_of_twelve_with_a_step_back_in_the_middle(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    begun(winnow, page, tmp_path, [(5 * n, 3 * n, 0) for n in range(12)])
    page.keys("Ctrl+A", "B")
    page.until(lambda: "11 comparisons left of 11" in page.text())
    page.driver.find_element(By.CSS_SELECTOR, "main [type=checkbox]").click()
    page.until(lambda: tiles(page) == ["QH_0001", "QH_0002"])
    page.keys("S")
    page.until(lambda: tiles(page) == ["QH_0001", "QH_0003"])
    page.keys("F")
    page.until(lambda: tiles(page) == ["QH_0003", "QH_0004"])
    page.keys("S")
    page.until(lambda: tiles(page) == ["QH_0003", "QH_0005"])
    # Back: the mark that the comparison made goes, too.
    page.keys("Ctrl+Z")
    page.until(lambda: tiles(page) == ["QH_0003", "QH_0004"])
    page.until(lambda: decisions(page)[:4] == ["reject", "reject", "undecided", "undecided"])
    page.keys("F")
    for _ in range(7):
        page.keys("S")
    page.until(lambda: "1 comparison left of 11" in page.text())
    page.keys("S")
    page.until(lambda: "QH_0004 wins of 12" in page.text())
    expected = ["reject"] * 3 + ["pick"] + ["reject"] * 8
    page.until(lambda: decisions(page) == expected)
    page.keys("Backspace", "F")
    expected = ["reject"] * 11 + ["pick"]
    page.until(lambda: "QH_0012 wins of 12" in page.text())
    page.until(lambda: decisions(page) == expected)
    page.keys("Escape")
    page.until(lambda: len(page.cells()) == 12)


def test_groups_by_the_slider_and_by_hand(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2, 3])

    def groups() -> list[str]:
        return [heading.text.split("\n")[0] for heading in page.all("[data-group]")]

    def count() -> int:
        return len(groups())

    page.keys("Home", "F", "[")
    page.until(lambda: count() == 4)
    page.until(lambda: "undo “split the group at QH_0002”" in page.text("footer"))
    page.keys("Home", "]")
    page.until(lambda: count() == 3)
    page.keys("End", "Shift+W")  # the last frame goes to the group before
    page.until(lambda: count() == 2)
    page.keys("Ctrl+Z")
    page.until(lambda: count() == 3)
    page.keys("Ctrl+G")
    slider = page.field("Tighter or looser groups")
    slider.send_keys(Keys.END)
    page.until(lambda: "1 group of 6 frames" in page.text())
    page.until(lambda: count() == 1)
    slider.send_keys(Keys.HOME)
    page.until(lambda: count() >= 3)
    page.button("back to the middle").click()
    page.until(lambda: count() == 3)
    page.keys("Escape")
    # The picks of a group stay, the rest of it goes, as one step.
    page.keys("Home", "F", "L", "Home", ";")
    page.until(lambda: decisions(page) == ["reject", "pick", "reject"] + ["undecided"] * 3)
    page.keys("'")
    page.until(lambda: "frame 4 of" in page.text("header"))
    page.keys("Ctrl+G")
    page.button("show groups without a pick").click()
    page.until(lambda: page.cells() == ["QH_0004", "QH_0005", "QH_0006"])
    page.keys("Escape", "Ctrl+Z")
    page.until(lambda: decisions(page) == ["undecided", "pick"] + ["undecided"] * 4)


def test_frames_like_one_are_shown_first(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 2, 2, 3, 3, 1])
    page.keys("Home", "=")
    page.until(lambda: page.cells()[:2] == ["QH_0001", "QH_0006"])
    page.until(lambda: "The most like the first one first" in page.text("[data-group]"))
    page.keys("Escape")
    page.until(lambda: page.cells() == [f"QH_000{n}" for n in range(1, 7)])


def test_two_frames_blink_or_show_their_difference(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    begun(winnow, page, tmp_path, [(0, 0, 0), (50, 20, 0)])
    page.keys("V")
    page.until(lambda: focus(page, "QH_0002"))
    page.keys("X")
    stage = page.until(lambda: page.one("[data-way=difference]"))
    page.until(
        lambda: all(i.get_property("complete") for i in stage.find_elements(By.CSS_SELECTOR, "img"))
    )

    def middle() -> NDArray[np.uint8]:
        shot = np.asarray(Image.open(io.BytesIO(page.driver.get_screenshot_as_png())).convert("L"))
        return shot[250:550, 500:900]

    # Laid on each other by the subject, nothing but the grain is left.
    page.until(lambda: middle().mean() < 20)
    page.keys("G")
    page.one("[data-way=blink]")
    page.until(lambda: "● QH_0002" in page.text())
    page.until(lambda: "● QH_0001" in page.text())
    page.keys("Escape")
    page.until(lambda: len(tiles(page)) == 2)
