"""The workshop's end of the session: which kind of board is described, and what is said of it."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import Signal

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.change import Change
from bench_lamp.cards.card import Accepted, Answer, Card, Choice
from bench_lamp.case.case import Case
from bench_lamp.desktop.bundling import Bundling
from bench_lamp.desktop.growing import Growing, Then
from bench_lamp.desktop.mapping import MapDesk, MapWork
from bench_lamp.desktop.navigation import Clock, Navigation, utc_now
from bench_lamp.journal import Event, JobState

if TYPE_CHECKING:
    from bench_lamp.reason.own.values import Seen
    from bench_lamp.views.workshop.proof_cards import Proved

#: Files that are read as tables, parts lists or netlists.
TEXTS = frozenset((".csv", ".txt", ".tsv", ".net", ".cir", ".sp"))
#: Stands for the workshop while no kind is chosen.
NO_KIND = "?"
#: Files with events of another bench, or a backup.
JOURNALS = frozenset((".benchjob", ".benchbackup", ".sqlite"))


class Describing(Navigation):
    """Has the workshop open on one kind of board, beside the job or without one."""

    def __init__(
        self, library: ProfileLibrary, events: Iterable[Event], *, clock: Clock = utc_now
    ) -> None:
        super().__init__(library, events, clock=clock)
        self.growing = Growing(library)
        self._bench: Case | None = None
        self.bundling = Bundling(
            library, self.growing, lambda what, more: self.notified.emit(what, more, False)
        )
        self.mapping = MapWork(
            self,
            MapDesk(
                library.own, self.growing, lambda what, mend: self.notified.emit(what, mend, True)
            ),
        )
        #: What was asked of the solver last, and what it said.
        self._asked: tuple[Profile, Seen | None] | None = None
        self.proved: Proved | None = None

    #: A file is to be chosen for a picture of this side.
    picture_asked = Signal(str)
    #: A table of the shop’s parts was dropped: its text.
    stock_brought = Signal(str)
    #: A file with events of another bench, or a backup.
    journal_brought = Signal(object)
    #: Words to look for in the journal; and what was found: words, hits.
    search_requested = Signal(str)
    #: A photograph of the open job.
    photo_brought = Signal(Path)
    said_found = Signal(str, object)
    #: Tells the search which words still matter.
    want_words: Callable[[str], None] = staticmethod(lambda words: None)
    #: A picture of the board on the bench came in, to compare: its file.
    board_pictured = Signal(Path)

    def _accept(self, answer: Accepted) -> None:
        raise NotImplementedError

    def describe(self, profile_id: str = "") -> None:
        """Open the workshop on a kind of board, the job's without one; or close it."""
        if self.describing and not profile_id:
            self._leave_workshop()
            return
        case = self.case
        self.describing = profile_id or (case.profile.id if case is not None else NO_KIND)
        self._clear()
        self._bench = None
        self.changed.emit()

    def _leave_workshop(self) -> None:
        self.describing, self._bench = "", None
        self._clear()
        self.changed.emit()

    @property
    def workshop_case(self) -> Case | None:
        """The open job, if it is of the kind that is described; else an empty job of that kind."""
        profile = self.library.get(self.describing)
        if profile is None:
            return None
        case = self.case
        if case is not None and case.profile.id == profile.id:
            return case
        if self._bench is None or self._bench.profile is not profile:
            state = JobState(job="", tag="", profile_id=profile.id)
            self._bench = Case(profile=profile, state=state, meter=self.meter, rules=self.rules)
        return self._bench

    def card(self) -> Card | None:
        """Return the lit card: the workshop's while that is open."""
        if not self.describing:
            return super().card()
        from bench_lamp.views.workshop.cards import choose_card, workshop_card

        if self.bundling.looked is not None:
            from bench_lamp.views.workshop.bundle_cards import bundle_card

            return bundle_card(self.bundling.looked)
        case = self.workshop_case
        if case is not None and self.mapping.desk.fresh is not None and "map" in self.hand.draft:
            from bench_lamp.views.workshop.map_cards import corners_card

            return corners_card(self.mapping.desk.fresh.corners)
        if case is None:
            return choose_card(self.library.offered(ships=False))
        return workshop_card(case, self.hand, self.proof_of(case), self._base(case))

    def _base(self, case: Case) -> Profile | None:
        """Return the profile that the one on the table extends; None for none."""
        return self.library.get(case.profile.extends) if case.profile.extends else None

    def bring_in(self, path: Path) -> None:
        """Look into a bundle that somebody sent; or take a profile, and begin a job on it."""
        if path.suffix in JOURNALS:
            self.journal_brought.emit(path)
            return
        if path.name.endswith(".benchboard"):
            self.bundling.look(path, lambda: self.describe(NO_KIND))
            return

        def begin(profile_id: str, done: str) -> None:
            if done:
                self.journal.say(done)
            if profile_id:
                self.begin_job(profile_id)

        self.bundling.adopt(path, begin)

    def _take_bundle(self, how: str) -> None:
        def then(profile_id: str) -> None:
            if profile_id:
                self.describe(profile_id)
                self.notified.emit("Taken in", profile_id, False)
            else:
                self._leave_workshop()

        self.bundling.take(how, then)

    def proof_of(self, case: Case) -> "Proved | None":
        """Return what the solver says of the kind on the table; asks it where that is wanted."""
        draft = self.hand.draft
        if "proof" not in draft and "good" not in draft:
            return None
        from bench_lamp.views.workshop.good_board import seen_of

        seen = seen_of(case) or None if "good" in draft else None
        asked = (case.profile, seen)
        if self._asked is None or self._asked[0] is not asked[0] or self._asked[1] != seen:
            self.proved, self._asked = None, asked
            self.growing.do(lambda: _proved(*asked), lambda found: self._on_proved(asked, found))
        return self.proved

    def _on_proved(self, asked: object, found: object) -> None:
        from bench_lamp.views.workshop.proof_cards import Proved

        if asked is self._asked and isinstance(found, Proved):
            self.proved = found
            self.changed.emit()

    def workshop_answer(self, text: str) -> Answer | None:
        """Return what was typed in the workshop means; a kind that is chosen is opened at once."""
        from bench_lamp.views.workshop.answers import take_workshop
        from bench_lamp.views.workshop.choosing import take_kind

        case = self.workshop_case
        if case is not None and "variant" in self.hand.draft:
            self.growing.begin(text, self.describe, extends=case.profile.id)
            return None
        if case is not None and "give" in self.hand.draft:
            self.bundling.save(case.profile.id, text, self.clock())
            return Accepted(draft={})
        if case is not None:
            return take_workshop(case, self.hand, text)
        return take_kind(text, self.library.offered(ships=False))

    def workshop_choose(self, choice: Choice) -> bool:
        """Take a choice of the workshop; say whether it was one."""
        draft = choice.draft
        if "describe" in draft:
            self.describe(draft["describe"])
        elif "begin" in draft:
            self.growing.begin(draft["begin"], self.describe)
        elif "pick" in draft:
            self.picture_asked.emit(draft["pick"])
        elif "straight" in draft:
            self.mapping.keep_as_it_is()
        elif "bundle" in draft:
            self._take_bundle(draft["bundle"])
        elif not self.describing or (case := self.workshop_case) is None:
            return False
        else:
            self._step_on(case, draft)
        return True

    def _step_on(self, case: Case, draft: Mapping[str, str]) -> None:
        if "export" in draft:
            self.bundling.export(case.profile.id)
            return
        from bench_lamp.views.workshop.answers import chosen

        grow = chosen(case, draft, self.proved, self._base(case))
        if grow:
            after = {"map": draft["map"]} if "map" in draft else {}
            self._accept(Accepted(grow=grow, draft=after))
        else:
            self._set_hand(draft=draft)
            self.changed.emit()

    def lay_out(self, draft: Mapping[str, str]) -> None:
        """Go on in the workshop with these answers, and show it."""
        self._set_hand(focus="", draft=draft)
        self.changed.emit()

    def learn(self, changes: Sequence[Change], draft: Mapping[str, str]) -> None:
        """Have the profile learn, then go on with these answers."""
        self._accept(Accepted(grow=tuple(changes), draft=draft))

    def take_dropped(self, path: Path) -> None:
        """Take a file that was dropped on the window: a profile or bundle, or a picture of the board."""
        if path.suffix in JOURNALS:
            self.journal_brought.emit(path)
        elif path.name.endswith((".board.yaml", ".benchboard")):
            self.bring_in(path)
        elif self.workshop_case is not None and path.suffix.lower() in TEXTS:
            self.bundling.read_text(path, self.paste)
        elif path.suffix.lower() == ".csv":
            self.bundling.read_text(path, self.stock_brought.emit)
        elif self.workshop_case is not None:
            self.mapping.add(path)
        elif self.job and self.case is not None and self.case.profile.pictures:
            from bench_lamp.cards.aside import photo_question

            self._ask(photo_question(str(path)))
        elif self.job:
            self.photo_brought.emit(path)
        else:
            self.notified.emit("A picture belongs to a board", "Workshop: Ctrl+E.", False)

    def look_for(self, words: str) -> None:
        """Look for words in everything that was ever logged."""
        self.want_words(words)
        self.search_requested.emit(words)

    def paste(self, text: str) -> None:
        """Take a table of points that was pasted: shown first, and then taken."""
        if self.workshop_case is not None:
            self.lay_out({"paste": text})

    def step_back(self) -> None:
        """Esc in the workshop: out of the step, off the picked part, or out of the workshop."""
        if self.is_asking:
            self._ask(None)
        elif self.mapping.desk.fresh is not None:
            self.mapping.desk.leave()
            self.changed.emit()
        elif self.bundling.looked is not None:
            self.bundling.looked = None
            self._leave_workshop()
        elif self.hand.draft or self.hand.focus:
            self.hand = replace(self.hand, draft={}, focus="")
            self.changed.emit()
        else:
            self._leave_workshop()

    def grow(self, changes: Sequence[Change], then: Then) -> None:
        """Have the profile on the table learn: the workshop's, or the open job's."""
        case = self.workshop_case if self.describing else self.case
        if case is not None:
            self.growing.change(case.profile.id, changes, then)

    def unchange(self, *, again: bool = False) -> None:
        """Take the last change of the profile back, or make it again."""
        act = self.growing.redo if again else self.growing.undo
        if not act(self.describing):
            self.notified.emit("Nothing to undo" if not again else "Nothing to redo", "", False)


def _proved(profile: Profile, seen: "Seen | None") -> "Proved":
    """Solve the sound board of a profile, and fit it where that would help; takes its time."""
    from bench_lamp.reason.own.fit import fitted
    from bench_lamp.reason.own.proof import prove
    from bench_lamp.views.workshop.proof_cards import Proved

    proof = prove(profile)
    wants_fit = proof is not None and (proof.misses or seen)
    return Proved(proof, fitted(profile, seen) if wants_fit else (), seen is not None)
