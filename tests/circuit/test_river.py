"""The sources as a river: every ampere that a source gives leaves it in a stream, and nothing lies on anything else."""

from itertools import combinations

import pytest

from tests.circuit.test_agreement import BUILDS
from tests.support.builds import one_strip, part
from tests.support.driven import driven, flood, lamps
from tiny_lantern.circuit.chosen import chosen_for, with_fuse, with_wire
from tiny_lantern.circuit.drive import wired, wired_drive
from tiny_lantern.circuit.river import River, Stream, river_of, river_task
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.edits_sources import hang_on, source_named_by
from tiny_lantern.model.fed import FedBy
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.sheets.river import laid_out, river_svg
from tiny_lantern.ui.files import demo_build


def flowing(build: Build) -> River:
    """The river of a build."""
    return river_of(build, wired(build), wired_drive(build))


def between(river: River, start: str, end: str) -> Stream:
    """The stream from one thing to another, by their names."""
    names = {bank.key: bank.name for bank in river.banks}
    return next(each for each in river.streams if (names[each.start], names[each.end]) == (start, end))


@pytest.mark.parametrize("name", ["pier", "footbridge", "cloak"])
def test_what_leaves_a_supply_is_what_it_gives(name: str) -> None:
    build = demo_build(name)
    river = flowing(build)
    for supply in build.supplies:
        left_a = sum(each.current_a for each in river.streams if each.start == supply.id)
        given_a = next(bank.given_a for bank in river.banks if bank.key == supply.id)
        assert left_a == pytest.approx(given_a, rel=0.03), "by all lit with their wires, and as the gauge has it"
        assert left_a > 0.1
        bank = next(bank for bank in river.banks if bank.key == supply.id)
        assert bank.volts is not None
        assert 0.9 * supply.set_v < bank.volts <= supply.set_v, "between its own terminals"


@pytest.mark.parametrize("name", [*BUILDS])
def test_every_driver_of_any_way_is_reached_from_a_source(name: str) -> None:
    build = BUILDS[name]()
    river = flowing(build)
    ends = {stream.end for stream in river.streams}
    assert {driver.id for driver in build.drivers} <= ends
    assert not [each for each in river.streams if each.over]
    assert river.unfed == ()


@pytest.mark.parametrize("name", ["pier", "footbridge", "cloak", *BUILDS])
def test_nothing_lies_on_anything_else_and_all_of_it_is_found_again(name: str) -> None:
    laid = laid_out(flowing(BUILDS[name]() if name in BUILDS else demo_build(name)))
    spots = list(laid.spots.values())
    for one, other in combinations(spots, 2):
        apart = (
            one.x + one.wide <= other.x or other.x + other.wide <= one.x
            or one.y + one.high <= other.y or other.y + other.high <= one.y
        )  # fmt: skip
        assert apart
    assert all(spot.x >= 0 and spot.x + spot.wide <= laid.wide and spot.y + spot.high <= laid.high for spot in spots)
    for bank in laid.river.banks:
        spot = laid.spots[bank.key]
        found = laid.thing_at(spot.x + spot.wide / 2, spot.y + spot.high / 2)
        assert found is bank
    for number, course in enumerate(laid.courses):
        x, y = course.at(0.5)
        assert laid.thing_at(x, y) is not None or laid.stream_at(x, y) is not None
        assert course.wide <= course.bank + 1e-9 or laid.river.streams[number].over
    assert laid.thing_at(-5, -5) is None
    assert laid.stream_at(-5, -5) is None


def test_a_stream_is_wider_with_its_current_and_red_over_its_limit() -> None:
    build = add_supply(driven("switch", flood(), led_v=12.0), part("mains-12v-5a"), "Box")
    river = flowing(build)
    carried = between(river, "Box", "12 V lamp rail")
    assert carried.current_a == pytest.approx(0.833, rel=0.01)
    assert not carried.over
    assert carried.fuse_a == 2.0
    thin = with_wire(build, carried.rows, part("awg-28"))
    assert chosen_for(thin, carried.rows[0]) == ("awg-28", None)
    over = between(flowing(thin), "Box", "12 V lamp rail")
    assert over.over
    assert over.limit_a == 0.8
    assert "#ab2118" in river_svg(laid_out(flowing(thin)))
    assert "0.80" in river_svg(laid_out(flowing(thin))) or "800" in river_svg(laid_out(flowing(thin)))
    assert with_wire(thin, carried.rows, None).wires == ()


def test_a_feed_s_wire_and_fuse_are_those_of_the_feed() -> None:
    build = one_strip(30)
    build = add_supply(build, part("mains-12v-5a"))
    river = flowing(driven_beside(build))
    stream = between(river, "Supply", "Strip")
    assert stream.current_a == pytest.approx(wired(driven_beside(build)).lit.strips.supplies["supply"].current_a)  # type: ignore[union-attr]
    fused = with_fuse(driven_beside(build), stream.rows, part("fuse-5a"))
    assert fused.feeds[0].fuse_id == "fuse-5a"
    assert chosen_for(fused, stream.rows[0])[1] == "fuse-5a"
    wired_anew = with_wire(fused, stream.rows, part("awg-14"))
    assert {wired_anew.feeds[0].positive.wire_id, wired_anew.feeds[0].negative.wire_id} == {"awg-14"}
    assert with_wire(fused, stream.rows, None) == fused


def driven_beside(build: Build) -> Build:
    """A build with a few lamps on registers."""
    return drive_piece(add_piece(build, part("led-white-5mm"), lamps(3, "led-white-5mm")), "lamps", "register")


def test_what_is_fed_by_nothing_stands_apart_in_red() -> None:
    build = add_supply(driven("switch", flood(), led_v=12.0), part("mains-5v-4a"), "Box")
    river = flowing(build)
    assert [bank.kind for bank in river.banks if bank.kind == "missing"] == ["missing"]
    assert "nothing here gives this" in next(bank.about for bank in river.banks if bank.kind == "missing")
    fed = hang_on(build, "fed_by", build.drivers[0].id, FedBy(id="box"))
    assert source_named_by(fed, fed.drivers[0].id, "fed_by") == FedBy(id="box")
    assert not [bank for bank in flowing(fed).banks if bank.kind == "missing"]


def test_in_the_background_it_is_the_same() -> None:
    build = demo_build("pier")
    found = river_task(build, lambda share: None, lambda: False)
    assert found is not None
    assert [bank.key for bank in found.banks] == [bank.key for bank in flowing(build).banks]


def test_nothing_is_drawn_of_an_empty_build() -> None:
    assert "<text" not in river_svg(laid_out(flowing(Build())))


@pytest.mark.parametrize("name", [*BUILDS])
def test_what_drives_no_lamp_any_more_is_in_the_river_as_long_as_it_is_fed(name: str) -> None:
    build = BUILDS[name]()
    bare = revise(build, channels=())
    river = flowing(bare)
    keys = {bank.key for bank in river.banks}
    assert {key for stream in river.streams for key in (stream.start, stream.end)} <= keys
    assert laid_out(river)
