"""Two people on one shoot: the owner, and a guest on the network."""

import re
from pathlib import Path

import pytest
from selenium.webdriver import Keys

from tests.browser.chromium import Page, chromium
from tests.browser.conftest import Running
from tests.pictures import write_shoot
from winnow.web.sharing import own_addresses

pytestmark = pytest.mark.browser
PASSWORD = "a lantern at dusk"


def test_two_people_mark_one_shoot_and_lose_nothing(
    alone: Running, page: Page, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    numeric = [one for one in own_addresses() if re.fullmatch(r"[\d.]+", one)]
    if not numeric:
        pytest.skip("this machine has no network")
    monkeypatch.setenv("WINNOW_PASSWORD", PASSWORD)
    write_shoot(tmp_path / "shoot", list(range(1, 13)))
    url = alone.start("open", tmp_path / "shoot", "--share")
    page.driver.get(url)
    page.until(lambda: len(page.cells()) == 12)
    page.until(page.analysed)
    # It says on screen that it is on.
    page.until(lambda: "shared" in page.text("header"))
    port = re.search(r":(\d+)/", url)
    assert port
    with chromium() as another, another.page() as guest:
        guest.driver.get(f"http://{numeric[0]}:{port.group(1)}/shoots/1")
        guest.one("input[type=password]").send_keys("not the password", Keys.ENTER)
        guest.until(lambda: "This is not the password" in guest.text())
        assert guest.violations() == []
        guest.one("input[type=password]").send_keys(PASSWORD, Keys.ENTER)
        guest.until(lambda: guest.all("article"))
        guest.driver.get(f"http://{numeric[0]}:{port.group(1)}/shoots/1")
        guest.until(lambda: len(guest.cells()) == 12)
        guest.until(lambda: "guest" in guest.text("header"))
        # Each marks half of the frames, both at once.
        guest.keys("Home", *["F"] * 6)
        for _ in range(6):
            page.keys("L")
            guest.keys("J")
        wanted = [f"QH_{n:04d}, {'picked' if n < 7 else 'rejected'}" for n in range(1, 13)]
        for window in (page, guest):
            window.until(
                lambda window=window: [window.cell(f"QH_{n:04d}") for n in range(1, 13)] == wanted
            )
        # The guest can't reach what belongs to the owner's computer.
        guest.keys("Q")
        guest.until(lambda: "computer that Winnow runs on" in guest.text())
