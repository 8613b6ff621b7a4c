"""A setting that a better instrument knows on a reference unit, carried to this one."""

from bench_lamp.stages.trim.kinds.kind import TrimCards
from bench_lamp.stages.trim.kinds.transfer.cards import transfer_beside, transfer_card
from bench_lamp.stages.trim.kinds.transfer.picture import transfer_picture
from bench_lamp.stages.trim.kinds.transfer.typed import preview_transfer, take_transfer

KIND = TrimCards(
    card=transfer_card,
    take=take_transfer,
    picture=transfer_picture,
    preview=preview_transfer,
    beside=transfer_beside,
)
