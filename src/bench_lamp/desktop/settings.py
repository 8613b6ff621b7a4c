"""The settings file: theme, text size, meter and house rules, as they were left.

What makes no sense in it is its default, and one line says which; a file that is no settings
file is left alone.
"""

import os
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings

from bench_lamp.case.house_rules import BY_KEY
from bench_lamp.checks import load_meters
from bench_lamp.desktop.look import SCALES, Look
from bench_lamp.desktop.session import Session
from bench_lamp.errors import BenchLampError
from bench_lamp.files import FileError, read_text
from bench_lamp.shop.business import NO_BUSINESS, as_settings, from_settings

if TYPE_CHECKING:
    from bench_lamp.desktop.hands_free import HandsFree
    from bench_lamp.desktop.sharing import Sharing

#: Bytes of the largest settings file.
MOST_BYTES = 100_000


class Settings:
    """Takes what the file says into window and session, and writes it there again."""

    def __init__(self, path: Path, session: Session, look: Look) -> None:
        self._session, self._look = session, look
        self._file: QSettings | None = None
        self._odd: list[str] = []
        try:
            if os.path.lexists(path):
                read_text(path, most=MOST_BYTES)
            self._file = QSettings(str(path), QSettings.Format.IniFormat)
        except FileError as exc:
            session.journal.notes.append(
                f"The settings are not kept: {exc}. {exc.hint} All settings are their defaults."
            )
            return
        self._take()
        session.ruled.connect(self.keep_rules)
        if self._odd:
            session.journal.notes.append(
                f"{path.name}: {'; '.join(self._odd[:4])}: the default is used."
            )

    def _take(self) -> None:
        rules = {key: self._value(f"rules/{key}") for key in BY_KEY}
        known = {key: {o.name for o in each.options} for key, each in BY_KEY.items()}
        for key, option in rules.items():
            if option and option not in known[key]:
                self._odd.append(f"rules/{key} “{option[:20]}”")
        self._session.set_rules({k: v for k, v in rules.items() if v in known[k]})
        self._take_shop()
        self._session.watched = self._value("photographs")
        theme, scale, meter = (self._value(name) for name in ("theme", "scale", "meter"))
        if theme == "daylight":
            self._look.set_theme("daylight")
        elif theme not in {"", "lamp"}:
            self._odd.append(f"theme “{theme[:20]}”")
        self._take_scale(scale)
        if meter in load_meters():
            self._session.use_meter(meter)
        elif meter:
            self._odd.append(f"meter “{meter[:20]}”")

    def _take_shop(self) -> None:
        names = as_settings(NO_BUSINESS)
        shop, odd = from_settings({name: self._value(f"shop/{name}") for name in names})
        self._session.book.be(shop)
        self._odd += [f"shop/{name}" for name in odd]

    def _take_scale(self, scale: str) -> None:
        try:
            value = float(scale or SCALES[0])
        except ValueError:
            value = 0.0
        if SCALES[0] <= value <= SCALES[-1]:
            self._look.set_scale(value)
        else:
            self._odd.append(f"scale “{scale[:20]}”")

    def _value(self, name: str) -> str:
        """Return a value as text; what is a list or anything else is text that makes no sense."""
        found = self._file.value(name) if self._file is not None else None
        return "" if found is None else str(found)

    def share(self, sharing: "Sharing") -> None:
        """Have the journal shared as the file says, and keep what is said of that."""
        sharing.name = self._value("bench") or sharing.name
        sharing.said.connect(lambda: self._keep_sharing(sharing))
        if address := self._value("database"):
            sharing.join(address)

    def link(self, hands: "HandsFree") -> None:
        """Link the instruments that were linked when the program ended, and keep what is linked."""
        from bench_lamp.instrument.linked import from_text, to_text

        for known in from_text(self._value("instruments")):
            hands.link(known)

        pedal = self._value("pedal")
        try:
            hands.pedal.use(pedal)
        except BenchLampError:
            self._odd.append(f"pedal “{pedal[:20]}”")

        def keep() -> None:
            if self._file is not None:
                self._file.setValue("pedal", hands.pedal.name)
                self._file.setValue("instruments", to_text(x.linked for x in hands.links))
                self._file.sync()

        hands.linked.connect(keep)

    def _keep_sharing(self, sharing: "Sharing") -> None:
        if self._file is not None:
            self._file.setValue("database", sharing.address)
            self._file.setValue("bench", sharing.name)
            self._file.sync()

    def keep_rules(self) -> None:
        """Write the house rules at once."""
        if self._file is not None:
            for key, option in self._session.rules.items():
                self._file.setValue(f"rules/{key}", option)
            for key, text in as_settings(self._session.book.business).items():
                self._file.setValue(f"shop/{key}", text)
            self._file.sync()

    def keep(self) -> None:
        """Write theme, text size, meter and the folder that is watched."""
        if self._file is not None:
            self._file.setValue("theme", self._look.theme)
            self._file.setValue("scale", self._look.scale)
            self._file.setValue("meter", self._session.meter.id)
            self._file.setValue("photographs", self._session.watched)
            self._file.sync()
