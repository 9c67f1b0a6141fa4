"""The inputs of the build, to be turned, pressed and switched beside the show that answers to them."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from tiny_lantern.model.input import Input
from tiny_lantern.model.inputs.knob import KnobInput
from tiny_lantern.show.answering.tables import Hears
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, button, emptied
from tiny_lantern.ui.widgets.turned import Dial, Pad, Press

HEIGHT, CARD = 76, 118
READS, OVER_CABLE = ("reads low", "reads high"), ("over the cable", "over the cable")
STATIONS = ("Drive", "Weave", "Bench")
Control = Dial | Pad | Press


class InputPanel(QWidget):
    """A card for each input; there while lights are looked at and the build has any."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("transport")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(HEIGHT)
        self._session = session
        self._made: tuple[tuple[object, ...], ...] = ()
        self._reads: dict[str, tuple[str, str]] = {}
        self.controls: dict[str, Control] = {}
        self._told: dict[str, QLabel] = {}
        cards = QWidget()
        cards.setObjectName("transport")
        self._row = QHBoxLayout(cards)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(14)
        self._row.setAlignment(Qt.AlignmentFlag.AlignLeft)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(cards)
        self.write = button("Write down", self._write, tip="Write down what the inputs read while the show plays")
        self.write.setCheckable(True)
        self.again = button("Once more", self._replay, tip="The inputs read again what was written down")
        side = QVBoxLayout()
        side.setSpacing(4)
        for each in (self.write, self.again):
            each.setFixedWidth(96)
            side.addWidget(each)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.MARGIN, 4, theme.MARGIN + 4, 4)
        row.setSpacing(12)
        title = PlainLabel("Inputs")
        title.setFont(theme.font(11))
        row.addWidget(title)
        row.addWidget(area, 1)
        row.addLayout(side)
        session.build_changed.connect(self.refresh)
        session.answerer.read.connect(self._show)
        self.refresh()

    def show_in(self, station: str) -> None:
        """Be there where lights are looked at, while the build has inputs.

        Args:
            station: the station shown.
        """
        self.setVisible(bool(self._session.build.inputs) and station in STATIONS)

    def refresh(self) -> None:
        """Show the inputs of the build in hand."""
        build = self._session.build
        wanted = tuple((one.id, one.kind, one.name, one.states) for one in build.inputs)
        if wanted != self._made:
            self._made = wanted
            emptied(self._row)
            self.controls, self._told = {}, {}
            self._reads = {one.id: READS if one.wired else OVER_CABLE for one in build.inputs}
            for one in build.inputs:
                self._row.addWidget(self._card(one))
        self._show()

    def _card(self, one: Input) -> QWidget:
        name, told = PlainLabel(), PlainLabel()
        name.setFont(theme.font(9))
        name.setText(name.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, CARD))
        name.setToolTip(one.name)
        told.setFont(theme.font(9))
        told.setObjectName("statusLine")
        control = _control(one)
        control.setToolTip(f"{one.name}: {one.word}")
        control.moved.connect(partial(self._move, one.id))
        self.controls[one.id], self._told[one.id] = control, told
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(name)
        if isinstance(control, Dial):
            words.addWidget(told)
        else:
            words.addWidget(control)
            words.addWidget(told)
        card = QWidget()
        card.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        row = QHBoxLayout(card)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        if isinstance(control, Dial):
            control.setFixedSize(44, 44)
            row.addWidget(control)
        row.addLayout(words)
        return card

    def _hears(self) -> dict[str, Hears]:
        return {one.input_id: one for one in self._session.answerer.tables.hears}

    def _show(self) -> None:
        """Show what each input reads."""
        answerer = self._session.answerer
        for input_id, one in self._hears().items():
            if input_id not in self.controls:
                continue
            reading = answerer.reading(one)
            self.controls[input_id].show_way(min(max((reading - one.rest) / (one.full - one.rest), 0.0), 1.0))
            self._told[input_id].setText(f"{reading} counts" if one.volts else self._reads[input_id][reading])
        self.write.setChecked(answerer.writing)
        self.again.setEnabled(bool(answerer.recorded) and not answerer.writing)

    def _move(self, input_id: str, way: float) -> None:
        one = self._hears().get(input_id)
        if one is not None:
            self._session.answerer.move(one, way)

    def _write(self) -> None:
        answerer = self._session.answerer
        answerer.write(not answerer.writing)
        if answerer.writing:
            self._session.say("What the inputs read is written down while the show plays.")
        else:
            seconds = len(answerer.recorded) / self._session.build.tick_hz
            self._session.say(f"{seconds:.1f} s of readings are written down.")
        self._show()

    def _replay(self) -> None:
        self._session.answerer.replay(self._session.answerer.recorded)
        self._session.say("The inputs read again what was written down, as the show plays.")


def _control(one: Input) -> Control:
    """What a hand moves in place of an input."""
    if not one.volts:
        return Press(one.name, one.stays, one.states)
    return Dial(one.name) if isinstance(one, KnobInput) else Pad(one.name, one.act == "pressed")
