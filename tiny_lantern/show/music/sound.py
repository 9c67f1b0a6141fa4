"""Sound as a show needs it: its outline, its bands and its onsets, a hundred times a second; the samples are let go."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.signal import resample_poly

from tiny_lantern.model.errors import CancelledError, LanternError

Floats = NDArray[np.float32]
RATE_HZ, HOP, WINDOW = 22_050, 220, 1024
FRAME_HZ = RATE_HZ / HOP
MOST_S, MOST_RATE_HZ, LEAST_S = 36_000.0, 400_000, 0.1
BLOCK_S, SUFFIXES = 20.0, (".wav", ".flac", ".ogg", ".aif", ".aiff", ".mp3")
BANDS_HZ = (20.0, 150.0, 500.0, 2000.0, 9000.0)
FILTERS, LOWEST_HZ = 40, 40.0
QUIET, LOUD = 1e-4, 98


@dataclass(frozen=True, eq=False)
class Sound:
    """A song, looked at ``FRAME_HZ`` times a second: the largest sample of each frame, (n_frames,), 0 to 1; the level
    of each of the bands between ``BANDS_HZ``, (n_frames, n_bands), 0 to 1 of its own loudest moments; and how much
    begins in each frame, (n_frames,)."""

    name: str
    length_s: float
    outline: Floats
    bands: Floats
    onset: Floats

    @property
    def silent(self) -> bool:
        """Whether nothing is to be heard."""
        return bool(self.outline.max(initial=0.0) < QUIET)


def read_sound(
    path: Path, progress: Callable[[float], None] = lambda share: None, cancelled: Callable[[], bool] = lambda: False
) -> Sound:
    """What a sound file holds.

    Args:
        path: the file: WAV, FLAC, OGG and what else the library reads.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.

    Raises:
        LanternError: it is no sound file, is cut off, or is longer than can be used.
        CancelledError: asked to stop.
    """
    import soundfile  # a heavy library, only where a song is read

    try:
        with soundfile.SoundFile(path) as file:
            length_s = file.frames / file.samplerate if file.samplerate else 0.0
            _bearable(path, length_s, file.samplerate)
            return sound_of(path.name, file.samplerate, _blocks(file, path, progress, cancelled))
    except (soundfile.LibsndfileError, OSError, RuntimeError) as error:
        reason = getattr(error, "strerror", None) or getattr(error, "error_string", None) or str(error)
        raise LanternError(f"no sound can be read: {reason}", str(path), "a WAV, FLAC or OGG file") from None


def _bearable(path: Path, length_s: float, rate_hz: int) -> None:
    if length_s > MOST_S:
        raise LanternError(f"it lasts {length_s / 3600:.1f} hours", str(path), f"at most {MOST_S / 3600:.0f} hours")
    if rate_hz > MOST_RATE_HZ:
        raise LanternError(f"it has {rate_hz} samples a second", str(path), f"at most {MOST_RATE_HZ}")
    if length_s < LEAST_S:
        raise LanternError(f"it lasts {length_s:.2f} s", str(path), f"{LEAST_S:g} s or more")


def _blocks(
    file: object, path: Path, progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> Iterator[Floats]:  # fmt: skip
    """Its samples, one channel, some seconds at a time."""
    size, read, total = round(BLOCK_S * file.samplerate), 0, file.frames  # type: ignore[attr-defined]
    while read < total:
        if cancelled():
            raise CancelledError
        block = file.read(size, dtype="float32", always_2d=True)  # type: ignore[attr-defined]
        if not len(block):
            raise LanternError(
                f"it ends after {read / file.samplerate:.1f} s of {total / file.samplerate:.1f} s",  # type: ignore[attr-defined]
                str(path), "a whole file",
            )  # fmt: skip
        read += len(block)
        progress(read / total)
        yield np.nan_to_num(block.mean(axis=1), posinf=0.0, neginf=0.0)


def sound_of(name: str, rate_hz: int, blocks: Iterator[Floats]) -> Sound:
    """What samples hold that come some at a time.

    Args:
        name: what it is called.
        rate_hz: samples a second. [Hz]
        blocks: the samples of one channel, (n_samples,) each. [-]
    """
    filters, sides = _filters(), _sides()
    before: Floats = np.zeros(0, np.float32)
    spectrum: Floats | None = None
    outlines, bands, onsets, length = [], [], [], 0
    for block in blocks:
        length += len(block)
        samples = np.concatenate([before, _at_rate(block, rate_hz)])
        count = max(0, (len(samples) - WINDOW) // HOP + 1)
        if not count:
            before = samples
            continue
        own, before = samples[: (count - 1) * HOP + WINDOW], samples[count * HOP :]
        frames = np.lib.stride_tricks.sliding_window_view(own, WINDOW)[::HOP]
        power = np.abs(np.fft.rfft(frames * np.hanning(WINDOW).astype(np.float32), axis=1)).astype(np.float32)
        outlines.append(np.abs(own[: count * HOP].reshape(count, HOP)).max(axis=1))
        bands.append(power @ sides)
        logged = np.log1p(10 * power @ filters)
        onsets.append(_begun(logged, spectrum))
        spectrum = logged[-1:]
    if not outlines:
        raise LanternError("it is too short to hear anything", name, f"{LEAST_S:g} s or more")
    levels = np.concatenate(bands)
    loud = np.maximum(np.percentile(levels, LOUD, axis=0), 1e-9)
    return Sound(
        name, length / rate_hz, np.minimum(np.concatenate(outlines), 1.0).astype(np.float32),
        np.minimum(levels / loud, 1.0).astype(np.float32), np.concatenate(onsets),
    )  # fmt: skip


def _at_rate(block: Floats, rate_hz: int) -> Floats:
    """Samples as many a second as are looked at."""
    if rate_hz == RATE_HZ:
        return block
    common = int(np.gcd(rate_hz, RATE_HZ))
    up, down = RATE_HZ // common, rate_hz // common
    if up > 1000:  # no even ratio is near: the nearest sample will do for beats
        places = np.arange(0, len(block), rate_hz / RATE_HZ)
        return block[places.astype(np.int64)]
    return np.asarray(resample_poly(block, up, down), np.float32)


def _begun(logged: Floats, before: Floats | None) -> Floats:
    """How much begins in each frame: the rises of all bands since two frames before, summed  (1). (n_frames,)

    Source: spectral flux, half-wave rectified; any text on onset detection.
    """
    ahead = np.zeros((2, logged.shape[1]), np.float32) if before is None else np.repeat(before, 2, axis=0)
    if before is None:
        ahead += logged[0]
    shifted = np.concatenate([ahead, logged])[:-2]
    return np.asarray(np.maximum(logged - shifted, 0).sum(axis=1), np.float32)  # (1)


def _filters() -> Floats:
    """Triangles of equal ratio over the spectrum, (n_bins, n_filters)."""
    edges = np.geomspace(LOWEST_HZ, RATE_HZ / 2, FILTERS + 2)
    bins = np.fft.rfftfreq(WINDOW, 1 / RATE_HZ)
    up = (bins[:, None] - edges[:-2]) / (edges[1:-1] - edges[:-2])
    down = (edges[2:] - bins[:, None]) / (edges[2:] - edges[1:-1])
    return np.asarray(np.clip(np.minimum(up, down), 0, 1), np.float32)


def _sides() -> Floats:
    """Which bins belong to each band that lamps follow, (n_bins, n_bands)."""
    bins = np.fft.rfftfreq(WINDOW, 1 / RATE_HZ)
    ends = np.array(BANDS_HZ)
    return np.asarray((bins[:, None] >= ends[:-1]) & (bins[:, None] < ends[1:]), np.float32)
