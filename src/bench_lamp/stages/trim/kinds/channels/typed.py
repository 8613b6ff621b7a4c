"""What is typed of channels: a reading, a table of them, a turn."""

import re

from bench_lamp.board.trims import Channel, ChannelsTrim
from bench_lamp.cards.card import Accepted, Answer, Asked, Choice, Refused
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.receiving import nearest, wanted_hz
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Body
from bench_lamp.journal.trim_events import TrimRead
from bench_lamp.stages.trim.kinds.channels.cards import current, kilohertz, megahertz, parts
from bench_lamp.stages.trim.turns_of import looks_like_turn, said_turn
from bench_lamp.units import UnitError, parse_quantity

_BARE = re.compile(r"\d+(?:[.,]\d+)?")


def take_channels(case: Case, hand: Hand, trim: ChannelsTrim, text: str) -> Answer:
    """Take a counter’s reading, a table of channels and readings, or a turn of a trimmer."""
    channel = current(case, hand, trim) or trim.channels[0]
    trimmers = tuple(c.trimmer for c in trim.channels if c.trimmer)
    try:
        if looks_like_turn(text) or text.split()[0].lower() in {t.lower() for t in trimmers}:
            said = said_turn(trim, trimmers, channel.trimmer, text)
            if said is not None:
                return Accepted(log=said.log, cell=channel.id)
        values = _table(trim, channel, text)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    log: tuple[Body, ...] = tuple(
        TrimRead(trim=trim.id, what=name, value=value, resolution=digit, source="counter")
        for name, (value, digit) in values.items()
    )
    if len(values) == 1:
        return _one(trim, channel, log, next(iter(values.values()))[0], next(iter(values)))
    return Accepted(log=log, cell="")


def _one(
    trim: ChannelsTrim, channel: Channel, log: tuple[Body, ...], hertz: float, named: str
) -> Answer:
    """Ask, where a reading makes another channel."""
    other = nearest(trim, hertz)
    if other.id == named or abs(hertz - wanted_hz(trim, other)) > 10 * trim.allowed:
        return Accepted(log=log, cell="")
    moved = TrimRead(trim=trim.id, what=other.id, value=hertz, source="counter")
    return Asked(
        question=f"{megahertz(hertz)} makes channel {other.id}, not {named}. Which was set?",
        choices=(
            Choice(key="1", text=f"Channel {other.id}", log=(moved,)),
            Choice(key="2", text=f"Channel {channel.id}: it is that far off", log=log),
        ),
    )


def _table(trim: ChannelsTrim, channel: Channel, text: str) -> dict[str, tuple[float, float]]:
    """Return value and last digit by channel: one reading, or pairs of channel and reading."""
    words = text.replace(";", " ").replace("=", " ").replace(":", " ").split()
    words = _joined(words)
    known = {c.id.lower(): c.id for c in trim.channels}
    if len(words) == 1:
        return {channel.id: _hertz(words[0])}
    if len(words) % 2:
        raise UnitError(
            f"“{text[:24]}” are not pairs",
            hint="Write channel and reading: 16 135.4001 6 134.9002.",
        )
    found = {}
    for name, value in zip(words[::2], words[1::2], strict=True):
        key = name.lower().removeprefix("ch")
        if key not in known:
            raise UnitError(
                f"No channel is called {name}", hint=f"Known are {', '.join(known.values())}."
            )
        found[known[key]] = _hertz(value)
    return found


def _joined(words: list[str]) -> list[str]:
    """Join a unit that stands apart from its figure; drop the word channel."""
    joined: list[str] = []
    for word in words:
        if word.lower() in {"mhz", "khz", "hz"} and joined:
            joined[-1] += word
        elif word.lower() not in {"channel", "ch", "|", ","}:
            joined.append(word.strip(",|"))
    return joined


def _hertz(text: str) -> tuple[float, float]:
    """Read a frequency; a plain figure is in megahertz."""
    if _BARE.fullmatch(text):
        read = parse_quantity(text.replace(",", "."))
        value, digit = read.value * 1e6, read.resolution * 1e6
    else:
        read = parse_quantity(text, "Hz")
        value, digit = read.value, read.resolution
    if not 0 < value < 1e12:
        raise UnitError(f"{text} is no frequency", hint="Write what the counter shows: 135.4001.")
    return value, digit


def preview_channels(case: Case, hand: Hand, trim: ChannelsTrim, text: str) -> Preview:
    """Say how far off the reading in the entry is."""
    from bench_lamp.case.trims.receiving import injection_of
    from bench_lamp.trim.channels import deviation

    channel = current(case, hand, trim)
    try:
        values = _table(trim, channel, text) if channel is not None else {}
    except BenchLampError:
        return Preview()
    if len(values) != 1 or channel is None:
        return Preview("", f"{len(values)} channels", "") if values else Preview()
    ((name, (value, digit)),) = values.items()
    one = next(c for c in trim.channels if c.id == name)
    found = deviation(
        injection_of(trim),
        round(one.hertz),
        value,
        allowed_hz=trim.allowed,
        counter_ppm=trim.counter_ppm,
        digit_hz=digit,
    )
    return Preview(found.word, kilohertz(found.channel_hz), parts(found.ppm))
