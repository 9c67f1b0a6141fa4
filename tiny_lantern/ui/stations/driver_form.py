"""What drives the selected channel: its parts, whose lines it shares, and every field of it."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.catalogue.drawer import offered
from tiny_lantern.catalogue.part_fields import PartField, plain_fields
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Dimmed, Driver, Steered
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_sources import hang_on, wanted_v
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.refers import part_fields
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.model.ways.registry import DRIVER_TYPES
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.plans.rewire import change_way, on_board
from tiny_lantern.plans.steer import NEW, chains_for, steer
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, combo, heading, quiet, set_choice
from tiny_lantern.ui.widgets.model_form import ModelForm
from tiny_lantern.ui.widgets.source_list import show_sources

FED = {"fed_by": "fed by", "chips_fed_by": "chips fed by", "full_fed_by": "full fed by", "coils_fed_by": "coils fed by",
       "load_fed_by": "load fed by"}  # fmt: skip
HIDDEN = ("kind", "id", "pins", "board_id", "bus_of", "inputs_on", "inputs_from", *FED)
PART_WORDS = {"row_transistor_id": "row switch"}
PARTS = {
    name: PART_WORDS.get(name, name.removesuffix("_id").replace("_", " "))
    for way in DRIVER_TYPES.values()
    for name in part_fields(way)
}
LABELS = {
    "sink": "pin sinks", "led_v": "lamp supply", "base_ohm": "base or gate", "pull_ohm": "keeps it off",
    "dim_hz": "dimming rate", "has_driver": "gate driver", "rest_off": "rest taken off", "levels_in": "worked out in",
    "msb_first": "high bit first", "shift_hz": "shift rate", "latch_s": "latch time", "levels_bits": "dims with bits",
    "enable_wired": "enable wired", "clear_wired": "clear wired", "select_by": "latch by", "rext_ohm": "setting",
    "common_ohm": "shared lead", "row_limit_a": "row may carry", "row_ohm": "row switch", "column_ohm": "each column",
    "row_rate_hz": "rows a second", "blank_s": "blanked for", "led_pulse_a": "LED pulse", "dwell_s": "each lit for",
    "shows_per_night": "shows a night", "set_before_boot": "set at boot", "alternate_hz": "changes ends",
    "out_v": "held at", "in_v": "regulator in", "full_v": "full at", "diode_v": "diode", "lead_ohm": "lead",
    "segment_ohm": "lamp to lamp", "hold_lamp_a": "lamp, held", "full_lamp_a": "lamp, full", "hold_v": "forgets below",
    "hold_spread_v": "spread of it", "dark_v": "glows above", "dark_spread_v": "spread of it", "pulse_hz": "pulsed at",
    "reset_by": "reset by",
}  # fmt: skip


class DriverForm(QWidget):
    """Shows and changes one way to drive."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._driver_id = ""
        self.parts = {name: combo([], word, partial(self._set_part, name)) for name, word in PARTS.items()}
        self.lines = combo([], "Whose data and clock it shares", self._set_lines)
        self.board = combo([], "The board that drives it", self._set_board)
        self.inputs = combo([], "What controls it", self._set_inputs)
        rows = Rows()
        self._board_label = rows.add("board", self.board)
        self._part_labels = {name: rows.add(word, self.parts[name]) for name, word in PARTS.items()}
        self._lines_label = rows.add("data, clock", self.lines)
        self._inputs_label = rows.add("controlled by", self.inputs)
        self.sources = {name: combo([], word, partial(self._hang, name)) for name, word in FED.items()}
        self._source_labels = {name: rows.add(word, self.sources[name]) for name, word in FED.items()}
        self.fields = ModelForm(scrolls=False, labels=LABELS)
        self.fields.entered.connect(self._change)
        self.fields.faulty.connect(session.refused)
        self._title = heading("")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self._title)
        column.addLayout(rows.grid)
        column.addWidget(self.fields)

    def show_driver(self, driver: Driver) -> None:
        """Show a way to drive."""
        self._driver_id = driver.id
        self._title.setText(driver.name)
        self.fields.show_fields(_fields_of(driver))
        for name, box in self.parts.items():
            there = getattr(driver, name, None) is not None
            box.setVisible(there)
            self._part_labels[name].setVisible(there)
            if there:
                self._offer_parts(name, str(getattr(driver, name)))
        self._show_sources(driver)
        self._show_board(driver)
        self._show_lines(driver)
        self._show_inputs(driver)

    def _show_sources(self, driver: Driver) -> None:
        """What feeds its lamps, its chips and its coils, where that is not its board."""
        wanted = wanted_v(self._session.build, driver)
        for name, box in self.sources.items():
            for widget in (box, self._source_labels[name]):
                widget.setVisible(name in wanted)
            if name in wanted:
                show_sources(box, self._session.build, getattr(driver, name))

    def _hang(self, field: str, fed_by: object) -> None:
        chosen = fed_by if isinstance(fed_by, FedBy) else None
        edit = partial(hang_on, field=field, thing_id=self._driver_id, fed_by=chosen)
        self._session.apply("Changed what feeds it", edit)

    def _show_board(self, driver: Driver) -> None:
        boards = self._session.build.boards
        for widget in (self.board, self._board_label):
            widget.setVisible(len(boards) > 1)
        with quiet(self.board):
            self.board.clear()
            for board in boards:
                self.board.addItem(board.name, board.id)
            set_choice(self.board, driver.board_id)

    def _set_board(self, board_id: object) -> None:
        self._session.apply(
            "Moved to another board", partial(on_board, driver_id=self._driver_id, board_id=str(board_id))
        )
        driver = next((each for each in self._session.build.drivers if each.id == self._driver_id), None)
        if driver is not None:
            self._show_board(driver)

    def _offer_parts(self, name: str, now: str) -> None:
        box = self.parts[name]
        own = self._session.parts.find(Part, now)
        like = [part for part in self._session.parts if part.kind == own.kind]
        if isinstance(own, ChipPart):
            like = [part for part in like if isinstance(part, ChipPart) and part.role == own.role]
        with quiet(box):
            box.clear()
            for words, part in offered(like, self._session.drawers.drawer):
                box.addItem(words, part.id)
            set_choice(box, now)

    def _show_lines(self, driver: Driver) -> None:
        """Its own lines, or those of a chain of the same board that has its own."""
        others = [
            other
            for other in self._session.build.drivers
            if isinstance(other, Chain)
            and other.id != driver.id
            and other.board_id == driver.board_id
            and other.bus_of is None
        ]
        there = isinstance(driver, Chain) and bool(others)
        self.lines.setVisible(there)
        self._lines_label.setVisible(there)
        if isinstance(driver, Chain) and there:
            with quiet(self.lines):
                self.lines.clear()
                self.lines.addItem("its own", None)
                for other in others:
                    self.lines.addItem(f"those of {other.name}", other.id)
                set_choice(self.lines, driver.bus_of)

    def _show_inputs(self, driver: Driver) -> None:
        """Pins, or registers, that control its transistors, relays or boxes."""
        there = isinstance(driver, Steered)
        for widget in (self.inputs, self._inputs_label):
            widget.setVisible(there)
        if isinstance(driver, Steered):
            with quiet(self.inputs):
                self.inputs.clear()
                self.inputs.addItem("pins of the board", None)
                for chain in chains_for(self._session.build, driver):
                    self.inputs.addItem(f"outputs of {chain.name}", chain.id)
                self.inputs.addItem("registers of its own", NEW)
                set_choice(self.inputs, driver.inputs_on)

    def _set_inputs(self, chain_id: object) -> None:
        chain = None if chain_id is None else str(chain_id)
        words = "Controlled by pins" if chain is None else "Controlled by registers"
        self._session.apply(words, partial(steer, driver_id=self._driver_id, chain_id=chain))
        driver = next((each for each in self._session.build.drivers if each.id == self._driver_id), None)
        if driver is not None:
            self.show_driver(driver)

    def _set_part(self, name: str, part_id: object) -> None:
        part, driver_id = self._session.parts.find(Part, str(part_id)), self._driver_id

        def edit(build: Build) -> Build:
            return change_way(with_part(build, part), driver_id, **{name: part.id})

        self._session.apply(f"Fitted {part.name}", edit)

    def _set_lines(self, owner_id: object) -> None:
        self._change("bus_of", None if owner_id is None else str(owner_id))

    def _change(self, path: str, value: str | float | bool | None) -> None:
        driver_id = self._driver_id

        def edit(build: Build) -> Build:
            return change_way(build, driver_id, **{path: value})

        self._session.apply(f"Changed {path.replace('_', ' ')}", edit)
        driver = next((each for each in self._session.build.drivers if each.id == driver_id), None)
        if driver is not None:
            self.show_driver(driver)


def _fields_of(driver: Driver) -> list[PartField]:
    """The fields that mean something as it is now."""
    idle: set[str] = set()
    if isinstance(driver, Dimmed) and not driver.knob:
        idle |= {"rest_off", "levels_in"}
    if isinstance(driver, Chain) and driver.bus_of is None:
        idle.add("select_by")
    if isinstance(driver, Steered) and driver.inputs_on is not None:
        idle |= {"dims", "dim_hz"}
    if isinstance(driver, Scanned) and driver.rows_by != "counter":
        idle |= {"reset_wired", "reset_by"}
    if isinstance(driver, Scanned) and not driver.reset_wired:
        idle.add("reset_by")
    fields = plain_fields(driver, HIDDEN)
    return [field for field in fields if not field.path.endswith("_id") and field.path not in idle]
