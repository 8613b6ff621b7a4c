"""What is connected and switched while something is measured."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Condition:
    """Power, and which fuses and connectors are out."""

    is_powered: bool = True
    #: Block or connector ids that are pulled: `F4`, `J3`, `J3.5`.
    out: frozenset[str] = frozenset()

    def is_out(self, block_id: str) -> bool:
        """Whether a block, or the connector that it is a pin of, is pulled."""
        return block_id in self.out or block_id.partition(".")[0] in self.out
