"""A running runtime on temporary folders, with a thread in place of worker processes."""

import os
import re
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from hypothesis import settings

from tests import soak
from tests.patience import patiently
from winnow.store import shoots
from winnow.store.db import Database
from winnow.work.runtime import Places, Runtime
from winnow.work.workers.pool import Workers

# How long an example takes says something of the machine only; how many are made is as with long
# loops. `make test` makes the same ones each time, so that what passed passes again; `make soak`
# makes new ones.
settings.register_profile(
    "winnow", deadline=None, max_examples=soak.rounds(30), derandomize=soak.TIMES == 1
)
settings.load_profile("winnow")

# Who tests on a desktop is not shown a page by each Winnow that a test starts.
os.environ["BROWSER"] = "true"


def by_number(url: str) -> str:
    """An address that Winnow printed, by the number of this computer: browsers know names below
    localhost, not every system does."""
    return re.sub(r"^http://[^/:]+", "http://127.0.0.1", url)


@pytest.fixture(scope="session")
def new_database(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    """A database that nothing is in yet: making its tables takes longer than most tests."""
    path = tmp_path_factory.mktemp("new") / "winnow.db"
    Database(path).close()
    return path.read_bytes()


@pytest.fixture
def db(tmp_path: Path, new_database: bytes) -> Iterator[Database]:
    path = tmp_path / "data" / "winnow.db"
    path.parent.mkdir()
    path.write_bytes(new_database)
    database = Database(path)
    yield database
    database.close()


@pytest.fixture
def places(tmp_path: Path) -> Places:
    return Places(tmp_path / "data", tmp_path / "cache")


@pytest.fixture
def runtime(places: Places, new_database: bytes) -> Iterator[Runtime]:
    database = places.data / "winnow.db"
    if not database.exists():
        places.data.mkdir(parents=True, exist_ok=True)
        database.write_bytes(new_database)
    # One thread: Pillow's switch for damaged files is global, and threads would share it.
    made = Runtime(places, Workers(lambda: ThreadPoolExecutor(1)))
    yield made
    made.close()


def until(condition: Callable[[], object], seconds: float = 600) -> None:
    """Wait until a condition holds: long enough for a whole shoot on a busy machine."""
    for _ in patiently(seconds):
        if condition():
            return
        time.sleep(0.01)
    raise AssertionError("waited in vain")


def indexed(runtime: Runtime, *folders: Path, again: bool = False) -> int:
    """Index folders to the end, and return their shoot."""
    paths = [str(folder) for folder in folders]
    shoot = shoots.find_by_folders(runtime.db, paths) or shoots.make(runtime.db, "Test", paths)
    runtime.indexer.start(shoot, again=again)
    until(lambda: not runtime.indexer.status(shoot).running)
    return shoot
