"""How well groups agree with the true ones: pairwise and B-cubed F1 (A. Bagga and B. Baldwin
1998)."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray


def pairwise_f1(ours: NDArray[Any], theirs: NDArray[Any]) -> float:
    """F1 of the pairs that are in one group."""
    above = np.triu_indices(len(ours), 1)
    mine = (ours[:, None] == ours)[above]
    yours = (theirs[:, None] == theirs)[above]
    return float(2 * (mine & yours).sum() / (mine.sum() + yours.sum()))


def b_cubed_f1(ours: NDArray[Any], theirs: NDArray[Any]) -> float:
    """F1 of B-cubed precision and recall (Bagga and Baldwin 1998): the mean over frames."""
    mine, yours = ours[:, None] == ours, theirs[:, None] == theirs
    both = (mine & yours).sum(1)
    precision, recall = (both / mine.sum(1)).mean(), (both / yours.sum(1)).mean()
    return float(2 * precision * recall / (precision + recall))
