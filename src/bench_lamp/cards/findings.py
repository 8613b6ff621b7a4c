"""Findings as they are typed: `2 C1`, `leak C1`, `loose connector J3`."""

from typing import get_args

from bench_lamp.case.case import Case
from bench_lamp.journal.events import Finding, Seen

FINDING_MARKS: tuple[Seen, ...] = get_args(Seen)[:-2]


def read_finding(case: Case, text: str) -> Finding | None:
    """Read `2 C1`, `leak C1` or `loose connector J3` as a finding.

    The mark is its number or the beginning of its word; the rest is the place,
    written as the profile writes it when it knows the part.
    """
    lowered = text.lower()
    for number, mark in enumerate(FINDING_MARKS, start=1):
        for word in (mark, mark.split()[0], str(number)):
            head, _, _tail = lowered.partition(" ")
            if lowered == word or lowered.startswith(f"{word} "):
                return Finding(seen=mark, place=_place(case, text[len(word) :].strip()))
            if len(head) > 2 and word.startswith(head):
                return Finding(seen=mark, place=_place(case, text[len(head) :].strip()))
    return None


def _place(case: Case, text: str) -> str:
    known = {part.lower(): part for part in case.profile.part_ids()}
    return known.get(text.lower(), text)
