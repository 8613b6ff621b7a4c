"""Channels of a receiver: what the counter must show, which trimmer, and what the readings can claim."""

from bench_lamp.board.trims import Adjuster, Channel, ChannelsTrim, TrimReading, TurnTrim
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.instrument_trim import trim_request
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.trims.receiving import COLD_TAKEN, Counted, counted, in_socket_order, wanted_hz
from bench_lamp.case.trims.rounds import warm_words
from bench_lamp.case.trims.turning import turning_of
from bench_lamp.journal.events import Body
from bench_lamp.journal.trim_events import AdjusterTurned, TrimStep
from bench_lamp.stages.trim.steps import cautions_of, ended_as
from bench_lamp.units import Band
from bench_lamp.units.turns import turn_words


def megahertz(hertz: float) -> str:
    """Write a frequency to ten hertz: `135.40000 MHz`."""
    return f"{hertz / 1e6:.5f}\u202fMHz"


def kilohertz(hertz: float) -> str:
    """Write a deviation with its sign: `+1.24 kHz`."""
    return f"{hertz / 1e3:+.2f}\u202fkHz".replace("-", "−")


def parts(ppm: float) -> str:
    """Write parts per million with their sign."""
    return f"{ppm:+.1f}\u202fppm".replace("-", "−")


def current(case: Case, hand: Hand, trim: ChannelsTrim) -> Channel | None:
    """Return the channel under the lamp: the one picked, else the next that was not counted or is off."""
    found = counted(case, trim)
    picked = next((c for c in trim.channels if c.id == hand.cell), None)
    if picked is not None:
        return picked
    order = in_socket_order(trim)
    turned = next((c for c in order if c.id in found.turned), None)
    fresh = next((c for c in order if c.id not in found.found), None)
    wrong = next((c for c in order if not found.is_right(c.id)), None)
    return turned or fresh or wrong or next((c for c in order if c.id in found.cold), None)


def channels_card(case: Case, hand: Hand, trim: ChannelsTrim) -> Card | None:
    """Ask for the next channel; say what they share; None when all are right."""
    found = counted(case, trim)
    channel = current(case, hand, trim)
    if found.common is not None and len(found.found) == len(trim.channels) and not hand.cell:
        return _common_card(case, trim, found)
    return _channel_card(case, trim, channel, found) if channel is not None else None


def as_turning(trim: ChannelsTrim, channel: Channel) -> TurnTrim:
    """Return one channel as a trimmer with its reading of the counter."""
    want, room = wanted_hz(trim, channel), trim.allowed / trim.multiplier
    return TurnTrim(
        id=trim.id,
        name=channel.id,
        kind="single",
        adjusters=(Adjuster(id=channel.trimmer or "its trimmer", most=0.25, backlash=0.0),),
        readings=(
            TrimReading(
                id=channel.id,
                name=channel.id,
                unit="Hz",
                band=Band(want - room, want + room),
                doubt=room / 20,
            ),
        ),
        slopes={channel.trimmer or "its trimmer": {channel.id: trim.slope / trim.multiplier}},
    )


def _take_cold(trim: ChannelsTrim) -> Choice:
    step = TrimStep(trim=trim.id, step=COLD_TAKEN)
    return Choice(key="Alt+t", text="Take all as they were counted, not warm", log=(step,))


def _channel_card(case: Case, trim: ChannelsTrim, channel: Channel, found: Counted) -> Card:
    want = megahertz(wanted_hz(trim, channel))
    now = turning_of(case, as_turning(trim, channel))
    is_off = now.is_read and not found.is_right(channel.id)
    is_cold = channel.id in found.cold and found.is_right(channel.id)
    title = (
        f"{'Warm? Count' if is_cold else 'Count'} channel {channel.id}{' again' if is_cold else ''}"
    )
    log: tuple[Body, ...] = ()
    if is_off:
        title = f"Turn {channel.trimmer or 'its trimmer'} until it shows {want}"
        if now.advice is not None and channel.trimmer:
            _, by = now.advice.turns[0]
            title = f"{channel.trimmer} {turn_words(by)}"
            log = (AdjusterTurned(trim=trim.id, adjuster=channel.trimmer, turns=by),)
    warm = warm_words(case, trim)
    return Card(
        id=f"trim:{trim.id}:{channel.id}:{'turn' if is_off else 'read'}:{now.count}",
        kind=f"Channel {channel.id} · {len(found.found)} of {len(trim.channels)} counted",
        title=title,
        cautions=cautions_of(case, trim),
        leads=_where(trim, channel),
        expect=want,
        expect_notes=(
            f"± {trim.allowed / 1e3:g}\u202fkHz · counter ± {trim.counter_ppm:g}\u202fppm",
        ),
        entry=Entry(
            kind="text",
            field="counter",
            target=channel.id,
            hint=f"{wanted_hz(trim, channel) / 1e6:.4f}",
        ),
        choices=(Choice(key="1", text="Turned", log=log),) if log else (),
        asks=None if log else trim_request(case, trim, [channel.id]),
        runners=(_take_cold(trim),) if is_cold else (),
        why=_why(trim, channel, found, warm),
        marks_cell=bool(log),
    )


def _where(trim: ChannelsTrim, channel: Channel) -> tuple[Lead, ...]:
    knob = f"set the knob to channel {channel.id}, {channel.hertz / 1e6:g}\u202fMHz"
    found = [Lead(kind="how", text=knob)]
    if trim.red:
        found.append(Lead(kind="red", text=trim.red))
    if channel.socket:
        text = f"crystal in {channel.socket}, trimmer {channel.trimmer}"
        found.append(Lead(kind="hand", text=text))
    return tuple(found)


def _why(trim: ChannelsTrim, channel: Channel, found: Counted, warm: str) -> tuple[str, ...]:
    side = "−" if trim.injection == "low" else "+"
    times = f", ÷ {trim.multiplier}" if trim.multiplier > 1 else ""
    rule = (
        f"{channel.hertz / 1e6:g} {side} {trim.if_ / 1e6:g}{times} MHz, injection {trim.injection}."
    )
    off, said = found.found.get(channel.id), []
    if off is not None:
        doubt = f"{off.doubt_hz / 1e3:.2f}\u202fkHz"
        said.append(f"It is {kilohertz(off.channel_hz)} off, {parts(off.ppm)}.")
        said.append(f"The counter alone may be off by ± {doubt}.")
    return (
        *((f"It is {warm}.",) if warm else ()),
        *said,
        rule,
        "All at once: 16 135.4001 6 134.9002 …",
    )


def _common_card(case: Case, trim: ChannelsTrim, found: Counted) -> Card:
    assert found.common is not None
    ppm, first = parts(found.common), in_socket_order(trim)[0].id
    end = ended_as(trim, "left", f"all off by {ppm}: counter or reference")
    return Card(
        id=f"trim:{trim.id}:common",
        kind="All channels alike",
        title=f"All are off by {ppm}: no trimmer does that",
        cautions=cautions_of(case, trim),
        choices=(
            Choice(key="1", text="The counter was off: leave it", log=(end,), focus=""),
            Choice(key="2", text="Set each channel all the same", focus=trim.id, cell=first),
        ),
        why_heading="What they share",
        why=(
            "The counter’s own reference, or one oscillator that all channels use.",
            "Hold the counter against a known frequency first.",
        ),
    )


def channels_beside(case: Case, hand: Hand, trim: ChannelsTrim, down: int, along: int) -> Pick:
    """Go along the channels in the order of their sockets."""
    ids = [c.id for c in in_socket_order(trim)]
    channel = current(case, hand, trim)
    at = ids.index(channel.id) if channel is not None else 0
    return Pick(focus=trim.id, cell=ids[(at + (down or along)) % len(ids)])
