"""Captions, marks in files and lists, each from start to end in the real page."""

import csv
import io
from pathlib import Path

import pytest
from PIL import Image
from selenium.webdriver import Keys

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_whole_job import opened
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts
from winnow.photos.xmp import embedded, read_sidecar, with_stated

pytestmark = pytest.mark.browser


def state(path: Path, stated: Stated) -> None:
    """What another program writes."""
    data = path.read_bytes() if path.exists() else None
    path.write_bytes(with_stated(data, stated))


def said_in(path: Path) -> Stated:
    return read_sidecar(path.read_bytes())


def type_in(page: Page, name: str, text: str) -> None:
    field = page.field(name)
    field.send_keys(text, Keys.CONTROL, Keys.ENTER)
    page.until(lambda: page.field(name).get_attribute("value") == text)
    page.until(lambda: "Kept" in page.text())


def choose(page: Page, name: str, words: str) -> None:
    page.until(lambda: page.field(name).is_enabled())
    page.until(
        lambda: next(
            option for option in page.field(name).find_elements("tag name", "option")
            if words in option.text
        )
    ).click()  # fmt: skip


def write(page: Page, words: str) -> None:
    """Press a button once it can be pressed."""
    page.until(lambda: page.button(words).is_enabled())
    page.button(words).click()


def test_captions_on_one_frame_and_on_many(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("Shift+Q")
    page.until(lambda: page.text("[data-testid=about]") == "of QH_0001")
    type_in(page, "Title", "Lanterns")
    type_in(page, "Caption", "At the quay")

    # Keywords, completed from those used before, on all selected frames.
    words = page.field("Add keywords")
    words.send_keys("blue hour", Keys.ENTER)
    page.until(lambda: page.all('[aria-label="Take out blue hour"]'))
    words.send_keys(Keys.ESCAPE)
    page.until(lambda: page.driver.switch_to.active_element.tag_name == "body")
    page.keys("Ctrl+A")
    page.until(lambda: page.text("[data-testid=about]") == "of 3 frames")
    page.until(lambda: "they differ" in (page.field("Title").get_attribute("placeholder") or ""))
    page.until(lambda: "blue hour 1" in page.text())
    words = page.field("Add keywords")
    words.send_keys("bl")
    page.until(lambda: page.all("[role=option][id]") and "No" not in words.text)
    # It is there on one of them already, so it is offered; Tab takes it.
    words.send_keys(Keys.TAB)
    page.until(lambda: page.all('[aria-label="Keywords of all"] li.border-ink'))
    type_in(page, "City", "Holm")

    # A template with fields in braces, kept and used on another frame.
    page.one('[aria-label="Templates"] summary').click()
    page.field("Name of a new template").send_keys("Evening", Keys.ENTER)
    page.until(lambda: page.all('[aria-label="Change template Evening"]'))
    page.field("Change template Evening").click()
    page.field("Title of the template").send_keys("{name} in {city}")
    page.button("Keep").click()
    page.until(lambda: page.all('[aria-label="Templates"]'))
    page.one('[aria-label="Templates"] summary').click()
    page.button("Evening").click()
    page.until(lambda: "title of 3 frames" in page.text())

    # Found by what is written, undone, and written to files.
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Ctrl+Z")
    page.until(lambda: "Undone: title of 3 frames" in page.text())
    page.keys("/")
    page.field("Written filter").send_keys('title lantern "QUAY"', Keys.ENTER)
    page.until(lambda: page.cells() == ["QH_0001"])
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Q")
    write(page, "Write 3 frames")
    page.until(lambda: "3 files written" in page.text("[data-testid=written]"))
    assert said_in(folder / "QH_0001.xmp").texts == Texts(
        "Lanterns", "At the quay", ("blue hour",), city="Holm"
    )
    assert said_in(folder / "QH_0003.xmp").texts == Texts(keywords=("blue hour",), city="Holm")


def test_a_conflict_is_seen_and_decided(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    page.keys("2", "F", "2", "F", "2")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, undecided · 2 stars")
    for name, stars in (("QH_0001", 5), ("QH_0002", 4), ("QH_0003", 3)):
        state(
            folder / f"{name}.xmp", Stated(FileMark(stars, "Zweite Wahl" if stars == 3 else None))
        )
    # Noticed while the shoot is open.
    page.until(lambda: page.all("[data-testid=in-conflict]"), 40)
    page.button("choose").click()
    page.until(lambda: len(page.all("[data-conflict]")) == 3)
    assert page.violations() == []
    before = (folder / "QH_0001.xmp").read_bytes()

    page.one('[aria-label^="every stars"][aria-label$="as in the file"]').click()
    page.one('[aria-label^="stars of QH_0002"][aria-label$="as here"]').click()
    assert (folder / "QH_0001.xmp").read_bytes() == before
    write(page, "Write 3 frames")
    page.until(lambda: "1 file written" in page.text("[data-testid=written]"))
    assert said_in(folder / "QH_0002.xmp").mark == FileMark(2)

    # The label text that others wrote gets a meaning.
    choose(page, "“Zweite Wahl” means", "Album")
    page.until(lambda: not page.all('[aria-label="“Zweite Wahl” means"]'))
    page.until(lambda: "“Zweite Wahl” means Album" in page.text())
    page.keys("Escape")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, undecided · 5 stars")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, undecided · 2 stars")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, undecided · 3 stars · Album")


def test_a_change_outside_is_offered_and_taken(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 2])
    page.keys("1", "Q")
    write(page, "Write 1 frame")
    page.until(lambda: page.all("[data-testid=written]"))
    page.keys("Escape")
    state(folder / "QH_0001.xmp", Stated(FileMark(4)))
    page.until(lambda: page.all("[data-testid=changed-outside]"), 40)
    assert page.cell("QH_0001") == "QH_0001, undecided · 1 star"
    page.button("take over").click()
    page.until(lambda: page.cell("QH_0001") == "QH_0001, undecided · 4 stars")
    page.until(lambda: not page.all("[data-testid=changed-outside]"))
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0001") == "QH_0001, undecided · 1 star")


def test_marks_are_written_by_themselves_into_jpegs_as_a_profile_says(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    folder = opened(winnow, page, tmp_path, [1, 2])
    before = (folder / "QH_0001.jpg").read_bytes()
    page.keys("Q")
    page.button("profiles").click()
    choose(page, "Stars of a pick", "at least 3")
    # What other programs would make of it is shown: they can't tell how many stars it has.
    page.until(lambda: "elsewhere: picked" in page.text("[role=dialog] tbody"))
    page.field("Name of the profile").send_keys("Agency")
    write(page, "Keep and use")
    page.until(lambda: page.button("Remove “Agency”"))
    page.keys("Escape")
    select = page.one("[aria-labelledby=file-where]")
    select.send_keys("J")
    page.one("input[type=checkbox]").click()
    page.keys("Escape")
    page.until(lambda: page.all("[data-frame]"))
    page.keys("L")
    path = folder / "QH_0001.jpg"
    page.until(lambda: embedded(path.read_bytes()).mark == FileMark(3, None, True), 40)
    assert path.read_bytes().endswith(before[before.index(b"\xff\xda") :])
    assert sorted(p.name for p in folder.iterdir()) == ["QH_0001.jpg", "QH_0002.jpg"]


def test_a_list_goes_out_and_comes_back(winnow: Running, page: Page, tmp_path: Path) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    downloads = tmp_path / "downloads"
    page.downloads_to(downloads)
    page.keys("L", "J", "Q")
    choose(page, "Which frames", "all frames")
    page.button("Save the list").click()
    page.until(lambda: (downloads / "shoot.csv").exists())
    text = (downloads / "shoot.csv").read_text("utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(text, newline="")))
    assert [row["decision"] for row in rows] == ["pick", "reject", "undecided"]

    # An assistant fills it in, and adds a row about something else.
    rows[2] |= {"decision": "pick", "stars": "4", "label": "Album", "caption": "Last lantern"}
    back = tmp_path / "back.csv"
    with back.open("w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, list(rows[0]), delimiter=";")
        writer.writeheader()
        writer.writerows([*rows, {"file": "other.jpg", "stars": "5"}])
    page.field("A list that came back").send_keys(str(back))
    page.until(lambda: "1 row left out" in page.text())
    page.until(lambda: "There is no “other.jpg” in this shoot" in page.text())
    page.until(lambda: "Last lantern" in page.text())
    page.button("Take over 1 frame").click()
    page.until(lambda: "list “back.csv” on 1 frame" in page.text())
    page.keys("Escape")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, picked · 4 stars · Album")
    page.keys("Ctrl+Z")
    page.until(lambda: page.cell("QH_0003") == "QH_0003, undecided")


def test_the_tally_is_read_saved_and_looked_at_again(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 1, 2])
    downloads = tmp_path / "downloads"
    page.downloads_to(downloads)
    page.keys("L", "L", "J", "K", "Q")
    funnel = page.one('canvas[aria-label^="shot: 4, decided: 3, picks: 2"]')
    assert funnel.size["height"] > 80
    page.button("save as PNG").click()
    page.until(lambda: (downloads / "shoot tally.png").exists())
    with Image.open(downloads / "shoot tally.png") as picture:
        assert picture.format == "PNG"
        assert len(picture.convert("L").getcolors() or []) > 4
    page.until(lambda: "1 group of 2 without a pick" in page.text())
    # Two picks of the same are compared once more, then a group without a pick is shown.
    page.until(lambda: "2 picks look nearly the same" in page.text())
    page.button("Compare").click()
    page.until(lambda: len(page.all("[data-tile]")) == 2)
    page.keys("Q")
    page.button("show them").click()
    page.until(lambda: page.cells() == ["QH_0004"])


def test_rejects_are_set_aside_and_come_back(winnow: Running, page: Page, tmp_path: Path) -> None:
    folder = opened(winnow, page, tmp_path, [1, 1, 2])
    before = {p.name: p.read_bytes() for p in folder.iterdir()}
    page.keys("L", "J", "J", "Q")
    write(page, "Set 2 rejects aside")
    page.until(lambda: "2 frames set aside" in page.text("[data-testid=moved]"))
    holding = folder.parent / "shoot set aside"
    assert sorted(p.name for p in holding.iterdir()) == ["QH_0002.jpg", "QH_0003.jpg"]
    assert [p.name for p in folder.iterdir()] == ["QH_0001.jpg"]

    # The shoot shows what is held, also at 100 %, and says so.
    page.keys("Escape")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected, set aside")
    assert not page.all("[role=alert]")
    page.keys("Home", "F", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("D")
    page.until(lambda: "100 %" in page.text())
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("Escape", "Escape", "/")
    page.field("Written filter").send_keys("aside", Keys.ENTER)
    page.until(lambda: page.cells() == ["QH_0002", "QH_0003"])
    page.driver.execute_script("document.activeElement.blur()")
    page.keys("Shift+A", "Q")

    # One comes back, then all.
    page.until(lambda: page.all('[aria-label="Set aside"] input')[0]).click()
    write(page, "Bring back 1")
    page.until(lambda: "1 frame brought back" in page.text("[data-testid=moved]"))
    write(page, "Bring all back")
    page.until(lambda: not page.all('[aria-label="Set aside"]'))
    assert {p.name: p.read_bytes() for p in folder.iterdir()} == before
    assert not holding.exists()
    page.keys("Escape")
    page.until(lambda: page.cell("QH_0002") == "QH_0002, rejected")


def test_a_delivery_by_template_is_kept_as_a_recipe(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    opened(winnow, page, tmp_path, [1, 1, 2])
    target = tmp_path / "out"
    page.keys("L", "L", "Q")
    page.field("Folder for the copies").send_keys(str(target))
    field = page.field("Names of the copies")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("{shoot}/{seq:3")
    page.until(lambda: "brace stands alone" in page.text())
    field.send_keys("}")
    page.until(lambda: "shoot/001.jpg" in page.text())
    boxes = page.all('[aria-label="Deliver to a folder"] input[type=checkbox]')
    boxes[-1].click()
    page.field("Name of a new recipe").send_keys("For the client", Keys.ENTER)
    page.until(lambda: page.field("Recipe").get_attribute("value") == "For the client")
    write(page, "Copy 2 picks")
    page.until(lambda: page.all("[data-delivery=done]"))
    assert sorted(p.name for p in target.iterdir()) == ["manifest.b3", "shoot"]
    wanted = ["001.jpg", "001.xmp", "002.jpg", "002.xmp"]
    assert sorted(p.name for p in (target / "shoot").iterdir()) == wanted

    # The recipe is there after a start, with everything in it.
    page.driver.refresh()
    page.until(lambda: page.field("Recipe"))
    choose(page, "Recipe", "For the client")
    page.until(
        lambda: page.field("Names of the copies").get_attribute("value") == "{shoot}/{seq:3}"
    )
    page.until(lambda: "All 2 frames are in" in page.text())
    assert "nothing is left to deliver" in page.text()
    page.button("forget it").click()
    page.until(lambda: not page.all('[aria-label="Recipe"]'))
