"""The stage Hand-back: the advice, the sheet, and the end of the job."""

from bench_lamp.journal.events import JobClosed, Note
from bench_lamp.plan import prove
from bench_lamp.plan.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.plan.rails import bad_points
from bench_lamp.plan.selftest.items import items
from bench_lamp.plan.situation import Situation


def handback_card(situation: Situation) -> Card:
    """Ask for the advice, then offer the sheet and the end of the job."""
    if situation.state.closed_at is not None:
        return Card(
            id="handback-closed",
            title="Handed back",
            choices=_papers(),
            why_heading="Closed",
            why=("The job is closed. Its papers can be made again at any time.",),
            can_skip=False,
        )
    if situation.focus == "advice":
        return Card(
            id="handback-advice",
            title="What should be watched next time?",
            entry=Entry(kind="text", field="advice", hint="one sentence for the sheet"),
            why_heading="What for",
            why=("It is printed on the sheet and stands on the shelf at the next visit.",),
        )
    doubts = open_ends(situation)
    return Card(
        id="handback",
        title="Print the sheet and hand it back",
        cautions=doubts,
        choices=(
            *_papers(),
            Choice(key="5", text="Add advice", focus="advice"),
            Choice(key="0", text="Hand back and close the job", note=_close_note(situation),
                   log=(JobClosed(proved=prove.is_proved(situation)),), command="shelf"),
        ),
        why_heading="On the sheet",
        why=("Findings, readings before and after, parts, advice and cautions.",),
        can_skip=False,
    )  # fmt: skip


def _papers() -> tuple[Choice, ...]:
    return (
        Choice(key="1", text="Job sheet as PDF", command="save-pdf"),
        Choice(key="2", text="Job sheet as HTML", command="save-html"),
        Choice(key="3", text="Readings as CSV", command="save-csv"),
        Choice(key="4", text="Whole job as JSON", command="save-json"),
    )


def _close_note(situation: Situation) -> str:
    return "" if prove.is_proved(situation) else "the sheet will say that it is not proved"


def open_ends(situation: Situation) -> tuple[str, ...]:
    """Return what speaks against handing the board back now."""
    found = []
    done, total = prove.progress(situation)
    bad = bad_points(situation)
    if bad:
        found.append(f"{', '.join(p.id for p in bad)} is not right.")
    elif done < total:
        found.append(f"Not proved: {done} of {total} points read since the last change.")
    found += [f"{i.name}: {i.words}." for i in items(situation) if i.is_bad]
    if situation.state.out:
        found.append(f"{', '.join(sorted(situation.state.out))} is still off from a test.")
    if situation.state.power.is_live:
        found.append("The board is still marked live.")
    return tuple(found)


def take_advice(situation: Situation, text: str) -> Answer:
    """Take the advice for the sheet."""
    tidy = " ".join(text.split())
    if not tidy:
        return Refused(what="Nothing was typed", mend="Write one sentence, or leave it with Esc.")
    return Accepted(log=(Note(text=tidy, about="advice"),), focus="")
