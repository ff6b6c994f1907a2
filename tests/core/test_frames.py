"""Which files belong to one frame, and the order of names."""

from winnow.core.frames import FoundFile, FoundFrame, Kind, kind_of, natural_key, no_pictures, pair


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


def companions(found: list[FoundFrame]) -> dict[str, list[str]]:
    return {frame.shown.name: sorted(f.name for f in frame.companions) for frame in found}


def test_files_named_after_a_picture_are_its_companions() -> None:
    own = ["QH_1.jpg.pp", "QH_1.dng.set.bak", "QH_1.jpg.docx", "QH_1.dng.set"]
    frames = pair(files("QH_1.jpg", "QH_1.dng", *own, "QH_10.jpg", "QH_11.jpg.pp"))
    assert companions(frames) == {"QH_1.jpg": sorted(own), "QH_10.jpg": []}


def test_films_notes_and_settings_of_a_stem_are_companions_and_documents_are_not() -> None:
    own = ["QH_1.AAE", "QH_1.MOV", "QH_1.MOV.xmp", "QH_1.THM", "QH_1.WAV", "QH_1.txt"]
    alone = ["QH_1.docx", "QH_1.pdf", "QH_1.zip", "QH_1", "QH_2.MOV", "QH_2.MOV.xmp"]
    found = files("QH_1.HEIC", *own, *alone)
    assert companions(pair(found)) == {"QH_1.HEIC": own}
    assert paths(pair(found)[0].sidecars) == []
    counted = no_pictures(found, pair(found))
    assert counted.companions == {"xmp": 1, "mov": 1, "thm": 1, "wav": 1, "aae": 1, "txt": 1}
    assert sum(counted.others.values()) == len(alone)


def test_what_is_large_and_of_no_known_kind_is_no_companion() -> None:
    film, other = FoundFile("QH_1.mp4", 4 << 30, 1), FoundFile("QH_1.bin", 5 << 20, 1)
    (frame,) = pair([*files("QH_1.jpg"), film, other])
    assert frame.companions == (film,)


def test_companions_of_a_stem_go_to_the_frame_with_the_raw_file() -> None:
    frames = pair(files("QH_1.jpeg", "QH_1.png", "QH_1.nef", "QH_1.wav", "a/QH_1.wav"))
    assert companions(frames) == {"QH_1.jpeg": ["QH_1.wav"], "QH_1.png": []}


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
