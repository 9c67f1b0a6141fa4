"""A reference photo: read, made small, scaled by two points."""

import base64
import io
import os
import random
from pathlib import Path

import pytest
from PIL import Image

from tests.support.pieces import pier
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_photo import MOST_READ, change_photo, lay_photo, photo_from, scale_photo
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.photo import MOST_KEPT
from tiny_lantern.model.store import dumps, loads


def picture(path: Path, size: tuple[int, int] = (400, 200), **how: object) -> Path:
    """A picture with a red left half."""
    image = Image.new("RGB", size, "#203040")
    image.paste("#d01010", (0, 0, size[0] // 2, size[1]))
    image.save(path, **how)
    return path


def laid(tmp_path: Path) -> Build:
    """A pier with a photo 2 m wide whose lower left corner is at (1, 3)."""
    return lay_photo(pier(), photo_from(picture(tmp_path / "a.png"), 1.0, 3.0, 2.0))


def test_a_photo_is_kept_with_the_build_in_its_own_proportions(tmp_path: Path) -> None:
    build = laid(tmp_path)
    assert (build.photo.height_m, build.photo.pixels_wide) == (1.0, 400)
    assert loads(dumps(build)) == build
    shown = Image.open(io.BytesIO(base64.b64decode(build.photo.data)))
    assert shown.getpixel((50, 100))[0] > 180
    assert shown.getpixel((350, 100))[0] < 60


def test_a_photo_taken_upright_is_laid_upright(tmp_path: Path) -> None:
    turned = Image.Exif()
    turned[0x0112] = 6
    photo = photo_from(picture(tmp_path / "a.jpg", exif=turned))
    assert (photo.pixels_wide, photo.pixels_high) == (200, 400)


def test_even_a_large_and_restless_photo_is_kept_in_two_megabytes(tmp_path: Path) -> None:
    noise = random.Random(1).randbytes(3000 * 2500 * 3)
    Image.frombytes("RGB", (3000, 2500), noise).save(tmp_path / "noise.png", compress_level=0)
    photo = photo_from(tmp_path / "noise.png")
    assert 100_000 < len(photo.data) <= MOST_KEPT
    assert photo.pixels_wide / photo.pixels_high == pytest.approx(1.2, abs=0.01)


def test_two_points_are_brought_to_their_real_distance_and_the_first_stays(tmp_path: Path) -> None:
    photo = scale_photo(laid(tmp_path), (2.0, 3.5), (2.5, 3.5), 1.0).photo
    assert (photo.width_m, photo.x_m, photo.y_m) == (4.0, 0.0, 2.5)
    with pytest.raises(LanternError, match="lie on each other"):
        scale_photo(laid(tmp_path), (2.0, 3.5), (2.0, 3.5), 1.0)
    with pytest.raises(LanternError, match="no photo"):
        scale_photo(pier(), (0, 0), (1, 0), 1.0)


def test_a_photo_is_moved_and_taken_away(tmp_path: Path) -> None:
    build = change_photo(laid(tmp_path), x_m=7.0)
    assert (build.photo.x_m, build.photo.y_m) == (7.0, 3.0)
    assert lay_photo(build, None) == pier()
    with pytest.raises(LanternError):
        change_photo(build, strength=2.0)


def test_what_is_no_photo_is_refused_in_one_line(tmp_path: Path) -> None:
    (tmp_path / "text.png").write_text("no picture")
    whole = picture(tmp_path / "whole.jpg").read_bytes()
    (tmp_path / "half.jpg").write_bytes(whole[: len(whole) // 2])
    (tmp_path / "empty.png").touch()
    with (tmp_path / "huge.jpg").open("wb") as huge:
        huge.truncate(MOST_READ + 1)
    os.mkfifo(tmp_path / "pipe.jpg")
    for name in ("text.png", "half.jpg", "empty.png", "huge.jpg", "pipe.jpg", "missing.png"):
        with pytest.raises(LanternError) as refused:
            photo_from(tmp_path / name)
        assert len(refused.value.sentence()) < 250, name
        assert "\n" not in refused.value.sentence()


def test_a_picture_that_would_fill_the_memory_is_refused(tmp_path: Path) -> None:
    Image.new("1", (40_000, 40_000)).save(tmp_path / "bomb.png")
    with pytest.raises(LanternError):
        photo_from(tmp_path / "bomb.png")
