"""What a profile says of its proof, and what is refused of it."""

import pytest
from tests.samples import SMALL

from bench_lamp.board.load import ProfileError, load_profile

GOOD = """functions:
  - {id: on, name: it starts}
full_loads:
  - {point: A, amps: 0.8 A}
burn_in: {hours: 2, every_minutes: 15, points: [A]}
"""


def loaded(tmp_path, text):
    path = tmp_path / "small.board.yaml"
    path.write_text(SMALL + text)
    return load_profile(path)


def test_what_the_customer_does_full_loads_and_burn_in(tmp_path):
    profile = loaded(tmp_path, GOOD)
    assert profile.functions[0].name == "it starts"
    assert (profile.full_loads[0].amps, profile.full_loads[0].minutes) == (0.8, 10.0)
    assert profile.burn_in.points == ("A",)


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        (
            "{id: on, name: it starts}",
            "{id: on, name: a}\n  - {id: on, name: b}",
            "stands here twice",
        ),
        ("point: A, amps", "point: B, amps", "B"),
        ("0.8 A", "0 A", "above 0 A"),
        ("0.8 A}", "0.8 A, minutes: 0}", "more than 0 minutes"),
        ("hours: 2", "hours: 0", "between 0 and 1000 hours"),
        ("hours: 2", "hours: .inf", "not a possible figure"),
        ("every_minutes: 15", "every_minutes: 0.1", "at least 1 minute"),
        ("points: [A]", "points: [Z]", "Z"),
        ("points: [A]", "points: [A], on_minutes: 10", "give both"),
    ],
)
def test_what_cannot_be_is_named_with_its_mend(tmp_path, old, new, says):
    assert old in GOOD
    with pytest.raises(ProfileError, match=says):
        loaded(tmp_path, GOOD.replace(old, new))
