"""Whether the self-tests still ask for something; their list is loaded when one has told anything."""

from bench_lamp.case.case import Case


def has_bad_logic(case: Case) -> bool:
    """Whether a self-test showed something bad since the last repair."""
    if case.state.logic.is_empty:
        return False
    from bench_lamp.case.selftest_list import selftest_items

    return any(item.bad for item in selftest_items(case))


def selftest_doubts(case: Case) -> tuple[str, ...]:
    """Say which self-tests still show something bad, or failed and were not repeated."""
    if case.state.logic.is_empty:
        return ()
    from bench_lamp.case.selftest_list import selftest_items

    bad = (f"{i.name}: {i.words}." for i in selftest_items(case) if i.is_bad)
    again = (f"{i.name}: not repeated since." for i in selftest_items(case) if i.status == "again")
    return (*bad, *again)


def is_waiting(case: Case) -> bool:
    """Whether the board could tell more, and nobody said that it has told enough."""
    if case.state.marks.get("selftest") == "done":
        return False
    from bench_lamp.case.selftest_list import OPEN, selftest_items

    return any(item.status in OPEN for item in selftest_items(case))
