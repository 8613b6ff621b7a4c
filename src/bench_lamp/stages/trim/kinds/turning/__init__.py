"""One adjuster and one reading, or two of each that pull on each other."""

from bench_lamp.stages.trim.kinds.kind import TrimCards
from bench_lamp.stages.trim.kinds.turning.cards import turning_beside, turning_card
from bench_lamp.stages.trim.kinds.turning.picture import turning_picture
from bench_lamp.stages.trim.kinds.turning.typed import preview_turning, take_turning

KIND = TrimCards(
    card=turning_card,
    take=take_turning,
    picture=turning_picture,
    preview=preview_turning,
    beside=turning_beside,
)
