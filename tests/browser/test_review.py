"""The draft reviewed group by group: taken, changed, put off, taken back, and all that is sure at
once."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from tests import soak
from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_compare import decisions
from tests.browser.test_hands import tap
from tests.browser.test_hints import SIX, noticed
from tests.pictures import NOON, write_jpeg, write_natural
from winnow.demo import evening, shoot

pytestmark = pytest.mark.browser
U, P, R = "undecided", "pick", "reject"


def reviewed(page: Page) -> str:
    """The number of the group on the stage."""
    return page.one("[data-review]").get_attribute("data-review") or ""


def kept(page: Page) -> list[str]:
    """What would be kept of the group on the stage."""
    found = page.all("[data-other][aria-pressed=true]")
    return sorted(tile.get_attribute("data-other") or "" for tile in found)


def begun(winnow: Running, page: Page, folder: Path) -> None:
    """Six frames of one subject, of which two are soft; two that are soft all over; one more by
    itself."""
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


def test_a_cull_by_touch_alone(winnow: Running, page: Page, tmp_path: Path) -> None:
    """On a tablet held upright: every answer of the review under a thumb."""
    page.driver.execute_cdp_cmd(
        "Emulation.setTouchEmulationEnabled", {"enabled": True, "maxTouchPoints": 5}
    )
    page.viewport(768, 1024)
    write_natural(tmp_path / "shoot", SIX)
    for n, (seed, at) in enumerate([(1, 60), (1, 61), (2, 200)], 7):
        write_jpeg(tmp_path / "shoot" / f"QH_{n:04d}.jpg", seed, NOON + at)
    noticed(winnow, page, tmp_path / "shoot", 9)
    tap(page, page.until(lambda: page.button("Review")))
    page.until(lambda: reviewed(page) == "1")
    (proposed,) = kept(page)
    tap(page, page.button("another"))
    page.until(lambda: kept(page) != [proposed])
    tap(page, page.one(f"[data-other={proposed}]"))
    page.until(lambda: len(kept(page)) == 2)
    for words in ("picks 2 frames", "another", "both", "none", "later", "back", "leave"):
        assert page.button("one less" if words == "both" else words).size["height"] >= 44, words
    # What takes the group is the widest, and nearest to the hand that holds the screen.
    take = page.button("picks 2 frames")
    assert take.size["width"] > 600
    assert take.location["y"] > max(
        each.location["y"] for each in page.all("[data-acts] button") if each != take
    )
    # A menu changes what is proposed as well.
    ActionChains(page.driver, duration=10).context_click(
        page.one(f"[data-other={proposed}]")
    ).perform()
    one = "//*[@role='menuitem'][.='Propose this one alone']"
    page.until(lambda: page.driver.find_element(By.XPATH, one)).click()
    page.until(lambda: kept(page) == [proposed])
    tap(page, page.button("both"))
    page.until(lambda: len(kept(page)) == 2)
    tap(page, page.button("picks 2 frames"))
    page.until(lambda: reviewed(page) == "2")
    tap(page, page.button("none"))
    page.until(lambda: reviewed(page) == "3")
    tap(page, page.button("later"))
    tap(page, page.button("take all sure"))
    page.until(lambda: "The draft is through: 3 picks" in page.text("main"))
    tap(page, page.button("wrap up"))
    page.until(lambda: page.all("#wrap-up"))
    tap(page, page.button("Sheet"))
    page.until(page.cells)
    assert decisions(page).count(R) == 6


@pytest.mark.soak
def test_the_evening_is_culled_to_its_number_by_a_key_a_group(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    """The demo's shoot, whole in the long loops, else some of its groups: from nothing to the
    number."""
    every = max(1, 8 // soak.rounds(1))
    groups = range(0, len(evening.groups()), every)
    for maker in shoot.make_behind(tmp_path / "evening", groups):
        maker.join()
    noticed(winnow, page, tmp_path / "evening", 8)
    frames = len(page.ask("frames")["id"])
    number = round(evening.KEEP_TARGET * frames / len(list(evening.frames())))
    page.keys("Escape", "Shift+I")
    page.until(lambda: page.button("Say how many")).click()
    page.until(lambda: page.field("How many are to be kept")).send_keys(str(number), Keys.ENTER)
    page.until(lambda: f"0 of {number}" in page.text("main"))
    page.keys("Escape", "Escape", "Shift+U")
    seen: set[str] = set()
    pressed = 1
    while page.until(lambda: page.all("[data-review]") or "through" in page.text("main")) and (
        page.all("[data-review]")
    ):
        at = reviewed(page)
        assert at not in seen, "a group comes twice"
        seen.add(at)
        # Where nothing can be used, or the number is met without it, none of it is kept.
        page.keys("L" if kept(page) else "J")
        pressed += 1
        page.until(lambda at=at: not page.all(f"[data-review='{at}']"))
    assert f"{number} of {number} picked" in page.text("main")
    page.until(lambda: decisions(page).count(P) == number)
    # As many keys as groups, and the one that opens the review.
    assert pressed == len(seen) + 1 <= 75 * len(seen) / 43 + 1
