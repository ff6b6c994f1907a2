"""What a person does at the working screens: sweep, fold, sort, compare tones, change keys and
labels."""

import json
from pathlib import Path

import pytest
from PIL import Image
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import active, opened
from tests.pictures import NOON, write_jpeg

pytestmark = pytest.mark.browser


READY = "[data-testid=photograph] [data-ready=true]"


def cell(page: Page, number: int) -> WebElement:
    return page.one(f'[role=option][aria-label^="QH_{number:04d},"]')


def draw(page: Page, first: int, last: int, key: str = "") -> None:
    """Press the pointer on one frame and draw it to another, with a key held or without."""
    actions = ActionChains(page.driver, duration=40)
    if key:
        actions.key_down(key)
    actions.move_to_element(cell(page, first)).click_and_hold()
    for number in range(first + 1, last + 1):
        actions.move_to_element(cell(page, number))
    actions.release()
    if key:
        actions.key_up(key)
    actions.perform()


def decisions(page: Page) -> list[str]:
    return [
        (option.get_attribute("aria-label") or "").split(", ")[1]
        for option in page.all("[role=option]")
    ]


def test_a_sweep_is_one_step_and_means_only_what_it_crossed(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2, 2])
    page.keys("End")
    draw(page, 2, 3, key="l")
    # Pressing the key had marked the active frame, the last one: that is taken back.
    page.until(lambda: decisions(page) == ["undecided", "picked", "picked"] + ["undecided"] * 3)
    page.until(lambda: "picked 2 frames" in page.text("footer"))
    page.keys("Ctrl+Z")
    page.until(lambda: decisions(page) == ["undecided"] * 6)
    page.until(lambda: "nothing to undo" in page.text("footer"))


def test_frames_are_selected_by_drawing_round_them_and_by_group(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2])
    draw(page, 2, 3)
    page.until(lambda: "2 selected" in page.text("header"))
    page.keys("J")
    page.until(lambda: decisions(page).count("rejected") == 2)
    page.keys("Escape")
    page.one("[data-group='1'] button[title^='Select']").click()
    page.until(lambda: "2 selected" in page.text("header"))
    page.keys("3")
    page.until(lambda: page.cell("QH_0005") == "QH_0005, undecided · 3 stars")


def test_a_group_folds_to_its_best_and_an_order_keeps_the_place(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2])
    page.keys("F", "L", "End", "5", "G")
    page.until(lambda: page.cells() == ["QH_0001", "QH_0002", "QH_0003", "QH_0005"])
    page.keys("Home", "G", "End")
    # The pick stands for its group, once nobody stands in it.
    page.until(lambda: page.cells() == ["QH_0002", "QH_0005"])
    page.keys("ArrowLeft")
    page.until(lambda: "frame 2 of" in page.text("header"))
    page.keys("Shift+G")
    page.until(lambda: len(page.cells()) == 5)

    page.one("[aria-label=Looks]").click()
    page.one("[role=dialog] select").send_keys("stars")
    page.keys("Escape")
    page.until(lambda: page.cells()[0] == "QH_0005")
    page.until(lambda: "5★" in page.text("[data-group]"))
    selected = page.one("[role=option][aria-selected=true]").get_attribute("aria-label") or ""
    assert selected.startswith("QH_0002")


def test_weeding_out_is_explained_and_frames_leave_as_they_are_rejected(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.button("next frame").click()
    page.button("What is that").click()
    page.until(lambda: "what you don’t look at counts as picked" in page.text())
    page.button("Pick 3 frames, then weed out").click()
    page.until(lambda: decisions(page) == ["picked"] * 3)
    page.keys("Home", "J")
    page.until(lambda: page.cells() == ["QH_0002", "QH_0003"])
    page.until(lambda: "leaves this view" in page.text("header"))
    page.keys("J")
    page.until(lambda: page.cells() == ["QH_0003"])
    page.keys("J")
    # Nothing is left: why, and what to do.
    page.until(lambda: "No frame passes “Picks”" in page.text())
    page.button("Any decision: 3 frames").click()
    page.until(lambda: len(page.cells()) == 3)
    page.keys("Ctrl+Z", "Ctrl+Z", "Ctrl+Z", "Ctrl+Z")
    page.until(lambda: decisions(page) == ["undecided"] * 3)


def test_the_history_goes_back_to_any_step_and_on_again(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.keys("L", "J", "L")
    page.until(lambda: decisions(page) == ["picked", "rejected", "picked"])
    page.until(lambda: "picked QH_0003" in page.text("footer"))
    page.keys("Shift+Z")
    page.button("picked QH_0001").click()
    page.until(lambda: decisions(page) == ["picked", "undecided", "undecided"])
    page.button("rejected QH_0002").click()
    page.until(lambda: decisions(page) == ["picked", "rejected", "undecided"])
    page.button("before the first mark").click()
    page.until(lambda: decisions(page) == ["undecided"] * 3)
    page.button("picked QH_0003").click()
    page.until(lambda: decisions(page) == ["picked", "rejected", "picked"])


def test_keys_are_changed_swapped_saved_and_stay(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.keys("?")
    page.button("Change keys").click()
    page.one("[data-command=pick] .underline").click()
    page.keys("J")
    page.until(lambda: "now does “Reject”" in page.text("[role=alert]"))
    page.button("Swap").click()
    page.until(lambda: "2 changed" in page.text())
    page.field("Name of the key set").send_keys(Keys.CONTROL + "a")
    page.field("Name of the key set").send_keys("Left hand")
    page.button("Save a copy").click()
    page.until(lambda: page.driver.find_elements(By.XPATH, "//button[.='Left hand']"))
    page.button("Search by a key").click()
    page.keys("J")
    page.until(
        lambda: len(page.all("[data-command]")) == 3
    )  # the review and trimming have their own
    page.until(lambda: "Pick" in page.text("[data-command]"))
    page.keys("Escape")

    page.driver.refresh()
    page.until(lambda: len(page.cells()) == 3)
    page.keys("J", "L")
    page.until(lambda: decisions(page)[:2] == ["picked", "rejected"])
    page.until(lambda: page.text("footer").startswith("L\nreject"))

    page.keys("?")
    page.button("Change keys").click()
    page.button("Reset all").click()
    page.until(lambda: "all as they come" in page.text())
    page.keys("Escape", "End", "L")
    page.until(lambda: decisions(page)[2] == "picked")


def test_labels_are_added_given_a_meaning_and_refused_when_alike(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2])
    page.keys("Shift+Y")
    page.button("Add a label").click()
    name = page.field("Name of label 6")
    name.send_keys(Keys.CONTROL + "a")
    name.send_keys("Retouch")
    page.button("Use these labels").click()
    page.until(lambda: "Two labels have the same name" in page.text("[role=alert]"))
    name.send_keys(Keys.CONTROL + "a")
    name.send_keys("Cover")
    page.field("Means of label 6").send_keys("for the front page")
    page.field("Name of the set").send_keys("Village paper")
    page.button("Save").click()
    page.until(lambda: page.driver.find_elements(By.XPATH, "//button[.='Village paper']"))
    page.button("Use these labels").click()
    page.until(lambda: not page.all("[role=dialog]"))
    page.keys("6")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, undecided · Cover")

    # Taken from the set, its frames keep the letter; the filter still finds them.
    page.keys("Shift+Y")
    page.one('[aria-label="Remove Cover"]').click()
    page.until(lambda: "keep the letter" in page.text())
    page.button("Use these labels").click()
    page.until(lambda: not page.all("[role=dialog]"))
    page.until(lambda: page.all('[role=option] svg[aria-label="label B"]'))
    page.keys("E")
    page.button("label B").click()
    page.until(lambda: page.cells() == ["QH_0001"])


def drawn(page: Page, name: str) -> int:
    """How many pixels of an overlay are not clear."""
    page.until(lambda: page.all(f'[data-over={name}][data-drawn="true"]'))
    script = """
        const c = document.querySelector(arguments[0]);
        const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
        let n = 0; for (let i = 3; i < d.length; i += 4) n += d[i] > 0; return n"""
    count: int = page.driver.execute_script(script, f"[data-over={name}]")
    return count


def test_tones_are_read_from_the_picture(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    folder.mkdir()
    picture = Image.new("RGB", (1200, 800), (128, 128, 128))
    picture.paste((255, 255, 255), (0, 0, 300, 400))  # an eighth of it
    picture.paste((0, 0, 0), (1000, 400, 1200, 640))  # a twentieth
    picture.save(folder / "QH_0001.jpg", quality=95)
    page.open(winnow.open(folder))
    page.until(lambda: page.all("[data-frame] img[src$='.2']"))
    page.keys("Space")
    page.until(lambda: page.all(READY))
    page.keys("Shift+C", "C")
    page.until(lambda: "13 % bright end" in page.text())
    page.until(lambda: "5 % dark end" in page.text())
    high = drawn(page, "clipped")
    # Half of the stripes is black, half white: all of the eighth, and dots over the dark part.
    assert 0.125 * 960_000 < high < 0.135 * 960_000
    page.keys("Shift+C", "C", "Shift+X")
    # The rims of the two parts, within the frame: some 2 x 700 + 2 x 880 px of them.
    assert 800 < drawn(page, "edges") < 6000


def test_a_frame_is_turned_on_screen_only(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 2])
    before = {p.name: p.read_bytes() for p in folder.iterdir()}
    page.keys(">", "Space")
    page.until(lambda: "turned 90°" in page.text())
    page.until(lambda: page.all(READY))
    script = "const r = arguments[0].getBoundingClientRect(); return r.width / r.height"
    ratio = page.driver.execute_script(script, page.one(READY))
    assert ratio == pytest.approx(2 / 3, abs=0.01)
    page.driver.refresh()
    page.until(lambda: "turned 90°" in page.text())
    page.keys("X")
    page.until(lambda: page.all("[data-testid=focus-over][data-drawn=true]"))
    page.keys("<")
    page.until(lambda: "turned" not in page.text("main"))
    assert {p.name: p.read_bytes() for p in folder.iterdir()} == before


def test_looking_close_at_200_and_with_the_glass(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    for n in (1, 2):
        write_jpeg(folder / f"QH_{n:04d}.jpg", 1, NOON + n, width=2400, height=1600)
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) == 2)
    page.keys("Space")
    page.until(lambda: page.all(READY))
    page.keys("Shift+D")
    page.until(lambda: page.one(READY).size["width"] == 4800)
    page.until(lambda: "200 %" in page.text())
    page.keys("D")
    page.until(lambda: page.one(READY).size["width"] == 2400)
    page.keys("F")
    page.until(lambda: active(page) == "QH_0002")
    page.until(lambda: page.one(READY).size["width"] == 2400)
    page.keys("D", "G")
    ActionChains(page.driver).move_to_element(page.one("[data-testid=photograph]")).perform()
    page.until(lambda: page.one("[data-testid=glass] img").size["width"] == 2400)
    page.keys("G")
    page.until(lambda: not page.all("[data-testid=glass]"))


def test_fingers_swipe_and_spread(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1])
    page.keys("Space")
    page.until(lambda: page.all(READY))

    def touch(kind: str, *points: tuple[int, int]) -> None:
        fingers = [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(points)]
        event = {"type": kind, "touchPoints": fingers}
        page.driver.execute_cdp_cmd("Input.dispatchTouchEvent", event)

    touch("touchStart", (700, 400))
    touch("touchMove", (600, 402))
    touch("touchMove", (520, 405))
    touch("touchEnd")
    page.until(lambda: active(page) == "QH_0002")
    touch("touchStart", (550, 400), (650, 400))
    touch("touchMove", (500, 400), (700, 400))
    touch("touchEnd")
    page.until(lambda: page.one("[data-testid=photograph]").get_attribute("data-close") == "true")
    page.until(lambda: active(page) == "QH_0002")
    page.keys("Escape", "Escape", "Home")
    # Two fingers that come together show less, down to the whole picture.
    page.keys("Space")
    page.until(lambda: page.all(READY))
    touch("touchStart", (550, 400), (650, 400))
    touch("touchMove", (450, 400), (750, 400))
    touch("touchMove", (590, 400), (610, 400))
    touch("touchEnd")
    page.until(lambda: page.one("[data-testid=photograph]").get_attribute("data-close") == "false")
    page.keys("Escape", "Home")
    # In the sheet, a finger selects by the frame's menu, and then with a tap each.
    page.until(lambda: len(page.cells()) == 3)

    def middle(number: int) -> tuple[int, int]:
        box = cell(page, number).rect
        return int(box["x"] + box["width"] / 2), int(box["y"] + box["height"] / 2)

    touch("touchStart", middle(2))
    page.until(lambda: page.all("[role=menu]"))
    touch("touchEnd")
    page.until(lambda: page.driver.find_elements("xpath", "//*[.='Select this, too']")[0]).click()
    page.until(lambda: "1 selected" in page.text("header"))
    touch("touchStart", middle(3))
    touch("touchEnd")
    page.until(lambda: "2 selected" in page.text("header"))
    page.button("none").click()
    page.until(lambda: "selected" not in page.text("header"))


def test_the_second_window_shows_the_same_frame_and_both_mark(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2])
    first, before = page.driver.current_window_handle, set(page.driver.window_handles)
    page.keys("Shift+O")
    second = page.until(lambda: (set(page.driver.window_handles) - before).pop())
    page.driver.switch_to.window(second)
    page.until(lambda: page.all(READY))
    page.driver.switch_to.window(first)
    page.keys("F", "F")
    page.driver.switch_to.window(second)
    name = "return document.querySelector('[data-testid=photograph] [data-ready=true]').ariaLabel"
    page.until(lambda: page.driver.execute_script(name) == "QH_0003")
    page.keys("L")
    page.until(lambda: page.driver.execute_script(name) == "QH_0004")
    page.driver.switch_to.window(first)
    page.until(lambda: page.cell("QH_0003") == "QH_0003, picked")
    page.until(lambda: "frame 4 of 4" in page.text("header"))


@pytest.mark.parametrize("size", [(360, 740), (768, 1024), (900, 700), (1280, 800), (2560, 1440)])
def test_nothing_is_cut_off_in_small_and_large_windows(
    winnow: Running, page: Page, tmp_path: Path, size: tuple[int, int]
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("L")
    page.viewport(*size)
    script = """
        const out = [];
        const shown = 'header button, footer button, header a, main button';
        for (const e of document.querySelectorAll(shown)) {
          const { width, left, right } = e.getBoundingClientRect();
          if (width && (right > innerWidth + 1 || left < 0)) out.push(e.outerHTML.slice(0, 90));
        }
        return out"""
    page.until(lambda: page.driver.execute_script("return innerWidth") == size[0])
    for keys in ((), ("Space",), ("Home", "V"), ("B",), ("I",), ("Shift+H",)):
        page.keys(*keys)
        page.until(lambda: page.driver.execute_script(script) == [])
    assert json.dumps(page.driver.get_log("browser")) == "[]"
