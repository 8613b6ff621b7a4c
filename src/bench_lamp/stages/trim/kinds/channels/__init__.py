"""Channels of a receiver, read by a counter."""

from bench_lamp.stages.trim.kinds.channels.cards import channels_beside, channels_card
from bench_lamp.stages.trim.kinds.channels.picture import channels_picture
from bench_lamp.stages.trim.kinds.channels.typed import preview_channels, take_channels
from bench_lamp.stages.trim.kinds.kind import TrimCards

KIND = TrimCards(
    card=channels_card,
    take=take_channels,
    picture=channels_picture,
    preview=preview_channels,
    beside=channels_beside,
)
