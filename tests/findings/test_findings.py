"""The rules: each is provoked, says where, how much and why, and its fix mends it."""

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.answering import OF_INPUTS
from tests.support.builds import builds, one_strip, part
from tests.support.driven import OFFSET, driven, flood, heavy, hold, lamps, lit, matrix, railed, with_channel
from tests.support.effort import some
from tests.support.pieces import pier
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.circuit.drive import solve_lit, whole_circuit, wired
from tiny_lantern.electrical.supplies import OPEN_SHARE, full_current_a, suggested_supply
from tiny_lantern.findings.check import check, stops_the_build
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.findings.mends import with_mends
from tiny_lantern.findings.registry import rules
from tiny_lantern.findings.together import grouped
from tiny_lantern.model.base import revise
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build, FullWhite, LevelLoad, Load, Site
from tiny_lantern.model.edits import change_build, change_parts, with_part
from tiny_lantern.model.edits_bench import take_reading, with_change
from tiny_lantern.model.edits_drive import add_board, add_rail, feed_board, move_pin
from tiny_lantern.model.edits_pieces import (
    add_joint,
    add_piece,
    add_strip,
    change_piece,
    change_strip,
    remove_piece,
    toggle_cut,
)  # fmt: skip
from tiny_lantern.model.edits_plugs import add_plug
from tiny_lantern.model.edits_power import (
    add_feed,
    add_supply,
    change_supply,
    change_supply_part,
    set_connector,
    set_fuse,
    set_length,
    set_wire,
    set_wires,
)  # fmt: skip
from tiny_lantern.model.edits_room import add_box, add_passage, change_box, change_passage
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.edits_sources import hang_on
from tiny_lantern.model.edits_wiring import choose_wire, stamp_printed
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.mount import Mount
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.show.data_line import frame_times
from tiny_lantern.ui.files import demo_build


def found(build: Build, load: Load | None = None) -> dict[str, Finding]:
    """The first finding of each code."""
    findings: dict[str, Finding] = {}
    for finding in check(gather(build, load or FullWhite(), find_flashes(build))):
        findings.setdefault(finding.code, finding)
    return findings


def fused(rating: float, build: Build | None = None) -> Build:
    """A strip whose feed has a fuse of a rating."""
    return set_fuse(build or one_strip(150), "feed", next(f for f in shelf().of(FusePart) if f.rating_a == rating))


def disagreeing() -> Build:
    build = add_supply(one_strip(60), part("mains-5v-20a"), "Other")
    build = add_feed(build, "other", "strip", 1.0, part("mm2-1_5"), 1.0, part("fuse-10a"))
    return change_supply(build, "other", set_v=5.3)


def thick_railed() -> Build:
    """Rails so thick that the strip is not starved and its copper carries more than it may."""
    return change_strip(one_strip(300, feeds=(0.5,)), "strip", rail_pos_ohm_per_m=0.01, rail_neg_ohm_per_m=0.01)


def on_twelve(build: Build) -> Build:
    """A driven build on a supply of its volts that was then set to twelve."""
    build = change_supply(add_supply(build, part("bench-30v-5a")), "supply-1", set_v=5.0)
    return change_supply(build, "supply-1", set_v=12.0)


def on_its_pins(build: Build, pin: str = "fed") -> Build:
    """A driver's lamps on a pin of their board."""
    return hang_on(build, "fed_by", build.drivers[0].id, FedBy(id=build.boards[0].id, pin=pin))


def far_on_thin_wire(past: float) -> Build:
    """Lamps in a long row, the last on a wire of a person's own with which it loses a tenth of its current and a share
    more, all others as thick as helps: one over a current rises evenly with a resistance before it."""
    build = driven("register", lamps(30, "led-white-5mm", spacing_m=9.9))
    wire, ohm_per_m = part("awg-28"), np.array([0.2, 0.4])
    tried = [choose_wire(build, LAST_ONE, revise(wire, ohm_per_m=each), None) for each in ohm_per_m]
    over_a = 1 / np.array([wired(each).lit.channel_a["lamps-register", 29] for each in tried])
    ideal_a = solve_lit(build, whole_circuit(build), 0.0).channel_a["lamps-register", 29]
    rise, start = np.polyfit(over_a, ohm_per_m, 1)
    wanted = start + rise / (ideal_a * (0.9 - past))
    return choose_wire(build, LAST_ONE, revise(wire, ohm_per_m=float(wanted)), None)


LAST_ONE = "lamps-register/29/lamp"


def stepped_up(fed_v: float, target_v: float) -> Build:
    """A step-up rail."""
    build = change_supply(add_supply(Build(), part("bench-30v-5a")), "supply-1", set_v=fed_v)
    return add_rail(build, part("step-up-2a"), "supply-1", target_v)


def unlimited(build: Build) -> Build:
    """The build with supplies that nothing limits in a fault."""
    parts = tuple(revise(supply, limit_kind="none") for supply in build.shelf.of(SupplyPart))
    return change_parts(build, *parts)


def lingering() -> Build:
    """A strip whose copper bears more than a short can draw, on a fuse that is too large to see one."""
    build = fused(15, one_strip(80))
    strip = revise(build.shelf.of(StripPart)[0], rail_limit_a=900.0)
    wires = tuple(revise(wire, limit_a=900.0) for wire in build.shelf.of(WirePart))
    return change_parts(build, strip, *wires)


def jointed() -> Build:
    """Two strips with a joint that carries more than it may."""
    build = add_joint(add_strip(one_strip(60), part("rgb-5v-60"), 60, "Next"), "strip", "next")
    return revise(build, joints=(revise(build.joints[0], limit_a=1.0),))


def bare_wired() -> Build:
    """A feed without any resistance."""
    build = set_fuse(one_strip(), "feed", None)
    return revise(build, feeds=(set_length(build, "feed", 0.0).feeds[0],))


def mounted(**mount: float) -> Build:
    """A pier whose quay lamps of 5 mm are mounted so; they stand 9 mm out behind."""
    return change_piece(pier(), "quay", mount=Mount(**mount))


def clashing(kind: str = "chase") -> Build:
    """Two dimmed lamps on pins of one compare channel, in a show that asks unlike or like things of them."""
    build = driven("pwm", lamps(2), board="board-paired-3v3")
    build = move_pin(move_pin(build, "lamps-pwm", "lamp 0", "G0"), "lamps-pwm", "lamp 1", "G16")
    return lit(build, kind=kind)


def weak_coils(set_v: float = 3.9) -> Build:
    """A relay on a supply that is set low."""
    build = add_supply(driven("relay", flood(), set_before_boot=True), part("mains-5v-4a"), "Supply")
    build = feed_board(build, build.boards[0].id, build.supplies[0].id)
    return change_supply(build, build.supplies[0].id, set_v=set_v)


def misread() -> Build:
    """A knob on a pin that reads no volts."""
    return move_pin(change_way(driven("pwm"), "lamps-pwm", knob=True), "lamps-pwm", "knob", "53")


def counted() -> Build:
    """A matrix whose rows a counter steps."""
    build = driven("scanned", matrix())
    return change_way(build, build.drivers[0].id, rows_by="counter")


def to_and_fro(speed: float = -10.0, start_s: float = 2.0) -> Build:
    """A chase one way, then one at a speed."""
    there, back = (look_of("chase", colour="#ff0000", length_px=1, tail_px=0, spacing_px=20, speed_px_per_s=each)
                   for each in (10.0, speed))  # fmt: skip
    return add_effect(add_effect(one_strip(20), there, 0, 19, 0.0, 2.0), back, 0, 19, start_s, 2.0)


def forgetful() -> Build:
    """A board that remembers a hundred bytes."""
    build = lit(driven("pin"), kind="candle")
    return change_parts(build, revise(build.shelf.of(BoardPart)[0], memory_bytes=100))


def busy(lights: int = 200) -> Build:
    """A small board that works out embers for each of many lights."""
    return lit(add_board(one_strip(lights), part("board-8bit-small")), kind="embers")


def apart() -> Build:
    """Lamps on a supply of their own whose negative is not joined to the board's."""
    build = add_supply(driven("switch", led_v=12.0), part("mains-5v-4a"), "Logic")
    build = add_supply(feed_board(build, build.boards[0].id, "logic"), part("mains-12v-5a"), "Lamps supply")
    return change_supply(build, "lamps-supply", joined=False)


def thin_railed() -> Build:
    """A rail whose regulator may give 0.1 A only."""
    build = railed(40)
    return change_parts(build, revise(build.shelf.of(RegulatorPart)[0], most_a=0.1))


def drained() -> Build:
    """A strip on a battery of 2 Ah."""
    build = one_strip(100, supply="battery-5v-8a")
    source = build.shelf.of(SupplyPart)[0]
    return change_parts(build, revise(source, cells=revise(source.cells, capacity_ah=2.0)))


def changed_twice(build: Build) -> Build:
    """A build that was changed twice after it was read."""
    for volts in (5.1, 5.2):
        after = change_supply(build, "supply", set_v=volts)
        build = with_change(build, after, f"Set the supply to {volts} V")
    return build


def at_bench(build: Build, supply_v: float) -> Build:
    """A build whose first supply was read at its terminals."""
    plus, zero = next(part.ends for part in compile_circuit(build).fitted if part.name == build.supplies[0].id)
    reading = BenchReading(id="r", kind="V", plus=plus.node, minus=zero.node, value=supply_v)
    return take_reading(build, reading, f"{supply_v} V")


PROVOKED: dict[str, Callable[[], tuple[Build, Load | None]]] = {
    "no-feed": lambda: (add_strip(one_strip(), part("rgb-5v-60"), 9, "Far"), None),
    "no-voltage": lambda: (add_supply(driven("switch", flood(), led_v=12.0), part("mains-5v-4a")), None),
    "source-voltage": lambda: (on_twelve(driven("switch", lamps(2), led_v=5.0)), None),
    "board-gives": lambda: (on_its_pins(driven("switch", flood())), None),
    "lead-drop": lambda: (far_on_thin_wire(0.001), None),
    "rail-step": lambda: (stepped_up(24.0, 12.0), None),
    "pixel-voltage": lambda: (one_strip(400), None),
    "light-loss": lambda: (one_strip(250), None),
    "tint-shift": lambda: (one_strip(250), None),
    "averaged": lambda: (one_strip(500), LevelLoad(level=0.8)),
    "no-fuse": lambda: (set_fuse(one_strip(), "feed", None), None),
    "fuse-share": lambda: (fused(3), None),
    "fuse-over-wire": lambda: (fused(15, set_wire(one_strip(), "feed", part("awg-18"))), None),
    "wire-current": lambda: (set_wire(one_strip(150), "feed", part("awg-24")), None),
    "short-stands": lambda: (unlimited(fused(10, one_strip(200))), None),
    "short-lingers": lambda: (unlimited(lingering()), None),
    "short-by-supply": lambda: (one_strip(60), None),
    "joint-current": lambda: (jointed(), None),
    "unsolvable": lambda: (bare_wired(), None),
    "strip-copper": lambda: (thick_railed(), None),
    "supply-share": lambda: (one_strip(120, supply="mains-5v-4a"), None),
    "supply-voltage": lambda: (change_supply(one_strip(), "supply", set_v=6.0), None),
    "supplies-disagree": lambda: (disagreeing(), None),
    "frame-time": lambda: (change_build(one_strip(120), tick_hz=400), None),
    "flashing": lambda: (add_effect(one_strip(), look_of("blink", colour="#ffffff", period_s=0.2), 0, 9, 3, 5), None),
    "hole": lambda: (mounted(hole_m=0.004), None),
    "depth": lambda: (mounted(spacer_m=0.003, depth_m=0.010), None),
    "collide": lambda: (change_piece(pier(), "quay", spacing_m=0.004), None),
    "leads-unknown": lambda: (change_piece(with_part(pier(), part("lamp-two-colour-2")), "quay",
                                           part_id="lamp-two-colour-2"), None),
    "passage": lambda: (change_passage(add_passage(one_strip(), 0, 0), "passage", others=20), None),
    "box": lambda: (change_box(add_box(one_strip(), 0, 0), "box", depth_m=0.01), None),
    "wire-over": lambda: (heavy(40.0), None),
    "not-driven": lambda: (pier(), None),
    "no-source": lambda: (driven("pin", lamps(3)), None),
    "no-resistor": lambda: (with_channel(driven("pin"), resistor_ohm=None), None),
    "supply-too-low": lambda: (driven("pin", lamps(3, wired="series")), None),
    "shared-resistor": lambda: (driven("switch", lamps(3, wired="parallel")), None),
    "plug-full": lambda: (add_plug(driven("pin", lamps(4)), part("plug-6way"), "lamps"), None),
    "plug-current": lambda: (change_parts(
        add_plug(driven("pin"), part("plug-12way"), "lamps"), revise(part("plug-12way"), limit_a=0.005)), None),
    "output-current": lambda: (with_channel(driven("pin"), resistor_ohm=100.0), None),
    "lamp-current": lambda: (with_channel(driven("switch"), resistor_ohm=47.0), None),
    "resistor-heat": lambda: (with_channel(driven("switch", led_v=24.0), resistor_ohm=2200.0), None),
    "chip-current": lambda: (driven("register", lamps(8, "led-white-5mm")), None),
    "board-current": lambda: (driven("pin", lamps(24)), None),
    "resistor-off": lambda: (with_channel(driven("pin"), resistor_ohm=1000.0), None),
    "no-base-resistor": lambda: (driven("switch", transistor_id="bjt-small", base_ohm=None, pull_ohm=None), None),
    "no-pull": lambda: (driven("switch", pull_ohm=None), None),
    "barely-on": lambda: (driven("switch", transistor_id="mosfet-tall"), None),
    "high-side-stays-on": lambda: (driven("switch", transistor_id="mosfet-high", led_v=12.0, pull_ohm=1e4), None),
    "pin-over": lambda: (driven("switch", transistor_id="mosfet-high", led_v=9.0, pull_ohm=1e4), None),
    "transistor-limit": lambda: (driven("switch", flood(), transistor_id="mosfet-small"), None),
    "too-hot": lambda: (driven("sink", lamps(16), led_v=24.0), None),
    "control-floating": lambda: (driven("register", enable_wired=False), None),
    "common-type": lambda: (driven("register", lamps(2, "lamp-rgb-anode"), sink=False), None),
    "out-of-compliance": lambda: (driven("sink", led_v=2.0), None),
    "row-overload": lambda: (driven("scanned", matrix(), rows_by="register", row_ohm=35.0), None),
    "column-overload": lambda: (driven("scanned", matrix(), chip_id="register-8"), None),
    "refresh-low": lambda: (driven("scanned", matrix(), row_rate_hz=400.0), None),
    "one-at-a-time": lambda: (lit(driven("demux")), None),
    "hold-missed": lambda: (driven("hold", hold(), out_v=1.7), None),
    "hold-switch": lambda: (driven("hold", hold(), transistor_id="mosfet-high"), None),
    "no-headroom": lambda: (driven("hold", hold(), in_v=2.5), None),
    "pulsed-to-zero": lambda: (driven("hold", hold(), pulse_hz=50.0), None),
    "wide-steps": lambda: (lit(driven("register"), kind="breathe", colour="#ff0000", period_s=4.0), None),
    "no-pin": lambda: (driven("register", pins=()), None),
    "offset-glow": lambda: (change_way(driven("pwm", board=OFFSET), "lamps-pwm", knob=True), None),
    "int-overflow": lambda: (change_way(driven("pwm"), "lamps-pwm", knob=True, levels_in="int"), None),
    "no-reading": lambda: (misread(), None),
    "counter-start": lambda: (counted(), None),
    "no-dimming": lambda: (move_pin(driven("pwm", lamps(1)), "lamps-pwm", "lamp 0", "53"), None),
    "compare-clash": lambda: (clashing(), None),
    "pwm-flicker": lambda: (driven("pwm"), None),
    "relay-life": lambda: (lit(driven("relay", flood()), kind="blink", period_s=0.1, duty=0.5), None),
    "relay-coil": lambda: (weak_coils(), None),
    "relay-contact": lambda: (driven("relay", flood("filament-string-24v")), None),
    "relay-boot": lambda: (driven("relay", flood()), None),
    "caution-relay-mains": lambda: (driven("relay", flood("string-mains")), None),
    "show-peak": lambda: (lit(one_strip(100, supply="mains-5v-4a")), None),
    "over-edge": lambda: (
        add_effect(add_strip(one_strip(), part("rgb-5v-60"), 9, "Far"), look_of("steady"), 0, 61, 0, 5), None),
    "colour-lost": lambda: (
        add_effect(add_piece(Build(), part("lamp-two-colour-2"), lamps(2, "lamp-two-colour-2")),
                   look_of("steady", colour="#0000ff"), 0, 1, 0, 5), None),
    "stays-lit": lambda: (change_build(lit(one_strip(5), length_s=60.0), after_end="hold"), None),
    "never-seen": lambda: (change_build(to_and_fro(start_s=30.0), show_s=20.0), None),
    "ends-twice": lambda: (to_and_fro(), None),
    "code-memory": lambda: (forgetful(), None),
    "frame-work": lambda: (busy(), None),
    "refresh-kept": lambda: (lit(driven("sink", lamps(16), levels_bits=8)), None),
    "data-high": lambda: (add_board(one_strip(20), part("board-paired-3v3")), None),
    "chip-voltage": lambda: (driven("register", led_v=9.0), None),
    "reverse-voltage": lambda: (driven("scanned", matrix(), rows_by="register", led_v=5.5), None),
    "no-common-return": lambda: (apart(), None),
    "rail-window": lambda: (railed(trimmed="loaded", output_ohm=3.0), None),
    "rail-headroom": lambda: (change_supply(railed(), "source", set_v=6.0), None),
    "rail-hot": lambda: (change_supply(railed(40), "source", set_v=24.0), None),
    "rail-current": lambda: (thin_railed(), None),
    "battery-short": lambda: (change_build(drained(), show_s=3600.0), None),
    "sheet-old": lambda: (stamp_printed(one_strip(), "0000"), None),
    "reading-off": lambda: (at_bench(one_strip(), 2.0), None),
    "bench-skipped": lambda: (at_bench(one_strip(), 5.0), None),
    "two-changes": lambda: (changed_twice(at_bench(one_strip(), 5.0)), None),
    "bench-old": lambda: (change_supply(at_bench(one_strip(), 5.0), "supply", set_v=5.1), None),
    "caution-mains": lambda: (one_strip(), None),
    "caution-outdoor": lambda: (change_build(one_strip(), site=Site(outdoor=True)), None),
    "caution-battery": lambda: (one_strip(10, supply="battery-5v-3a"), None),
    **{code: (lambda make=make: (make(), None)) for code, make in OF_INPUTS.items()},
}  # fmt: skip


class TestEveryRule:
    """What every rule must keep to."""

    @pytest.fixture(params=sorted(rules()))
    def code(self, request: pytest.FixtureRequest) -> str:
        return request.param

    def test_it_is_provoked_and_says_what_and_how_much(self, code: str) -> None:
        build, load = PROVOKED[code]()
        finding = found(build, load)[code]
        assert finding.title
        assert len(finding.message) > 20
        assert not finding.message[0].islower(), "title and message are read one after the other"
        assert not finding.title.endswith(".")
        if finding.severity < Severity.HINT and code not in STATES:
            assert any(letter.isdigit() for letter in finding.title + finding.message)
            assert finding.working is not None
            assert finding.working.text()

    def test_it_has_help_and_is_silent_on_an_empty_build(self, code: str) -> None:
        assert rules()[code].__doc__
        assert code not in found(Build())

    def test_its_mend_takes_it_away_and_brings_none_as_bad(self, code: str) -> None:
        build, load = PROVOKED[code]()
        evidence = gather(build, load or FullWhite(), find_flashes(build))
        told: list[float] = []
        offered = with_mends(evidence, check(evidence), told.append)
        assert told == pytest.approx(np.linspace(0, 1, len(told), endpoint=False))
        assert_mends_hold(build, load or FullWhite(), offered)
        finding = next(finding for finding in offered if finding.code == code)
        assert (finding.fix is not None) == (code not in UNMENDED), finding.tries
        again = loads(dumps(build))
        for edit in filter(None, (fix.edit for fix in finding.tries)):
            assert dumps(edit(again)) == dumps(edit(build)), "ids are what counts, not which object says them"


UNMENDED = {
    "averaged", "caution-mains", "caution-outdoor", "caution-battery", "short-by-supply", "unsolvable",
    "leads-unknown", "supply-too-low", "plug-current", "resistor-heat", "board-current", "transistor-limit",
    "pwm-flicker", "relay-life", "relay-coil", "relay-contact", "caution-relay-mains", "sheet-old",
    "rail-hot", "rail-current", "battery-short", "code-memory", "wire-over", "reading-off", "bench-skipped",
    "two-changes",
}  # fmt: skip
STATES = {
    "no-feed", "unsolvable", "control-floating", "common-type", "no-pull", "no-pin", "no-dimming", "compare-clash",
    "relay-boot", "sheet-old", "pulsed-to-zero", "no-common-return", "ends-twice",
}  # fmt: skip


def assert_mends_hold(build: Build, load: Load, offered: list[Finding]) -> None:
    """Each offered edit, applied and judged anew, takes its finding away and brings none of its severity or worse."""
    before = {(finding.code, finding.place.thing): finding.severity for group in offered for finding in group.each}
    for group in offered:
        if group.fix is None or group.fix.edit is None:
            continue
        mended = group.fix.edit(build)
        after = check(gather(mended, load, find_flashes(mended)))
        left = {(finding.code, finding.place.thing) for finding in after}
        assert not [finding for finding in group.each if (finding.code, finding.place.thing) in left]
        for finding in after:
            if finding.severity <= group.severity:
                assert before.get((finding.code, finding.place.thing), Severity.HINT) <= finding.severity, finding.title


@some(6)
@given(builds(), st.data())
def test_every_mend_of_every_rule_holds_on_any_build(build: Build, data: st.DataObject) -> None:
    for feed in build.feeds:
        build = set_fuse(build, feed.id, data.draw(st.sampled_from([None, *shelf().of(FusePart)[:8]])))
        build = set_connector(build, feed.id, data.draw(st.sampled_from([None, *shelf().of(ConnectorPart)])))
    set_v = data.draw(st.sampled_from([4.4, 5.0, 5.3, 12.0, 13.0, 24.0, 24.8]))
    build = change_supply(build, "supply", set_v=set_v, sealed=data.draw(st.booleans()))
    load = data.draw(st.sampled_from([FullWhite(), LevelLoad(level=0.3)]))
    evidence = gather(build, load, find_flashes(build))
    findings = check(evidence)
    assert_mends_hold(build, load, with_mends(evidence, findings))
    assert_mends_hold(build, load, with_mends(evidence, grouped(findings)))


@some(12)
@given(builds())
def test_any_build_can_be_judged_the_worst_first(build: Build) -> None:
    findings = check(gather(build, FullWhite()))
    assert [f.severity for f in findings] == sorted(f.severity for f in findings)
    for finding in findings:
        assert finding.fix is None, "no mend is offered before it was tried"


def test_a_sound_build_has_only_cautions() -> None:
    codes = found(fused(3, one_strip(40)))
    assert set(codes) == {"caution-mains", "short-by-supply"}
    assert not stops_the_build(list(codes.values()))
    assert stops_the_build(check(gather(one_strip(400), FullWhite())))


def test_the_amount_in_a_finding_is_the_solved_one() -> None:
    build = one_strip(400)
    evidence = gather(build, FullWhite())
    finding = found(build)["pixel-voltage"]
    lowest = evidence.solved.runs["strip"].pixel_v.min()
    assert f"{lowest:.2f} V" in finding.title
    assert finding.place.index == int(evidence.solved.runs["strip"].pixel_v.argmin())
    assert finding.working is not None


def test_find_feeds_mends_the_footbridge() -> None:
    build = demo_build("footbridge")
    before = found(build)
    assert {"pixel-voltage", "light-loss", "tint-shift", "strip-copper", "short-stands"} <= set(before)
    for strip in build.strips:
        build = plan_feeds(build, strip.id)[0].apply(build)
    after = found(build)
    assert not {"pixel-voltage", "light-loss", "tint-shift", "strip-copper", "fuse-share", "fuse-over-wire"} & set(
        after
    )


def test_the_fuse_is_judged_by_what_goes_out_and_each_wire_by_its_own_current() -> None:
    build = toggle_cut(one_strip(100, feeds=(0.0, 1.0)), "strip", 20)
    carried = gather(build, FullWhite()).white.feeds["feed"]
    assert carried.neg_a > carried.pos_a + 0.2
    between = (carried.pos_a + carried.neg_a) / 2
    fuse = revise(part("fuse-10a"), id="own", rating_a=between / 0.75)
    assert "fuse-share" not in found(set_fuse(build, "feed", fuse))
    assert "fuse-share" in found(set_fuse(build, "feed", revise(fuse, rating_a=0.99 * carried.pos_a / 0.75)))
    thin = revise(part("mm2-1_5"), id="thin", limit_a=between)
    wires = set_wires(build, "feed", part("mm2-1_5"), thin)
    finding = found(wires)["wire-current"]
    assert "flow back" in finding.message
    assert "flow out" not in finding.message
    assert "wire-current" not in found(set_wires(build, "feed", thin, part("mm2-1_5")))


def test_a_larger_fuse_is_never_offered_past_what_a_connector_bears() -> None:
    build = set_connector(fused(3, one_strip(120)), "feed", part("plug-3pin"))
    finding = found(build)["fuse-share"]
    assert finding.tries == (), "the plug bears 3 A, so nothing but another plug helps"


@pytest.mark.parametrize(("share", "over"), [(1.001, False), (0.999, True)])
def test_a_supply_is_judged_by_the_moments_when_all_lit_channels_are_on(share: float, over: bool) -> None:
    build, load = one_strip(100, supply="mains-5v-4a"), LevelLoad(level=0.3)
    evidence = gather(build, load)
    peak = evidence.peak.supplies["supply"].current_a
    assert peak > 3 * evidence.solved.supplies["supply"].current_a
    rated = revise(build.shelf.of(SupplyPart)[0], rated_a=share * peak / 0.8)
    judged = found(change_parts(build, rated), load)
    assert ("supply-share" in judged) == over
    if over:
        assert f"{peak:.2f} A of" in judged["supply-share"].message


def test_supplies_that_disagree_are_set_to_what_the_strip_wants() -> None:
    build = disagreeing()
    evidence = gather(build, FullWhite())
    (finding,) = [f for f in with_mends(evidence, check(evidence)) if f.code == "supplies-disagree"]
    assert [supply.set_v for supply in finding.fix.edit(build).supplies] == [5.0, 5.0]
    twelve = add_feed(
        add_supply(one_strip(60), part("mains-12v-5a"), "Twelve"), "twelve", "strip", 1.0,
        part("mm2-1_5"), 1.0, part("fuse-10a"),
    )  # fmt: skip
    assert found(twelve)["supplies-disagree"].tries == (), "a 12 V unit cannot be set to 5 V"


def test_light_that_no_feed_can_mend_says_so_and_offers_the_voltage() -> None:
    build = change_supply(one_strip(40, "rgb-24v-seg10"), "supply", set_v=24.8)
    build = revise(build, limits=revise(build.limits, tint_max=0.0005))
    finding = found(build)["tint-shift"]
    assert "No feed can mend this" in finding.message
    assert [fix.label for fix in finding.tries] == ["Set the supply to 24.00 V"]
    assert found(one_strip(500))["tint-shift"].tries[0].find_feeds_on == ("strip",)


def test_alike_findings_are_one_card_with_one_mend_for_all() -> None:
    build = one_strip()
    for number in range(4):
        build = add_strip(build, part("rgb-5v-60"), 20, f"Far {number}")
    evidence = gather(build, FullWhite())
    (card,) = [f for f in with_mends(evidence, grouped(check(evidence))) if f.code == "no-feed"]
    assert card.title == "4 strips or zones have no feed"
    assert len(card.members) == 4
    assert "no-feed" not in found(card.fix.edit(build))
    fewer = remove_piece(remove_piece(build, "far-0"), "far-1")
    assert len([f for f in grouped(check(gather(fewer, FullWhite()))) if f.code == "no-feed"]) == 2


@pytest.mark.parametrize(("pixels", "rate", "slower"), [(200, 400.0, "324"), (90_000, 1.0, "0.74")])
def test_a_frame_time_is_mended_also_where_it_is_over_a_second(pixels: int, rate: float, slower: str) -> None:
    """100 pixels of 24 bits take 3.08 ms, 45,000 of them 1.35 s."""
    build = revise(one_strip(60), tick_hz=rate)
    strips = tuple(revise(build.strips[0], id=f"s-{n}", pixel_count=pixels // 2) for n in range(2))
    build = revise(build, pieces=strips, feeds=(), data=revise(build.data, parallel=True))
    (finding,) = rules()["frame-time"](gather(build, FullWhite()))
    assert finding.tries[0].label == f"Run at {slower} frames a second"
    mended = finding.tries[0].edit(build)
    assert max(frame_times(mended).values()) <= 1 / mended.tick_hz
    assert list(rules()["frame-time"](gather(mended, FullWhite()))) == []


def test_feeds_are_found_for_a_strip_that_has_none() -> None:
    build = one_strip(90, feeds=())
    (plan,) = plan_feeds(build, "strip")
    assert "pixel-voltage" not in found(plan.apply(build))


def test_a_supply_in_a_box_is_allowed_less_and_the_fix_is_a_larger_one() -> None:
    build = change_supply(one_strip(100, supply="mains-5v-10a", feeds=(0, 1)), "supply", sealed=True)
    assert "supply-share" not in found(build)
    loaded = revise(build, pieces=(revise(build.strips[0], pixel_count=190),))
    finding = found(loaded)["supply-share"]
    assert "60%" in finding.message
    assert "20 A" in finding.tries[0].label


def two_voltages() -> Build:
    """A 5 V and a 12 V strip, both fed from one 12 V supply."""
    build = add_strip(one_strip(60, feeds=()), part("rgb-12v-60"), 60, "Long")
    build = change_supply_part(build, "supply", part("mains-12v-12a"))
    wire, fuse = part("mm2-1_5"), part("fuse-5a")
    for strip in build.strips:
        build = add_feed(build, "supply", strip.id, 0.0, wire, 1.0, fuse)
    return build


def test_a_strip_on_too_high_a_voltage_is_a_danger_and_goes_to_a_supply_of_its_own() -> None:
    build = two_voltages()
    finding = found(build)["supply-voltage"]
    assert finding.severity is Severity.DANGER
    assert finding.place.piece_id == build.strips[0].id
    assert "5 V strip on 12.00 V" in finding.title
    assert "6.50 V above" in finding.message
    mended = finding.tries[0].edit(build)
    assert [supply.set_v for supply in mended.supplies] == [12.0, 5.0]
    assert [feed.supply_id for feed in mended.feeds] == [mended.supplies[1].id, "supply"]
    assert "supply-voltage" not in found(mended)
    other = add_supply(build, part("mains-5v-10a"), "Five")
    assert found(other)["supply-voltage"].tries[0].label == "Feed it from Five"
    overloaded = change_strip(build, build.strips[1].id, pixel_count=200)
    assert [f.code for f in check(gather(overloaded, FullWhite()))][:2] == ["supply-voltage", "fuse-share"]


def test_a_strip_on_too_low_a_voltage_is_a_weak_spot_and_a_joint_carries_voltage_on() -> None:
    low = change_supply(one_strip(20), "supply", set_v=4.2)
    assert found(low)["supply-voltage"].severity is Severity.WEAK_SPOT
    assert "0.30 V below" in found(low)["supply-voltage"].message.replace("300.0 mV", "0.30 V")
    joined = add_strip(one_strip(20), part("rgb-12v-60"), 20, "Next")
    joined = add_joint(joined, "strip", joined.strips[1].id)
    finding = found(joined)["supply-voltage"]
    assert finding.place.piece_id == joined.strips[1].id
    assert finding.tries == ()


def test_feeds_come_from_a_supply_of_the_strip_s_voltage() -> None:
    build = add_strip(one_strip(20), part("rgb-24v-seg10"), 40, "Far")
    finding = found(build)["no-feed"]
    assert "24 V" in finding.tries[0].label
    mended = finding.tries[0].edit(build)
    assert mended.feeds[-1].supply_id == mended.supplies[-1].id
    assert mended.supplies[-1].set_v == 24
    assert not {"fuse-share", "fuse-over-wire"} & set(found(mended))
    long = add_strip(one_strip(20), part("rgb-5v-60"), 130, "Long")
    assert not {"fuse-share", "fuse-over-wire"} & set(found(found(long)["no-feed"].tries[0].edit(long)))
    with pytest.raises(LanternError, match="no supply of 24 V"):
        plan_feeds(build, build.strips[1].id)


def test_the_supply_offered_is_enough_for_all_dark_strips_of_its_voltage() -> None:
    build = Build()
    for name in ("One", "Two", "Three"):
        build = add_strip(build, part("rgb-5v-60"), 100, name)
    needed = full_current_a(build, build.strips)
    offered = suggested_supply(build)
    assert OPEN_SHARE * offered.rated_a >= needed
    assert found(build)["no-feed"].tries[0].label == f"Add a 5 V supply of {offered.rated_a:g} A"
    huge = change_strip(build, build.strips[0].id, pixel_count=9000)
    assert suggested_supply(huge).rated_a == max(s.rated_a for s in shelf().of(SupplyPart) if s.nominal_v == 5)
    assert suggested_supply(Build()).nominal_v == 5


def test_a_steady_show_does_not_flash() -> None:
    assert find_flashes(add_effect(one_strip(), look_of("steady"), 0, 9, 0, 9)) == ()


def test_an_approximate_load_stands_beside_its_in_phase_case() -> None:
    build = one_strip(500)
    evidence = gather(build, LevelLoad(level=0.8))
    white = gather(build, FullWhite())
    assert evidence.approximate
    together = evidence.peak.runs["strip"].pixel_v.min()
    assert together == pytest.approx(white.solved.runs["strip"].pixel_v.min())
    assert f"{together:.2f} V" in found(build, LevelLoad(level=0.8))["averaged"].message
    assert not white.approximate


def test_the_copper_of_the_footbridge_shows_how_its_amps_come_about() -> None:
    working = found(demo_build("footbridge"))["strip-copper"].working
    assert "p/2" in working.text()
    assert [step.result for step in working.steps] == ["5.49 A", "5.49 A"]


def test_a_supply_that_clears_a_short_is_said_to_stop_at_its_own_limit() -> None:
    build = one_strip(60)
    for limit, said in ((None, "26.00 A"), (21.0, "21.00 A")):
        parts = tuple(revise(part, limit_a=limit) for part in build.shelf.of(SupplyPart))
        limited = change_parts(build, *parts)
        (found,) = (f for f in check(gather(limited, FullWhite())) if f.code == "short-by-supply")
        assert f"it stops at {said}" in found.message
