"""Strengths by use, on a coil that must not stay energised."""

from bench_lamp.stages.trim.kinds.kind import TrimCards
from bench_lamp.stages.trim.kinds.stages.cards import stages_beside, stages_card
from bench_lamp.stages.trim.kinds.stages.picture import stages_picture
from bench_lamp.stages.trim.kinds.stages.typed import take_stages

KIND = TrimCards(card=stages_card, take=take_stages, picture=stages_picture, beside=stages_beside)
