"""What is measured and tapped: by the instrument that is linked, or with a finger."""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from bench_lamp.cards.card import Accepted, Typed
from bench_lamp.case.case import Case
from bench_lamp.checks import load_meters
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument import LogicRequest, LogicShown, Request, Shown, TrimRequest, TrimShown
from bench_lamp.journal.events import Body

if TYPE_CHECKING:
    from bench_lamp.desktop.navigation import Navigation as _Base
else:
    # Two bases that are Qt objects would mix up their signals and slots.
    _Base = object


class Measuring(_Base):
    """The window's end of an instrument; mixed into what already is a Qt object."""

    #: Whether an instrument is linked that takes whole requests, and a meter that shows one value.
    is_linked = is_metered = False
    #: Takes the value that the linked meter shows; whether there is one.
    take_live: Callable[[], bool] = staticmethod(lambda: False)

    def tap(self, name: str) -> None:
        """Tap a pin or transistor in a drawing: it beeped, or it did not after all."""
        tapped = self.hand.draft.get("pins", "").split()
        others = [n for n in tapped if n != name]
        pins = others if name in tapped else [*others, name]
        self._set_hand(draft={**self.hand.draft, "pins": " ".join(pins)})
        self.changed.emit()

    def tap_in_time(self, begin_s: float, end_s: float) -> None:
        """Count one blink: when the key went down and up, in seconds of any clock."""
        taps = f"{self.hand.draft.get('taps', '')} {begin_s:.3f}-{end_s:.3f}".strip()
        self._set_hand(draft={**self.hand.draft, "taps": taps})
        self.changed.emit()

    def toggle_ripple(self) -> None:
        """Put the meter on AC for this DC point, or back."""
        self._set_hand(wants_ripple=not self.hand.wants_ripple)
        self.changed.emit()

    def use_meter(self, meter_id: str) -> None:
        """Change the meter whose accuracy is reckoned with."""
        self.meter = load_meters()[meter_id]
        self._case = None
        self.changed.emit()

    def _answer(self, typed: Typed) -> None:
        raise NotImplementedError

    def _accept(self, answer: Accepted) -> None:
        raise NotImplementedError

    def _append(self, job: str, bodies: Sequence[Body], then: Accepted) -> None:
        raise NotImplementedError

    def offer(self) -> str:
        """Say what the linked instrument can do for the lit card; empty for nothing."""
        case, card = self.case, self.card()
        if not self.is_linked or case is None or card is None:
            return ""
        from bench_lamp.cards.instrument import offer

        return offer(case, card)

    def measure(self) -> None:
        """Have the linked instrument take the reading that the lit card wants."""
        case, card = self.case, self.card()
        if case is None or card is None or self.is_waiting:
            return
        from bench_lamp.cards.instrument import request_for

        request = request_for(case, card)
        if self.is_metered and self.take_live():
            return
        if not self.is_linked:
            self.notified.emit(
                "No instrument is linked", "Type the reading; the demo has a meter.", False
            )
        elif request is None:
            self.notified.emit(
                "Nothing to measure on this card", "Enter takes the lit answer.", False
            )
        elif request.needs_power and not case.state.power.is_live:
            self.ask_power()
            self.notified.emit(
                "The board is marked off", "Switch it on and say so, then F8.", False
            )
        else:
            self.measure_requested.emit((case.profile, self.job, request))

    def on_shown(
        self,
        source: str,
        request: Request | LogicRequest | TrimRequest,
        shown: Shown | LogicShown | TrimShown,
    ) -> None:
        """The instrument has measured: take its value, if the card still wants it."""
        from bench_lamp.cards import instrument

        case, card = self.case, self.card()
        if case is None or card is None or instrument.request_for(case, card) != request:
            return
        if isinstance(shown, LogicShown) and isinstance(request, LogicRequest):
            from bench_lamp.cards.instrument_logic import board_result

            self._accept(board_result(case, request, shown, source))
        elif isinstance(shown, TrimShown) and isinstance(request, TrimRequest):
            from bench_lamp.cards.instrument_trim import trim_result

            self._accept(trim_result(case, request, shown, source))
        elif isinstance(shown, Shown) and isinstance(request, Request):
            self._take_shown(case, request, shown, source)

    def _take_shown(self, case: Case, request: Request, shown: Shown, source: str) -> None:
        from bench_lamp.cards import instrument

        if request.kind in instrument.WITHOUT_FIGURE:
            self._accept(instrument.seen(case, request, shown, source))
            return
        text = instrument.shown_text(shown)
        self.measured.emit(text)
        self._answer(Typed(text=text, source=source, shown=shown))

    def take_typed(self, typed: Typed) -> None:
        """Take what an instrument shows as if it were typed."""
        self._answer(typed)

    def take_seen(self, request: Request, shown: Shown, source: str) -> None:
        """Take a test without a figure that an instrument watched."""
        from bench_lamp.cards.instrument import seen

        case = self.case
        if case is not None and not self.is_waiting:
            self._accept(seen(case, request, shown, source))

    def on_unmeasured(self, error: BenchLampError) -> None:
        """The instrument gave nothing usable."""
        self.notified.emit(str(error), error.hint, True)

    def on_read(self, job: str, bodies: tuple[Body, ...]) -> None:
        """A file was read: log what it says to the job it was read for; nothing when stopped."""
        if not bodies:
            self.notified.emit("Stopped; nothing was taken from the file", "", False)
        else:
            self._append(job, bodies, Accepted())
