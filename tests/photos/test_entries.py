"""A link that takes the place of a folder while a step goes on, before any call to the system that
the step makes: nothing of where it leads is read, changed or removed."""

import contextlib
import sys
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.faults.inject import Fault
from winnow.photos import copies, entries, originals, whole
from winnow.photos.refusals import CopyError

SECRET = b"not yours"
Step = Callable[[Path, Path, Path], object]


STEPS: dict[str, Step] = {
    "copy": lambda root, day, out: copies.copy_verified(day / "a.jpg", out / "a.jpg", roots=[root]),
    "link": lambda root, day, out: originals.link_new(day / "a.jpg", out / "a.jpg", [root]),
    "move": lambda root, day, out: originals.move_verified(day / "a.jpg", out / "a.jpg", [root]),
    "write": lambda root, day, out: whole.write_whole(
        day / "a.xmp", b"new marks", b"marks", [root]
    ),
    "write anew": lambda root, day, out: whole.write_whole(
        day / "new.xmp", b"new marks", None, [root]
    ),
    "delete": lambda root, day, out: originals.remove_for_good(day / "a.jpg", [root]),
    "take back": lambda root, day, out: originals.remove_copy(
        day / "a.jpg", copies.file_hash(day / "a.jpg", [root]), [root]
    ),
    "tidy": lambda root, day, out: copies.remove_parts(day, roots=[root]),
    "make": lambda root, day, out: entries.make_folder(out / "below" / "it", [root]),
}


class Swap(Fault):
    """Puts a link in the place of a folder before a call."""

    def __init__(self, at: int, folder: Path, elsewhere: Path) -> None:
        super().__init__(at, reads=True)
        self._folder, self._elsewhere = folder, elsewhere

    def strike(self, module: str) -> None:
        sys.setprofile(None)
        self._folder.rename(self._folder.with_name("was"))
        self._folder.symlink_to(self._elsewhere)


def look(folder: Path) -> dict[str, bytes]:
    return {
        str(path.relative_to(folder)): path.read_bytes() if path.is_file() else b""
        for path in folder.rglob("*")
    }


@pytest.mark.parametrize("which", ["day", "out"])
@pytest.mark.parametrize("step", STEPS)
def test_whenever_a_link_takes_a_folders_place(step: str, which: str, tmp_path: Path) -> None:
    seen = at = 0
    while at <= seen:
        root, elsewhere = tmp_path / f"{at}" / "root", tmp_path / f"{at}" / "elsewhere"
        for folder, content in ((root / "day", b"a picture"), (elsewhere, SECRET)):
            folder.mkdir(parents=True)
            for name in ("a.jpg", f"{copies.PART_PREFIX}1"):
                (folder / name).write_bytes(content)
            (folder / "a.xmp").write_bytes(b"marks")
        (root / "out").mkdir()
        before = look(elsewhere)
        if which == "out":
            (elsewhere / "a.jpg").unlink()
            before = look(elsewhere)
        with Swap(at, root / which, elsewhere) as swap:
            with contextlib.suppress(CopyError, OSError):
                STEPS[step](root, root / "day", root / "out")
            seen = max(seen, swap.seen)
        assert look(elsewhere) == before, f"call {at}: {swap.hit}"
        plain = [path for path in root.rglob("*") if path.is_file() and not path.is_symlink()]
        assert all(path.read_bytes() != SECRET for path in plain), f"call {at}: {swap.hit}"
        at += 1
    assert seen >= 2
