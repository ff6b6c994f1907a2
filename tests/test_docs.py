"""What the documentation says of the code holds: facts of filters, fields of names, paths,
pictures, links."""

import re
from pathlib import Path

import pytest
from scripts import filter_facts

from tests.guards import GUARDS
from winnow.core.deliver import naming
from winnow.core.files import templates, texts
from winnow.core.filters.conditions import FACTS, FLAGS
from winnow.core.filters.parser import parse
from winnow.web.openapi import as_page

ROOT = Path(__file__).parent.parent
DOCS = ROOT / "docs"
PAGES = [*sorted(ROOT.glob("*.md")), *sorted(DOCS.rglob("*.md"))]


def test_every_fact_and_word_of_filters_is_told() -> None:
    page = (DOCS / "filter.md").read_text()
    assert [fact for fact in FACTS if f"| `{fact}` |" not in page] == []
    assert [flag for flag in FLAGS if f"`{flag}`" not in page] == []


def test_the_examples_of_filters_can_be_typed() -> None:
    page = (DOCS / "filter.md").read_text().split("## Operators")[0]
    examples = [
        example
        for row in re.findall(r"^\| (`.*?) \|", page, re.M)
        for example in re.findall(r"`([^`]+)`", row)
    ]
    assert len(examples) >= 10
    for example in examples:
        assert parse(example, {"A": "album", "W": "web"}), example


def test_every_field_of_names_is_told() -> None:
    page = (DOCS / "names.md").read_text()
    sections = page.split("\n## ")[1:]
    for section, fields in zip(
        sections, (templates.FIELDS, naming.FIELDS, texts.FILLED), strict=True
    ):
        assert [field for field in fields if f"`{{{field}}}`" not in section] == []


def test_the_description_of_the_api_is_that_of_now() -> None:
    assert (DOCS / "api.md").read_text() == as_page(), "run `make openapi`"


def test_the_facts_of_filters_are_those_of_now() -> None:
    assert filter_facts.page() == filter_facts.PAGE.read_text(), "run `make openapi`"


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_and_paths_lead_somewhere(page: Path) -> None:
    text = page.read_text()
    links = [link for link in re.findall(r"\]\(([^)\s]+)\)", text) if "://" not in link]
    for link in links:
        file, _, heading = link.partition("#")
        found = page.parent / file if file else page
        assert found.exists(), f"{page.name} links to {link}"
        if heading:
            titles = re.findall(r"^#+ (.+)$", found.read_text(), re.M)
            assert heading in [
                re.sub(r"[^\w\- ]", "", title.lower()).replace(" ", "-") for title in titles
            ], link
    named = re.findall(r"`((?:core|photos|store|work|web|demo)/[\w/]+\.py)`", text)
    for path in named:
        assert (ROOT / "src" / "winnow" / path).exists(), f"{page.name} names {path}"
    named = re.findall(r"`((?:src|tests|frontend|scripts|benchmarks|renders)/[\w./-]+\.\w+)`", text)
    for path in named:
        assert (ROOT / path).exists(), f"{page.name} names {path}"


def test_every_target_that_is_told_is_there() -> None:
    makefile = (ROOT / "Makefile").read_text()
    targets = set(re.findall(r"^([a-z-]+):", makefile, re.M))
    told = {name for page in PAGES for name in re.findall(r"`make ([a-z-]+)", page.read_text())}
    assert {"demo", "dev", "fast", "test", "soak", "coverage"} <= targets
    assert told <= targets


def test_every_guard_stands_with_the_promise_that_it_keeps() -> None:
    told = [
        name
        for page in sorted((DOCS / "safety").glob("*.md"))
        for name in re.findall(r"^- (.+)$", page.read_text().partition("## Its guards")[2], re.M)
    ]
    assert sorted(told) == sorted(GUARDS)


def test_every_promise_has_a_line_among_all() -> None:
    overview = (DOCS / "safety.md").read_text()
    for page in (DOCS / "safety").glob("*.md"):
        title, promise = page.read_text().split("\n\n")[:2]
        line = f"| [{title.removeprefix('# ')}](safety/{page.name}) | {promise.strip('*')} |"
        assert line in overview or page.name == "tested.md", page.name
