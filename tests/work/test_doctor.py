"""winnow doctor: what is there, and what is missing, in plain words."""

from pathlib import Path

import pytest

from winnow.photos import faces
from winnow.store.db import Database
from winnow.work import doctor
from winnow.work.runtime import Places


def looked(places: Places) -> tuple[bool, str]:
    lines: list[str] = []
    well = doctor.report(places, lines.append)
    return well, "\n".join(lines)


def test_all_is_well_on_a_set_up_machine(tmp_path: Path) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    well, text = looked(places)
    assert well
    for what in ("Python", "Page", "Pictures", "Faces", "Proofs", "Database", "Data", "Cache"):
        assert f"{what}:" in text
    assert "BAD" not in text
    assert not (tmp_path / "data").exists(), "nothing is made by looking"


def test_a_damaged_database_and_missing_models_are_said(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    places = Places(tmp_path, tmp_path / "cache")
    (tmp_path / "winnow.db").write_bytes(b"not a database at all" * 100)
    monkeypatch.setattr(faces, "available", lambda: False)
    well, text = looked(places)
    assert not well
    assert "is damaged" in text
    assert "less  Faces:" in text
    assert "Winnow can’t work like this." in text


def test_a_sound_database_without_backups(tmp_path: Path) -> None:
    Database(tmp_path / "winnow.db").close()
    well, text = looked(Places(tmp_path, tmp_path / "cache"))
    assert well
    assert "without damage" in text
    assert "None yet" in text
