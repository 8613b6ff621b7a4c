"""Profiles that grow: each change is checked and written in a thread of its own."""

import logging
from collections.abc import Mapping, Sequence
from pathlib import Path

from msgspec import Struct
from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board.change import Change
from bench_lamp.board.grow import Grown, begun, grown, put_back
from bench_lamp.errors import BenchLampError

log = logging.getLogger(__name__)


class GrowRequest(Struct, frozen=True, kw_only=True):
    """What is to become of a profile: a new one by its name, some changes, or its text of before."""

    token: int
    own: Path
    paths: Mapping[str, Path]
    profile_id: str = ""
    name: str = ""
    changes: Sequence[Change] = ()
    text: str = ""


class ProfileWriter(QObject):
    """Lives in the writer's thread; exactly one of its two signals follows each request."""

    #: Token, and the profile with its text before: a `Grown`.
    grown = Signal(int, object)
    #: Token, and what was wrong; nothing is changed then.
    failed = Signal(int, object)

    @Slot(object)
    def grow(self, request: GrowRequest) -> None:
        """Do what a request asks for."""
        try:
            self.grown.emit(request.token, _done(request))
        except BenchLampError as exc:
            self.failed.emit(request.token, exc)
        except Exception as exc:  # whatever a file holds, its asker gets an answer
            log.exception("a profile could not be changed")
            hint = "It is the program's fault; the profile is as it was."
            self.failed.emit(
                request.token, BenchLampError(f"{type(exc).__name__}: {exc}", hint=hint)
            )


def _done(request: GrowRequest) -> Grown:
    if request.name:
        return begun(request.name, request.own, request.paths)
    if request.text:
        return put_back(request.profile_id, request.text, request.own, request.paths)
    return grown(request.profile_id, request.changes, request.own, request.paths)
