"""The table of all channels."""

from bench_lamp.board.trims import Channel, ChannelsTrim
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.receiving import Counted, counted, in_socket_order, wanted_hz
from bench_lamp.stages.trim.kinds.channels.cards import current, kilohertz, parts

HEADS = ("channel", "MHz", "crystal", "trimmer", "must show, MHz", "shows, MHz", "kHz off", "ppm")


def channels_picture(case: Case, hand: Hand, trim: ChannelsTrim) -> BenchPicture:
    """Return the table of all channels."""
    found = counted(case, trim)
    channel = current(case, hand, trim)
    here = channel.id if channel is not None else ""
    shared = found.common
    words = f"All are off by {parts(shared or 0.0)}: the counter or the reference."
    room = f"± {trim.allowed / 1e3:g}\u202fkHz"
    return BenchPicture(
        title=trim.name,
        sub=f"IF {trim.if_ / 1e6:g}\u202fMHz, injection {trim.injection}, {room}",
        heads=HEADS,
        rows=tuple(_row(trim, one, found, here) for one in in_socket_order(trim)),
        spare=(1, 2, 7),
        words=(words,) if shared is not None else (),
    )


def _row(trim: ChannelsTrim, one: Channel, found: Counted, here: str) -> PictureRow:
    off = found.found.get(one.id)
    counted_as = ("", "", "")
    if off is not None:
        counted_as = (
            f"{found.shown[one.id] / 1e6:.5f}",
            kilohertz(off.channel_hz).replace("\u202fkHz", ""),
            f"{off.ppm:+.1f}".replace("-", "−"),
        )
    must = f"{wanted_hz(trim, one) / 1e6:.5f}"
    word = off.word if off is not None else ""
    is_cold = one.id in found.cold and word == "within"
    return PictureRow(
        id=one.id,
        cells=(one.id, f"{one.hertz / 1e6:g}", one.socket, one.trimmer, must, *counted_as),
        verdict="edge" if is_cold else word,
        word="cold" if is_cold else word,
        is_here=one.id == here,
    )
