"""One frame, one figure: what every view says of frames of the demo is what the sheet was told."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_hints import noticed
from tests.browser.test_review import kept
from winnow.demo import shoot

pytestmark = [pytest.mark.browser, pytest.mark.demo]

Said = tuple[str | None, str]
TILES = "[data-tile] [data-standing]"
FACTS = "aside[aria-label='All facts']"


def told(page: Page) -> dict[str, Said]:
    """By name: the standing of each frame, and its blur with that in words, as all views write
    it."""
    columns = page.ask("frames")
    said = {}
    for n, name in enumerate(columns["name"]):
        blur, number = columns["blur"][n], columns["standing"][n]
        words = columns["standings"][number] if number >= 0 else {"state": "", "words": ""}
        px = [] if blur is None else [f"{blur:.1f} px"]
        said[name] = (words["state"] or "", " · ".join([*px, *filter(None, [words["words"]])]))
    return said


def tiles(page: Page) -> dict[str, Said]:
    """What is said under each tile, by the frame's name."""
    return {
        tile.find_element("xpath", "./ancestor::*[@data-tile]").get_attribute("data-tile") or "": (
            tile.get_attribute("data-standing"),
            tile.get_attribute("title") or "",
        )
        for tile in page.all(TILES)
    }


def ladder(page: Page) -> dict[str, Said]:
    """What is said of each frame of the group, beside the photograph."""
    said = {}
    for rung in page.all("[aria-label='This group'] button:has([data-standing])"):
        _, name, *lines = rung.text.replace(" ◂", "").split("\n")
        state = rung.find_element("css selector", "[data-standing]").get_attribute("data-standing")
        said[name] = (state, " · ".join(lines))
    return said


def of_faces(page: Page) -> set[tuple[str, str]]:
    """Names, and the blur that is said of a face where it is the frame's."""
    return {
        ((face.get_attribute("title") or "").partition(":")[0], line)
        for face in page.all("[data-eyes-say][data-best]")
        for line in face.text.split("\n")
        if line.endswith(" px")
    }


def test_every_view_says_the_same_of_a_frame(winnow: Running, page: Page, tmp_path: Path) -> None:
    """Ladder, facts, faces, tiles side by side, in the knockout and in the review.

    The first frame, of flags, is one whose camera focused at its middle.
    """
    for maker in shoot.make_behind(tmp_path / "evening", (10, 15, 29, 43)):
        maker.join()
    noticed(winnow, page, tmp_path / "evening", 8)
    said, columns = told(page), page.ask("frames")
    groups = sorted(set(columns["group"]))
    assert len(groups) > 2
    with_faces = 0
    page.keys("Home", "Space")
    page.until(lambda: page.all("[data-testid=photograph] [data-ready=true]"))
    page.keys("Shift+P")
    # In the middle of the picture, as the facts say.
    dot = page.until(lambda: page.one("[data-testid=focus-dot]")).rect
    picture = page.one("[data-testid=photograph] canvas").rect
    for start, side in (("x", "width"), ("y", "height")):
        middle = picture[start] + picture[side] / 2
        assert dot[start] + dot[side] / 2 == pytest.approx(middle, abs=2)
    page.keys("Shift+P")
    for group in groups:
        names = [n for n, of in zip(columns["name"], columns["group"], strict=True) if of == group]
        expected = {name: said[name] for name in names}
        page.until(lambda expected=expected: ladder(page) == expected)
        for name in names:
            page.keys("Shift+M")
            page.until(lambda name=name: f"Facts of {name}" in page.text(FACTS))
            page.until(lambda name=name: said[name][1] in page.text(FACTS))
            page.keys("Shift+M", "F")
        page.keys("S")
        if len(names) > 1:
            page.keys("V")
            page.until(lambda expected=expected: tiles(page) == expected)
            page.keys("Shift+E")
            page.until(lambda: "…" not in page.text("[aria-label=Faces] strong"))
            faces = of_faces(page)
            assert faces <= {(name, said[name][1].split(" · ")[0]) for name in names}
            with_faces += bool(faces)
            page.keys("Shift+E", "B")
            page.until(lambda: len(tiles(page)) == 2)
            page.until(lambda expected=expected: tiles(page).items() <= expected.items())
            page.keys("Escape", "Escape", "Space")
        page.keys("R")
    assert with_faces
    page.keys("Escape", "Shift+U")
    while page.all("[data-review]"):
        page.until(lambda: tiles(page) and tiles(page).items() <= said.items())
        at = page.one("[data-review]").get_attribute("data-review")
        # Where nothing can be used, nothing is proposed.
        page.keys("L" if kept(page) else "J")
        page.until(lambda at=at: not page.all(f"[data-review='{at}']"))
