"""What the analysis noticed: faces side by side, focus where one points, hints in bulk and a second
look."""

from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_compare import decisions
from tests.pictures import write_natural, write_portraits

pytestmark = pytest.mark.browser

# One subject, hand-held; the third and fifth are soft.
SIX = [(0, 0, 0), (30, 10, 0), (-20, 15, 4), (10, -20, 0), (5, 5, 6), (-10, 8, 0)]


def noticed(winnow: Running, page: Page, folder: Path, count: int) -> None:
    """Open a folder and wait until all is analysed and noticed."""
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) >= min(count, 8), 60)
    page.until(lambda: not page.ask("hints")["waits"])


def number(page: Page, kind: str) -> int:
    """How many frames a kind of hint says it names."""
    text = page.text(f"[data-kind={kind}]")
    return int(next(part for part in reversed(text.split()) if part.isdigit()))


def test_soft_frames_are_rejected_by_hints_and_come_back(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SIX)
    noticed(winnow, page, tmp_path / "shoot", 6)
    # The heading of the group says what to look for.
    page.until(lambda: "soft in 2" in page.text("[data-group]"))
    page.keys("Shift+H")
    page.until(lambda: number(page, "soft") == 2)
    listed = "[aria-label='Frames named'] li"
    named = ["QH_0003", "QH_0005"]
    page.until(lambda: [item.get_attribute("data-named") for item in page.all(listed)] == named)

    # The threshold: the number follows at once, and is kept.
    slider = page.field("Threshold of Soft")
    slider.send_keys(Keys.END)
    page.until(lambda: "needs 120 %" in page.text("[data-kind=soft]"))
    slider.send_keys(Keys.HOME)
    page.until(lambda: "needs 10 %" in page.text("[data-kind=soft]"))
    page.until(
        lambda: page.text("[data-testid=would-name]") == f"names {number(page, 'soft')} frames"
    )
    page.button("usual 30 %").click()
    page.until(lambda: "needs 30 %" in page.text("[data-kind=soft]"))

    # Each with its reason, and the part at 100 % beside the same of the best; what rejecting them
    # would leave.
    page.until(lambda: len(page.all(f"{listed}[data-named=QH_0003] [data-full=true]")) == 2)
    assert "softer" in page.text(f"{listed}[data-named=QH_0003]")
    assert "leaves group 1 with 4 of 6" in page.text(f"{listed}[data-named=QH_0003]")
    page.button("Reject 2")
    page.one(f"{listed}[data-named=QH_0005] input").click()
    page.until(lambda: page.button("Reject 1"))
    assert "leaves group 1 with 5 of 6" in page.text(f"{listed}[data-named=QH_0003]")
    # What was unticked is still so after a look at another one.
    page.one(f"{listed}[data-named=QH_0003] button").click()
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("Shift+H")
    page.until(lambda: page.button("Reject 1"))
    page.one(f"{listed}[data-named=QH_0005] input").click()
    page.until(lambda: page.button("Reject 2"))

    # Picked by a person before: bulk leaves it alone unless that is asked for.
    page.one("[data-named=QH_0003] button").click()
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.until(lambda: "softer" in page.text("[aria-label=Noticed]"))
    page.until(lambda: "needs 30 %" in page.text("[data-hint=soft]"))
    page.keys("L", "Shift+H")
    page.until(lambda: "you disagreed with 1 of 1" in page.text("[data-kind=soft]"))
    page.button("Reject 1").click()
    page.until(lambda: "by hints (soft)" in page.text("[role=status]"))
    page.until(lambda: decisions(page)[4] == "reject")
    page.until(lambda: decisions(page)[2] == "pick")
    page.keys("Ctrl+Z")
    page.until(lambda: decisions(page)[4] == "undecided")
    page.keys("Ctrl+Shift+Z")
    page.until(lambda: decisions(page)[4] == "reject")

    # Nothing is lost while something of the group can be used; then it is found again.
    page.button("Thrown out by hints").click()
    page.until(lambda: "Nothing to look at again" in page.text())
    page.keys("Shift+H")
    page.until(lambda: page.all("[data-frame]"))
    page.keys("Ctrl+A", "J")
    page.until(lambda: decisions(page) == ["reject"] * 6)
    page.keys("Shift+H")
    page.button("Thrown out by hints").click()
    page.until(lambda: "6 frames rejected, 1 by hints" in page.text())
    # The best of it stands first, and nothing is drawn over it.
    thrown = [
        item.get_attribute("data-named") for item in page.all("[aria-label='Second look'] li")
    ]
    assert thrown[0] not in named
    assert not page.all("[aria-label='Second look'] [data-sign=reject]")
    page.button(f"Pick {thrown[0]}").click()
    page.until(lambda: decisions(page).count("pick") == 1)
    page.until(lambda: "Nothing to look at again" in page.text())


def test_kinds_are_ticked_together_and_seen_in_the_sheet(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SIX)
    noticed(winnow, page, tmp_path / "shoot", 6)
    page.keys("Shift+H")
    page.until(lambda: number(page, "soft") == 2)
    page.field("Choose Soft").click()
    page.field("Choose Best of its group").click()
    page.until(lambda: "soft or best of its group" in page.text("[aria-label='Frames named']"))
    together = len(page.all("[aria-label='Frames named'] li"))
    assert together >= 2
    page.button("see in the sheet").click()
    page.until(lambda: len(page.cells()) == together)
    page.until(
        lambda: "hint “soft” or hint “best of its group”" in page.text().replace("Hint", "hint", 1)
    )
    page.keys("Shift+A")
    page.until(lambda: len(page.cells()) == 6)


def panel_height(page: Page) -> int:
    height: int = page.one("section[aria-label=Faces]").size["height"]
    return height


def test_faces_are_compared_and_stepped_through(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    true = write_portraits(tmp_path / "shoot")
    closed = {str(frame["name"]) for frame in true if frame["faces"][0]["eyes"] != "open"}  # type: ignore[index]
    noticed(winnow, page, tmp_path / "shoot", len(true))
    page.keys("Home", "Ctrl+A", "V")
    page.until(lambda: len(page.all("[data-tile]")) == len(true))
    # Each tile says of the eyes by shape and word.
    page.until(lambda: len(page.all("[data-tile] [data-eyes-say]")) == len(true))
    for tile in page.all("[data-tile]"):
        says = tile.find_element(By.CSS_SELECTOR, "[data-eyes-say]")
        word = says.text
        assert (word == "closed") == (tile.get_attribute("data-tile") in closed)
        assert says.find_element(By.CSS_SELECTOR, f"svg[data-eyes={word}]")
    page.keys("Shift+E")
    page.until(lambda: len(page.all("[data-face-row='1'] [data-eyes-say]")) == len(true))
    assert len(page.all("[data-face-row]")) == 1
    eyes = [eye.get_attribute("data-eyes-say") for eye in page.all("[data-face-row] button")]
    assert eyes.count("closed") == len(closed)
    page.until(lambda: len(page.all("[data-face-row] [data-full=true]")) == len(true))
    # The best of the row are told, and none of them has closed eyes.
    best = page.all("[data-face-row] button[data-best=true]")
    assert 0 < len(best) < len(true)
    assert {eye.get_attribute("data-eyes-say") for eye in best} == {"open"}
    # A passer-by does not count: no tile says anything of the eyes. It is taken back the same way.
    page.button("counts like the others").click()
    page.until(lambda: page.all("[role=menuitem]"))[2].click()
    page.until(lambda: not page.all("[data-tile] [data-eyes-say]"))
    page.button("doesn’t count").click()
    page.until(lambda: page.all("[role=menuitem]"))[0].click()
    page.until(lambda: len(page.all("[data-tile] [data-eyes-say]")) == len(true))
    page.button("counts most")
    page.button("eyes").click()
    page.until(lambda: len(page.all("[data-face-row] [data-full=true]")) == len(true))
    # Its upper edge is moved, by key and by the mouse; that is kept.
    edge = page.field("Height of the faces panel")
    at_first = panel_height(page)
    edge.send_keys(Keys.ARROW_DOWN, Keys.ARROW_DOWN)
    page.until(lambda: panel_height(page) < at_first)
    lower = panel_height(page)
    ActionChains(page.driver, duration=40).drag_and_drop_by_offset(edge, 0, -120).perform()
    page.until(lambda: panel_height(page) > lower)
    page.until(lambda: page.ask("../../settings")["faces_share"] != 0.42)

    # A click on a face looks close at it, in its frame.
    page.all("[data-face-row] button")[2].click()
    name = str(true[2]["name"])
    page.until(lambda: page.one("[data-tile][data-active=true]").get_attribute("data-tile") == name)
    page.until(lambda: len(page.all("[data-near='1'][data-ready=true]")) == len(true))
    page.keys("Escape", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("Shift+F")
    page.until(lambda: "Face 1 of 1" in page.text("[role=status]"))
    page.until(lambda: page.all("[data-testid=photograph][data-close=true]"))


def test_ladder_tiles_and_facts_say_the_same_of_a_frame(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SIX)
    noticed(winnow, page, tmp_path / "shoot", 6)
    page.keys("Home", "Space")
    page.until(lambda: len(page.all("[data-standing]")) == 6)
    ladder = [
        (standing.get_attribute("data-standing"), standing.text.replace(" ◂", "").split("\n"))
        for standing in page.all("[data-standing]")
    ]
    assert {state for state, _ in ladder} == {"tied", "softer"}
    assert page.one("[data-verdict]").get_attribute("data-verdict") == "best"
    page.keys("V")
    page.until(lambda: len(page.all("[data-tile] [data-standing]")) == 6)
    page.until(
        lambda: (
            ladder
            == [
                (
                    standing.get_attribute("data-standing"),
                    (standing.get_attribute("title") or "").split(" · "),
                )
                for standing in page.all("[data-tile] [data-standing]")
            ]
        )
    )
    page.keys("Shift+M")
    px, words = ladder[0][1]
    page.until(lambda: f"{px} · {words}" in page.text("aside[aria-label='All facts']"))


def test_the_group_is_measured_where_one_points(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SIX)
    noticed(winnow, page, tmp_path / "shoot", 6)
    page.keys("Home", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("Shift+P")
    before = page.one("[data-testid=outline]").rect
    page.until(lambda: "the camera doesn’t say where it focused" in page.text("main"))
    # Another point: the ladder says what was measured there, of every frame of the group.
    photograph = page.one("[data-testid=photograph]")
    ActionChains(page.driver).move_to_element_with_offset(photograph, 30, 150).click().perform()
    page.until(lambda: "blur at the point looked at" in page.text("[aria-label='This group']"))
    assert len(page.all("[data-focus-bar]")) == 6
    bars = [float(bar.get_attribute("data-focus-bar") or 0) for bar in page.all("[data-focus-bar]")]
    assert max(bars[2], bars[4]) < min(bars[n] for n in (0, 1, 3, 5))
    page.keys("Escape")
    page.until(lambda: page.one("[data-testid=outline]").rect["y"] > before["y"] + 40)
    page.keys("Shift+P")
    page.until(lambda: not page.all("[data-testid=outline]"))
