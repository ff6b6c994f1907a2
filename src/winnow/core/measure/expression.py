"""Signs of a face that a photographer chooses by: whether it smiles, whether the mouth is open,
whether it looks at the camera, and whether the head is turned to the side.

What the figures are called follows from thresholds; those of gaze and speech a person may move.
Where a face is turned away or too blurred nothing is said, of gaze neither where its eyes are
closed. The mouth's
figure is the mouth aspect ratio, as the eye aspect ratio of T. Soukupová and J. Čech (CVWW 2016) is
that of an eye: how far the lips are apart by how wide the mouth is.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from winnow.core.measure.faces import TURNED, Face

# Lips this far apart, by the mouth's width: measured on the demo's people, closed mouths stay below
# 0.083, mouths in speech show 0.087 and more.
OPEN_FROM: Final = 0.085
# A mouth this wide, by the distance of the outer corners of the eyes, smiles: then open lips say
# nothing of speech. Faces at rest or in speech stay below 0.70; a broad smile (scikit-image's
# astronaut) has 0.74.
WIDE_FROM: Final = 0.71
# A smile is what both the network for expressions and the mouth's shape call one: open lips alone
# look happy to the network, lips that are only wide are no smile. Measured on 29 free faces
# (pictures of @vladmandic/face-api, face_recognition and scikit-image).
HAPPY_FROM: Final = 0.5
SMILE_FROM: Final = 0.63
# The iris this far beside where it is when the eyes meet the camera, by the eye's width: measured
# on the demo's people.
AWAY_FROM: Final = 0.09
# Lids closer than this, by the eye's width, hide too much of the iris to tell where it looks:
# half-closed eyes show 0.24 and less.
_SEEN_FROM: Final = 0.24
# A head turned so far, degrees, is said to be: towards the camera it looks less far to either side.
TURNED_FROM: Final = 15.0
# Who looks at the camera with the head turned has the iris beside the middle by so much of the
# eye's width a degree.
_A_DEGREE: Final = 0.0037


def aside(offsets: Sequence[float], turned: float) -> float:
    """How far beside the camera a face looks, by the eye's width; to the right of the picture above
    zero.

    ``offsets``: of each iris from the middle of its eye, by the eye's width; ``turned``: of the
    head, degrees.
    """
    return float(np.mean(offsets)) - _A_DEGREE * turned


def mouth_gap(face: Face) -> float | None:
    """How far the lips are apart, by the mouth's width; None where that isn't seen, or the mouth
    smiles."""
    if face.mouth is None or abs(face.turned) > TURNED:
        return None
    gap, wide = face.mouth
    return None if wide >= WIDE_FROM and gap >= OPEN_FROM else gap


def smiles(face: Face) -> bool | None:
    """Whether a face smiles; None where that isn't seen, or can't be told for sure."""
    if face.smile is None or abs(face.turned) > TURNED:
        return None
    happy, shape = face.smile
    signs = happy >= HAPPY_FROM, shape >= SMILE_FROM
    return None if signs[0] != signs[1] else signs[0]


def is_turned(face: Face) -> bool:
    """Whether the head is turned to the side, so far that it is worth a word."""
    return abs(face.turned) >= TURNED_FROM


def smiling_of(faces_seen: Sequence[Face]) -> tuple[int, int]:
    """Of how many faces it is told that they smile, and of how many that they don't."""
    told = [smiles(face) for face in faces_seen]
    return told.count(True), told.count(False)


def looks_aside(face: Face, closed_below: float) -> float | None:
    """How far beside the camera a face looks, by the eye's width; None where that can't be seen.

    ``closed_below``: how far apart closed lids are at most.
    """
    if face.gaze is None or face.gap is None or face.gap < max(_SEEN_FROM, closed_below):
        return None
    return abs(face.gaze)
