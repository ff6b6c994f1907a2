"""Breaks each step everywhere: run.py FOLDER KIND MOST [NAME…].

KIND: kills, errors, power, or disks. Each step is first done whole, which counts its boundaries.
Then it is begun anew once for each boundary (or for MOST of them, spread evenly; 0: all) and broken
there, Winnow is started again, what must hold is looked at, and the step is gone on with to its
end. Prints the tries of each step, and of all.
"""

from __future__ import annotations

import os
import shutil
import signal
import sqlite3
import sys
from collections.abc import Iterator
from pathlib import Path

from tests.faults.disks import KINDS, Failing
from tests.faults.disks import Disk as Kind
from tests.faults.ground import RAW_WORDS, Step, look_at_folders, started
from tests.faults.inject import ERRORS, Fault, in_child
from tests.faults.power import Disk
from tests.faults.steps import FAILING, STEPS
from winnow.store.db import Database
from winnow.store.soundness import DatabaseError
from winnow.work import failures


class Bench:
    """A step's folder, as it was when it was made ready, over and over."""

    def __init__(self, step: Step, folder: Path) -> None:
        self.step = step
        self.at = folder / "at"
        self._kept = folder / "kept"
        self.log = folder / "log"
        for place in (self.at, self._kept):
            shutil.rmtree(place, ignore_errors=True)
        self.at.mkdir(parents=True)
        self.do(lambda: step.prepare(self.at))
        shutil.copytree(self.at, self._kept)

    def anew(self) -> None:
        shutil.rmtree(self.at)
        shutil.copytree(self._kept, self.at)

    def do(self, *works: object) -> None:
        """In a child: whatever it raises is told."""
        for work in works:
            assert callable(work)
            if in_child(work, self.log):
                raise AssertionError(self.log.read_text())

    def start(self) -> None:
        started(self.at).close()

    def look(self) -> None:
        """What opening the shoot again does."""
        opened = Database(self.at / "winnow.db")
        look_at_folders(opened)
        opened.close()

    def go_on(self) -> None:
        """A start, a look at what must hold, and the step once more: now it goes through."""

        def going_on() -> None:
            self.start()
            self.step.check(self.at)
            self.again()
            self.step.through(self.at)
            self.step.check(self.at)

        self.do(going_on)

    def act(self) -> list[str]:
        """The step; what a start, or a request, says of a disk that fails at once is said of it,
        too."""
        try:
            return self.step.act(self.at)
        except DatabaseError as error:
            return [str(error)]
        except (OSError, sqlite3.Error) as error:
            return [failures.in_words(error, self.step.name)]

    def again(self) -> None:
        """The person does it once more: nothing is in the way now."""
        said = self.step.act(self.at)
        assert said == [], f"it says {said}"

    def boundaries(self, *, reads: bool) -> int:
        """How many there are, counted in a whole run that nothing disturbs."""
        self.anew()

        def count() -> None:
            with Fault(reads=reads) as fault:
                assert self.step.act(self.at) == []
            (self.at.parent / "count").write_text(str(fault.seen))

        self.do(count, lambda: self.step.through(self.at), lambda: self.step.check(self.at))
        return int((self.at.parent / "count").read_text())


def spread(number: int, most: int) -> Iterator[int]:
    """Numbers below ``number``: all, or ``most`` of them, evenly."""
    if not most or most >= number:
        return iter(range(number))
    return (at * number // most for at in range(most))


def kills(bench: Bench, most: int) -> int:
    tries = 0
    for at in spread(bench.boundaries(reads=False), most):
        bench.anew()

        def broken(at: int = at) -> None:
            with Fault(at):
                bench.step.act(bench.at)

        status = in_child(broken, bench.log)
        assert not status or os.WTERMSIG(status) == signal.SIGKILL, bench.log.read_text()
        with telling(bench, f"killed at {at}"):
            bench.go_on()
        tries += 1
    return tries


def errors(bench: Bench, most: int) -> int:
    tries = 0
    for at in spread(bench.boundaries(reads=True), most):
        # Of few boundaries each has another error, all of them have every one.
        for number in ERRORS if not most else [ERRORS[at % len(ERRORS)]]:
            error(bench, at, number)
            tries += 1
    return tries


def error(bench: Bench, at: int, number: int) -> None:
    """One call answers with an error of the disk, once; then nothing is in the way any more."""
    bench.anew()
    hit = bench.at.parent / "hit"

    def broken() -> None:
        with Fault(at, number, reads=True) as fault:
            said = bench.act()
        hit.write_text(f"{fault.hit}: {said}")
        for words in said:
            assert words.strip(), "it says nothing"
            assert not any(raw in words for raw in RAW_WORDS), words
        if not said:
            # What failed without a word did not matter, or the next look at the folder mends it.
            bench.look()
            bench.step.through(bench.at)
        bench.step.check(bench.at)
        # Without a restart: the person does it again.
        bench.again()
        bench.look()
        bench.step.through(bench.at)

    hit.write_text("?")
    with telling(bench, f"error {number} at {at}", hit):
        bench.do(broken)
        bench.go_on()


def power(bench: Bench, most: int) -> int:
    """The power goes: what was not synced is lost, or not, as the disk happens to have written
    it."""
    tries = 0
    for at in spread(bench.boundaries(reads=False), most):
        bench.anew()
        disk = Disk(bench.at, bench.at.parent / "unsynced", seed=at)

        def broken(at: int = at, disk: Disk = disk) -> None:
            with disk.watched(), Fault(at):
                bench.step.act(bench.at)

        status = in_child(broken, bench.log)
        assert not status or os.WTERMSIG(status) == signal.SIGKILL, bench.log.read_text()
        lost = disk.lose()
        with telling(bench, f"power lost at {at}; {lost}"):
            bench.go_on()
        tries += 1
    return tries


def disks(bench: Bench, most: int) -> int:
    """On disks of each kind, as long as it goes on; then the disk is well again."""
    tries = 0
    for place in FAILING.get(bench.step.name, ("shoot",)):
        # Of few kinds other steps have others.
        first = STEPS.index(bench.step) * most
        for at in range(most or len(KINDS)):
            kind = KINDS[(first + at) % len(KINDS)]
            bench.anew()
            said = bench.at.parent / "said"
            said.write_text("?")

            def broken(kind: Kind = kind, place: str = place, said: Path = said) -> None:
                Failing(kind, [bench.at / place]).begin()
                words = bench.act()
                with os.fdopen(os.open(said, os.O_WRONLY | os.O_TRUNC), "w") as file:
                    file.write(str(words))
                for word in words:
                    assert word.strip(), "it says nothing"
                    assert not any(raw in word for raw in RAW_WORDS), word
                asked_too_much = bench.step.name == "deliver, link" and "link" in kind.refuses
                assert asked_too_much or not (words and kind.harmless), "it does not go there"

            with telling(bench, f"“{place}” on a disk {kind.name}", said):
                bench.do(broken)
                if said.read_text() == "[]":
                    bench.do(bench.look, lambda: bench.step.through(bench.at))
                bench.do(lambda: bench.step.check(bench.at))
                bench.go_on()
            tries += 1
    return tries


class telling:
    """Say where it was broken, in front of what went wrong."""

    def __init__(self, bench: Bench, words: str, more: Path | None = None) -> None:
        self.words, self.bench, self.more = words, bench, more

    def __enter__(self) -> None: ...

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if isinstance(error, AssertionError):
            more = self.more.read_text() if self.more else ""
            raise AssertionError(f"{self.bench.step.name}, {self.words} {more}\n{error}") from None


def main(folder: Path, kind: str, most: int, *only: str) -> None:
    total = 0
    failed = []
    keep_going = bool(os.environ.get("KEEP_GOING"))
    for step in STEPS:
        if only and step.name not in only:
            continue
        tries = 0
        bench = Bench(step, folder)
        try:
            tries = {"kills": kills, "errors": errors, "power": power, "disks": disks}[kind](
                bench, most
            )
        except AssertionError as error:
            if not keep_going:
                raise
            failed.append(step.name)
            print(str(error)[-2500:], file=sys.stderr)
        print(f"{step.name}: {tries}")
        total += tries
    print(total)


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2], int(sys.argv[3]), *sys.argv[4:])
