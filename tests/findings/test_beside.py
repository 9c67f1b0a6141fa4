"""The rules go through all things: what is wrong with one is told too when others before it are in order."""

import re
from functools import reduce

import pytest

from tests.findings.test_findings import PROVOKED
from tests.support.beside import beside
from tests.support.builds import one_strip, part
from tests.support.driven import driven, flood, hold, lamps, lit, matrix
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.findings.registry import rules
from tiny_lantern.model.build import Build, FullWhite, Load
from tiny_lantern.model.edits_pieces import add_strip

IN_ORDER = reduce(beside, (
    lit(one_strip(3)), driven("switch", lamps(2)), driven("relay", flood()), driven("hold", hold()),
    driven("scanned", matrix(), rows_by="register", row_ohm=500.0), driven("register", lamps(2)),
    driven("sink", lamps(2)), driven("demux", lamps(2)), driven("pwm", lamps(1)),
))  # fmt: skip
OF_ALL = {  # what is told of all things together
    "averaged", "frame-time", "frame-work", "no-source", "passage", "sheet-old", "short-by-supply", "strip-copper",
    "unsolvable", "wire-over", "reading-off", "bench-old", "bench-skipped", "two-changes", "listens-chained",
    "cable-slow",
}  # fmt: skip
ON_THE_FIRST = {  # supply of a voltage, or board
    "input-elsewhere", "battery-short", "data-high", "no-common-return", "rail-current", "rail-hot", "rail-window",
}  # fmt: skip


def apart(text: str) -> tuple[str, list[float]]:
    """A text without its figures, and these."""
    return re.sub(r"[0-9.]*[0-9]", "#", text), [float(each) for each in re.findall(r"[0-9.]*[0-9]", text)]


@pytest.mark.parametrize("code", sorted(rules().keys() - ON_THE_FIRST - OF_ALL))
def test_it_is_told_of_a_thing_that_comes_after_others_in_order(code: str) -> None:
    build, load = PROVOKED[code]()
    alone, among = (told(each, load, code) for each in (build, beside(IN_ORDER, build)))
    for thing, (text, offered) in alone.items():
        words, figures = apart(text)
        words_among, figures_among = apart(among[thing][0])
        assert words_among == words
        nearly = pytest.approx(figures, rel=0.02, abs=0.4)  # what hangs beside it takes a little on shared wires
        assert figures_among == nearly
        assert among[thing][1] >= offered


def test_each_strip_has_its_own_load_though_lamps_come_before_it() -> None:
    build = beside(driven("pwm", lamps(2)), add_strip(one_strip(20), part("rgb-5v-60"), 30, "Longer"))
    evidence = gather(build, FullWhite(), ())
    assert [len(evidence.duty_of(strip)) for strip in build.strips] == [20, 30]


def told(build: Build, load: Load | None, code: str) -> dict[object, tuple[str, set[str]]]:
    """What a rule says of each thing and what it offers, but for the letters of feeds, of which there are more."""
    flashes = find_flashes(build) if code == "flashing" else ()
    return {
        finding.place.thing: (
            unlettered(f"{finding.title}: {finding.message}"), {unlettered(fix.label) for fix in finding.tries}
        )
        for finding in rules()[code](gather(build, load or FullWhite(), flashes))
    }  # fmt: skip


def unlettered(text: str) -> str:
    """Words without the letters of feeds."""
    return re.sub(r"(Feed|feed|Fuse) [A-Z]\b", r"\1", text)
