"""ROM images: each part that holds one, and whether its sums are right."""

from bench_lamp.board.chips import RomImage
from bench_lamp.logic.clue import LogicClue, LogicKind

#: Id of the item that stands for all images.
IMAGES = "images"


def image_clue(image: RomImage, event: str, verdict: str) -> LogicClue | None:
    """Return the clue of an image that was judged; None where its sums are not known."""
    if verdict == "not known":
        return None
    return LogicClue(
        event=event,
        kind=LogicKind.IMAGE,
        target=image.part,
        code=verdict,
        text=f"{image.id} image {verdict}",
    )
