"""What a check of the journal is on: the kind of check, and the part or test."""

from msgspec import Struct

#: Kind of the question whether a self-test is made ready for.
READY = "need"


class CheckId(Struct, frozen=True):
    """One check; written `capacitor:C1` on disk."""

    kind: str
    #: Part, point, row or self-test.
    target: str

    def __str__(self) -> str:
        return f"{self.kind}:{self.target}"

    @classmethod
    def read(cls, text: str) -> "CheckId":
        """Return the check that is written so; one without a kind has none."""
        kind, colon, target = text.partition(":")
        return cls(kind, target) if colon else cls("", text)
