"""Files of every kind that are read from outside, damaged at random."""

import random
import time
from collections.abc import Callable
from pathlib import Path

from tests.hostile.tally import Tally

from bench_lamp.board import library
from bench_lamp.board.library import ProfileLibrary, shipped_folder
from bench_lamp.board.load import load_profile
from bench_lamp.circuit import compile_tree
from bench_lamp.errors import BenchLampError
from bench_lamp.logic.capture import read_capture
from bench_lamp.logic.image_file import read_image
from bench_lamp.reason.power.dictionary_cache import cached_dictionary
from bench_lamp.stages.selftest.samples import samples_folder

#: What parsers stumble over.
TOKENS = (
    b"\x00", b"\xff\xfe", b"\xed\xa0\x80", b"{{{{[[[[", b"- - - - ", b"? ? ? ", b"&a *a ", b"!!python/name:os.system ",
    b".nan", b".inf", b"1e400", b"9" * 400, b"- " * 100, b"[" * 500, b'"\\ud800"', b"id: ", b"extends: x\n", b"\r",
    b":00000001FF\n", b":02000004FFFFFC\n", b":0400000001020304F2\n", b"S30500000000FA\n", b",,,,,,", b"\xe2\x88\x9e",
    b"NaN", b"w0,r0\n", b"%", b"\t", b"\n" * 50, b"x" * 70_000,
)  # fmt: skip
HEX = b"".join(f":10{a:04X}00{'5A' * 16}{-(16 + (a >> 8) + (a & 255) + 16 * 0x5A) & 255:02X}\n".encode()
               for a in range(0, 2048, 16)) + b":00000001FF\n"  # fmt: skip
#: Longest that one file may take, in seconds.
MOST_S = 2.0


def mutated(raw: bytes, chance: random.Random) -> bytes:
    """Return bytes with one to eight damages in them."""
    data = bytearray(raw)
    for _ in range(chance.choice((1, 1, 2, 3, 8))):
        at = chance.randrange(len(data) + 1)
        span = chance.choice((1, 4, 60, 900))
        kind = chance.randrange(7)
        if kind == 0 and data:
            data[min(at, len(data) - 1)] ^= 1 << chance.randrange(8)
        elif kind == 1:
            del data[at : at + span]
        elif kind == 2:
            data[at:at] = data[at : at + span]
        elif kind == 3:
            data[at:at] = chance.choice(TOKENS)
        elif kind == 4:
            del data[at:]
        elif kind == 5:
            other = chance.randrange(len(data) + 1)
            data[at : at + span] = data[other : other + span]
        else:
            data[at : at + span] = bytes(chance.randrange(256) for _ in range(min(span, 60)))
    return bytes(data)


def _compiled(path: Path) -> object:
    return library._read_compiled(path)


def targets(folder: Path) -> list[tuple[str, bytes, Callable[[Path], object]]]:
    """Return each kind of file: its name, a sound one, and what reads it."""
    cache = folder / "cache"
    known = ProfileLibrary(cache=cache)
    profiles = known.all()
    tree = compile_tree(next(p for p in profiles if p.id == "tessenby-orrery-nights"))
    cached_dictionary(tree, cache)
    (compiled,) = cache.glob("profiles-*.json")
    (book,) = cache.glob("dictionary-*.npz")
    book_name = book.name

    def read_book(path: Path) -> object:
        path.replace(cache / book_name)
        made = cached_dictionary(tree, cache)
        (cache / book_name).replace(path)
        return made

    samples, boards = samples_folder(), shipped_folder()
    return [
        ("ruskel-36.board.yaml", (boards / "ruskel-36.board.yaml").read_bytes(), load_profile),
        ("ostrel-8.board.yaml", (boards / "ostrel-8.board.yaml").read_bytes(), load_profile),
        ("made.hex", HEX, read_image),
        ("read.hex", (samples / "cinder-r3-read.hex").read_bytes(), read_image),
        ("read.bin", (samples / "cinder-r1-read.bin").read_bytes(), read_image),
        ("port.csv", (samples / "ostrel-port-a.csv").read_bytes(), read_capture),
        (compiled.name, compiled.read_bytes(), _compiled),
        (book_name, book.read_bytes(), read_book),
    ]


def attack(count: int, seed: int, folder: Path) -> Tally:
    """Have so many damaged files read; a named error is right, and so is a file that still makes sense."""
    chance, tally = random.Random(seed), Tally("mutated files")
    kinds = targets(folder)
    for number in range(count):
        # Those that rebuild a whole model are tried less often.
        name, raw, read = kinds[-1] if number % 97 == 0 else chance.choice(kinds[:-1])
        path = folder / name
        bad = mutated(raw, chance)
        path.write_bytes(bad)
        start = time.monotonic()
        try:
            read(path)
        except BenchLampError as exc:
            if not str(exc):
                tally.wrong(f"{name} {number}: an error without words")
        except Exception as exc:  # noqa: BLE001 - that is what is looked for
            tally.wrong(f"{name} {number}: {type(exc).__name__}: {exc}")
        took = time.monotonic() - start
        if took > MOST_S and read.__name__ != "read_book":
            tally.wrong(f"{name} {number}: {took:.1f} s")
        # A cache that is void is made anew; everything else is only read.
        if read.__name__ != "read_book" and path.read_bytes() != bad:
            tally.wrong(f"{name} {number}: was altered")
        path.unlink()
        tally.count += 1
    return tally
