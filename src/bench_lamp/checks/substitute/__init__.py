"""What may go in for a part: rules by class, each met or not, with its reason.

For: judging one offered part against the one that was there, and ranking several.
May import: what `checks` may. Must not import: case, journal.
"""

from bench_lamp.checks.substitute.judging import Verdict, best_first, judge
from bench_lamp.checks.substitute.values import Around, Rule, State

__all__ = ["Around", "Rule", "State", "Verdict", "best_first", "judge"]
