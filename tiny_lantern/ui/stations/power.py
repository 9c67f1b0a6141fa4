"""Power: will the far end still be white, where to feed, and which wire, fuse and supply."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QStackedLayout, QVBoxLayout, QWidget

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.fuses import first_fuse
from tiny_lantern.electrical.network import part_of, supply_part
from tiny_lantern.electrical.supplies import allowed_share, fitting_supply, suggested_supply
from tiny_lantern.light.seen import voltage_floor
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import RELAXED, STANDARD, STRICT, Build, Limits
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_power import (
    add_feed,
    add_supply,
    change_supply,
    change_supply_part,
    remove_feed,
    remove_supply,
)  # fmt: skip
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import amps, clock, volts
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.feed_form import FeedForm
from tiny_lantern.ui.stations.feed_list import FeedList
from tiny_lantern.ui.stations.feed_table import FeedTable
from tiny_lantern.ui.stations.plan_form import PlanForm
from tiny_lantern.ui.stations.posts import Posts
from tiny_lantern.ui.stations.power_plot import PowerPlot
from tiny_lantern.ui.widgets.fields import (
    Rows,
    button,
    combo,
    faint,
    heading,
    panel,
    plain_tip,
    quiet,
    scrolled,
    set_choice,
    side_by_side,
)  # fmt: skip
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit

CAUTIONS = {
    "mains": "Mains side: by a licensed person, to local code. Fuse every feed.",
    "battery": "Fuse at the cell; charge with its own charger, never alone.",
}
if TYPE_CHECKING:
    from tiny_lantern.ui.stations.sources_view import SourcesView

SCHOOLS = (("strict", STRICT), ("standard", STANDARD), ("relaxed", RELAXED))


class PowerStation(QWidget):
    """The power surface: left what is edited, right the curves and the feed table."""

    find_feeds = Signal(str, bool)
    show_working = Signal()

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self.plot = PowerPlot(session, axis)
        self.posts = Posts(session, axis, self.plot)
        self.posts.show_working.connect(self.show_working)
        self.posts.feed_wanted.connect(self._add_feed)
        self.table = FeedTable(session)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.plot, 1)
        right.addWidget(self.table)
        curves = QWidget()
        row = QHBoxLayout(curves)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        frame, column = panel(theme.LEFT_PANEL)
        content = QWidget()
        self._column = QVBoxLayout(content)
        self._column.setContentsMargins(0, 0, 10, 0)
        self._column.setSpacing(6)
        column.addWidget(scrolled(content))
        self._column.addWidget(button("Sources …", lambda: self.show_sources(True), tip="What feeds what, from wall or "
                                      "cell to lamp, with every wire (Ctrl+Shift+T)"))  # fmt: skip
        self._fill_feeds()
        self._fill_limits()
        self._fill_supplies()
        self.plan_form = PlanForm(session)
        self._column.addWidget(self.plan_form)
        self._column.addStretch(1)
        row.addWidget(frame)
        row.addLayout(right, 1)
        self._pages = QStackedLayout(self)
        self._pages.setContentsMargins(0, 0, 0, 0)
        self._pages.addWidget(curves)
        self._sources: SourcesView | None = None
        in_view = InView(self, self.refresh)
        for signal in (
            session.build_changed, session.selection_changed, session.solved_changed, session.draw_changed
        ):  # fmt: skip
            signal.connect(in_view.refresh)
        self.refresh()

    @property
    def sources(self) -> SourcesView:
        """The sources, made when they are first looked at."""
        if self._sources is None:
            from tiny_lantern.ui.stations.sources_view import SourcesView  # loaded when first asked for

            self._sources = SourcesView(self._session)
            self._sources.dress(self.plot.palette_in_use)
            self._sources.back.connect(lambda: self.show_sources(False))
            self._pages.addWidget(self._sources)
        return self._sources

    @property
    def shows_sources(self) -> bool:
        """Whether the sources are shown in place of the curves."""
        return self._pages.currentWidget() is self._sources and self._sources is not None

    def show_sources(self, shown: bool) -> None:
        """Show the sources, or the curves along the Line."""
        self._pages.setCurrentIndex(self._pages.indexOf(self.sources) if shown else 0)

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        if self._sources is not None:
            self._sources.dress(palette)
        self.plot.dress(palette)
        self.table.dress(palette)
        self._feeds.palette_in_use = palette
        self._feeds.update()
        self.posts.update()

    def svg(self) -> bytes:
        """The curves with their scales and limits as an SVG document."""
        return self.plot.svg(self.posts.ground.labels)

    def refresh(self) -> None:
        """Show the session's build in the fields; while a feed is dragged only what it changes."""
        build = self._session.build
        if self._session.dragging:
            self._feeds.update()
            solved = self._session.solved
            in_sight = not self._supply_load.visibleRegion().isEmpty()
            if in_sight and solved is not None and solved.build is build:
                self._show_load(build)
            return
        self._feeds.refresh()
        self._remove.setEnabled(self._session.selection.one("feeds") is not None)
        self._find.setEnabled(bool(build.strips and build.supplies))
        self._add.setEnabled(bool(build.strips and build.supplies))
        self._try_short.setEnabled(bool(build.strips))
        limits = build.limits
        self._floor.show_value(self._present_floor(build))
        self._loss.show_value(limits.light_loss_max)
        self._tint.show_value(limits.tint_max)
        with quiet(self._school):
            known = [school for _, school in SCHOOLS if revise(limits, v_min_v=None) == school]
            set_choice(self._school, known[0] if known else None)
        self._show_supply(build)

    def _fill_feeds(self) -> None:
        self._feeds = FeedList(self._session)
        self._find = button("Find feeds", lambda: self._ask_feeds(False), "primary", "The fewest feeds that keep every "
                            "pixel of the selected strip within its limits")  # fmt: skip
        self._guarded = QCheckBox("no short stands")
        self._guarded.setToolTip("Also leave no short standing with copper over its limit; takes more feeds")
        self._try_short = button("Try a short", self.posts.try_short_here, "", "Drag a short along the Line (Ctrl+H)")
        self._add = button("Add feed", self._add_feed, "", "Feed the selected light (Ins)")
        self._remove = button("Remove", self._remove_feed, "", "Remove the selected feed (Del)")
        self._column.addWidget(heading("Feeds"))
        self._column.addWidget(self._feeds)
        self._column.addWidget(self._find)
        self._column.addWidget(self._guarded)
        self._column.addLayout(side_by_side(self._add, self._remove))
        self._column.addWidget(self._try_short)
        self._column.addWidget(FeedForm(self._session))

    def _fill_limits(self) -> None:
        self._column.addSpacing(6)
        self._column.addWidget(heading("Wanted at every pixel"))
        rows = Rows()
        self._school = combo([*((name, school) for name, school in SCHOOLS), ("own", None)], "Limits", self._set_school)
        self._floor = QuantityEdit("Voltage at least", "V", volts)
        self._loss = QuantityEdit("Light loss at most", "ratio", lambda value: f"{value:.0%}")
        self._tint = QuantityEdit("Tint shift at most", "", lambda value: f"{value:.3f}")
        for text, field in (("limits", self._school), ("volts ≥", self._floor), ("light loss ≤", self._loss),
                            ("Δu′v′ ≤", self._tint)):  # fmt: skip
            rows.add(text, field)
        self._floor.entered.connect(lambda value: self._limit("Changed the voltage limit", v_min_v=value))
        self._loss.entered.connect(lambda value: self._limit("Changed the light limit", light_loss_max=value))
        self._tint.entered.connect(lambda value: self._limit("Changed the tint limit", tint_max=value))
        for field in (self._floor, self._loss, self._tint):
            field.faulty.connect(self._session.refused)
        self._column.addLayout(rows.grid)

    def _fill_supplies(self) -> None:
        self._column.addSpacing(6)
        self._column.addWidget(heading("Supplies"))
        self._supply = combo([], "Supply", lambda identity: self._session.select("supplies", str(identity)))
        self._supply_part = combo([], "Kind of supply", self._set_supply_part)
        self._set_v = QuantityEdit("Set voltage", "V", volts)
        self._set_v.entered.connect(lambda value: self._change_supply("Set the supply's voltage", set_v=value))
        self._set_v.faulty.connect(self._session.refused)
        self._sealed = QCheckBox("sealed box or > 40 °C")
        self._sealed.clicked.connect(lambda on: self._change_supply("Changed where the supply stands", sealed=on))
        self._joined = QCheckBox("return joined to others")
        self._joined.setToolTip("Its negative is on the same wire as those of all other supplies")
        self._joined.clicked.connect(lambda on: self._change_supply("Changed the supply's return", joined=on))
        self._cap = QuantityEdit("The show is kept within", "A", amps)
        self._cap.optional = True
        self._cap.setPlaceholderText("no cap")
        self._cap.setToolTip(
            plain_tip(
                "What the show may draw with all that hangs on the supply: brighter frames are dimmed as a whole, "
                "here and in the code for boards. Empty: no cap"
            )
        )
        self._cap.entered.connect(lambda value: self._change_supply("Capped the show", show_cap_a=value))
        self._cap.emptied.connect(lambda: self._change_supply("Took the show's cap off", show_cap_a=None))
        self._cap.faulty.connect(self._session.refused)
        self._supply_load = faint()
        rows = Rows()
        rows.add("supply", self._supply)
        rows.add("kind", self._supply_part)
        rows.add("set to", self._set_v)
        rows.add("show within", self._cap)
        self._column.addLayout(rows.grid)
        self._column.addWidget(self._sealed)
        self._column.addWidget(self._joined)
        self._column.addWidget(self._supply_load)
        self._remove_one = button("Remove", self._remove_supply, tip="Remove this supply with its feeds")
        self._column.addLayout(side_by_side(button("Add supply", self._add_supply), self._remove_one))

    def _ask_feeds(self, guard: bool) -> None:
        run, _ = self._session.pixel_in_hand()
        if run is not None:
            self.find_feeds.emit(run.id, guard or self._guarded.isChecked())

    def _add_feed(self) -> None:
        build = self._session.build
        strip, index = self._session.pixel_in_hand()
        if strip is None or not build.supplies:
            self._session.refused.emit(
                LanternError("there is nothing to feed from", "Add feed", "a supply added first")
            )
            return
        wire = next(wire for wire in shelf().of(WirePart) if wire.id == "mm2-1_5")
        fuse = first_fuse(build, strip, wire)
        place = 0.0 if index == 0 else (index + 0.5) * strip.pitch_m
        suitable = fitting_supply(build, part_of(build, strip), self._session.selection.one("supplies"))
        supply_id = suitable.id if suitable else self._chosen_supply() or build.supplies[0].id
        edit = partial(
            add_feed, supply_id=supply_id, strip_id=strip.id, position_m=place, wire=wire, length_m=1.0, fuse=fuse
        )
        if self._session.apply(f"Added a feed to {strip.name}", edit):
            self._session.select("feeds", self._session.build.feeds[-1].id)

    def _remove_feed(self) -> None:
        feed_id = self._session.selection.one("feeds")
        if feed_id:
            letter = self._session.build.feed_letters[feed_id]
            self._session.apply(f"Removed feed {letter}", partial(remove_feed, feed_id=feed_id))

    def _present_floor(self, build: Build) -> float:
        floors = [voltage_floor(part_of(build, strip), build.limits) for strip in build.strips]
        return floors[0] if floors else build.limits.v_min_v or 0.0

    def _limit(self, label: str, **changes: Any) -> None:
        self._session.apply(label, lambda build: change_build(build, limits=revise(build.limits, **changes)))

    def _set_school(self, school: object) -> None:
        if isinstance(school, Limits):
            self._session.apply("Changed the limits", partial(change_build, limits=school))

    def _chosen_supply(self) -> str | None:
        build = self._session.build
        chosen = self._session.selection.one("supplies")
        return chosen or (build.supplies[0].id if build.supplies else None)

    def _show_supply(self, build: Build) -> None:
        identity = self._chosen_supply()
        fields = (self._supply, self._supply_part, self._set_v, self._cap, self._sealed, self._joined)
        for field in (*fields, self._remove_one):
            field.setEnabled(identity is not None)
        with quiet(*fields):
            self._supply.clear()
            for supply in build.supplies:
                self._supply.addItem(supply.name, supply.id)
            if identity is None:
                self._supply_load.setText("None yet. Mains work is for licensed people; fuse every feed.")
                return
            set_choice(self._supply, identity)
            supply = next(supply for supply in build.supplies if supply.id == identity)
            part = supply_part(build, identity)
            parts = self._session.parts.of(SupplyPart)
            if [self._supply_part.itemData(n) for n in range(self._supply_part.count())] != [p.id for p in parts]:
                self._supply_part.clear()
                for one in parts:
                    self._supply_part.addItem(f"{one.nominal_v:g} V {one.rated_a:g} A {one.source}", one.id)
            set_choice(self._supply_part, part.id)
            self._supply_part.setToolTip(plain_tip(part.name))
            self._set_v.show_value(supply.set_v)
            if supply.show_cap_a is None:
                self._cap.show_nothing()
            else:
                self._cap.show_value(supply.show_cap_a)
            self._sealed.setChecked(supply.sealed)
            self._joined.setChecked(supply.joined)
            self._joined.setVisible(len(build.supplies) > 1 or bool(build.boards))
        self._show_load(build)

    def _show_load(self, build: Build) -> None:
        """What the chosen supply gives, what it may give, and its caution."""
        identity = self._chosen_supply()
        if identity is None:
            return
        supply = next(supply for supply in build.supplies if supply.id == identity)
        part = supply_part(build, identity)
        solved = self._session.solved
        load = "—"
        if solved and solved.build is build and (solved.solution or not build.strips):
            from tiny_lantern.electrical.power_tree import lamp_loads_a  # loaded by the warm-up

            strips = solved.solution.supplies.get(identity) if solved.solution else None
            strips_a = strips.current_a if strips else 0.0
            load = amps(strips_a + lamp_loads_a(build, self._session.drive)[identity])
        allowed = f"gives {load} of {allowed_share(supply) * part.rated_a:g} A allowed"
        draw = self._session.draw
        if draw is not None and len(draw.total_a):
            moment = clock(draw.timeline.begins_s(draw.worst_tick))
            allowed += f"; strips draw at most {amps(float(draw.total_a.max()))} in the show, at {moment}"
        self._supply_load.setText(f"{allowed}\n{CAUTIONS.get(part.source, '')}".strip())

    def _change_supply(self, label: str, **changes: Any) -> None:
        identity = self._chosen_supply()
        if identity:
            self._session.apply(label, partial(change_supply, supply_id=identity, **changes))

    def _set_supply_part(self, part_id: object) -> None:
        identity = self._chosen_supply()
        part = next(part for part in self._session.parts.of(SupplyPart) if part.id == part_id)
        if identity:
            self._session.apply(f"Used {part.name}", partial(change_supply_part, supply_id=identity, part=part))

    def _add_supply(self) -> None:
        build = self._session.build
        part = suggested_supply(build)
        if self._session.apply(f"Added {part.name}", partial(add_supply, part=part)):
            self._session.select("supplies", self._session.build.supplies[-1].id)

    def _remove_supply(self) -> None:
        identity = self._chosen_supply()
        if identity:
            self._session.apply("Removed a supply with its feeds", partial(remove_supply, supply_id=identity))
