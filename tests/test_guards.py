"""Each guard of docs/safety.md has a test that fails when the guard is taken out: here each is taken out.

Winnow's sources are laid out once more, as links, with one line changed; the test that should notice must fail.
"""

import os
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
WINNOW = ROOT / "src" / "winnow"

# What is guarded: module, the guard, what is left without it, the test that notices.
GUARDS: list[tuple[str, str, str, str, str]] = [
    (
        "other hosts", "web/security.py",
        "if host.lower() not in self._hosts:", "if False:",
        "tests/web/test_security.py::test_other_hosts_are_refused",
    ),
    (
        "other origins", "web/security.py",
        'if origin is not None and origin != f"http://{host}":', "if False:",
        "tests/web/test_security.py::test_other_origins_may_not_change_anything",
    ),
    (
        "the token", "web/security.py",
        "return hmac.compare_digest(given.encode(), self._token.encode())", "return True",
        "tests/web/test_security.py::test_without_the_token_nothing_is_told",
    ),
    (
        "a cookie that no script reads", "web/security.py",
        "httponly=True,", "",
        "tests/web/test_security.py::test_the_token_becomes_a_cookie_and_leaves_the_address",
    ),
    (
        "a cookie that no other page sends", "web/security.py",
        'samesite="strict",', 'samesite="none",',
        "tests/web/test_security.py::test_the_token_becomes_a_cookie_and_leaves_the_address",
    ),
    (
        "the policy for contents", "web/security.py",
        "for name, value in _HEADERS.items():", "for name, value in ():",
        "tests/web/test_security.py::test_every_answer_carries_the_policy",
    ),
    (
        "oversized requests", "web/security.py",
        "if not length.isdecimal() or int(length) > most:", "if False:",
        "tests/web/test_security.py::test_oversized_and_unmeasured_requests_are_refused",
    ),
    (
        "requests of unknown length", "web/security.py",
        'if "transfer-encoding" in headers:', "if False:",
        "tests/web/test_security.py::test_oversized_and_unmeasured_requests_are_refused",
    ),
    (
        "guests' rights", "web/security.py",
        "if guests_may(method, path):", "if True:",
        "tests/web/test_sharing.py::test_guests_look_and_mark_and_nothing_else",
    ),
    (
        "the password", "web/security.py",
        "if not await asyncio.to_thread(sharing.is_right, given):", "if False:",
        "tests/web/test_sharing.py::test_a_guest_needs_the_password",
    ),
    (
        "tries of passwords", "web/sharing.py",
        "if len(own) >= _TRIES or len(self._of_all) >= _TRIES_OF_ALL:", "if False:",
        "tests/web/test_sharing.py::test_passwords_can_not_be_tried_out",
    ),
    (
        "too many requests", "web/sharing.py",
        "return len(own) <= _REQUESTS", "return True",
        "tests/web/test_sharing.py::test_too_many_requests_are_refused_for_a_moment",
    ),
    (
        "links to files elsewhere", "photos/scan.py",
        "elif entry.is_file(follow_symlinks=False):", "elif entry.is_file():",
        "tests/photos/test_scan.py::test_links_are_not_followed",
    ),
    (
        "links to folders elsewhere", "photos/scan.py",
        "if entry.is_dir(follow_symlinks=False):", "if entry.is_dir():",
        "tests/photos/test_scan.py::test_links_are_not_followed",
    ),
    (
        "links that took a file's place", "photos/scan.py",
        "os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK", "os.O_RDONLY | os.O_NONBLOCK",
        "tests/photos/test_scan.py::test_what_took_a_files_place_is_not_opened",
    ),
    (
        "links that took a folder's place", "photos/scan.py",
        "if between.is_symlink():", "if False:",
        "tests/photos/test_scan.py::test_what_took_a_files_place_is_not_opened",
    ),
    (
        "picture bombs", "photos/decode.py",
        "if width * height > MAX_PIXELS:", "if False:",
        "tests/photos/test_decode.py::test_a_picture_bomb_is_refused_before_it_is_unpacked",
    ),
    (
        "memory of a worker", "work/analyse.py",
        "resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_LIMIT, _MEMORY_LIMIT))", "pass",
        "tests/work/test_limits.py::test_a_worker_does_not_get_all_memory",
    ),
    (
        "time of a worker", "work/feeding.py",
        "if any(now - since > _LONGEST_JOB_S for _, since in running.values()):", "if False:",
        "tests/work/test_limits.py::test_a_file_that_never_ends_is_given_up",
    ),
    (
        "XML with entities", "photos/xmp.py",
        "parser.StartDoctypeDeclHandler = refuse\n    parser.EntityDeclHandler = refuse", "pass",
        "tests/photos/test_xmp.py::test_broken_and_hostile_sidecars_are_refused_not_emptied",
    ),
    (
        "XML that names other files", "photos/xmp.py",
        "parser.StartDoctypeDeclHandler = refuse", "pass",
        "tests/photos/test_xmp.py::test_broken_and_hostile_sidecars_are_refused_not_emptied",
    ),
    (
        "slashes in names from outside", "core/templates.py",
        'name = _UNLAWFUL.sub("-", unicodedata.normalize("NFC", text))', "name = text",
        "tests/core/test_templates.py::test_no_value_leads_out_of_the_folder",
    ),
    (
        "names of dots alone", "core/templates.py",
        '.strip(" .")\n    while', '.strip()\n    while',
        "tests/core/test_templates.py::test_names_are_lawful_everywhere",
    ),
    (
        "names that differ by case", "core/names.py",
        'unicodedata.normalize("NFC", name).casefold()', 'unicodedata.normalize("NFC", name)',
        "tests/core/test_names.py",
    ),
    (
        "names that differ by Unicode form", "core/names.py",
        'return unicodedata.normalize("NFC", unicodedata.normalize("NFC", name).casefold())',
        "return name.casefold()",
        "tests/core/test_names.py",
    ),
    (
        "files that are there", "photos/originals.py",
        '    try:\n        os.link(part, target)\n', '    try:\n        os.replace(part, target)\n',
        "tests/photos/test_originals.py::test_nothing_is_written_over",
    ),
    (
        "copies that the disk spoilt", "photos/originals.py",
        "if file_hash(self._path) != digest:", "if False:",
        "tests/photos/test_originals.py::test_a_copy_that_the_disk_spoilt_does_not_count",
    ),
    (
        "deliveries into the shoot", "work/delivery_plan.py",
        "if target.is_relative_to(Path(folder.path).resolve()):", "if False:",
        "tests/work/test_deliver.py::test_targets_that_cannot_be",
    ),
]  # fmt: skip


def laid_out(folder: Path, module: str, changed: str) -> Path:
    """The package as links, but for one module; the folder to import it from."""
    package = folder / "src" / "winnow"
    here, there = WINNOW, package
    for part in module.split("/"):
        there.mkdir(parents=True)
        for entry in here.iterdir():
            if entry.name not in (part, "__pycache__"):
                (there / entry.name).symlink_to(entry)
        here, there = here / part, there / part
    there.write_text(changed)
    return folder / "src"


@pytest.mark.parametrize(
    ("module", "guard", "without", "test"),
    [one[1:] for one in GUARDS],
    ids=[one[0] for one in GUARDS],
)
def test_without_it_a_test_fails(
    tmp_path: Path, module: str, guard: str, without: str, test: str
) -> None:
    source = (WINNOW / module).read_text()
    assert guard in source, f"{module} has another guard now"
    path = laid_out(tmp_path, module, source.replace(guard, without))
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", test],
        cwd=ROOT,
        env={**os.environ, "PYTHONPATH": str(path)},
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert done.returncode == 1, done.stdout[-2000:]
    assert " failed" in done.stdout or "FAILED" in done.stdout
