"""How blurred the eyes of a frame's faces are, on one scale: that of its verdict.

The focus map alone does not tell soft eyes from sharp ones: of the demo's frames, eyes in focus
have 0.4 to 2.0 px there, and eyes out of focus 1.1 px and more; where the frame was judged, 0.5 to
1.2 px and 1.3 px and more.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from winnow.core.measure.faces import Face
from winnow.core.verdict.judge import Judged

# A frame is judged at a face whose eyes are nearer than this, by the face's height.
_WITHIN: Final = 0.5


def judged_face(faces: Sequence[Face], judged: Judged | None, ratio: float) -> int | None:
    """Which of a frame's faces it was judged at; None where that was no face.

    ``ratio``: the picture's width by its height.
    """
    if judged is None or judged.at != "eyes" or not judged.sure or not faces:
        return None

    def away(face: Face) -> float:
        x, y = face.between_eyes
        return math.hypot((x - judged.x) * ratio, y - judged.y) / face.height

    nearest = min(range(len(faces)), key=lambda n: away(faces[n]))
    return nearest if away(faces[nearest]) < _WITHIN else None


def blurs_of(faces: Sequence[Face], judged: Judged | None, ratio: float) -> list[float | None]:
    """The blur of each face's sharper eye, px at 100 %; None where it can't be told.

    At the face where the frame was judged it is the verdict's own figure; at the others it follows
    from how much more blurred the focus map has them. Of a frame that was judged elsewhere nothing
    is told.
    """
    at = judged_face(faces, judged, ratio)
    if at is None or judged is None or judged.blur is None:
        return [None] * len(faces)
    known = faces[at].blur
    scale = judged.blur / known if known else None
    others = [scale and face.blur and scale * face.blur for face in faces]
    return [judged.blur if n == at else blur or None for n, blur in enumerate(others)]
