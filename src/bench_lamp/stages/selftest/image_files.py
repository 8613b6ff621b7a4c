"""ROM images that are opened for a self-test: one file, two that make one, or one that holds two."""

from collections.abc import Sequence
from importlib import resources
from pathlib import Path

from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.board.chips import RomImage
from bench_lamp.files import Progress, shown_name
from bench_lamp.files.opening import go_on
from bench_lamp.journal.logic_events import ImageJudged
from bench_lamp.logic.image_file import ImageError, read_image
from bench_lamp.logic.images import Wanted, describe, judge_image, sums
from bench_lamp.logic.joining import joins, parts


def judge_files(
    profile: Profile, image_id: str, paths: Sequence[Path], *, progress: Progress = go_on
) -> tuple[ImageJudged, ...]:
    """Return what was read out of a ROM; two results where a pair was read.

    Two files are the pair of the profile, or two pieces of one image; one file of twice the size
    is the pair. Of all the ways to join or part them, the one with the right sums is taken. A
    file that holds the image several times over was read as a larger part.

    Raises
    ------
    ImageError
        When a file is no image, its size is not the part's, or the profile has no such image.
    FileError
        When one cannot be read.
    StoppedError
        When `progress` says so.
    """
    image = next((i for i in profile.images if i.id == image_id), None)
    if image is None:
        raise ImageError(f"The profile has no image {image_id}", hint="Pick one from the list.")
    if len(paths) > 2:
        raise ImageError(f"{len(paths)} files were named", hint="One, or the two of a pair.")
    odd = next((i for i in profile.images if i.id == image.odd), None)
    name = " + ".join(map(shown_name, paths))
    data = [read_image(path, progress=progress) for path in paths]
    found: tuple[ImageJudged, ...]
    is_repeat = len(data) == 1 and _times(data[0], image.size) > 1
    if odd is not None and sum(map(len, data)) == image.size + odd.size and not is_repeat:
        found = _pair(image, odd, name, data)
    elif len(data) == 2:
        found = (_joined(image, name, *data),)
    else:
        found = (_single(image, name, data[0]),)
    return tuple(_with_twin(profile, judged) for judged in found)


def _with_twin(profile: Profile, judged: ImageJudged) -> ImageJudged:
    """Say when it is right for another part: two parts or two files changed over."""
    for image in profile.images:
        if image.crc32.lower() == judged.crc32 and image.id != judged.image:
            words = f"it is the image of {image.id}: parts or files swapped"
            return replace(judged, text=_also(judged.text, words))
    return judged


def _single(image: RomImage, name: str, data: bytes) -> ImageJudged:
    times = _times(data, image.size)
    if times > 1:
        found = _judged(image, name, data[: image.size])
        return replace(found, text=_also(found.text, f"read as a larger part, {times} times over"))
    if len(data) != image.size:
        raise _wrong_size(image, name, data)
    return _judged(image, name, data)


def _times(data: bytes, size: int) -> int:
    """Return how many times over a file holds its first bytes of a part's size; 0 for not just so."""
    times, rest = divmod(len(data), size)
    return times if not rest and data == data[:size] * times else 0


def _joined(image: RomImage, name: str, first: bytes, second: bytes) -> ImageJudged:
    if len(first) + len(second) != image.size:
        raise _wrong_size(image, name, first + second)
    ways = list(joins(first, second))
    how, data = next((way for way in ways if sums(way[1])[0] == image.crc32.lower()), ways[0])
    found = _judged(image, name, data)
    return replace(found, text=_also(found.text, f"joined {how}"))


def _pair(image: RomImage, odd: RomImage, name: str, data: list[bytes]) -> tuple[ImageJudged, ...]:
    first, last = data[0], data[-1]
    two = [("", first, last), ("the second file first", last, first)]
    ways = [w for w in (two if len(data) == 2 else parts(first)) if len(w[1]) == image.size]
    if not ways:
        raise _wrong_size(image, name, data[0])
    wanted = (image.crc32.lower(), odd.crc32.lower())
    how, even, other = max(
        ways, key=lambda w: sum(sums(d)[0] == c for d, c in zip(w[1:], wanted, strict=True))
    )
    judged = (_judged(image, name, even), _judged(odd, name, other))
    return tuple(replace(j, text=_also(j.text, how)) for j in judged)


def _wrong_size(image: RomImage, name: str, data: bytes) -> ImageError:
    """Say that a file tells nothing of the part, and what it looks like."""
    notes = describe(data, Wanted(size=image.size))
    return ImageError(
        f"{name} is not the size of {image.id}: {notes[-1]}",
        hint=f"Read {image.part} out again as {image.size} bytes."
        + (f" In this file: {'; '.join(notes[:-1])}." if notes[:-1] else ""),
    )


def _also(text: str, more: str) -> str:
    return "; ".join(words for words in (text, more) if words)


def _judged(image: RomImage, name: str, data: bytes) -> ImageJudged:
    verdict = judge_image(data, wanted_of(image))
    return ImageJudged(
        image=image.id,
        file=name,
        size=verdict.size,
        crc32=verdict.crc32,
        sha1=verdict.sha1,
        verdict=verdict.word,
        text="; ".join(verdict.notes),
    )


def wanted_of(image: RomImage) -> Wanted:
    """Return what an image should be, with the bytes where they ship."""
    data = b""
    if image.file:
        place = resources.files("bench_lamp") / "resources" / "images" / image.file
        data = place.read_bytes() if place.is_file() else b""
    return Wanted(size=image.size, crc32=image.crc32, sha1=image.sha1, data=data)
