"""A short run of each attack; `python -m tests.hostile` is the long one, with its counts."""

import pytest
from tests.hostile import files, instrument_faults, journals, kills, shared_kills, stream_soak
from tests.postgres import MISSING


@pytest.mark.timeout(300)
@pytest.mark.parametrize(
    ("attack", "count"),
    [
        pytest.param(files.attack, 250, id="files"),
        pytest.param(journals.attack, 150, id="journals"),
        pytest.param(kills.attack, 24, id="kills"),
        pytest.param(instrument_faults.attack, 200, id="instrument-faults"),
        pytest.param(stream_soak.attack, 1, id="stream-hours"),
        pytest.param(
            shared_kills.attack, 16, id="shared-kills",
            marks=pytest.mark.skipif(bool(MISSING), reason=MISSING),
        ),
    ],
)  # fmt: skip
def test_nothing_breaks_and_nothing_is_lost_in_silence(tmp_path, attack, count):
    tally = attack(count, 1, tmp_path)
    assert tally.count == count
    assert not tally.found, str(tally)
