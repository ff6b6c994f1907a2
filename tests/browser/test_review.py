"""The draft reviewed group by group: taken, changed, put off, taken back, and all that is sure at once."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_compare import decisions
from tests.browser.test_hints import SIX, noticed
from tests.pictures import NOON, write_jpeg, write_natural

pytestmark = pytest.mark.browser
U, P, R = "undecided", "pick", "reject"


def reviewed(page: Page) -> str:
    """The number of the group on the stage."""
    return page.one("[data-review]").get_attribute("data-review") or ""


def kept(page: Page) -> list[str]:
    """What would be kept of the group on the stage."""
    found = page.all("[data-other][aria-pressed=true]")
    return sorted(one.get_attribute("data-other") or "" for one in found)


def begun(winnow: Running, page: Page, folder: Path) -> None:
    """Six frames of one subject, of which two are soft; two that are soft all over; one more by itself."""
    write_natural(folder, SIX)
    for n, (seed, at) in enumerate([(1, 60), (1, 61), (2, 200)], 7):
        write_jpeg(folder / f"QH_{n:04d}.jpg", seed, NOON + at)
    noticed(winnow, page, folder, 9)
    page.keys("Shift+U")
    page.until(lambda: reviewed(page) == "1")


def test_a_shoot_is_culled_by_a_key_a_group(winnow: Running, page: Page, tmp_path: Path) -> None:
    begun(winnow, page, tmp_path / "shoot")
    assert "3 groups to decide" in page.text("[data-review]")
    (first,) = kept(page)
    assert first not in ("QH_0003", "QH_0005")
    # What the key will do is said before.
    assert f"picks {first}, rejects 5 frames" in page.text("[data-review]")
    page.keys("L")
    page.until(lambda: reviewed(page) == "2")
    # Nothing there can be used: nothing is proposed, and nothing taken unless that is said.
    assert "no frame of this group can be used" in page.text("[data-review]")
    assert kept(page) == []
    page.keys("L")
    page.until(lambda: "Nothing is proposed here" in page.text("[role=status]"))
    page.keys("J")
    page.until(lambda: reviewed(page) == "3")
    page.keys("L")
    page.until(lambda: "The draft is through: 2 picks" in page.text("main"))
    page.until(lambda: decisions(page).count(P) == 2)
    assert decisions(page).count(R) == 7
    # Each group is one step.
    page.keys("Ctrl+Z")
    page.until(lambda: decisions(page)[8] == U)
    page.until(lambda: reviewed(page) == "3")
    page.keys("Ctrl+Z")
    page.until(lambda: decisions(page)[6:8] == [U, U])
    page.until(lambda: reviewed(page) == "2")
    # Back in the first group, which is taken already, another frame is kept instead.
    page.keys("Backspace", "Backspace", "Backspace")
    page.until(lambda: reviewed(page) == "1")
    page.keys("F")
    page.until(lambda: kept(page) != [first])
    (other,) = kept(page)
    page.keys("L")
    page.until(lambda: decisions(page)[:6].count(P) == 1)
    page.until(lambda: decisions(page)[int(other[-1]) - 1] == P)


def test_a_proposal_is_changed_and_groups_are_put_off(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    begun(winnow, page, tmp_path / "shoot")
    (proposed,) = kept(page)
    page.keys("F")
    page.until(lambda: kept(page) != [proposed])
    (other,) = kept(page)
    assert "your choice" in page.text("[data-review]")
    page.keys("S")
    page.until(lambda: kept(page) == [proposed])
    page.keys("A")
    page.until(lambda: len(kept(page)) == 2 and proposed in kept(page))
    both = kept(page)
    page.keys("K")
    page.until(lambda: reviewed(page) == "2")
    assert set(decisions(page)) == {U}
    # What was put off comes when nothing else waits, as it was left.
    page.keys("J")
    page.until(lambda: reviewed(page) == "3")
    page.until(lambda: decisions(page)[6:8] == [R, R])
    page.keys("L")
    page.until(lambda: reviewed(page) == "1")
    assert kept(page) == both
    # A click keeps one more, and the rest is left as it is.
    page.one("[data-other=QH_0003]").click()
    page.until(lambda: len(kept(page)) == 3)
    page.one("[data-review] input[type=checkbox]").click()
    page.until(lambda: "picks 3 frames" in page.text("[data-review]"))
    page.button("picks 3 frames").click()
    page.until(lambda: "The draft is through" in page.text("main"))
    page.until(lambda: decisions(page)[:6].count(P) == 3)
    assert decisions(page)[:6].count(U) == 3
    assert other


def test_what_is_sure_is_taken_as_one_step(winnow: Running, page: Page, tmp_path: Path) -> None:
    begun(winnow, page, tmp_path / "shoot")
    page.keys("Shift+L")
    # The frame by itself is sure; of alike ones nobody is.
    page.until(lambda: decisions(page)[8] == P)
    assert decisions(page)[:6] == [U] * 6
    assert reviewed(page) == "1"
    page.keys("Ctrl+Z")
    page.until(lambda: set(decisions(page)) == {U})
    page.until(lambda: reviewed(page) == "3")
    # Left and opened again, it stands where it was.
    page.keys("Escape")
    page.until(lambda: page.all("[data-frame]"))
    page.keys("Shift+U")
    page.until(lambda: reviewed(page) == "3")
