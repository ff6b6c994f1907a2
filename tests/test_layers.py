"""Imports point down only: cli, web, work, store, photos, core, and what all of them say."""

import ast
import subprocess
import sys
from collections.abc import Iterable
from graphlib import TopologicalSorter
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "winnow"
LAYERS = ["say", "core", "terminal", "photos", "store", "work", "web", "cli"]
# The demo makes files for others to read; only the command line may know it.
ALLOWED = {layer: set(LAYERS[: LAYERS.index(layer) + 1]) for layer in LAYERS}
ALLOWED["demo"] = {"demo", "photos", "core", "say"}
ALLOWED["cli"].add("demo")
ALLOWED["start"] = {"cli"}
ALLOWED["__main__"] = {"start"}


def imported(path: Path) -> set[str]:
    nodes = list(ast.walk(ast.parse(path.read_text("utf-8"))))
    assert all(node.level == 0 for node in nodes if isinstance(node, ast.ImportFrom)), path
    return _of_nodes(nodes)


def _of_nodes(nodes: Iterable[ast.AST]) -> set[str]:
    """The modules, and the names in them, that are imported."""
    found = set()
    for node in nodes:
        if isinstance(node, ast.ImportFrom) and node.module:
            found |= {f"{node.module}.{name.name}" for name in node.names} | {node.module}
        elif isinstance(node, ast.Import):
            found |= {name.name for name in node.names}
    return found


@pytest.mark.parametrize(
    "path", sorted(SOURCE.rglob("*.py")), ids=lambda p: str(p.relative_to(SOURCE))
)
def test_imports_point_down(path: Path) -> None:
    layer = path.relative_to(SOURCE).parts[0].removesuffix(".py")
    if layer == "__init__":
        return
    used = {name.split(".")[1] for name in imported(path) if name.startswith("winnow.")}
    assert used & set(ALLOWED) <= ALLOWED[layer]


CORE_FORBIDS = {"sqlite3", "fastapi", "pathlib", "os", "time", "datetime", "threading", "socket"}


@pytest.mark.parametrize(
    "path", sorted((SOURCE / "core").rglob("*.py")), ids=lambda p: str(p.relative_to(SOURCE))
)
def test_core_knows_no_files_clock_or_database(path: Path) -> None:
    assert not {name.split(".")[0] for name in imported(path)} & CORE_FORBIDS


def test_three_modules_use_exiv2() -> None:
    users = {
        p.name for p in SOURCE.rglob("*.py") if any(n.split(".")[0] == "exiv2" for n in imported(p))
    }
    assert users == {"exif_writer.py", "metadata.py", "xmp.py"}


def test_no_module_imports_itself_by_way_of_others() -> None:
    modules = {
        ".".join(p.relative_to(SOURCE.parent).with_suffix("").parts).removesuffix(".__init__"): p
        for p in SOURCE.rglob("*.py")
    }
    uses: dict[str, set[str]] = {}
    for module, path in modules.items():
        # What is imported within a function comes later.
        names = _of_nodes(ast.parse(path.read_text("utf-8")).body)
        below = {name.rpartition(".")[0] for name in names & set(modules)}
        # A package that is named for what is below it is not itself used.
        whole = {name.rpartition(".")[0] for name in names - set(modules)}
        uses[module] = (names & set(modules)) - (below - whole) - {module}
    TopologicalSorter(uses).prepare()


ELSEWHERE = """
import importlib, pkgutil, sys
for missing in ("fcntl", "grp", "pwd", "resource", "termios", "uvloop"):
    sys.modules[missing] = None
import winnow
for module in pkgutil.walk_packages(winnow.__path__, "winnow."):
    if module.name != "winnow.__main__":
        importlib.import_module(module.name)
"""


def test_every_module_is_imported_without_what_windows_lacks() -> None:
    done = subprocess.run([sys.executable, "-c", ELSEWHERE], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
