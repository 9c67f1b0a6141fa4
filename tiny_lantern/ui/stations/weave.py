"""Weave: what each light does, when; a raster of place against time that is edited directly."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QRectF, QSettings, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QPainter, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from tiny_lantern.model.effects import LOOKS, Look
from tiny_lantern.show.looks import sample_of
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of, screen_table
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.effect_form import EffectForm, whole_span
from tiny_lantern.ui.stations.palette_form import PaletteForm
from tiny_lantern.ui.stations.scene_form import SceneForm
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_canvas import NEW_S, WeaveCanvas
from tiny_lantern.ui.widgets.fields import button, combo, faint, panel, quiet, scrolled, set_choice, side_by_side
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.picture import Picture
from tiny_lantern.ui.widgets.splitter import remembered

SAMPLE_LIGHTS, SAMPLE_FRAMES, SAMPLE_S = 14, 10, 2.0
ACROSS, WORD_SIZE = 3, 7.5


@guarded
class LookButton(QPushButton):
    """A look as a small weave of itself, with its name."""

    chosen = Signal()

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.look = look
        self.kind, self.word = str(look.kind), look.word
        self.setCheckable(True)
        self.setFixedHeight(46)
        self.setMinimumWidth(48)
        self.setAccessibleName(f"{self.word}: draw on the weave; Enter lays it at the caret")
        self.setToolTip(f"{type(look).__doc__} Draw it on the weave, or press Enter to lay it at the caret.")
        self._image: QImage | None = None

    def sample(self) -> None:
        """Work its small weave out, where that was not yet done."""
        if self._image is None:
            self._image = image_of(screen_table()[sample_of(self.kind, SAMPLE_LIGHTS, SAMPLE_FRAMES, SAMPLE_S)])
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(54, 46)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        edge = theme.AMBER if self.isChecked() or self.hasFocus() else "#39434f"
        painter.setPen(QColor(edge))
        painter.setBrush(QColor(theme.NIGHT_GROUND))
        painter.drawRoundedRect(box, 4, 4)
        if self._image is not None:
            painter.drawImage(QRectF(box.left() + 5, box.top() + 4, box.width() - 10, 22), self._image)
        painter.setFont(theme.font(WORD_SIZE))
        painter.setPen(QColor(theme.AMBER if self.isChecked() else theme.NIGHT_INK))
        room = box.adjusted(2, 27, -2, -1)
        word = painter.fontMetrics().elidedText(self.word, Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, word)


@guarded
class WeaveStation(QWidget):
    """Left the effect and the looks, right the weave, above it the picture glowing in step."""

    def __init__(self, session: Session, axis: LineAxis, frames: FrameSource) -> None:
        super().__init__()
        self._session = session
        self.time = TimeAxis(session.build.show_s, self)
        self.canvas = WeaveCanvas(session, axis, self.time)
        self.picture = Picture(session, frames, lights_only=True)
        self.picture.setMinimumSize(120, 90)
        self.form = EffectForm(session)
        self.hold = button("Hold", tip="The selected lights stay at the value under the pointer: H on the weave")
        self.hold.setCheckable(True)
        self.hold.clicked.connect(self.canvas.holder.switch)
        self.canvas.holder.switched.connect(self.hold.setChecked)
        self.board = button("Board …", tip="A simulated board, or a real one at a port, that follows at once")
        self.order = combo([], "In which order lights are shown", self._show_order)
        self.colours, self.scenes = PaletteForm(session), SceneForm(session)
        frame, column = panel(theme.LEFT_PANEL)
        self._left = remembered("weave left", (self._looks_above(), self._fields_below()), (220, 400))
        column.addWidget(self._left)
        self._above = QWidget()
        self._inset = QHBoxLayout(self._above)
        self._inset.setContentsMargins(theme.GUTTER - 34, 0, 0, 0)
        self._inset.addWidget(self.picture)
        right = remembered("weave picture", (self._above, self.canvas), (150, 450))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addWidget(right, 1)
        self.put_picture(bool(QSettings().value("weave picture aside", False, bool)))
        self.canvas.laid.connect(self._put_down)
        in_view = InView(self, self._fill_orders)
        session.build_changed.connect(in_view.refresh)
        self._fill_orders()

    @property
    def picture_aside(self) -> bool:
        """Whether the picture stands at the side, below the fields, and leaves the weave its height."""
        return self._left.indexOf(self.picture) >= 0

    def put_picture(self, aside: bool) -> None:
        """Put the picture at the side or above the weave, now and in the next run."""
        if aside:
            self._left.addWidget(self.picture)
        else:
            self._inset.addWidget(self.picture)
        self._above.setVisible(not aside)
        self.picture.show()
        QSettings().setValue("weave picture aside", aside)

    def _looks_above(self) -> QWidget:
        """The effects as pictures, first of all and always in reach."""
        held = QWidget()
        column = QVBoxLayout(held)
        column.setContentsMargins(0, 0, 10, 0)
        column.addWidget(faint("Draw on the weave to lay one:"))
        column.addLayout(self._palette())
        column.addStretch(1)
        area = scrolled(held)
        area.setMinimumHeight(118)
        return area

    def _fields_below(self) -> QWidget:
        """The chosen effect, scenes and colours."""
        held = QWidget()
        column = QVBoxLayout(held)
        column.setContentsMargins(0, 0, 10, 0)
        column.addLayout(side_by_side(self.hold, self.board))
        for widget in (self.order, self.form, self.scenes, self.colours):
            column.addWidget(widget)
        column.addStretch(1)
        return scrolled(held)

    def _palette(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(5)
        self.looks = [LookButton(look) for look in LOOKS]
        for number, look in enumerate(self.looks):
            look.clicked.connect(lambda on, look=look: self._pick(look, on))
            look.chosen.connect(partial(self.lay_at_caret, look.look))
            grid.addWidget(look, number // ACROSS, number % ACROSS)
        return grid

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._sample_next(0)

    def _sample_next(self, number: int) -> None:
        """The small weaves one after another, so that no pause is felt."""
        if number < len(self.looks):
            self.looks[number].sample()
            QTimer.singleShot(0, self, partial(self._sample_next, number + 1))

    def _show_order(self, group_id: object) -> None:
        self.canvas.show_group(None if group_id is None else str(group_id))

    def _fill_orders(self) -> None:
        """The order of the wire, and that of each group, while there are any."""
        groups = self._session.build.groups
        wanted = [("lights as wired", None), *((f"in order: {group.name}", group.id) for group in groups)]
        with quiet(self.order):
            if wanted != [(self.order.itemText(n), self.order.itemData(n)) for n in range(self.order.count())]:
                self.order.clear()
                for name, identity in wanted:
                    self.order.addItem(name, identity)
            set_choice(self.order, self.canvas.group_id)
        self.order.setVisible(len(wanted) > 1)

    def lay_at_caret(self, look: Look) -> None:
        """Lay a look on the selected strip from the caret on."""
        self.canvas.brush = look
        first, last = whole_span(self._session)
        self.canvas.lay(first, last, round(self._session.time_s, 1), NEW_S)

    def _pick(self, look: LookButton, on: bool) -> None:
        for other in self.looks:
            other.setChecked(other is look and on)
        self.canvas.brush = look.look if on else None

    def _put_down(self) -> None:
        for look in self.looks:
            look.setChecked(False)
