"""ROM images: read-outs that are opened and compared with the profile's sums."""

from bench_lamp.board import Profile
from bench_lamp.board.chips import RomImage
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.cards.commands import ChooseFile, FileKind, ReadFiles
from bench_lamp.cards.logic_words import part_name
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import CHIP_OFF
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.stages.selftest.cell_views import list_picture
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import ListPicture
from bench_lamp.stages.selftest.result_cards import onward

ALL_RIGHT = "Every sum is as the profile has it."
#: Images whose differences are told below the picture.
MOST_TOLD = 3


def _card(case: Case, hand: Hand, item: Item) -> Card:
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
        cautions=(CHIP_OFF, cautions.STATIC),
        leads=(Lead(kind="how", text=_where(case.profile, image)),),
        entry=Entry(kind="text", field="image", hint="path of the file"),
        why_heading="What it should be",
        why=(
            *notes,
            f"{image.size} bytes, CRC-32 {image.crc32}." + _pair(image),
            "Binary, Intel HEX or S-record; two pieces as one.bin + two.bin. Files are only read.",
        ),
        runners=(
            Choice(key="Alt+f", text="choose a file …", command=ChooseFile(FileKind.IMAGE, name)),
        ),
    )


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
        id="selftest-result:images",
        kind=item.name,
        title="All images are right" if not wrong else f"{', '.join(wrong)} not right",
        choices=(
            onward(is_bad=bool(wrong)),
            Choice(
                key="2", text="Read one again", focus=item.id, cell=(wrong or list(item.cells))[0]
            ),
        ),
        why_heading="What they are",
        why=tuple(f"{n}: {texts[n][1].text}." for n in wrong if texts[n][1].text) or (ALL_RIGHT,),
        can_skip=False,
    )


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    name = current_cell(case, hand, item)
    if not text:
        return Refused(what="No file was named", mend="Type its path, or Alt+F to choose one.")
    return Accepted(command=ReadFiles(FileKind.IMAGE, name, (text,)))


def _picture(case: Case, hand: Hand, item: Item) -> ListPicture:
    labels = {
        image.id: f"{part_name(case.profile, image.part)}, {image.size} bytes"
        for image in case.profile.images
    }
    told = case.state.logic.images
    words = tuple(f"{n}: {body.text}" for n, (_, body) in told.items() if body.text)
    return list_picture(case, hand, item, labels, words[:MOST_TOLD])


#: A read-out may be looked at with the board off.
KIND = KindCards(card=_card, take=_take, picture=_picture, needs_power=False)
