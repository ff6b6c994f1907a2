"""One stroke for what takes several elsewhere: only this one, a place side by side, Alt, folded
groups, a number to be met."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver import Keys

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_compare import decisions
from tests.browser.test_hints import SIX, noticed
from tests.browser.test_whole_job import opened
from tests.pictures import write_natural

pytestmark = pytest.mark.browser
U, P, R = "undecided", "pick", "reject"


def active(page: Page) -> str:
    """The name of the frame that the keys are for."""
    label = page.one("[data-frame][aria-selected=true]").get_attribute("aria-label") or ""
    return label.partition(",")[0]


def test_only_this_one_is_kept_of_a_group(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2, 3])
    page.keys("Home", "F", ".")
    page.until(lambda: decisions(page) == [R, P, R, U, U, U])
    page.until(lambda: active(page) == "QH_0004")
    # One step of the history, which says what it did.
    page.until(lambda: "picked QH_0002, rejected 2 frames" in page.text("footer"))
    page.keys("Ctrl+Z")
    page.until(lambda: decisions(page) == [U] * 6)
    page.until(lambda: "Undone" in page.text("[role=status]"))
    # Undo and redo go to what they changed, which is said once they are there.
    page.keys("Ctrl+Shift+Z")
    page.until(lambda: "Redone" in page.text("[role=status]"))
    page.keys("R", ".")
    page.until(lambda: decisions(page) == [R, P, R, P, R, U])
    # Of those selected, all are kept.
    page.keys("Home", "Shift+F", ".")
    page.until(lambda: decisions(page) == [P, P, R, P, R, U])


def test_weeding_out_it_keeps_one_of_a_group_and_counts_what_was_looked_at(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2, 3])
    page.keys("Ctrl+K")
    page.until(lambda: page.all("[cmdk-input]"))
    page.one("[cmdk-input]").send_keys("weed out")
    page.until(lambda: "weed out" in page.text("[cmdk-item][data-selected=true]"))
    page.one("[cmdk-input]").send_keys(Keys.ENTER)
    page.until(lambda: page.button("Pick 6 frames")).click()
    page.until(lambda: decisions(page) == [P] * 6)
    # All are decided before the first is looked at.
    page.until(lambda: "1/6 looked at · 6 kept" in page.text("header"))
    page.keys(".")
    page.until(lambda: decisions(page) == [P, R, R, P, P, P])
    page.until(lambda: "2/6 looked at · 4 kept" in page.text("header"))
    page.until(lambda: active(page) == "QH_0004")
    # What wasn't looked at is found, and is still known after a reload.
    page.until(lambda: len(page.ask("frames")["seen"]) == 6)
    page.until(lambda: sum(page.ask("frames")["seen"]) == 2)
    page.driver.refresh()
    page.until(lambda: "2/6 looked at · 4 kept" in page.text("header"))
    page.button("looked at").click()
    page.until(lambda: page.button("4 not yet")).click()
    page.until(lambda: page.cells() == ["QH_0002", "QH_0003", "QH_0005", "QH_0006"])


def test_a_place_side_by_side_is_kept_by_its_figure(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2, 3])
    page.keys("Home", "V")
    page.until(lambda: len(page.all("[data-tile]")) == 3)
    assert "only 1, rejects 2 others" in page.text("main")
    page.keys("Shift+9")
    page.until(lambda: "There is no frame at place 9" in page.text("[role=status]"))
    page.keys("Shift+3")
    page.until(lambda: decisions(page) == [R, R, P, U, U, U])
    # The next group is compared.
    page.until(
        lambda: (
            [tile.get_attribute("data-tile") for tile in page.all("[data-tile]")]
            == ["QH_0004", "QH_0005"]
        )
    )
    page.button("only 1").click()
    page.until(lambda: decisions(page) == [R, R, P, P, R, U])


def test_alt_turns_round_what_happens_after_a_mark(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("Home", "Alt+L")
    page.until(lambda: decisions(page) == [P, U, U])
    assert active(page) == "QH_0001"
    page.keys("L")
    page.until(lambda: active(page) == "QH_0002")
    # Stars stay, and go on once.
    page.keys("3")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided · 3 stars")
    assert active(page) == "QH_0002"
    page.keys("Alt+4")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided · 4 stars")
    page.until(lambda: active(page) == "QH_0003")


def test_a_mark_in_a_folded_group_is_for_the_frame_that_is_seen(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2, 2, 3])
    page.keys("Home", "Shift+G")
    page.until(lambda: len(page.cells()) == 3)
    first = page.cells()[0]
    page.keys("L")
    page.until(lambda: "only the one seen of 3 folded" in page.text("[role=status]"))
    page.until(lambda: decisions(page).count(P) == 1)
    # The next group comes, not what is hidden of this one.
    assert active(page) == page.cells()[1]
    assert page.cell(first) == f"{first}, picked"
    # A group is marked as what it is: all of it.
    page.keys("A", "J")
    page.until(lambda: decisions(page)[3:] == [R, R, U])
    assert "2 frames marked" in page.text("[role=status]")


def test_picks_are_trimmed_and_filled_to_the_number(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SIX)
    noticed(winnow, page, tmp_path / "shoot", 6)

    def asked() -> str:
        return page.one("[data-asked]").get_attribute("data-number") or ""

    def wanted(number: str) -> None:
        """Say the number in the panel that the top line opens."""
        field = page.until(lambda: page.field("How many are to be kept"))
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(number, Keys.ENTER)

    # Without a number there is nothing to trim to.
    page.keys("Ctrl+A", "L", "Escape", "Shift+I")
    page.until(lambda: "How many are to be kept?" in page.text("main"))
    page.button("Say how many").click()
    wanted("4")
    page.until(lambda: page.button("trim them")).click()
    page.until(lambda: "6 of 4 · 2 too many" in page.text("main"))
    # The soft ones are lost most easily; what a key does is said before.
    page.until(lambda: "◇ goes" in page.text("main"))
    soft = {"QH_0003", "QH_0005"}
    assert any(f"rejects {name}" in page.text("main") for name in soft)
    page.keys("F")
    page.until(lambda: not any(f"rejects {name}" in page.text("main") for name in soft))
    page.keys("S", "J")
    page.until(lambda: "5 of 4 · 1 too many" in page.text("main"))
    page.keys("L")
    page.until(lambda: decisions(page).count(R) == 1)
    page.keys("W")
    page.until(lambda: "5 of 4 · 1 too many" in page.text("main"))
    page.keys("J")
    page.until(lambda: "4 of 4: as many as wanted" in page.text("main"))
    page.until(lambda: decisions(page) == [P, P, R, P, R, P])
    # Back is back; done again; then more are wanted than are picked.
    page.keys("W")
    page.until(lambda: decisions(page).count(P) == 5)
    page.until(lambda: asked() == "trim")
    page.keys("J")
    page.until(lambda: "as many as wanted" in page.text("main"))
    page.button("Change the number").click()
    wanted("5")
    page.until(lambda: page.button("fill them up")).click()
    # Nothing that can be used and differs is left: the number stays open, and that is said.
    page.until(lambda: "4 of 5: 1 to go" in page.text("main"))
    assert page.all("[data-there=fill]") or asked() == "fill"
