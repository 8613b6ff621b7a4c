"""Open ends: what must be made good before the board leaves, each with the one entry that ends it."""

from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board.blocks import FuseBlock
from bench_lamp.board.self_tests import SettingsTest
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.trims.items import trim_items
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import ActionDone, Body, FuseFitted, MainsSeen
from bench_lamp.journal.open_events import LoadHung, OpenEndKind

#: What each kind of open end is to somebody who does not repair boards; the part's name goes in.
CUSTOMER: dict[OpenEndKind, str] = {
    "left out": "{} is not fitted; what it does will not work yet.",
    "on order": "{} is on order and not fitted yet.",
    "temporary part": "{} is a stand-in for now and has to be changed once more.",
    "link": "A link ({}) is still open.",
    "line": "A line ({}) is still cut.",
    "socket": "A test part is still in the socket of {}.",
    "bridge": "{} is bridged for a test.",
    "paint": "{} is set, but not secured with paint yet.",
}


class LooseEnd(Struct, frozen=True, kw_only=True):
    """One thing that is not as it should stay."""

    #: Names it: `out:J3`, `on order:C4`.
    id: str
    target: str
    #: What is to be done, the verb first.
    title: str
    #: What the choice says that ends it.
    done: str
    #: As the sheet says it to the customer.
    customer: str
    #: What ends it; empty where a stage must.
    log: tuple[Body, ...] = ()
    go: str = ""
    #: Whether hands go in for it.
    is_by_hand: bool = True


@remembered
def loose_ends(case: Case) -> tuple[LooseEnd, ...]:
    """Return everything that is still open, in the order in which it is made good."""
    return (
        *_off(case),
        *_hung(case),
        *_noted(case),
        *_fuses(case),
        *_limiter(case),
        *_sticker(case),
        *_settings(case),
        *_trims(case),
        *_left_out(case),
    )


def _off(case: Case) -> Iterator[LooseEnd]:
    """What was pulled, lifted or opened for a test, the fuse of the wake-up among it."""
    for name in sorted(case.state.out):
        is_fuse = isinstance(case.profile.block(name), FuseBlock)
        yield LooseEnd(
            id=f"out:{name}",
            target=name,
            title=f"Put {name} back first",
            done=f"{name} is back",
            customer=f"{'Fuse ' if is_fuse else ''}{name} is still {'out' if is_fuse else 'off'}.",
            log=(ActionDone(action="refitted", target=name),),
        )


def _hung(case: Case) -> Iterator[LooseEnd]:
    for name in sorted(case.state.hung):
        yield LooseEnd(
            id=f"hung:{name}",
            target=name,
            title=f"Take {name} off first",
            done=f"{name} is off",
            customer=f"A test load ({name}) still hangs on it.",
            log=(LoadHung(load=name, is_on=False),),
        )


def _noted(case: Case) -> Iterator[LooseEnd]:
    for end in case.state.open_ends:
        yield LooseEnd(
            id=f"{end.what}:{end.target}",
            target=end.target,
            title=f"{end.target}: {end.text or end.what}",
            done="Made good",
            customer=CUSTOMER[end.what].format(end.target),
            log=(replace(end, is_made_good=True),),
        )


def _fuses(case: Case) -> Iterator[LooseEnd]:
    """A holder that was found empty or bridged, and not fitted since."""
    for fuse in case.profile.fuses:
        found = case.state.fuses.get(fuse.id, "")
        if found in {"none", "bridged"} and fuse.id not in case.state.renewed:
            yield LooseEnd(
                id=f"fuse:{fuse.id}",
                target=fuse.id,
                title=f"Fit {fuse.id}, {fuse.rating}: the holder was {'empty' if found == 'none' else found}",
                done=f"{fuse.rating} is in",
                customer=f"Fuse {fuse.id} is {'missing' if found == 'none' else 'bridged'}.",
                log=(FuseFitted(fuse=fuse.id, text=str(fuse.rating)),),
            )


def _limiter(case: Case) -> Iterator[LooseEnd]:
    limiter = case.state.power.limiter
    if limiter and case.state.power.is_live:
        yield LooseEnd(
            id=f"limiter:{limiter}",
            target=limiter,
            title=f"Take the {limiter} out: it runs on less than the mains",
            done="Say how it is fed now",
            customer=f"It was run through a {limiter} only.",
        )


def _sticker(case: Case) -> Iterator[LooseEnd]:
    """A sticker that no longer tells what the selector is set to."""
    seen, told = case.state.mains.get("selector", ""), case.state.mains.get("sticker", "")
    if case.profile.mains and seen and told and case.mains.status == "mismatch" and seen != told:
        yield LooseEnd(
            id="sticker",
            target="sticker",
            title=f"Write {seen} on the sticker: it says {told}",
            done=f"It says {seen} now",
            customer=f"The sticker says {told}, the selector stands at {seen}.",
            log=(MainsSeen(place="sticker", text=seen),),
        )


def _settings(case: Case) -> Iterator[LooseEnd]:
    """Settings that were lost, or that nobody set again after the repair."""
    if case.state.logic.is_empty:
        return
    from bench_lamp.case.selftest_list import selftest_items

    status = {item.id: item.status for item in selftest_items(case)}
    for test in case.profile.self_tests:
        if isinstance(test, SettingsTest) and status.get(test.id) in {"again", "partly", "bad"}:
            yield LooseEnd(
                id=f"settings:{test.id}",
                target=test.name,
                title=f"Set again: {', '.join(test.set_again) or test.name}",
                done="Do it on Self-test",
                customer="Its settings are not set again yet.",
                go="selftest",
                is_by_hand=False,
            )


def _trims(case: Case) -> Iterator[LooseEnd]:
    for item in trim_items(case):
        if item.status == "under way":
            yield LooseEnd(
                id=f"trim:{item.trim.id}",
                target=item.trim.name,
                title=f"{item.trim.name}: begun, and not ended",
                done="Go on with it on Trim",
                customer=f"{item.trim.name} is not set yet.",
                go="trim",
                is_by_hand=False,
            )


def _left_out(case: Case) -> Iterator[LooseEnd]:
    for name, note in case.state.checks.items():
        if note.word == "left out":
            check = CheckId.read(name)
            yield LooseEnd(
                id=f"left out:{name}",
                target=check.target,
                title=f"{check.target}: left out in the cold round",
                done="Do it on Cold checks",
                customer=f"{check.target} was not checked.",
                go="cold",
                is_by_hand=False,
            )
