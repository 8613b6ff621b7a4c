"""What is on the demo's drawn boards, and where: in millimetres from the upper left corner."""

from dataclasses import dataclass, field

#: Middle and pins.
Chips = dict[str, tuple[float, float, int]]
Pads = dict[str, tuple[float, float]]
#: Pitch of a connector's contacts, and of a fuse's two clips from its middle.
PITCH, CLIP = 4.0, 8.0


@dataclass(frozen=True)
class Plan:
    """What is on one board."""

    kind: str
    key: str
    legend: str
    width: float
    height: float
    chips: Chips = field(default_factory=dict)
    #: Connectors: middle, contacts, and whether they stand upright.
    plugs: dict[str, tuple[float, float, int, bool]] = field(default_factory=dict)
    #: Points and grounds.
    pads: Pads = field(default_factory=dict)
    #: A can each: middle and radius.
    cans: dict[str, tuple[float, float, float]] = field(default_factory=dict)
    #: Transistors in a row.
    row: Pads = field(default_factory=dict)
    fuses: Pads = field(default_factory=dict)
    #: Bridges, regulators, coils and the like: middle, width, height.
    blocks: dict[str, tuple[float, float, float, float]] = field(default_factory=dict)
    #: Contacts that the profile names, each of a connector above.
    contacts: tuple[str, ...] = ()
    #: Parts that the profile does not name.
    unnamed: frozenset[str] = frozenset()

    def contact(self, name: str) -> tuple[float, float]:
        """Return the middle of one contact: `J2.4`."""
        plug, _, number = name.partition(".")
        x, y, count, is_upright = self.plugs[plug]
        along = (int(number) - 1 - (count - 1) / 2) * PITCH
        return (x, y + along) if is_upright else (x + along, y)

    def spots(self) -> Pads:
        """Return every place that the profile names."""
        bodies = self.chips | self.plugs | self.cans | self.blocks
        parts = {name: at[:2] for name, at in bodies.items() if name not in self.unnamed}
        contacts = {name: self.contact(name) for name in self.contacts}
        return parts | self.fuses | self.row | self.pads | contacts

    def joints(self) -> list[tuple[float, float]]:
        """Return where something is soldered in."""
        found = [*self.pads.values()]
        for x, y, pins in self.chips.values():
            wide = 7.6 if pins >= 22 else 3.8
            legs = [x + (leg + 0.5 - pins / 4) * 2.54 for leg in range(pins // 2)]
            found += [(leg, y + side * wide) for leg in legs for side in (-1, 1)]
        for name, (_, _, count, _) in self.plugs.items():
            found += [self.contact(f"{name}.{number + 1}") for number in range(count)]
        found += [(x + s * CLIP, y) for x, y in self.fuses.values() for s in (-1, 1)]
        found += [(x + s * r / 3, y) for x, y, r in self.cans.values() for s in (-1, 1)]
        found += [(x + s * 2.5, y) for x, y in self.row.values() for s in (-1, 0, 1)]
        found += [(x + s * w / 2.4, y) for x, y, w, _ in self.blocks.values() for s in (-1, 1)]
        return found

    def is_free(self, x: float, y: float) -> bool:
        """Return whether there is room for a small part."""
        boxes = [(cx, cy, 4.0, 6.0) for cx, cy in (self.pads | self.row).values()]
        boxes += [(cx, cy, pins * 0.64, 9.0) for cx, cy, pins in self.chips.values()]
        boxes += [(cx, cy, r, r + 5.0) for cx, cy, r in self.cans.values()]
        boxes += [(cx, cy, w / 2, h / 2 + 4.0) for cx, cy, w, h in self.blocks.values()]
        boxes += [(cx, cy, 11.0, 8.0) for cx, cy in self.fuses.values()]
        boxes += [(cx, cy, n * 2.0 + 3, 10.0) for cx, cy, n, up in self.plugs.values() if not up]
        boxes += [(cx, cy, 12.0, n * 2.0 + 6) for cx, cy, n, up in self.plugs.values() if up]
        return all(abs(x - cx) > w + 4 or abs(y - cy) > h + 2 for cx, cy, w, h in boxes)

    def holes(self) -> tuple[tuple[float, float], ...]:
        """Return the corners' holes."""
        w, h = self.width - 7.0, self.height - 7.0
        return ((7.0, 7.0), (w, 7.0), (w, h), (7.0, h))


def along(names: str, x: float, y: float, step: float) -> Pads:
    """Return places side by side."""
    return {name: (x + number * step, y) for number, name in enumerate(names.split())}


def chips_along(names: str, x: float, y: float, step: float, pins: int) -> Chips:
    """Return chips of one size side by side."""
    return {name: (*at, pins) for name, at in along(names, x, y, step).items()}


ORRERY_LOGIC = Plan(
    kind="orrery", key="logic", legend="ORRERY NIGHTS  LOGIC  LB-7", width=200.0, height=160.0,
    chips={
        "IC1": (100, 84, 40), "IC2": (26, 116, 8), "IC3": (100, 54, 24), "IC4": (56, 54, 18),
        "IC5": (64, 126, 40), "IC6": (140, 126, 40), "IC7": (66, 25, 22), "Y1": (148, 84, 4),
    },
    plugs={"J1": (150, 12, 10, False)},
    pads={"L1": (168, 54)},
    cans={"BT1": (30, 26, 11)},
    unnamed=frozenset({"J1"}),
)  # fmt: skip
ORRERY_DRIVER = Plan(
    kind="orrery", key="driver", legend="ORRERY NIGHTS  DRIVER  DB-2", width=260.0, height=150.0,
    chips={
        "IC8": (38, 36, 18), "IC9": (76, 36, 20), "IC10": (122, 58, 20), "IC11": (168, 58, 20),
        "U14": (50, 92, 16), "U15": (130, 92, 16), "U16": (208, 92, 16),
    },
    plugs={"J8": (140, 13, 18, False), "J9": (247, 72, 18, True)},
    pads={"D1": (22, 62)},
    row=along(" ".join(f"Q{n + 1}" for n in range(22)), 19.0, 124.0, 10.4),
)  # fmt: skip
CINDER_SUPPLY = Plan(
    kind="cinder", key="supply", legend="CINDER DUNES  SUPPLY  PS-1", width=220.0, height=140.0,
    fuses=along("F2 F3 F4", 52, 18, 34),
    cans={"C1": (40, 66, 18), "C5": (112, 96, 7), "C6": (168, 92, 10)},
    blocks={
        "BR1": (86, 60, 22, 22), "U1": (132, 48, 26, 10), "D5": (112, 78, 12, 4), "U2": (138, 98, 11, 8),
        "BR2": (168, 66, 15, 13), "U3": (200, 86, 13, 9),
    },
    plugs={"J6": (112, 128, 6, False)},
    pads={"TP5": (190, 44), "R5": (46, 62), "AC5": (60, 18), "star": (34, 96), "sec5_lug": (78, 52)},
    row={"P1": (176, 40), "P2": (206, 40)},
    unnamed=frozenset({"J6"}),
)  # fmt: skip
CINDER_GAME = Plan(
    kind="cinder", key="game", legend="CINDER DUNES  GAME  GB-5", width=290.0, height=220.0,
    chips={
        "IC1": (92, 116, 40), "IC2": (30, 116, 8), "Y1": (150, 116, 14), "IC3": (40, 60, 16),
        **chips_along("R1 R2 R3", 60, 84, 40, 24), "R4": (180, 32, 24), "IC8": (250, 36, 28),
        **chips_along("M10 M11 M12 M13 M14 M15 M16 M17", 64, 146, 27, 16),
        **chips_along("M20 M21 M22 M23 M24 M25 M26 M27", 64, 166, 27, 16),
        "IC4": (26, 156, 20), "IC5": (100, 186, 16), "IC6": (134, 186, 16), "IC7": (276, 130, 14),
        "UG8": (50, 196, 20), "IC9": (238, 192, 20),
    },
    plugs={"J1": (146, 210, 22, False)},
    pads={"G5": (272, 66), "game_gnd": (104, 203), "M5": (118, 203), "G12": (126, 203)},
    cans={"CG": (264, 66, 4)},
    blocks={"DB": (180, 54, 84, 3), "EDGE": (216, 203, 46, 3)},
    contacts=("J1.2", "J1.4", "J1.6"),
)  # fmt: skip
CINDER_AUDIO = Plan(
    kind="cinder", key="audio", legend="CINDER DUNES  AUDIO  AB-2", width=150.0, height=100.0,
    fuses={"F5": (34, 18)},
    cans={"C8": (48, 50, 11)},
    blocks={"D7": (92, 24, 14, 8), "U4": (94, 52, 13, 9), "RV1": (118, 52, 8, 8), "AM1": (108, 76, 26, 8)},
    plugs={"J7": (46, 88, 5, False)},
    pads={"AR": (52, 50), "A5": (98, 58), "audio_gnd": (22, 74), "tap": (16, 50)},
    contacts=("J7.1",),
)  # fmt: skip
OSTREL_SUPPLY = Plan(
    kind="ostrel", key="supply", legend="OSTREL 8  SUPPLY", width=170.0, height=110.0,
    cans={"C1": (38, 42, 12), "C2": (92, 78, 8), "C3": (32, 82, 6)},
    blocks={
        "BR1": (74, 30, 15, 13), "U31": (106, 26, 13, 9), "BR2": (66, 82, 12, 10), "U32": (134, 26, 13, 9),
        "D3": (34, 66, 11, 4), "U33": (48, 62, 11, 8), "F1": (140, 60, 20, 6),
    },
    pads={"P5": (110, 34), "R5": (42, 42), "sec5_lug": (69, 25)},
    plugs={"J1": (74, 100, 5, False)},
    contacts=("J1.1", "J1.3", "J1.5"),
)  # fmt: skip
OSTREL_MAIN = Plan(
    kind="ostrel", key="main", legend="OSTREL 8  MAIN  MB-4", width=300.0, height=190.0,
    chips={
        "U1": (120, 96, 40), "Y1": (70, 96, 14), "U2": (46, 72, 8), "U3": (80, 46, 28),
        **chips_along("U4 U5", 124, 46, 32, 18), "U6": (80, 70, 16), "U7": (70, 136, 40),
        "U8": (122, 136, 16), "U9": (196, 32, 20), "U10": (256, 60, 18), "U11": (196, 96, 40), "U12": (240, 32, 16),
    },
    plugs={"J2": (86, 176, 20, False), "J3": (150, 14, 36, False), "JP": (20, 44, 5, True)},
    cans={"C11": (20, 66, 4), "BT1": (282, 92, 10)},
    blocks={"RN1": (70, 158, 24, 4), "modulator": (270, 36, 34, 18)},
    pads={"M5": (22, 72), "P12": (26, 44), "N12": (26, 52), "gnd": (278, 22)},
    unnamed=frozenset({"JP", "modulator"}),
)  # fmt: skip
RUSKEL_MAIN = Plan(
    kind="ruskel", key="main", legend="RUSKEL 36-2  MAIN", width=200.0, height=140.0,
    fuses={"F2": (104, 46)},
    cans={"C1": (40, 62, 15), "C3": (34, 104, 6), "C8": (150, 62, 2.6), "C12": (176, 96, 2.6)},
    blocks={
        "BR1": (76, 22, 22, 16), "Q1": (118, 20, 20, 10), "U1": (130, 62, 13, 9), "U2": (152, 96, 12, 9),
        "D5": (56, 104, 11, 4), "U3": (82, 104, 12, 9),
    },
    plugs={"JA": (106, 128, 10, False)},
    pads={
        "TP1": (62, 46), "TP2": (164, 52), "TP3": (186, 104), "TP4": (100, 104),
        "OUT": (178, 24), "neg": (178, 38),
    },
    unnamed=frozenset({"JA"}),
)  # fmt: skip

VARNHOLT_MAIN = Plan(
    kind="varnholt", key="main", legend="VARNHOLT VX-12  MAIN", width=180.0, height=130.0,
    fuses={"F1": (28, 18)},
    cans={"C1": (66, 26, 9), "C2": (136, 30, 5)},
    blocks={"D1": (44, 30, 10, 4), "S1": (160, 66, 12, 12), "U1": (112, 24, 14, 9)},
    chips={"IC1": (80, 84, 16), "IC2": (120, 84, 16)},
    plugs={"J1": (60, 118, 6, False), "J2": (104, 118, 4, False), "J3": (142, 118, 4, False)},
    pads={"P1": (14, 18), "P2": (52, 40), "P3": (80, 36), "P5": (124, 34), "chassis": (16, 60)},
    contacts=("J1.3", "J1.5", "J2.1", "J2.4", "J3.2"),
    unnamed=frozenset({"IC1", "IC2"}),
)  # fmt: skip
VARNHOLT_FRONT = Plan(
    kind="varnholt", key="front", legend="VARNHOLT VX-12  FRONT AND CRYSTALS", width=220.0, height=100.0,
    chips={
        **{f"Y{n}": (20.0 + 16 * (n - 1), 30.0, 4) for n in range(1, 13)}, "IC7": (60, 76, 16),
    },
    row={f"CT{n}": (20.0 + 16 * (n - 1), 50.0) for n in range(1, 13)},
    blocks={"U2": (150, 78, 14, 9)},
    cans={"C9": (110, 76, 3)},
    pads={"P6": (176, 72), "P7": (190, 72), "P8": (204, 72)},
    plugs={"J4": (190, 90, 2, False)},
    unnamed=frozenset({"IC7", "J4"}),
)  # fmt: skip
MELODANE_AMP = Plan(
    kind="melodane", key="amp", legend="MELODANE 90  AMPLIFIER", width=190.0, height=120.0,
    cans={"C9": (50, 34, 5), "C11": (120, 84, 9)},
    blocks={
        "RV4": (30, 34, 8, 8), "RV3": (160, 44, 8, 8), "Q5": (90, 20, 18, 12), "Q6": (124, 20, 18, 12),
        "Q3": (107, 40, 7, 5), "VR1": (68, 58, 11, 4), "R31": (144, 66, 12, 4),
    },
    plugs={"J1": (40, 108, 4, False)},
    pads={"B": (32, 92), "C": (76, 66), "LK2": (144, 84), "chassis": (14, 60)},
    contacts=("J1.1",),
    unnamed=frozenset({"C11", "R31", "LK2"}),
)  # fmt: skip
MELODANE_SUPPLY = Plan(
    kind="melodane", key="supply", legend="MELODANE 90  SUPPLY", width=150.0, height=100.0,
    fuses={"F2": (60, 18)},
    cans={"C1": (96, 54, 17)},
    blocks={"BR1": (56, 52, 18, 16)},
    pads={"A": (120, 34)},
)  # fmt: skip
GRABALOFT_SUPPLY = Plan(
    kind="grabaloft", key="supply", legend="GRABALOFT  SUPPLY", width=180.0, height=110.0,
    fuses={"F2": (34, 20), "F3": (146, 20)},
    cans={"C1": (62, 56, 13), "C2": (118, 58, 10)},
    blocks={"BR1": (30, 50, 16, 14), "BR2": (94, 30, 13, 11), "U1": (152, 56, 14, 9)},
    plugs={"J5": (54, 98, 4, False), "J6": (118, 98, 6, False)},
    pads={"A": (76, 38), "C": (164, 66), "frame": (16, 86)},
    contacts=("J5.1", "J6.1"),
)  # fmt: skip
GRABALOFT_CONTROL = Plan(
    kind="grabaloft", key="control", legend="GRABALOFT  CONTROL", width=200.0, height=130.0,
    chips={"IC1": (92, 74, 40), "IC2": (150, 74, 20), "S2": (172, 112, 16)},
    cans={"C7": (30, 60, 5)},
    blocks={"RV1": (40, 18, 8, 8), "RV2": (70, 18, 8, 8), "RV3": (100, 18, 8, 8), "K1": (170, 24, 14, 12)},
    pads={"B": (30, 100), "D": (56, 112), "TP9": (130, 20)},
    unnamed=frozenset({"IC1", "IC2", "S2", "TP9"}),
)  # fmt: skip
PELLORY_SUPPLY = Plan(
    kind="pellory", key="supply", legend="PELLORY  SUPPLY", width=150.0, height=90.0,
    cans={"C1": (52, 34, 8), "C3": (52, 64, 6)},
    blocks={
        "BR1": (26, 32, 12, 10), "U1": (86, 28, 14, 9), "RV9": (108, 28, 8, 8),
        "D5": (26, 62, 10, 4), "U2": (86, 62, 12, 8),
    },
    plugs={"J1": (126, 62, 4, True)},
    pads={"A": (96, 40)},
    contacts=("J1.1", "J1.3"),
)  # fmt: skip
PELLORY_SERVO = Plan(
    kind="pellory", key="servo", legend="PELLORY  SERVO", width=170.0, height=110.0,
    chips={"IC1": (70, 60, 28), "IC2": (124, 60, 16)},
    blocks={"RV1": (30, 30, 8, 8)},
    plugs={"JF": (56, 16, 8, False)},
    pads={"B": (136, 92), "C": (150, 92), "gnd": (20, 92)},
    unnamed=frozenset({"IC1", "IC2", "JF"}),
)  # fmt: skip

PLANS = (
    ORRERY_LOGIC, ORRERY_DRIVER, CINDER_SUPPLY, CINDER_GAME, CINDER_AUDIO,
    OSTREL_SUPPLY, OSTREL_MAIN, RUSKEL_MAIN, VARNHOLT_MAIN, VARNHOLT_FRONT, MELODANE_AMP, MELODANE_SUPPLY,
    GRABALOFT_SUPPLY, GRABALOFT_CONTROL, PELLORY_SUPPLY, PELLORY_SERVO,
)  # fmt: skip
