"""Handing frames to another program: the files as its arguments, and how it ends."""

import sys
from pathlib import Path

import pytest

from tests.conftest import until
from tests.pictures import dng, jpeg, write_shoot
from tests.ready import ready
from winnow.store import frames
from winnow.work.deliver import programs
from winnow.work.deliver.programs import HandOverError
from winnow.work.runtime import Runtime


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    folder = tmp_path / "a shoot"
    write_shoot(folder, [1, 2])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    return ready(runtime, folder)


def ids(runtime: Runtime, shoot: int) -> list[int]:
    return [row.id for row in frames.rows(runtime.db, shoot)]


def program(tmp_path: Path, text: str) -> str:
    script = tmp_path / "a program.py"
    script.write_text(text)
    return f"{sys.executable} '{script}'"


def test_a_program_gets_the_files_it_is_meant_for(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    out = tmp_path / "arguments"
    write = "import sys; open(sys.argv[1], 'w').write('\\n'.join(sys.argv[2:]))"
    command = f"{program(tmp_path, write)} '{out}' {{files}} --last"
    folder = tmp_path / "a shoot"
    for which, names in [
        ("ready", ["QH_0001.jpg", "QH_0002.jpg"]),
        ("raw", ["QH_0001.jpg", "QH_0002.dng"]),
        ("all", ["QH_0001.jpg", "QH_0002.jpg", "QH_0002.dng"]),
    ]:
        runtime.hand_overs.start(shoot, "Writer", command, ids(runtime, shoot), which)  # type: ignore[arg-type]
        until(lambda: runtime.hand_overs.runs(shoot)[0].state == "ended")
        assert out.read_text().split("\n") == [*(str(folder / name) for name in names), "--last"]
    assert len(runtime.hand_overs.runs(shoot)) == 3


def test_what_a_program_says_when_it_fails_is_shown(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    command = program(tmp_path, "import sys; sys.exit('first\\nno licence for this')")
    runtime.hand_overs.start(shoot, "Broken", command, ids(runtime, shoot), "ready")
    until(lambda: runtime.hand_overs.runs(shoot)[0].state == "failed")
    assert runtime.hand_overs.runs(shoot)[0].notice == "no licence for this"


def test_what_can_not_be_started(
    runtime: Runtime, shoot: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for command, words in [
        ("no-such-program-anywhere", "no program"),
        ("'open", "quotation mark"),
        (str(tmp_path), "no program"),
    ]:
        with pytest.raises(HandOverError, match=words):
            runtime.hand_overs.start(shoot, "X", command, ids(runtime, shoot), "ready")
    with pytest.raises(HandOverError, match="no frames"):
        runtime.hand_overs.start(shoot, "X", sys.executable, [], "ready")
    monkeypatch.setattr("winnow.work.deliver.programs.os.sysconf", lambda _: 100)
    with pytest.raises(HandOverError, match="more than a command takes"):
        runtime.hand_overs.start(shoot, "X", sys.executable, ids(runtime, shoot), "ready")
    (tmp_path / "a shoot" / "QH_0001.jpg").unlink()
    with pytest.raises(HandOverError, match="QH_0001 can’t be found"):
        runtime.hand_overs.start(shoot, "X", sys.executable, ids(runtime, shoot), "ready")
    assert runtime.hand_overs.runs(shoot) == []


def test_no_file_is_taken_for_an_option(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "-rf"
    write_shoot(folder, [1])
    (folder / "QH_0001.jpg").rename(folder / "--delete; rm *.jpg")
    (folder / "--delete; rm *.jpg").rename(folder / "--delete; rm x.jpg")
    shoot = ready(runtime, folder)
    words = programs.command_for(
        f"{sys.executable} -V", programs.files_for(runtime.db, ids(runtime, shoot), "all")[0]
    )
    assert words[-1] == str(folder / "--delete; rm x.jpg")
    assert words[-1].startswith("/")
