"""Letters and words of tolerances and volts on parts (IEC 60062, and the volt codes of capacitors)."""

#: IEC 60062: symmetrical, as shares.
SHARES = {
    "L": 0.0001, "P": 0.0002, "W": 0.0005, "B": 0.001, "C": 0.0025, "D": 0.005, "F": 0.01,
    "G": 0.02, "J": 0.05, "K": 0.10, "M": 0.20, "N": 0.30,
}  # fmt: skip
#: Below and above, for capacitors only.
LOPSIDED = {"Q": (0.10, 0.30), "T": (0.10, 0.50), "S": (0.20, 0.50), "Z": (0.20, 0.80)}
#: Of capacitors under 10 pF: in picofarads.
PICOFARADS = {"B": 0.1, "C": 0.25, "D": 0.5, "F": 1.0, "G": 2.0}
SMALL_F = 10e-12
#: Too fine for any larger capacitor.
FINE = frozenset("LPWBCD")

#: Volts by digit and letter: the letter is a value, the digit its power of ten less one.
_VOLT_LETTERS = {
    "A": 1.0,
    "C": 1.6,
    "D": 2.0,
    "E": 2.5,
    "V": 3.5,
    "G": 4.0,
    "W": 4.5,
    "H": 5.0,
    "J": 6.3,
}
VOLT_CODES = {
    f"{power}{letter}": round(value * 10**power, 4)
    for power in range(4)
    for letter, value in _VOLT_LETTERS.items()
}
#: The single letters on small tantalums.
VOLT_LETTERS = {
    "G": 4.0,
    "J": 6.3,
    "A": 10.0,
    "C": 16.0,
    "D": 20.0,
    "E": 25.0,
    "V": 35.0,
    "T": 50.0,
}
#: Volts for which electrolytics are made.
USUAL_VOLTS = (
    2.5,
    4,
    6.3,
    10,
    16,
    20,
    25,
    35,
    40,
    50,
    63,
    80,
    100,
    160,
    200,
    250,
    315,
    350,
    385,
    400,
    450,
    500,
)
DIELECTRICS = ("C0G", "NP0", "X5R", "X7R", "X7S", "Y5V", "Y5P", "Z5U", "Z5V")


def shares(letter: str, farads: float | None = None) -> tuple[float, float] | None:
    """Return the shares below and above for a letter; None for a letter that has no tolerance.

    `farads` is given for a capacitor: under 10 pF some letters mean picofarads.

    >>> shares("J"), shares("Z"), shares("Z", 1e-7)
    ((0.05, 0.05), None, (0.2, 0.8))
    >>> shares("C", 5e-12)
    (0.05, 0.05)
    """
    if farads is not None:
        if farads < SMALL_F and letter in PICOFARADS:
            share = PICOFARADS[letter] * 1e-12 / farads
            return round(share, 9), round(share, 9)
        if letter in LOPSIDED:
            return LOPSIDED[letter]
        if letter in FINE:
            return None
    share = SHARES.get(letter, 0.0)
    return (share, share) if share else None
