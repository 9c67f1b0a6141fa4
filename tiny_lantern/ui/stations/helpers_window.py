"""Small sums beside the build: fades, flicker, colours, knobs, press sensors, and bits as bytes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QTabWidget, QVBoxLayout, QWidget

from tiny_lantern.electrical.drive.timer import pwm_hz
from tiny_lantern.electrical.inputs.audio import AudioIn
from tiny_lantern.electrical.inputs.button import Button
from tiny_lantern.electrical.inputs.knob import Knob
from tiny_lantern.electrical.inputs.press import PressSensor, divider, fixed_e24_ohm, fixed_ohm
from tiny_lantern.light.colour import srgb_from_linear
from tiny_lantern.light.flicker import banding, flicker
from tiny_lantern.light.mixing import (
    D65_XY,
    LampPrimary,
    mix,
    numbers_of,
    srgb_matrix,
    white_balance,
    xyz_of_srgb,
    xyz_of_xy,
)
from tiny_lantern.light.perception import dimming_steps, duty_table, largest_step
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.quantities import engineering, parse_quantity, volts
from tiny_lantern.show.snippets import audio_c, button_c, knob_c, press_c, table_c
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.bits_sum import BitsSum
from tiny_lantern.ui.widgets.fields import ColourButton, Rows, combo, faint
from tiny_lantern.ui.widgets.small_curve import SmallCurve

DEFAULT = (LampPrimary(0.69, 0.308, 0.45, 0.012, 0.012), LampPrimary(0.17, 0.70, 0.80, 0.012, 0.012),
           LampPrimary(0.135, 0.055, 0.20, 0.012, 0.012))  # fmt: skip
Fields = dict[str, QLineEdit]
Floats = NDArray[np.float64]
FADE = (("bits", "bits", "", "8"), ("entries", "entries", "", "64"))
FLICKER = (("clock", "clock", "Hz", "16 MHz"), ("divider", "divider", "", "64"), ("bits", "bits", "", "8"),
           ("exposure", "exposure", "s", "0.02"))  # fmt: skip
KNOB = (("bits", "reading, bits", "", "12"), ("offset", "counts at rest", "", "22"),
        ("full", "counts when full", "", "4095"), ("out", "level, bits", "", "8"),
        ("reading", "reading now", "", "1000"))  # fmt: skip
PRESS = (("rest", "at rest", "ohm", "100k"), ("pressed", "pressed", "ohm", "1k"), ("supply", "supply", "V", "5"),
         ("bits", "reading, bits", "", "10"))  # fmt: skip

PRESS_TO = (("sensor to the supply", 0.0), ("sensor to 0 V", 1.0))
BUTTON = (("supply", "supply", "V", "5"), ("pull", "pull resistor", "ohm", "10k"), ("rate", "readings a second", "Hz",
          "40"), ("bounce", "bounce", "s", "0.05"))  # fmt: skip
BUTTON_TO = (("button to 0 V", 1.0), ("button to the supply", 0.0))
AUDIO = (("peak", "loudest peak", "V", "1"), ("supply", "supply", "V", "5"), ("bias", "each bias resistor", "ohm",
         "100k"), ("coupling", "capacitor, µF", "", "0.1"), ("bits", "reading, bits", "", "10"))  # fmt: skip


@dataclass(frozen=True)
class Curved:
    """The curve of a sum: what stands along it and up it, and its figures from the sum's fields."""

    across: str
    upward: str
    of: Callable[[dict[str, float]], Sequence[float]]


class _Sum(QWidget):
    """A few fields, and the text that follows from them."""

    def __init__(
        self, session: Session, fields: tuple[tuple[str, str, str, str], ...], work: Callable[[dict[str, float]], str],
        sides: tuple[tuple[str, float], ...] = (), curve: Curved | None = None,
    ) -> None:  # fmt: skip
        super().__init__()
        self._session, self._work, self._curved = session, work, curve
        self._units = {name: unit for name, _, unit, _ in fields}
        self.fields: Fields = {}
        rows = Rows()
        for name, label, _, value in fields:
            line = self.fields[name] = QLineEdit(value)
            line.editingFinished.connect(self.refresh)
            rows.add(label, line)
        self.side = combo(sides, "Which way round", lambda _: self.refresh()) if sides else None
        if self.side is not None:
            rows.add("which way round", self.side)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setFont(theme.fixed_font())
        self.text.setStyleSheet(f"font-family: {theme.FIXED};")
        self.text.setAccessibleName("Result")
        self.told = faint()
        self.column = QVBoxLayout(self)
        self.column.addLayout(rows.grid)
        self.column.addWidget(self.told)
        beside = QHBoxLayout()
        beside.addWidget(self.text, 3)
        self.curve = SmallCurve(curve.across, curve.upward) if curve is not None else None
        if self.curve is not None:
            beside.addWidget(self.curve, 2)
        self.column.addLayout(beside, 1)
        self.refresh()

    def refresh(self) -> None:
        """Work it out anew; what cannot be is told, and the last result stays."""
        try:
            values = {name: parse_quantity(line.text(), self._units[name], name) for name, line in self.fields.items()}
            if self.side is not None:
                values["side"] = self.side.currentData()
            self.text.setPlainText(self._work(values))
            if self.curve is not None and self._curved is not None:
                self.curve.show_values(self._curved.of(values))
            self.told.setText("")
        except LanternError as error:
            self.told.setText(error.sentence())


class HelpersWindow(QWidget):
    """The sums, a tab each."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.tabs = QTabWidget()
        self.fade = _Sum(session, FADE, _fade, curve=Curved("entry", "duty", _fade_curve))
        self.flicker = _Sum(session, FLICKER, _flicker)
        self.knob = _Sum(session, KNOB, _knob, curve=Curved("reading, of 64ths", "level", _knob_curve))
        self.press = _Sum(session, PRESS, _press, PRESS_TO)
        self.button = _Sum(session, BUTTON, _button, BUTTON_TO)
        self.audio = _Sum(session, AUDIO, _audio)
        self.colour, self.bits = ColourSum(session), BitsSum()
        named = {"Fade table": self.fade, "Flicker": self.flicker, "Colour": self.colour, "Knob": self.knob,
                 "Button": self.button, "Press sensor": self.press, "Sound": self.audio,
                 "Bits and bytes": self.bits}  # fmt: skip
        for title, tab in named.items():
            self.tabs.addTab(tab, title)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.tabs)


def _whole(values: dict[str, float], name: str, least: int, most: int) -> int:
    value = values[name]
    if value != int(value) or not least <= value <= most:
        raise LanternError(f"{value:g} cannot be used here", name, f"a whole number from {least} to {most}")
    return int(value)


def _fade_curve(values: dict[str, float]) -> Sequence[float]:
    table = duty_table("lightness", _whole(values, "entries", 2, 4096), _whole(values, "bits", 1, 16))
    return [float(duty) for duty in table.tolist()]


def _knob_curve(values: dict[str, float]) -> Sequence[float]:
    knob = _knob_of(values)
    top = (1 << _whole(values, "bits", 1, 24)) - 1
    return [float(knob.level(top * step // 64)) for step in range(65)]


def _knob_of(values: dict[str, float]) -> Knob:
    return Knob(_whole(values, "bits", 1, 24), _whole(values, "offset", 0, 1 << 24),
                _whole(values, "full", 1, 1 << 24), _whole(values, "out", 1, 16))  # fmt: skip


def _fade(values: dict[str, float]) -> str:
    bits, entries = _whole(values, "bits", 1, 16), _whole(values, "entries", 2, 4096)
    seen = dimming_steps(bits)
    table = duty_table("lightness", entries, bits)
    told = f"an eye sees steps below {seen.below_duty:.1%} of full" if seen.below_duty else "no step is seen"
    return (
        f"At {bits} bits the first step from dark is L* {seen.first:.2f}, the largest {seen.largest:.2f}; {told}.\n"
        f"In this table the largest step is L* {largest_step(table, bits):.2f}.\n\n{table_c(table.tolist(), bits)}"
    )


def _flicker(values: dict[str, float]) -> str:
    bits, divider_n = _whole(values, "bits", 1, 20), _whole(values, "divider", 1, 65_536)
    hz = pwm_hz(values["clock"], divider_n, bits)
    words = {"seen": "seen directly", "risk": "a risk to sensitive people", "low_risk": "low risk",
             "no_observable_effect": "nothing is noticed"}[flicker(hz)]  # fmt: skip
    bands = "bands before a camera" if values["exposure"] > 0 and banding(hz, values["exposure"]) else "no bands"
    return (
        f"{hz:,.1f} Hz: {words}; {bands} at an exposure of {values['exposure']:g} s.\n"
        "Low risk from 1,250 Hz, nothing noticed from 3,000 Hz. Lamps that move, and lamps that are filmed, want the "
        "upper one."
    )


def _knob(values: dict[str, float]) -> str:
    knob = _knob_of(values)
    level = knob.level(_whole(values, "reading", 0, 1 << 24))
    note = "" if knob.product_bits <= 15 else (
        f"\nThe product needs {knob.product_bits} bits: on a board whose int has 16 it must be an unsigned long."
    )  # fmt: skip
    return f"Level {level} of {knob.top}.{note}\n\n{knob_c(knob)}"


def _press(values: dict[str, float]) -> str:
    to: Literal["supply", "ground"] = "ground" if values["side"] else "supply"
    sensor = PressSensor(values["rest"], values["pressed"], values["supply"], to, values["supply"],
                         _whole(values, "bits", 1, 24))  # fmt: skip
    ideal, bought = fixed_ohm(sensor), fixed_e24_ohm(sensor)
    found = divider(sensor, bought)
    ends = ("0 V", "the supply") if to == "supply" else ("the supply", "0 V")
    above, below = ("above", "below") if found.rises else ("below", "above")
    return (
        f"Fixed resistor √(R_rest · R_pressed) = {engineering(ideal, 'ohm')}; fit {engineering(bought, 'ohm')}, from "
        f"the reading to {ends[0]}, the sensor from {ends[1]} to the reading.\n"
        f"Idle {volts(found.rest_v)}, pressed {volts(found.pressed_v)}: the reading "
        f"{'rises' if found.rises else 'falls'} when pressed.\n"
        f"Pressed {above} {volts(found.press_at_v)} ({found.counts(found.press_at_v)} counts), let go {below} "
        f"{volts(found.release_at_v)} ({found.counts(found.release_at_v)} counts).\n\n{press_c(found)}"
    )


def _button(values: dict[str, float]) -> str:
    button = Button("ground" if values["side"] else "supply", values["supply"], values["pull"], values["rate"],
                    values["bounce"])  # fmt: skip
    far = "the supply" if button.to == "ground" else "0 V"
    return (
        f"The resistor goes from the pin to {far}: idle reads {button.idle}, pressed {1 - button.idle}, and then "
        f"{engineering(button.pressed_a, 'A')} flows. Many boards have such a resistor inside; then none is fitted.\n"
        f"{button.debounce_ticks} readings that agree outlast a bounce of {button.debounce_s:g} s.\n\n"
        f"{button_c(button)}"
    )


def _audio(values: dict[str, float]) -> str:
    if values["coupling"] <= 0:
        raise LanternError("there is no such capacitor", "coupling", "a value above 0, as 0.1")
    audio = AudioIn(values["peak"], values["supply"], values["bias"], values["coupling"] * 1e-6, values["supply"],
                    _whole(values, "bits", 1, 24))  # fmt: skip
    clipped = (
        f"Clipped: no more than {volts(audio.widest_v)} of peak fits; divide it first." if audio.clips
        else f"{audio.peak_counts} counts at the loudest."
    )  # fmt: skip
    return (
        f"Two resistors of {engineering(audio.bias_ohm, 'ohm')} from the reading to the supply and to 0 V: silence is "
        f"{volts(audio.idle_v)}, {audio.idle_counts} counts. {clipped}\n"
        f"The capacitor passes what is above {audio.low_hz:.0f} Hz; its plus side, where it has one, to the reading.\n"
        "A headphone or line output only, never a loudspeaker's amplifier and never the mains.\n\n"
        f"{audio_c(audio)}"
    )


class ColourSum(QWidget):
    """A wanted colour as duties and numbers, and what a lamp can show of it: one of the build's or of the shelf's."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.wanted = "#ffb648"
        lamps = [part for part in session.parts.of(LampPart) if len(_primaries(part)) == 3]
        used = {piece.part_id for piece in session.build.pieces}
        lamps.sort(key=lambda part: part.id not in used)
        choices: list[tuple[str, object]] = [(part.name, _primaries(part)) for part in lamps]
        self.lamp = combo([*choices, ("usual red, green and blue", DEFAULT)], "Lamp", lambda _: self.refresh())
        self.pick = ColourButton("Wanted colour", self._set)
        self.shown = ColourButton("Shown colour", lambda _: None)
        self.shown.setEnabled(False)
        self.law = combo([("8 bits, straight", None), ("8-bit table, even to the eye", "lightness")], "Numbers",
                         lambda _: self.refresh())  # fmt: skip
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        rows = Rows()
        rows.add("lamp", self.lamp)
        rows.add("wanted", self.pick)
        rows.add("as the lamp shows it", self.shown)
        rows.add("numbers", self.law)
        column = QVBoxLayout(self)
        column.addLayout(rows.grid)
        column.addWidget(self.text, 1)
        self.refresh()

    def _set(self, colour: str) -> None:
        self.wanted = colour
        self.refresh()

    def refresh(self) -> None:
        """Work it out anew."""
        self.pick.show_colour(self.wanted)
        picked = QColor(self.wanted)
        lamp = self.lamp.currentData()
        found = mix(lamp, xyz_of_srgb((picked.red(), picked.green(), picked.blue())))
        table = duty_table("lightness", 256, 8) if self.law.currentData() else None
        red, green, blue = numbers_of(found.duties, 8, table).tolist()
        self.shown.show_colour(self.wanted if found.inside else _srgb_of(found.shown_xy))
        balance = white_balance(lamp)
        white = " : ".join(f"{each:.3f}" for each in balance.duties)
        self.text.setPlainText(
            f"Write {red}, {green}, {blue}.\nDuties {', '.join(f'{duty:.3f}' for duty in found.duties)}.\n"
            + ("The lamp can show it." if found.inside else
               f"It is outside what the lamp can show; moved toward white, Δu′v′ {found.delta_uv:.4f}.")
            + f"\n\nEqual numbers are not white: they land at xy {balance.equal_xy[0]:.3f}, {balance.equal_xy[1]:.3f}. "
            f"White of D65 wants R : G : B = {white}."
        )  # fmt: skip


def _primaries(part: LampPart) -> tuple[LampPrimary, ...]:
    """The red, green and blue dies of a lamp, each at the current of its figures."""
    by_name = {die.name: die for die in part.dies}
    return tuple(
        LampPrimary(die.light.x, die.light.y, die.light.intensity_cd, die.test_a, die.test_a)
        for name in ("red", "green", "blue")
        if (die := by_name.get(name)) is not None
    )


def _srgb_of(xy: Floats | None) -> str:
    x, y = (float(each) for each in xy) if xy is not None else D65_XY
    linear = np.maximum(np.linalg.solve(srgb_matrix(), xyz_of_xy(x, y)), 0.0)
    red, green, blue = np.round(srgb_from_linear(linear / linear.max()) * 255).astype(int).tolist()
    return f"#{red:02x}{green:02x}{blue:02x}"
