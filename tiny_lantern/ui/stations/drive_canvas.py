"""Each channel's current against the Line, brackets with gauges for what drives it, and tails to the board's pins."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tiny_lantern.electrical.driven.contract import NO_LIMIT, Block
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.model.drive import Board
from tiny_lantern.model.quantities import amps
from tiny_lantern.plans.ways import way_of
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.drive_layout import DriveLayout, DriverBox, KeptBars, PinSpot, layout_of
from tiny_lantern.ui.widgets.layer import Layer

SMALL = 8.0
NO_ROOM = 16.0
HANGS = 34.0


@guarded
class DriveCanvas(QWidget):
    """Draws; what the hand does is elsewhere. ``tail`` is a tail that is being led to another pin."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self._solution: DriveSolution | None = None
        self._kept = KeptBars()
        self._still = Layer()
        self._laid: tuple[tuple[object, ...], DriveLayout] | None = None
        self.palette_in_use = theme.PAPER
        self.tail: tuple[PinSpot, QPointF] | None = None
        self.board_id: str | None = None
        self.setMinimumSize(400, 330)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Currents of channels against the Line, what drives them, and the board's pins")
        axis.changed.connect(self.update)
        session.selection_changed.connect(self.update)

    def show_solution(self, solution: DriveSolution) -> None:
        """Show a solution."""
        self._solution = solution
        self.update()

    @property
    def solution(self) -> DriveSolution | None:
        """What is shown."""
        return self._solution

    @property
    def board(self) -> Board | None:
        """The board that is shown: the chosen one, else the first."""
        boards = self._session.build.boards
        return next((board for board in boards if board.id == self.board_id), boards[0] if boards else None)

    def layout_now(self) -> DriveLayout | None:
        """Where everything stands now; None while nothing is solved."""
        solution = self._solution
        if solution is None:
            return None
        build, board = solution.build, self.board
        key = (build, self.width(), self.height(), self._axis.left_m, self._axis.right_m, board)
        if self._laid is None or any(a is not b and a != b for a, b in zip(self._laid[0], key, strict=True)):
            self._laid = (key, layout_of(build, solution, self._axis, self.width(), self.height(), board, self._kept))
        return self._laid[1]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        layout = self.layout_now()
        if layout is None:
            return
        self._chart(painter, layout)
        self._brackets(painter, layout)
        if self.tail is not None:
            self._tails(painter, layout)
        shows = self._on_board(layout)
        painter.drawPixmap(0, 0, self._still.picture(self, self.size().toSizeF(), shows, partial(self._below, layout)))
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.palette_in_use.amber), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(layout.chart.adjusted(0, -CHART_EDGE, 0, 0))

    def _on_board(self, layout: DriveLayout) -> tuple[object, ...]:
        """All that the board is drawn from."""
        board, solution = self.board, self._solution
        total = solution.boards[board.id] if board is not None and solution is not None else None
        figures = (total.part, total.pins_a, total.used_pins) if total is not None else ()
        tails = () if self.tail is not None else (self.palette_in_use, layout.boxes, layout.controlled)
        chosen = self._session.selection.one("drivers")
        return (layout.board, layout.pins, board.name if board else "", figures, chosen, tails)

    def _below(self, layout: DriveLayout, painter: QPainter) -> None:
        """The board, and the tails that lead to it while none of them is in the hand."""
        if self.tail is None:
            self._tails(painter, layout)
        self._board(painter, layout)

    def _pen(self, colour: str, width: float = 1.0, dashed: bool = False) -> QPen:
        return QPen(QColor(colour), width, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine)

    def _chart(self, painter: QPainter, layout: DriveLayout) -> None:
        p, chart = self.palette_in_use, layout.chart
        painter.fillRect(chart, QColor(p.panel))
        painter.setFont(theme.font(SMALL))
        for value in layout.steps():
            y = layout.y_of(value)
            painter.setPen(self._pen(p.rule))
            painter.drawLine(QPointF(chart.left(), y), QPointF(chart.right(), y))
            painter.setPen(QColor(p.faint))
            box = QRectF(0, y - 8, theme.GUTTER - 6, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{value * 1000:g}")
        painter.setFont(theme.font(9))
        title = QRectF(0, 0, chart.width(), 18)
        painter.drawText(title, Qt.AlignmentFlag.AlignLeft, "milliamps in each channel while it is lit")
        painter.save()
        painter.setClipRect(chart.adjusted(-1, -1, 1, 1))
        painter.setPen(Qt.PenStyle.NoPen)
        for colour, rects in self._bars_by_colour(layout).items():
            painter.setBrush(QColor(colour))
            painter.drawRects(rects)
        self._limits(painter, layout)
        painter.restore()
        self._beyond(painter, layout)

    def _bars_by_colour(self, layout: DriveLayout) -> dict[str, list[QRectF]]:
        """The bars that are drawn in each colour: those selected, those over what they may carry, all others."""
        p, chosen = self.palette_in_use, set(self._session.selection.all("channels"))
        found: dict[str, list[QRectF]] = {p.copper: [], p.danger: [], p.amber: []}
        foot, scale, highest = layout.chart.bottom(), layout.chart.height() / layout.most_a, layout.most_a * 1.02
        for bar in layout.bars:
            over = bar.on_a > bar.most_a * (1 + 1e-9)
            colour = p.amber if bar.channel_id in chosen else p.danger if over else p.copper
            high = min(bar.on_a, highest) * scale
            found[colour].append(QRectF(bar.middle - bar.width / 2, foot - high, bar.width, high))
        return found

    def _limits(self, painter: QPainter, layout: DriveLayout) -> None:
        """A dashed line over each driver's bars: what its outputs should carry."""
        painter.setPen(self._pen(self.palette_in_use.danger, 1.2, dashed=True))
        for box in layout.boxes:
            limit = min((bar.most_a for bar in layout.bars_of[box.driver_id]), default=NO_LIMIT)
            if limit <= layout.most_a:
                painter.drawLine(QPointF(box.left, layout.y_of(limit)), QPointF(box.right, layout.y_of(limit)))

    def _beyond(self, painter: QPainter, layout: DriveLayout) -> None:
        """The figure over a bar that is too high for the scale, as a relay's load or a whole rail is."""
        painter.setFont(theme.font(SMALL))
        painter.setPen(QColor(self.palette_in_use.ink))
        edge = -1e9
        beyond = [bar for bar in layout.bars if bar.on_a > layout.most_a]
        for bar in sorted(beyond, key=lambda bar: bar.middle):
            if layout.chart.left() <= bar.middle <= layout.chart.right() and bar.middle > edge:
                box = QRectF(bar.middle - 22, layout.chart.top() - 14, 44, 13)
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{bar.on_a * 1000:.0f}")
                edge = bar.middle + 20

    def _brackets(self, painter: QPainter, layout: DriveLayout) -> None:
        p = self.palette_in_use
        chosen = self._session.selection.one("drivers")
        for each in layout.boxes:
            y = layout.chart.bottom()
            middle = each.box.center().x()
            painter.setPen(self._pen(p.ink, 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            left, right = each.left, max(each.right, each.left + 4)
            painter.drawPolyline(
                [QPointF(left, y + 4), QPointF(left, y + 10), QPointF(right, y + 10), QPointF(right, y + 4)]
            )
            painter.drawPolyline([QPointF((left + right) / 2, y + 10), QPointF(middle, each.box.top())])
            painter.setPen(
                self._pen(p.amber if each.driver_id == chosen else p.ink, 2 if each.driver_id == chosen else 1)
            )
            painter.setBrush(QColor(p.panel))
            painter.drawRoundedRect(each.box, 4, 4)
            self._box_words(painter, each)

    def _box_words(self, painter: QPainter, each: DriverBox) -> None:
        solution, p = self._solution, self.palette_in_use
        if solution is None:
            return
        result = solution.by_driver[each.driver_id]
        driver = result.case.driver
        inside = each.box.adjusted(7, 5, -7, -4)
        block = max(result.blocks, key=lambda block: block.share, default=None)
        painter.save()
        painter.setClipRect(each.box)
        painter.setPen(QColor(p.ink))
        painter.setFont(theme.font(9))
        painter.drawText(inside, Qt.AlignmentFlag.AlignLeft, _shortened(driver.name, inside.width(), 9))
        painter.setFont(theme.font(SMALL))
        painter.setPen(QColor(p.faint))
        words = block.words if block is not None and block.words else way_of(driver.kind).word
        painter.drawText(
            inside.adjusted(0, 15, 0, 0), Qt.AlignmentFlag.AlignLeft, _shortened(words, inside.width(), SMALL)
        )
        if block is not None:
            self._gauge(painter, QRectF(inside.left(), inside.top() + 31, inside.width(), 5), block)
            painter.setPen(QColor(p.danger if block.over else p.ink))
            told = _shortened(gauge_words(block), inside.width(), SMALL)
            painter.drawText(inside.adjusted(0, 39, 0, 4), Qt.AlignmentFlag.AlignLeft, told)
        painter.restore()

    def _gauge(self, painter: QPainter, box: QRectF, block: Block) -> None:
        p = self.palette_in_use
        painter.fillRect(box, QColor(p.rule))
        share = min(1.0, block.share)
        fill = QRectF(box.left(), box.top(), box.width() * share, box.height())
        painter.fillRect(fill, QColor(p.danger if block.over else p.amber))

    def _tails(self, painter: QPainter, layout: DriveLayout) -> None:
        p = self.palette_in_use
        chosen = self._session.selection.one("drivers")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for start, end, driver_id in layout.controls():
            painter.setPen(self._pen(p.amber if driver_id == chosen else p.teal, 1.5 if driver_id == chosen else 1))
            path = QPainterPath(start)
            path.cubicTo(start + QPointF(0, HANGS), end + QPointF(0, HANGS), end)
            painter.drawPath(path)
        for start, end, pin in layout.tails():
            if self.tail is not None and self.tail[0] == pin:
                end = self.tail[1]
            painter.setPen(
                self._pen(p.amber if pin.driver_id == chosen else p.copper, 1.5 if pin.driver_id == chosen else 1)
            )
            path = QPainterPath(start)
            bend = (end.y() - start.y()) * 0.55
            path.cubicTo(start + QPointF(0, bend), end - QPointF(0, bend), end)
            painter.drawPath(path)

    def _board(self, painter: QPainter, layout: DriveLayout) -> None:
        board, solution = self.board, self._solution
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.NIGHT_GROUND))
        painter.drawRoundedRect(layout.board, 5, 5)
        painter.setFont(theme.font(9))
        painter.setPen(QColor(theme.NIGHT_INK))
        foot = layout.board.adjusted(10, 0, -10, -6)
        if board is None or solution is None:
            painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, "No board yet: drive a piece, and one comes with it.")
            return
        total = solution.boards[board.id]
        painter.drawText(
            foot, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, f"{board.name}: {total.part.name}"
        )
        painter.setPen(QColor(theme.NIGHT_FAINT))
        given = f"{amps(total.pins_a)} of {amps(total.part.board_limit_a)}"
        words = f"{total.used_pins} of {len(total.part.pins)} pins · {given}"
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, words)
        chosen = self._session.selection.one("drivers")
        for pin in layout.pins:
            self._pin(painter, pin, pin.driver_id != "" and pin.driver_id == chosen)

    def _pin(self, painter: QPainter, pin: PinSpot, chosen: bool) -> None:
        used = bool(pin.driver_id)
        colour = theme.AMBER if used else "#5b4a6a" if pin.reserved else "#2b3440"
        painter.setPen(QPen(QColor("#ffffff"), 1.6) if chosen else Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colour))
        painter.drawRoundedRect(pin.box, 3, 3)
        if pin.box.width() >= NO_ROOM:
            painter.setPen(QColor("#1a1206" if used else theme.NIGHT_FAINT))
            painter.setFont(theme.font(7.5))
            painter.drawText(pin.box, Qt.AlignmentFlag.AlignCenter, pin.name)


CHART_EDGE = 1


def gauge_words(block: Block) -> str:
    """A gauge in words: value and limit."""
    if block.unit == "°C":
        return f"{block.value:.0f} of {block.limit:.0f} °C"
    if block.limit == NO_LIMIT:
        return amps(block.value)
    if block.limit >= 1:
        return f"{block.value:.2g} of {block.limit:g} A"
    return f"{block.value * 1000:.0f} of {block.limit * 1000:.0f} mA"


def _shortened(text: str, width: float, size: float) -> str:
    if theme.text_width(text, size) <= width:
        return text
    while text and theme.text_width(f"{text}…", size) > width:
        text = text[:-1]
    return f"{text}…"
