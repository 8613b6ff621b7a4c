"""The map in place of a stage's picture: the board in the dark, light on where the leads go."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QVBoxLayout, QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.rails import next_on_the_way
from bench_lamp.checks.board_map import LitMap, whole_map
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.pictures import PictureStore
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.map_canvas import MapCanvas
from bench_lamp.desktop.widgets.words import Words


class MapSurface(Headed):
    """The large map of a job's board."""

    def __init__(self, look: Look, store: PictureStore, parent: QWidget | None = None) -> None:
        super().__init__(look, "Map", parent)
        self.canvas = MapCanvas(look, store)
        self.note = Words(look, 14, 500, "text", wrap=True)
        self.area.setVisible(False)
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.addWidget(self.canvas, 1)
        layout.addWidget(self.note, 0, Qt.AlignmentFlag.AlignTop)

    def show_lit(self, case: Case, lit: LitMap | None, *, side: str) -> None:
        """Show what is lit; without anything, the whole board with all its places."""
        shown = lit or whole_map(case.profile, side)
        self.canvas.show_map(shown)
        profile, picture = case.profile, shown.picture
        board = profile.boards.get(picture.board, picture.board) or profile.name
        turn = "  ·  F9 turns it over" if shown.has_other_side else ""
        self.subtitle.setText(f"{board}, {picture.side} side up{turn}  ·  F3 back")
        red = next((x.name for x in shown.lit if x.kind == "red"), "")
        point = profile.point(red)
        way = next_on_the_way(case, point) if point is not None else ""
        lost = "" if lit is not None else "Nothing of this card is placed on a picture yet."
        self.note.setText(
            "  ·  ".join(filter(None, (lost or way, shown.elsewhere, "drag moves, wheel zooms")))
        )
