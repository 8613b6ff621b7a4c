"""Sums of whole numbers: decimal, hex, binary with lanes, checksums of typed bytes."""

import binascii
import re
from collections.abc import Iterator

from bench_lamp.sums.values import Sum, SumError, SumResult, SumValues, text, words

MOST_BITS = 64


def whole(text: str) -> int:
    """Read a whole number: `165`, `A5`, `0xA5`, `$A5`, `A5h`, `%10100101`, `1010 0101b`.

    >>> whole("165"), whole("$A5"), whole("1010 0101b"), whole("a5h")
    (165, 165, 165, 165)
    """
    tidy = text.replace(" ", "").replace("_", "").lower()
    for shape, base in (
        (r"(?:0x|\$)([0-9a-f]+)", 16),
        (r"([0-9a-f]+)h", 16),
        (r"(?:0b|%)([01]+)", 2),
        (r"([01]+)b", 2),
        (r"([0-9]+)", 10),
        (r"([0-9a-f]+)", 16),
    ):
        if match := re.fullmatch(shape, tidy):
            found = int(match[1], base)
            if found.bit_length() > MOST_BITS:
                break
            return found
    raise SumError(f"“{text[:24]}” is no whole number", hint="Write 165, $A5, A5h or 10100101b.")


def _number(given: SumValues) -> Iterator[SumResult]:
    value = whole(given.text("number"))
    bits = max(8 * -(-value.bit_length() // 8), 8)
    digits = f"{value:0{bits}b}"
    yield words("decimal", str(value))
    yield words("hex", f"{value:0{bits // 4}X}")
    yield words("binary", " ".join(digits[i : i + 4] for i in range(0, bits, 4)))
    high = [f"D{n}" for n in range(bits) if value >> n & 1]
    yield words("lines high", " ".join(high) or "none")
    low = [f"D{n}" for n in range(bits) if not value >> n & 1]
    yield words("lines low", " ".join(low) or "none")
    if bits == 8:
        yield words("turned over", f"{value ^ 0xFF:02X}, as inverting drivers show it")


def _checksum(given: SumValues) -> Iterator[SumResult]:
    tidy = re.sub(r"0x|[\s,$]", "", given.text("bytes").lower())
    if not tidy or len(tidy) % 2 or not re.fullmatch(r"[0-9a-f]+", tidy):
        raise SumError("These are no whole bytes", hint="Write two hex digits a byte: 3E 01 D3 10.")
    data = bytes.fromhex(tidy)
    total = sum(data)
    yield words("bytes", str(len(data)))
    yield words("sum, 8 bits", f"{total & 0xFF:02X}")
    yield words("sum, 16 bits", f"{total & 0xFFFF:04X}")
    yield words("makes the sum 0", f"{-total & 0xFF:02X}")
    folded = 0
    for byte in data:
        folded ^= byte
    yield words("exclusive or", f"{folded:02X}")
    yield words("CRC-16", f"{binascii.crc_hqx(data, 0xFFFF):04X}")
    yield words("CRC-32", f"{binascii.crc32(data):08X}")


SUMS = (
    Sum(
        id="number",
        title="Decimal, hex, binary, lines",
        words="bits lanes convert",
        givens=(text("number", "number", hint="165 · $A5 · 10100101b"),),
        formula="Σ bₙ·2ⁿ",
        source="positional numbers",
        work=_number,
        assumes="plain figures are decimal",
    ),
    Sum(
        id="checksum",
        title="Checksum of typed bytes",
        words="crc rom sum",
        givens=(text("bytes", "bytes", hint="3E 01 D3 10"),),
        formula="Σ mod 2ⁿ, ⊕, polynomials 0x1021 and 0x04C11DB7",
        source="CRC-16 of ITU-T V.41, from FFFF; CRC-32 of ISO 3309",
        work=_checksum,
    ),
)
