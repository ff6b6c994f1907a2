"""What is in a folder."""

import os
from pathlib import Path

import pytest

from winnow.photos.entries import read_file
from winnow.photos.scan import FolderError, completions, scan


def test_every_file_below_the_folder_is_found_but_hidden_ones(tmp_path: Path) -> None:
    for name in [
        "a.jpg",
        "b/c.NEF",
        "b/c.xmp",
        "b/d/e.heic",
        "notes.txt",
        "b/x.txt",
        "README",
        ".hidden.jpg",
    ]:
        path = tmp_path / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(b"1234")
    found = scan(tmp_path)
    assert sorted(file.path for file in found.files) == [
        "README",
        "a.jpg",
        "b/c.NEF",
        "b/c.xmp",
        "b/d/e.heic",
        "b/x.txt",
        "notes.txt",
    ]
    assert found.files[0].size == 4


def test_names_of_every_script_and_none(tmp_path: Path) -> None:
    names = ["Ünï.jpg", "灯 籠.jpg", "🏮🏮.jpg", "مصباح.jpg", "new\nline.jpg"]
    for name in names:
        (tmp_path / name).write_bytes(b"")
    raw = os.path.join(os.fsencode(tmp_path), b"latin\xe9.jpg")
    Path(os.fsdecode(raw)).write_bytes(b"")
    found = {os.fsencode(file.path) for file in scan(tmp_path).files}
    assert found == {os.fsencode(name) for name in names} | {b"latin\xe9.jpg"}


def test_links_are_not_followed(tmp_path: Path) -> None:
    outside = tmp_path / "outside"
    outside.mkdir()
    (outside / "secret.jpg").write_bytes(b"")
    inside = tmp_path / "inside"
    inside.mkdir()
    (inside / "folder").symlink_to(outside)
    (inside / "file.jpg").symlink_to(outside / "secret.jpg")
    (inside / "round").symlink_to(inside)
    assert scan(inside).files == []


def test_what_took_a_files_place_is_not_opened(tmp_path: Path) -> None:
    inside, outside = tmp_path / "inside", tmp_path / "outside"
    for folder in (inside / "day", outside):
        folder.mkdir(parents=True)
        (folder / "a.jpg").write_bytes(folder.name.encode())
    picture = inside / "day" / "a.jpg"
    assert read_file(picture, inside) == b"day"
    picture.unlink()
    picture.symlink_to(outside / "a.jpg")
    with pytest.raises(OSError, match="a link leads elsewhere"):
        read_file(picture, inside)
    picture.unlink()
    os.mkfifo(picture)
    with pytest.raises(OSError, match="no plain file"):
        read_file(picture, inside)
    picture.unlink()
    picture.parent.rmdir()
    picture.parent.symlink_to(outside)
    with pytest.raises(OSError, match="a link leads elsewhere"):
        read_file(picture, inside)


def test_the_opened_folder_itself_may_be_a_link(tmp_path: Path) -> None:
    (tmp_path / "disk").mkdir()
    (tmp_path / "disk" / "a.jpg").write_bytes(b"x")
    (tmp_path / "photos").symlink_to(tmp_path / "disk")
    assert read_file(tmp_path / "photos" / "a.jpg", tmp_path / "photos") == b"x"


def test_a_folder_that_cannot_be_used_says_why(tmp_path: Path) -> None:
    with pytest.raises(FolderError, match="no folder"):
        scan(tmp_path / "nowhere")
    (tmp_path / "file").write_bytes(b"")
    with pytest.raises(FolderError, match="a file, not a folder"):
        scan(tmp_path / "file")


def test_no_permission(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    # The tests may run as root, whom permissions don't stop.
    monkeypatch.setattr(os, "access", lambda *_: False)
    with pytest.raises(FolderError, match="no permission"):
        scan(tmp_path)


def test_an_unreadable_part_is_named_and_the_rest_found(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "closed").mkdir()
    (tmp_path / "a.jpg").write_bytes(b"")
    real = os.scandir

    def refusing(path: Path) -> object:
        if Path(path).name == "closed":
            raise PermissionError
        return real(path)

    monkeypatch.setattr(os, "scandir", refusing)
    found = scan(tmp_path)
    assert (found.unreadable, len(found.files)) == (["closed"], 1)


def test_stopping(tmp_path: Path) -> None:
    (tmp_path / "a.jpg").write_bytes(b"")
    assert scan(tmp_path, lambda: True).files == []


def test_completions(tmp_path: Path) -> None:
    for name in ["Quay", "quarry", "sea", ".hidden"]:
        (tmp_path / name).mkdir()
    (tmp_path / "quiet.txt").write_bytes(b"")
    assert completions(f"{tmp_path}/qu") == [f"{tmp_path}/quarry", f"{tmp_path}/Quay"]
    assert completions(f"{tmp_path}/.") == [f"{tmp_path}/.hidden"]
    assert completions("relative") == []
    assert completions(f"{tmp_path}/nowhere/x") == []
