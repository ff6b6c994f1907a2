"""The docs as a site: built without a warning, searched and read without a network."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from html.parser import HTMLParser
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
# What a page fetches by itself; links are followed by a person.
FETCHED = {"script": "src", "img": "src", "link": "href", "iframe": "src", "source": "src"}


@pytest.fixture(scope="module")
def site(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("site")
    command = [sys.executable, "-m", "mkdocs", "build", "-q", "--strict", "-d", str(folder)]
    env = {**os.environ, "NO_MKDOCS_2_WARNING": "1"}
    built = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True)
    assert built.returncode == 0, built.stderr
    return folder


class Fetched(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.addresses: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        known = dict(attrs)
        if tag in FETCHED and known.get("rel") != "canonical":
            self.addresses.append(known.get(FETCHED[tag]) or "")


def test_every_page_of_the_docs_is_in_it(site: Path) -> None:
    docs = ROOT / "docs"
    pages = (page.relative_to(docs) for page in docs.rglob("*.md"))
    for page in (*pages, Path("SECURITY.md"), Path("script.md")):
        assert (site / page.with_suffix(".html")).exists(), page
    # Each is in the menu: none is found by its address alone.
    menu = (site / "index.html").read_text("utf-8")
    for page in site.rglob("*.html"):
        name = page.relative_to(site).as_posix()
        assert name in ("404.html", "index.html") or f'href="{name}"' in menu, name


def test_nothing_is_fetched_from_elsewhere(site: Path) -> None:
    for page in site.rglob("*.html"):
        parser = Fetched()
        parser.feed(page.read_text("utf-8"))
        for address in filter(None, parser.addresses):
            assert not re.match(r"(https?:)?//", address), (page.name, address)
            there = page.parent / address.partition("#")[0].partition("?")[0]
            # The page for addresses that lead nowhere is asked for from anywhere.
            assert there.exists() or page.name == "404.html", (page.name, address)
    for style in site.rglob("*.css"):
        assert not re.search(r"url\(\s*['\"]?(https?:)?//", style.read_text("utf-8")), style.name


def test_it_is_searched_and_describes_the_api(site: Path) -> None:
    index = json.loads((site / "search" / "search_index.json").read_text("utf-8"))
    titles = {entry["title"] for entry in index["docs"]}
    assert {"Safety", "A studio", "A script that culls"} <= titles
    assert json.loads((site / "openapi.json").read_text("utf-8"))["openapi"].startswith("3.")
