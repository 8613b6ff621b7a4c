"""What is measured, and what is connected and switched meanwhile."""

from enum import StrEnum

from msgspec import Struct


class TestKind(StrEnum):
    """What a test on the power tree measures."""

    __test__ = False

    DC = "dc"
    AC = "ac"
    OHM = "ohm"
    TONE = "tone"
    #: Volts with both leads on one part, live; what flows through a part; how an indicator looks.
    DROP = "drop"
    AMPS = "amps"
    LOOK = "look"
    #: How often the ripple comes, in hertz; whether anything changes when a contact is moved.
    HERTZ = "hertz"
    WIGGLE = "wiggle"
    #: Whether anything changes when a part is cooled by a spray, or warmed by hot air.
    COOL = "cool"
    HEAT = "heat"

    #: Capacitance and ESR of a reservoir in circuit, discharged.
    FARADS = "farads"
    ESR = "esr"

    @property
    def is_on_part(self) -> bool:
        """Whether it is done on a part, not on a net."""
        return self not in {TestKind.DC, TestKind.AC, TestKind.OHM, TestKind.HERTZ}

    @property
    def is_plain(self) -> bool:
        """Whether it says one thing or another, whatever the tolerances are."""
        return self in {TestKind.TONE, TestKind.HERTZ} or self.is_disturbing

    @property
    def is_disturbing(self) -> bool:
        """Whether something is done to a part, and it is seen whether that changes anything."""
        return self in {TestKind.WIGGLE, TestKind.COOL, TestKind.HEAT}

    @property
    def needs_power(self) -> bool:
        """Whether it says something only while the board is live."""
        return self not in {TestKind.OHM, TestKind.TONE} and not self.is_of_capacitor

    @property
    def is_of_capacitor(self) -> bool:
        """Whether a meter for capacitors reads it, at volts too low for any junction."""
        return self in {TestKind.FARADS, TestKind.ESR}


class Condition(Struct, frozen=True):
    """Power, what is out (fuses, connectors, parts), and which dummy loads hang on."""

    is_powered: bool = True
    #: Block or connector ids that are pulled or lifted: `F4`, `J3`, `J3.5`, `C2`.
    out: frozenset[str] = frozenset()
    #: Dummy loads that are hung on for this test.
    hung: frozenset[str] = frozenset()

    def is_out(self, block_id: str) -> bool:
        """Whether a block, or the connector that it is a pin of, is pulled."""
        return block_id in self.out or block_id.partition(".")[0] in self.out
