"""Open-format exports: readings as CSV, the whole job as JSON."""

import csv
import io
import json
import math
import string
import unicodedata
from datetime import UTC

from bench_lamp import __version__
from bench_lamp.case.case import Case
from bench_lamp.case.disturbed import DONE
from bench_lamp.case.readings import MODE_UNITS, judged, reading_text, tone_judgement
from bench_lamp.journal import Reading
from bench_lamp.journal.rows import VERSION
from bench_lamp.units.plain import to_plain

#: A cell that begins with one of these could be run as a formula by a spreadsheet.
_FORMULA = ("=", "+", "-", "@")
#: Blanks of every kind, also those that have no width.
_BLANK = f"{string.whitespace}\u00a0\u200b\u200c\u200d\u2060\ufeff\x00"
_LINE = tuple("\t\r\n")
COLUMNS = (
    "time (UTC)",
    "target",
    "name",
    "mode",
    "value",
    "unit",
    "verdict",
    "power",
    "meter",
    "stale",
)


def readings_csv(case: Case) -> str:
    """Return the standing readings, one a row, values in base units.

    Text cells that a spreadsheet could take for a formula get an apostrophe in
    front; numbers are left as numbers.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for reading in case.state.readings:
        writer.writerow(_row(case, reading))
    return out.getvalue()


def _row(case: Case, reading: Reading) -> list[str]:
    point = case.profile.point(reading.target)
    if reading.mode == "tone":
        verdict = tone_judgement(reading).word
    else:
        is_volts = reading.mode in {"dc V", "ac V"}
        verdict = judged(case, point, reading).judgement.word if point and is_volts else ""
    value = "OL" if math.isinf(reading.value) else f"{reading.value:.9g}"
    return [
        reading.at.astimezone(UTC).strftime("%Y-%m-%d %H:%M:%S"),
        _safe(reading.target),
        _safe(point.name if point else ""),
        reading.mode,
        value if reading.mode not in {"tone", "look", *DONE} else reading_text(reading),
        MODE_UNITS[reading.mode],
        verdict,
        reading.power,
        _safe(reading.meter),
        "yes" if reading.is_stale else "",
    ]


def _safe(text: str) -> str:
    # What stands before is cut off by some, and a wide sign is taken for the narrow one by others.
    plain = unicodedata.normalize("NFKC", text).lstrip(_BLANK)
    return f"'{text}" if plain.startswith(_FORMULA) or text[:1] in _LINE else text


def job_json(case: Case) -> str:
    """Return the whole job: its events as they are in the journal, struck ones too."""
    state = case.state
    data = {
        "format": "bench-lamp job 1",
        "written_by": f"Bench Lamp {__version__}",
        "job": state.job,
        "tag": state.tag,
        "profile": state.profile_id,
        "events": [
            {
                "id": logged.event.id,
                "at": logged.event.at.astimezone(UTC).isoformat(timespec="milliseconds"),
                "struck_by": logged.struck_by,
                "version": VERSION,
                "body": to_plain(logged.event.body, whole=True),
            }
            for logged in state.tape
        ],
    }
    return json.dumps(data, ensure_ascii=False, indent=1)
