"""The kinds of things that are set: a module or package a kind, and here their only list."""

from collections.abc import Mapping

from bench_lamp.board.trims import Trim, TrimKind
from bench_lamp.stages.trim.kinds import channels, sender, stages, switches, transfer, turning
from bench_lamp.stages.trim.kinds.kind import TrimCards

KINDS: Mapping[TrimKind, TrimCards] = {
    TrimKind.SINGLE: turning.KIND,
    TrimKind.PAIR: turning.KIND,
    TrimKind.CHANNELS: channels.KIND,
    TrimKind.STAGES: stages.KIND,
    TrimKind.TRANSFER: transfer.KIND,
    TrimKind.SENDER: sender.KIND,
    TrimKind.SWITCHES: switches.KIND,
}


def kind_of(trim: Trim) -> TrimCards:
    """Return the cards of a thing’s kind."""
    return KINDS[TrimKind(trim.kind)]
