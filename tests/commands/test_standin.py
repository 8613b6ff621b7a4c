"""Stand-ins from a shell: what is typed to link one is what they print."""

import threading
import time

import pytest

from bench_lamp.__main__ import main
from bench_lamp.bench.standins.scpi_server import NAMES
from bench_lamp.commands.standin import run_standin
from bench_lamp.instrument.device import open_device
from bench_lamp.instrument.kinds import KINDS
from bench_lamp.instrument.linked import address_of


@pytest.mark.parametrize("kind", ["hand-held", *NAMES])
def test_what_it_prints_links_it(kind, capsys):
    served = threading.Thread(target=run_standin, args=(kind,), kwargs={"seconds": 1.5})
    served.start()
    printed = ""
    while "Instruments: " not in printed:
        time.sleep(0.02)
        printed += capsys.readouterr().out
    address = address_of(printed.partition("Instruments: ")[2].strip())
    device = open_device(address, KINDS)
    assert device.identify().name
    if "dc V" in device.modes and kind in {"hand-held", "meter"}:
        assert device.read("dc V").value == pytest.approx(5.08, abs=0.01)
    device.close()
    served.join()


def test_what_makes_no_sense_is_said(capsys):
    assert main(["stand-in"]) == 2
    assert main(["stand-in", "teapot"]) == 2
    assert main(["stand-in", "meter", "x"]) == 2
    assert "There is: hand-held, meter" in capsys.readouterr().err
