"""Looking at a card before anything is copied."""

from __future__ import annotations

import threading
from typing import Final

from winnow.core.deliver.card_look import Looks, OnCard, frames_on_card
from winnow.core.frames import kind_of
from winnow.core.measure import likeness
from winnow.photos import jpegs
from winnow.photos.card import Card
from winnow.say import say
from winnow.work.deliver.card_plan import BringInError, Planner

_KNOWN: Final = 20_000


class CardLook:
    """Looks at cards with what a planner knows of them."""

    def __init__(self, planner: Planner) -> None:
        self._planner = planner
        self._looks: dict[str, Looks] = {}
        self._lock = threading.Lock()

    def frames(self, source: str, target: str) -> list[OnCard]:
        """What is on a card, by frame, and what of it is below the target folder already. Raises
        BringInError."""
        on_card, files, copied = self._planner.known_copies(source, target)
        looks = {
            file.path: self._looks_of(on_card, file.path, file.fingerprint)
            for file in files
            if file.fingerprint and kind_of(file.path)
        }
        return frames_on_card(files, looks, copied)

    def picture(self, source: str, path: str) -> bytes | None:
        """A small picture of a file on a card, as JPEG: the camera's own thumbnail, or the picture
        made small. None where it has none that can be shown. Raises BringInError."""
        on_card = self._planner.card(source)
        if path.startswith("/") or ".." in path.split("/"):
            raise BringInError(say("There is no such file on this card."))
        try:
            return on_card.small_picture(path)
        except OSError:
            return None

    def _looks_of(self, on_card: Card, path: str, fingerprint: str) -> Looks:
        known = self._looks.get(fingerprint)
        if known is None:
            try:
                small = on_card.thumbnail(path)
            except OSError:
                small = None
            known = Looks() if small is None else _looks(small)
            with self._lock:
                if len(self._looks) >= _KNOWN:
                    self._looks.clear()
                self._looks[fingerprint] = known
        return known


def _looks(small: bytes) -> Looks:
    pixels = jpegs.decode_small(small)
    return Looks(likeness.signature(pixels), pixels.shape[0] > pixels.shape[1])
