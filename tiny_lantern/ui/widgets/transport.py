"""The transport: play, time, speed, and the one line that says what the last action did."""

from __future__ import annotations

from PySide6.QtCore import QElapsedTimer, QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QSizePolicy, QSlider, QWidget

from tiny_lantern.model.quantities import clock
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, combo, quiet, set_choice

SHORTEST_MS, LONGEST_MS = 16, 25
SPEEDS = (0.25, 0.5, 1.0, 2.0, 4.0)


@guarded
class PlayButton(QPushButton):
    """A triangle, or two bars while the show plays."""

    def __init__(self) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setFixedSize(40, 34)
        self.setAccessibleName("Play or pause (Space)")
        self.setToolTip("Play or pause (Space)")

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(QColor(theme.NIGHT_INK))
        painter.setPen(Qt.PenStyle.NoPen)
        middle = QPointF(self.width() / 2, self.height() / 2)
        if self.isChecked():
            painter.drawRect(QRectF(middle.x() - 7, middle.y() - 8, 5, 16))
            painter.drawRect(QRectF(middle.x() + 2, middle.y() - 8, 5, 16))
            return
        corners = [QPointF(middle.x() - 6, middle.y() - 9), QPointF(middle.x() + 9, middle.y())]
        painter.drawPolygon(QPolygonF([*corners, QPointF(middle.x() - 6, middle.y() + 9)]))


class WorkBar(QWidget):
    """Long work under way: what, how far, and a button that stops it."""

    def __init__(self) -> None:
        super().__init__()
        self._text = PlainLabel()
        self._share = QProgressBar()
        self._share.setFixedSize(120, 16)
        self._share.setAccessibleName("Share of the work that is done")
        self.stop = QPushButton("Stop")
        self.stop.setToolTip("Stop; nothing is changed (Ctrl+.)")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for widget in (self._text, self._share, self.stop):
            row.addWidget(widget)
        self.hide()

    def begin(self, text: str) -> None:
        """Show that work has begun."""
        self._text.setText(text)
        self._share.setValue(0)
        self.show()

    def follow(self, share: float) -> None:
        """Show the share done, 0 to 1."""
        self._share.setValue(round(share * 100))

    def end(self) -> None:
        """The work is over."""
        self.hide()


def frame_ms(tick_hz: float) -> int:
    """How long a frame of a show is on the screen, which shows 40 to 60 of them a second. [ms]

    Args:
        tick_hz: frames a second that the board plays. [Hz]
    """
    return min(max(round(1000 / tick_hz), SHORTEST_MS), LONGEST_MS)


class Transport(QWidget):
    """Moves the caret through the show."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("transport")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(theme.TRANSPORT_HEIGHT)
        self._session = session
        self._speed = 1.0
        self._played = 0
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._advance)
        self.play = PlayButton()
        self.play.toggled.connect(self._toggled)
        self._now, self._of = PlainLabel(), PlainLabel()
        self._now.setFont(theme.font(12))
        self._now.setFixedWidth(56)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Time in the show")
        self.slider.setMinimumWidth(120)
        self.slider.setMaximumWidth(420)
        self.slider.valueChanged.connect(lambda tenths: session.set_time(tenths / 10))
        self.speed = combo([(f"×{speed:g}", speed) for speed in SPEEDS], "Speed of play", self._set_speed)
        set_choice(self.speed, 1.0)
        self.work = WorkBar()
        self.status = PlainLabel()
        self.status.setObjectName("statusLine")
        self.status.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.status.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.MARGIN, 4, theme.MARGIN + 4, 4)
        row.setSpacing(10)
        for widget in (self.play, self._now, self._of):
            row.addWidget(widget)
        row.addWidget(self.slider, 3)
        row.addWidget(self.speed)
        row.addWidget(self.work)
        row.addWidget(self.status, 5)
        session.time_changed.connect(self._follow)
        session.build_changed.connect(lambda: self._follow() if session.build.show_s != self._shown_s else None)
        session.said.connect(self.say)
        self._follow()

    def show_play(self, shown: bool) -> None:
        """Show what plays the show, or only the status line while there is nothing to play."""
        if not shown:
            self.stop()
        for widget in (self.play, self._now, self._of, self.slider, self.speed):
            widget.setVisible(shown)

    @property
    def playing(self) -> bool:
        """Whether the show runs."""
        return self._timer.isActive()

    def toggle(self) -> None:
        """Play or pause."""
        self.play.toggle()

    def stop(self) -> None:
        """Pause."""
        self.play.setChecked(False)

    def say(self, text: str) -> None:
        """Show a sentence in the status line, whole as its tool tip."""
        shown = self.status.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, max(60, self.status.width()))
        self.status.setText(shown)
        self.status.setToolTip(text)

    def _toggled(self, on: bool) -> None:
        self._session.answerer.runs = on and self._session.loop_s is None
        if on:
            self._played = 0
            if self._session.time_s >= self._session.build.show_s - 0.05:
                self._session.set_time(0.0)
            self._clock.start()
            self._timer.start(frame_ms(self._session.build.tick_hz))
        else:
            self._timer.stop()

    def _advance(self) -> None:
        span_s = self._clock.nsecsElapsed() / 1e9 * self._speed
        time_s = self._session.time_s + span_s
        self._clock.restart()
        build, loop, answerer = self._session.build, self._session.loop_s, self._session.answerer
        if loop is not None and loop[1] <= build.show_s:
            begin_s, end_s = loop
            self._session.set_time(begin_s if not begin_s <= time_s < end_s else time_s)
            return
        if answerer.on:
            if not answerer.play(span_s):
                self.play.setChecked(False)
            return
        if time_s >= build.show_s:
            self._played += 1
            if build.after_end != "repeat" and self._played >= build.plays:
                self._session.set_time(build.show_s)
                self.play.setChecked(False)
                return
            time_s -= build.show_s
        self._session.set_time(time_s)

    def _set_speed(self, speed: object) -> None:
        self._speed = float(speed)  # type: ignore[arg-type]

    def _follow(self) -> None:
        self._now.setText(clock(self._session.time_s))
        self._shown_s = self._session.build.show_s
        self._of.setText(f"of {clock(self._session.build.show_s)}")
        with quiet(self.slider):
            self.slider.setRange(0, round(self._session.build.show_s * 10))
            self.slider.setValue(round(self._session.time_s * 10))
