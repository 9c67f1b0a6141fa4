"""Lamps side by side with a resistor each: the same light from one output, and none takes another's current."""

import pytest

from tests.support.driven import driven, lamps
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Severity
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.plans.told import told_of
from tiny_lantern.plans.ways import resistor_each
from tiny_lantern.sheets.connections import connections
from tiny_lantern.sheets.expected import meter_words


def codes(build: Build) -> dict[str, Severity]:
    """What is told of a build, and how bad it is."""
    return {each.code: each.severity for each in check(gather(build, FullWhite()))}


@pytest.mark.parametrize("kind", ["pin", "register", "switch", "demux"])
def test_one_resistor_for_all_is_mended_by_one_for_each(kind: str) -> None:
    shared = driven(kind, lamps(3, "led-blue-5mm", wired="parallel"))
    (found,) = (each for each in check(gather(shared, FullWhite())) if each.code == "shared-resistor")
    assert [mend.label for mend in found.tries] == ["A resistor each"]
    mended = resistor_each(shared, "lamps")
    assert "shared-resistor" not in codes(mended)
    assert not [code for code, severity in codes(mended).items()
                if severity <= Severity.WEAK_SPOT and code not in codes(shared)]  # fmt: skip


def test_each_has_its_share_of_what_is_wanted_and_a_resistor_that_can_be_bought() -> None:
    build = driven("switch", lamps(3, wired="branches"), led_v=5.0)
    (channel,) = build.channels
    result = solve_drive(build).by_driver[build.drivers[0].id]
    assert float(result.on_a[0]) <= channel.wanted_a
    assert float(result.on_a[0]) == pytest.approx(channel.wanted_a, rel=0.15)
    alone = driven("switch", lamps(1), led_v=5.0)
    assert channel.resistor_ohm > alone.channels[0].resistor_ohm, "each carries a third of what one lamp would"
    told = told_of(result, 0)
    assert told.fit is not None
    assert told.fit.current_a * 3 == pytest.approx(float(result.on_a[0]), rel=0.01)
    assert told.resistor_w * 3 == pytest.approx(float(result.resistor_w[0]))


def test_rows_bill_and_meter_have_a_resistor_for_each() -> None:
    build = driven("register", lamps(3, wired="branches"))
    rows = [row for row in connections(build) if row.through.endswith("Ω")]
    assert [row.end.on for row in rows] == ["Lamps 1", "Lamps 2", "Lamps 3"]
    (line,) = (line for line in whole_bill(build) if line.name.startswith("Resistor"))
    assert line.amount == 3
    lit_v = {meter_words(build, row).partition("When lit: ")[2].partition(" V")[0] for row in rows}
    assert len(lit_v) == 1
    (volts,) = lit_v
    amps = wired_drive(build).by_driver[build.drivers[0].id].on_a[0] / 3
    assert float(volts) == pytest.approx(float(amps) * build.channels[0].resistor_ohm, rel=0.02)
