"""Notes laid on lamps: each note of a track an effect on the lamp that is its own."""

from __future__ import annotations

from tiny_lantern.model.build import Build, draft_of
from tiny_lantern.model.edits_show import lay_new
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
    draft = draft_of(build)
    for note in inside:
        slot, start_s = first_slot + lamp_of(note.note, track, count), note.start_s + shift_s
        draft = lay_new(draft, kind, slot, slot, round(start_s, 4), min(note.length_s, build.show_s - start_s))  # type: ignore[assignment]
    return draft.kept()
