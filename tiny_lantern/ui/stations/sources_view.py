"""The sources in Power: the river, what is picked out in it, rails, and what feeds the boards."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from tiny_lantern.circuit.chosen import chosen_for, with_fuse, with_wire
from tiny_lantern.circuit.conductor import FEEDS, Conductor
from tiny_lantern.circuit.river import Bank, River, Stream
from tiny_lantern.electrical.power_tree import lasting_words
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.edits_sources import hang_on, source_named_by
from tiny_lantern.model.edits_wiring import take_wires
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import amps, metres, volts
from tiny_lantern.show.supply_draw import lives, supply_draws_a
from tiny_lantern.ui import theme
from tiny_lantern.ui.analyses import RIVER
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.driver_form import FED
from tiny_lantern.ui.stations.rail_form import RailForm
from tiny_lantern.ui.stations.river_canvas import RiverCanvas
from tiny_lantern.ui.widgets.fields import (
    Rows,
    button,
    combo,
    emptied,
    faint,
    heading,
    panel,
    quiet,
    scrolled,
    set_choice,
)
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.source_list import show_sources

WIDE = 262
HOW = "All lit: each wire as wide as its current, its banks what it may carry. Drag a group to another source."
NONE = "chosen for you"
HOT = "Change wires with the supply off. Hot parts burn: do not feel them with a finger."
GAUGE, METRIC, OWNED, SQUARE = "gauge", "metric", "owned", "mm²"
OWN_SOME = "metres of a wire, in the parts window (Own parts and stock)"
UNSOLVED = "The circuit has no solution: see the snags."


@guarded
class SourcesView(QWidget):
    """Left what is picked out and the rails, right the river."""

    back = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._river: River | None = River((), ())
        self.canvas = RiverCanvas()
        self.canvas.chosen_changed.connect(self._show_chosen)
        self.canvas.moved.connect(self._move)
        self._area = QScrollArea()
        self._area.setWidget(self.canvas)
        self._area.viewport().setAutoFillBackground(False)
        self.canvas.setAutoFillBackground(False)
        self._area.viewport().installEventFilter(self)
        self.rails = RailForm(session)
        self.rails.setFixedWidth(WIDE - 50)
        self._title, self._about = heading(""), faint()
        self._figures = faint()
        self.take_first = combo(
            [("any gauge (AWG)", GAUGE), ("square millimetres", METRIC), ("what I own, where it serves", OWNED)],
            "Which wires are taken first", self._take_wires,
        )  # fmt: skip
        wires = Rows()
        wires.add("wires", self.take_first)
        self._changes = QVBoxLayout()
        self.boxes: dict[str, QComboBox] = {}
        self._state = faint()
        frame, column = panel(WIDE)
        content = QWidget()
        inner = QVBoxLayout(content)
        inner.setContentsMargins(0, 0, 10, 0)
        inner.setSpacing(6)
        inner.addWidget(
            button("Volts and amps", self.back.emit, tip="Back to the curves along the Line (Ctrl+Shift+T)")
        )
        for widget in (self._title, self._about, self._figures):
            inner.addWidget(widget)
        inner.addLayout(self._changes)
        inner.addLayout(wires.grid)
        inner.addWidget(self.rails)
        inner.addWidget(button("Save the drawing …", self._ask, tip="As SVG"))
        inner.addStretch(1)
        column.addWidget(scrolled(content))
        right = QVBoxLayout()
        right.addWidget(faint(HOW))
        right.addWidget(self._area, 1)
        right.addWidget(self._state)
        right.addWidget(faint(HOT))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addLayout(right, 1)
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.draw_changed.connect(InView(self, self._tell).refresh)
        in_view.refresh()
        self._show_chosen()

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.canvas.palette_in_use = palette
        self.canvas.redraw()

    def pick(self, key: str) -> None:
        """Pick out a thing by its key, now or once it is known."""
        self.canvas.choose(key)

    def refresh(self) -> None:
        """Work the river of the build in hand out, and show it once it is known."""
        if not self._session.dragging:
            self.rails.refresh()
            with quiet(self.take_first):
                set_choice(self.take_first, _taken_first(self._session.build))
            self._state.setText("Working out what flows …")
            self._session.work_out(RIVER, self._take)

    def _take_wires(self, first: object) -> None:
        """Take gauges, square millimetres, or what is owned before any other wire."""
        session = self._session
        wires = session.parts.of(WirePart) if first != GAUGE else []
        if first == METRIC:
            wires = [wire for wire in wires if wire.name.endswith(SQUARE)]
        elif first == OWNED:
            wires = [wire for wire in wires if session.drawers.drawer.stock_of(wire.id).owned > 0]
            if not wires:
                session.refused.emit(LanternError("no wire is said to be owned", "wires", OWN_SOME))
                self.refresh()
                return
        session.apply("Chose which wires are taken first", partial(take_wires, wires=wires))

    def _take(self, river: River | None) -> None:
        self.canvas.show_river(river or River((), ()))
        self._river = river
        self._tell()
        self._fit()
        self._show_chosen()

    def _tell(self) -> None:
        """The sources in a line, with how long batteries last."""
        river, session = self._river, self._session
        if river is None:
            self._state.setText(UNSOLVED)
            return
        build = session.build
        known = lives(build, supply_draws_a(build, session.draw, session.drive))
        given = {bank.key: bank.given_a for bank in river.banks}
        last = [
            f"{supply.name} lasts {', '.join(words)}"
            for supply in build.supplies
            if (words := lasting_words(build, supply, given.get(supply.id, 0.0), known.get(supply.id)))
        ]
        self._state.setText(" · ".join([_summary(river), *last]))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self._area.viewport() and isinstance(event, QResizeEvent):
            self._fit()
        return False

    def _fit(self) -> None:
        self.canvas.fit(self._area.viewport().size())

    def _show_chosen(self) -> None:
        """What is picked out: its figures, and what of it can be changed."""
        emptied(self._changes)
        self.boxes = {}
        thing, stream = self.canvas.thing, self.canvas.stream
        if thing is not None:
            self._show_thing(thing)
        elif stream is not None:
            self._show_stream(stream)
        else:
            self._title.setText("From wall or cell to lamp")
            self._about.setText("Nothing is picked out.")
            self._figures.setText("")

    def _show_thing(self, thing: Bank) -> None:
        build = self._session.build
        self._title.setText(thing.name)
        self._about.setText(thing.about)
        told = [volts(thing.volts)] if thing.volts is not None else []
        if thing.allowed_a is not None:
            told.append(f"gives {amps(thing.given_a)} of {amps(thing.allowed_a)}")
            told += [f"idle {amps(thing.idle_a)}"] if thing.idle_a else []
        self._figures.setText("; ".join(told))
        if thing.kind == "rail":
            self.rails.pick(thing.key)
        rows, holder = Rows(), QWidget()
        for field in thing.fields:
            box = combo([], FED[field], partial(self._hang, thing, field))
            none = "its own cable" if thing.kind == "board" else None if thing.kind == "rail" else "nothing yet"
            show_sources(box, build, source_named_by(build, thing.key, field), none=none, without=thing.key)
            rows.add(FED[field], box)
            self.boxes[field] = box
        if thing.rows:
            self._offer_wires(rows, thing.rows)
        holder.setLayout(rows.grid)
        if self.boxes:
            self._changes.addWidget(holder)

    def _show_stream(self, stream: Stream) -> None:
        names = {bank.key: bank.name for bank in self.canvas.laid.river.banks}
        count = len(stream.rows)
        self._title.setText(
            f"{'Wire' if count == 1 else f'{count} wires'}: {names[stream.start]} to {names[stream.end]}"
        )
        ways = dict.fromkeys(row.passage for row in stream.rows if row.passage)
        self._about.setText(f"by way of {', '.join(ways)}" if ways else stream.rows[0].colour)
        cut_m = sum(row.cut_m for row in stream.rows)
        limit = f" of {amps(stream.limit_a)}" if stream.limit_a < float("inf") else ""
        lost_v = max(row.wire_ohm for row in stream.rows) * stream.current_a / count
        self._figures.setText(f"carries {amps(stream.current_a)}{limit}, loses {lost_v * 1000:.0f} mV on its way; "
                              f"{metres(cut_m)} in all")  # fmt: skip
        rows, holder = Rows(), QWidget()
        self._offer_wires(rows, stream.rows)
        holder.setLayout(rows.grid)
        self._changes.addWidget(holder)

    def _offer_wires(self, rows: Rows, wires: tuple[Conductor, ...]) -> None:
        """The wire and the fuse of some conductors, the program's unless a person chooses."""
        wire = combo([], "The wire", partial(self._rewire, wires))
        fuse = combo([], "The fuse", partial(self._refuse, wires))
        first = "none" if wires[0].group == FEEDS else f"{NONE}, {_fuse_words(wires[0])}"
        known = [(each.name, each.id) for each in self._session.parts.of(WirePart)]
        self._offer(wire, f"{NONE}, {wires[0].gauge}", known)
        self._offer(fuse, first, [(each.name, each.id) for each in self._session.parts.of(FusePart)])
        own_wire, own_fuse = chosen_for(self._session.build, wires[0])
        set_choice(wire, own_wire)
        set_choice(fuse, own_fuse)
        rows.add("wire", wire)
        rows.add("fuse", fuse)
        self.boxes |= {"wire": wire, "fuse": fuse}

    def _offer(self, box: QComboBox, first: str, offered: list[tuple[str, str]]) -> None:
        with quiet(box):
            box.addItem(first, None)
            for words, identity in offered:
                box.addItem(words, identity)

    def _move(self, thing: Bank, fed_by: FedBy) -> None:
        build = self._session.build
        driver = next((each for each in build.drivers if each.id == thing.key), None)
        field = driver.lamps_on if driver is not None else "fed_by"
        self._hang(thing, field, fed_by)

    def _hang(self, thing: Bank, field: str, fed_by: object) -> None:
        chosen = fed_by if isinstance(fed_by, FedBy) else None
        edit = partial(hang_on, field=field, thing_id=thing.key, fed_by=chosen)
        self._session.apply(f"Fed {thing.name} from another source", edit)

    def _rewire(self, wires: tuple[Conductor, ...], part_id: object) -> None:
        wire = self._session.parts.find(WirePart, str(part_id)) if part_id is not None else None
        self._session.apply("Chose a wire", partial(with_wire, rows=wires, wire=wire))

    def _refuse(self, wires: tuple[Conductor, ...], part_id: object) -> None:
        fuse = self._session.parts.find(FusePart, str(part_id)) if part_id is not None else None
        self._session.apply("Chose a fuse", partial(with_fuse, rows=wires, fuse=fuse))

    def _ask(self) -> None:
        name = f"{short_name(self._session.build.name)} sources.svg"
        chosen, _ = QFileDialog.getSaveFileName(self, "Save the sources", name, "Drawings (*.svg)")
        if chosen:
            self.save(Path(chosen))

    def save(self, path: Path) -> None:
        """Write the drawing; a refusal is told."""
        try:
            write_atomically(path, self.canvas.svg.encode("utf-8"))
        except LanternError as error:
            self._session.refused.emit(error)
        else:
            self._session.say(f"Wrote {path.name}.")


def _fuse_words(row: Conductor) -> str:
    return f"{row.fuse_a:g} A" if row.fuse_a is not None else "none"


def _summary(river: River) -> str:
    supplies = [bank for bank in river.banks if bank.kind == "supply"]
    told = [f"{bank.name} gives {amps(bank.given_a)} of {amps(bank.allowed_a or 0.0)}" for bank in supplies[:3]]
    over = sum(stream.over for stream in river.streams)
    told += [f"{over} streams over their limit"] if over else []
    told += [f"{len(river.unfed)} things are fed by nothing"] if river.unfed else []
    return " · ".join(told) or "No supply yet."


def _taken_first(build: Build) -> str:
    """Which wires a build takes first."""
    names = {wire.id: wire.name for wire in build.shelf.of(WirePart)}
    ids = build.wiring.wire_ids
    if not ids:
        return GAUGE
    return METRIC if all(names.get(each, "").endswith(SQUARE) for each in ids) else OWNED
