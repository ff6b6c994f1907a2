"""What the server says is gathered, and comes in the language that is asked for."""

import ast
import errno
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from scripts import texts

from winnow.say import say, say_of

ROOT = Path(__file__).parent.parent
WINNOW = ROOT / "src" / "winnow"


def test_every_text_is_in_the_catalogue() -> None:
    assert (ROOT / "texts" / "en" / "server.po").read_bytes() == texts.as_po(texts.gathered())


@pytest.mark.parametrize("name", ["server.po", "page.po"])
def test_texts_are_set_with_the_same_apostrophe_and_quotes(name: str) -> None:
    """’, “ ” and … of type: a text that has others says one thing in two ways."""
    said = (ROOT / "texts" / "en" / name).read_text().splitlines()
    texts_of = [line for line in said if line.startswith(("msgid", '"'))]
    assert len(texts_of) > 600
    assert [line for line in texts_of if re.search(r"'|\\\"|\.\.\.", line)] == []


def refusals() -> list[tuple[str, str]]:
    """Texts of errors that a person may see, as they stand in the sources."""
    found = []
    for path in sorted(WINNOW.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.Raise) and isinstance(node.exc, ast.Call):
                name = ast.unparse(node.exc.func)
                if name not in (
                    "ValueError",
                    "RuntimeError",
                    "OSError",
                    "AssertionError",
                    "KeyError",
                ):
                    found += [
                        (f"{path.name}:{node.lineno}", ast.unparse(argument))
                        for argument in node.exc.args
                    ]
    return found


def test_no_refusal_is_said_past_the_catalogue() -> None:
    assert len(refusals()) > 100
    assert [
        refusal for refusal in refusals() if re.match(r"""f?["'].*[a-z] [a-z]""", refusal[1])
    ] == []


@pytest.fixture
def language(tmp_path: Path) -> Path:
    """The package as links, with a made-up language: every text in « », comma and point
    exchanged."""
    package = tmp_path / "src" / "winnow"
    package.mkdir(parents=True)
    for entry in WINNOW.iterdir():
        if entry.name != "texts":
            (package / entry.name).symlink_to(entry)
    made = Catalog(locale="nl")
    for message in texts.gathered():
        if message.id:
            forms = message.id if isinstance(message.id, tuple) else (message.id,)
            swapped = tuple({",": ".", ".": ","}.get(str(text), f"«{text}»") for text in forms)
            made.add(message.id, swapped if len(forms) > 1 else swapped[0])
    made.add(",", ".")
    made.add(".", ",")
    out = package / "texts" / "nl" / "LC_MESSAGES" / "winnow.mo"
    out.parent.mkdir(parents=True)
    with out.open("wb") as file:
        write_mo(file, made)
    return tmp_path / "src"


def test_a_job_in_another_language(language: Path) -> None:
    done = subprocess.run(
        [
            sys.executable,
            "-m",
            "pytest",
            "-q",
            "-p",
            "no:cacheprovider",
            "tests/web/in_another_language.py",
        ],
        cwd=ROOT,
        env={**os.environ, "PYTHONPATH": str(language), "LANGUAGE": "nl"},
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert done.returncode == 0, done.stdout[-6000:]


def test_of_an_error_of_the_system_its_words_are_said() -> None:
    error = OSError(errno.EIO, "Input/output error", "/disk/a.jpg")
    assert say("It failed ({error}).", error=error) == "It failed (Input/output error)."
    assert "Errno" not in say_of(2, "{n}: {error}", "{n}: {error}", error=error)
