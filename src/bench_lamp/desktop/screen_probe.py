"""Asked by `bench-lamp doctor` in a process of its own: the screens and the fonts that Qt finds."""

import sys

from PySide6.QtGui import QFontDatabase, QGuiApplication

from bench_lamp.desktop.look import FAMILY, load_fonts


def main() -> int:
    """Print a line for each thing: what, a tab, words; an exclamation mark before what is wrong."""
    application = QGuiApplication(sys.argv)
    for screen in application.screens():
        size, ratio = screen.size(), screen.devicePixelRatio()
        print(
            f"screen\t{screen.name() or 'one'}, {size.width()} x {size.height()}, scale {ratio:g}"
        )
    print(f"window system\t{application.platformName()}")
    load_fonts()
    is_there = FAMILY in QFontDatabase.families()
    print(f"font\t{FAMILY}" if is_there else f"font\t!{FAMILY} is missing; another one stands in")
    return 0


if __name__ == "__main__":
    sys.exit(main())
