"""The demo shoot: real files with plausible facts, made once, the same every time."""

from pathlib import Path

import pytest

from winnow.demo import shoot
from winnow.photos.metadata import read_facts


@pytest.fixture
def short(monkeypatch: pytest.MonkeyPatch) -> None:
    """Only the frames of the last lone group: a drawn frame takes a second."""
    lone = next(group for group in shoot._groups() if len(group.takes) == 1)
    monkeypatch.setattr(shoot, "_groups", lambda: [lone])


@pytest.mark.usefixtures("short")
def test_frames_appear_whole_and_only_once(tmp_path: Path) -> None:
    for maker in shoot.make_behind(tmp_path):
        maker.join(60)
    (frame,) = tmp_path.glob("*.jpg")
    facts = read_facts(frame.read_bytes(), with_thumbnail=True)
    assert (facts.width, facts.height) == (2400, 1600)
    assert facts.camera == "Quillon H2"
    assert facts.thumbnail
    assert shoot.make_behind(tmp_path) == []
    before = frame.read_bytes()
    frame.unlink()
    for maker in shoot.make_behind(tmp_path):
        maker.join(60)
    assert frame.read_bytes() == before


def test_the_evening_is_in_order_and_its_numbers_go_over_the_turn(tmp_path: Path) -> None:
    groups = shoot._groups()
    clocks = [group.clock for group in groups]
    assert clocks == sorted(clocks)
    assert sum(len(group.takes) for group in groups) == 60
    assert shoot._path(tmp_path, 9998, 1).name == "QH2_9999.jpg"
    assert shoot._path(tmp_path, 9998, 2).name == "QH2_0001.jpg"
