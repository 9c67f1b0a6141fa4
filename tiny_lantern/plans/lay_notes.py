"""Notes laid on lamps: each note of a track an effect on the lamp that is its own."""

from __future__ import annotations

from tiny_lantern.effects.chance import MOST_SEED
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_show import SHORTEST_S, as_wired, lay_copies, lay_new
from tiny_lantern.model.effects import Look
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.music.notes import Track, lamp_of

MOST_LAID = 4000


def lay_notes(
    build: Build, track: Track, kind: str, first_slot: int, last_slot: int, shift_s: float = 0.0
) -> Build:  # fmt: skip
    """The build with a track laid on some lights, moved into their range; notes beyond the show are left out.

    Args:
        build: the build.
        track: the track.
        kind: the kind of effect that a note is.
        first_slot: the first light. [-]
        last_slot: the last. [-]
        shift_s: by how much later it plays. [s]

    Raises:
        LanternError: nothing of it lies in the show, or it has too many notes.
    """
    count = last_slot - first_slot + 1
    inside = [note for note in track.notes if 0 <= note.start_s + shift_s < build.show_s]
    if not inside:
        raise LanternError(f"no note of {track.name} lies in the show", "notes", f"0 to {build.show_s:g} s")
    if len(inside) > MOST_LAID:
        told = f"at most {MOST_LAID}: a shorter show, or a track of fewer"
        raise LanternError(f"{len(inside)} notes at once", "notes", told)
    lamps = [first_slot + lamp_of(note.note, track, count) for note in inside]
    model = lay_new(build, kind, lamps[0], lamps[0], 0.0, build.show_s).effects[-1]
    seed = model.look.values.get("seed")
    changes = []
    for number, (note, lamp) in enumerate(zip(inside, lamps, strict=True)):
        ref, start_s = build.line.ref_at(lamp), note.start_s + shift_s
        length_s = max(SHORTEST_S, min(note.length_s, build.show_s - start_s))
        look = _dealt(as_wired(build, model.look, ref), seed, number)
        changes.append({"first": ref, "last": ref, "start_s": round(start_s, 4), "length_s": length_s, "look": look})
    return lay_copies(build, model, changes)


def _dealt(look: Look, seed: int | None, number: int) -> Look:
    """A look of chance dealt by a seed of its own."""
    return look if seed is None else revise(look, seed=(seed + number - 1) % MOST_SEED + 1)
