"""A condition put into component values: what is pulled or lifted, and which loads hang on."""

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Contact,
    Converter,
    Diode,
    Dropper,
    DummyLoad,
    Load,
    Rectifier,
    Regulator,
    Reservoir,
    Sense,
)
from bench_lamp.board.condition import Condition
from bench_lamp.circuit.looking_up import contacts_between
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import OPEN_S, Values


def take_out(values: Values, part: TreePart, condition: Condition, rows: slice) -> None:
    """Put a condition into rows: open what is out, hang the dummy loads on."""
    for block in part.blocks:
        if isinstance(block, DummyLoad):
            if block.id in condition.hung:
                values.shunt[block.net][rows] += 1 / block.ohms
        elif isinstance(block, Sense) and block.id in condition.hung:
            values.tied[block.id][rows] = 1.0
        elif condition.is_out(block.id):
            _remove(values, block, rows)
    _cut_sense_lines(values, part, condition, rows)


def _cut_sense_lines(values: Values, part: TreePart, condition: Condition, rows: slice) -> None:
    """Leave a sense line without its net where a contact on the way is pulled.

    It goes through the same plug: the regulator sees its own output through a resistor, unless
    the line is tied to the output for the test.
    """
    for sense in (b for b in part.blocks if isinstance(b, Sense)):
        output = next(b.to for b in part.blocks if isinstance(b, Regulator) and b.id == sense.of)
        way = contacts_between(part, output, sense.net)
        if sense.id in condition.hung:
            values.unseen[sense.of][rows] = 1.0
        elif any(condition.is_out(contact.id) for contact in way):
            # A line that is open already hangs where it hung.
            before = values.unseen[sense.of][rows]
            values.unseen[sense.of][rows] = np.where(
                before > 1.0, before, values.alone[sense.of][rows]
            )


def _remove(values: Values, block: Block, rows: slice) -> None:
    """Take one block out of the circuit."""
    if isinstance(block, Contact):
        values.series[block.id][rows] = OPEN_S
    elif isinstance(block, Rectifier | Converter | Diode):
        values.fitted[block.id][rows] = 0.0
    elif isinstance(block, Reservoir):
        values.farads[block.id][rows] = 1e-12
    elif isinstance(block, Load):
        values.amps[block.id][rows] *= 1e-6
    elif isinstance(block, Regulator):
        values.limit_a[block.id][rows] = 1e-6
        values.through[block.id][rows] = 0.0
    elif isinstance(block, Dropper):
        values.drop_ohms[block.id][rows] = 1e12
