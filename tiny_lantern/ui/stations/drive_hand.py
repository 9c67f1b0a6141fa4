"""What the hand does in Drive: choose, drag a bar to the current wanted, lead a tail to another pin."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QEvent, QObject, QPointF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QInputDialog

from tiny_lantern.model.edits_drive import move_pin, remove_driver, reserve_pin
from tiny_lantern.model.pin_needs import owner_name
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import amps
from tiny_lantern.plans.ways import set_wanted
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.drive_canvas import DriveCanvas
from tiny_lantern.ui.stations.drive_layout import Bar, DriveLayout, PinSpot

REACH, STILL = 5.0, 4.0
FINE_A, COARSE_A, LEAST_A = 0.0001, 0.001, 0.0002


@guarded
class DriveHand(QObject):
    """Turns mouse and keys over the canvas into selections and edits; a drag previews and is one step at its end."""

    def __init__(self, session: Session, canvas: DriveCanvas, axis: LineAxis) -> None:
        super().__init__(canvas)
        self._session, self._canvas, self._axis = session, canvas, axis
        self._start: QPointF | None = None
        self._bar: Bar | None = None
        self._pin: PinSpot | None = None
        self.ask: Callable[[str, str, str], tuple[str, bool]] = self._ask
        canvas.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QMouseEvent):
            acts = {QEvent.Type.MouseButtonPress: self._press, QEvent.Type.MouseMove: self._move,
                    QEvent.Type.MouseButtonRelease: self._release,
                    QEvent.Type.MouseButtonDblClick: self._twice}  # fmt: skip
            act = acts.get(event.type())
            if act is not None:
                act(event)
            return act is not None
        if isinstance(event, QWheelEvent) and event.type() == QEvent.Type.Wheel:
            self._wheel(event)
            return True
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            return self._key(event)
        return False

    def _press(self, event: QMouseEvent) -> None:
        self._canvas.setFocus()
        layout = self._canvas.layout_now()
        if layout is None or event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        self._start = at
        self._pin = next((pin for pin in layout.pins if pin.box.adjusted(-1, -4, 1, 2).contains(at)), None)
        if self._pin is not None:
            if self._pin.driver_id:
                self.choose_driver(self._pin.driver_id)
            return
        box = next((each for each in layout.boxes if each.box.contains(at)), None)
        if box is not None:
            self.choose_driver(box.driver_id)
            return
        self._bar = _bar_at(layout, at)
        if self._bar is not None:
            self.choose_channel(self._bar.channel_id)

    def choose_driver(self, driver_id: str) -> None:
        """Select a driver with its first lamp, or the first piece on a data line."""
        if driver_id not in self._session.build.channels_of:
            self._session.select("pieces", driver_id)
            return
        channels = self._session.build.channels_of[driver_id]
        if channels:
            self.choose_channel(channels[0].id)
        else:
            self._session.select_place(Place.on("drivers", driver_id))

    def choose_channel(self, channel_id: str) -> None:
        """Select a channel with its lamp, piece and driver."""
        channel = next(channel for channel in self._session.build.channels if channel.id == channel_id)
        ref = channel.slots[0]
        refs = (Ref("pieces", ref.piece_id), Ref("drivers", channel.driver_id), Ref("channels", channel_id))
        self._session.select_place(Place(ref, None, refs))

    def _move(self, event: QMouseEvent) -> None:
        at, layout = event.position(), self._canvas.layout_now()
        if layout is None:
            return
        if self._start is None:
            self._tell(layout, at)
            return
        if (at - self._start).manhattanLength() < STILL and not self._session.dragging and self._canvas.tail is None:
            return
        if self._pin is not None and self._pin.driver_id:
            self._canvas.tail = (self._pin, at)
            self._canvas.update()
        elif self._bar is not None:
            self._session.preview(
                partial(set_wanted, channel_id=self._bar.channel_id, wanted_a=self._wanted(layout, at))
            )

    def _wanted(self, layout: DriveLayout, at: QPointF) -> float:
        """The current under the hand, in steps of 0.1 mA. [A]"""
        return max(LEAST_A, round(layout.current_at(at.y()) / FINE_A) * FINE_A)

    def _release(self, event: QMouseEvent) -> None:
        layout, bar, pin = self._canvas.layout_now(), self._bar, self._pin
        self._start = self._bar = self._pin = None
        if self._canvas.tail is not None:
            self._canvas.tail = None
            self._canvas.update()
            self._lead(layout, pin, event.position())
        elif bar is not None and self._session.dragging:
            channel = next(c for c in self._session.build.channels if c.id == bar.channel_id)
            self._session.commit(f"Asked a channel for {amps(channel.wanted_a)}")

    def _twice(self, event: QMouseEvent) -> None:
        """Keep a free pin for something else, or let it go."""
        layout = self._canvas.layout_now()
        if layout is None:
            return
        pin = next((each for each in layout.pins if each.box.contains(event.position())), None)
        if pin is None or pin.driver_id:
            return
        text, given = self.ask(
            "Keep a pin", f"Pin {pin.name} is for (with what it takes: sounder, timer 2)", pin.reserved
        )
        if given:
            self.reserve(layout.board_id, pin.name, text)

    def reserve(self, board_id: str, pin: str, what: str) -> None:
        """Keep a pin for something; nothing said lets it go."""
        edit = partial(reserve_pin, board_id=board_id, pin=pin, what=what)
        self._session.apply(f"Kept pin {pin} for {what}" if what.strip() else f"Pin {pin} is free", edit)

    def _ask(self, title: str, label: str, text: str) -> tuple[str, bool]:
        return QInputDialog.getText(self._canvas, title, label, text=text)

    def _lead(self, layout: DriveLayout | None, pin: PinSpot | None, at: QPointF) -> None:
        """Lead a tail to the pin under the hand."""
        if layout is None or pin is None:
            return
        goal = next((each for each in layout.pins if each.box.adjusted(-1, -6, 1, 6).contains(at)), None)
        if goal is None or goal.name == pin.name:
            return
        edit = partial(move_pin, driver_id=pin.driver_id, role=pin.role, pin=goal.name)
        self._session.apply(f"Led {pin.role} to pin {goal.name}", edit)

    def _tell(self, layout: DriveLayout, at: QPointF) -> None:
        pin = next((each for each in layout.pins if each.box.contains(at)), None)
        if pin is not None:
            use = pin.reserved or "free"
            if pin.driver_id:
                use = f"{owner_name(self._session.build, pin.driver_id)}, {pin.role}"
            self._canvas.setToolTip(
                f"Pin {pin.name}: {use}. Drag a used one to another pin; double-click a free one to keep it."
            )
            return
        bar = _bar_at(layout, at)
        if bar is None:
            self._canvas.setToolTip("")
            return
        channel = next((c for c in self._session.build.channels if c.id == bar.channel_id), None)
        if channel is not None:
            piece = self._session.build.line.piece(channel.slots[0].piece_id)
            name = piece.spoken(channel.slots[0].index)
            self._canvas.setToolTip(f"{name}: {amps(bar.on_a)}; drag it to the current you want")

    def _wheel(self, event: QWheelEvent) -> None:
        width = max(1.0, self._canvas.width() - theme.GUTTER)
        turn = event.angleDelta().y() / 120
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._axis.zoom(0.8**turn, self._axis.to_place(event.position().x() - theme.GUTTER, width))
        else:
            self._axis.scroll(-0.12 * turn)

    def _key(self, event: QKeyEvent) -> bool:
        key, session = event.key(), self._session
        if key == Qt.Key.Key_Escape:
            self._start = self._bar = self._pin = None
            self._canvas.tail = None
            session.drop_preview()
            self._canvas.update()
            return True
        channel_id, driver_id = session.selection.one("channels"), session.selection.one("drivers")
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            return self._step(channel_id, 1 if key == Qt.Key.Key_Right else -1)
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and channel_id is not None:
            channel = next(c for c in session.build.channels if c.id == channel_id)
            by = COARSE_A if not event.modifiers() & Qt.KeyboardModifier.AltModifier else FINE_A
            wanted = max(LEAST_A, round(channel.wanted_a + (by if key == Qt.Key.Key_Up else -by), 6))
            edit = partial(set_wanted, channel_id=channel_id, wanted_a=wanted)
            session.apply(f"Asked a channel for {amps(wanted)}", edit)
            return True
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and driver_id is not None:
            name = next(driver.name for driver in session.build.drivers if driver.id == driver_id)
            session.apply(f"{name} is driven by nothing", partial(remove_driver, driver_id=driver_id))
            return True
        return False

    def _step(self, channel_id: str | None, by: int) -> bool:
        layout = self._canvas.layout_now()
        if layout is None or not layout.bars:
            return False
        ids = [bar.channel_id for bar in sorted(layout.bars, key=lambda bar: bar.middle)]
        at = ids.index(channel_id) if channel_id in ids else -by
        self.choose_channel(ids[min(max(at + by, 0), len(ids) - 1)])
        return True


def _bar_at(layout: DriveLayout, at: QPointF) -> Bar | None:
    """The bar nearest to a place in the chart, when it is near."""
    if not layout.chart.adjusted(0, -16, 0, 4).contains(at):
        return None
    near = [(abs(bar.middle - at.x()) - bar.width / 2, number) for number, bar in enumerate(layout.bars)]
    far, number = min(near, default=(REACH + 1, 0))
    return layout.bars[number] if far <= REACH else None
