"""Proofs that were made, which frame is which number in them, and the answers that came back."""

from __future__ import annotations

import json
import sqlite3
import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from winnow.core.deliver.proofs import Answer
from winnow.store.db import Database

ProofKind = Literal["pdf", "gallery"]


@dataclass(frozen=True, slots=True)
class Proof:
    """A proof. ``place``: the file or folder it was made as; times are seconds since 1970."""

    id: int
    shoot_id: int
    token: str
    kind: ProofKind
    title: str
    place: str
    made_at: float
    frames: int
    answers: int


@dataclass(frozen=True, slots=True)
class AnswerRead:
    """An answer that was taken over."""

    client: str
    note: str
    read_at: float
    picks: int
    comments: int


_WITH_COUNTS = """
    SELECT proof.*,
        (SELECT count(*) FROM proof_frame WHERE proof_id = proof.id) AS frames,
        (SELECT count(*) FROM proof_answer WHERE proof_id = proof.id) AS answers
    FROM proof
"""


def make(
    db: Database,
    shoot_id: int,
    token: str,
    kind: ProofKind,
    title: str,
    place: str,
    frames: Sequence[int],
) -> int:
    """Record a proof; the frames' numbers in it begin with 1. Returns its id."""
    with db.write() as conn:
        cursor = conn.execute(
            "INSERT INTO proof (shoot_id, token, kind, title, place, made_at) VALUES (?, ?, ?, ?, "
            "?, ?)",
            (shoot_id, token, kind, title, place, time.time()),
        )
        proof = cursor.lastrowid
        assert proof is not None
        conn.executemany(
            "INSERT INTO proof_frame VALUES (?, ?, ?)",
            [(proof, number, frame) for number, frame in enumerate(frames, 1)],
        )
    return proof


def of_shoot(db: Database, shoot_id: int) -> list[Proof]:
    """A shoot's proofs, the last one first."""
    rows = db.read.execute(f"{_WITH_COUNTS} WHERE shoot_id = ? ORDER BY proof.id DESC", (shoot_id,))
    return [_proof(row) for row in rows]


def by_token(db: Database, token: str) -> Proof | None:
    """The proof that an answer names."""
    row = db.read.execute(f"{_WITH_COUNTS} WHERE token = ?", (token,)).fetchone()
    return _proof(row) if row else None


def _proof(row: sqlite3.Row) -> Proof:
    return Proof(**{name: row[name] for name in Proof.__slots__})


def frames_of(db: Database, proof_id: int) -> dict[int, int]:
    """The frames of a proof by their numbers in it; those that were deleted since are left out."""
    rows = db.read.execute(
        "SELECT number, frame_id FROM proof_frame WHERE proof_id = ? ORDER BY number", (proof_id,)
    )
    return {row["number"]: row["frame_id"] for row in rows}


def keep_answer(db: Database, proof_id: int, answer: Answer) -> None:
    """Record an answer that was taken over."""
    with db.write() as conn:
        conn.execute(
            "INSERT INTO proof_answer (proof_id, client, note, read_at, picks, comments) VALUES "
            "(?, ?, ?, ?, ?, ?)",
            (
                proof_id,
                answer.client,
                answer.note,
                time.time(),
                json.dumps(answer.picks),
                json.dumps(dict(answer.comments), ensure_ascii=False),
            ),
        )


def answers_of(db: Database, proof_id: int) -> list[AnswerRead]:
    """The answers to a proof, the last one first."""
    rows = db.read.execute(
        """
        SELECT client, note, read_at, json_array_length(picks) AS picks,
            (SELECT count(*) FROM json_each(comments)) AS comments
        FROM proof_answer WHERE proof_id = ? ORDER BY id DESC
        """,
        (proof_id,),
    )
    return [AnswerRead(**{name: row[name] for name in AnswerRead.__slots__}) for row in rows]
