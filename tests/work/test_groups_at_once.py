"""Groups stand from the first look at the files, by the cameras' own small pictures, and stay."""

import io
import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image

from tests.conftest import until
from tests.pictures import NOON, scene, write_jpeg
from winnow.store import frames, shoots
from winnow.work.runtime import Runtime
from winnow.work.workers import tasks

Groups = Callable[[], list[int]]


def small(picture: Image.Image) -> bytes:
    """As cameras make them: 4 to 3 with bars above and below."""
    bars = Image.new("RGB", (160, 120))
    bars.paste(picture.resize((160, 107)), (0, 6))
    out = io.BytesIO()
    bars.save(out, "JPEG", quality=70)
    return out.getvalue()


@pytest.fixture
def looked_at_first(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> Callable[[], tuple[list[int], list[int]]]:
    """The groups of the folder before any frame is analysed, and when all are."""
    monkeypatch.setattr("winnow.work.index.indexer.face_finder.available", lambda: False)
    go_on = threading.Event()
    look = tasks.look

    def held(job: tasks.Job) -> object:
        go_on.wait(60)
        return look(job)

    monkeypatch.setattr(tasks, "look", held)

    def opened() -> tuple[list[int], list[int]]:
        shoot = shoots.make(runtime.db, "Test", [str(tmp_path / "shoot")])

        def groups() -> list[int]:
            return [row.group for row in frames.rows(runtime.db, shoot)]

        runtime.indexer.start(shoot)
        until(lambda: runtime.indexer.status(shoot).stage == "pictures")
        first = groups()
        go_on.set()
        until(lambda: not runtime.indexer.status(shoot).running)
        return first, groups()

    return opened


def write(folder: Path, seeds: list[tuple[int, Image.Image]]) -> list[Path]:
    """Frames four seconds apart: of a scene, with this small picture."""
    return [
        write_jpeg(
            folder / f"QH_{n:04d}.jpg", seed, NOON + 4 * n, camera="Quillon H2",
            thumbnail=small(picture), width=480, height=320,
        )
        for n, (seed, picture) in enumerate(seeds, 1)
    ]  # fmt: skip


def test_groups_are_there_before_anything_is_analysed(
    looked_at_first: Callable[[], tuple[list[int], list[int]]], tmp_path: Path
) -> None:
    write(tmp_path / "shoot", [(seed, scene(seed)) for seed in (1, 1, 1, 2, 2, 3)])
    first, last = looked_at_first()
    assert first == last == [0, 0, 0, 1, 1, 2]


def test_a_small_picture_of_something_else_does_not_count(
    looked_at_first: Callable[[], tuple[list[int], list[int]]], tmp_path: Path
) -> None:
    write(tmp_path / "shoot", [(seed, scene(9)) for seed in (1, 1, 1, 2, 2)])
    first, last = looked_at_first()
    assert first == [0] * 5
    assert last == [0, 0, 0, 1, 1]


def test_an_empty_small_picture_says_nothing(
    looked_at_first: Callable[[], tuple[list[int], list[int]]], tmp_path: Path
) -> None:
    write(tmp_path / "shoot", [(seed, Image.new("RGB", (480, 320))) for seed in (1, 1, 2)])
    first, last = looked_at_first()
    # Four seconds apart, and nothing to compare yet.
    assert first == [0, 1, 2]
    assert last == [0, 0, 1]


def test_a_damaged_frame_stays_in_its_moment(
    looked_at_first: Callable[[], tuple[list[int], list[int]]], tmp_path: Path
) -> None:
    paths = write(tmp_path / "shoot", [(seed, scene(seed)) for seed in (1, 1, 1, 2)])
    data = paths[1].read_bytes()
    paths[1].write_bytes(data[: len(data) * 2 // 5])
    first, last = looked_at_first()
    assert first == last == [0, 0, 0, 1]
