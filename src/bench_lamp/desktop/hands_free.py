"""Readings that log themselves: what the linked meters notice goes to the lit card."""

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.cards.card import Card
from bench_lamp.cards.clock import DueClock
from bench_lamp.cards.drawn import judge_drawn
from bench_lamp.cards.settled import (
    as_typed,
    asked_mode,
    dial_words,
    mains_hertz,
    wanted_mode,
    which_point,
)
from bench_lamp.desktop.metering import MeterLink
from bench_lamp.desktop.pedal import Pedal
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.stream_watch import StreamWatch
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.device import Address, Device
from bench_lamp.instrument.linked import Linked, changed, output_of, scale_of
from bench_lamp.instrument.sample import Sample
from bench_lamp.instrument.settle import Happening, Noticed, is_open_like

#: What has a thread that did not end in time: destroyed while it runs, it would end the program.
_LEFT: list[MeterLink] = []
#: Meters at a time.
MOST = 4
PEDAL_DOES = "Once takes the reading, twice takes it back, long holds."
#: How often it is seen whether a reading is due, in milliseconds.
DUE_MS = 500


class HandsFree(QObject):
    """Takes settled values for the lit card; a meter on volts and one on current may be linked at once."""

    #: A live value, or whether a meter is there, is another one.
    changed = Signal()
    #: A reading was logged by a meter itself.
    logged = Signal()
    #: Another meter was linked, or let go of.
    linked = Signal()
    #: A scope's screen for the open job, as a picture's bytes.
    pictured = Signal(bytes)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self.links: list[MeterLink] = []
        self._mode, self._is_taking, self._is_held = "", False, False
        session.changed.connect(self._want)
        session.logged.connect(self._on_logged)
        session.take_live = self.take_live
        #: Looks whether a reading is due for which the probe rests on its point.
        self._clock = QTimer(self, interval=DUE_MS)
        self._clock.timeout.connect(self._look_at_clock)
        self._allowed_for = 0.0
        self.pedal = Pedal(once=self.take_live, twice=session.undo, held=self.hold, parent=self)
        #: Watches what is read over some time.
        self._streams = StreamWatch(session)

    def link(
        self, known: Address | Linked, open_it: Callable[[Address], Device] | None = None
    ) -> MeterLink | None:
        """Link a meter; None where there are as many as there can be, or it is linked already."""
        linked = known if isinstance(known, Linked) else Linked(address=known)
        if len(self.links) >= MOST or any(x.linked.address == linked.address for x in self.links):
            return None
        made = MeterLink(linked, open_it)
        made.changed.connect(self._on_changed)
        made.noticed.connect(self._on_noticed)
        made.told.connect(self._on_told)
        made.pictured.connect(self.pictured)
        made.taught.connect(self._on_taught)
        made.idles.connect(self._on_idle)
        self.links.append(made)
        self._mode = ""
        self._want()
        self._tell()
        return made

    def say(self, number: int, text: str) -> None:
        """Take one thing that is said of an instrument, or have it try something; raise what is wrong with it."""
        word, _, rest = text.strip().partition(" ")
        if word == "pedal":
            self.pedal.use(rest)
            self._tell()
            self._session.notified.emit(f"Pedal: {self.pedal.name or 'none'}", PEDAL_DOES, False)
            return
        link = self.links[number]
        output = output_of(text)
        if output is not None:
            link.set_output(*output)
        elif not self._have_it_do(link, word, rest):
            link.linked = changed(link.linked, text)
            if word == "accuracy" and link.linked.accuracy:
                self._session.use_meter(link.linked.accuracy)
            link.trip_requested.emit(link.linked.trip_amps)
            self._tell()

    def _have_it_do(self, link: MeterLink, word: str, rest: str) -> bool:
        """Have an instrument try something; whether the word is one for that."""
        match word:
            case "on" | "off" if not rest:
                link.switch_requested.emit(word == "on")
            case "screen":
                if not self._session.job:
                    hint = "Open one: its photographs get the screen."
                    raise BenchLampError("No job is open", hint=hint)
                link.screen_requested.emit()
            case "wave":
                hertz = mains_hertz(self._session.case)
                link.wave_requested.emit(int(rest) if rest.isdecimal() else 1, hertz)
            case "range" if rest:
                link.range_wanted.emit(scale_of(rest))
            case "send" if rest:
                link.send_requested.emit(rest)
            case "teach" if rest:
                link.teach_requested.emit(rest)
            case _:
                return False
        return True

    def all_off(self) -> None:
        """Switch every linked supply off at once."""
        for link in self.links:
            if link.linked.address.family.endswith("supply"):
                link.switch_requested.emit(False)

    @Slot()
    def _on_changed(self) -> None:
        """A live value came: what takes more than one of them is watched."""
        self._streams.take(self.live, is_held=self._is_held)
        self.changed.emit()

    @Slot(str, str)
    def _on_told(self, what: str, mend: str) -> None:
        """Say what came of trying something."""
        self._session.notified.emit(what, mend, False)

    @Slot(object)
    def _on_idle(self, link: MeterLink) -> None:
        """Say what was drawn since a supply was switched on, against the model of the board under way."""
        case = self._session.case
        found = judge_drawn(case, link.drawn, *link.set_to) if case is not None else None
        if found is not None:
            link.against = found.words
            self._session.notified.emit(found.words, found.mend, found.is_bad)

    @Slot(object, str)
    def _on_taught(self, link: MeterLink, pattern: str) -> None:
        """Read its lines by the pattern from now on."""
        address = replace(link.linked.address, family=pattern)
        link.linked = replace(link.linked, address=address)
        link.link_requested.emit(address)
        self._session.notified.emit("Its lines are taught", "It is read by them now.", False)
        self._tell()

    def let_go(self, link: MeterLink) -> None:
        """Let go of a meter."""
        if link in self.links:
            self.links.remove(link)
            if not link.stop():
                _LEFT.append(link)
            self._tell()

    def stop(self) -> None:
        """Let go of all, the pedal too."""
        self.pedal.use("")
        for link in tuple(self.links):
            self.links.remove(link)
            if not link.stop():
                _LEFT.append(link)

    def _tell(self) -> None:
        self._session.is_metered = bool(self.links)
        self._clock.start() if self.links else self._clock.stop()
        limits = [x.linked.limits for x in self.links if x.linked.limits is not None]
        self._session.book.measure_with(min(limits, key=lambda x: x.volts) if limits else None)
        self._session.refresh_case()
        self.linked.emit()
        self.changed.emit()

    def hold(self) -> None:
        """Let nothing log itself, or let it again: a foot switch, or a key."""
        self._is_held = not self._is_held
        words = "Held: nothing logs itself" if self._is_held else "Readings log themselves again"
        self._session.notified.emit(words, "", False)

    @property
    def live(self) -> Sample | None:
        """The live value that the lit card is about; None where no meter shows one."""
        shown = [link.live for link in self.links if link.live is not None]
        wanted = [s for s in shown if s.mode == self._mode]
        return next(iter((*wanted, *shown)), None)

    def take_live(self) -> bool:
        """Take the value that shows, by key, switch or tap; whether there is one."""
        sample = self.live
        if sample is None:
            return False
        if not any(link.is_alike for link in self.links if link.live is sample):
            self._session.notified.emit("It moves", "Hold the probe still, then once more.", False)
            return True
        for link in self.links:
            link.taken.emit()
        self._take(sample)
        return True

    @Slot()
    def _want(self) -> None:
        mode = asked_mode(self._session.card()) if self._session.job else ""
        if mode and mode != self._mode:
            self._mode = mode
            for link in self.links:
                link.mode_wanted.emit(mode)

    @Slot()
    def _look_at_clock(self) -> None:
        """Have a resting probe's value taken once it is due."""
        card = self._session.card() if self._session.job else None
        clock = card.clock if card is not None else None
        if not isinstance(clock, DueClock) or not clock.rests or not self._is_due(card):
            return
        if clock.due != self._allowed_for:
            self._allowed_for = clock.due
            for link in self.links:
                link.allowed.emit()

    def _is_due(self, card: Card | None) -> bool:
        """Whether a card's moment has come; of a card without one, always."""
        clock = card.clock if card is not None else None
        if not isinstance(clock, DueClock) or not clock.rests:
            return True
        return self._session.clock().timestamp() >= clock.due

    @Slot(object, object)
    def _on_noticed(self, link: MeterLink, noticed: Noticed) -> None:
        session = self._session
        if self._is_held or not session.job:
            return
        if noticed.what is Happening.DOUBLE_TAP:
            session.undo()
        elif noticed.what is Happening.SETTLED:
            if not self._is_for_another(noticed.sample) and self._is_due(session.card()):
                self._take(noticed.sample)
        elif noticed.what is Happening.DRIFTS:
            session.notified.emit("Still moving", "Wait, or F8 takes it as it is.", False)

    def _is_for_another(self, sample: Sample) -> bool:
        """Whether another meter stands at the mode that is wanted, and this one does not."""
        modes = {link.live.mode for link in self.links if link.live is not None}
        return sample.mode != self._mode and self._mode in modes

    def _take(self, sample: Sample) -> None:
        """Take a value for the lit card; where it wants none, or another mode, nothing is logged."""
        session = self._session
        card, case = session.card(), session.case
        if case is None or card is None or session.is_waiting or session.is_asking:
            return
        if not wanted_mode(card):
            return
        dial = dial_words(card, sample)
        if dial is not None:
            session.notified.emit(*dial, False)
            return
        name = next((x.name for x in self.links if x.live and x.live.mode == sample.mode), "meter")
        typed = as_typed(sample, name)
        session.measured.emit(typed.text)
        is_open = is_open_like(sample)
        asked = None if is_open else which_point(case, session.hand, card, typed, sample)
        self._is_taking = True
        if asked is not None:
            session.ask(asked)
        else:
            session.take_typed(typed)

    @Slot()
    def _on_logged(self) -> None:
        if self._is_taking:
            self._is_taking = False
            self.logged.emit()
