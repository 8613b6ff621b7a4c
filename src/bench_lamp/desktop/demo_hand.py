"""The demo's meter on a line of its own, and a hand that puts its probe on the lit point again and again."""

import math

from PySide6.QtCore import QObject, QTimer

from bench_lamp.cards.instrument import request_for
from bench_lamp.cards.settled import wanted_mode
from bench_lamp.desktop.hands_free import HandsFree
from bench_lamp.desktop.session import Session
from bench_lamp.instrument.device import Address
from bench_lamp.instrument.protocol import Request, Shown

#: How long the probe is in the air, and on a point, at the most, in milliseconds.
AIR_MS, ON_MS = 900, 2500


class DemoHand(QObject):
    """Goes from point to point, as the cards say; stops where a card wants no figure."""

    def __init__(self, session: Session, hands: HandsFree) -> None:
        super().__init__(hands)
        from bench_lamp.bench.standins.streaming import StreamingMeter

        self._session, self._hands = session, hands
        self._meter = StreamingMeter()
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self._next)
        self._is_on = False
        self.link = hands.link(Address(kind="serial", place=self._meter.place))
        hands.logged.connect(self._lift)
        self._timer.start(AIR_MS)

    def stop(self) -> None:
        """Take the hand and its meter away."""
        self._timer.stop()
        self._meter.close()

    def _lift(self) -> None:
        self._meter.value, self._is_on = math.nan, False
        self._timer.start(AIR_MS)

    def _next(self) -> None:
        if self._is_on:
            self._lift()
            return
        self._timer.start(AIR_MS)
        case, card = self._session.case, self._session.card()
        mode = wanted_mode(card)
        if case is None or card is None or not mode or not case.state.power.is_live:
            return
        request = request_for(case, card)
        if isinstance(request, Request):
            profile, job = case.profile, self._session.job

            def read() -> Shown:
                from bench_lamp.practice.demo_bench import demo_board

                return demo_board(profile, job).read(request)

            self._session.growing.do(read, lambda shown: self._touch(mode, shown))

    def _touch(self, mode: str, shown: object) -> None:
        if isinstance(shown, Shown):
            self._meter.mode, self._meter.value, self._is_on = mode, shown.value, True
            self._timer.start(ON_MS)
