"""A reference photo: read, made small, scaled by two points."""

import base64
import io
import json
import os
import random
import struct
import zlib
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


def with_photo(tmp_path: Path, content: bytes) -> str:
    """A file's text whose photo is some bytes."""
    data = json.loads(dumps(laid(tmp_path)))
    data["photo"]["data"] = base64.b64encode(content).decode()
    return json.dumps(data)


SVG = b'<svg xmlns="http://www.w3.org/2000/svg"><image href="/etc/hostname.png"/></svg>'


@pytest.mark.parametrize("content", [SVG, b"GIF89a" + b"0" * 40, b"RIFF0000WEBPVP8 ", b"BM" + b"0" * 60, b"\0"])
def test_a_file_whose_photo_is_neither_jpeg_nor_png_is_refused_when_it_is_read(tmp_path: Path, content: bytes) -> None:
    with pytest.raises(LanternError, match="neither JPEG nor PNG") as refusal:
        loads(with_photo(tmp_path, content))
    assert "photo" in refusal.value.where


@pytest.mark.parametrize("data", ["not base64!", "/9j/4AAQ=\n", "ÿØÿ", "/9j/4"])
def test_a_photo_that_is_no_base64_is_refused_when_it_is_read(tmp_path: Path, data: str) -> None:
    text = json.loads(dumps(laid(tmp_path)))
    text["photo"]["data"] = data
    with pytest.raises(LanternError, match="no base64"):
        loads(json.dumps(text))


@pytest.mark.parametrize("form", ["GIF", "WEBP", "BMP", "TIFF"])
def test_pictures_of_other_kinds_are_refused_whatever_their_name_says(tmp_path: Path, form: str) -> None:
    path = picture(tmp_path / "a.png", format=form)
    with pytest.raises(LanternError, match="no picture that can be read"):
        photo_from(path)


@pytest.mark.parametrize("side", [12_000, 20_000])
def test_a_picture_is_measured_before_it_is_decoded(tmp_path: Path, side: int) -> None:
    """A PNG whose head says 20,000 by 20,000 takes 1.2 GB once it is decoded, and 60 bytes on the disk."""
    chunks = ((b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)), (b"IDAT", zlib.compress(b"0" * 40)))
    (tmp_path / "bomb.png").write_bytes(
        b"\x89PNG\r\n\x1a\n"
        + b"".join(struct.pack(">I", len(held)) + kind + held + struct.pack(">I", zlib.crc32(kind + held))
                   for kind, held in chunks)
    )  # fmt: skip
    with pytest.raises(LanternError, match="too large"):
        photo_from(tmp_path / "bomb.png")


def test_a_picture_that_ends_too_early_is_refused(tmp_path: Path) -> None:
    whole = picture(tmp_path / "a.jpg").read_bytes()
    (tmp_path / "half.jpg").write_bytes(whole[: len(whole) // 2])
    with pytest.raises(LanternError, match="no picture that can be read"):
        photo_from(tmp_path / "half.jpg")
