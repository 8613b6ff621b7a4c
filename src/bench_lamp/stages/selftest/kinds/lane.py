"""Lanes: words that are written and read back, typed or from a capture file."""

from bench_lamp.board.chips import Lane
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Outcome, Refused
from bench_lamp.cards.commands import ChooseFile, FileKind, ReadFiles
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import lane_bits, lane_of, lane_pairs
from bench_lamp.case.selftest_list import Item
from bench_lamp.instrument.protocol import LogicRequest
from bench_lamp.journal.logic_events import LaneRead, RoundBegun
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.lanes import Bit, PairsError, read_pairs, words_for
from bench_lamp.stages.selftest.coverage import covers
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import BitView, LanePicture
from bench_lamp.stages.selftest.result_cards import onward
from bench_lamp.units.words import opening

#: Draft that asks for more pairs although every bit was tried.
MORE = "more"
#: Bad bits that are told one by one.
MOST_BAD = 4


def lane_how(lane: Lane) -> tuple[Lead, ...]:
    """Say how a lane is written and read."""
    return (Lead(kind="how", text=lane.how),) if lane.how else ()


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask for write/read pairs, until every bit was written both ways."""
    lane = lane_of(case.profile, item.id)
    bits = lane_bits(case, lane.id)
    untried = [b.number for b in bits if b.state == "not tried"]
    if bits and not untried and not hand.draft.get(MORE):
        return _lane_result(item, lane, bits)
    trace = Choice(key="Alt+t", text="trace it", go="trace")
    runners = (*((trace,) if any(b.is_bad for b in bits) else ()), capture(lane))
    title = f"Write and read {lane.name}" if not bits else f"{lane.id}: {words_for(bits)}"
    why = [f"Bit 0 is {lane.lines[0]}. Hex, or binary of {len(lane.lines)} digits."]
    if untried:
        why.insert(
            0,
            f"Bits {', '.join(map(str, untried))} were only seen at one level: write the other one too.",
        )
    return Card(
        id=f"selftest:{item.id}",
        kind=lane.name,
        title=opening(title),
        effort=f"about {lane.seconds:g}\u202fs",
        leads=lane_how(lane),
        entry=Entry(kind="text", field="pairs", hint="00>00 FF>FF 55>55 AA>AA"),
        outcomes=()
        if bits
        else (
            Outcome(
                reads="always 1", means="stuck high: a short, or another output driving the line"
            ),
            Outcome(reads="always 0", means="stuck low"),
            Outcome(reads="follows another", means="tied: a bridge, a bent pin"),
            Outcome(reads="reads differently each time", means="floating: nothing drives it"),
        ),
        why_heading="",
        why=tuple(why),
        runners=runners,
        asks=LogicRequest(kind=LogicKind.LANE, target=item.id, mended=case.state.renewed),
    )


def _lane_result(item: Item, lane: Lane, bits: tuple[Bit, ...]) -> Card:
    """Say what a lane shows, in how many words, and go on."""
    bad = [b for b in bits if b.is_bad]
    why = [f"{lane.lines[b.number]}: wrong in {b.wrong} of {b.of} words." for b in bad[:MOST_BAD]]
    if len(bad) > MOST_BAD:
        why.append(f"And {len(bad) - MOST_BAD} more.")
    return Card(
        id=f"selftest-result:{item.id}",
        kind=lane.name,
        title=f"{lane.id}: {words_for(bits)}",
        choices=(
            onward(is_bad=bool(bad)),
            Choice(key="2", text="Write more words", draft={MORE: "1"}, focus=item.id),
            Choice(key="3", text="Begin anew", log=(RoundBegun(test=item.id),), focus=item.id),
        ),
        why_heading="What it says",
        why=tuple(why) or ("Every bit came back both ways. That is no proof of its other inputs.",),
        runners=(capture(lane),),
        can_skip=False,
    )


def capture(lane: Lane) -> Choice:
    """Offer to read a lane from a file."""
    return Choice(
        key="Alt+f", text="read a capture file …", command=ChooseFile(FileKind.CAPTURE, lane.id)
    )


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    lane = lane_of(case.profile, item.id)
    if text.lower().endswith(".csv"):
        return Accepted(command=ReadFiles(FileKind.CAPTURE, lane.id, (text,)))
    try:
        pairs = read_pairs(text, len(lane.lines))
    except PairsError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    wrote, came = zip(*pairs, strict=True)
    return Accepted(log=(LaneRead(lane=lane.id, wrote=wrote, came=came),), draft={}, focus=item.id)


#: Words of a lane that are drawn, the last ones.
LANE_WORDS = 24


def _picture(case: Case, hand: Hand, item: Item) -> LanePicture:
    lane = lane_of(case.profile, item.id)
    bits = lane_bits(case, lane.id)
    shown = lane_pairs(case, lane.id)[-LANE_WORDS:]
    views = tuple(_bit_view(lane, bits, shown, number) for number in range(len(lane.lines)))
    return LanePicture(
        title=f"{lane.id}  {lane.name}", bits=views, covers=covers(case, lane, bits), words=()
    )


def _bit_view(
    lane: Lane, bits: tuple[Bit, ...], shown: list[tuple[int, int]], number: int
) -> BitView:
    state: str = bits[number].state if bits else ""
    shape = "" if state in {"", "not tried"} else "within" if state == "good" else "absent"
    if state == "tied":
        state = f"tied to {', '.join(lane.lines[p] for p in bits[number].partners)}"
    if state == "crossed":
        state = f"crossed with {lane.lines[bits[number].partners[0]]}"
    return BitView(
        line=lane.lines[number],
        state=state,
        shape=shape,
        wrote="".join(str(wrote >> number & 1) for wrote, _ in shown),
        came="".join(str(came >> number & 1) for _, came in shown),
    )


KIND = KindCards(card=_card, take=_take, picture=_picture)
