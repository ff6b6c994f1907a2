"""Copies are verified, nothing is written over, nothing half done stays."""

import contextlib
import errno
import os
from pathlib import Path

import pytest
from blake3 import blake3

from winnow.photos import copies, entries, originals
from winnow.photos.copies import copy_verified, remove_parts
from winnow.photos.refusals import CopyError
from winnow.photos.whole import write_whole


@pytest.fixture
def source(tmp_path: Path) -> Path:
    path = tmp_path / "original.jpg"
    path.write_bytes(os.urandom(300_000))
    os.utime(path, ns=(1, 1_700_000_000_123_456_789))
    return path


def leftovers(folder: Path) -> list[Path]:
    return list(folder.glob(".winnow*"))


def test_a_copy_is_equal_and_keeps_its_time(source: Path, tmp_path: Path) -> None:
    seen: list[int] = []
    digest = copy_verified(source, tmp_path / "copy.jpg", seen.append)
    copy = tmp_path / "copy.jpg"
    assert copy.read_bytes() == source.read_bytes()
    assert digest == blake3(source.read_bytes()).hexdigest()
    assert copy.stat().st_mtime_ns == source.stat().st_mtime_ns
    assert sum(seen) == 300_000
    assert not leftovers(tmp_path)


# How a file gets its name: renamed without replacing, by a link, or on disks that know neither.
WAYS = ("rename", "link", "neither")


@pytest.mark.parametrize("way", WAYS)
def test_nothing_is_written_over(
    source: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, way: str
) -> None:
    only_by(way, monkeypatch)
    target = tmp_path / "copy.jpg"
    target.write_bytes(b"precious")
    with pytest.raises(CopyError, match="already"):
        copy_verified(source, target)
    assert target.read_bytes() == b"precious"
    assert not leftovers(tmp_path)


def only_by(way: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Let names be given as on a system, or a disk, that knows less."""

    def link(*_: object, **__: object) -> None:
        raise OSError(errno.EPERM, "no links on this disk")

    if way != "rename":
        monkeypatch.setattr(entries, "_renameat2", lambda: None)
    if way == "neither":
        monkeypatch.setattr(os, "link", link)


@pytest.mark.parametrize("way", WAYS)
def test_a_file_gets_its_name_and_another_one_on_every_disk(
    source: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, way: str
) -> None:
    only_by(way, monkeypatch)
    copy_verified(source, tmp_path / "copy.jpg")
    assert (tmp_path / "copy.jpg").read_bytes() == source.read_bytes()
    originals.move_new(tmp_path / "copy.jpg", tmp_path / "folder" / "moved.jpg")
    assert (tmp_path / "folder" / "moved.jpg").read_bytes() == source.read_bytes()
    assert not (tmp_path / "copy.jpg").exists()
    with pytest.raises(CopyError, match="already"):
        originals.move_new(source, tmp_path / "folder" / "moved.jpg")
    assert source.exists()


@pytest.mark.parametrize("way", WAYS)
def test_a_kill_leaves_no_name_without_content(
    source: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, way: str
) -> None:
    only_by(way, monkeypatch)

    def killed(*_: object, **__: object) -> None:
        raise KeyboardInterrupt

    for name in ("rename", "replace"):
        monkeypatch.setattr(os, name, killed)
    with contextlib.suppress(KeyboardInterrupt):
        copy_verified(source, tmp_path / "copy.jpg")
    copy = tmp_path / "copy.jpg"
    assert not copy.exists() or copy.read_bytes() == source.read_bytes()


def test_what_outlives_the_removal_of_another_file(tmp_path: Path) -> None:
    one, link, twin = tmp_path / "one", tmp_path / "link", tmp_path / "twin"
    one.write_bytes(b"x")
    link.symlink_to(one)
    os.link(one, twin)
    (tmp_path / "way").symlink_to(tmp_path)
    assert originals.outlives(twin, one)
    assert not originals.outlives(link, one)
    assert not originals.outlives(tmp_path / "none", one)
    assert not originals.outlives(tmp_path / "way" / "one", one)
    twin.unlink()
    assert not originals.outlives(tmp_path / "way" / "one", one)


def test_a_copy_that_the_disk_spoilt_does_not_count(
    source: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(copies, "hash_of", lambda *_: "something else")
    with pytest.raises(CopyError, match="differs"):
        copy_verified(source, tmp_path / "copy.jpg")
    assert not (tmp_path / "copy.jpg").exists()
    assert not leftovers(tmp_path)


def test_a_full_disk_is_said_in_words(
    source: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(_: int) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(CopyError, match=r"disk is full\. Free some space"):
        copy_verified(source, tmp_path / "copy.jpg")
    assert not (tmp_path / "copy.jpg").exists()
    assert not leftovers(tmp_path)


def test_a_missing_original(tmp_path: Path) -> None:
    with pytest.raises(CopyError, match="no longer there"):
        copy_verified(tmp_path / "gone.jpg", tmp_path / "copy.jpg")


def test_sidecars_are_replaced_only_when_they_are_what_was_read(tmp_path: Path) -> None:
    path = tmp_path / "a.xmp"
    write_whole(path, b"one", None)
    write_whole(path, b"two", b"one")
    assert path.read_bytes() == b"two"
    path.chmod(0o444)
    with pytest.raises(CopyError, match="write-protected"):
        write_whole(path, b"three", b"two")
    path.chmod(0o640)
    os.utime(path, (1, 1))
    with contextlib.suppress(OSError):  # not every file system has them
        os.setxattr(path, "user.rated", b"by hand")
    kept = {name: os.getxattr(path, name) for name in os.listxattr(path)}
    write_whole(path, b"new", b"two")
    assert {name: os.getxattr(path, name) for name in os.listxattr(path)} == kept
    assert path.stat().st_mode & 0o777 == 0o640
    assert path.stat().st_mtime > 1
    write_whole(path, b"two", b"new")
    assert path.read_bytes() == b"two"
    with pytest.raises(CopyError, match="another program"):
        write_whole(path, b"three", b"one")
    with pytest.raises(CopyError, match="already"):
        write_whole(path, b"three", None)
    assert path.read_bytes() == b"two"
    assert not leftovers(tmp_path)


def test_what_a_killed_copy_left_is_removed(tmp_path: Path) -> None:
    (tmp_path / f"{copies.PART_PREFIX}abc").write_bytes(b"half")
    (tmp_path / "mine.jpg").write_bytes(b"whole")
    assert remove_parts(tmp_path) == 1
    assert [p.name for p in tmp_path.iterdir()] == ["mine.jpg"]
