"""The rules: each is provoked, says where, how much and why, and its fix mends it."""

from collections.abc import Callable

import pytest
from hypothesis import given, settings
from tiny_lantern.findings.feed_plan import plan_feeds

from tests.support.builds import builds, one_strip, part
from tiny_lantern.electrical.supplies import OPEN_SHARE, full_current_a, suggested_supply
from tiny_lantern.findings.check import check, stops_the_build
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.findings.finding import RULES, Finding, Severity
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite, LevelLoad, Load, Site
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_pieces import add_joint, add_strip, change_strip
from tiny_lantern.model.edits_power import (
    add_feed,
    add_supply,
    change_supply,
    change_supply_part,
    set_fuse,
    set_wire,
)  # fmt: skip
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import Blink, Steady
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.loads import duties_for
from tiny_lantern.ui.files import demo_build


def found(build: Build, load: Load | None = None) -> dict[str, Finding]:
    """The first finding of each code."""
    findings: dict[str, Finding] = {}
    for finding in check(gather(build, load or FullWhite(), find_flashes(build))):
        findings.setdefault(finding.code, finding)
    return findings


def fused(rating: float, build: Build | None = None) -> Build:
    """A strip whose feed has a fuse of a rating."""
    return set_fuse(build or one_strip(150), "feed", next(f for f in part_list("fuses") if f.rating_a == rating))


def part_list(kind: str) -> tuple:
    """All parts of a kind."""
    from tiny_lantern.catalogue.shelf import shelf

    return getattr(shelf(), kind)


def disagreeing() -> Build:
    build = add_supply(one_strip(60), part("supplies", "mains-5v-20a"), "Other")
    build = add_feed(build, "other", "strip", 1.0, part("wires", "mm2-1_5"), 1.0, part("fuses", "fuse-10a"))
    return change_supply(build, "other", set_v=5.3)


def thick_railed() -> Build:
    """Rails so thick that the strip is not starved and its copper carries more than it may."""
    return change_strip(one_strip(300, feeds=(0.5,)), "strip", rail_pos_ohm_per_m=0.01, rail_neg_ohm_per_m=0.01)


PROVOKED: dict[str, Callable[[], tuple[Build, Load | None]]] = {
    "no-feed": lambda: (add_strip(one_strip(), part("strips", "rgb-5v-60"), 9, "Far"), None),
    "pixel-voltage": lambda: (one_strip(400), None),
    "light-loss": lambda: (one_strip(500), None),
    "tint-shift": lambda: (one_strip(500), None),
    "averaged": lambda: (one_strip(500), LevelLoad(level=0.8)),
    "no-fuse": lambda: (set_fuse(one_strip(), "feed", None), None),
    "fuse-share": lambda: (fused(3), None),
    "fuse-over-wire": lambda: (fused(15, set_wire(one_strip(), "feed", part("wires", "awg-18"))), None),
    "wire-current": lambda: (set_wire(one_strip(150), "feed", part("wires", "awg-24")), None),
    "far-short": lambda: (fused(10, one_strip(200)), None),
    "strip-copper": lambda: (thick_railed(), None),
    "supply-share": lambda: (one_strip(120, supply="mains-5v-4a"), None),
    "supply-voltage": lambda: (change_supply(one_strip(), "supply", set_v=6.0), None),
    "supplies-disagree": lambda: (disagreeing(), None),
    "frame-time": lambda: (change_build(one_strip(120), tick_hz=400), None),
    "flashing": lambda: (add_effect(one_strip(), Blink(colour="#ffffff", period_s=0.2), 0, 9, 3, 5), None),
    "caution-mains": lambda: (one_strip(), None),
    "caution-outdoor": lambda: (change_build(one_strip(), site=Site(outdoor=True)), None),
    "caution-battery": lambda: (one_strip(10, supply="battery-5v-3a"), None),
}  # fmt: skip


class TestEveryRule:
    """What every rule must keep to."""

    @pytest.fixture(params=sorted(RULES))
    def code(self, request: pytest.FixtureRequest) -> str:
        return request.param

    def test_it_is_provoked_and_says_what_and_how_much(self, code: str) -> None:
        build, load = PROVOKED[code]()
        finding = found(build, load)[code]
        assert finding.title
        assert len(finding.message) > 20
        assert not finding.message[0].islower(), "title and message are read one after the other"
        assert not finding.title.endswith(".")
        if finding.severity < Severity.HINT and code != "no-feed":
            assert any(letter.isdigit() for letter in finding.title + finding.message)
            assert finding.working is not None
            assert finding.working.text()

    def test_it_has_help_and_is_silent_on_an_empty_build(self, code: str) -> None:
        assert RULES[code].__doc__
        assert code not in found(Build())

    def test_its_fix_is_an_edit_that_takes_it_away(self, code: str) -> None:
        build, load = PROVOKED[code]()
        finding = found(build, load)[code]
        if finding.fix is None or finding.fix.edit is None:
            pytest.skip("mended by a search or by hand")
        assert code not in found(finding.fix.edit(build), load)


@settings(max_examples=15)
@given(builds())
def test_any_build_can_be_judged_the_worst_first(build: Build) -> None:
    findings = check(gather(build, FullWhite()))
    assert [f.severity for f in findings] == sorted(f.severity for f in findings)
    for finding in findings:
        if finding.fix and finding.fix.edit:
            finding.fix.edit(build)


def test_a_sound_build_has_only_cautions() -> None:
    codes = found(fused(3, one_strip(40)))
    assert set(codes) == {"caution-mains"}
    assert not stops_the_build(list(codes.values()))
    assert stops_the_build(check(gather(one_strip(400), FullWhite())))


def test_the_amount_in_a_finding_is_the_solved_one() -> None:
    build = one_strip(400)
    evidence = gather(build, FullWhite())
    finding = found(build)["pixel-voltage"]
    lowest = evidence.solved.runs["strip"].pixel_v.min()
    assert f"{lowest:.2f} V" in finding.title
    assert finding.place.pixel == int(evidence.solved.runs["strip"].pixel_v.argmin())
    assert finding.working is not None


def test_find_feeds_mends_the_footbridge() -> None:
    build = demo_build("footbridge")
    before = found(build)
    assert {"pixel-voltage", "light-loss", "tint-shift", "strip-copper", "far-short"} <= set(before)
    for strip in build.strips:
        plan = plan_feeds(build, strip.id, duties_for(build, FullWhite()))
        assert plan.verified
        assert plan.result.proven
        build = plan.apply(build)
    after = found(build)
    assert not {"pixel-voltage", "light-loss", "tint-shift", "strip-copper", "fuse-share", "fuse-over-wire"} & set(
        after
    )


def test_guarded_feeds_blow_their_fuses() -> None:
    build = change_strip(demo_build("footbridge"), "west-rail", pixel_count=120)
    plan = plan_feeds(build, "west-rail", duties_for(build, FullWhite()), guard_shorts=True)
    mended = plan.apply(build)
    own = {feed.id for feed in plan.feeds}
    shorts = [f for f in check(gather(mended, FullWhite())) if f.code == "far-short" and f.place.feed_id in own]
    assert shorts == []
    assert "feed" in plan.summary


def test_feeds_are_found_for_a_strip_that_has_none() -> None:
    build = one_strip(90, feeds=())
    plan = plan_feeds(build, "strip", duties_for(build, FullWhite()))
    assert "pixel-voltage" not in found(plan.apply(build))
    with pytest.raises(LanternError, match="no supply"):
        plan_feeds(add_strip(Build(), part("strips", "rgb-5v-60"), 9), "strip-1", duties_for(build, FullWhite()))


def test_a_supply_in_a_box_is_allowed_less_and_the_fix_is_a_larger_one() -> None:
    build = change_supply(one_strip(100, supply="mains-5v-10a", feeds=(0, 1)), "supply", sealed=True)
    assert "supply-share" not in found(build)
    loaded = revise(build, strips=(revise(build.strips[0], pixel_count=190),))
    finding = found(loaded)["supply-share"]
    assert "60%" in finding.message
    assert "20 A" in finding.fix.label


def two_voltages() -> Build:
    """A 5 V and a 12 V strip, both fed from one 12 V supply."""
    build = add_strip(one_strip(60, feeds=()), part("strips", "rgb-12v-60"), 60, "Long")
    build = change_supply_part(build, "supply", part("supplies", "mains-12v-12a"))
    wire, fuse = part("wires", "mm2-1_5"), part("fuses", "fuse-5a")
    for strip in build.strips:
        build = add_feed(build, "supply", strip.id, 0.0, wire, 1.0, fuse)
    return build


def test_a_strip_on_too_high_a_voltage_is_a_danger_and_goes_to_a_supply_of_its_own() -> None:
    build = two_voltages()
    finding = found(build)["supply-voltage"]
    assert finding.severity is Severity.DANGER
    assert finding.place.strip_id == build.strips[0].id
    assert "5 V strip on 12.00 V" in finding.title
    assert "6.50 V above" in finding.message
    assert finding.fix is not None
    mended = finding.fix.edit(build)
    assert [supply.set_v for supply in mended.supplies] == [12.0, 5.0]
    assert [feed.supply_id for feed in mended.feeds] == [mended.supplies[1].id, "supply"]
    assert "supply-voltage" not in found(mended)
    other = add_supply(build, part("supplies", "mains-5v-10a"), "Five")
    assert found(other)["supply-voltage"].fix.label == "Feed it from Five"
    overloaded = change_strip(build, build.strips[1].id, pixel_count=200)
    assert [f.code for f in check(gather(overloaded, FullWhite()))][:2] == ["supply-voltage", "fuse-share"]


def test_a_strip_on_too_low_a_voltage_is_a_weak_spot_and_a_joint_carries_voltage_on() -> None:
    low = change_supply(one_strip(20), "supply", set_v=4.2)
    assert found(low)["supply-voltage"].severity is Severity.WEAK_SPOT
    assert "0.30 V below" in found(low)["supply-voltage"].message.replace("300.0 mV", "0.30 V")
    joined = add_strip(one_strip(20), part("strips", "rgb-12v-60"), 20, "Next")
    joined = add_joint(joined, "strip", joined.strips[1].id)
    finding = found(joined)["supply-voltage"]
    assert finding.place.strip_id == joined.strips[1].id
    assert finding.fix is None


def test_feeds_come_from_a_supply_of_the_strip_s_voltage() -> None:
    build = add_strip(one_strip(20), part("strips", "rgb-24v-seg10"), 40, "Far")
    finding = found(build)["no-feed"]
    assert "24 V" in finding.fix.label
    mended = finding.fix.edit(build)
    assert mended.feeds[-1].supply_id == mended.supplies[-1].id
    assert mended.supplies[-1].set_v == 24
    assert not {"fuse-share", "fuse-over-wire"} & set(found(mended))
    long = add_strip(one_strip(20), part("strips", "rgb-5v-60"), 130, "Long")
    assert not {"fuse-share", "fuse-over-wire"} & set(found(found(long)["no-feed"].fix.edit(long)))
    with pytest.raises(LanternError, match="no supply of 24 V"):
        plan_feeds(build, build.strips[1].id, duties_for(build, FullWhite()))


def test_the_supply_offered_is_enough_for_all_dark_strips_of_its_voltage() -> None:
    build = Build()
    for name in ("One", "Two", "Three"):
        build = add_strip(build, part("strips", "rgb-5v-60"), 100, name)
    needed = full_current_a(build, build.strips)
    offered = suggested_supply(build)
    assert OPEN_SHARE * offered.rated_a >= needed
    assert found(build)["no-feed"].fix.label == f"Add a 5 V supply of {offered.rated_a:g} A"
    huge = change_strip(build, build.strips[0].id, pixel_count=9000)
    assert suggested_supply(huge).rated_a == max(s.rated_a for s in part_list("supplies") if s.nominal_v == 5)
    assert suggested_supply(Build()).nominal_v == 5


def test_a_steady_show_does_not_flash() -> None:
    assert find_flashes(add_effect(one_strip(), Steady(), 0, 9, 0, 9)) == ()


def test_an_approximate_load_stands_beside_its_in_phase_case() -> None:
    build = one_strip(500)
    evidence = gather(build, LevelLoad(level=0.8))
    white = gather(build, FullWhite())
    assert evidence.peak is not None
    together = evidence.peak.runs["strip"].pixel_v.min()
    assert together == pytest.approx(white.solved.runs["strip"].pixel_v.min())
    assert f"{together:.2f} V" in found(build, LevelLoad(level=0.8))["averaged"].message
    assert white.peak is None


def test_the_copper_of_the_footbridge_shows_how_its_amps_come_about() -> None:
    working = found(demo_build("footbridge"))["strip-copper"].working
    assert "p/2" in working.text()
    assert [step.result for step in working.steps] == ["5.49 A", "5.49 A"]
