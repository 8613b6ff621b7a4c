"""What is said and sounded when a reading was logged: the verdict, then the next point."""

from PySide6.QtCore import QObject

from bench_lamp.desktop.hands_free import HandsFree
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.workers.speech import RATES, Speaker
from bench_lamp.journal.events import ReadingTaken


class Speaking(QObject):
    """Listens to the session; says nothing until it is switched on."""

    def __init__(self, session: Session, hands: HandsFree) -> None:
        super().__init__(session)
        self._session = session
        self.speaker = Speaker(self)
        self._said = ""
        hands.logged.connect(self._on_logged)
        session.changed.connect(self._on_changed)

    def turn(self) -> None:
        """Say nothing, points and verdicts, or all of it; the next of these."""
        from bench_lamp.views.spoken import HOW_MUCH

        at = HOW_MUCH.index(self.speaker.how_much)
        self.speaker.how_much = HOW_MUCH[(at + 1) % len(HOW_MUCH)]
        self.speaker.has_sounds = self.speaker.how_much != "off"
        words = f"Speech: {self.speaker.how_much}"
        mend = (
            ""
            if self.speaker.can_speak
            else "Nothing that speaks is installed: apt-get install espeak-ng"
        )
        self._session.notified.emit(words, mend, False)
        self._say_point()

    def faster(self, step: int) -> None:
        """Speak faster, or slower."""
        self.speaker.rate = min(max(self.speaker.rate + 25 * step, RATES[0]), RATES[2])
        self._session.notified.emit(f"Speech: {self.speaker.rate} words a minute", "", False)

    def _on_logged(self) -> None:
        from bench_lamp.views.spoken import point_words, verdict_words
        from bench_lamp.views.tape import tile

        case, card = self._session.case, self._session.card()
        if case is None or card is None:
            return
        logged = next(
            (e for e in reversed(case.state.tape) if isinstance(e.event.body, ReadingTaken)), None
        )
        if logged is None:
            return
        found = tile(case, logged)
        self.speaker.play(found.verdict)
        self._said = card.id
        next_point = point_words(card, self.speaker.how_much)
        self.speaker.say(f"{verdict_words(found)}. {next_point}")

    def _on_changed(self) -> None:
        card = self._session.card() if self._session.job else None
        if card is not None and card.id != self._said and self.speaker.how_much != "off":
            self._say_point()

    def _say_point(self) -> None:
        from bench_lamp.views.spoken import point_words

        card = self._session.card() if self._session.job else None
        if card is not None and card.entry is not None and card.entry.is_reading:
            self._said = card.id
            self.speaker.say(point_words(card, self.speaker.how_much))
