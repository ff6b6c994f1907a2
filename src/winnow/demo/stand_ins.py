"""Stand-ins for the people and programs that a shoot is handed to: an editor, and a client who
answers a proof."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any, Final, cast

from PIL import Image, ImageEnhance, ImageOps

from winnow.core.deliver.proofs import as_file
from winnow.photos import proof_gallery

_COMMENTS: Final = (
    "This one for the wall, please, large.",
    "A little lighter on the left?",
    "Could the lamp be taken out?",
)


def edit(files: Iterable[Path], into: Path | None = None) -> Iterator[Path]:
    """A stand-in editor: a brighter JPEG of each picture it can open, beside it or in a folder.

    Never over a file.
    """
    for file in files:
        folder = into or file.parent
        folder.mkdir(parents=True, exist_ok=True)
        target = folder / f"{file.stem} edited.jpg"
        try:
            with Image.open(file) as opened:
                picture = ImageOps.exif_transpose(opened).convert("RGB")
                exif = opened.getexif()
        except OSError:
            continue
        exif[0x0112] = 1  # upright now
        brighter = ImageEnhance.Brightness(picture).enhance(1.15)
        with target.open("xb") as out:
            brighter.save(out, "JPEG", quality=92, exif=exif)
        yield target


def answer(gallery: Path, client: str) -> bytes:
    """A stand-in client: opens a gallery's folder and answers as the gallery would save it.

    Every third picture is chosen, more or less, and the first chosen ones get a comment. Raises
    ValueError for a folder without a gallery.
    """
    try:
        page = (gallery / "index.html").read_text("utf-8")
    except OSError as error:
        raise ValueError(f"{gallery} has no gallery: {error.strerror}") from None
    listed = cast(dict[str, Any], proof_gallery.listed_in(page))
    numbers = [int(frame["number"]) for frame in listed["frames"]]
    picks = [number for number in numbers if number % 3 == 1 or number % 7 == 2]
    if listed["wanted"]:
        picks = picks[: int(listed["wanted"])]
    comments = dict(zip(picks, _COMMENTS, strict=False))
    return as_file(str(listed["token"]), client, picks, comments)
