"""Switches, jumpers and menus: how they stood when the board came, and how they stand now."""

from msgspec import Struct

from bench_lamp.board.trims import Setting, SwitchesTrim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import all_told
from bench_lamp.journal.trim_events import SwitchStood


class Stand(Struct, frozen=True, kw_only=True):
    """One setting, with where it stood and stands; empty for what nobody looked at."""

    setting: Setting
    came: str
    now: str

    @property
    def is_right(self) -> bool:
        """Whether it stands as it must."""
        return self.now == self.setting.want


def stands(case: Case, trim: SwitchesTrim) -> tuple[Stand, ...]:
    """Return each setting as it came and as it is; a position is never taken for granted."""
    came: dict[str, str] = {}
    now: dict[str, str] = {}
    for told in all_told(case, trim):
        if isinstance(told.body, SwitchStood):
            now[told.body.setting] = told.body.position
            if told.body.when == "came":
                came[told.body.setting] = told.body.position
    return tuple(
        Stand(setting=s, came=came.get(s.id, ""), now=now.get(s.id, "")) for s in trim.settings
    )
