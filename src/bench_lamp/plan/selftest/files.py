"""Files that are opened for a self-test: captures and ROM images, read off the window's thread."""

from collections.abc import Callable
from dataclasses import replace
from importlib import resources
from pathlib import Path

from bench_lamp.board import Profile
from bench_lamp.board.chips import Lane, RomImage
from bench_lamp.journal.logic_events import ImageJudged, LaneRead
from bench_lamp.logic.capture import Capture, CaptureError, PinTrace, read_capture
from bench_lamp.logic.image_file import ImageError, read_image
from bench_lamp.logic.images import ImageVerdict, Wanted, judge_image, split_pair

Progress = Callable[[float], bool]


def samples_folder() -> Path:
    """Return the folder of the sample files that ship: read-outs and a capture of the demo's boards."""
    return Path(str(resources.files("bench_lamp"))) / "resources" / "samples"


def found_file(text: str) -> Path:
    """Return the file that a typed name means; a bare name may be one of the samples."""
    path = Path(text.strip()).expanduser()
    sample = samples_folder() / path.name
    return sample if not path.exists() and path.name == str(path) and sample.is_file() else path


def judge_file(profile: Profile, image_id: str, path: Path) -> tuple[ImageJudged, ...]:
    """Return what the file of an image is; two results where it holds a pair, even and odd.

    Raises
    ------
    ImageError
        When the file is no image, or the profile has no such image.
    """
    image = next((i for i in profile.images if i.id == image_id), None)
    if image is None:
        raise ImageError(f"The profile has no image {image_id}", hint="Pick one from the list.")
    data = read_image(path)
    odd = next((i for i in profile.images if i.id == image.odd), None)
    if odd is not None and len(data) == image.size + odd.size:
        halves = zip((image, odd), split_pair(data), strict=True)
        return tuple(_judged(part, path.name, half) for part, half in halves)
    found = _judged(image, path.name, data)
    other = _other(profile, image, found)
    return (replace(found, text=f"{found.text}; {other}".strip("; ")) if other else found,)


def _judged(image: RomImage, name: str, data: bytes) -> ImageJudged:
    verdict = judge_image(data, wanted_of(image))
    return ImageJudged(
        image=image.id, file=name, size=verdict.size, crc32=verdict.crc32, sha1=verdict.sha1,
        verdict=verdict.word, text=image_words(verdict),
    )  # fmt: skip


def image_words(verdict: ImageVerdict) -> str:
    """Write how an image differs in one line."""
    return "; ".join(verdict.notes)


def _other(profile: Profile, image: RomImage, found: ImageJudged) -> str:
    """Say when the file is right for another part: two ROMs changed over."""
    twin = next(
        (i for i in profile.images if i.crc32.lower() == found.crc32 and i.id != image.id), None
    )
    return f"it is the image of {twin.id}: parts or files changed over" if twin else ""


def wanted_of(image: RomImage) -> Wanted:
    """Return what an image should be, with the bytes where they ship."""
    data = b""
    if image.file:
        place = resources.files("bench_lamp") / "resources" / "images" / image.file
        data = place.read_bytes() if place.is_file() else b""
    return Wanted(size=image.size, crc32=image.crc32, sha1=image.sha1, data=data)


def lane_from_capture(lane: Lane, path: Path, progress: Progress) -> LaneRead | None:
    """Return the pairs that a capture shows of a lane; None when it was stopped.

    Columns `w0` … and `r0` … are pairs as they stand. Else columns named like the lane's lines
    are taken as what came back, and the words are reconstructed of what such lines can show:
    a line that never moves while others do is stuck, two that move as one are tied.

    Raises
    ------
    CaptureError
        When the file is no capture, or has no column of this lane.
    """
    found = read_capture(path, progress=progress)
    if found is None:
        return None
    if found.bits > len(lane.lines):
        raise CaptureError(
            f"{path.name} was written on {found.bits} lines, {lane.id} has {len(lane.lines)}",
            hint="Pick the lane it was taken on.",
        )
    pairs = found.pairs or _from_lines(lane, found, path)
    return LaneRead(
        lane=lane.id,
        wrote=tuple(w for w, _ in pairs),
        came=tuple(c for _, c in pairs),
        source=path.name,
    )


def _from_lines(lane: Lane, capture: Capture, path: Path) -> tuple[tuple[int, int], ...]:
    """Return pairs that say of each line what the capture says: moves, stuck, tied, floating."""
    traces = {t.name.upper(): t for t in capture.pins}
    seen = {bit: traces[n.upper()] for bit, n in enumerate(lane.lines) if n.upper() in traces}
    if not seen:
        raise CaptureError(
            f"{path.name} has no column of {lane.id}",
            hint=f"Name the columns {lane.lines[0]} to {lane.lines[-1]}, or w0, r0 and so on.",
        )
    # Bits without a column are never written: they stay "not tried".
    full = sum(1 << bit for bit in seen)
    words = [0, full, *(1 << bit for bit in seen), *(full ^ (1 << bit) for bit in seen)]
    pairs = []
    for number, wrote in enumerate(words):
        came = wrote
        for bit, trace in seen.items():
            came = came & ~(1 << bit) | _level(lane, seen, trace, bit, wrote) << bit
        pairs.append((wrote, came))
        if number == 0:
            floating = sum(1 << bit for bit, t in seen.items() if t.activity == "floating")
            pairs += [(wrote, came ^ floating)] if floating else []
    return tuple(pairs)


def _level(lane: Lane, seen: dict[int, PinTrace], trace: PinTrace, bit: int, wrote: int) -> int:
    if trace.activity in {"high", "low"}:
        return int(trace.activity == "high")
    level = wrote >> bit & 1
    for other, name in enumerate(lane.lines):
        if other in seen and name.upper() in {n.upper() for n in trace.same_as}:
            level &= wrote >> other & 1
    return level
