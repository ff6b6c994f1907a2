"""Profiles: how picks, rejects, stars and labels are written for other programs, and read again.

XMP (ISO 16684-1) has a rating of −1 to 5, where −1 means rejected, and a label text; xmpDM:good
says of a clip that it is a keeper. Many programs read rating and label only, so a profile can say a
pick with those.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Final

from winnow.core.marks import MAX_STARS, Decision, Mark
from winnow.say import say


@dataclass(frozen=True, slots=True)
class FileMark:
    """A mark as XMP states it: rating −1 to 5 or None, label text, good or not."""

    rating: int | None = None
    label: str | None = None
    good: bool | None = None


UNSTATED: Final = FileMark()


@dataclass(frozen=True, slots=True)
class Profile:
    """How marks are written.

    ``pick_good``: a pick as xmpDM:good. ``pick_stars``: a pick with at least so many stars, 0 for
    those it has. ``pick_label``, ``reject_label``: this label text where the frame has no label of
    its own. ``reject_rating``: a reject as a rating of −1. ``labels``: texts by letter, where they
    differ from the label set's.
    """

    name: str
    pick_good: bool = True
    pick_stars: int = 0
    pick_label: str = ""
    reject_rating: bool = True
    reject_label: str = ""
    labels: Mapping[str, str] = field(default_factory=dict)


STANDARD: Final = Profile("Standard")


class ProfileError(ValueError):
    """Why a profile can't be used, in words."""


@dataclass(frozen=True, slots=True)
class Writing:
    """A profile with the texts of the label set, and what label texts found in files mean.

    ``texts``: text by letter. ``letters``: letter by text, casefolded; "" for a text that is known
    to mean no label.
    """

    profile: Profile
    texts: Mapping[str, str]
    letters: Mapping[str, str]

    def knows(self, label: str) -> bool:
        """Whether a label text means something here, if only a decision."""
        labels = (self.profile.pick_label, self.profile.reject_label)
        text = label.casefold()
        return text in self.letters or text in {label.casefold() for label in labels if label}


def writing(
    profile: Profile, label_set: Iterable[tuple[str, str]], mapped: Mapping[str, str]
) -> Writing:
    """A profile for a label set: pairs of letter and text.

    ``mapped``: letters of texts found in files. Raises ProfileError where two labels, or a label
    and a decision, would be written alike.
    """
    pairs = list(label_set)
    texts = {letter: profile.labels.get(letter) or text for letter, text in pairs}
    # Later ones win: what is written now counts more than what was.
    letters = {text.casefold(): letter for text, letter in mapped.items()}
    letters.update((text.casefold(), letter) for letter, text in pairs)
    letters.update((text.casefold(), letter) for letter, text in texts.items())
    said = [text.casefold() for text in texts.values()]
    said += [label.casefold() for label in (profile.pick_label, profile.reject_label) if label]
    twice = next((text for n, text in enumerate(said) if text in said[:n]), None)
    if twice is not None:
        raise ProfileError(say("“{twice}” would be written for two different marks.", twice=twice))
    for label in (profile.pick_label, profile.reject_label):
        letters.pop(label.casefold(), None)
    return Writing(profile, texts, letters)


def to_file(mark: Mark, present: FileMark, how: Writing) -> FileMark:
    """State a mark for a file that says ``present`` now.

    A label text that Winnow doesn't know stays while the frame has nothing to say instead.
    """
    profile = how.profile
    if mark.decision is Decision.REJECT and profile.reject_rating:
        rating: int | None = -1
    else:
        picked = mark.decision is Decision.PICK
        stars = max(mark.stars, profile.pick_stars) if picked else mark.stars
        rating = stars if stars or present.rating is not None else None
    if mark.decision is Decision.PICK and profile.pick_good:
        good: bool | None = True
    else:
        good = False if present.good is False else None
    instead = {Decision.PICK: profile.pick_label, Decision.REJECT: profile.reject_label}
    label = how.texts.get(mark.label or "") or instead.get(mark.decision, "")
    if not label and present.label and not how.knows(present.label):
        label = present.label
    return FileMark(rating, label or None, good)


@dataclass(frozen=True, slots=True)
class Read:
    """What a file's mark means; None where it says nothing of that part."""

    decision: Decision
    stars: int | None
    label: str | None
    says_label: bool = True

    def over(self, base: Mark) -> Mark:
        """As a mark; what the file can't say is as in ``base``."""
        return Mark(
            self.decision,
            base.stars if self.stars is None else self.stars,
            self.label if self.says_label else base.label,
        )


def read(stated: FileMark, how: Writing) -> Read:
    """What a file's mark means under a profile.

    A rating of −1 leaves no room for stars, and a label that stands for a decision none for a
    label: these are not said.
    """
    profile = how.profile
    text = (stated.label or "").casefold()
    is_pick = bool(text) and text == profile.pick_label.casefold()
    is_reject = bool(text) and text == profile.reject_label.casefold()
    label = how.letters.get(text) or None
    says_label = not (is_pick or is_reject)
    if stated.rating == -1:
        return Read(Decision.REJECT, None, label, says_label)
    rating = stated.rating or 0
    if is_reject:
        return Read(Decision.REJECT, rating, label, says_label)
    starred = profile.pick_stars > 0 and rating >= profile.pick_stars
    picked = stated.good if stated.good is not None else is_pick or starred
    # The stars that make a pick may be more than it has.
    stars = None if picked and starred and rating == profile.pick_stars else rating
    return Read(Decision.PICK if picked else Decision.UNDECIDED, stars, label, says_label)


def check(profile: Profile) -> None:
    """Raise a ProfileError unless a profile can be used."""
    if not profile.name.strip():
        raise ProfileError(say("A profile needs a name."))
    if not 0 <= profile.pick_stars <= MAX_STARS:
        raise ProfileError(say("Stars are 0 to {most}.", most=MAX_STARS))
