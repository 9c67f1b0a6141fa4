"""How tests drive the window: stations shown, fields typed into, things dragged."""

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import FullWhite
from tiny_lantern.show.loads import duties_for
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.pieces import PiecesStation
from tiny_lantern.ui.stations.power import PowerStation
from tiny_lantern.ui.stations.weave import WeaveStation

LEFT = Qt.MouseButton.LeftButton


def power_of(shell: Shell) -> PowerStation:
    """The power station, shown."""
    shell.show_station("Power")
    station = shell.stack.currentWidget()
    assert isinstance(station, PowerStation)
    return station


def weave_of(shell: Shell) -> WeaveStation:
    """The weave station, shown and laid out."""
    shell.show_station("Weave")
    station = shell.stack.currentWidget()
    assert isinstance(station, WeaveStation)
    QApplication.processEvents()
    return station


def pieces_of(shell: Shell) -> PiecesStation:
    """The pieces station, shown."""
    shell.show_station("Pieces")
    station = shell.stack.currentWidget()
    assert isinstance(station, PiecesStation)
    return station


def type_into(field: QWidget, text: str) -> None:
    """Replace a field's text as a person does and leave it."""
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def drag(widget: QWidget, start: QPoint, end: QPoint, steps: int = 5) -> None:
    """Press, move and release the left button."""
    QTest.mousePress(widget, LEFT, Qt.KeyboardModifier.NoModifier, start)
    for step in range(1, steps + 1):
        share = step / steps
        QTest.mouseMove(
            widget, QPoint(*(round(a + share * (b - a)) for a, b in zip(start.toTuple(), end.toTuple(), strict=True)))
        )
    QTest.mouseRelease(widget, LEFT, Qt.KeyboardModifier.NoModifier, end)


def plotted_minimum(station: PowerStation) -> float:
    """The lowest voltage that the plot shows."""
    return float(np.nanmin(station.plot.voltage.value))


def solver_minimum(shell: Shell) -> float:
    """The lowest voltage by a solve of its own."""
    build = shell.session.build
    solution = solve_power(build, duties_for(build, FullWhite()))
    return min(float(run.pixel_v.min()) for run in solution.runs.values())
