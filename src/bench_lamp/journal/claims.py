"""Which bench has a job open: said on the shop's server, so that two do not work on one board unawares."""

from bench_lamp.journal.findings import Holder
from bench_lamp.journal.server import JournalServer

#: A bench that was not heard of for so long, in seconds, holds nothing any more.
GONE_S = 40


def claim(
    server: JournalServer, job: str, bench: str, who: str, *, takes_over: bool = False
) -> bool:
    """Say that a bench has a job open; whether it has it now, or another one keeps it."""
    free = (
        ""
        if takes_over
        else (
            f"WHERE claim.bench = excluded.bench OR claim.seen < now() - interval '{GONE_S} seconds'"
        )
    )
    query = (
        "INSERT INTO claim (job, bench, who, since, seen) VALUES (:job, :bench, :who, now(), now()) "
        "ON CONFLICT (job) DO UPDATE SET bench = excluded.bench, who = excluded.who, seen = now(), "
        f"since = CASE WHEN claim.bench = excluded.bench THEN claim.since ELSE now() END {free} RETURNING job"
    )
    return server.one(query, job=job[:80], bench=bench[:80], who=who[:80]) is not None


def let_go(server: JournalServer, bench: str, but: str = "") -> None:
    """Say that a bench has no job open any more, but perhaps one."""
    query = "DELETE FROM claim WHERE bench = :bench AND job <> :but"
    server.one(query, bench=bench[:80], but=but)


def still_here(server: JournalServer, bench: str) -> None:
    """Say that a bench still has open what it had."""
    server.one("UPDATE claim SET seen = now() WHERE bench = :bench", bench=bench[:80])


def holders(server: JournalServer) -> tuple[Holder, ...]:
    """Return who has what open, of the benches that were heard of lately."""
    query = (
        "SELECT job, bench, who, since FROM claim "
        f"WHERE seen >= now() - interval '{GONE_S} seconds' ORDER BY job LIMIT 1000"
    )
    return tuple(
        Holder(job=str(job), bench=str(bench), who=str(who), since=since)
        for job, bench, who, since in server.rows(query)
    )
