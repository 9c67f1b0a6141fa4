"""What a person knows of an own strip: its watts per metre, or two voltages on a lit length; the rest is worked out."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.electrical.strip_facts import of_voltages, of_watts
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import StripPart, nominal_currents_a
from tiny_lantern.model.quantities import volts
from tiny_lantern.ui.widgets.fields import Rows, button, faint, side_by_side
from tiny_lantern.ui.widgets.quantity import QuantityEdit


class StripFacts(QWidget):
    """Asks for one of the two; ``worked_out`` gives the strip that follows."""

    worked_out = Signal(object)
    faulty = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._part: StripPart | None = None
        self.watts = QuantityEdit("Watts per metre at full white", "W", "{:.3g} W/m".format)
        self.pixels = QuantityEdit("Pixels of the lit length", "", "{:.0f}".format)
        self.near = QuantityEdit("Volts at the fed end", "V", volts)
        self.far = QuantityEdit("Volts at the far end", "V", volts)
        for field in (self.watts, self.pixels, self.near, self.far):
            field.faulty.connect(self.faulty)
        self.pixels.show_value(60)
        self.watts.entered.connect(lambda value: self._work(lambda part: of_watts(part, value)))
        rows = Rows()
        rows.add("I only know W/m", self.watts)
        rows.add("lit, fully white", self.pixels)
        rows.add("volts, fed end", self.near)
        rows.add("volts, far end", self.far)
        self.measured = button("I measured two voltages", self._from_volts, tip="Both rails' resistance from them")
        self.words = faint()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(rows.grid)
        column.addLayout(side_by_side(self.measured))
        column.addWidget(self.words)

    def show_part(self, part: StripPart) -> None:
        """Show what an own strip takes now."""
        self._part = part
        self.watts.show_value(_watts_per_m(part))
        if self.near.value is None:
            self.near.show_value(part.nominal_v)
        self.words.setText("Measure between the pads, all fully white, fed at one end only.")

    def _from_volts(self) -> None:
        pixels, near_v, far_v = self.pixels.value, self.near.value, self.far.value
        if pixels is None or near_v is None or far_v is None:
            self.faulty.emit(LanternError("a reading is missing", "two voltages", "pixels, volts at both ends"))
            return
        self._work(lambda part: of_voltages(part, int(pixels), near_v, far_v))

    def _work(self, make: Callable[[StripPart], StripPart]) -> None:
        if self._part is None:
            return
        try:
            self.worked_out.emit(make(self._part))
        except LanternError as error:
            self.faulty.emit(error)


def _watts_per_m(part: StripPart) -> float:
    return (sum(nominal_currents_a(part)) + part.pixel.quiescent_a) * part.nominal_v / part.pitch_m
