from __future__ import annotations

from winnow.core.folders import nested, typed_path


def parts(*paths: str) -> list[list[str]]:
    return [path.split("/") for path in paths]


def test_a_folder_within_another_is_told_with_that_one() -> None:
    assert nested(parts("/fair/raw", "/quay", "/fair")) == (0, 2)
    assert nested(parts("/fair", "/quay", "/fair/raw/card 1")) == (2, 0)


def test_folders_beside_each_other_are_not_nested() -> None:
    assert nested(parts("/fair", "/fair-2", "/quay/fair")) is None
    assert nested(parts("/fair", "/fair")) is None
    assert nested([]) is None


def test_a_path_is_taken_as_it_was_pasted() -> None:
    assert typed_path(" /home/ada/fair \n") == "/home/ada/fair"
    assert typed_path('"/home/ada/the fair"') == "/home/ada/the fair"
    assert typed_path("'/home/ada/the fair'\n/home/ada/quay") == "/home/ada/the fair"
    assert typed_path("“/home/ada/the fair”") == "/home/ada/the fair"
    # As a shell writes it, and as a desktop does (RFC 8089).
    assert typed_path(r"/home/ada/the\ fair\ \(2\)") == "/home/ada/the fair (2)"
    assert typed_path("file:///home/ada/the%20fair") == "/home/ada/the fair"
    assert typed_path("file://localhost/home/ada/fair") == "/home/ada/fair"
    assert typed_path("~/fair") == "~/fair"
    assert typed_path("") == ""
    # What is part of a name stays.
    assert typed_path('/home/ada/a "good" day') == '/home/ada/a "good" day'
    assert typed_path("/home/ada/50%20off") == "/home/ada/50%20off"


def test_a_quotation_mark_alone_is_no_pair() -> None:
    assert typed_path('"') == '"'
    assert typed_path("'/home/ada") == "'/home/ada"
