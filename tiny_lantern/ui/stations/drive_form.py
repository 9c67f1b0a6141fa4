"""The selected channel: its schematic, its figures, its resistor, and what drives it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QSlider, QVBoxLayout, QWidget

from tiny_lantern.circuit.paths import Path
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.sink import chip_state
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.lamp.eseries import SERIES
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel
from tiny_lantern.model.edits_drive import change_channel, change_channels
from tiny_lantern.model.emitters import by_data_line
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.quantities import amps, engineering
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.plans.matching import match_brightness, match_by_duty
from tiny_lantern.plans.resistors import asked_a, choice_of, from_drawer, loop_of, merged
from tiny_lantern.plans.share import drive_with, move_output, to_share
from tiny_lantern.plans.ties import TIES, Tied, can_be_tied, tie_piece, ties_of
from tiny_lantern.plans.told import Told, told_of
from tiny_lantern.plans.ways import WAYS, drive_piece, set_wanted, ways_for
from tiny_lantern.sheets.hold_drawing import hold_svg
from tiny_lantern.sheets.schematic import of_output, schematic_svg
from tiny_lantern.ui import theme
from tiny_lantern.ui.analyses import PATHS
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.driver_form import DriverForm
from tiny_lantern.ui.widgets.asked import Asked
from tiny_lantern.ui.widgets.drawing_view import DrawingView
from tiny_lantern.ui.widgets.fields import Rows, button, combo, emptied, faint, heading, quiet, set_choice
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit

LEGS = "The long leg or the short one: a resistor does the same in either."
SHARED = "shared"
POPUP_EDGE = 24
BRIGHT = "Do not look into bright lamps close up."


class DriveForm(QWidget):
    """Shows and changes one channel and its driver."""

    compare = Signal()
    ask_what_if = Signal()
    show_working = Signal(object, int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._solution: DriveSolution | None = None
        self._paths: tuple[Path, ...] = ()
        self._paths_of: Build | None = None
        self._ties_of: tuple[Build | None, str | None] = (None, None)
        self.palette_in_use = theme.PAPER
        self.board_id: str | None = None  # that is shown, where new drivers go
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 12, 0)
        column.setSpacing(4)
        self._title, self._about = heading(""), faint()
        self.schematic = DrawingView()
        self.wanted = QuantityEdit("Current wanted", "A", amps)
        self.wanted.entered.connect(self._set_wanted)
        self.resistor = QuantityEdit("Resistor", "ohm", partial(engineering, unit="ohm"))
        self.resistor.optional = True
        self.resistor.entered.connect(lambda value: self._set_resistor(value))
        self.resistor.emptied.connect(lambda: self._set_resistor(None))
        self.trim = QuantityEdit("The duty that full means", "ratio", "{:.1%}".format)
        self.trim.entered.connect(self._set_trim)
        for field in (self.wanted, self.resistor, self.trim):
            field.faulty.connect(session.refused)
        self.output = QuantityEdit("Output", "", "{:.0f}".format)
        self.output.entered.connect(self._set_output)
        self.output.faulty.connect(session.refused)
        self.way = combo([], "How it is driven", self._set_way)
        self.tie = combo([(word, tie) for tie, word in TIES.items()], "How their shared leads are tied", self._set_tie)
        Asked(self.tie, self._weigh_ties)
        rows = Rows()
        rows.add("driven by", self.way)
        self._tie_label = rows.add("commons", self.tie)
        self._wanted_label = rows.add("wanted", self.wanted)
        self._resistor_label = rows.add("resistor", self.resistor)
        self._trim_label = rows.add("full is", self.trim)
        self._output_label = rows.add("output", self.output)
        self._figures = faint()
        self._series = QWidget()
        self._series_row = QVBoxLayout(self._series)
        self._series_row.setContentsMargins(0, 0, 0, 0)
        self._series_row.setSpacing(3)
        self.working = button("show the working", self._ask_working, "link")
        self.other = button("Other ways …", self.compare.emit, tip="Every way to drive it, solved side by side")
        self.match = button("Match brightness", self._match, "small", "All as bright as the weakest, by their currents")
        self.match_duty = button("Match by duty", self._match_duty, "small", "All as bright as the weakest, by trims")
        self.what_if = button(
            "What if …", self.ask_what_if.emit, tip="Other parts fitted, one missing: solved, not built"
        )
        self.hold_window = DrawingView()
        self.lit = QSlider(Qt.Orientation.Horizontal)
        self.lit.setAccessibleName("How many outputs are lit")
        self.lit.valueChanged.connect(lambda _: self._show_lit())
        self._lit_words = faint()
        self.driver_form = DriverForm(session)
        column.addWidget(self._title)
        column.addWidget(self._about)
        column.addWidget(self.schematic)
        column.addLayout(rows.grid)
        shown = (self._series, self._figures, self.hold_window, self.lit, self._lit_words, self.match, self.match_duty)
        for widget in shown:
            column.addWidget(widget)
        column.addWidget(self.working)
        column.addWidget(self.other)
        column.addWidget(self.what_if)
        column.addWidget(self.driver_form)
        column.addStretch(1)
        session.findings_changed.connect(InView(self, self._follow_currents).refresh)

    def _show_tie(self, build: Build, piece_id: str | None) -> None:
        """How the selected piece is tied, and once it is known what each other way would take."""
        there = piece_id is not None and can_be_tied(build, piece_id)
        for widget in (self.tie, self._tie_label):
            widget.setVisible(there)
        if not there or self._session.dragging:
            return
        piece = build.line.piece(piece_id or "")
        with quiet(self.tie):
            set_choice(self.tie, getattr(piece, "tie", None))
        if not self._weighed(build, piece_id):
            for number, word in enumerate(TIES.values()):
                self.tie.setItemText(number, word)
            if self.tie.hasFocus():
                self._weigh_ties()

    def _weighed(self, build: Build, piece_id: str | None) -> bool:
        """Whether the ways to tie were asked for of just this piece of just this build."""
        return self._ties_of[0] is build and self._ties_of[1] == piece_id

    def _weigh_ties(self) -> None:
        """Work out what each way to tie would take, once it is asked for: each is a whole circuit."""
        build, piece_id = self._session.build, self.piece_id
        if piece_id is not None and self._session.judged is build and not self._weighed(build, piece_id):
            self._ties_of = (build, piece_id)
            work = partial(ties_of, build, piece_id)
            self._session.background.start(
                "ties", work, partial(self._take_ties, build, piece_id), self._session.refused.emit
            )

    def _take_ties(self, build: Build, piece_id: str, ties: tuple[Tied, ...]) -> None:
        """Tell what each way to tie takes, beside the one that is wired."""
        if build is not self._session.build or piece_id != self.piece_id:
            return
        now = next((each for each in ties if each.tie == self.tie.currentData()), None)
        for number, each in enumerate(ties):
            if now is not None:
                self.tie.setItemText(number, f"{TIES[each.tie]}: {each.beside(now)}")
        self.tie.view().setMinimumWidth(self.tie.view().sizeHintForColumn(0) + POPUP_EDGE)

    def _set_tie(self, tie: object) -> None:
        piece_id = self.piece_id
        if piece_id is not None:
            self._session.apply("Tied the commons", lambda build: tie_piece(build, piece_id, str(tie)))

    def _follow_currents(self) -> None:
        """Work out how the current flows in the build in hand, once it was judged; then draw it."""
        build = self._session.build
        self._show_tie(build, self.piece_id)
        if self._paths_of is not build and not self._session.dragging:
            self._session.work_out(PATHS, partial(self._take_paths, build))

    def _take_paths(self, build: Build, paths: tuple[Path, ...] | None) -> None:
        self._paths, self._paths_of = paths or (), build
        self._draw_schematic()

    def _draw_schematic(self) -> None:
        """The selected channel's ways; faded while those of the build in hand are not known."""
        channel, p = self.channel, self.palette_in_use
        if channel is None:
            return
        if self._paths_of is not self._session.build:
            self.schematic.fade()
            self._follow_currents_soon()
            return
        shown = of_output(self._paths, channel.driver_id, channel.output)
        self.schematic.show_svg(schematic_svg(shown, p.ink, p.faint, wires=False))

    def _follow_currents_soon(self) -> None:
        if self._session.judged is self._session.build:
            self._follow_currents()

    @property
    def piece_id(self) -> str | None:
        """The selected piece, else the first that is not driven by a data line."""
        build = self._session.build
        chosen = self._session.selection.one("pieces")
        if chosen is not None and any(piece.id == chosen for piece in build.pieces):
            return chosen
        fitting = (p.id for p in build.pieces if not by_data_line(p, build.shelf.find(Part, p.part_id)))
        return next(fitting, None)

    @property
    def channel(self) -> Channel | None:
        """The selected channel, else the first of the selected lamp or piece."""
        build, chosen = self._session.build, self._session.selection
        by_id = chosen.one("channels")
        piece_id = self.piece_id
        own = [channel for channel in build.channels if channel.slots[0].piece_id == piece_id]
        found = next((channel for channel in build.channels if channel.id == by_id), None)
        if found is not None and (not own or found in own):
            return found
        at_lamp = (channel for channel in own if chosen.first is not None and chosen.first in channel.slots)
        return next(at_lamp, own[0] if own else None)

    @property
    def title(self) -> str:
        """What is shown, by its name."""
        return self._title.text()

    def show_solution(self, solution: DriveSolution) -> None:
        """Show the selected channel as it is solved."""
        self._solution = solution
        self.refresh()

    def refresh(self) -> None:
        """Show the selected channel."""
        build, channel, piece_id = self._session.build, self.channel, self.piece_id
        self._show_ways(build, piece_id)
        self._show_tie(build, piece_id)
        result = self._result(channel)
        there = result is not None
        shown = (self.schematic, self.wanted, self._wanted_label, self.working, self.output, self._output_label,
                 self._figures, self.driver_form, self._series)  # fmt: skip
        for widget in shown:
            widget.setVisible(there)
        self._show_more(result)
        takes = result is not None and not isinstance(result.case.driver, Scanned)
        if takes and result is not None and loop_of(result.case, self._at(result, channel)) is None:
            takes = (
                channel is not None and channel.resistor_ohm is not None
            )  # where it need not be, it can be taken out
        self.resistor.setVisible(takes)
        self._resistor_label.setVisible(takes)
        self.other.setVisible(piece_id is not None)
        if result is None or channel is None:
            piece = build.line.piece(piece_id) if piece_id is not None else None
            self._title.setText(piece.name if piece else "Nothing to drive")
            self._about.setText("Choose how it is driven: board, pins and resistors follow." if piece else
                                "Strips and addressable lamps take their colours from a data line.")  # fmt: skip
            return
        self._show_channel(result, channel)

    def _result(self, channel: Channel | None) -> ChannelResult | None:
        """What is known of a channel's driver; nothing while that is older than the channel."""
        if channel is None or self._solution is None:
            return None
        result = self._solution.by_driver.get(channel.driver_id)
        known = result is not None and any(each.id == channel.id for each in result.case.channels)
        return result if known else None

    def _at(self, result: ChannelResult, channel: Channel | None) -> int:
        ids = [each.id for each in result.case.channels]
        return ids.index(channel.id) if channel is not None else 0

    def _show_ways(self, build: Build, piece_id: str | None) -> None:
        fitting = ways_for(build, piece_id) if piece_id is not None else []
        channel = self.channel
        with quiet(self.way):
            self.way.clear()
            self.way.addItem("nothing yet", None)
            for way in fitting:
                self.way.addItem(way.word, way.kind)
            for other in to_share(build, piece_id) if piece_id is not None else ():
                self.way.addItem(f"with {other.name}, {other.word}", (SHARED, other.id))
            driver = next((d for d in build.drivers if channel is not None and d.id == channel.driver_id), None)
            set_choice(self.way, driver.kind if driver else None)
        self.way.setEnabled(bool(fitting))

    def _show_channel(self, result: ChannelResult, channel: Channel) -> None:
        at = self._at(result, channel)
        case = result.case
        lamp, driver = case.lamps[at], case.driver
        piece = lamp.piece
        name = piece.name if len(channel.slots) > 1 else piece.place_name(channel.slots[0].index)
        self._title.setText(f"{name}, {channel.die}" if channel.die else name)
        self._about.setText(f"{lamp.part.name}, {driver.lamps_at()}, output {channel.output}")
        self._draw_schematic()
        told = told_of(result, at)
        self.wanted.show_value(told.wanted_a)
        if channel.resistor_ohm is None:
            self.resistor.show_nothing()
        else:
            self.resistor.show_value(channel.resistor_ohm)
        self.trim.show_value(channel.trim)
        self.output.show_value(channel.output)
        self._figures.setText(_figures(told, result, at))
        self._show_series(result, at)
        if not self._session.dragging:
            self.driver_form.show_driver(driver)

    def _show_more(self, result: ChannelResult | None) -> None:
        """What only some ways have: the hold window, how many outputs are lit, brightness to match, their parts."""
        driver = result.case.driver if result is not None else None
        lamps = result.case.lamps if result is not None else ()
        self.hold_window.setVisible(isinstance(driver, HoldRail))
        for widget in (self.lit, self._lit_words):
            widget.setVisible(isinstance(driver, SinkChain))
        dims = driver is not None and not driver.on_off
        self.trim.setVisible(dims)
        self._trim_label.setVisible(dims)
        self.what_if.setVisible(result is not None)
        self.match_duty.setVisible(dims and len({lamp.die for lamp in lamps}) > 1)
        self.match.setVisible(len({lamp.die for lamp in lamps}) > 1 and not isinstance(driver, SinkChain | Scanned))
        if result is None or driver is None or self._session.dragging:
            return
        if isinstance(driver, HoldRail):
            self.hold_window.show_svg(hold_svg(result.case, self.palette_in_use.ink, self.palette_in_use.faint))
        if isinstance(driver, SinkChain):
            block = result.blocks[0]
            with quiet(self.lit):
                self.lit.setRange(1, max(1, block.stop - block.first))
                self.lit.setValue(self.lit.maximum())
            self._show_lit()

    def _show_lit(self) -> None:
        """What each of so many lit outputs of the first chip carries: a shared resistor shows."""
        result = self._result(self.channel)
        if result is None or not isinstance(result.case.driver, SinkChain):
            return
        chip = result.case.build.shelf.find(ChipPart, result.case.driver.chip_id)
        block, count = result.blocks[0], self.lit.value()
        state = chip_state(result.case, chip, block.first, block.stop, count)
        lit = [float(each) for each in state.output_a[:count]]
        holds = "all hold" if bool(state.in_compliance[:count].all()) else "starved"
        self._lit_words.setText(
            f"{count} lit: {amps(min(lit))} to {amps(max(lit))} each, {holds}; chip {state.junction_c:.0f} °C"
        )

    def _match(self) -> None:
        channel = self.channel
        if channel is not None:
            self._session.apply("Matched brightness", partial(match_brightness, driver_id=channel.driver_id))

    def _match_duty(self) -> None:
        channel = self.channel
        if channel is not None:
            self._session.apply("Matched brightness by duty", partial(match_by_duty, driver_id=channel.driver_id))

    def _set_trim(self, value: float) -> None:
        channel = self.channel
        if channel is not None:
            edit = partial(change_channel, channel_id=channel.id, trim=value)
            self._session.apply(f"Full is {value:.1%} of the time", edit)

    def _show_series(self, result: ChannelResult, at: int) -> None:
        """Buttons for the values of the series, one value for all, and what the drawer has."""
        emptied(self._series_row)
        if self._session.dragging or not self.resistor.isVisibleTo(self):
            return
        choice, loop = choice_of(result.case, at), loop_of(result.case, at)
        if choice is None or choice.series is None or loop is None or choice.fits is None:
            return
        for ohm, series in {choice.series[name].up: name for name in reversed(SERIES)}.items():
            nearest = engineering(choice.series[series].nearest, "ohm")
            tip = f"{amps(choice.fits[f'{series}_up'].current_a)}; nearest {nearest}"
            words = f"{series.upper()}: {engineering(ohm, 'ohm')}"
            self._series_row.addWidget(button(words, partial(self._set_resistor, ohm), "small", tip))
        self._offer_merged(result)
        drawer = self._session.drawers.drawer
        for each in from_drawer(loop, told_of(result, at).wanted_a, drawer, self._session.parts, 1):
            words = (" side by side with " if each.side_by_side else " and ").join(part.name for part in each.parts)
            self._series_row.addWidget(
                button(f"Drawer: {words.replace('Resistor ', '')}", partial(self._set_resistor, each.fit.resistor_ohm),
                       "small", f"{amps(each.fit.current_a)}, {each.off:+.0%}{'; grows too hot' if each.hot else ''}")
            )  # fmt: skip

    def _offer_merged(self, result: ChannelResult) -> None:
        """One value for all channels of the driver, where that would be another."""
        case = result.case
        values = {channel.resistor_ohm for channel in case.channels}
        if len(values) < 2:
            return
        loops = [(loop, asked_a(case, at)) for at in range(len(case.channels)) if (loop := loop_of(case, at))]
        one = merged(loops)
        if one is not None:
            words = f"{engineering(one.resistor_ohm, 'ohm')} for all: {one.least:+.0%} to {one.most:+.0%}"
            edit = partial(change_channels, driver_id=case.driver.id, resistor_ohm=one.resistor_ohm)
            act = partial(self._session.apply, f"One resistor for all of {case.driver.name}", edit)
            self._series_row.addWidget(button(words, act, "small", "One value to buy, and how far each is then off"))

    def _set_wanted(self, value: float) -> None:
        channel = self.channel
        if channel is not None:
            edit = partial(set_wanted, channel_id=channel.id, wanted_a=value)
            self._session.apply(f"Asked a channel for {amps(value)}", edit)

    def _set_resistor(self, value: float | None) -> None:
        channel = self.channel
        if channel is not None:
            words = engineering(value, "ohm") if value is not None else "no resistor"
            edit = partial(change_channel, channel_id=channel.id, resistor_ohm=value)
            self._session.apply(f"Fitted {words}", edit)

    def _set_way(self, kind: object) -> None:
        piece_id = self.piece_id
        if piece_id is None or kind is None:
            return
        name = self._session.build.line.piece(piece_id).name
        if isinstance(kind, tuple):
            shared = partial(drive_with, piece_id=piece_id, driver_id=kind[1])
            if not self._session.apply(f"{name}: shares what drives another piece", shared):
                self.refresh()
            return
        word = next(way.word for way in WAYS if way.kind == kind)
        edit = partial(drive_piece, piece_id=piece_id, kind=str(kind), board_id=self.board_id)
        if not self._session.apply(f"{name}: driven by {word}", edit):
            self.refresh()

    def _set_output(self, value: float) -> None:
        channel = self.channel
        if channel is not None and not self._session.apply(
            f"Led to output {value:.0f}", partial(move_output, channel_id=channel.id, output=round(value))
        ):
            self.refresh()

    def _ask_working(self) -> None:
        channel = self.channel
        result = self._result(channel)
        if result is not None:
            self.show_working.emit(result, self._at(result, channel))


def _figures(told: Told, result: ChannelResult, at: int) -> str:
    """The figures that the schematic does not show, a line each."""
    driver = result.case.driver
    lines = [f"actual {amps(told.actual_a)}"]
    if told.fit is not None and not isinstance(driver, Scanned):
        lines[0] += f", {amps(told.fit.least_a)} to {amps(told.fit.most_a)}"
    if isinstance(driver, Scanned):
        lines.append(f"average {amps(told.average_a)}, one row in {driver.rows}")
    if not isinstance(driver, RelayBoard | HoldRail):
        lines.append(f"looks L* {told.lightness:.0f} of 100")
    if told.bits > 1:
        seen = f"steps seen below {told.coarse_below:.0%}" if told.coarse_below else "no step is seen"
        lines.append(f"{told.bits} bits: first step L* {told.first_step:.2f}; {seen}")
    if told.resistor_w > 0:
        lines.append(f"heat {engineering(told.resistor_w, 'W')}; take {engineering(2 * told.resistor_w, 'W')} or more")
    if isinstance(driver, SinkChain):
        lines.append(f"left for its output {result.lamp_v[at]:.2f} V across the lamp")
    lines.append(LEGS if told.fit is not None else BRIGHT)
    return "\n".join(lines)
