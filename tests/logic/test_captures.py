"""Captures in the forms that analysers write: the same levels say the same, and what is damaged says so."""

import shutil
import subprocess
import zipfile

import pytest

from bench_lamp.errors import BenchLampError
from bench_lamp.logic.capture import read_capture

VCD = """$date now $end
$version x $end
$timescale 1 us $end
$scope module top $end
$var wire 1 ! D0 $end
$var wire 1 " D1 $end
$var wire 1 # D2 $end
$var wire 4 % BUS $end
$var real 64 & volts $end
$upscope $end
$enddefinitions $end
#0
$dumpvars 0! 1" z# b0000 % $end
#10
1!
r3.3 &
#30
0!
b1010 %
#40
1!
"""


def by_name(path):
    return {p.name: p for p in read_capture(path).pins}


def test_a_dump_counts_each_level_for_as_long_as_it_lasted(tmp_path):
    path = tmp_path / "a.vcd"
    path.write_text(VCD)
    pins = by_name(path)
    # D0: low 0 to 10, high 10 to 30, low 30 to 40, then high, seen once more for 1.
    assert pins["D0"].low == pytest.approx(20 / 41)
    assert pins["D0"].high == pytest.approx(21 / 41)
    assert (pins["D0"].edges, pins["D0"].activity) == (3, "pulsing")
    assert pins["D1"].activity == "high"
    assert pins["D2"].activity == "floating"
    assert [pins[f"BUS{n}"].edges for n in range(4)] == [0, 1, 0, 1]
    assert pins["BUS1"].same_as == ("BUS3",)


def session(path, *, metadata=None, levels=b"\x01\x03\x00\x02", unit=1):
    about = metadata or (
        f"[device 1]\ncapturefile=logic-1\ntotal probes=2\nsamplerate=1 MHz\nprobe1=D0\nprobe2=D1\nunitsize={unit}\n"
    )
    with zipfile.ZipFile(path, "w") as packed:
        packed.writestr("version", "2")
        packed.writestr("metadata", about)
        packed.writestr("logic-1-1", levels[:2])
        packed.writestr("logic-1-2", levels[2:])
    return path


def test_a_session_file_is_its_bits(tmp_path):
    pins = by_name(session(tmp_path / "a.sr"))
    assert (pins["D0"].high, pins["D0"].edges) == (0.5, 1)
    assert (pins["D1"].high, pins["D1"].edges) == (0.5, 3)


@pytest.mark.skipif(not shutil.which("sigrok-cli"), reason="no sigrok-cli here")
def test_what_the_program_itself_writes_is_the_same_in_each_form(tmp_path):
    saved = tmp_path / "x.sr"
    run = ["sigrok-cli", "-d", "demo", "--channels", "D0,D1,D2,D3", "--samples", "3000"]
    subprocess.run([*run, "-o", str(saved)], check=True, capture_output=True)
    dump, table = tmp_path / "x.vcd", tmp_path / "x.csv"
    for form, place in (("vcd", dump), ("csv:header=false:time=false", table)):
        command = ["sigrok-cli", "-i", str(saved), "-O", form, "-o", str(place)]
        subprocess.run(command, check=True, capture_output=True)
    text = "\n".join(x for x in table.read_text().splitlines() if not x.startswith(";"))
    table.write_text(
        text if text.startswith("D0") else f"D0,D1,D2,D3\n{text.partition(chr(10))[2]}"
    )
    found = [by_name(path) for path in (saved, dump, table)]
    for name in ("D0", "D1", "D2", "D3"):
        edges = [f[name].edges for f in found]
        assert max(edges) - min(edges) <= 1, name
        assert [f[name].activity for f in found] == [found[0][name].activity] * 3
        assert found[1][name].high == pytest.approx(found[0][name].high, abs=0.01)


@pytest.mark.parametrize(
    "content",
    ["$", "$enddefinitions $end\n", VCD.replace("#30", "#5"), VCD.replace("$var wire 4 %", "$var wire 900 %"),
     VCD.replace("b1010 %", "b10z0"), "$var wire x ! D0 $end\n$enddefinitions $end\n"],
    ids=["nothing", "no pins", "backwards", "too wide", "cut", "no size"],
)  # fmt: skip
def test_a_dump_that_makes_no_sense_is_a_message(tmp_path, content):
    path = tmp_path / "a.vcd"
    path.write_text(content)
    with pytest.raises(BenchLampError):
        read_capture(path)


@pytest.mark.parametrize(
    "metadata",
    ["", "[device 1]\n", "[device 1]\nprobe1=D0\nunitsize=900\n", "[device 1]\nprobe99=D0\nunitsize=1\n",
     "no sections", "[device 1]\nprobe1=D0\nunitsize=x\n"],
)  # fmt: skip
def test_a_session_that_makes_no_sense_is_a_message(tmp_path, metadata):
    with pytest.raises(BenchLampError):
        read_capture(session(tmp_path / "a.sr", metadata=metadata or " "))


def test_a_damaged_zip_is_a_message(tmp_path):
    path = session(tmp_path / "a.sr", levels=bytes(range(256)) * 40)
    raw = bytearray(path.read_bytes())
    raw[len(raw) // 2 :] = b"\0" * (len(raw) - len(raw) // 2)
    path.write_bytes(raw)
    with pytest.raises(BenchLampError):
        read_capture(path)
