"""The kinds of instrument that can be linked: a name, and what opens it. A new kind is one module and a line here."""

from collections.abc import Mapping

from bench_lamp.instrument.device import Opener
from bench_lamp.instrument.scpi import open_scpi
from bench_lamp.instrument.serial_line import open_serial
from bench_lamp.instrument.sigrok import open_sigrok

KINDS: Mapping[str, Opener] = {"scpi": open_scpi, "serial": open_serial, "sigrok": open_sigrok}
