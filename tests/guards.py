"""The guards of docs/safety.md, how each is taken out, and a process that runs a test without one.

A guard is marked where it stands in the sources, by a comment with its name: ``# guard: the
token``, behind the line or above it. ``python -m tests.guards`` loads Winnow and the tests once.
For each name that it reads it forks, takes that guard out of the loaded functions, runs the test
that should notice, and prints how that ended.
"""

from __future__ import annotations

import ast
import importlib
import inspect
import io
import json
import os
import re
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from types import CodeType, FunctionType, ModuleType
from typing import Any

import pytest

ROOT = Path(__file__).parent.parent
WINNOW = ROOT / "src" / "winnow"

Change = Callable[[ast.AST], ast.AST]


def _expression(text: str) -> ast.expr:
    return ast.parse(text, mode="eval").body


def never(node: ast.AST) -> ast.AST:
    """The condition never holds, or the loop goes over nothing."""
    if isinstance(node, ast.For):
        node.iter = _expression("()")
    else:
        assert isinstance(node, ast.If)
        node.test = _expression("False")
    return node


def always(node: ast.AST) -> ast.AST:
    """The condition always holds, or the answer is always yes."""
    if isinstance(node, ast.Return):
        node.value = _expression("True")
    else:
        assert isinstance(node, ast.If)
        node.test = _expression("True")
    return node


def skipped(node: ast.AST) -> ast.AST:
    """The statement does nothing."""
    assert isinstance(node, ast.stmt)
    return ast.Pass()


def value(text: str) -> Change:
    """What is assigned, returned or given is this instead."""

    def change(node: ast.AST) -> ast.AST:
        assert isinstance(node, ast.Assign | ast.Return | ast.keyword)
        node.value = _expression(text)
        return node

    return change


def instead(old: str, new: str) -> Change:
    """A part of the statement is another one."""
    wanted = ast.dump(_expression(old))

    class Exchanged(ast.NodeTransformer):
        found = 0

        def visit(self, node: ast.AST) -> ast.AST:
            if isinstance(node, ast.expr) and ast.dump(node) == wanted:
                self.found += 1
                return _expression(new)
            return self.generic_visit(node)

    def change(node: ast.AST) -> ast.AST:
        exchanged = Exchanged()
        # Of an "if" only its condition: what is below it is not the guard.
        if isinstance(node, ast.If):
            test = exchanged.visit(node.test)
            assert isinstance(test, ast.expr)
            node.test = test
        else:
            node = exchanged.visit(node)
        assert exchanged.found, f"there is no {old} any more"
        return node

    return change


# What is guarded: how that is taken out, and the test that notices.
GUARDS: dict[str, tuple[Change, str]] = {
    "other hosts": (never, "web/test_security.py::test_other_hosts_are_refused"),
    "other origins": (
        never, "web/test_security.py::test_other_origins_may_not_change_anything",
    ),
    "a program's token": (always, "web/test_own_token.py::test_without_a_token_no_program_gets_in"),
    "the token": (always, "web/test_security.py::test_without_the_token_nothing_is_told"),
    "a cookie that no script reads": (
        value("False"),
        "web/test_security.py::test_the_token_becomes_a_cookie_and_leaves_the_address",
    ),
    "a cookie that no other page sends": (
        value("'none'"),
        "web/test_security.py::test_the_token_becomes_a_cookie_and_leaves_the_address",
    ),
    "the policy for contents": (never,
    "web/test_security.py::test_every_answer_carries_the_policy"),
    "oversized requests": (
        never, "web/test_security.py::test_oversized_and_unmeasured_requests_are_refused",
    ),
    "requests of unknown length": (
        never, "web/test_security.py::test_oversized_and_unmeasured_requests_are_refused",
    ),
    "two hosts": (
        instead("len(asked) != 1", "False"),
        "web/test_security.py::test_two_hosts_and_paths_that_name_a_host_are_refused",
    ),
    "paths that name a host": (
        never, "web/test_security.py::test_two_hosts_and_paths_that_name_a_host_are_refused",
    ),
    "guests' rights": (always, "web/test_guests.py::test_guests_look_and_mark_and_nothing_else"),
    "people are never for guests": (
        value("people.HIDDEN.set(False)"),
        "web/test_guests.py::test_guests_are_never_told_who_is_in_a_frame",
    ),
    "the password": (never, "web/test_guests.py::test_a_guest_needs_name_and_password"),
    "a guest's cookie that no script reads": (
        value("False"), "web/test_guests.py::test_a_guest_needs_name_and_password",
    ),
    "a guest's cookie that no other page sends": (
        value("'none'"), "web/test_guests.py::test_a_guest_needs_name_and_password",
    ),
    "a guest's cookie on the encrypted line only": (
        value("False"), "web/test_guests.py::test_a_guest_needs_name_and_password",
    ),
    "tries of passwords": (never, "web/test_guests.py::test_passwords_can_not_be_tried_out"),
    "too many requests": (
        always, "web/test_guests.py::test_too_many_requests_are_refused_for_a_moment",
    ),
    "one name, one guest": (never, "web/test_guests.py::test_names_are_one_guests_each"),
    "ended sessions": (skipped,
    "web/test_guests.py::test_an_ended_session_is_answered_nothing_more"),
    "streams of ended sessions": (
        never, "web/test_guest_line.py::test_streams_of_an_ended_session_end",
    ),
    "connections of one guest": (
        never,
        "web/test_guest_line.py::test_no_more_connections_of_one_address_are_accepted_than_can_be_borne",
    ),
    "headers that never end": (
        skipped, "web/test_guest_line.py::test_headers_and_bodies_that_never_end_are_given_up",
    ),
    "bodies that never end": (
        value("None"),
        "web/test_guest_line.py::test_headers_and_bodies_that_never_end_are_given_up",
    ),
    "shoots that are not shared": (
        value("listed"), "web/test_guests.py::test_guests_are_told_of_their_shoot_alone",
    ),
    "shoots that were forgotten": (
        skipped, "web/test_guest_line.py::test_a_shoot_that_is_forgotten_is_shared_no_more",
    ),
    "originals": (
        value("False"),
        "web/test_guests.py::test_pictures_for_guests_say_nothing_of_where_they_were_taken",
    ),
    "facts that guests don't get": (
        never, "web/test_guests.py::test_nothing_of_where_files_are_is_told",
    ),
    "what guests said": (
        value("frame_files.there(db, shoot_id)"),
        "web/test_guests.py::test_what_guests_did_carries_their_name_and_waits",
    ),
    "what guests said, in lists and proofs": (
        always, "web/test_guests.py::test_what_guests_did_carries_their_name_and_waits",
    ),
    "what guests said, in names": (
        never,
        "work/test_deliver.py::test_what_guests_said_comes_into_no_name_before_it_is_taken_over",
    ),
    "what guests said, in deliveries": (
        value("says"),
        "work/test_deliver.py::test_what_guests_said_comes_into_no_sidecar_before_it_is_taken_over",
    ),
    "links to files elsewhere": (
        instead("entry.is_file(follow_symlinks=False)", "entry.is_file()"),
        "photos/test_scan.py::test_links_are_not_followed",
    ),
    "links to folders elsewhere": (
        instead("entry.is_dir(follow_symlinks=False)", "entry.is_dir()"),
        "photos/test_scan.py::test_links_are_not_followed",
    ),
    "links that took a file's place": (
        instead("_NO_FOLLOW", "0"),
        "photos/test_scan.py::test_what_took_a_files_place_is_not_opened",
    ),
    "links that took a folder's place": (
        instead("_NO_FOLLOW", "0"),
        "photos/test_scan.py::test_what_took_a_files_place_is_not_opened",
    ),
    "links that would be moved or written": (
        never, "work/test_links.py::test_nothing_is_moved_through_a_link",
    ),
    "files that were changed since a step was planned": (
        never, "work/test_links.py::test_another_file_in_its_place_is_not_delivered",
    ),
    "picture bombs": (
        never, "photos/test_decode.py::test_a_picture_bomb_is_refused_before_it_is_unpacked",
    ),
    "picture bombs by depth": (
        never, "photos/test_bombs.py::test_what_would_take_too_much_is_refused_by_what_it_says",
    ),
    "scans without end": (
        never, "photos/test_bombs.py::test_scans_without_end_are_counted_before_they_are_made",
    ),
    "memory of a worker": (skipped, "work/test_limits.py::test_a_worker_does_not_get_all_memory"),
    "time of a worker": (never,
    "work/test_feeder.py::test_a_job_that_never_ends_is_given_up_and_its_neighbours_are_done"),
    "XML with entities": (
        skipped, "photos/test_xmp.py::test_broken_and_hostile_sidecars_are_refused_not_emptied",
    ),
    "XML that names other files": (
        skipped, "photos/test_xmp.py::test_broken_and_hostile_sidecars_are_refused_not_emptied",
    ),
    "slashes in names from outside": (
        value("text"), "core/test_templates.py::test_no_value_leads_out_of_the_folder",
    ),
    "names of dots alone": (
        instead("' .'", "None"), "core/test_templates.py::test_names_are_lawful_everywhere",
    ),
    "names that differ by case": (
        value("unicodedata.normalize('NFC', name)"), "core/test_names.py",
    ),
    "names that differ by Unicode form": (value("name.casefold()"), "core/test_names.py"),
    "files that are there": (
        value("0"), "photos/test_originals.py::test_nothing_is_written_over",
    ),
    "files that are there, by links": (
        instead("part.link", "part.replace"),
        "photos/test_originals.py::test_nothing_is_written_over",
    ),
    "copies that the disk spoilt": (
        never, "photos/test_originals.py::test_a_copy_that_the_disk_spoilt_does_not_count",
    ),
    "deliveries into the shoot": (never, "work/test_deliver_disks.py::test_targets_that_cannot_be"),
}  # fmt: skip


def marked(source: str) -> dict[str, set[int]]:
    """The guards that are marked in a source, each with the lines it stands on, from 1."""
    found: dict[str, set[int]] = {}
    lines = source.splitlines()
    for at, line in enumerate(lines):
        if not (mark := re.search(r"(^\s*|  )# guard: (.+)", line)):
            continue
        # Alone on its line, it speaks of the next one.
        number = at + 2 if line.lstrip().startswith("#") else at + 1
        for name in mark.group(2).split("; "):
            found.setdefault(name, set()).add(number)
    return found


def places() -> dict[str, list[Path]]:
    """The sources in which each guard is marked."""
    found: dict[str, list[Path]] = {}
    for path in sorted(WINNOW.rglob("*.py")):
        for name in marked(path.read_text("utf-8")):
            found.setdefault(name, []).append(path)
    return found


class _Out(ast.NodeTransformer):
    """Takes the outermost statement, or argument, out that begins on each of some lines."""

    def __init__(self, lines: set[int], change: Change) -> None:
        self.lines, self._change = set(lines), change

    def visit(self, node: ast.AST) -> ast.AST:
        line = getattr(node, "lineno", None)
        if isinstance(node, ast.stmt | ast.keyword) and line in self.lines:
            self.lines.discard(line)
            return ast.copy_location(self._change(node), node)
        return self.generic_visit(node)


def without(source: str, name: str) -> ast.Module:
    """A source in which a guard is taken out."""
    out = _Out(marked(source)[name], GUARDS[name][0])
    tree = ast.fix_missing_locations(out.visit(ast.parse(source)))
    assert not out.lines, f"“{name}” stands at no statement"
    assert isinstance(tree, ast.Module)
    return tree


def _functions(found: Any) -> Iterator[FunctionType]:
    """The functions behind a name: of a property, a class method, or below a decorator."""
    for function in (found, *(getattr(found, part, None) for part in ("fget", "fset", "__func__"))):
        if callable(function) and isinstance(bare := inspect.unwrap(function), FunctionType):
            yield bare


def take_out(module: ModuleType, tree: ast.Module) -> int:
    """Give the loaded functions of a module the code of a changed source; how many changed."""
    changed = 0

    def go(code: CodeType, names: dict[str, Any]) -> None:
        nonlocal changed
        for constant in code.co_consts:
            if not isinstance(constant, CodeType) or constant.co_name not in names:
                continue
            found = names[constant.co_name]
            if isinstance(found, type):
                go(constant, dict(vars(found)))
            for function in _functions(found):
                if (
                    function.__code__.co_qualname == constant.co_qualname
                    and function.__code__ != constant
                ):
                    function.__code__ = constant
                    changed += 1

    assert module.__file__
    go(compile(tree, module.__file__, "exec", dont_inherit=True), vars(module))
    return changed


def lay_out(folder: Path, changed: dict[Path, str]) -> Path:
    """The package as links, but for the changed sources, as new processes load it; the folder to
    import it from."""

    def lay(here: Path, there: Path) -> None:
        there.mkdir(parents=True)
        for entry in here.iterdir():
            if entry in changed:
                (there / entry.name).write_text(changed[entry])
            elif entry.is_dir() and any(path.is_relative_to(entry) for path in changed):
                lay(entry, there / entry.name)
            elif entry.name != "__pycache__":
                (there / entry.name).symlink_to(entry)

    lay(WINNOW, folder / "src" / "winnow")
    return folder / "src"


def run_without(name: str) -> tuple[int, str]:
    """Take a guard out of this process, and of those that it starts, and run its test: pytest's
    status and words."""
    trees = {path: without(path.read_text("utf-8"), name) for path in places()[name]}
    with tempfile.TemporaryDirectory() as folder:
        path = lay_out(Path(folder), {path: ast.unparse(tree) for path, tree in trees.items()})
        sys.path.insert(0, str(path))
        os.environ["PYTHONPATH"] = str(path)
        for source, tree in trees.items():
            dotted = ".".join(source.relative_to(WINNOW.parent).with_suffix("").parts)
            assert take_out(importlib.import_module(dotted), tree), f"“{name}” is in no function"
        said = io.StringIO()
        with redirect_stdout(said), redirect_stderr(said):
            # A folder of its own: two that begin at once take the same number of the usual ones.
            status = pytest.main(
                [
                    "-x",
                    "-p",
                    "no:cacheprovider",
                    f"--basetemp={folder}/tmp",
                    f"tests/{GUARDS[name][1]}",
                ]
            )
        return int(status), said.getvalue()


def main() -> None:
    """Read names, one a line; print for each its result as JSON."""
    os.chdir(ROOT)
    files = sorted({f"tests/{test.partition('::')[0]}" for _, test in GUARDS.values()})
    with redirect_stdout(io.StringIO()):
        pytest.main(["--collect-only", "-p", "no:cacheprovider", *files])
    for line in sys.stdin:
        child = os.fork()
        if child == 0:
            try:
                result = run_without(line.strip())
            except BaseException as error:
                result = (-1, repr(error))
            print(json.dumps(result), flush=True)
            os._exit(0)
        os.waitpid(child, 0)


if __name__ == "__main__":
    main()
