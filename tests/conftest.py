"""A running studio on temporary folders, with a thread in place of worker processes."""

import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from hypothesis import settings

from winnow.store import shoots
from winnow.store.db import Database
from winnow.work.studio import Places, Studio
from winnow.work.workers import Workers

# How long an example takes says something of the machine only.
settings.register_profile("winnow", deadline=None)
settings.load_profile("winnow")


@pytest.fixture
def db(tmp_path: Path) -> Iterator[Database]:
    database = Database(tmp_path / "data" / "winnow.db")
    yield database
    database.close()


@pytest.fixture
def places(tmp_path: Path) -> Places:
    return Places(tmp_path / "data", tmp_path / "cache")


@pytest.fixture
def studio(places: Places) -> Iterator[Studio]:
    # One thread: Pillow's switch for damaged files is global, and threads would share it.
    made = Studio(places, Workers(lambda: ThreadPoolExecutor(1)))
    yield made
    made.close()


def until(condition: Callable[[], object], seconds: float = 90) -> None:
    """Wait until a condition holds."""
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end, "waited in vain"
        time.sleep(0.01)


def indexed(studio: Studio, *folders: Path, again: bool = False) -> int:
    """Index folders to the end, and return their shoot."""
    paths = [str(folder) for folder in folders]
    shoot = shoots.find_by_folders(studio.db, paths) or shoots.make(studio.db, "Test", paths)
    studio.indexer.start(shoot, again=again)
    until(lambda: not studio.indexer.status(shoot).running)
    return shoot
