"""Sounds of verdicts, made here: two short tones, rising for high, falling for low, level for within."""

import io
import math
import struct
import wave

#: Samples a second, seconds of a tone, and how loud it is, as a share.
RATE, TONE_S, LOUD = 22_050, 0.09, 0.4
#: Hertz of the tones by verdict; anything else is one tone.
_TONES = {
    "within": (880.0, 880.0), "edge": (880.0, 830.0), "low": (740.0, 520.0), "high": (740.0, 1050.0),
    "absent": (300.0, 300.0, 300.0),
}  # fmt: skip


def sound_of(verdict: str) -> bytes:
    """Return a verdict's sound as a WAV file: 16 bits, mono.

    >>> sound_of("within")[:4], len(sound_of("absent")) > len(sound_of("low"))
    (b'RIFF', True)
    """
    samples: list[int] = []
    count = round(RATE * TONE_S)
    for hertz in _TONES.get(verdict, (660.0,)):
        for n in range(count):
            # Rises and falls softly: no click.
            swell = math.sin(math.pi * n / count) ** 0.5
            samples.append(round(32_767 * LOUD * swell * math.sin(2 * math.pi * hertz * n / RATE)))
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(struct.pack(f"<{len(samples)}h", *samples))
    return out.getvalue()
