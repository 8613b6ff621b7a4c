"""What each kind of event does to the draft of a job: one step a kind."""

from collections.abc import Callable
from typing import Any, get_args

from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.draft import Draft
from bench_lamp.journal.events import (
    ActionDone,
    CameWith,
    CheckNoted,
    Complaint,
    Event,
    Finding,
    FuseFitted,
    GateMarked,
    JobClosed,
    JobOpened,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    SeriesTaken,
    StageMarked,
    Swept,
)
from bench_lamp.journal.logic_state import LogicBody, without_part
from bench_lamp.journal.memory_events import (
    FaultCalled,
    PhotoTaken,
    PracticeSaid,
    Signed,
    TimeSaid,
    WaitsFor,
)
from bench_lamp.journal.open_events import (
    ComplaintAsked,
    JobWithdrawn,
    KindCorrected,
    LoadHung,
    OpenEnd,
)
from bench_lamp.journal.part_events import PartMeasured, PlateRead, StockMoved
from bench_lamp.journal.proof_events import ProofBody
from bench_lamp.journal.state import PowerState
from bench_lamp.journal.trim_events import PlaceTried, TrimBody

#: What opens something for a test, and ends it.
TAKEN_OUT, PUT_BACK = {"removed for test", "link opened"}, {"refitted", "link closed"}


def _opened(draft: Draft, event: Event, body: JobOpened) -> None:
    draft.fields |= {"tag": body.tag, "profile_id": body.profile, "opened_at": event.at}


def _power(draft: Draft, event: Event, body: PowerConfirmed) -> None:
    before = draft.fields.get("power")
    if body.power == "live":
        draft.fields["last_live"] = event.id
        if before is None or not before.is_live:
            draft.fields["live_since"] = event.at
    elif before is None or before.is_live:
        draft.fields["last_off"] = event.id
    if body.power != "live":
        draft.fields["live_since"] = None
    draft.fields["power"] = PowerState(
        power=body.power, at=event.at, against=body.against, below=body.below, limiter=body.limiter
    )


def _replaced(draft: Draft, event: Event, body: PartReplaced) -> None:
    draft.add("replaced", body)
    draft.change(event, body.part)
    _renewed(draft, body.part)
    for what in ("on order", "temporary part", "left out"):
        draft.open_ends.pop((what, body.part), None)
    if draft.profile is not None and body.part == draft.profile.mains_fuse:
        draft.mains["fuse"] = body.fitted


def _acted(draft: Draft, event: Event, body: ActionDone) -> None:
    """Pulling a thing for a test changes the condition, not the board; putting it back proves it anew."""
    draft.add("actions", body)
    if body.action in TAKEN_OUT:
        draft.out.add(body.target)
    elif body.action in PUT_BACK:
        draft.out.discard(body.target)
        draft.last_change = event.id
    else:
        draft.change(event, body.target)


def _gate(draft: Draft, event: Event, body: GateMarked) -> None:
    """A gate's marks add up until it is passed or failed anew."""
    before = draft.cold.get("gates", {}).get(body.gate, ())
    draft.keep("gates", body.gate, (*before, body))


def _renewed(draft: Draft, part: str) -> None:
    """What was found at a part that is new no longer stands."""
    known = draft.profile.images if draft.profile is not None else ()
    images = frozenset(image.id for image in known if image.part == part)
    draft.logic = without_part(draft.logic, part, images)
    for found in draft.cold.values():
        for key in [k for k in found if CheckId.read(k).target == part]:
            del found[key]


def _open_end(draft: Draft, _: Event, body: OpenEnd) -> None:
    """An open end stands until it is made good; one of its kind and place at a time."""
    draft.open_ends.pop((body.what, body.target), None)
    if not body.is_made_good:
        draft.open_ends[body.what, body.target] = body


def _closed(draft: Draft, event: Event, body: JobClosed) -> None:
    draft.fields |= {"closed_at": event.at, "closed_proved": body.proved}


STEPS: dict[type, Callable[[Draft, Event, Any], None]] = {
    JobOpened: _opened,
    Complaint: lambda draft, _, body: draft.fields.update(complaint=body.text),
    CameWith: lambda draft, _, body: draft.fields.update(came_with=body.text),
    MainsSeen: lambda draft, _, body: draft.mains.update({body.place: body.text}),
    Finding: lambda draft, _, body: draft.add("findings", body),
    PowerConfirmed: _power,
    ReadingTaken: lambda draft, event, body: draft.readings.append((draft.count, event, body)),
    ActionDone: _acted,
    PartReplaced: _replaced,
    StageMarked: lambda draft, _, body: draft.marks.update({body.stage: body.mark}),
    Note: lambda draft, _, body: draft.add(
        "advice" if body.about == "advice" else "notes", body.text
    ),
    JobClosed: _closed,
    KindCorrected: lambda draft, _, body: draft.fields.update(profile_id=body.profile),
    JobWithdrawn: lambda draft, e, _: draft.fields.update(closed_at=e.at, is_withdrawn=True),
    FuseFitted: lambda draft, _, body: draft.keep("fuses", body.fuse, body.text),
    Swept: lambda draft, _, body: draft.keep("swept", body.target, body.beeped),
    SeriesTaken: lambda draft, _, body: draft.keep("series", body.target, body),
    StockMoved: lambda draft, _, body: draft.add("stock", body),
    PlateRead: lambda draft, _, body: draft.fields.update(serial=body.serial),
    PartMeasured: lambda draft, _, body: draft.keep("measured", body.part, body),
    CheckNoted: lambda draft, _, body: draft.keep("checks", body.check, body),
    GateMarked: _gate,
    OpenEnd: _open_end,
    ComplaintAsked: lambda draft, event, body: draft.fields.update(
        complaint_asked=(event.id, body.is_gone), complaint_where=body.where
    ),
    LoadHung: lambda draft, _, body: (draft.hung.add if body.is_on else draft.hung.discard)(
        body.load
    ),
    **dict.fromkeys(get_args(LogicBody), Draft.tell),
    **dict.fromkeys(get_args(TrimBody), Draft.trim),
    **dict.fromkeys(get_args(ProofBody), Draft.prove),
    PracticeSaid: lambda draft, _, body: draft.add("right_here", body),
    FaultCalled: lambda draft, _, body: None,
    PhotoTaken: lambda draft, _, body: draft.add("photos", body),
    WaitsFor: lambda draft, _, b: draft.fields.update(waits=b if b.what else None),
    Signed: lambda draft, _, body: draft.fields.update(signed=body.by),
    TimeSaid: lambda draft, _, body: draft.fields.update(minutes_said=body.minutes),
    PlaceTried: lambda draft, _, body: draft.shaken.update({body.place: body.word}),
}


def take(draft: Draft, event: Event) -> None:
    """Take one more event into a draft."""
    draft.count += 1
    step = STEPS.get(type(event.body))
    if step is not None:
        step(draft, event, event.body)
