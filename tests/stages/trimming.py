"""A technician who does what the cards of Trim say, on the simulated bench."""

from tests.seen import take

from bench_lamp.bench.knobs import Knobs
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.instrument_trim import trim_result
from bench_lamp.case.hand import Hand
from bench_lamp.instrument.protocol import TrimRequest
from bench_lamp.journal.trim_events import TrimEnded
from bench_lamp.stages import card_for


class Trimmer:
    """Goes through one thing that is set, and keeps the titles of the cards."""

    def __init__(self, job, trim: str, seed: int = 1) -> None:
        self.job, self.trim, self.titles = job, trim, []
        self.knobs = Knobs(job.profile, seed, clock=lambda: job.now.timestamp())

    def step(self) -> bool:
        """Do what the card says; return whether the thing is not ended yet."""
        seen = self.job.seen(focus=self.trim)
        card = card_for("trim", *seen)
        self.titles.append(card.title)
        if isinstance(card.asks, TrimRequest) and not card.choices:
            found = self.knobs.read(card.asks)
            self.job.log(*trim_result(seen.case, card.asks, found, "bench").log)
        elif card.choices and isinstance(card.choices[0].command, AskPower):
            self.job.switch("live" if card.id.startswith("trim-power") else "discharged")
        elif card.choices:
            self.job.log(*card.choices[0].log)
        else:
            self.job.log(*take("trim", *seen, "").log)
        last = self.job.events[-1].body
        return not (isinstance(last, TrimEnded) and last.trim == self.trim)

    def run(self, most: int = 160) -> list[str]:
        """Go on until it is ended, and return the titles of all cards."""
        while self.step():
            assert len(self.titles) < most, self.titles[-12:]
        return self.titles

    def card(self, **more: str):
        """Return the card as it stands."""
        return card_for("trim", self.job.seen().case, Hand(focus=self.trim, **more))
