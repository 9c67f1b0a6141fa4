"""Sheets, lists, pictures and tables."""

import csv
import io
import re
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.support.builds import bridge, one_strip
from tests.support.driven import driven, lamps
from tiny_lantern.findings.evidence import Evidence, gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_power import set_length
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.sheets.moving import estimate, frame_lines, save_frames_csv, save_gif, save_still, still
from tiny_lantern.sheets.schedule import feed_rows, feeds_csv
from tiny_lantern.sheets.sheet import sheet_html, sheet_picture
from tiny_lantern.ui.files import demo_build


def evidence(build: Build | None = None) -> Evidence:
    """The footbridge, or another build, judged at full white."""
    return gather(build or demo_build("footbridge"), FullWhite())


def test_the_sheet_has_everything_a_bench_needs() -> None:
    html = sheet_html(evidence())
    for text in ("Heron Footbridge", "West rail", "Bank box", "1.5 mm²", "10 A", "a short near it", "Findings",
                 "licensed", "data:image/svg+xml;base64,", "Together"):  # fmt: skip
        assert text in html
    assert "{{" not in html


def test_the_sheet_of_an_empty_build_says_so_and_names_are_escaped() -> None:
    html = sheet_html(evidence(Build(name="<script>alert(1)</script>")))
    assert "No supplies yet." in html
    assert "<h2>Strips" not in html
    assert "<script>" not in html


def test_a_sheet_without_strips_has_no_table_of_them_and_its_lamps_have_their_own_colours() -> None:
    build = driven("pin", lamps(3))
    html = sheet_html(evidence(build))
    assert "<h2>Strips" not in html
    assert "<h2>Feeds" not in html
    assert "of strip" not in html
    spots = ET.fromstring(sheet_picture(evidence(build))).findall("{http://www.w3.org/2000/svg}circle")
    assert len(spots) == 3
    for spot in spots:
        red, green, blue = bytes.fromhex(spot.attrib["fill"].removeprefix("#"))
        assert red > 200
        assert max(green, blue) < 100


def test_estimates_are_within_twice_what_it_takes(tmp_path: Path) -> None:
    """Of sizes, which no machine changes; of the time, that what is made ready once is no part of each frame."""
    build = revise(demo_build("cloak"), show_s=6.0, rules=())
    build = revise(build, effects=tuple(each for each in build.effects if each.start_s + each.length_s <= 6.0)[:3])
    for suffix, save in ((".gif", save_gif), (".csv", save_frames_csv)):
        save(build, tmp_path / f"x{suffix}")
        size = (tmp_path / f"x{suffix}").stat().st_size
        assert 0.5 * size < estimate(build, suffix).size_b < 2 * size


def test_the_picture_is_wellformed_and_shows_each_light() -> None:
    root = ET.fromstring(sheet_picture(evidence()))
    circles = root.findall("{http://www.w3.org/2000/svg}circle")
    assert len(circles) == 432 + 2
    assert circles[0].get("fill") == "#ffffff"
    texts = {element.text for element in root.iter("{http://www.w3.org/2000/svg}text")}
    assert {"West rail", "East rail", "Bank box", "A", "B"} <= texts
    assert any(re.fullmatch(r"\d+ m", text or "") for text in texts)


def test_the_feed_list_reads_back_with_the_solved_currents() -> None:
    judged = evidence()
    rows = list(csv.DictReader(io.StringIO(feeds_csv(judged))))
    assert [row["feed"] for row in rows] == ["A", "B"]
    for row, feed in zip(rows, judged.build.feeds, strict=True):
        assert float(row["out_a"]) == pytest.approx(judged.white.feeds[feed.id].pos_a, abs=1e-3)
        assert float(row["length_out_m"]) == float(row["length_back_m"]) == 3
        assert row["wire_out"] == "1.5 mm²"
    assert feed_rows(judged)[0].fuse_a == 10


def test_parts_are_counted_with_wire_to_spare() -> None:
    rows = {row.name: row for row in bill_of(demo_build("footbridge"))}
    assert rows["5 V RGB pixel, 30/m"].amount == pytest.approx(14.4)
    assert rows["Wire, 1.5 mm²"].amount == pytest.approx(4 * 3 * 1.1)
    assert rows["Blade fuse, 10 A"].amount == 2
    assert rows["Screw terminal"].amount == 4


def short_show() -> Build:
    """Half a second of white on five of ten lights, and a chase on the others."""
    build = add_effect(change_build(one_strip(10), show_s=0.5), look_of("steady", colour="#ffffff"), 0, 4, 0, 0.5)
    return add_effect(build, look_of("chase", spacing_px=4, length_px=1, tail_px=0), 5, 8, 0, 0.5)


def test_a_gif_has_the_frames_of_the_show(tmp_path: Path) -> None:
    told: list[float] = []
    save_gif(short_show(), tmp_path / "show.gif", 160, 90, told.append)
    with Image.open(tmp_path / "show.gif") as picture:
        assert picture.size == (160, 90)
        assert picture.info["duration"] == 50
        assert np.array(picture.convert("RGB")).max() > 200
    assert told
    with pytest.raises(CancelledError):
        save_gif(short_show(), tmp_path / "none.gif", cancelled=lambda: True)
    assert not (tmp_path / "none.gif").exists()


def test_a_still_is_lit_where_the_show_is(tmp_path: Path) -> None:
    save_still(short_show(), 0.1, tmp_path / "still.png", 320, 180)
    with Image.open(tmp_path / "still.png") as picture:
        assert picture.size == (320, 180)
    assert still(short_show(), 0.1).max() == 255
    with pytest.raises(LanternError, match="nothing to show"):
        still(Build(), 0)


def test_frames_are_a_table_of_ticks() -> None:
    rows = list(csv.reader(io.StringIO("".join(frame_lines(short_show())))))
    assert rows[0][:3] == ["tick", "time_s", "slot_0"]
    assert len(rows) == 1 + 20
    assert rows[1][2] == "ffffff"
    assert rows[1][-1] == "000000"
    assert [float(row[1]) for row in rows[1:]] == pytest.approx([tick / 40 for tick in range(20)], abs=1e-4)


def test_the_bill_counts_what_wire_costs() -> None:
    build = demo_build("footbridge")
    wire = build.shelf.find(WirePart, "mm2-1_5")
    line = next(line for line in bill_of(build) if line.name == "Wire, 1.5 mm²")
    assert wire.cost_per_m > 0
    assert line.cost == pytest.approx(13.2 * wire.cost_per_m)
    longer = set_length(build, build.feeds[0].id, 13.0)
    assert next(row for row in bill_of(longer) if row.name == line.name).cost > line.cost


def test_the_sheet_tells_what_feeds_what_where_boards_and_lamps_hang_on_sources() -> None:
    html = sheet_html(gather(demo_build("pier"), FullWhite(), ()))
    table = html.partition("What feeds what")[2].partition("</table>")[0]
    rows = [re.findall(r"<td[^>]*>([^<]*)</td>", row) for row in table.split("<tr>")[2:]]
    told = {row[0]: row[1:] for row in rows}
    assert told["· Carousel rail"][:2] == ["4.20 V", "0.0 mA"]
    assert told["· · Carousel"][2] == told["· Carousel rail"][2], "what hangs on it is what it gives"
    assert told["Deck box"][3] == "3.20 A"
    assert "What feeds what" not in sheet_html(gather(bridge(), FullWhite(), ())), (
        "a build of strips alone has its supplies already"
    )
