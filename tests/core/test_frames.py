"""Which files belong to one frame, and the order of names."""

from winnow.core.frames import FoundFile, Kind, kind_of, natural_key, pair


def files(*paths: str) -> list[FoundFile]:
    return [FoundFile(path, 1, 1) for path in paths]


def paths(found: list[FoundFile] | tuple[FoundFile, ...]) -> list[str]:
    return [file.path for file in found]


def test_a_raw_and_a_jpeg_of_one_stem_are_one_frame_shown_by_the_jpeg() -> None:
    (frame,) = pair(files("a/QH_1.dng", "a/QH_1.JPG"))
    assert paths(frame.files) == ["a/QH_1.JPG", "a/QH_1.dng"]


def test_stems_pair_only_within_their_folder() -> None:
    assert len(pair(files("a/QH_1.dng", "b/QH_1.jpg"))) == 2


def test_two_jpegs_or_a_png_beside_are_frames_of_their_own() -> None:
    assert len(pair(files("QH_1.jpg", "QH_1.jpeg"))) == 2
    assert [len(f.files) for f in pair(files("QH_1.jpg", "QH_1.dng", "QH_1.png"))] == [2, 1]
    assert len(pair(files("QH_1.jpg", "QH_1.jpeg", "QH_1.dng"))) == 3


def test_sidecars_go_to_one_frame_each() -> None:
    frames = pair(files("QH_1.jpg", "QH_1.png", "QH_1.xmp", "QH_1.png.xmp", "notes.txt", "x.xmp"))
    assert {f.shown.name: paths(f.sidecars) for f in frames} == {
        "QH_1.jpg": ["QH_1.xmp"],
        "QH_1.png": ["QH_1.png.xmp"],
    }


def test_a_pairs_sidecar_may_be_named_after_either_file() -> None:
    (frame,) = pair(files("QH_1.jpg", "QH_1.dng", "QH_1.dng.xmp", "QH_1.xmp"))
    assert paths(frame.sidecars) == ["QH_1.dng.xmp", "QH_1.xmp"]


def test_kinds_by_ending() -> None:
    assert kind_of("a.JPeG") is Kind.JPEG
    assert kind_of("b.heif") is Kind.HEIC
    assert kind_of("c.tiff") is Kind.TIFF
    assert kind_of("d.RAF") is Kind.RAW
    assert kind_of(".jpg") is None
    assert kind_of("e.txt") is None


def test_natural_order() -> None:
    names = ["QH_10.jpg", "qh_9.jpg", "QH_9999.jpg", "a.jpg", "QH_0001.jpg", "Ä.jpg", "灯2", "灯10"]
    assert sorted(names, key=natural_key) == [
        "a.jpg", "QH_0001.jpg", "qh_9.jpg", "QH_10.jpg", "QH_9999.jpg", "Ä.jpg", "灯2", "灯10",
    ]  # fmt: skip
