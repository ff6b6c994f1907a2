from __future__ import annotations

from winnow.core.folders import nested


def parts(*paths: str) -> list[list[str]]:
    return [path.split("/") for path in paths]


def test_a_folder_within_another_is_told_with_that_one() -> None:
    assert nested(parts("/fair/raw", "/quay", "/fair")) == (0, 2)
    assert nested(parts("/fair", "/quay", "/fair/raw/card 1")) == (2, 0)


def test_folders_beside_each_other_are_not_nested() -> None:
    assert nested(parts("/fair", "/fair-2", "/quay/fair")) is None
    assert nested(parts("/fair", "/fair")) is None
    assert nested([]) is None
