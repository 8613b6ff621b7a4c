"""A profile's own proof and fit, solved in the profile writer's thread."""

import logging
from collections.abc import Mapping

from msgspec import Struct
from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board import Profile

log = logging.getLogger(__name__)


class ProofRequest(Struct, frozen=True):
    """Which profile is to prove itself, and what a good board of it read, by point."""

    token: int
    profile: Profile
    seen: Mapping[str, float] | None


class ProfileProver(QObject):
    """Lives in the writer's thread; exactly one of its two signals follows each request."""

    #: The request, and what was found: a `Proved`.
    proved = Signal(object, object)
    #: The request, and what went wrong.
    failed = Signal(object, str)

    @Slot(object)
    def prove(self, request: ProofRequest) -> None:
        """Solve the sound board, compare each point, and fit."""
        try:
            from bench_lamp.reason.own.fit import fitted
            from bench_lamp.reason.own.proof import prove
            from bench_lamp.views.workshop.proof_cards import Proved

            proof = prove(request.profile)
            wants_fit = proof is not None and (proof.misses or request.seen)
            proposals = fitted(request.profile, request.seen) if wants_fit else ()
            self.proved.emit(request, Proved(proof, proposals, request.seen is not None))
        except Exception as exc:  # whatever a profile holds, its asker gets an answer
            log.exception("a profile could not be proved")
            self.failed.emit(request, f"{type(exc).__name__}: {exc}")
