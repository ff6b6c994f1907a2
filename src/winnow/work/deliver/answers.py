"""Answers of clients to proofs: looked at, and taken over as one step of the history."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from winnow.core.counts import counted
from winnow.core.deliver import proofs
from winnow.core.deliver.proofs import Answer, AnswerError
from winnow.core.files.merge import Said
from winnow.core.marks import Change, Decision
from winnow.say import say
from winnow.store import labels, marks, shoots
from winnow.store import proofs as stored
from winnow.store.db import Database
from winnow.store.proofs import Proof
from winnow.work.deliver.proofs import ProofError
from winnow.work.files.read import change_to, said_of


@dataclass(frozen=True, slots=True)
class ReadAnswer:
    """An answer before it is taken over.

    ``chosen`` and ``commented`` are ids of frames; ``gone``: how many of its frames are no longer
    in the shoot; ``before``: answers of this proof that were taken over already.
    """

    proof: Proof
    answer: Answer
    chosen: tuple[int, ...]
    commented: Mapping[int, str]
    gone: int
    before: int


def look(db: Database, shoot_id: int, data: bytes) -> ReadAnswer:
    """What an answer says; nothing is changed. Raises ProofError."""
    try:
        answer = proofs.read_answer(data)
    except AnswerError as error:
        raise ProofError(str(error)) from None
    proof = stored.by_token(db, answer.token)
    if proof is None:
        raise ProofError(say("This answer belongs to a proof that this Winnow did not make."))
    if proof.shoot_id != shoot_id:
        other = shoots.get(db, proof.shoot_id)
        raise ProofError(
            say(
                "This answer belongs to the proof “{title}” of the shoot “{shoot}”. Open that "
                "shoot first.",
                title=proof.title,
                shoot=other.name if other else "?",
            )
        )
    known = stored.frames_of(db, proof.id)
    here = [number for number in answer.picks if number in known]
    comments = {known[n]: text for n, text in answer.comments.items() if n in known}
    return ReadAnswer(
        proof=proof,
        answer=answer,
        chosen=tuple(known[number] for number in here),
        commented=comments,
        gone=len({*answer.picks, *answer.comments} - known.keys()),
        before=proof.answers,
    )


def take(
    db: Database,
    shoot_id: int,
    data: bytes,
    label: str | None,
    *,
    pick: bool = False,
    comments: bool = True,
) -> Change | None:
    """Take an answer over, as one step of the history: a label for what was chosen, and comments as
    instructions.

    Raises ProofError.
    """
    seen = look(db, shoot_id, data)
    if label is not None and label not in labels.label_names(db):
        raise ProofError(say("There is no such label."))
    client = seen.answer.client

    def planned() -> Change | None:
        here = said_of(db, shoot_id, {*seen.chosen, *seen.commented})
        after = dict(here)
        for frame in seen.chosen:
            mark = after[frame].mark
            after[frame] = replace(
                after[frame],
                mark=replace(
                    mark,
                    label=label if label is not None else mark.label,
                    decision=Decision.PICK if pick else mark.decision,
                ),
            )
        for frame, comment in seen.commented.items() if comments else ():
            after[frame] = _with_comment(after[frame], client, comment)
        return change_to(here, after, _sentence(seen, comments))

    change = marks.apply(db, shoot_id, planned)
    stored.keep_answer(db, seen.proof.id, seen.answer)
    return change


def _with_comment(said: Said, client: str, comment: str) -> Said:
    texts = said.texts
    return replace(
        said,
        texts=replace(texts, instructions=proofs.instruction(texts.instructions, client, comment)),
    )


def _sentence(seen: ReadAnswer, comments: bool) -> str:
    parts = [say("{chosen} chosen", chosen=len(seen.chosen))]
    if comments and seen.commented:
        parts.append(counted(len(seen.commented), "comment"))
    return say(
        "answer of {client}: {parts}",
        client=seen.answer.client or say("a client"),
        parts=", ".join(parts),
    )
