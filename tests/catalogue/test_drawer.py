"""The person's own parts, their stock, and tables of them."""

import csv
import io
from pathlib import Path

import pytest

from tests.support.builds import one_strip, part
from tiny_lantern.catalogue import drawer as drawers
from tiny_lantern.catalogue import part_fields, part_table
from tiny_lantern.catalogue.drawer import Drawer, Stock, merged, offered, with_own, with_stock, without_own
from tiny_lantern.catalogue.part_fields import fields_of, flat, unflat, with_field
from tiny_lantern.catalogue.part_table import parts_csv, read_parts_csv
from tiny_lantern.catalogue.shelf import known_parts, shelf
from tiny_lantern.catalogue.shopping import shopping_list
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.parts.strip import StripPart

RED = shelf().find(LampPart, "led-red-5mm")


def test_a_field_is_called_what_a_person_says_without_its_unit_but_with_what_it_is_per() -> None:
    labels = {field.path: field.label for part in shelf() for field in fields_of(part)}
    assert labels["dies.1.forward_v"] == "dies 1 forward"
    assert labels["rating_a"] == "rating"
    assert labels["rail_pos_ohm_per_m"] == "rail pos"
    assert labels["cost_per_m"] == "cost per m"


@pytest.mark.parametrize("part", list(shelf()), ids=lambda part: part.id)
def test_every_part_that_ships_survives_being_laid_flat(part: Part) -> None:
    assert unflat(flat(part)) == part
    assert {field.path for field in fields_of(part)} >= flat(part).keys() - {"kind", "id"}


def test_a_table_of_every_part_is_read_back_as_it_was_with_its_stock() -> None:
    drawer = with_stock(with_stock(Drawer(), RED.id, 12, 0.05), "fuse-1a", 3, None)
    back = read_parts_csv(parts_csv(shelf(), drawer), Shelf())
    assert list(back.parts) == list(shelf())
    assert sorted(back.stock, key=lambda each: each.part_id) == sorted(drawer.stock, key=lambda each: each.part_id)


def test_a_table_of_known_parts_brings_stock_and_no_part_of_ones_own() -> None:
    back = read_parts_csv(parts_csv(shelf(), with_stock(Drawer(), RED.id, 7, None)), shelf())
    assert back.parts == ()
    assert back.stock_of(RED.id).owned == 7


def test_quantities_in_a_table_are_read_as_people_write_them() -> None:
    found = read_parts_csv("kind;id;name;rating_a;cold_ohm\nfuse;f1;Slow one;500mA;4R7\n", shelf()).parts[0]
    assert isinstance(found, FusePart)
    assert (found.rating_a, found.cold_ohm) == (0.5, 4.7)


@pytest.mark.parametrize(
    ("text", "where", "what"),
    [
        ("id,owned\nled-red-5mm,1\nfuse-1a,1,2\n", "line 3", "3 cells"),
        ("name,owned\nx,1\n", "table", "no column"),
        ("id,owned,owned\n", "line 1", "twice"),
        ("id,owned\nled-red-5mm,many\n", "line 2: owned", "many"),
        ("id,owned\nled-red-5mm,-2\n", "line 2: owned", "at least 0"),
        ("id,owned\nnobody,1\n", "line 2: id", "nobody"),
        ("id,owned\nled-red-5mm,1\nled-red-5mm,2\n", "line 3: id", "earlier line"),
        ("kind,id,name,rating_a,cold_ohm\nfuse,f,F,-1,0\n", "line 2: rating_a", "above 0"),
        ("kind,id,name,colour\nfuse,f,F,red\n", "line 2", ""),
        ("kind,id,name,rating_a\nrocket,f,F,1\n", "line 2: kind", "rocket"),
        ('id,owned\n"led,1\n', "line", "no table"),
    ],
)
def test_a_ragged_or_wrong_table_is_refused_with_its_line(text: str, where: str, what: str) -> None:
    with pytest.raises(LanternError) as caught:
        read_parts_csv(text, shelf())
    assert where in caught.value.where
    assert what in caught.value.what
    assert len(caught.value.sentence()) <= 200


def test_a_changed_field_is_checked_and_named() -> None:
    assert with_field(RED, "most_a", 0.03).most_a == 0.03  # type: ignore[attr-defined]
    assert with_field(RED, "leads.longest", None).leads.longest is None  # type: ignore[attr-defined]
    with pytest.raises(LanternError) as caught:
        with_field(RED, "dies.1.forward_v", -1.0)
    assert "forward_v" in caught.value.where


def test_a_drawer_comes_back_from_its_file(tmp_path: Path) -> None:
    drawer = with_stock(with_own(Drawer(), RED.model_copy(update={"id": "mine"})), "mine", 4, 0.5)
    drawers.save(drawer, tmp_path / "parts.json")
    assert drawers.load(tmp_path / "parts.json") == drawer
    assert drawers.load(tmp_path / "none.json") == Drawer()
    with pytest.raises(LanternError):
        drawers.load(tmp_path / "none.json", needed=True)


TWICE = '{"format": "tiny-lantern-parts", "stock": [{"part_id": "a"}, {"part_id": "a"}]}'
NO_PARTS = ["", "[]", '{"format": "other"}', '{"format": "tiny-lantern-parts", "parts": 3}', TWICE]


@pytest.mark.parametrize("text", NO_PARTS)
def test_a_file_that_holds_no_parts_is_refused_by_name(text: str) -> None:
    with pytest.raises(LanternError, match=r"parts\.json"):
        drawers.loads(text, "parts.json")


def test_own_parts_replace_and_leave_and_the_build_s_own_copy_wins() -> None:
    own = RED.model_copy(update={"name": "Deep red"})
    drawer = with_own(with_own(Drawer(), RED), own)
    assert drawer.parts == (own,)
    assert known_parts(one_strip(), drawer).find(LampPart, RED.id).name == "Deep red"
    with pytest.raises(LanternError):
        without_own(without_own(drawer, RED.id), RED.id)
    strip = one_strip().shelf.of(StripPart)[0]
    assert known_parts(one_strip(), with_own(Drawer(), strip.model_copy(update={"name": "x"}))).find(
        StripPart, strip.id
    ).name == strip.name  # fmt: skip


def test_what_is_owned_is_offered_first_with_its_number() -> None:
    words = offered(shelf().of(FusePart), with_stock(Drawer(), "fuse-5a", 6, None))
    assert words[0][0].endswith("6 owned")
    assert words[0][1].id == "fuse-5a"
    assert len(words) == len(shelf().of(FusePart))


def test_merging_takes_what_the_other_says() -> None:
    mine, other = with_stock(Drawer(), RED.id, 1, None), with_stock(with_own(Drawer(), RED), RED.id, 5, None)
    assert merged(mine, other).stock_of(RED.id).owned == 5
    assert merged(mine, Drawer()) == mine


def test_what_is_owned_need_not_be_bought_and_a_price_paid_goes_before_the_guide() -> None:
    build = one_strip()
    line = bill_of(build)[0]
    whole = {each.line.part_id: each for each in shopping_list(bill_of(build), Drawer())}
    assert whole[line.part_id].to_buy == line.amount
    assert whole[line.part_id].cost == pytest.approx(line.cost)
    some = with_stock(Drawer(), line.part_id, line.amount - 0.25, 100.0)
    assert shopping_list(bill_of(build), some)[0].to_buy == pytest.approx(0.25)
    assert shopping_list(bill_of(build), some)[0].cost == pytest.approx(25.0)
    assert shopping_list(bill_of(build), with_stock(Drawer(), line.part_id, 1000, None))[0].to_buy == 0


def test_names_go_out_so_that_no_table_runs_them_and_come_in_as_they_were() -> None:
    wild = [revise(part("fuse-2a"), id=f"own-{number}", name=name) for number, name in
            enumerate(("=1+2", "-cmd", "+x", "@sum", "'quoted", "'-both", "plain"))]  # fmt: skip
    drawer = merged(Drawer(), made(Drawer, parts=tuple(wild)))
    text = parts_csv(drawer.parts, drawer)
    cells = [row[2] for row in csv.reader(io.StringIO(text))][1:]
    assert not [cell for cell in cells if cell[:1] in "=+-@"]
    assert read_parts_csv(text, Shelf()).parts == drawer.parts


def test_reading_many_parts_makes_each_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is made of a table grows with its lines: a drawer made anew for each line would count twenty thousand."""
    many = tuple(revise(part("fuse-2a"), id=f"own-{number}", name=f"Fuse {number}") for number in range(200))
    text = parts_csv(many, made(Drawer, parts=many, stock=tuple(Stock(part_id=one.id, owned=2) for one in many)))
    counted: list[type] = []

    def counting(kind: type, /, **values: object) -> object:
        counted.append(kind)
        return made(kind, **values)

    for module in (part_fields, part_table):
        monkeypatch.setattr(module, "made", counting)
    drawer = read_parts_csv(text, Shelf())
    assert len(drawer.parts) == len(drawer.stock) == 200
    assert len(counted) == 401


def test_a_table_that_is_read_tells_how_far_it_is_and_can_be_stopped() -> None:
    many = tuple(revise(part("fuse-2a"), id=f"own-{number}", name=f"Fuse {number}") for number in range(200))
    text = parts_csv(many, Drawer())
    shares: list[float] = []
    read_parts_csv(text, Shelf(), "table", shares.append)
    assert shares == sorted(shares)
    assert 0.7 < shares[-1] <= 1
    with pytest.raises(CancelledError):
        read_parts_csv(text, Shelf(), "table", shares.append, lambda: True)
