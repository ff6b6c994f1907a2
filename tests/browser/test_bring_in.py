"""From a card to frames, and a folder that grows, in the real page."""

import os
from pathlib import Path

import pytest
from selenium.webdriver import Keys

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.photos.test_decode import quadrants, saved
from tests.pictures import NOON, dng, write_jpeg, write_shoot
from winnow.demo.devices import Faults, set_faults

pytestmark = pytest.mark.browser


def make_card(root: Path, count: int) -> Path:
    for n in range(1, count + 1):
        path = write_jpeg(root / "DCIM" / "100QUILL" / f"QH2_{n:04d}.JPG", n, NOON + 60 * n)
        path.write_bytes(path.read_bytes() + os.urandom(1_000_000))
    return root


def test_a_card_pulled_out_half_way_and_brought_in_all_the_same(
    alone: Running, page: Page, tmp_path: Path
) -> None:
    card, disk = make_card(tmp_path / "cards" / "QUILLON", 12), tmp_path / "disk"
    before = {p: p.read_bytes() for p in card.rglob("*.JPG")}
    page.open(alone.start("serve", "--cards", tmp_path / "cards"))

    # The card is listed by itself; the form says what would happen.
    page.until(lambda: "QUILLON" in page.text())
    page.button("Bring in …").click()
    page.field("Name of the shoot").send_keys("Quay")
    target = page.field("Copy to")
    target.send_keys(Keys.CONTROL, "a")
    target.send_keys(str(disk))
    page.field("Second place").send_keys(str(tmp_path / "second"))
    page.until(lambda: "2026-06-15 Quay" in page.text() and "12 files" in page.text())
    template = page.field("Folder template")
    template.send_keys("{place}")
    page.until(lambda: "no field {place}" in page.text())
    template.send_keys(*[Keys.BACKSPACE] * len("{place}"))
    page.until(lambda: "no field" not in page.text())
    # Half way it is as if somebody pulled it out.
    set_faults(card, Faults(mb_per_s=15, ends_after_mb=8))
    go = page.button("Bring in 12 files")
    page.until(go.is_enabled)
    go.click()

    # The shoot is open at once, and what has arrived can be culled meanwhile.
    page.until(lambda: "/shoots/" in page.driver.current_url)
    page.until(lambda: page.all("[data-frame] img"))
    page.keys("L")
    page.until(lambda: page.cell("QH2_0001") == "QH2_0001, picked")
    page.until(lambda: "Not safe to format" in page.text(), 40)

    # In again: it goes on where it stopped.
    page.one("header a").click()
    page.until(lambda: "The card is gone" in page.text())
    set_faults(card, Faults())
    page.button("Go on").click()
    page.until(lambda: "Safe to format: all 12 files" in page.text(), 40)
    for place in (disk, tmp_path / "second"):
        copies = {p.name: p.read_bytes() for p in place.rglob("*.JPG")}
        assert copies == {p.name: data for p, data in before.items()}
    assert {p: p.read_bytes() for p in card.rglob("*.JPG")} == before
    page.button("files").click()
    page.until(lambda: page.text().count("copied") >= 12)

    # The mark that was made while copying is still there.
    page.driver.find_element("link text", "the shoot").click()
    page.until(lambda: len(page.cells()) == 12)
    page.until(lambda: page.cell("QH2_0001") == "QH2_0001, picked")

    # The same card once more: nothing is new.
    page.one("header a").click()
    page.button("Bring in …").click()
    page.field("Name of the shoot").send_keys("Again")
    page.until(lambda: "Nothing on this card is new" in page.text())


def test_a_folder_that_grows(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "tethered"
    write_shoot(folder, [1, 1, 2])
    page.open(winnow.open(folder))
    page.until(lambda: page.cells() == ["QH_0001", "QH_0002", "QH_0003"])
    page.keys("ArrowRight")

    def active() -> str:
        cell = page.one("[data-frame][aria-selected=true]").get_attribute("aria-label") or ""
        return cell.split(",")[0]

    assert active() == "QH_0002"
    # A new frame comes by itself, at the end, and moves nobody.
    write_jpeg(folder / "QH_0004.jpg", 3, NOON + 100)
    page.until(lambda: page.cells() == ["QH_0001", "QH_0002", "QH_0003", "QH_0004"])
    assert active() == "QH_0002"
    # Unless the newest is followed.
    page.keys("Shift+N")
    page.until(lambda: active() == "QH_0004")
    write_jpeg(folder / "QH_0005.jpg", 4, NOON + 200)
    page.until(lambda: active() == "QH_0005")
    page.button("newest").click()
    write_jpeg(folder / "QH_0006.jpg", 5, NOON + 300)
    page.until(lambda: len(page.cells()) == 6)
    assert active() == "QH_0005"


def test_cameras_clocks(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "two"
    for n in range(2):
        write_jpeg(folder / f"a{n}.jpg", n, NOON + 10 * n, camera="Quillon H2", serial="1")
        write_jpeg(folder / f"b{n}.jpg", n, NOON + 10 * n + 48, camera="Tessel Nine", serial="2")
    page.open(winnow.open(folder))
    page.until(lambda: page.cells() == ["a0", "a1", "b0", "b1"])
    page.keys("Shift+T")
    field = page.field("Add to the clock of Tessel Nine")
    field.send_keys("soon", Keys.ENTER)
    page.until(lambda: "like −47" in page.text())
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("-47", Keys.ENTER)
    page.until(lambda: page.cells() == ["a0", "b0", "a1", "b1"])
    page.keys("Escape")
    page.keys("Home", "ArrowRight", "Shift+M")
    page.until(lambda: "Clock set by" in page.text() and "−47" in page.text())


def test_a_raw_frame_says_what_is_on_screen(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "raw"
    folder.mkdir()
    preview = saved(quadrants(1200, 900), "JPEG", quality=95, subsampling=2)
    (folder / "a.dng").write_bytes(dng(preview, 2600, 1950))
    page.open(winnow.open(folder))
    page.until(lambda: page.all("[data-frame] img[src$='.2']"))
    page.keys("Space")
    page.until(lambda: "its own preview" in page.text())
    page.keys("D")
    page.until(lambda: "developed at half size" in page.text())
    assert "its own preview" not in page.text()
    page.keys("D")
    page.until(lambda: "its own preview" in page.text())
    # All facts, with the place only on request.
    page.keys("Shift+M")
    page.until(lambda: "2,600 × 1,950 px" in page.text())


def test_the_place_is_shown_only_when_asked_for(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = tmp_path / "placed"
    write_jpeg(folder / "a.jpg", 1, place=(54.5, -3.25))
    page.open(winnow.open(folder))
    page.until(lambda: page.all("[data-frame] img[src$='.2']"))
    page.keys("Shift+M")
    page.until(lambda: "stated in the file" in page.text())
    assert "54.5" not in page.text()
    page.button("show it").click()
    page.until(lambda: "54.50000° N, 3.25000° W" in page.text())


def test_where_a_frame_is_sharp(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "sharp"
    folder.mkdir()
    (folder / "a.jpg").write_bytes(saved(quadrants(1200, 900), "JPEG", quality=95))
    page.open(winnow.open(folder))
    page.until(lambda: page.all("[data-frame] img[src$='.2']"))
    page.keys("Space")
    page.until(lambda: page.all("[data-testid=photograph]"))
    page.keys("X")
    page.until(lambda: page.all("[data-drawn=true]"))
    # Squares only along the two edges of the picture, none in the plain corners.
    drawn = page.driver.execute_script(
        """const canvas = document.querySelector('[data-testid=focus-over]');
        const pixels = (x, y) => canvas.getContext('2d').getImageData(
            canvas.width * x - 30, canvas.height * y - 30, 60, 60).data.some((v) => v);
        return [pixels(0.5, 0.2), pixels(0.2, 0.5), pixels(0.2, 0.2)];"""
    )
    assert drawn == [True, True, False]
    page.keys("X")
    page.until(lambda: not page.all("[data-testid=focus-over]"))
