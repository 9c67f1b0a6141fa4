"""The sources drawn as a river: things and wires are picked out, and what is fed is dragged to another source."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QWidget

from tiny_lantern.circuit.river import Bank, River, Stream
from tiny_lantern.circuit.wires.rails import LAMP_RAIL
from tiny_lantern.model.fed import FedBy
from tiny_lantern.sheets.river import Inks, Laid, Spot, laid_out, river_svg
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

FAR, LEAST_SCALE, WELL_READ, MOST_SCALE = 6.0, 0.72, 0.9, 1.25
EMPTY = River((), ())


def inks_of(palette: theme.Palette) -> Inks:
    """The colours of a drawing in a theme."""
    bank = "#eadfca" if palette is theme.PAPER else "#3a4450"
    p = palette
    return Inks(p.ink, p.faint, p.field, p.rule, bank, p.amber, p.danger, p.teal)


def source_named(bank: Bank) -> FedBy | None:
    """What hangs on a thing that feeds is fed by; None of a thing that does not."""
    if bank.kind in ("supply", "rail"):
        return FedBy(id=bank.key)
    if bank.kind == "board":
        return FedBy(id=bank.key, pin="fed")
    if bank.kind == "meeting":
        source_id = bank.key.removeprefix(LAMP_RAIL).split(" ", 1)[1]
        return FedBy(id=source_id)
    return None


@guarded
class RiverCanvas(QWidget):
    """Draws a river as large as there is room; tells when another thing is picked out, and what is to hang where."""

    chosen_changed = Signal()
    moved = Signal(object, object)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("The sources: what feeds what, by which wires")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.palette_in_use = theme.PAPER
        self.laid: Laid = laid_out(EMPTY)
        self.chosen: str | int | None = None
        self.svg = ""
        self._renderer = QSvgRenderer(self)
        self._grip: tuple[Bank, QPointF] | None = None
        self._at: QPointF | None = None
        self._room = QSize(900, 600)

    def show_river(self, river: River) -> None:
        """Draw a river; what was picked out stays so where it is still there."""
        wires = self.stream.rows[0].key if self.stream is not None else ""
        self.laid = laid_out(river)
        if wires:
            found = (n for n, each in enumerate(river.streams) if any(row.key == wires for row in each.rows))
            self.chosen = next(found, None)
        elif self.thing is None and river.banks:
            self.chosen = None
        self._let_go()
        self.redraw()

    def fit(self, room: QSize) -> None:
        """Take the size of the place that it is shown in."""
        self._room = room
        self.resize(self.sizeHint())

    def sizeHint(self) -> QSize:
        return QSize(round(self.laid.wide * self._scale), round(self.laid.high * self._scale))

    @property
    def _scale(self) -> float:
        across, down = self._room.width() / self.laid.wide, self._room.height() / self.laid.high
        return max(LEAST_SCALE, min(MOST_SCALE, across, max(down, WELL_READ)))

    @property
    def thing(self) -> Bank | None:
        """The thing that is picked out."""
        return next((bank for bank in self.laid.river.banks if bank.key == self.chosen), None)

    @property
    def stream(self) -> Stream | None:
        """The wires that are picked out."""
        streams = self.laid.river.streams
        return streams[self.chosen] if isinstance(self.chosen, int) and self.chosen < len(streams) else None

    def redraw(self) -> None:
        """Draw again, in the colours of the theme."""
        self.svg = river_svg(self.laid, inks_of(self.palette_in_use), self.chosen)
        self._renderer.load(QByteArray(self.svg.encode("utf-8")))
        self.resize(self.sizeHint())
        self.update()

    def choose(self, chosen: str | int | None) -> None:
        """Pick out a thing by its key, or wires by their number."""
        if chosen != self.chosen:
            self.chosen = chosen
            self.redraw()
            self.chosen_changed.emit()

    def step(self, by: int) -> None:
        """Pick out the next of all things and wires."""
        every: list[str | int] = [bank.key for bank in self.laid.river.banks]
        every += range(len(self.laid.river.streams))
        if every:
            at = every.index(self.chosen) if self.chosen in every else -1 if by > 0 else 0
            self.choose(every[(at + by) % len(every)])

    def spot_on_screen(self, spot: Spot) -> QRectF:
        """Where a thing is in the widget."""
        scale = self._scale
        return QRectF(spot.x * scale, spot.y * scale, spot.wide * scale, spot.high * scale)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        self._renderer.render(painter, QRectF(0, 0, self.laid.wide * self._scale, self.laid.high * self._scale))
        if self._grip is not None and self._at is not None:
            self._paint_drag(painter, self._grip[0], self._at)

    def _paint_drag(self, painter: QPainter, bank: Bank, at: QPointF) -> None:
        """What is dragged, and the source that it would hang on."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colour = QColor(self.palette_in_use.teal)
        target = self._target(at)
        if target is not None:
            painter.setPen(QPen(colour, 3))
            painter.drawRoundedRect(self.spot_on_screen(self.laid.spots[target.key]).adjusted(-3, -3, 3, 3), 6, 6)
        box = self.spot_on_screen(self.laid.spots[bank.key])
        box.moveCenter(at)
        colour.setAlpha(60)
        painter.setBrush(colour)
        painter.setPen(QPen(QColor(self.palette_in_use.teal), 1.5, Qt.PenStyle.DashLine))
        painter.drawRoundedRect(box, 6, 6)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = event.position() / self._scale
        thing = self.laid.thing_at(place.x(), place.y())
        if thing is not None:
            self.choose(thing.key)
            self._grip = (thing, event.position()) if thing.fields else None
        else:
            self.choose(self.laid.stream_at(place.x(), place.y()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is None:
            place = event.position() / self._scale
            over = self.laid.thing_at(place.x(), place.y()) or self.laid.stream_at(place.x(), place.y()) is not None
            self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)
            return
        away = event.position() - self._grip[1]
        if self._at is not None or away.manhattanLength() > FAR:
            self._at = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        grip, at = self._grip, self._at
        self._let_go()
        target = self._target(at, grip[0]) if grip is not None and at is not None else None
        if grip is not None and target is not None:
            self.moved.emit(grip[0], source_named(target))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self._grip is not None:
            self._let_go()
        elif event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self.step(1)
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Up):
            self.step(-1)
        else:
            super().keyPressEvent(event)

    def _target(self, at: QPointF, dragged: Bank | None = None) -> Bank | None:
        """The source under the pointer, of another thing than the one that is dragged."""
        own = dragged or (self._grip[0] if self._grip is not None else None)
        place = at / self._scale
        thing = self.laid.thing_at(place.x(), place.y())
        if thing is None or own is None or thing.key == own.key or source_named(thing) is None:
            return None
        return thing

    def _let_go(self) -> None:
        self._grip = self._at = None
        self.update()
