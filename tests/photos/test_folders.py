"""Folders to choose from."""

from __future__ import annotations

from pathlib import Path

import pytest

from winnow.photos import folders, scan


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("HOME", str(tmp_path))
    monkeypatch.delenv("XDG_CONFIG_HOME", raising=False)
    return tmp_path


def filled(folder: Path, *names: str) -> Path:
    folder.mkdir(parents=True, exist_ok=True)
    for name in names:
        (folder / name).write_bytes(b"x" * len(name))
    return folder


def test_what_lies_in_a_folder(tmp_path: Path) -> None:
    filled(tmp_path, "cover.jpg", "notes.txt", ".hidden.jpg")
    filled(tmp_path / "day 10", "QH_1.JPG", "QH_2.jpg", "QH_2.xmp")
    filled(tmp_path / "day 2" / "raw")
    filled(tmp_path / ".cache", "a.jpg")
    seen = folders.within(tmp_path)
    assert (seen.path, seen.parent, seen.pictures) == (str(tmp_path), str(tmp_path.parent), 1)
    assert [(each.name, each.pictures, each.folders) for each in seen.folders] == [
        ("day 2", 0, True),
        ("day 10", 2, False),
    ]
    assert folders.within(Path("/")).parent is None


def test_a_slow_disk_is_listed_without_counts(tmp_path: Path) -> None:
    for name in ("a", "b", "c"):
        filled(tmp_path / name, "1.jpg")
    ticks = iter([0.0, 0.1, 0.2, 0.5])
    seen = folders.within(tmp_path, clock=lambda: next(ticks))
    assert [each.pictures for each in seen.folders] == [1, 1, None]


def test_what_cannot_be_listed_is_told(tmp_path: Path) -> None:
    with pytest.raises(scan.FolderError, match="no folder"):
        folders.within(tmp_path / "nothing")


def test_where_the_system_keeps_pictures(home: Path) -> None:
    assert folders.pictures() == home / "Pictures"
    filled(home / ".config")
    (home / ".config" / "user-dirs.dirs").write_text(
        '# made by the desktop\nXDG_MUSIC_DIR="$HOME/Music"\nXDG_PICTURES_DIR="$HOME/Bilder"\n'
    )
    assert folders.pictures() == home / "Bilder"


def test_the_persons_own_folder_is_more_than_a_shoot(home: Path) -> None:
    assert folders.is_wide(home)
    assert folders.is_wide(home.parent)
    assert folders.is_wide(Path("/"))
    assert not folders.is_wide(filled(home / "fair"))
    assert folders.typed("~/fair/") == home / "fair"


def test_a_dropped_folder_is_found_by_what_is_in_it(tmp_path: Path) -> None:
    first = filled(tmp_path / "2026" / "fair", "QH_1.jpg", "QH_22.jpg")
    filled(tmp_path / "2025" / "fair", "QH_1.jpg")
    filled(tmp_path / ".trash" / "fair", "QH_1.jpg", "QH_22.jpg")
    files = {"QH_1.jpg": 8, "QH_22.jpg": 9}
    assert folders.find("fair", files, [tmp_path]) == [str(first)]
    assert len(folders.find("fair", {"QH_1.jpg": 8}, [tmp_path, tmp_path / "2026"])) == 2
    # Files without a folder: the one that holds them.
    assert folders.find("", files, [tmp_path]) == [str(first)]
    assert folders.find("fair", {"QH_1.jpg": 9}, [tmp_path]) == []
    assert folders.find("fair", {"../fair/QH_1.jpg\0": 8}, [tmp_path]) == []


def test_looking_for_a_dropped_folder_ends(tmp_path: Path) -> None:
    filled(tmp_path / "a" / "b" / "fair")
    ticks = iter([0.0, 1.0, 99.0])
    assert folders.find("fair", {}, [tmp_path], clock=lambda: next(ticks)) == []
