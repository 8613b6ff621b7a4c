"""What an attack came to."""

from dataclasses import dataclass, field


@dataclass
class Tally:
    """How many were tried, and what went wrong."""

    what: str
    count: int = 0
    found: list[str] = field(default_factory=list)
    #: How many came out in which way, where there are several right ones.
    ways: dict[str, int] = field(default_factory=dict)

    def wrong(self, words: str) -> None:
        """Note one that went wrong."""
        self.found.append(words[:600])

    def way(self, name: str) -> None:
        """Count a right way to come out."""
        self.ways[name] = self.ways.get(name, 0) + 1

    def __str__(self) -> str:
        ways = ", ".join(f"{n} {name}" for name, n in sorted(self.ways.items()))
        first = "".join(f"\n  {words}" for words in self.found[:10])
        return f"{self.count} {self.what}: {len(self.found)} wrong{f' ({ways})' if ways else ''}{first}"
