"""The kinds of things that are set: their cards, answers and pictures, and here their only list."""

from collections.abc import Mapping

from bench_lamp.board.trims import Trim, TrimKind
from bench_lamp.stages.trim.kinds import sender, switches
from bench_lamp.stages.trim.kinds.channels import channels_beside, channels_card
from bench_lamp.stages.trim.kinds.channels_picture import channels_picture
from bench_lamp.stages.trim.kinds.channels_typed import preview_channels, take_channels
from bench_lamp.stages.trim.kinds.kind import TrimCards
from bench_lamp.stages.trim.kinds.stages import stages_beside, stages_card
from bench_lamp.stages.trim.kinds.stages_picture import stages_picture
from bench_lamp.stages.trim.kinds.stages_typed import take_stages
from bench_lamp.stages.trim.kinds.transfer import transfer_beside, transfer_card
from bench_lamp.stages.trim.kinds.transfer_picture import transfer_picture
from bench_lamp.stages.trim.kinds.transfer_typed import preview_transfer, take_transfer
from bench_lamp.stages.trim.kinds.turning import turning_beside, turning_card
from bench_lamp.stages.trim.kinds.turning_picture import turning_picture
from bench_lamp.stages.trim.kinds.turning_typed import preview_turning, take_turning

_TURNING = TrimCards(
    card=turning_card,
    take=take_turning,
    picture=turning_picture,
    preview=preview_turning,
    beside=turning_beside,
)
KINDS: Mapping[TrimKind, TrimCards] = {
    TrimKind.SINGLE: _TURNING,
    TrimKind.PAIR: _TURNING,
    TrimKind.CHANNELS: TrimCards(
        card=channels_card,
        take=take_channels,
        picture=channels_picture,
        preview=preview_channels,
        beside=channels_beside,
    ),
    TrimKind.STAGES: TrimCards(
        card=stages_card, take=take_stages, picture=stages_picture, beside=stages_beside
    ),
    TrimKind.TRANSFER: TrimCards(
        card=transfer_card,
        take=take_transfer,
        picture=transfer_picture,
        preview=preview_transfer,
        beside=transfer_beside,
    ),
    TrimKind.SENDER: sender.KIND,
    TrimKind.SWITCHES: switches.KIND,
}


def kind_of(trim: Trim) -> TrimCards:
    """Return the cards of a thing’s kind."""
    return KINDS[TrimKind(trim.kind)]
