"""A scripted cull, killed again and again: kill_server.py FOLDER TIMES SEED.

Marks, texts, groups and undo are sent as the page does; the server, or its worker processes, are
killed with SIGKILL at random moments. What was answered must be there after the next start; what
was not may be. Prints how many kills there were, and how many requests were answered.
"""

import contextlib
import http.client
import json
import os
import random
import re
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any

from tests.patience import patiently
from tests.pictures import write_shoot

FRAMES = 24


class Server:
    """A Winnow in a process of its own, reached over one connection."""

    def __init__(self, home: Path, folder: Path) -> None:
        with (home / "log").open("a") as log:
            self.process = subprocess.Popen(
                [sys.executable, "-m", "winnow", "open", str(folder), "--port", "0"],
                stdout=subprocess.PIPE,
                stderr=log,
                text=True,
                env={
                    **os.environ,
                    "WINNOW_DATA": str(home / "data"),
                    "WINNOW_CACHE": str(home / "cache"),
                },
            )
        assert self.process.stdout
        for line in self.process.stdout:
            if found := re.search(r"http://[^/:]+:(\d+)/\S*token=(\S+)", line):
                self.port, self.token = found.groups()
                break
        else:
            raise AssertionError((home / "log").read_text()[-3000:])
        self.connection = http.client.HTTPConnection("127.0.0.1", int(self.port), timeout=60)

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        headers = {"authorization": f"Bearer {self.token}", "content-type": "application/json"}
        data = json.dumps(body) if body is not None else None
        self.connection.request(method, path, data, headers)
        answer = self.connection.getresponse()
        content = answer.read()
        assert answer.status < 500, (method, path, answer.status, content[:300])
        return json.loads(content) if content else None

    def workers(self) -> list[int]:
        children = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text()
        return [int(child) for child in children.split()]

    def end(self, how: int) -> None:
        self.process.send_signal(how)
        self.process.wait(30)
        self.connection.close()
        assert self.process.stdout
        self.process.stdout.close()


def work(
    server: Server, ids: list[int], known: dict[int, tuple[str, int]], rng: random.Random
) -> int:
    """Mark until the server is killed, in the middle of whatever it does.

    ``known``: the mark of each frame as it was answered; returns how many requests were.
    """
    answered = 0
    enough = threading.Event()
    first = rng.randrange(3, 60)  # answers, not moments: a busy machine answers late
    moment = rng.uniform(0, 0.03)
    victims = [server.process.pid]
    if rng.random() < 0.3:
        victims = [*server.workers(), server.process.pid]

    def kill() -> None:
        enough.wait(120)
        time.sleep(moment)
        for pid in victims:
            with contextlib.suppress(ProcessLookupError):  # a worker that ended by itself
                os.kill(pid, signal.SIGKILL)
            time.sleep(0.02)

    killer = threading.Thread(target=kill)
    killer.start()
    some: list[int] = []
    try:
        while True:
            if answered >= first:
                enough.set()
            some = rng.sample(ids, rng.choice((1, 1, 1, 3, 12)))
            decision, stars = rng.choice(("pick", "reject", "undecided")), rng.randrange(6)
            body = {"frames": some, "decision": decision, "stars": stars}
            server.ask("POST", "/api/shoots/1/marks", body)
            known.update(dict.fromkeys(some, (decision, stars)))
            answered += 1
            if rng.random() < 0.2:
                some = some[:1]
                put = {"frames": some, "put": {"title": f"T {rng.randrange(1000)}"}}
                server.ask("POST", "/api/shoots/1/texts/edit", put)
                answered += 1
            if rng.random() < 0.1:
                some = list(known)  # any of them
                server.ask("POST", "/api/shoots/1/undo", {})
                known.update(marks_in(server.ask("GET", "/api/shoots/1/frames")))
                answered += 2
    except (OSError, http.client.HTTPException):
        # What was not answered may be stored, or not.
        for frame in some:
            known.pop(frame, None)
    enough.set()
    killer.join()
    return answered


def marks_in(columns: dict[str, Any]) -> dict[int, tuple[str, int]]:
    return {
        frame: (columns["decision"][n], columns["stars"][n])
        for n, frame in enumerate(columns["id"])
    }


def main(home: Path, times: int, seed: int) -> None:
    rng = random.Random(seed)
    folder = home / "shoot"
    write_shoot(folder, list(range(1, FRAMES + 1)))
    before = {path.name: path.read_bytes() for path in folder.iterdir()}
    known: dict[int, tuple[str, int]] = {}
    kills = answered = 0
    while kills < times:
        server = Server(home, folder)
        columns = server.ask("GET", "/api/shoots/1/frames")
        if kills:
            there = marks_in(columns)
            lost = {
                frame: (mark, there.get(frame))
                for frame, mark in known.items()
                if there.get(frame) != mark
            }
            assert not lost, f"after {kills} kills: {lost}"
            assert server.ask("GET", "/api/notices") == []
        elif len(columns["id"]) < FRAMES:
            time.sleep(1)
            server.end(signal.SIGINT)
            continue
        answered += work(server, columns["id"], known, rng)
        server.end(signal.SIGKILL)
        kills += 1
    server = Server(home, folder)
    for _ in patiently(60):
        if server.ask("GET", "/api/shoots/1")["tally"]["done"] >= FRAMES:
            break
        time.sleep(0.2)
    else:
        raise AssertionError("the analysis does not end")
    assert marks_in(server.ask("GET", "/api/shoots/1/frames")).items() >= known.items()
    server.end(signal.SIGINT)
    assert {path.name: path.read_bytes() for path in folder.iterdir()} == before
    print(kills, answered)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3]))
