"""Who is in it: switched on, looked at, set right, filtered by, and forgotten."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.browser.chromium import Page
from tests.browser.conftest import Running
from tests.browser.test_hints import noticed
from tests.pictures import write_portraits

pytestmark = pytest.mark.browser


def rows(page: Page) -> list[str]:
    return [row.text.split("\n")[0] for row in page.all("[data-person]")]


def test_who_is_in_it_from_switching_on_to_forgetting(
    winnow: Running, page: Page, tmp_path: Path
) -> None:
    true = write_portraits(tmp_path / "shoot", "QH2_9958")
    noticed(winnow, page, tmp_path / "shoot", len(true))
    page.one("button[aria-label=Looks]").click()
    page.button("Who is in it …").click()
    page.button("Tell people apart in this shoot").click()
    # Two people; of one frame all is too blurred to tell whose faces they are.
    page.until(
        lambda: (
            rows(page) == ["Person 1 · 7 frames · no pick yet", "Person 2 · 7 frames · no pick yet"]
        )
    )
    assert "Without a pick: person 1, person 2." in page.text("[role=dialog]")
    assert page.violations() == []
    # A face taken out is nobody's, until that is taken back.
    page.until(lambda: page.all("[data-person='1'] button"))
    next(
        button for button in page.all("[data-person='1'] button") if button.text == "All faces"
    ).click()
    page.until(lambda: len(page.all("[data-person='1'] ul img")) == 7)
    page.all("[aria-label='Not this person: take the face out']")[0].click()
    page.until(lambda: rows(page)[-1].startswith("Person 1 · 6 frames"))
    page.button("Take back what you said last").click()
    page.until(lambda: rows(page)[0].startswith("Person 1 · 7 frames"))
    # From a person to her frames, and to a pick.
    next(
        button
        for button in page.all("[data-person='1'] button")
        if button.text == "Show these frames"
    ).click()
    page.until(lambda: len(page.cells()) == 7)
    page.until(lambda: "Person 1" in page.text("header"))
    page.keys("Home", "L")
    page.keys("Shift+A")
    page.until(lambda: len(page.cells()) == len(true))
    page.one("button[aria-label=Looks]").click()
    page.button("Who is in it …").click()
    page.until(lambda: "Nobody is left out: each is in a pick." in page.text("[role=dialog]"))
    assert rows(page)[0].startswith("Person 1 · 7 frames · 1 pick")
    page.button("Forget everybody …").click()
    page.button("Forget everybody").click()
    page.until(lambda: page.button("Tell people apart in this shoot"))
    assert page.ask("people")["people"] == []
