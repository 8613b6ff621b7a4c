"""The practice bench as rows: the lessons, and a drill's score beside those of the advice and the fixed order."""

from collections.abc import Sequence

from msgspec import Struct

from bench_lamp.cards.card import Card, Choice, Entry
from bench_lamp.cards.commands import BeginDrill

#: Steps of a rival that are shown.
MOST_STEPS = 60


class PracticeRow(Struct, frozen=True, kw_only=True):
    """One row: a title, words under it, and what stands at its right end."""

    title: str
    sub: str = ""
    right: str = ""
    verdict: str = ""
    is_head: bool = False


class LessonLine(Struct, frozen=True):
    """A lesson as it stands: title, idea, best minutes, and parts replaced for nothing; below 0 for never."""

    title: str
    idea: str
    minutes: float
    wrong: int


def lesson_rows(lines: Sequence[LessonLine]) -> tuple[PracticeRow, ...]:
    """Return the lessons as rows."""
    found = []
    for number, line in enumerate(lines, 1):
        is_done = line.minutes >= 0
        wrong = f", {line.wrong} wrong" if line.wrong > 0 else ""
        found.append(
            PracticeRow(
                title=f"{number}  {line.title}",
                sub=line.idea,
                right=f"{line.minutes:.0f}\u202fmin{wrong}" if is_done else "",
                verdict=("within" if line.wrong <= 0 else "edge") if is_done else "",
            )
        )
    return tuple(found)


def practice_card(lines: Sequence[LessonLine], picked: int) -> Card:
    """Return the card of the practice bench: begin a lesson, or a board of one's own choice."""
    line = lines[picked]
    number = picked + 1
    return Card(
        id="practice",
        kind="Practice",
        title=f"Lesson {number}: {line.title}",
        entry=Entry(kind="text", field="drill", hint="orrery hard 7"),
        choices=(
            Choice(
                key="Alt+b",
                text="Begin this lesson",
                note="on a bench of its own; nothing of the shop is touched",
                command=BeginDrill(f"lesson {number}"),
            ),
            Choice(
                key="Alt+a",
                text="Begin it without the advice",
                command=BeginDrill(f"lesson {number} alone"),
            ),
        ),
        why_heading="Or any board",
        why=(
            "A word of its kind, easy, middle or hard, and a number: orrery hard 7.",
            "With alone behind it the advice stays away; with logic, a chip or contact of the logic is bad.",
            "Hard boards have two faults, a customer who may be wrong, and a meter that lies a little.",
        ),
        can_skip=False,
    )
