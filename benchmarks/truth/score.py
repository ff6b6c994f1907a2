"""Shares with bootstrap intervals."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from typing import Final

import numpy as np

_ROUNDS: Final = 1000


@dataclass(slots=True)
class Score:
    """A share, or a mean: values of single trials, and of which photograph each is.

    The interval (95 %) draws whole photographs anew, since frames of one are alike (Efron and
    Tibshirani 1993, chapter 8).
    """

    words: str
    goal: str = ""
    values: list[float] = field(default_factory=list)
    of: list[Hashable] = field(default_factory=list)

    def add(self, of: Hashable, value: float) -> None:
        """Keep a trial."""
        self.values.append(float(value))
        self.of.append(of)

    def row(self) -> str:
        """The words, the mean with its interval, the number of trials and the goal, as a row of a
        table."""
        if not self.values:
            return f"| {self.words} | none | 0 | {self.goal} |"
        low, high = self.interval()
        mean = float(np.mean(self.values))
        told = f"{mean:.3f} ({low:.2f}–{high:.2f})"
        return f"| {self.words} | {told} | {len(self.values)} | {self.goal} |"

    def interval(self) -> tuple[float, float]:
        """95 % of the means over photographs drawn anew lie within."""
        rng = np.random.default_rng(1)
        values = np.array(self.values)
        groups = [
            np.flatnonzero([subject == name for subject in self.of])
            for name in dict.fromkeys(self.of)
        ]
        means = []
        for _ in range(_ROUNDS):
            drawn = rng.integers(0, len(groups), len(groups))
            means.append(values[np.concatenate([groups[n] for n in drawn])].mean())
        low, high = np.quantile(means, (0.025, 0.975))
        return float(low), float(high)


HEAD: Final = "| what | measured (95 %) | n | goal |\n|---|---|---|---|"
