"""Cards of lanes and ROM images: what to write, what to open."""

from bench_lamp.board import Profile
from bench_lamp.board.chips import Lane, RomImage
from bench_lamp.cards.card import Card, Choice, Entry, Lead, Outcome
from bench_lamp.cards.commands import ChooseFile, FileKind
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now, lane_bits, lane_of
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.journal.logic_events import RoundBegun
from bench_lamp.logic.lanes import Bit, words_for
from bench_lamp.stages.selftest.result_cards import onward
from bench_lamp.units.words import opening

#: Draft that asks for more pairs although every bit was tried.
MORE = "more"
#: Bad bits that are told one by one.
MOST_BAD = 4
ALL_RIGHT = "Every sum is as the profile has it."


def lane_how(lane: Lane) -> tuple[Lead, ...]:
    """Say how a lane is written and read."""
    return (Lead(kind="how", text=lane.how),) if lane.how else ()


def lane_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask for write/read pairs, until every bit was written both ways."""
    lane = lane_of(case.profile, item.id)
    bits = lane_bits(case, lane.id)
    untried = [b.number for b in bits if b.state == "not tried"]
    if bits and not untried and not hand.draft.get(MORE):
        return _lane_told(item, lane, bits)
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
        outcomes=() if bits else (
            Outcome(reads="always 1", means="stuck high: a short, or an output that fights"),
            Outcome(reads="always 0", means="stuck low"),
            Outcome(reads="follows another", means="tied: a bridge, a bent pin"),
            Outcome(reads="now so, now so", means="floating: nothing drives it"),
        ),
        why_heading="",
        why=tuple(why),
        runners=runners,
    )  # fmt: skip


def _lane_told(item: Item, lane: Lane, bits: tuple[Bit, ...]) -> Card:
    """Say what a lane shows, in how many words, and go on."""
    bad = [b for b in bits if b.is_bad]
    why = [f"{lane.lines[b.number]}: wrong in {b.wrong} of {b.of} words." for b in bad[:MOST_BAD]]
    if len(bad) > MOST_BAD:
        why.append(f"And {len(bad) - MOST_BAD} more.")
    return Card(
        id=f"selftest-told:{item.id}",
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
    )  # fmt: skip


def capture(lane: Lane) -> Choice:
    """Offer to read a lane from a file."""
    return Choice(
        key="Alt+f", text="read a capture file …", command=ChooseFile(FileKind.CAPTURE, lane.id)
    )


def image_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask for the file that was read out of a ROM; say what the last one was."""
    name = current_cell(case, hand, item)
    if not name:
        return _images_done(case, item)
    image = next(i for i in case.profile.images if i.id == name)
    told = case.state.logic.images.get(name)
    notes = (f"{told[1].file}: {told[1].verdict}. {told[1].text}",) if told else ()
    return Card(
        id=f"selftest:images:{name}",
        kind="ROM images",
        title=f"Open the image of {image.id}",
        effort=f"{len(item.cells) - item.done} to go",
        cautions=("Off before a chip comes out. Static: wrist to the frame.",),
        leads=(Lead(kind="how", text=_where(case.profile, image)),),
        entry=Entry(kind="text", field="image", hint="path of the file"),
        why_heading="What it should be",
        why=(*notes, f"{image.size} bytes, CRC-32 {image.crc32}." + _pair(image),
             "Binary, Intel HEX or S-record; two pieces as one.bin + two.bin. Files are only read."),
        runners=(Choice(key="Alt+f", text="choose a file …", command=ChooseFile(FileKind.IMAGE, name)),),
    )  # fmt: skip


def _where(profile: Profile, image: RomImage) -> str:
    chip = profile.chip(image.part)
    return f"read {image.part} out" + (f": {chip.place}" if chip and chip.place else "")


def _pair(image: RomImage) -> str:
    if not image.odd:
        return ""
    return f" A file of twice the size is taken as {image.id} and {image.odd}, parted byte by byte or in the middle."


def _images_done(case: Case, item: Item) -> Card:
    marks = cells_now(case, item.id)
    wrong = [name for name, m in marks.items() if m.mark != "good"]
    texts = case.state.logic.images
    return Card(
        id="selftest-told:images",
        kind=item.name,
        title="All images are right" if not wrong else f"{', '.join(wrong)} not right",
        choices=(
            onward(is_bad=bool(wrong)),
            Choice(key="2", text="Read one again", focus=item.id, cell=(wrong or list(item.cells))[0]),
        ),
        why_heading="What they are",
        why=tuple(f"{n}: {texts[n][1].text}." for n in wrong if texts[n][1].text) or (ALL_RIGHT,),
        can_skip=False,
    )  # fmt: skip
