"""Other users of this computer: what is Winnow's own they can't read, and the token stands in no
command line."""

import logging
import re
import stat
from pathlib import Path

import pytest

from winnow import terminal
from winnow.store.db import Database
from winnow.web import own_files, server
from winnow.work.runtime import Places, Runtime


def mode(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode)


def test_data_pictures_and_database_are_for_this_user_alone(tmp_path: Path) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    runtime = Runtime(places)
    with runtime.db.write() as conn:
        conn.execute("UPDATE backup_number SET number = number")
    assert [mode(folder) for folder in (places.data, runtime.cache.folder)] == [0o700, 0o700]
    files = sorted(places.data.glob("winnow.db*"))
    assert len(files) == 3
    assert {mode(file) for file in files} == {0o600}
    runtime.close()


def test_a_database_that_others_could_read_is_closed_to_them(tmp_path: Path) -> None:
    Database(tmp_path / "winnow.db").close()
    (tmp_path / "winnow.db").chmod(0o644)
    Database(tmp_path / "winnow.db").close()
    assert mode(tmp_path / "winnow.db") == 0o600


def test_the_browser_is_led_by_a_file_not_by_its_command_line(tmp_path: Path) -> None:
    url = "http://127.0.0.1:8470/?open=a&token=secret"
    for _ in range(2):
        opened = own_files.leading_to(url, tmp_path)
        assert "secret" not in opened
        file = Path(opened.removeprefix("file://"))
        assert mode(file) == 0o600
        assert "url=http://127.0.0.1:8470/?open=a&amp;token=secret" in file.read_text()


def test_a_link_in_the_files_place_is_not_written_through(tmp_path: Path) -> None:
    (tmp_path / "open.html").symlink_to(tmp_path / "elsewhere")
    own_files.leading_to("http://127.0.0.1:1/", tmp_path)
    assert not (tmp_path / "elsewhere").exists()


def test_the_name_of_this_computer_is_unguessable_and_stays(tmp_path: Path) -> None:
    """RFC 6761, 6.3: names below localhost are this computer."""
    name = server.own_name(tmp_path)
    assert re.fullmatch(r"winnow-[0-9a-f]{16}\.localhost", name)
    assert server.own_name(tmp_path) == name
    assert mode(tmp_path / "own-name") == 0o600
    assert f"{name}:8470" in server.hosts_at(8470, name)
    # Cut off by a kill, it is made anew.
    (tmp_path / "own-name").write_text("winnow-12")
    assert len(server.own_name(tmp_path)) == len(name)


@pytest.mark.parametrize("there", [True, False])
def test_a_folder_of_the_persons_own_choice_stays_as_it_is(tmp_path: Path, there: bool) -> None:
    data = tmp_path / "data"
    if there:
        data.mkdir(mode=0o755)
    Runtime(Places(data, tmp_path / "cache")).close()
    assert mode(data) == (0o755 if there else 0o700)


NAME = "\x1b]0;owned\x07a\nb\x9b31m\u202egpj.jpg\udce9"


def test_no_code_of_a_name_reaches_the_log_or_the_terminal(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    handler = logging.FileHandler(tmp_path / "log", encoding="utf-8")
    terminal.log_to(handler, "strange")
    log = logging.getLogger("strange")
    # Whoever else listens is told of no such name.
    log.propagate = False
    log.warning("%s can't be read", NAME)
    try:
        raise ValueError(NAME)
    except ValueError:
        log.exception("it failed")
    handler.close()
    log.removeHandler(handler)
    terminal.tell(NAME)
    terminal.tell(NAME, wrong=True)
    told = capsys.readouterr()
    logged = (tmp_path / "log").read_text("utf-8")
    for text in (told.out, told.err, logged):
        assert "gpj.jpg" in text
        assert not [sign for sign in text if sign != "\n" and not sign.isprintable()]
    # A line break in a name begins no line of the log.
    assert len([line for line in logged.splitlines() if "can't be read" in line]) == 1
    assert logged.splitlines()[0].endswith("can't be read")
