"""Proofs from a shoot, and answers taken over as one step of the history."""

import io
import json
from pathlib import Path

import pypdfium2
import pytest
from PIL import Image

from tests.pictures import write_shoot
from tests.ready import ready
from tests.work.saying import set_mark
from winnow.core.deliver.proof_sheet import SheetLayout
from winnow.core.marks import Decision, Edit
from winnow.demo import stand_ins
from winnow.photos import proof_gallery, whole
from winnow.store import frames, history, labels, marks, shoots, texts
from winnow.store import proofs as stored
from winnow.work.deliver import answers, proofs
from winnow.work.deliver.proofs import GalleryWish, ProofError, SheetWish
from winnow.work.runtime import Runtime


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    write_shoot(tmp_path / "shoot", range(1, 8))
    return ready(runtime, tmp_path / "shoot")


def ids(runtime: Runtime, shoot: int) -> list[int]:
    return [row.id for row in frames.rows(runtime.db, shoot)]


def make(runtime: Runtime, shoot: int, target: Path, wish: proofs.Wish) -> proofs.ProofStatus:
    runtime.proofs.start(shoot, str(target), ids(runtime, shoot), wish)
    runtime.proofs.wait(shoot)
    return runtime.proofs.status(shoot)


def test_a_contact_sheet_has_marks_names_and_turned_frames(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    set_mark(runtime, shoot, "QH_0002", Edit(Decision.PICK, 4, "R"))
    frames.turn(runtime.db, shoot, ids(runtime, shoot)[:1], 1)
    wish = SheetWish("The fair: 1/2", SheetLayout(rows=4, under=("name", "marks")))
    planned = proofs.plan(runtime.db, shoot, str(tmp_path / "out"), ids(runtime, shoot), wish)
    assert (planned.frames, planned.pages, planned.unprintable) == (7, 1, "")
    assert not (tmp_path / "out").exists()
    status = make(runtime, shoot, tmp_path / "out", wish)
    assert (status.notice, status.done) == ("", 7)
    made = tmp_path / "out" / "The fair- 1-2.pdf"
    assert status.place == str(made)
    pdf = pypdfium2.PdfDocument(made.read_bytes())
    text = pdf[0].get_textpage().get_text_bounded()
    assert "QH_0002 4★ " + labels.label_names(runtime.db)["R"] in text
    images = [o for o in pdf[0].get_objects() if o.type == pypdfium2.raw.FPDF_PAGEOBJ_IMAGE]
    width, height = images[0].get_px_size()
    assert height > width, "the turned frame stands upright"
    # Made again, the first one stays.
    make(runtime, shoot, tmp_path / "out", wish)
    assert (tmp_path / "out" / "The fair- 1-2-2.pdf").exists()
    assert [proof.kind for proof in stored.of_shoot(runtime.db, shoot)] == ["pdf", "pdf"]


def test_a_gallery_is_whole_or_not_there(
    runtime: Runtime, shoot: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = proof_gallery.picture
    count = 0

    def fails(*arguments: object) -> tuple[bytes, tuple[int, int]]:
        nonlocal count
        count += 1
        if count > 5:
            raise OSError(28, "No space left on device")
        return real(*arguments)  # type: ignore[arg-type]

    monkeypatch.setattr(proof_gallery, "picture", fails)
    status = make(runtime, shoot, tmp_path / "out", GalleryWish("Fair"))
    assert "disk is full" in status.notice
    assert list((tmp_path / "out").iterdir()) == []
    assert stored.of_shoot(runtime.db, shoot) == []
    monkeypatch.setattr(proof_gallery, "picture", real)
    status = make(runtime, shoot, tmp_path / "out", GalleryWish("Fair", longest=1200))
    gallery = Path(status.place)
    assert sorted(p.name for p in gallery.iterdir()) == ["index.html", "large", "small"]
    assert len(list((gallery / "large").iterdir())) == 7
    with Image.open(gallery / "large" / "0001.jpg") as opened:
        assert max(opened.size) <= 1200
    listed = proof_gallery.listed_in((gallery / "index.html").read_text())
    shown = listed["frames"]
    assert isinstance(shown, list)
    assert shown[0]["name"] == "QH_0001"


def test_names_stay_out_on_wish_and_stopping_leaves_nothing(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    status = make(runtime, shoot, tmp_path / "out", GalleryWish("Fair", names=False))
    page = (Path(status.place) / "index.html").read_text()
    assert "QH_0001" not in page
    assert str(tmp_path) not in page
    proofs_ = runtime.proofs
    proofs_.start(shoot, str(tmp_path / "out"), ids(runtime, shoot), GalleryWish("Other"))
    proofs_.stop(shoot)
    if proofs_.status(shoot).notice:  # else it was quicker
        assert [p.name for p in (tmp_path / "out").iterdir()] == ["Fair"]


def test_what_can_not_be_made(runtime: Runtime, shoot: int, tmp_path: Path) -> None:
    cases: list[tuple[Path, SheetWish | GalleryWish, str]] = [
        (tmp_path / "shoot" / "p", GalleryWish("A"), "within this shoot"),
        (Path("here"), GalleryWish("A"), "whole path"),
        (tmp_path / "o", SheetWish("A", SheetLayout("A5", False, 16)), "smaller than 8 mm"),
    ]
    for target, wish, words in cases:
        with pytest.raises(ProofError, match=words):
            proofs.plan(runtime.db, shoot, str(target), ids(runtime, shoot), wish)
    with pytest.raises(ProofError, match="no frames"):
        proofs.plan(runtime.db, shoot, str(tmp_path / "o"), [], GalleryWish("A"))


def test_characters_without_a_picture_are_named(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    planned = proofs.plan(
        runtime.db, shoot, str(tmp_path / "o"), ids(runtime, shoot), SheetWish("灯 fair")
    )
    assert planned.unprintable == "灯"


def test_an_unreadable_frame_is_named_and_leaves_an_empty_place_on_paper(
    runtime: Runtime, tmp_path: Path
) -> None:
    write_shoot(tmp_path / "shoot", [1])
    (tmp_path / "shoot" / "QH_0009.jpg").write_bytes(b"\xff\xd8 not a picture")
    shoot = ready(runtime, tmp_path / "shoot")
    status = make(runtime, shoot, tmp_path / "out", GalleryWish("Fair"))
    assert "QH_0009" in status.notice
    assert list((tmp_path / "out").iterdir()) == []
    status = make(runtime, shoot, tmp_path / "out", SheetWish("Fair"))
    assert status.notice == ""
    page = pypdfium2.PdfDocument(status.place)[0]
    assert "no picture" in page.get_textpage().get_text_bounded()


def answered(runtime: Runtime, shoot: int, tmp_path: Path, wanted: int | None = None) -> bytes:
    status = make(runtime, shoot, tmp_path / "out", GalleryWish("Fair", wanted=wanted))
    return stand_ins.answer(Path(status.place), "Ann")


def test_an_answer_is_one_step_that_can_be_undone(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    data = answered(runtime, shoot, tmp_path)
    found = answers.look(runtime.db, shoot, data)
    every = ids(runtime, shoot)
    assert found.chosen == (every[0], every[1], every[3], every[6])
    assert (found.gone, found.before) == (0, 0)
    before = marks.marks_of(runtime.db, shoot, every)
    change = answers.take(runtime.db, shoot, data, "A", pick=True)
    assert change is not None
    assert change.sentence == "answer of Ann: 4 chosen, 3 comments"
    after = marks.marks_of(runtime.db, shoot, every)
    for frame in every:
        chosen = frame in found.chosen
        assert (after[frame].label == "A") == chosen
        assert (after[frame].decision is Decision.PICK) == chosen
    said = texts.texts_of(runtime.db, shoot, every)
    assert said[every[0]].instructions.startswith("Ann: ")
    (proof,) = stored.of_shoot(runtime.db, shoot)
    (read,) = stored.answers_of(runtime.db, proof.id)
    assert (read.client, read.picks, read.comments) == ("Ann", 4, 3)
    assert answers.take(runtime.db, shoot, data, "A", pick=True) is None, "nothing new"
    assert answers.look(runtime.db, shoot, data).before == 2
    history.undo(runtime.db, shoot)
    assert marks.marks_of(runtime.db, shoot, every) == before
    assert texts.texts_of(runtime.db, shoot, every)[every[0]].instructions == ""


def test_answers_that_do_not_belong_here(runtime: Runtime, shoot: int, tmp_path: Path) -> None:
    data = answered(runtime, shoot, tmp_path, wanted=2)
    assert len(answers.look(runtime.db, shoot, data).chosen) == 2
    with pytest.raises(ProofError, match="no such label"):
        answers.take(runtime.db, shoot, data, "?")
    other = shoots.make(runtime.db, "Other", [str(tmp_path / "elsewhere")])
    with pytest.raises(ProofError, match="Open that shoot"):
        answers.look(runtime.db, other, data)
    strange = {**json.loads(data), "proof": "somebody else's"}
    with pytest.raises(ProofError, match="did not make"):
        answers.look(runtime.db, shoot, json.dumps(strange).encode())
    unknown = {**json.loads(data), "picks": [1, 99], "comments": {"98": "?"}}
    found = answers.look(runtime.db, shoot, json.dumps(unknown).encode())
    assert (len(found.chosen), found.gone) == (1, 2)


def test_unfinished_folders_are_removed_later_only(tmp_path: Path) -> None:
    import os

    old, new = (tmp_path / f"{whole.FOLDER_PREFIX}{name}" for name in "ab")
    for folder in (old, new):
        folder.mkdir()
        (folder / "index.html").write_text("half")
    os.utime(old, (1, 1))
    whole.remove_unfinished_folders(tmp_path)
    assert (old.exists(), new.exists()) == (False, True)


def test_the_stand_in_editor_writes_beside_and_never_over(tmp_path: Path) -> None:
    write_shoot(tmp_path, [1])
    file = tmp_path / "QH_0001.jpg"
    before = file.read_bytes()
    (made,) = stand_ins.edit([file, tmp_path / "no.txt"])
    assert made.name == "QH_0001 edited.jpg"
    assert file.read_bytes() == before
    with Image.open(io.BytesIO(before)) as one, Image.open(made) as other:
        assert one.size == other.size
    with pytest.raises(FileExistsError):
        list(stand_ins.edit([file]))
