"""Speaking, and short sounds, by what the distribution has: never in the way, the newest words before older ones."""

import shutil
import tempfile
from pathlib import Path

from PySide6.QtCore import QObject, QProcess

#: Programs that speak, and those that play a file, the first that is installed.
SPEAKERS = ("spd-say", "espeak-ng")
PLAYERS = ("pw-play", "paplay", "aplay")
#: Words a minute: slowest, as it comes, fastest.
RATES = (120, 170, 320)


class Speaker(QObject):
    """Says and plays one thing at a time."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.how_much, self.rate = "off", RATES[1]
        self.has_sounds = False
        self._speaker = next((p for p in map(shutil.which, SPEAKERS) if p), "")
        self._player = next((p for p in map(shutil.which, PLAYERS) if p), "")
        self._speaking: QProcess | None = None
        self._sounds: tempfile.TemporaryDirectory[str] | None = None

    @property
    def can_speak(self) -> bool:
        """Whether anything that speaks is installed."""
        return bool(self._speaker)

    def say(self, words: str) -> None:
        """Say words; what is being said is cut off."""
        if self.how_much == "off" or not self._speaker or not words:
            return
        self.hush()
        self._speaking = self._start(self._speaker, self.command(words))

    def command(self, words: str) -> list[str]:
        """Return what the speaking program is called with."""
        if self._speaker.endswith("spd-say"):
            share = (self.rate - RATES[1]) / (RATES[2] - RATES[1])
            return ["-C", "-w", "-r", str(round(100 * max(min(share, 1), -1))), "--", words]
        return ["-s", str(self.rate), "--", words]

    def play(self, verdict: str) -> None:
        """Play the sound of a verdict."""
        if not self.has_sounds or not self._player:
            return
        from bench_lamp.views.tones import sound_of

        if self._sounds is None:
            self._sounds = tempfile.TemporaryDirectory(prefix="bench-lamp-sounds-")
        place = Path(self._sounds.name) / f"{verdict or 'logged'}.wav"
        if not place.exists():
            place.write_bytes(sound_of(verdict))
        self._start(self._player, [str(place)])

    def hush(self) -> None:
        """Stop speaking."""
        if self._speaking is not None:
            self._speaking.kill()
            self._speaking = None

    def close(self) -> None:
        """Stop, and take the sounds away."""
        self.hush()
        if self._sounds is not None:
            self._sounds.cleanup()

    def _start(self, program: str, arguments: list[str]) -> QProcess:
        process = QProcess(self)
        process.finished.connect(lambda: self._on_ended(process))
        process.start(program, arguments)
        return process

    def _on_ended(self, process: QProcess) -> None:
        if self._speaking is process:
            self._speaking = None
        process.deleteLater()
