"""The picture cache: whole or not at all, and never larger than allowed for long."""

import os
from pathlib import Path

from winnow.photos.cache import PictureCache


def filled(folder: Path) -> PictureCache:
    """Four frames; frame 0 was used longest ago. A preview takes 900 bytes, a thumbnail 100."""
    cache = PictureCache(folder)
    for n in range(4):
        for kind, size in (("preview", 900), ("thumbnail", 100)):
            cache.write(f"{n}{n}key", kind, bytes(size))  # type: ignore[arg-type]
            os.utime(cache.path(f"{n}{n}key", kind), (1000 + n, 1000 + n))  # type: ignore[arg-type]
    return cache


def test_size(tmp_path: Path) -> None:
    assert filled(tmp_path).size() == 4000
    assert PictureCache(tmp_path / "new").size() == 0


def test_what_was_used_longest_ago_goes_first(tmp_path: Path) -> None:
    cache = filled(tmp_path)
    assert cache.read("00key", "preview")  # used now
    assert cache.trim(3000) == 1800
    assert cache.read("00key", "preview")
    assert cache.read("11key", "preview") is None
    assert cache.read("22key", "preview") is None
    assert cache.read("33key", "preview")
    assert all(cache.read(f"{n}{n}key", "thumbnail") for n in range(4))


def test_nothing_goes_that_fits(tmp_path: Path) -> None:
    cache = filled(tmp_path)
    assert cache.trim(4000) == 0
    assert cache.size() == 4000


def test_emptied(tmp_path: Path) -> None:
    cache = filled(tmp_path)
    assert cache.trim(0) == 4000
    assert cache.size() == 0


def test_full_size_pictures_go_before_thumbnails(tmp_path: Path) -> None:
    cache = filled(tmp_path)
    cache.write("44key", "close", bytes(5000))  # the newest of all
    cache.trim(1000)
    assert cache.read("44key", "close") is None
    assert all(cache.read(f"{n}{n}key", "thumbnail") for n in range(4))
