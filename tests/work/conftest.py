"""Shoots, disks and cards that tests of handing on and bringing in begin with."""

import os
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.pictures import NOON, dng, jpeg, write_jpeg, write_shoot
from tests.ready import ready
from tests.work.saying import set_mark
from winnow.core.marks import Decision, Edit
from winnow.demo.devices import SimulatedCard
from winnow.work.deliver.card_import import BringIns
from winnow.work.runtime import Runtime


@pytest.fixture
def picked(runtime: Runtime, tmp_path: Path) -> int:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK, 4))
    set_mark(runtime, shoot, "QH_0002", Edit(Decision.PICK))
    return shoot


@pytest.fixture
def other_disk(tmp_path: Path) -> Iterator[Path]:
    """A folder on another file system than the tests' own."""
    memory = Path("/dev/shm")
    if not memory.is_dir() or memory.stat().st_dev == tmp_path.stat().st_dev:
        pytest.skip("there is no second file system here")
    with tempfile.TemporaryDirectory(dir=memory) as folder:
        yield Path(folder)


@pytest.fixture
def card(tmp_path: Path) -> Path:
    root = tmp_path / "card"
    for n in range(1, 7):
        path = write_jpeg(root / "DCIM" / "100QUILL" / f"QH2_{n:04d}.JPG", n, NOON + n)
        path.write_bytes(path.read_bytes() + os.urandom(1_500_000))
        os.utime(path, (NOON + n, NOON + n))
    (root / "DCIM" / "100QUILL" / "QH2_0006.MOV").write_bytes(os.urandom(300_000))
    (root / "MISC").mkdir()
    (root / "MISC" / "AUTPRINT.MRK").write_text("order")
    return root


@pytest.fixture
def bring_ins(runtime: Runtime) -> Iterator[BringIns]:
    made = BringIns(runtime.db, runtime.events, runtime.indexer, SimulatedCard)
    yield made
    made.close()


@pytest.fixture
def one_by_one(runtime: Runtime) -> Iterator[BringIns]:
    """Which file is copied when something happens is known."""
    made = BringIns(runtime.db, runtime.events, runtime.indexer, SimulatedCard, at_once=1)
    yield made
    made.close()
