"""Cards that walk through cells: matrices, coils, sounds, memory, displays, pins, settings."""

from bench_lamp.board.self_tests import MatrixTest, SelfTest, SettingsTest
from bench_lamp.cards.card import Card, Choice, Entry, Lead, Outcome
from bench_lamp.cards.pin_card import pin_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now, code_now
from bench_lamp.case.selftest_list import Item, cell_name, current_cell
from bench_lamp.journal.logic_events import CellsMarked, SelfTestSeen
from bench_lamp.stages.selftest.patterns import keepers
from bench_lamp.stages.selftest.result_cards import item_done, settings_lost
from bench_lamp.stages.selftest.walk import after, marks_for
from bench_lamp.units.words import opening

#: Draft that asks which cell showed in place of the one that was worked.
SHOWED = "showed"


def how(test: SelfTest) -> tuple[Lead, ...]:
    """Say how a test is run, and where it shows."""
    found = (Lead(kind="how", text=test.how), Lead(kind="hand", text=test.place))
    return tuple(lead for lead in found if lead.text)


def walk_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask how one cell behaves, with a key for each way."""
    test = case.profile.self_test(item.id)
    assert test is not None
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item)
    if hand.draft.get(SHOWED) == cell:
        return _showed(case, item, cell)
    verb = {
        "switches": "Work",
        "lamps": "Watch",
        "coils": "Watch",
        "sounds": "Hear",
        "harness": "Step",
    }
    left = len(item.cells) - item.done
    hurts = (
        ("Coils fire. Fingers off the playfield, one hand on the switch.",)
        if item.kind == "coils"
        else ()
    )
    choices = tuple(
        Choice(key=m.key, text=m.text, draft={SHOWED: cell}, focus=item.id, cell=cell)
        if m.word == "another"
        else Choice(key=m.key, text=m.text, focus=item.id, cell=after(case, item, cell),
                    log=(CellsMarked(test=item.id, cells=(cell,), mark=m.word),))
        for m in marks_for(case, item, cell)
    )  # fmt: skip
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title=f"{verb.get(item.kind, 'Try')} {cell_name(case, item, cell)}",
        effort=f"{left} to go",
        cautions=hurts,
        leads=how(test),
        choices=choices,
        marks_cell=True,
        why_heading="Mind",
        why=_mind(test, cell),
        runners=_rest(case, item, cell),
    )


def _mind(test: SelfTest, cell: str) -> tuple[str, ...]:
    if isinstance(test, MatrixTest) and cell in test.ball:
        return ("A ball works this one: what a finger closes may not close under it.",)
    if isinstance(test, MatrixTest) and test.last_closed:
        return ("It shows the last switch that closed; that one is not stuck. Arrows go anywhere.",)
    special = {s.id for s in getattr(test, "steps", ()) if getattr(s, "special", False)}
    if cell in special:
        return ("This one works without the processor: it tells drive and logic apart.",)
    return ("Arrows go anywhere; one key marks it, and the next is lit.",)


def _rest(case: Case, item: Item, cell: str) -> tuple[Choice, ...]:
    """Offer to call the rest of the row, or all that is left, good."""
    marks = cells_now(case, item.id)
    left = tuple(c for c in item.cells if c not in marks)
    found = []
    row = (
        tuple(c for c in left if c.partition(".")[0] == cell.partition(".")[0])
        if "." in cell
        else ()
    )
    if len(row) > 1 and len(row) < len(left):
        found.append(Choice(key="Alt+r", text="rest of this row good", focus=item.id,
                            log=(CellsMarked(test=item.id, cells=row, mark="good"),)))  # fmt: skip
    if len(left) > 1:
        found.append(Choice(key="Alt+g", text=f"all {len(left)} left are good", focus=item.id,
                            log=(CellsMarked(test=item.id, cells=left, mark="good"),)))  # fmt: skip
    return tuple(found)


def _showed(case: Case, item: Item, cell: str) -> Card:
    return Card(
        id=f"selftest-showed:{cell}",
        kind=item.name,
        title=f"{cell} was worked: what showed?",
        entry=Entry(kind="text", field="showed", hint="row.column, as 2.3"),
        why_heading="What it can mean",
        why=("Two rows or columns changed over show as each other, cell by cell. "
             "With three closed, a shorted diode shows the fourth corner.",),
    )  # fmt: skip


# Memory, displays.


def memory_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask which chips the memory test names."""
    test = case.profile.self_test(item.id)
    assert test is not None
    if item.status in {"good", "bad"} and not (hand.focus == item.id and hand.cell):
        return item_done(case, item)
    letters = getattr(test, "letters", "")
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title="Which chips does it name?",
        effort=f"about {test.seconds:g}\u202fs",
        leads=how(test),
        entry=Entry(
            kind="text", field="memory", hint="C, or C L, or ok" if letters else "1.3, or ok"
        ),
        outcomes=(
            Outcome(reads="one cell", means="that chip"),
            Outcome(reads="a whole bank", means="its select or addresses"),
            Outcome(reads="one bit in all banks", means="the data path"),
        ),
        why_heading="Or by the picture",
        why=(
            "Arrows go to a chip, Enter marks it bad or takes that back; ok calls the rest good.",
        ),
    )


def displays_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask what one digit shows in place of an eight."""
    test = case.profile.self_test(item.id)
    assert test is not None
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item)
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title=opening(f"{cell_name(case, item, cell)}: all lit?"),
        effort=f"{len(item.cells) - item.done} to go",
        cautions=cautions.for_hands_in(case) if not case.state.power.is_live else (),
        leads=how(test),
        entry=Entry(kind="text", field="digit", hint="Enter: all lit · g · all · =0"),
        outcomes=(
            Outcome(reads="g", means="that segment is dark (a top, on to f; g middle)"),
            Outcome(reads="=0", means="it shows a 0 in place of the 8"),
            Outcome(reads="all", means="the whole digit is dark"),
            Outcome(reads="g*", means="that segment is dark in every digit"),
            Outcome(reads="ok", means="this one and all that are left are lit"),
        ),
        why_heading="",
        why=(),
    )


# Pins, settings.


def pins_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask for the level at the next pin that matters when nothing runs."""
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item)
    return pin_card(
        case, cell, focus=item.id, cell=after(case, item, cell), card_id=f"selftest:{item.id}"
    )


def settings_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask whether the settings last, then what is to be set again."""
    test = case.profile.self_test(item.id)
    assert isinstance(test, SettingsTest)
    if test.kept_by and not code_now(case, test.id):
        return Card(
            id=f"selftest:{item.id}",
            kind=item.name,
            title="Are the settings still there after a start?",
            effort=f"about {test.seconds:g}\u202fs",
            leads=how(test),
            choices=tuple(
                Choice(key=key, text=text, log=(SelfTestSeen(test=test.id, code=code),), focus=item.id)
                for key, text, code in (("1", "Kept", "kept"), ("2", "Lost at each start", "lost"))
            ),
            why_heading="What keeps them",
            why=(f"{keepers(case, test)}.",),
        )  # fmt: skip
    if item.status == "bad" and not hand.cell:
        return settings_lost(case, item, test)
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item)
    return Card(
        id=f"selftest:{item.id}",
        kind="To be set again",
        marks_cell=True,
        title=opening(cell),
        effort=f"{len(item.cells) - item.done} to go",
        leads=how(test),
        choices=(
            Choice(key="1", text="Set", log=(CellsMarked(test=item.id, cells=(cell,), mark="done"),),
                   focus=item.id, cell=after(case, item, cell)),
            Choice(key="2", text="Leave it as it is", log=(CellsMarked(test=item.id, cells=(cell,), mark="good"),),
                   focus=item.id, cell=after(case, item, cell)),
        ),
        why_heading="",
        why=(),
    )  # fmt: skip
