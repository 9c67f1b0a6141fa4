"""Notes of a song: read from a file of note messages, laid on lamps, and written from what lamps do."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.weave import blocks

RAISED = (OSError, EOFError, ValueError, LookupError, TypeError, AttributeError)  # by the library, of bad files
MOST_NOTES, MOST_BYTES, LEAST_S = 20_000, 20_000_000, 0.025
TICKS_PER_BEAT, BEAT_US, NOTES, FULL_VELOCITY = 480, 500_000, 128, 127


@dataclass(frozen=True)
class Note:
    """A note: which, 0 to 127, how hard, 1 to 127, when it begins and how long it lasts. [s]"""

    note: int
    velocity: int
    start_s: float
    length_s: float


@dataclass(frozen=True)
class Track:
    """A track of a file: what it is called, and its notes in the order in which they begin."""

    name: str
    notes: tuple[Note, ...]

    @property
    def lowest(self) -> int:
        """Its lowest note. [-]"""
        return min(note.note for note in self.notes)

    @property
    def highest(self) -> int:
        """Its highest. [-]"""
        return max(note.note for note in self.notes)


def read_tracks(path: Path) -> tuple[Track, ...]:
    """The tracks of a file that have notes; a note that does not end lasts to the end of its track.

    Args:
        path: a Standard MIDI File.

    Raises:
        LanternError: it is none, has no notes, or too many.
    """
    import mido  # only where notes are read

    try:
        if path.stat().st_size > MOST_BYTES:
            raise LanternError("it is too large for notes", str(path), f"at most {MOST_BYTES // 1_000_000} MB")
        file = mido.MidiFile(path, clip=True)
        found = tuple(track for track in _tracks(file) if track.notes)
    except LanternError:
        raise
    except (
        OSError,
        EOFError,
        ValueError,
        LookupError,
        TypeError,
        AttributeError,
    ) as error:  # as the library raises them
        reason = getattr(error, "strerror", None) or str(error) or type(error).__name__
        raise LanternError(f"no notes can be read: {reason}", str(path), "a Standard MIDI File") from None
    if not found:
        raise LanternError("there are no notes in it", str(path), "a file with at least one note")
    count = sum(len(track.notes) for track in found)
    if count > MOST_NOTES:
        raise LanternError(f"there are {count} notes in it", str(path), f"at most {MOST_NOTES}")
    return found


def _tracks(file: object) -> Iterable[Track]:
    """Each track with its notes in seconds, by the tempo of all of them."""
    tempos = _tempos(file)
    per_beat = file.ticks_per_beat or TICKS_PER_BEAT  # type: ignore[attr-defined]
    for number, track in enumerate(file.tracks, 1):  # type: ignore[attr-defined]
        at, notes = 0, []
        open_ones: dict[tuple[int, int], tuple[int, int]] = {}
        for message in track:
            at += message.time
            if message.type not in ("note_on", "note_off"):
                continue
            key = message.channel, message.note
            if key in open_ones:
                velocity, began = open_ones.pop(key)
                notes.append(_note(message.note, velocity, began, at, tempos, per_beat))
            if message.type == "note_on" and message.velocity:
                open_ones[key] = message.velocity, at
        for (_, left), (velocity, began) in open_ones.items():
            notes.append(_note(left, velocity, began, at, tempos, per_beat))
        name = str(getattr(track, "name", "") or "").strip() or f"track {number}"
        yield Track(name[:120], tuple(sorted(notes, key=lambda each: (each.start_s, each.note))))


def _note(note: int, velocity: int, began: int, ended: int, tempos: Sequence[tuple[int, int]], per_beat: int) -> Note:
    start_s = _seconds(began, tempos, per_beat)
    return Note(note, velocity, start_s, max(LEAST_S, _seconds(ended, tempos, per_beat) - start_s))


def _tempos(file: object) -> list[tuple[int, int]]:
    """When the tempo changes, and to how many microseconds a beat. [ticks], [µs]"""
    found = [(0, BEAT_US)]
    for track in file.tracks:  # type: ignore[attr-defined]
        at = 0
        for message in track:
            at += message.time
            if message.type == "set_tempo":
                found.append((at, message.tempo))
    return sorted(found, key=lambda each: each[0])


def _seconds(tick: int, tempos: Sequence[tuple[int, int]], per_beat: int) -> float:
    """When a tick is, tempo after tempo. [s]"""
    total = 0.0
    for number, (begin, beat_us) in enumerate(tempos):
        end = tempos[number + 1][0] if number + 1 < len(tempos) else tick
        total += max(0, min(end, tick) - begin) * beat_us / per_beat / 1e6
    return total


def lamp_of(note: int, track: Track, count: int) -> int:
    """The lamp of a note when a track is moved into the range of some lamps: by semitones where they are enough, by
    its place among the track's notes where not, and round once these too are more than there are lamps. [-]

    Args:
        note: the note. [-]
        track: its track.
        count: how many lamps. [-]
    """
    if track.highest - track.lowest < count:
        return note - track.lowest
    used = sorted({each.note for each in track.notes})
    return used.index(note) % count


def notes_of(build: Build, first_slot: int, last_slot: int, base: int = 36) -> tuple[Note, ...]:
    """What lights do as notes: one for each stretch in which a light is lit, as hard as it is bright at most.

    Args:
        build: the build.
        first_slot: the first light, whose note is the base. [-]
        last_slot: the last. [-]
        base: its note. [-]

    Raises:
        LanternError: there are more lights than notes.
    """
    count = last_slot - first_slot + 1
    if not 0 <= base <= base + count - 1 < NOTES:
        raise LanternError(f"{count} lights from note {base} on", "notes", f"notes 0 to {NOTES - 1}")
    slots = np.arange(first_slot, last_slot + 1)
    level = np.concatenate([frames.max(axis=2) for _, frames in blocks(build, slots=slots)])
    edges = np.diff((level > 0).astype(np.int8), axis=0, prepend=0, append=0)
    found = []
    for lamp in range(count):
        starts, ends = (np.flatnonzero(edges[:, lamp] == way) for way in (1, -1))
        for start, end in zip(starts.tolist(), ends.tolist(), strict=True):
            hard = max(1, round(int(level[start:end, lamp].max()) * FULL_VELOCITY / 255))
            found.append(Note(base + lamp, hard, start / build.tick_hz, (end - start) / build.tick_hz))
    return tuple(sorted(found, key=lambda note: (note.start_s, note.note)))


def save_notes(notes: Sequence[Note], path: Path, name: str = "lamps") -> None:
    """Write notes as a file of one track at 120 beats a minute.

    Args:
        notes: the notes.
        path: where.
        name: what the track is called.
    """
    import mido  # only where notes are written

    moments = [(note.start_s, 1, note) for note in notes] + [(note.start_s + note.length_s, 0, note) for note in notes]
    track, before = mido.MidiTrack([mido.MetaMessage("track_name", name=name, time=0)]), 0
    for time_s, on, note in sorted(moments, key=lambda each: (round(each[0] * 1e6), each[1])):
        at = round(time_s * 1e6 / BEAT_US * TICKS_PER_BEAT)
        velocity = note.velocity if on else 0
        track.append(mido.Message("note_on", note=note.note, velocity=velocity, time=at - before))
        before = at
    mido.MidiFile(ticks_per_beat=TICKS_PER_BEAT, tracks=[track]).save(path)
