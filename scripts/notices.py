"""Gathers the licences and notices of all that ships with Winnow, or is installed with it, in
NOTICES.md.

`make notices`, after the lock files have changed; a test compares the file with them.
"""

from __future__ import annotations

import json
import re
from importlib import metadata
from pathlib import Path

ROOT = Path(__file__).parent.parent
MODULES = ROOT / "frontend" / "node_modules"
LOCK = ROOT / "frontend" / "package-lock.json"
PINNED = ROOT / "requirements" / "run.txt"
PHOTOS = ROOT / "src" / "winnow" / "photos"
# Only what runs in the browser is built into the page; the other halves of these packages are
# tools.
LICENCE_FILES = re.compile(r"^(licen[cs]e|copying|notice)", re.IGNORECASE)

HEAD = """# Licences and notices

Winnow is free software under the GNU General Public License,
version 3 or later; its text stands in LICENSE. This file
names everything else that is in its package, or is installed with it,
with licences and notices. `scripts/notices.py`
makes it.
"""
DEMO = """## The demo's pictures

Rendered for Winnow. Their people come from figure data of MakeHuman under CC0 1.0; all else was
made for them, under
Winnow's own licence. renders/README.md tells how.
"""


def page_packages() -> list[tuple[str, str, str]]:
    """Name, version and licence of each package that is built into the pages."""
    locked: dict[str, dict[str, object]] = json.loads(LOCK.read_text())["packages"]
    return [
        (path.split("node_modules/")[-1], str(package["version"]), str(package.get("license", "")))
        for path, package in sorted(locked.items())
        if path and not package.get("dev") and not package.get("devOptional")
    ]


def python_packages() -> list[tuple[str, str]]:
    """Name and version of each Python package that is installed with Winnow."""
    found = re.findall(r"^([A-Za-z0-9._-]+)==([^\s\\]+)", PINNED.read_text(), re.MULTILINE)
    return [(str(name), str(version)) for name, version in found]


def licence_of(name: str) -> str:
    """The licence that a Python package states."""
    about = metadata.metadata(name)
    classified = [
        classifier.split(" :: ")[-1]
        for classifier in about.get_all("Classifier") or []
        if classifier.startswith("License") and classifier != "License :: OSI Approved"
    ]
    known = about.json
    stated = str(known.get("license_expression") or "").strip()
    short = str(known.get("license") or "").strip().split("\n")[0][:60]
    return stated or ", ".join(classified) or short or "see the package"


def texts_of(folder: Path) -> str:
    files = [
        file
        for file in sorted(folder.iterdir())
        if file.is_file() and LICENCE_FILES.match(file.name)
    ]
    return "\n\n".join(file.read_text("utf-8", "replace").strip() for file in files)


def fenced(text: str) -> str:
    return "```text\n" + text.replace("```", "'''").replace("\r", "").rstrip() + "\n```\n"


def main() -> None:
    """Write NOTICES.md anew."""
    by_text: dict[str, list[str]] = {}
    for name, version, licence in page_packages():
        text = texts_of(MODULES / name) or f"{licence}, stated in its package.json."
        by_text.setdefault(text, []).append(f"{name} {version} ({licence})")
    parts = [HEAD, "## In the pages\n"]
    for text, names in sorted(by_text.items(), key=lambda entry: entry[1]):
        parts += [", ".join(names) + "\n", fenced(text)]
    parts += [
        "## Fonts of contact sheets: DejaVu Sans Condensed\n",
        fenced((PHOTOS / "fonts" / "LICENSE").read_text()),
    ]
    models = PHOTOS / "models"
    parts += ["## Models that find faces\n", fenced((models / "NOTICE").read_text())]
    parts += [fenced((models / "LICENSE-Apache-2.0.txt").read_text()), DEMO]
    parts += [
        "## Python packages that are installed with it\n",
        "Each brings the text of its licence.\n",
    ]
    lines = [f"- {name} {version}: {licence_of(name)}" for name, version in python_packages()]
    (ROOT / "NOTICES.md").write_text("\n".join([*parts, *lines, ""]))


if __name__ == "__main__":
    main()
