from __future__ import annotations

import numpy as np

from winnow.core.deliver.card_import import CardFile
from winnow.core.deliver.card_look import Looks, frames_on_card
from winnow.core.measure import likeness

DAY = 86_400.0


def file(path: str, taken_at: float, size: int = 10) -> CardFile:
    return CardFile(f"DCIM/100Q/{path}", size, 0, taken_at, "Quillon H2", path)


def looks(seed: int) -> Looks:
    noise = np.random.default_rng(seed).integers(0, 255, (12, 16, 3), np.uint8)
    return Looks(likeness.signature(np.kron(noise, np.ones((10, 10, 1), np.uint8))))


def test_frames_come_with_all_their_files_in_order_of_time() -> None:
    files = [
        file("Q_2.CR3", 5.0),
        file("Q_2.JPG", 5.0),
        file("Q_1.JPG", 9.0),
        file("Q_9.MOV", 7.0, 500),
    ]
    found = frames_on_card(files, {}, {"DCIM/100Q/Q_2.JPG"})
    assert [frame.path.rpartition("/")[2] for frame in found] == ["Q_2.JPG", "Q_9.MOV", "Q_1.JPG"]
    assert [frame.picture for frame in found] == [True, False, True]
    assert [len(frame.files) for frame in found] == [2, 1, 1]
    assert [frame.copied for frame in found] == [1, 0, 0]
    assert [frame.size for frame in found] == [20, 500, 10]


def test_days_and_groups() -> None:
    files = [file("1.JPG", DAY - 30), file("2.JPG", DAY - 20), file("3.JPG", DAY + 20)]
    seen = {files[0].path: looks(1), files[1].path: looks(1), files[2].path: looks(2)}
    found = frames_on_card(files, seen, set())
    assert [frame.day for frame in found] == [0, 0, 1]
    assert [frame.group for frame in found] == [0, 0, 1]


def test_without_thumbnails_a_burst_is_a_group() -> None:
    files = [file("1.JPG", 0.0), file("2.JPG", 0.2), file("3.JPG", 60.0)]
    assert [frame.group for frame in frames_on_card(files, {}, set())] == [0, 0, 1]
    assert frames_on_card([], {}, set()) == []
