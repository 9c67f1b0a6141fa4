"""Connectors between halves: each wire that crosses has a contact, and what crosses is what is wired."""

import pytest

from tests.support.builds import part
from tests.support.driven import driven, lamps
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.drive import whole_circuit, wired
from tiny_lantern.circuit.plugs import contacts_of
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_pieces import add_piece, remove_piece
from tiny_lantern.model.edits_plugs import add_plug, change_plug, put_behind
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.ties import tie_piece
from tiny_lantern.sheets.wiring_sheet import wiring_csv, wiring_html


def halved(count: int = 5, part_id: str = "plug-12way", **more: object) -> Build:
    """Lamps on a register that lie beyond a connector."""
    return add_plug(driven("register", lamps(count, **more)), part(part_id), "lamps")


def crossing(build: Build) -> list[tuple[int, str, str]]:
    """The contacts of the first connector: number, from, to."""
    rows = whole_circuit(build).conductors
    return [(each.number, each.row.start.on, each.row.end.on) for each in contacts_of(rows, build.plugs[0])]


def test_every_wire_that_crosses_has_a_contact_of_its_own_in_the_order_of_the_hands() -> None:
    found = crossing(halved(3))
    assert [number for number, _, _ in found] == [1, 2, 3, 4, 5, 6]
    assert [ends for _, *ends in found[:3]] == [["0 V rail", f"Lamps {n}"] for n in (1, 2, 3)], "commons first"
    assert {start for _, start, _ in found[3:]} == {"Lamps chip"}


def test_commons_that_are_tied_beyond_it_cross_once() -> None:
    assert len(crossing(halved(5))) == 10
    assert len(crossing(tie_piece(halved(5), "lamps", "along"))) == 6
    assert len(crossing(tie_piece(halved(5), "lamps", "board"))) == 6


def test_a_contact_is_in_the_lamp_s_current() -> None:
    bad = revise(part("plug-12way"), contact_ohm=20.0)
    whole, worn = driven("register", lamps(3)), change_parts(halved(3), bad)
    before, after = (wired(build).lit.channel_a[("lamps-register", 0)] for build in (whole, worn))
    assert after < 0.95 * before


@pytest.mark.parametrize(("count", "told"), [(6, None), (7, "2 wires have none")])
def test_a_connector_with_too_few_contacts_is_told_with_one_that_has_enough(count: int, told: str | None) -> None:
    build = halved(count)
    found = [each for each in check(gather(build, FullWhite())) if each.code == "plug-full"]
    assert bool(found) is (told is not None)
    if told is not None:
        assert told in found[0].message
        (mend,) = found[0].tries
        assert mend.edit is not None
        assert mend.edit(build).plugs[0].part_id == "plug-24way"
        assert not [each for each in check(gather(mend.edit(build), FullWhite())) if each.code == "plug-full"]


@pytest.mark.parametrize(("most_a", "told"), [(0.0427, False), (0.0424, True)])
def test_a_contact_that_carries_more_than_it_may_is_told(most_a: float, told: bool) -> None:
    build = change_parts(tie_piece(halved(5), "lamps", "along"), revise(part("plug-12way"), limit_a=most_a))
    found = [each for each in check(gather(build, FullWhite())) if each.code == "plug-current"]
    assert bool(found) is told, "five lamps of 8.52 mA come back by one wire"
    if told:
        assert "contact 1" in found[0].title
        assert "0.1 mA too much" in found[0].message


def test_its_table_is_on_the_sheet_and_its_part_on_the_bill() -> None:
    build = halved(3)
    page, rows = wiring_html(build), wiring_csv(build)
    assert "Connector: Plug and socket, 12 contacts, 6 in use" in page
    assert rows.count("Connector contact ") == 6
    assert [line.amount for line in whole_bill(build) if line.part_id == "plug-12way"] == [1]
    assert not [line for line in whole_bill(build) if "8 m" in line.name], "a contact is no resistor"


def test_pieces_are_put_behind_a_connector_and_taken_back_and_the_file_keeps_it() -> None:
    build = add_piece(halved(2), part("led-red-5mm"), revise(lamps(2), name="More"))
    more = build.pieces[-1].id
    both = put_behind(build, more, build.plugs[0].id)
    assert both.plugs[0].piece_ids == ("lamps", more)
    assert loads(dumps(both)) == both
    assert put_behind(both, more, None) == build
    assert put_behind(put_behind(both, more, None), "lamps", None).plugs == ()
    assert remove_piece(both, "lamps").plugs[0].piece_ids == (more,)
    assert remove_piece(build, "lamps").plugs == ()
    assert add_plug(both, part("plug-6way"), more).plugs[1].name == "Connector 2"
    assert change_plug(both, both.plugs[0].id, part("plug-6way")).plugs[0].part_id == "plug-6way"
    assert stamp_of(build) != stamp_of(revise(build, plugs=()))
    with pytest.raises(LanternError):
        put_behind(build, more, "nowhere")


def test_a_file_with_a_piece_beyond_two_connectors_is_refused_with_its_place() -> None:
    build = halved(2)
    twice = (*build.plugs, revise(build.plugs[0], id="other", name="Other"))
    with pytest.raises(LanternError, match="lies beyond Connector already") as refused:
        revise(build, plugs=twice)
    assert refused.value.where == "plugs[1].piece_ids[0]"
    with pytest.raises(LanternError) as unknown:
        revise(build, plugs=(revise(build.plugs[0], piece_ids=("nobody",)),))
    assert unknown.value.where == "plugs[0].piece_ids[0]"
