"""An owner and two guests on one shoot; what guests did waits for the owner, who ends a session."""

from pathlib import Path
from urllib.parse import urlsplit

import pytest
from selenium.webdriver import Keys

from tests.browser.chromium import Page, chromium
from tests.browser.conftest import Running
from tests.conftest import by_number
from tests.pictures import write_shoot
from winnow.web.guests.addresses import is_numeric, own_addresses

pytestmark = pytest.mark.browser
PASSWORD = "a lantern at dusk"


def sign_in(guest: Page, url: str, name: str, fingerprint: str) -> None:
    guest.driver.get(url)
    guest.one("input[name=name]").send_keys(name)
    guest.one("input[type=password]").send_keys("not the password", Keys.ENTER)
    guest.until(lambda: "This is not the password" in guest.text())
    # The owner's screen and the guest's show the same.
    assert fingerprint in guest.text().replace("\n", "")
    assert guest.violations() == []
    # The name is kept.
    guest.one("input[type=password]").send_keys(PASSWORD, Keys.ENTER)
    guest.until(lambda: len(guest.cells()) == 12)
    assert f"guest: {name}" in guest.text("header")


def command(page: Page, words: str) -> None:
    page.keys("Ctrl+K")
    page.one("[role=dialog] input").send_keys(words, Keys.ENTER)


def test_an_owner_and_two_guests_mark_one_shoot_and_lose_nothing(
    alone: Running, page: Page, tmp_path: Path
) -> None:
    if not any(map(is_numeric, own_addresses())):
        pytest.skip("this machine has no network")
    write_shoot(tmp_path / "shoot", list(range(1, 13)))
    page.driver.get(alone.open(tmp_path / "shoot"))
    page.until(lambda: len(page.cells()) == 12)
    page.until(page.analysed)

    command(page, "Share this shoot")
    page.one("[role=dialog] input:not([type])").send_keys(PASSWORD)
    page.button("Share this shoot").click()
    fingerprint = page.until(lambda: page.text("[data-testid=fingerprint]"))
    url = page.until(lambda: page.one("[role=dialog] li").text)
    assert page.violations() == []
    page.keys("Escape")
    page.until(lambda: "shared" in page.text("header"))

    with (
        chromium("--ignore-certificate-errors") as hers,
        hers.page() as ana,
        chromium("--ignore-certificate-errors") as his,
        his.page() as ben,
    ):
        sign_in(ana, url, "Ana", fingerprint)
        sign_in(ben, url, "Ben", fingerprint)
        # The owner's views and panels are not theirs.
        assert "Wrap up" not in ben.text("header")
        # The owner and a guest mark half of the frames each, both at once.
        ben.keys("Home", *["F"] * 6)
        for _ in range(6):
            page.keys("L")
            ben.keys("J")
        wanted = [f"QH_{n:04d}, {'picked' if n < 7 else 'rejected'}" for n in range(1, 13)]
        for window in (page, ben):
            window.until(
                lambda window=window: [window.cell(f"QH_{n:04d}") for n in range(1, 13)] == wanted
            )
        # A guest takes back what was their own last, and no more.
        ben.keys("Ctrl+Z")
        page.until(lambda: page.cell("QH_0012") == "QH_0012, undecided")
        ben.keys("Ctrl+Shift+Z")
        page.until(lambda: page.cell("QH_0012") == "QH_0012, rejected")
        # So does the owner, though Ben was the last to mark.
        page.keys("Ctrl+Z")
        ben.until(lambda: ben.cell("QH_0006") == "QH_0006, undecided")
        page.keys("Ctrl+Shift+Z")
        ben.until(lambda: ben.cell("QH_0006") == "QH_0006, picked")
        # Ana captions one; both wait for the owner by name.
        ana.keys("Home", "Shift+Q")
        ana.one(
            '[aria-label="Captions and rights"] textarea, [aria-label="Captions and rights"] input'
        ).send_keys("At the pier", Keys.ENTER)
        waits = "[data-testid=guests-did]"
        page.until(lambda: "Ana (1 frame), Ben (6 frames)" in page.text(waits))
        page.keys("Shift+Z")
        page.until(lambda: "Ben: rejected QH_0012" in page.text("[role=dialog]"))
        page.keys("Escape")
        # One guest's session is ended on screen: nothing more comes of it.
        page.one("[data-testid=shared]").click()
        page.until(lambda: "Ana" in page.text("[role=dialog]"))
        page.one("[role=dialog] li button").click()
        page.until(lambda: "1 guest" in page.text("[role=dialog] h3"))
        page.keys("Escape")
        ana.keys("L")
        ana.until(lambda: "session has ended" in ana.text())
        ben.keys("End", "K")
        page.until(lambda: page.cell("QH_0012") == "QH_0012, undecided")
        # Nothing of theirs is written before it is taken over.
        assert page.ask("files/plan")["unchecked"] == 7
        page.button("take over").click()
        page.until(lambda: not page.all(waits))
        assert page.ask("files/plan")["unchecked"] == 0
        # What is not theirs to ask stays so.
        assert (
            ben.driver.execute_async_script(
                "const done = arguments[0]; fetch('/api/folders?path=/').then((r) => "
                "done(r.status))"
            )
            == 403
        )
    assert urlsplit(url).scheme == "https"
    assert by_number(alone.url).startswith("http://127.0.0.1")
