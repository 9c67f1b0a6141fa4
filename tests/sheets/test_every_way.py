"""Whatever drives the lamps: its sheet and wiring print, it is on the bill, and every other part is tried in it."""

import pytest

from tests.support.driven import driven, flood, hold, lamps, matrix
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import Evidence, gather
from tiny_lantern.findings.what_if import outcomes
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.pin_needs import behind
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.plans.ways import WAYS, drive_piece
from tiny_lantern.sheets.sheet import sheet_html
from tiny_lantern.sheets.wiring_sheet import wiring_csv, wiring_html

PIECES = {
    "scanned": matrix(), "hold": hold(), "relay": flood(),
    "pair": lamps(2, "lamp-two-colour-2"),
}  # fmt: skip


def judged(build: Build) -> Evidence:
    return gather(build, FullWhite(), ())


def printed(build: Build) -> str:
    """Everything that is printed of a build, once it was judged."""
    evidence = judged(build)
    check(evidence)
    return sheet_html(evidence) + wiring_html(build) + wiring_csv(build)


def behind_a_multiplexer() -> Build:
    """Two chains of registers on one board, the second behind the first one's multiplexer."""
    build = driven("register", lamps(8))
    build = drive_piece(_another(build), "lamps-2", "register")
    owner, other = build.drivers
    build = change_way(build, other.id, bus_of=owner.id)
    return change_way(build, other.id, select_by="multiplexer")


def _another(build: Build) -> Build:
    piece = build.pieces[0].model_copy(update={"id": "lamps-2", "name": "Lamps 2"})
    return change_build(build, pieces=(*build.pieces, piece))


@pytest.mark.parametrize(
    ("build", "name"),
    [
        (driven("pwm", knob=True), "Knob, 10 kΩ, linear"),
        (driven("scanned", matrix(), rows_by="counter"), "Row counter"),
        (behind_a_multiplexer(), "Multiplexer"),
    ],
    ids=["knob", "counter", "multiplexer"],
)
def test_what_has_no_part_of_its_own_is_printed_and_bought_once(build: Build, name: str) -> None:
    assert name in printed(build)
    (line,) = (line for line in bill_of(build) if line.name == name)
    assert line.amount == 1
    assert line.part_id


def test_a_multiplexer_is_behind_the_chain_that_owns_the_lines() -> None:
    build = behind_a_multiplexer()
    assert [len(behind(build, driver)) for driver in build.drivers] == [1, 0]


@pytest.mark.parametrize("kind", [way.kind for way in WAYS])
def test_every_way_is_printed_and_every_other_part_is_tried_in_it(kind: str) -> None:
    build = driven(kind, PIECES.get(kind))
    assert build.drivers[0].name in printed(build)
    tried = list(outcomes(judged(build), build.drivers[0].id, list(shelf()), lambda: False))
    assert tried[0].change.words == "as it is"
    assert all(each.refusal or each.hottest_c >= build.boards[0].ambient_c - 1e-9 for each in tried)


@pytest.mark.parametrize("transistor", [part.id for part in shelf().of(TransistorPart)])
def test_self_changing_lamps_are_judged_behind_every_transistor_that_is_offered(transistor: str) -> None:
    build = driven("hold", hold(), transistor_id=transistor)
    assert "Festoon" in printed(build)
    assert list(outcomes(judged(build), build.drivers[0].id, list(shelf()), lambda: False))
