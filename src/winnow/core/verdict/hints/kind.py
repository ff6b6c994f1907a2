"""What a hint is: a kind with its figure and threshold, and what is known of the frames it is made
from."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from winnow.core.measure.exposure import Levels
from winnow.core.measure.faces import Face
from winnow.core.verdict.judge import Judged


@dataclass(frozen=True, slots=True)
class Looked:
    """What is known of a frame.

    ``group``: its number; ``faces``: those that count, None where they weren't looked for yet;
    ``number_of_faces``: all of them. ``taken_at`` in s of the camera's clock; ``before``: when its
    picture was another one and was marked, that one's time and signature. ``levels``: see
    ``exposure.Exposure``; ``damaged``: a part of its picture is missing; ``ratio``: its width by
    its height.
    """

    id: int
    group: int
    name: str = ""
    judged: Judged | None = None
    faces: Sequence[Face] | None = None
    number_of_faces: int = 0
    clipped_high: float | None = None
    brightness_ev: float | None = None
    levels: Levels | None = None
    ratio: float = 1.5
    damaged: bool = False
    flash: bool | None = None
    aperture: float | None = None
    shutter_s: float | None = None
    iso: float | None = None
    focal_mm: float | None = None
    taken_at: float | None = None
    camera: str | None = None
    content_hash: str | None = None
    signature: bytes | None = None
    before: tuple[float | None, bytes] | None = None


@dataclass(frozen=True, slots=True)
class Shoot:
    """What is known of the whole shoot.

    ``of_people``: the share of its frames that show a face; ``nearest``: of frames alone in their
    group the distance to the most similar frame; ``copies``: of a later copy its distance from the
    one before it, and what it is, in words; ``thresholds``: those that a person moved, by the
    kind's name.
    """

    of_people: float = 0.0
    nearest: Mapping[int, float] = field(default_factory=dict)
    copies: Mapping[int, tuple[float, str]] = field(default_factory=dict)
    thresholds: Mapping[str, float] = field(default_factory=dict)

    def threshold(self, kind: Kind) -> float:
        """The threshold of a kind in this shoot."""
        return self.thresholds.get(kind.name, kind.limit.usual)

    def names(self, kind: Kind, figure: float) -> bool:
        """Whether a frame with this figure is named in this shoot."""
        return kind.names(figure, self.threshold(kind))


@dataclass(frozen=True, slots=True)
class Noticed:
    """A figure of a frame, and the reason in words. Whether it is named depends on the
    threshold."""

    frame: int
    figure: float
    words: str


Notice = Callable[[Sequence[Looked], Shoot], list[Noticed]]


@dataclass(frozen=True, slots=True)
class Limit:
    """From which figure on a kind of hint names a frame, or up to which where it is ``below``.

    ``usual``: where nobody moved it; it can be moved ``between`` the least and the most. ``unit``
    stands behind the figure, with so many ``decimals``.
    """

    usual: float
    between: tuple[float, float]
    unit: str = ""
    decimals: int = 1
    below: bool = False

    @property
    def least(self) -> float:
        """The least that can be set."""
        return self.between[0]

    @property
    def most(self) -> float:
        """The greatest that can be set."""
        return self.between[1]


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of hint.

    ``title`` and ``meaning`` are for the screen; ``figure``: what the figure is, in words;
    ``limit``: its threshold. ``fault``: it speaks against a frame.
    """

    name: str
    title: str
    meaning: str
    figure: str
    limit: Limit
    fault: bool = True

    def names(self, figure: float, threshold: float) -> bool:
        """Whether a frame with this figure is named."""
        return figure <= threshold if self.limit.below else figure >= threshold

    def can_name(self, figure: float) -> bool:
        """Whether a threshold within its range names a frame with this figure."""
        return self.names(figure, self.limit.most if self.limit.below else self.limit.least)
