"""Proofs for a client, and the answers to them."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.core.deliver.proof_sheet import SheetLayout
from winnow.store import proofs as stored
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep, frames_in, path_in
from winnow.web.marks.models import ChangeOut
from winnow.web.proofs.models import (
    AnswerIn,
    AnswerOut,
    CommentOut,
    MakingOut,
    ProofIn,
    ProofOut,
    ProofPlanOut,
    ProofsOut,
)
from winnow.work import change_events
from winnow.work.deliver import answers, proofs
from winnow.work.deliver.proofs import GalleryWish, ProofError, SheetWish

router = APIRouter(prefix="/api/shoots/{shoot}/proofs", tags=["proofs"], responses=RESPONSES)


def _wish(wanted: ProofIn) -> proofs.Wish:
    proof = wanted.proof
    if proof.kind == "gallery":
        return GalleryWish(
            title=proof.title.strip(),
            greeting=proof.greeting.strip(),
            names=proof.names,
            longest=proof.longest,
            watermark=proof.watermark.strip(),
            wanted=proof.wanted,
        )
    layout = SheetLayout(proof.paper, proof.landscape, proof.rows, tuple(proof.under))
    return SheetWish(proof.title.strip(), layout)


@router.post("/plan")
def plan_proof(shoot: ShootDep, wanted: ProofIn, runtime: RuntimeDep) -> ProofPlanOut:
    """What a proof would be; nothing is made."""
    ids = frames_in(runtime, shoot, wanted)
    try:
        planned = proofs.plan(runtime.db, shoot, path_in(wanted.target), ids, _wish(wanted))
    except ProofError as error:
        raise HTTPException(400, str(error)) from None
    return ProofPlanOut.model_validate(planned)


@router.post("", status_code=202)
def make_proof(shoot: ShootDep, wanted: ProofIn, runtime: RuntimeDep) -> ProofsOut:
    """Begin to make a proof."""
    ids = frames_in(runtime, shoot, wanted)
    try:
        runtime.proofs.start(shoot, path_in(wanted.target), ids, _wish(wanted))
    except ProofError as error:
        raise HTTPException(400, str(error)) from None
    return list_proofs(shoot, runtime)


@router.get("")
def list_proofs(shoot: ShootDep, runtime: RuntimeDep) -> ProofsOut:
    """A shoot's proofs with their answers, and the one that is being made."""
    making = runtime.proofs.status(shoot)
    return ProofsOut(
        made=[
            ProofOut.of(proof, answers=stored.answers_of(runtime.db, proof.id))
            for proof in stored.of_shoot(runtime.db, shoot)
        ],
        making=MakingOut.model_validate(making),
    )


@router.delete("")
def stop_proof(shoot: ShootDep, runtime: RuntimeDep) -> ProofsOut:
    """Stop making a proof; what was begun is removed."""
    runtime.proofs.stop(shoot)
    return list_proofs(shoot, runtime)


@router.post("/answer/read")
def read_answer(shoot: ShootDep, wanted: AnswerIn, runtime: RuntimeDep) -> AnswerOut:
    """What a client's answer says; nothing is changed."""
    try:
        look = answers.look(runtime.db, shoot, wanted.text.encode("utf-8", "replace"))
    except ProofError as error:
        raise HTTPException(400, str(error)) from None
    return AnswerOut.of(
        look,
        proof=look.proof.title,
        client=look.answer.client,
        note=look.answer.note,
        comments=[CommentOut(frame=f, comment=text) for f, text in look.commented.items()],
    )


@router.post("/answer/apply")
def apply_answer(shoot: ShootDep, wanted: AnswerIn, runtime: RuntimeDep) -> ChangeOut:
    """Take a client's answer over, as one step of the history."""
    try:
        change = answers.take(
            runtime.db,
            shoot,
            wanted.text.encode("utf-8", "replace"),
            wanted.label,
            pick=wanted.pick,
            comments=wanted.comments,
        )
    except ProofError as error:
        raise HTTPException(400, str(error)) from None
    runtime.events.tell(shoot, "proof")
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window)
    )
