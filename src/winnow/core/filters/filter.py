"""Filters: which frames to show, as data, with the words and the counts for them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from winnow.core.counts import counted
from winnow.core.filters import condition_words
from winnow.core.filters.conditions import Condition
from winnow.core.marks import MAX_STARS, Decision, Mark
from winnow.say import say

StarsRule = Literal["at_least", "exactly", "at_most"]


@dataclass(frozen=True, slots=True)
class Filter:
    """Conditions that a frame's mark must all meet. An empty one lets every frame pass.

    ``decisions``: any of these. ``stars``: with ``stars_rule``, None for any number.
    ``labels``: any of these letters, "" for frames without a label. ``written``: more conditions in
    the written form (see ``core.written``), and ``where``, what that means.
    """

    decisions: tuple[Decision, ...] = ()
    stars_rule: StarsRule = "at_least"
    stars: int | None = None
    labels: tuple[str, ...] = ()
    written: str = ""
    where: Condition | None = None

    def passes(self, mark: Mark) -> bool:
        """Whether a frame with this mark is shown, as far as marks say, without what is written."""
        return (
            self.passes_decision(mark.decision)
            and self.passes_stars(mark.stars)
            and self.passes_label(mark.label)
        )

    def passes_decision(self, decision: Decision) -> bool:
        """The condition on the decision alone."""
        return not self.decisions or decision in self.decisions

    def passes_stars(self, stars: int) -> bool:
        """The condition on the stars alone."""
        if self.stars is None:
            return True
        if self.stars_rule == "at_least":
            return stars >= self.stars
        return stars == self.stars if self.stars_rule == "exactly" else stars <= self.stars

    def passes_label(self, label: str | None) -> bool:
        """The condition on the label alone."""
        return not self.labels or (label or "") in self.labels


_DECISION_WORDS = {
    Decision.PICK: say("picks"),
    Decision.UNDECIDED: say("undecided"),
    Decision.REJECT: say("rejects"),
}


def in_words(wanted: Filter, label_names: Mapping[str, str]) -> str:
    """Say a filter in words, for the top line. Example: "Picks and undecided, 2 stars or more"."""
    parts = []
    if wanted.decisions and len(set(wanted.decisions)) < len(Decision):
        parts.append(
            say(" and ").join(
                word for key, word in _DECISION_WORDS.items() if key in wanted.decisions
            )
        )
    if wanted.stars is not None:
        if wanted.stars:
            stars = counted(wanted.stars, "star")
            if wanted.stars_rule == "at_least":
                stars = say("{stars} or more", stars=stars)
            elif wanted.stars_rule == "at_most":
                stars = say("{stars} or fewer", stars=stars)
            parts.append(stars)
        elif wanted.stars_rule != "at_least":
            parts.append(say("no stars"))
    if wanted.labels:
        parts.append(
            say(" or ").join(
                label_names.get(letter, letter) if letter else say("no label")
                for letter in wanted.labels
            )
        )
    if wanted.where is not None:
        parts.append(condition_words.in_words(wanted.where, label_names))
    sentence = ", ".join(parts)
    return sentence[:1].upper() + sentence[1:] if sentence else say("All frames")


@dataclass(frozen=True, slots=True)
class Counts:
    """How many frames each choice would leave, the other conditions staying as they are.

    ``stars[n]`` is for the filter's own stars rule with n stars.
    """

    shown: int
    total: int
    decisions: dict[Decision, int] = field(default_factory=dict)
    stars: list[int] = field(default_factory=list)
    labels: dict[str, int] = field(default_factory=dict)


def count(wanted: Filter, tally: Mapping[Mark, int], letters: Sequence[str]) -> Counts:
    """Count what each choice of the filter would leave.

    ``tally`` is the number of frames with each mark, which is small however large the shoot;
    ``letters`` are those of the label set.
    """
    shown = total = 0
    decisions = dict.fromkeys(Decision, 0)
    stars = [0] * (MAX_STARS + 1)
    labels = dict.fromkeys((*letters, ""), 0)
    for mark, number in tally.items():
        by_decision = wanted.passes_decision(mark.decision)
        by_stars = wanted.passes_stars(mark.stars)
        by_label = wanted.passes_label(mark.label)
        total += number
        if by_decision and by_stars and by_label:
            shown += number
        if by_stars and by_label:
            decisions[mark.decision] += number
        if by_decision and by_label:
            for choice in range(MAX_STARS + 1):
                if Filter(stars=choice, stars_rule=wanted.stars_rule).passes_stars(mark.stars):
                    stars[choice] += number
        if by_decision and by_stars:
            letter = mark.label or ""
            labels[letter] = labels.get(letter, 0) + number
    return Counts(shown, total, decisions, stars, labels)
