"""What the site of the docs has beside docs/: the pages at the root of the checkout, the script of
the examples, and the description of the API.

A hook of mkdocs (see mkdocs.yml).
"""

from __future__ import annotations

from pathlib import Path
from typing import Final

from mkdocs.config.defaults import MkDocsConfig
from mkdocs.structure.files import File, Files
from mkdocs.structure.pages import Page

ROOT: Final = Path(__file__).parent.parent
# Lets the search work where pages are opened as files; the theme would fetch it from elsewhere.
_SHIM: Final = "assets/javascripts/iframe-worker.js"
_SHIM_FROM: Final = ROOT / "frontend" / "node_modules" / "iframe-worker" / "shim" / "index.js"
_SHIM_ELSEWHERE: Final = "https://unpkg.com/iframe-worker/shim"
_PAGES: Final = ("CHANGELOG.md", "CONTRIBUTING.md", "SECURITY.md")


def on_files(files: Files, config: MkDocsConfig) -> Files:
    """Take them in."""
    for name in _PAGES:
        files.append(File.generated(config, name, abs_src_path=str(ROOT / name)))
    script = (ROOT / "docs" / "examples" / "cull.py").read_text("utf-8")
    shown = f"# A script that culls\n\n```python\n{script}```\n"
    files.append(File.generated(config, "script.md", content=shown))
    files.append(File.generated(config, _SHIM, abs_src_path=str(_SHIM_FROM)))
    icon = ROOT / "frontend" / "public" / "icon.svg"
    files.append(File.generated(config, "assets/icon.svg", abs_src_path=str(icon)))
    described = ROOT / "frontend" / "openapi.json"
    files.append(File.generated(config, "openapi.json", abs_src_path=str(described)))
    return files


def on_page_markdown(markdown: str, page: Page, config: MkDocsConfig, files: Files) -> str:
    """Links lead where the pages are in the site."""
    if page.file.src_uri in _PAGES:
        return markdown.replace("](docs/", "](")
    # The root of the checkout is the root of the site.
    up = "](" + "../" * (page.file.src_uri.count("/") + 1)
    return markdown.replace(up, up.replace("../", "", 1)).replace(
        "](examples/cull.py)", "](script.md)"
    )


def on_post_page(output: str, page: Page, config: MkDocsConfig) -> str:
    """Nothing is fetched from elsewhere."""
    return output.replace(_SHIM_ELSEWHERE, "../" * page.file.src_uri.count("/") + _SHIM)


def on_post_template(output: str, template_name: str, config: MkDocsConfig) -> str:
    """Nor by the page for addresses that lead nowhere."""
    return output.replace(_SHIM_ELSEWHERE, _SHIM)
