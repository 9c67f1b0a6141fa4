"""The show written as arrays, as an animated picture, as the weave, and as steps."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.sheets import show_files
from tiny_lantern.sheets.moving import still
from tiny_lantern.sheets.show_files import WRITERS, save_apng, save_npz, save_weave_png, steps_svg, writer_for
from tiny_lantern.show.weave import render


def three_steps() -> Build:
    """Red on all for a second, then green on two for one, then dark for one."""
    build = change_build(one_strip(6), show_s=3.0, name="Pier & <quay>")
    build = add_effect(build, look_of("steady", colour="#ff0000"), 0, 5, 0.0, 1.0)
    return add_effect(build, look_of("steady", colour="#00ff00"), 2, 3, 1.0, 1.0)


def test_arrays_hold_every_frame_without_a_pickle(tmp_path: Path) -> None:
    build, told = three_steps(), []
    save_npz(build, tmp_path / "show.npz", told.append)
    with np.load(tmp_path / "show.npz", allow_pickle=False) as found:
        assert np.array_equal(found["frames"], render(build, np.arange(120)))
        assert found["time_s"][40] == pytest.approx(1.0)
        assert str(found["stamp"]) == stamp_of(build)
        assert found["piece"].tolist() == ["Strip"] * 6
    assert told


def test_an_animated_png_has_every_picture_with_all_its_colours(tmp_path: Path) -> None:
    build = three_steps()
    save_apng(build, tmp_path / "show.apng", 160, 90)
    with Image.open(tmp_path / "show.apng") as picture:
        assert picture.n_frames == 60
        assert picture.info["loop"] == 0
        for frame, time_s in ((0, 0.0), (25, 1.25), (59, 2.95)):
            picture.seek(frame)
            assert np.array_equal(np.asarray(picture.convert("RGB")), still(build, time_s, 160, 90))
        assert picture.info["duration"] == 50


def test_the_weave_is_a_column_a_light_and_a_row_a_frame(tmp_path: Path) -> None:
    save_weave_png(three_steps(), tmp_path / "show.weave.png")
    with Image.open(tmp_path / "show.weave.png") as picture:
        assert picture.size == (6, 120)
        assert picture.getpixel((0, 0)) == (255, 0, 0)
        assert picture.getpixel((2, 41)) == (0, 255, 0)
        assert picture.getpixel((0, 41)) == (0, 0, 0)


def boxes(text: str) -> list[tuple[float, float, str]]:
    """The boxes of a drawing: left, width, colour."""
    name = "{http://www.w3.org/2000/svg}"
    rects = ET.fromstring(text).iter(f"{name}rect")
    return [(float(r.get("x")), float(r.get("width")), r.get("fill")) for r in rects]


def test_steps_are_the_moments_at_which_the_light_changes(monkeypatch: pytest.MonkeyPatch) -> None:
    text = steps_svg(three_steps())
    assert "Pier &amp; &lt;quay&gt;" in text
    assert "3 changes" in text
    assert [time in text for time in ("0:00.0", "0:01.0", "0:02.0")] == [True] * 3
    found = boxes(text)
    assert [colour for *_, colour in found] == ["#ff0000", "#10151c", "#00ff00", "#10151c", "#10151c"]
    assert found[2][1] == pytest.approx(show_files.WIDE / 3)
    monkeypatch.setattr(show_files, "MOST_ROWS", 2)
    assert "2 of 3 changes" in steps_svg(three_steps())


@pytest.mark.parametrize("suffix", WRITERS)
def test_each_can_be_stopped_and_refuses_a_build_without_a_show(suffix: str, tmp_path: Path) -> None:
    path = tmp_path / f"show{suffix}"
    write: Callable = writer_for(path)
    with pytest.raises(CancelledError):
        write(three_steps(), path, lambda share: None, lambda: True)
    with pytest.raises(LanternError, match="no show"):
        write(one_strip(4), path, lambda share: None, lambda: False)
    assert list(tmp_path.iterdir()) == []
