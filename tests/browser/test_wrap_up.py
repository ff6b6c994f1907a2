"""The end of the job, each step from start to end in the real page, and the client's gallery from
its folder."""

import json
import os
import sys
from pathlib import Path

import pypdfium2
import pytest
from selenium.webdriver import Keys

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_files import choose, write
from tests.browser.test_whole_job import opened
from winnow.demo import stand_ins

pytestmark = pytest.mark.browser


def names(folder: Path) -> list[str]:
    return sorted(os.listdir(folder))


def fill(page: Page, name: str, text: str) -> None:
    field = page.field(name)
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(text)


def step(page: Page, title: str) -> None:
    """Go to a step by the list beside them."""
    page.until(lambda: page.all("nav[aria-label='Steps of the wrap-up'] button"))
    path = f"//nav//button[contains(normalize-space(.), {title!r})]"
    page.driver.find_element("xpath", path).click()
    page.until(lambda: page.driver.switch_to.active_element.get_attribute("aria-label") == title)


def test_files_are_renamed_in_place_and_back(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    before = {p.name: p.read_bytes() for p in folder.iterdir()}
    page.keys("L", "L", "Q")
    step(page, "Rename in place")
    fill(page, "New names", "fair/{seq}")
    page.until(lambda: "can’t hold" in page.text())
    fill(page, "New names", "fair {seq:2}")
    page.until(lambda: "QH_0001.jpg → fair 01.jpg" in page.text())
    write(page, "Rename 2 frames")
    page.until(lambda: page.all("[data-renaming=done]"))
    assert names(folder) == ["QH_0003.jpg", "fair 01.jpg", "fair 02.jpg"]
    page.until(lambda: "Every file has that name already" in page.text())
    # The sheet shows the new names and keeps the marks.
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Escape")
    page.until(lambda: page.cell("fair 01") == "fair 01, picked")
    page.keys("Q")
    page.until(lambda: page.one("[data-renaming=done] button")).click()
    page.until(lambda: page.all("[data-renaming=undone]"))
    assert {p.name: p.read_bytes() for p in folder.iterdir()} == before


def test_frames_are_moved_out_and_taken_back(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    target = tmp_path / "out"
    page.keys("L", "J", "L", "Q")
    step(page, "Deliver to a folder")
    choose(page, "How", "moved out")
    page.field("Folder for the copies").send_keys(str(target))
    write(page, "Move 2 picks")
    page.until(lambda: page.all("[data-delivery=done]"))
    assert names(folder) == ["QH_0002.jpg"]
    assert names(target) == ["QH_0001.jpg", "QH_0001.xmp", "QH_0003.jpg", "QH_0003.xmp"]
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Escape")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked, moved out")
    page.keys("Home", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("Q")
    page.button("Take back").click()
    page.until(lambda: page.all("[data-delivery=returned]"))
    assert names(folder) == ["QH_0001.jpg", "QH_0002.jpg", "QH_0003.jpg"]
    assert names(target) == []


def test_a_program_of_ones_own_gets_the_files(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("L", "Q")
    step(page, "Hand to another program")
    page.button("Add a program").click()
    name, command = page.all("form input")
    name.send_keys("Stand-in")
    command.send_keys(f"'{sys.executable}")
    page.button("Keep the program").click()
    page.until(lambda: "quotation mark" in page.text())
    command.send_keys("' -m winnow demo-editor")
    page.button("Keep the program").click()
    write(page, "Start it with 1 pick")
    page.until(lambda: page.all("[data-run=ended]"))
    assert "QH_0001 edited.jpg" in names(folder)
    # What the editor made comes into the shoot by itself.
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Escape")
    page.until(lambda: "QH_0001 edited" in page.cells(), 40)


def test_a_contact_sheet_is_made(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("3", "L", "L", "Q")
    step(page, "Show proofs")
    page.all("input[name=proof]")[1].click()
    page.field("Folder for the proof").send_keys(str(tmp_path / "proofs"))
    page.until(lambda: "2 frames on 1 page" in page.text())
    boxes = page.all("[aria-label='Under each picture'] input")
    boxes[2].click()
    write(page, "Make the contact sheet")
    page.until(lambda: page.all("[data-proof=pdf]"))
    pdf = pypdfium2.PdfDocument(tmp_path / "proofs" / "shoot.pdf")
    text = pdf[0].get_textpage().get_text_bounded()
    assert "QH_0001 3★" in text
    assert "QH_0002" in text
    assert "QH_0003" not in text


def test_a_client_chooses_in_the_gallery_and_the_answer_is_taken_over(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("L", "L", "L", "Q")
    step(page, "Show proofs")
    page.field("Folder for the proof").send_keys(str(tmp_path / "proofs"))
    write(page, "Make the gallery")
    page.until(lambda: page.all("[data-proof=gallery]"))
    gallery = tmp_path / "proofs" / "shoot"
    here = page.driver.current_url

    # The client's side: from the folder, without a server.
    downloads = tmp_path / "downloads"
    page.downloads_to(downloads)
    page.driver.get(gallery.as_uri() + "/index.html")
    page.until(lambda: len(page.all(".sheet li[data-number]")) == 3)
    pictures = "[...document.querySelectorAll('.sheet img')]"
    loaded = f"return {pictures}.every(i => i.complete && i.naturalWidth)"
    page.until(lambda: page.driver.execute_script(loaded))
    page.all(".sheet .choose")[0].click()
    page.until(lambda: page.text("#count") == "1 chosen")
    page.all(".sheet .open")[1].click()
    page.until(lambda: page.all("dialog[open] #large"))
    page.keys("Space", "C")
    page.driver.switch_to.active_element.send_keys("lighter, please")
    page.keys("Escape", "ArrowRight")
    page.until(lambda: "3 of 3" in page.text("#where"))
    page.keys("Home")
    page.until(lambda: "1 of 3" in page.text("#where"))
    page.keys("Escape")
    page.until(lambda: not page.all("dialog[open]"))
    page.until(lambda: page.text("#count") == "2 chosen")
    page.until(lambda: "lighter, please" in page.text())
    # It is there again after the window was closed, in the dark, too.
    page.one("#theme").click()
    page.driver.refresh()
    page.until(lambda: page.text("#count") == "2 chosen")
    assert page.driver.execute_script("return document.documentElement.dataset.theme") == "dark"
    for theme in ("dark", "light"):
        assert page.violations() == [], theme
        page.one("#theme").click()
    page.viewport(390, 800)
    wide = "return document.documentElement.scrollWidth > document.documentElement.clientWidth"
    assert not page.driver.execute_script(wide), "it fits a telephone"
    page.viewport(1280, 800)
    page.button("With comment").click()
    page.until(
        lambda: len([c for c in page.all(".sheet li[data-number]") if c.is_displayed()]) == 1
    )
    page.button("Save my answer").click()
    page.one("dialog[open] input").send_keys("Ann")
    page.button("Save the file").click()
    answer = page.until(lambda: next(p for p in downloads.iterdir() if p.suffix == ".json"))
    page.until(lambda: answer.stat().st_size > 0)
    assert json.loads(answer.read_text())["picks"] == [1, 2]

    # Back with the photographer.
    page.driver.get(here)
    page.until(lambda: page.all("input[aria-label='Read a client’s answer']"))[0].send_keys(
        str(answer)
    )
    page.until(lambda: "Ann chose 2 frames" in page.text())
    page.until(lambda: "lighter, please" in page.text())
    choose(page, "Label for what is chosen", "A ")
    page.button("Take the answer over").click()
    page.until(lambda: "Answer of Ann" in page.text())
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Escape")
    page.until(lambda: len(page.cells()) == 3)
    page.keys("/")
    page.field("Written filter").send_keys("instructions~lighter", Keys.ENTER)
    page.until(lambda: page.cells() == ["QH_0002"])
    page.field("Written filter").send_keys(Keys.CONTROL, "a", Keys.DELETE)
    page.field("Written filter").send_keys(Keys.ENTER)
    page.until(lambda: len(page.cells()) == 3)
    labelled = [page.cell(f"QH_000{n}") for n in (1, 2, 3)]
    assert labelled[0] == labelled[1].replace("QH_0002", "QH_0001") != "QH_0001, picked"
    assert labelled[2] == "QH_0003, picked"
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, picked")


def test_rejects_are_deleted_only_after_the_number_is_typed(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    lost = (folder / "QH_0002.jpg").read_bytes()
    page.keys("L", "J", "J", "Q")
    step(page, "Set the rejects aside")
    write(page, "Set 2 rejects aside")
    page.until(lambda: page.all('[aria-label="Set aside"] input')[0]).click()
    page.button("Delete 1 for good").click()
    page.until(lambda: page.all("[data-stage=looked]"))
    page.until(lambda: "QH_0002.jpg" in page.text("[data-testid=deletion]"))
    field = page.field("Number of frames")
    field.send_keys("2")
    assert not page.button("Put in the trash").is_enabled()
    field.send_keys(Keys.BACKSPACE, "1")
    assert page.violations() == []
    field.send_keys(Keys.ENTER)
    page.until(lambda: "1 frame deleted" in page.text())
    page.button("Close").click()
    holding = folder.parent / "shoot set aside"
    page.until(lambda: names(holding) == ["QH_0003.jpg"])
    page.until(lambda: "1 frame set aside" in page.text('[aria-label="Set aside"]'))
    # It is in the system's trash, on whichever disk that is.
    trashed = [p for p in (winnow.home / "own").rglob("QH_0002.jpg") if p.is_file()]
    assert not trashed or trashed[0].read_bytes() == lost
    # The other one for good.
    page.button("Delete all for good").click()
    page.until(lambda: page.all("[data-stage=looked]"))
    page.all("[data-testid=deletion] input[type=radio]")[1].click()
    page.field("Number of frames").send_keys("1", Keys.ENTER)
    page.until(lambda: "1 frame deleted" in page.text())
    page.button("Close").click()
    page.until(lambda: not holding.exists())
    page.keys("Escape")
    page.until(lambda: page.cells() == ["QH_0001"])


def test_the_stand_in_client_answers_too(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("Q")
    step(page, "Show proofs")
    choose(page, "What is shown", "what the filter shows")
    page.field("Folder for the proof").send_keys(str(tmp_path / "proofs"))
    write(page, "Make the gallery")
    page.until(lambda: page.all("[data-proof=gallery]"))
    answer = tmp_path / "answer.json"
    answer.write_bytes(stand_ins.answer(tmp_path / "proofs" / "shoot", "Mara"))
    page.all("input[aria-label='Read a client’s answer']")[0].send_keys(str(answer))
    page.until(lambda: "Mara chose 2 frames" in page.text())
    page.button("Leave it").click()
    page.until(lambda: "Mara chose" not in page.text())
    bad = tmp_path / "bad.json"
    bad.write_text('{"kind": "list"}')
    page.all("input[aria-label='Read a client’s answer']")[0].send_keys(str(bad))
    page.until(lambda: "not an answer" in page.text())
