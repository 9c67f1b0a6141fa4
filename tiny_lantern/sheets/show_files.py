"""The show as files for other programs and for paper: arrays, an animated picture that loses nothing, the weave as a
picture, and the steps as a drawing."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import IO, BinaryIO
from xml.sax.saxutils import escape

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tiny_lantern.light.colour import srgb_from_linear
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import stream_atomically, write_atomically
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.quantities import clock
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.sheets.moving import GIF_RATE_HZ, Seen, glow_of
from tiny_lantern.show.weave import blocks, render

Bytes = NDArray[np.uint8]
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]
SIGNATURE, HEADER_BYTES = b"\x89PNG\r\n\x1a\n", 13
MOST_ROWS, ROW_HIGH, TOP, LEFT, WIDE = 400, 12, 46, 74, 900
NIGHT = "#10151c"


def _there(build: Build) -> None:
    if not build.line.slot_count or not build.effects:
        raise LanternError("there is no show to write", "effects", "lights with at least one effect")


def _blocks(build: Build, progress: Progress, cancelled: Cancelled) -> Iterator[tuple[int, Bytes]]:
    for first, block in blocks(build):
        if cancelled():
            raise CancelledError
        progress(first / build.timeline.count)
        yield first, block


def save_npz(
    build: Build, path: Path, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False
) -> None:
    """Write every frame as arrays: ``frames`` (n_ticks, n_slots, 3), linear bytes; ``time_s`` (n_ticks,); ``piece`` and
    ``place`` of each light (n_slots,); ``tick_hz`` and ``stamp``. Nothing in it needs a pickle.

    Raises:
        LanternError: there is no show, or the folder cannot be written.
        CancelledError: asked to stop; nothing is written then.
    """
    _there(build)
    count, slots = build.timeline.count, build.line.slot_count
    refs = [build.line.ref_at(slot) for slot in range(slots)]
    small = {
        "time_s": np.array([build.timeline.begins_s(tick) for tick in range(count)]),
        "piece": np.array([build.line.piece(ref.piece_id).name for ref in refs]),
        "place": np.array([build.line.piece(ref.piece_id).place_name(ref.index) for ref in refs]),
        "tick_hz": np.array(build.tick_hz),
        "stamp": np.array(stamp_of(build)),
    }

    def write(file: BinaryIO) -> None:
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as room:
            for name, values in small.items():
                with room.open(f"{name}.npy", "w") as own:
                    np.lib.format.write_array(own, values, allow_pickle=False)
            with room.open("frames.npy", "w", force_zip64=True) as own:
                head = {"descr": "|u1", "fortran_order": False, "shape": (count, slots, 3)}
                np.lib.format.write_array_header_1_0(own, head)
                for _, block in _blocks(build, progress, cancelled):
                    own.write(block.tobytes())

    stream_atomically(path, write)


def save_apng(
    build: Build, path: Path, width: int = 480, height: int = 270, progress: Progress = lambda share: None,
    cancelled: Cancelled = lambda: False,
) -> None:  # fmt: skip
    """Write the whole show as an animated PNG: every colour as it is seen, at 20 pictures a second.

    Args:
        build: the build.
        path: the file.
        width: of the picture. [screen pixels]
        height: of the picture. [screen pixels]
        progress: told the share done, 0 to 1.
        cancelled: asked between pictures whether to stop.

    Raises:
        LanternError: there is no show, or the folder cannot be written.
        CancelledError: asked to stop; nothing is written then.

    Source: PNG, third edition (W3C), the animation chunks.
    """
    _there(build)
    glow, seen = glow_of(build, width, height), Seen(build)
    ticks = np.unique(build.timeline.all_on_show(np.arange(0, build.show_s, 1 / GIF_RATE_HZ)))
    each_ms = round(1000 / min(GIF_RATE_HZ, build.tick_hz))

    def pictures() -> Iterator[Bytes]:
        for number, tick in enumerate(ticks):
            if cancelled():
                raise CancelledError
            progress(number / len(ticks))
            yield glow.picture(seen.frame(render(build, np.array([tick]))[0]))

    plays = 0 if build.after_end == "repeat" else build.plays
    stream_atomically(path, lambda file: _write_apng(file, pictures(), len(ticks), each_ms, plays))


def _write_apng(file: IO[bytes], pictures: Iterator[Bytes], count: int, each_ms: int, plays: int) -> None:
    """Write pictures one after another as they come; none is kept."""
    order = 0
    for number, picture in enumerate(pictures):
        buffer = io.BytesIO()
        Image.fromarray(picture).save(buffer, "PNG")
        chunks = list(_chunks(buffer.getvalue()))
        if number == 0:
            file.write(SIGNATURE)
            _put(file, b"IHDR", chunks[0][1])
            _put(file, b"acTL", struct.pack(">II", count, plays))
        height, width, _ = picture.shape
        _put(file, b"fcTL", struct.pack(">IIIIIHHBB", order, width, height, 0, 0, each_ms, 1000, 0, 0))
        order += 1
        for body in (body for name, body in chunks if name == b"IDAT"):
            if number == 0:
                _put(file, b"IDAT", body)
            else:
                _put(file, b"fdAT", struct.pack(">I", order) + body)
                order += 1
    _put(file, b"IEND", b"")


def _chunks(png: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = len(SIGNATURE)
    while at < len(png):
        length, name = struct.unpack_from(">I4s", png, at)
        yield name, png[at + 8 : at + 8 + length]
        at += 12 + length


def _put(file: IO[bytes], name: bytes, body: bytes) -> None:
    file.write(struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body)))


def save_weave_png(
    build: Build, path: Path, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False
) -> None:
    """Write the weave as a picture: a column a light in the order of the Line, a row a frame, time downward.

    Raises:
        LanternError: there is no show, or the folder cannot be written.
        CancelledError: asked to stop; nothing is written then.
    """
    _there(build)
    table = np.round(srgb_from_linear(np.arange(256) / 255) * 255).astype(np.uint8)
    image = Image.new("RGB", (build.line.slot_count, build.timeline.count))
    for first, block in _blocks(build, progress, cancelled):
        image.paste(Image.fromarray(table[block]), (0, first))
    buffer = io.BytesIO()
    image.save(buffer, "PNG")
    write_atomically(path, buffer.getvalue())


def save_steps_svg(
    build: Build, path: Path, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False
) -> None:
    """Write the steps as a drawing: the moments at which the light changes, each light's colour beside its time.

    Raises:
        LanternError: there is no show, or the folder cannot be written.
        CancelledError: asked to stop; nothing is written then.
    """
    _there(build)
    write_atomically(path, steps_svg(build, progress, cancelled).encode("utf-8"))


def steps_svg(
    build: Build, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False
) -> str:  # fmt: skip
    """The drawing itself; where there are more changes than fit a sheet, evenly chosen ones, and it says so."""
    ticks, frames, changes = _changes(build, progress, cancelled)
    step = WIDE / build.line.slot_count
    height = TOP + len(ticks) * ROW_HIGH + 10
    told = f"{changes} changes" if changes == len(ticks) else f"{len(ticks)} of {changes} changes, evenly chosen"
    rows = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{LEFT + WIDE + 10}" height="{height}" '
        'font-family="sans-serif" font-size="9">',
        f'<text x="6" y="14" font-size="12">{escape(build.name)}: steps of the show</text>',
        f'<text x="6" y="27" fill="#555">stamp {stamp_of(build)}, {clock(build.show_s)} long, {told}</text>',
    ]
    for span in build.line.spans:
        x = LEFT + span.first * step
        rows.append(f'<text x="{x:.1f}" y="{TOP - 5}">{escape(span.piece.name)}</text>')
        rows.append(f'<path d="M{x:.1f} {TOP - 3}V{height - 8}" stroke="#999" stroke-width="0.5"/>')
    for number, (tick, frame) in enumerate(zip(ticks, frames, strict=True)):
        y = TOP + number * ROW_HIGH
        rows.append(f'<text x="6" y="{y + 9}">{clock(build.timeline.begins_s(tick))}</text>')
        rows += _row(frame, y, step)
    return "\n".join([*rows, "</svg>", ""])


def _changes(build: Build, progress: Progress, cancelled: Cancelled) -> tuple[list[int], list[Bytes], int]:
    """Frames that differ from the one before, evenly chosen where they are too many: numbers, frames, and how many."""
    different: list[int] = []
    before: Bytes | None = None
    for first, block in _blocks(build, progress, cancelled):
        whole = block if before is None else np.concatenate([before[None], block])
        moved = np.flatnonzero((whole[1:] != whole[:-1]).any(axis=(1, 2)))
        different += (first + moved + (1 if before is None else 0)).tolist()
        before = block[-1]
    ticks = [0, *different]
    chosen = ticks if len(ticks) <= MOST_ROWS else [ticks[at * len(ticks) // MOST_ROWS] for at in range(MOST_ROWS)]
    return chosen, list(render(build, np.array(chosen))), len(ticks)


def _row(frame: Bytes, y: int, step: float) -> Iterator[str]:
    """One moment: lights side by side of one colour are one box."""
    seen = np.round(srgb_from_linear(frame / 255.0) * 255).astype(np.uint8)
    edges = np.flatnonzero((seen[1:] != seen[:-1]).any(axis=1)) + 1
    for first, stop in zip([0, *edges.tolist()], [*edges.tolist(), len(seen)], strict=True):
        colour = "#" + seen[first].tobytes().hex()
        fill = NIGHT if colour == "#000000" else colour
        x, wide = LEFT + first * step, (stop - first) * step
        yield f'<rect x="{x:.2f}" y="{y + 1}" width="{wide:.2f}" height="{ROW_HIGH - 2}" fill="{fill}"/>'


WRITERS: dict[str, Callable[[Build, Path, Progress, Cancelled], None]] = {
    ".npz": save_npz,
    ".apng": lambda build, path, progress, cancelled: save_apng(build, path, progress=progress, cancelled=cancelled),
    ".weave.png": save_weave_png,
    ".steps.svg": save_steps_svg,
}


def writer_for(path: Path) -> Callable[[Build, Path, Progress, Cancelled], None] | None:
    """What writes a file of such a name; None where nothing here does."""
    return next((write for suffix, write in WRITERS.items() if path.name.lower().endswith(suffix)), None)
