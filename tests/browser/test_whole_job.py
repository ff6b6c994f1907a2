"""The job from start to end, in the real page, on real files."""

import json
import shutil
import signal
import subprocess
from itertools import pairwise
from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Keys

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.pictures import dng, jpeg, write_shoot

pytestmark = pytest.mark.browser


def exif_tool(*paths: Path) -> dict[str, dict[str, object]]:
    """What an independent reader says of sidecars."""
    out = subprocess.run(
        ["exiftool", "-json", "-XMP:all", *map(str, paths)], capture_output=True, check=True
    )
    return {Path(str(facts["SourceFile"])).name: facts for facts in json.loads(out.stdout)}


@pytest.mark.skipif(not shutil.which("exiftool"), reason="exiftool is not installed")
def test_open_decide_filter_copy_and_write(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder, target = tmp_path / "lantern evening", tmp_path / "picks"
    write_shoot(folder, [1, 1, 1, 2, 2, 3, 3, 4])
    (folder / "QH_0003.dng").write_bytes(dng(jpeg(1, 1200, 800)))
    before = {p.name: p.read_bytes() for p in folder.iterdir()}

    # Open the folder by typing its path, with a completion.
    page.open(winnow.url)
    field = page.field("Folder")
    field.send_keys(str(folder)[:-3])
    page.until(lambda: page.all("[role=option]"))
    field.send_keys(Keys.TAB)
    page.until(lambda: field.get_attribute("value") == f"{folder}/")
    field.send_keys(Keys.ENTER)

    # Pictures come, in their groups.
    page.until(lambda: len(page.all("[data-frame] img")) == 8)
    page.until(lambda: len(page.all("[data-group]")) == 4)
    page.until(lambda: page.cells() == [f"QH_{n:04d}" for n in range(1, 9)])

    # Six frames decided by key; after each the next one is active.
    page.keys("L", "J", "L", "K", "L", "J")
    page.keys("ArrowLeft", "ArrowLeft", "4", "U")
    page.until(lambda: page.cell("QH_0006") == "QH_0006, rejected")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")
    page.until(lambda: page.cell("QH_0004") == "QH_0004, undecided")
    page.until(lambda: page.cell("QH_0005") == "QH_0005, picked · 4 stars · Album")

    # Filter to the picks.
    page.keys("E")
    page.button("picks").click()
    page.until(lambda: page.cells() == ["QH_0001", "QH_0003", "QH_0005"])
    page.until(lambda: "Picks" in page.text())

    # Write the marks, then copy the picks.
    page.keys("Q")
    page.button("Write 5 frames").click()
    page.until(lambda: "5 files written" in page.text("[data-testid=written]"))
    page.field("Folder for the copies").send_keys(str(target))
    page.until(lambda: "the folder is made" in page.text())
    copy = page.button("Copy 3 picks")
    page.until(copy.is_enabled)
    copy.click()
    page.until(lambda: page.all("[data-delivery=done]"))
    page.button("what went where").click()
    page.until(lambda: page.text().count("delivered") >= 4)

    copies = sorted(p.name for p in target.iterdir())
    assert copies == [
        "QH_0001.jpg", "QH_0001.xmp", "QH_0003.dng", "QH_0003.jpg", "QH_0003.xmp",
        "QH_0005.jpg", "QH_0005.xmp",
    ]  # fmt: skip
    for name in copies:
        if not name.endswith(".xmp"):
            assert (target / name).read_bytes() == before[name]
    told = exif_tool(*folder.glob("*.xmp"), target / "QH_0005.xmp")
    assert told["QH_0001.xmp"]["Good"] is True
    assert told["QH_0002.xmp"]["Rating"] == -1
    assert (told["QH_0005.xmp"]["Rating"], told["QH_0005.xmp"]["Label"]) == (4, "Album")
    assert {p.name: p.read_bytes() for p in folder.iterdir() if p.suffix != ".xmp"} == before


def opened(winnow: Running, page: Page, tmp_path: Path, seeds: list[int]) -> Path:
    folder = tmp_path / "shoot"
    write_shoot(folder, seeds)
    page.open(winnow.open(folder))
    # The final pictures (stage 2) and groups: from here on the layout stays as it is.
    page.until(lambda: len(page.all("[data-frame] img[src$='.2']")) == len(seeds))
    groups = 1 + sum(a != b for a, b in pairwise(seeds))
    page.until(lambda: len(page.all("[data-group]")) == groups)
    return folder


def active(page: Page) -> str:
    """The name of the frame in frame view."""
    lines = page.text("aside [aria-current=true]").split("\n")
    return next(line for line in lines if line.startswith("QH"))


def test_frame_view_ladder_and_looking_close(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    from tests.pictures import NOON, write_jpeg

    for n in range(1, 5):
        write_jpeg(folder / f"QH_{n:04d}.jpg", 1, NOON + n, width=2400, height=1600, iso=800)
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame] img")) == 4)
    page.keys("Space")
    page.until(lambda: "/frame" in page.driver.current_url)
    page.until(lambda: "ISO 800" in page.text())
    page.until(lambda: len(page.all("aside button:not([aria-haspopup])")) == 4)
    page.keys("F")
    page.until(lambda: active(page) == "QH_0002")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    fit = page.one("[data-testid=photograph] [data-ready=true]").size
    assert fit["width"] > 900
    page.keys("D")
    page.until(lambda: page.one("[data-testid=photograph]").get_attribute("data-close") == "true")
    page.until(lambda: page.one("[data-testid=photograph] [data-ready=true]").size["width"] == 2400)
    place = page.one("[data-testid=photograph] [data-ready=true]").location["x"]
    ActionChains(page.driver).drag_and_drop_by_offset(
        page.one("[data-testid=photograph]"), 120, 0
    ).perform()
    page.until(
        lambda: page.one("[data-testid=photograph] [data-ready=true]").location["x"] == place + 120
    )
    page.keys("F")
    page.until(lambda: active(page) == "QH_0003")
    page.until(
        lambda: page.one("[data-testid=photograph] [data-ready=true]").location["x"] == place + 120
    )
    page.keys("Escape", "H")
    page.until(lambda: not page.all("header"))
    page.keys("Escape", "Escape")
    page.until(lambda: page.all("[role=listbox]"))


def test_undo_and_redo_across_a_kill(alone: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(alone, page, tmp_path, [1, 2, 3])
    page.keys("L", "J")
    page.until(lambda: "undo “rejected QH_0002”" in page.text())
    alone.stop(signal.SIGKILL)
    page.until(lambda: "does not answer" in page.text())
    page.open(alone.open(folder))
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided")
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, undecided")
    page.until(lambda: "nothing to undo" in page.text())
    page.keys("Ctrl+Shift+Z")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")


def test_two_windows_agree(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 2])
    first, address = page.driver.current_window_handle, page.driver.current_url
    page.new_window()
    page.open(address)
    page.until(lambda: len(page.all("[data-frame] img")) == 2)
    second = page.driver.current_window_handle
    page.driver.switch_to.window(first)
    page.keys("L")
    page.driver.switch_to.window(second)
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")
    page.until(lambda: "undo “picked QH_0001”" in page.text())
    page.keys("3")
    page.driver.switch_to.window(first)
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked · 3 stars")


def test_selection_by_pointer_and_key(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2, 2, 3])

    def click(name: str, held: str | None = None) -> None:
        cell = page.one(f'[aria-label^="{name},"]')
        actions = ActionChains(page.driver)
        if held:
            actions.key_down(held)
        actions.click(cell)
        if held:
            actions.key_up(held)
        actions.perform()

    click("QH_0001")
    click("QH_0003", Keys.CONTROL)
    page.keys("L")
    page.until(lambda: "undo “picked 2 frames”" in page.text())
    page.keys("Escape")
    click("QH_0002")
    click("QH_0004", Keys.SHIFT)
    page.keys("2")
    page.until(lambda: "undo “2 stars on 3 frames”" in page.text())
    page.keys("Escape")
    click("QH_0005")
    page.keys("Ctrl+A", "J")
    page.until(lambda: "undo “rejected 5 frames”" in page.text())
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, picked · 2 stars")
    page.keys("Escape")
    click("QH_0001")
    page.button("reject").click()
    page.until(lambda: page.cell("QH_0001") == "QH_0001, rejected")
    page.field("3 stars").click()
    page.one("footer [title^=Album]").click()
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided · 3 stars · Album")
    # The keys still belong to the frames, not to the button pressed last.
    page.keys("Space")
    page.until(lambda: "/frame" in page.driver.current_url)


def test_the_place_is_kept_when_a_frame_leaves_the_filter(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3, 4])
    page.keys("Shift+K")
    page.until(lambda: "Undecided" in page.text())
    page.keys("F", "J")
    page.until(lambda: page.cells() == ["QH_0001", "QH_0003", "QH_0004"])
    page.keys("L")
    page.until(lambda: page.cells() == ["QH_0001", "QH_0004"])
    page.keys("Ctrl+Z")
    page.until(lambda: page.cells() == ["QH_0001", "QH_0003", "QH_0004"])
    page.keys("Z")
    page.until(lambda: len(page.cells()) == 4)
    page.keys("Z", "L")
    page.until(lambda: page.cells() == ["QH_0001", "QH_0004"])
    page.keys("L", "N", "L")
    page.until(lambda: "No frame passes “Undecided”." in page.text())
    page.button("Show all frames").click()
    page.until(lambda: len(page.cells()) == 4)


def test_keys_commands_and_what_happens_after_a_mark(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 2, 3])
    page.keys("?")
    page.until(lambda: "Leave undecided" in page.text("[role=dialog]"))
    page.keys("Escape", "Ctrl+K")
    page.one("[role=dialog] input").send_keys("wrap up", Keys.ENTER)
    page.until(lambda: "Write marks and texts to files" in page.text())
    page.keys("Escape")
    page.until(lambda: page.all("[role=listbox]"))
    page.keys("T", "T", "T")
    page.until(lambda: "then stay" in page.text())
    page.keys("L", "J")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, rejected")


def test_bad_files_and_a_folder_that_goes_away(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    (folder / "empty.jpg").touch()
    (folder / "灯籠 🏮.jpg").write_bytes(jpeg(4)[:9000])
    page.open(winnow.open(folder))
    page.until(lambda: len(page.all("[data-frame]")) == 4)
    page.until(lambda: "The file is empty (0 bytes)." in page.text())
    page.until(lambda: "damaged" in page.cell("灯籠 🏮"))
    write_shoot(tmp_path / "more", [1, 2, 7])
    shutil.copy(tmp_path / "more" / "QH_0003.jpg", folder)
    page.until(lambda: len(page.all("[data-frame]")) == 5)
    (folder / "QH_0003.jpg").unlink()
    assert str(folder / "empty.jpg") in (winnow.home / "data" / "winnow.log").read_text("utf-8")
    page.until(lambda: "1 frame can’t be found on disk any more" in page.text())
    moved = folder.rename(tmp_path / "unplugged")
    page.until(lambda: "There is no folder" in page.text())
    page.keys("Home", "L")
    page.until(lambda: "undo “picked" in page.text())
    moved.rename(folder)
    page.until(lambda: "There is no folder" not in page.text())


def test_home_shows_shoots_and_refuses_what_is_no_folder(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = opened(winnow, page, tmp_path, [1, 2, 3])
    page.keys("L")
    page.until(lambda: "undo “picked" in page.text())
    page.one("header a").click()
    page.until(lambda: "1 pick · 0 rejects · 2 undecided" in page.text())
    page.button("rename").click()
    page.field("Name of the shoot").send_keys("Quay by night", Keys.ENTER)
    page.until(lambda: "Quay by night" in page.text("article"))
    field = page.field("Folder")
    field.send_keys("/no/such/folder", Keys.ENTER)
    page.until(lambda: "There is no folder" in page.text())
    (tmp_path / "texts").mkdir()
    (tmp_path / "texts" / "a.txt").touch()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(str(tmp_path / "texts"), Keys.ESCAPE, Keys.ENTER)
    page.until(lambda: "No pictures in this folder yet." in page.text())
    page.until(lambda: "1 other file: 1 .txt" in page.text())
    page.one("header a").click()
    page.until(lambda: len(page.all("article")) == 2)
    page.button("forget").click()
    page.button("Forget the shoot").click()
    page.until(lambda: len(page.all("article")) == 1)
    assert len(list(folder.iterdir())) == 3
