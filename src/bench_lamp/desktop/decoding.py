"""Pictures decoded within bounds, upright, straightened, made smaller, and written again."""

import math
from collections.abc import Sequence

from PySide6.QtCore import QBuffer, QByteArray, QObject, QPointF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QImageReader, QImageWriter, QPainter, QPolygonF, QTransform

from bench_lamp.board.map import Pair
from bench_lamp.board.pictures import PictureError, refuse_half, refuse_size, suffix_of

#: Megabytes that decoding one picture may take.
MOST_MB = 256
#: The smallest picture of a row, by its longer side in pixels.
SMALLEST = 512


class Pictures(QObject):
    """Gives decoded pictures by the name of their file; those that are not there yet come later."""

    #: A picture is there now: its file's name.
    came = Signal(str)

    def get(self, file: str) -> tuple[QImage, ...]:
        """Return a picture's row of sizes; empty while it is decoded, or where it cannot be."""
        raise NotImplementedError


def decoded(data: bytes, name: str, longest: int = 0) -> QImage:
    """Decode a picture, upright as its camera says; raise `PictureError` for what cannot be.

    With `longest`, its longer side is at most so many pixels: many times faster for a large photograph.
    """
    suffix_of(data, name)
    raw = QByteArray(data)
    buffer = QBuffer(raw)
    buffer.open(QBuffer.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    QImageReader.setAllocationLimit(MOST_MB)
    size = reader.size()
    if not size.isValid():
        raise PictureError(
            f"{name} cannot be read as a picture", hint="Save it anew as PNG or JPEG."
        )
    refuse_size(size.width(), size.height(), name)
    refuse_half(data, name)
    if 0 < longest < max(size.width(), size.height()):
        room = QSize(longest, longest)
        reader.setScaledSize(size.scaled(room, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    if image.isNull():
        raise PictureError(f"{name} is damaged: {reader.errorString()}", hint="Take it anew.")
    return image.convertToFormat(QImage.Format.Format_RGB32)


def smaller_ones(image: QImage) -> tuple[QImage, ...]:
    """Return a picture and its halves, down to the smallest that is of use."""
    found = [image]
    while max(found[-1].width(), found[-1].height()) > 2 * SMALLEST:
        half = QSize(max(found[-1].width() // 2, 1), max(found[-1].height() // 2, 1))
        mode = Qt.TransformationMode.SmoothTransformation
        found.append(found[-1].scaled(half, Qt.AspectRatioMode.IgnoreAspectRatio, mode))
    return tuple(found)


def straightened(image: QImage, corners: Sequence[Pair]) -> QImage:
    """Cut a picture to four corners of the board, clockwise from the top left, and make it square.

    `corners` are shares of width and height. Raises `PictureError` for corners that make no board.
    """
    spots = [QPointF(x * image.width(), y * image.height()) for x, y in corners]
    width = max(_apart(spots[0], spots[1]), _apart(spots[3], spots[2]))
    height = max(_apart(spots[0], spots[3]), _apart(spots[1], spots[2]))
    if min(width, height) < 16:
        raise PictureError(
            "These corners make no board", hint="Click them clockwise from the top left."
        )
    size = QSize(round(width), round(height))
    target = [QPointF(0, 0), QPointF(width, 0), QPointF(width, height), QPointF(0, height)]
    way = QTransform.quadToQuad(QPolygonF(spots), QPolygonF(target))
    if not isinstance(way, QTransform):
        raise PictureError(
            "These corners make no board", hint="Click them clockwise from the top left."
        )
    made = QImage(size, QImage.Format.Format_RGB32)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setTransform(way)
    painter.drawImage(0, 0, image)
    painter.end()
    return made


def _apart(one: QPointF, other: QPointF) -> float:
    return math.hypot(one.x() - other.x(), one.y() - other.y())


def encoded(image: QImage, suffix: str) -> bytes:
    """Return a picture's bytes: a photograph as JPEG, what was drawn as PNG."""
    raw = QByteArray()
    buffer = QBuffer(raw)
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    is_photo = suffix != ".png"
    writer = QImageWriter(buffer, b"jpeg" if is_photo else b"png")
    writer.setQuality(90 if is_photo else -1)
    writer.write(image)
    return bytes(raw.data())
