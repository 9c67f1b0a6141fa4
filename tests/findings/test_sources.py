"""What feeds what, judged: voltages that nothing gives, sources of another voltage, boards that give too much."""

import pytest

from tests.findings.test_findings import found, on_its_pins, on_twelve, stepped_up
from tests.support.builds import one_strip, part
from tests.support.driven import driven, flood, hold, lamps
from tiny_lantern.circuit.drive import wired, wired_drive
from tiny_lantern.circuit.river import river_of
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.power_tree import Hanging, lamp_loads_a, power_tree
from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import add_rail, change_driver, feed_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_power import add_supply, change_supply, remove_supply
from tiny_lantern.model.edits_sources import hang_on
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.sources import source_of, supply_behind
from tiny_lantern.plans.ways import drive_piece


def named(build: Build, field: str = "fed_by") -> str | None:
    """The id of what a field of the first driver names."""
    fed_by = getattr(build.drivers[0], field)
    return None if fed_by is None else fed_by.id


def fixed(finding: Finding, build: Build, words: str) -> Build:
    """A build with the mend of some words."""
    return next(fix.edit for fix in finding.tries if words in fix.label)(build)  # type: ignore[misc]


class TestAVoltageThatNothingGives:
    def test_is_told_with_what_it_draws_and_each_mend_gives_it(self) -> None:
        build = add_supply(driven("switch", lamps(3, wired="series"), led_v=12.0), part("mains-24v-6a"))
        finding = found(build)["no-voltage"]
        assert finding.severity is Severity.WONT_WORK
        drawn_a = solve_drive(build).by_driver[build.drivers[0].id].lamp_a
        assert "Nothing feeds Lamps: it wants 12" in finding.title
        assert f"{drawn_a * 1000:.1f} mA" in finding.message
        for words, kind in (("Add a 12 V supply", "supplies"), ("Make 12 V of Supply 1 with a step-down", "rails")):
            mended = fixed(finding, build, words)
            assert "no-voltage" not in found(mended)
            assert named(mended) == getattr(mended, kind)[-1].id
            assert source_of(mended, mended.drivers[0].fed_by).volts == 12.0  # type: ignore[union-attr]

    def test_within_half_a_volt_it_is_given_and_beyond_it_is_not(self) -> None:
        build = driven("switch", lamps(3, wired="series"), led_v=12.5)
        assert named(add_supply(build, part("mains-12v-5a"))) == "supply-1"
        apart = add_supply(change_driver(build, build.drivers[0].id, led_v=12.51), part("mains-12v-5a"))
        assert named(apart) is None
        assert "no-voltage" in found(apart)

    def test_every_source_of_a_hold_rail_is_asked_for(self) -> None:
        build = add_supply(driven("hold", hold()), part("mains-5v-4a"))
        assert (named(build), named(build, "full_fed_by")) == ("supply-1", None)
        assert "Festoon, full" in found(build)["no-voltage"].title
        assert "no-voltage" not in found(hang_on(build, "full_fed_by", build.drivers[0].id, FedBy(id="supply-1")))


class TestASourceOfAnotherVoltage:
    @pytest.mark.parametrize(("set_v", "told"), [(5.5, None), (5.51, Severity.DANGER), (4.5, None),
                                                 (4.49, Severity.WONT_WORK)])  # fmt: skip
    def test_is_told_from_both_sides(self, set_v: float, told: Severity | None) -> None:
        build = change_supply(on_twelve(driven("register", lamps(3))), "supply-1", set_v=set_v)
        finding = found(build).get("source-voltage")
        assert (finding.severity if finding else None) is told
        if finding is not None:
            assert "510 mV too" in finding.message or "0.51 V too" in finding.message

    def test_planning_with_what_it_gives_leads_to_the_rules_on_that_voltage(self) -> None:
        build = on_twelve(driven("register", lamps(3)))
        finding = found(build)["source-voltage"]
        planned = fixed(finding, build, "Plan it with 12")
        assert "source-voltage" not in found(planned)
        assert planned.drivers[0].led_v == 12.0  # type: ignore[attr-defined]
        assert "chip-voltage" in found(planned)

    def test_another_source_that_gives_it_is_offered_first(self) -> None:
        build = add_supply(on_twelve(driven("register", lamps(3))), part("mains-5v-4a"), "Five")
        finding = found(build)["source-voltage"]
        assert finding.tries[0].label == "Feed it from Five"
        mended = fixed(finding, build, "Feed it from Five")
        assert (named(mended), "source-voltage" in found(mended)) == ("five", False)


class TestABoardThatGives:
    def test_no_more_through_its_cable_than_that_bears(self) -> None:
        build = on_its_pins(driven("switch", lamps(12), led_v=5.0))
        taken_a = Hanging(build, wired_drive(build)).board_a(build.boards[0])[1]
        assert taken_a == pytest.approx(0.05 + wired_drive(build).by_driver[build.drivers[0].id].lamp_a)
        own = build.shelf.of(BoardPart)[0]
        tight, over = (change_parts(build, revise(own, cable_a=taken_a + more)) for more in (1e-4, -0.01))
        assert "board-gives" not in found(tight)
        finding = found(over)["board-gives"]
        assert "10.0 mA too much" in finding.message
        mended = finding.tries[0].edit(over)  # type: ignore[misc]
        assert "board-gives" not in found(mended)
        assert mended.boards[0].fed_by is not None

    def test_of_its_own_regulator_no_more_than_that_bears(self) -> None:
        build = on_its_pins(driven("switch", lamps(4), led_v=3.3, board="board-routed-3v3"), "logic")
        build = feed_board(add_supply(build, part("mains-5v-4a")), build.boards[0].id, "supply-1")
        given_a = Hanging(build, solve_drive(build)).given_a(FedBy(id=build.boards[0].id, pin="logic"))[1]
        own = build.shelf.of(BoardPart)[0]
        assert "board-gives" not in found(change_parts(build, revise(own, logic_a=given_a * 1.001)))
        assert "regulator" in found(change_parts(build, revise(own, logic_a=given_a * 0.9)))["board-gives"].title
        assert lamp_loads_a(build, solve_drive(build))["supply-1"] > given_a, "all of it comes from its supply"

    def test_is_a_root_of_the_tree_on_its_cable(self) -> None:
        build = driven("pin", lamps(3))
        (root,) = power_tree(build, None, solve_drive(build))
        assert (root.kind, root.allowed_a) == ("cable", 0.5)
        assert {node.name for node in root.children[0].children} == {"the board itself", "Lamps"}


class TestAConverter:
    def test_takes_the_power_that_it_gives_with_its_losses(self) -> None:
        build = add_supply(driven("switch", flood(), led_v=12.0), part("mains-24v-6a"))
        build = add_rail(build, part("step-down-3a"), "supply-1", 12.0)
        lamps_a = solve_drive(build).by_driver[build.drivers[0].id].lamp_a
        state = Hanging(build, solve_drive(build)).rails["rail-1"]
        assert state.worst_a == pytest.approx(lamps_a)
        power_w = state.worst_v * lamps_a
        assert lamp_loads_a(build, solve_drive(build))["supply-1"] * 24.0 == pytest.approx(power_w / 0.88 + 0.006 * 24)
        assert state.heat_w == pytest.approx(power_w / 0.88 - power_w)

    def test_a_step_up_raises_and_does_not_lower(self) -> None:
        assert "rail-step" not in found(stepped_up(12.0, 12.0))
        finding = found(stepped_up(12.5, 12.0))["rail-step"]
        assert finding.severity is Severity.DANGER
        assert "500 mV too much" in finding.message or "0.50 V too much" in finding.message
        assert "rail-headroom" not in found(stepped_up(2.8, 12.0))
        assert "from 2.8" in found(stepped_up(2.7, 12.0))["rail-headroom"].message

    def test_a_step_down_needs_its_headroom(self) -> None:
        build = change_supply(add_supply(Build(), part("bench-30v-5a")), "supply-1", set_v=6.5)
        assert "rail-headroom" not in found(add_rail(build, part("step-down-3a"), "supply-1", 5.0))
        starved = add_rail(change_supply(build, "supply-1", set_v=6.4), part("step-down-3a"), "supply-1", 5.0)
        assert "headroom" in found(starved)["rail-headroom"].message

    def test_it_draws_from_its_source_what_the_circuit_has_too_and_falls_with_too_little_before_it(self) -> None:
        build = add_supply(driven("switch", flood(), led_v=12.0), part("bench-30v-5a"))
        build = add_rail(change_supply(build, "supply-1", set_v=24.0), part("step-down-3a"), "supply-1", 12.0)
        build = hang_on(build, "fed_by", build.drivers[0].id, FedBy(id="rail-1"))
        found_a = wired(build).lit.conductor_a
        given_a = found_a["rail/12"]
        assert found_a["regulated/rail-1/in"] == pytest.approx(12.0 * given_a / (0.88 * 24.0) + 0.006, rel=0.02)
        low = change_supply(build, "supply-1", set_v=12.5)
        at_v = {each.key: each.volts for each in river_of(low, wired(low), wired_drive(low)).banks}["rail-1"]
        assert at_v == pytest.approx(12.5 - 1.5, abs=0.15), "the headroom is kept"

    def test_a_step_down_is_not_offered_where_it_would_starve(self) -> None:
        wants = driven("sink", lamps(2), led_v=4.2)
        for fed_v, offered in ((5.7, True), (5.69, False)):
            build = change_supply(add_supply(wants, part("bench-30v-5a")), "supply-1", set_v=fed_v)
            labels = [fix.label for fix in found(build)["no-voltage"].tries]
            assert any("step-down" in label for label in labels) is offered


class TestNaming:
    def test_a_source_in_a_ring_or_by_a_pin_it_has_not_is_refused(self) -> None:
        build = feed_board(add_supply(driven("pin"), part("mains-12v-5a")), "board", "supply-1")
        build = add_rail(build, part("step-down-3a"), "supply-1", 5.0)
        with pytest.raises(LanternError, match="feeds itself") as ring:
            hang_on(hang_on(build, "fed_by", "board", FedBy(id="rail-1")), "fed_by", "rail-1",
                    FedBy(id="board", pin="logic"))  # fmt: skip
        assert ring.value.where == "rails[0].fed_by"
        with pytest.raises(LanternError, match="only a board feeds by a pin"):
            hang_on(build, "fed_by", "board", FedBy(id="supply-1", pin="fed"))
        with pytest.raises(LanternError, match="a board feeds by one of its pins"):
            hang_on(build, "fed_by", "rail-1", FedBy(id="board"))
        with pytest.raises(LanternError, match="there is no “nobody”"):
            hang_on(build, "fed_by", "nobody", None)
        with pytest.raises(LanternError, match="nothing here has the id"):
            hang_on(build, "fed_by", "board", FedBy(id="nothing"))

    def test_rails_on_rails_hang_on_the_supply_behind_them(self) -> None:
        build = add_rail(add_supply(Build(), part("mains-24v-6a")), part("step-down-3a"), "supply-1", 12.0)
        build = add_rail(build, part("regulator-adjustable"), "rail-1", 5.0)
        assert supply_behind(build, FedBy(id="rail-2")) == "supply-1"
        assert supply_behind(build, None) == ""
        on_cable = driven("pin")
        assert supply_behind(on_cable, FedBy(id="board", pin="logic")) == "", "a board on its cable hangs on no supply"
        assert remove_supply(build, "supply-1").rails == ()

    def test_what_hung_on_a_supply_that_goes_hangs_on_another_of_its_voltage(self) -> None:
        build = add_supply(driven("register", lamps(3)), part("mains-5v-4a"), "One")
        build = add_supply(build, part("mains-5v-10a"), "Two")
        assert named(build) == "one"
        assert named(remove_supply(build, "one")) == "two"
        assert named(remove_supply(remove_supply(build, "one"), "two")) is None

    def test_another_voltage_of_the_lamps_leads_to_a_source_that_gives_it(self) -> None:
        build = add_supply(driven("switch", lamps(2), led_v=5.0), part("mains-5v-4a"), "Five")
        build = add_supply(build, part("mains-12v-5a"), "Twelve")
        driver = build.drivers[0].id
        assert named(change_driver(build, driver, led_v=12.0)) == "twelve"
        assert named(change_driver(build, driver, led_v=9.0)) is None
        assert named(change_driver(build, driver, name="Else")) == "five"
        stays = change_driver(build, driver, led_v=9.0, fed_by=FedBy(id="twelve"))
        assert named(stays) == "twelve", "what was named stays named"

    def test_a_change_of_something_else_leaves_what_hangs_on_another_voltage_where_it_is(self) -> None:
        build = on_twelve(driven("register", lamps(3)))
        renamed = change_driver(build, build.drivers[0].id, name="Else")
        assert named(renamed) == "supply-1", "the snag on it stays until a person mends it"

    def test_coils_hang_on_what_feeds_their_board_whatever_it_gives(self) -> None:
        build = change_supply(add_supply(driven("pin"), part("bench-30v-5a")), "supply-1", set_v=6.0)
        build = add_piece(feed_board(build, "board", "supply-1"), part("floodlight-12v"), flood())
        driven_flood = drive_piece(build, build.pieces[-1].id, "relay")
        assert driven_flood.drivers[-1].coils_fed_by == FedBy(id="supply-1")  # type: ignore[attr-defined]

    def test_a_strip_s_feeds_and_a_piece_driven_anew_keep_theirs(self) -> None:
        build = one_strip(10)
        assert [feed.supply_id for feed in build.feeds] == ["supply"]
        lit = add_supply(driven("register", lamps(3)), part("mains-5v-4a"))
        again = drive_piece(lit, "lamps", "switch")
        assert again.drivers[0].kind == "switch"
