"""The song of the show: its file, its beats found, typed or tapped, its bars, and looks laid on its beats."""

from __future__ import annotations

import time
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFileDialog, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.edits_music import (
    Again,
    add_mark,
    begin_bars_at,
    change_music,
    empty_bars,
    lay_on_beats,
    marks_by_tempo,
    marks_from_taps,
    nudge_mark,
    remove_mark,
    set_marks,
)
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import clock
from tiny_lantern.plans.lay_notes import lay_notes
from tiny_lantern.show.music.notes import Track, notes_of, read_tracks, save_notes
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, combo, faint, heading, quiet, set_choice, side_by_side
from tiny_lantern.ui.widgets.quantity import QuantityEdit

NOTE_FILES = "Notes (*.mid *.midi)"
FILES = "Sound (*.wav *.flac *.ogg *.aif *.aiff *.mp3)"
NUDGE_S, REST_S = 0.01, 3.0
AGAIN: tuple[tuple[str, Again], ...] = (
    ("alike", "alike"), ("turned round by a light", "turned"), ("dealt anew", "dealt"),
)  # fmt: skip
ABOUT = (
    "T taps a beat where the show is: play it, tap four or more, and rest. Beats stand in the margin of the weave, "
    "and what is drawn there catches on them."
)


@guarded
class MusicWindow(QWidget):
    """Follows the build and its song while it is open."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._taps: list[tuple[float, float]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.file, self.told, self.bars_told = faint(), faint(), faint()
        self.open = button("Open a song", self._open, tip="WAV, FLAC, OGG …")
        self.forget = button("Without a song", self._forget, "small", "The marks stay")
        self.take_found = button("Take the beats found", self._take_found, "primary", "One step; it can be taken back")
        self.tempo = QuantityEdit("Beats a minute", "", "{:g}".format)
        self.tempo.entered.connect(self._set_tempo)
        self.per_bar = QuantityEdit("Beats of a bar", "", "{:g}".format)
        self.per_bar.entered.connect(self._set_per_bar)
        for field in (self.tempo, self.per_bar):
            field.faulty.connect(session.refused)
        self.tap = button("Tap (T)", self._tap, tip="A beat where the show is now")
        self.earlier = button("Earlier", partial(self._nudge, -NUDGE_S), "small", "The beat at the caret 10 ms earlier")
        self.later = button("Later", partial(self._nudge, NUDGE_S), "small", "The beat at the caret 10 ms later")
        self.add = button("Add", self._add, "small", "A beat at the caret")
        self.remove = button("Remove", self._remove, "small", "The beat at the caret")
        self.one = button("Bar begins here", self._begin_bar, "small", "Bars begin with the beat at the caret")
        kinds: list[tuple[str, object]] = [(kind.replace("_", " "), kind) for kind in effect_kinds()]
        self.kind = combo(kinds, "Look", lambda _: None)
        set_choice(self.kind, "fade")
        self.on = combo([], "On which lights", lambda _: None)
        self.every = QuantityEdit("On every so many beats", "", "{:g}".format)
        self.first = QuantityEdit("From bar", "", "{:g}".format)
        self.last = QuantityEdit("To bar", "", "{:g}".format)
        self.again = combo([(words, each) for words, each in AGAIN], "How it comes again", lambda _: None)
        self.lay = button("Lay it on the beats", self._lay, "primary", "One step; it can be taken back")
        self.open_notes = button("Open notes", self._open_notes, tip="A Standard MIDI File")
        self.track = combo([], "Track", lambda _: self.refresh())
        self.lay_notes = button(
            "Lay its notes", self._lay_notes, "primary", "Each note the look above, on its own lamp"
        )
        self.save_notes = button("Save as notes", self._save_notes, "small", "What the lights above do, as notes")
        self._tracks: tuple[Track, ...] = ()
        self._numbers = {self.every: 1, self.first: 1, self.last: 1}
        for field in self._numbers:
            field.entered.connect(partial(self._number, field))
            field.faulty.connect(session.refused)
        self._assemble()
        session.build_changed.connect(self.refresh)
        session.song.changed.connect(self.refresh)
        self.refresh()

    def _assemble(self) -> None:
        beats, pattern = Rows(), Rows()
        beats.add("beats a minute", self.tempo)
        beats.add("beats of a bar", self.per_bar)
        for words, field in (("look", self.kind), ("on", self.on), ("every so many beats", self.every),
                             ("from bar", self.first), ("to bar", self.last), ("comes again", self.again)):  # fmt: skip
            pattern.add(words, field)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("Song"))
        column.addWidget(self.file)
        column.addLayout(side_by_side(self.open, self.forget))
        column.addWidget(heading("Beats"))
        column.addWidget(self.told)
        column.addLayout(beats.grid)
        column.addLayout(side_by_side(self.take_found, self.tap))
        column.addLayout(side_by_side(self.earlier, self.later, self.add, self.remove, self.one))
        column.addWidget(heading("A look on the beats"))
        column.addLayout(pattern.grid)
        column.addWidget(self.lay)
        column.addWidget(self.bars_told)
        column.addWidget(heading("Notes"))
        column.addWidget(self.track)
        column.addLayout(side_by_side(self.open_notes, self.lay_notes, self.save_notes))
        column.addWidget(faint(ABOUT))
        column.addStretch(1)

    def refresh(self) -> None:
        """Show the build in hand and what is known of its song."""
        if not isValid(self) or self._session.dragging:
            return
        build, song = self._session.build, self._session.song
        music = build.music
        self.file.setText(self._file_words())
        self.forget.setEnabled(bool(music.file))
        found = song.beats
        self.take_found.setEnabled(found is not None and len(found.times_s) > 1)
        words = f"{len(music.marks_s)} beats" + (f", {music.bpm:.1f} a minute" if music.bpm else "")
        if found is not None and len(found.times_s):
            words += f". Found in the song: {len(found.times_s)}, {found.bpm:.1f} a minute"
        self.told.setText(words + ".")
        if music.bpm:
            self.tempo.show_value(round(music.bpm, 2))
        else:
            self.tempo.show_nothing()
        self.per_bar.show_value(music.per_bar)
        self._show_lights()
        self._show_bars()

    def _file_words(self) -> str:
        file, song = self._session.build.music.file, self._session.song
        if not file:
            return "No song yet."
        name = file.rsplit("/", 1)[-1]
        if song.missing:
            return f"{name} is not there any more: {file}. Its beats stay."
        if song.sound is None:
            return f"{name}: being read …" if song.reading else f"{name} cannot be read."
        return f"{name}, {clock(song.sound.length_s)}" + (" of silence." if song.sound.silent else ".")

    def _show_lights(self) -> None:
        build = self._session.build
        chosen = self.on.currentData()
        with quiet(self.on):
            self.on.clear()
            self.on.addItem("everything", ("all", ""))
            for piece in build.pieces:
                self.on.addItem(piece.name, ("piece", piece.id))
            for group in build.groups:
                self.on.addItem(group.name, ("group", group.id))
            set_choice(self.on, chosen)

    def _show_bars(self) -> None:
        music = self._session.build.music
        self._numbers[self.last] = min(self._numbers[self.last], max(1, music.bar_count))
        for field, number in self._numbers.items():
            field.show_value(number)
        self.lay.setEnabled(music.bar_count > 0 and bool(self._session.build.pieces))
        self.lay_notes.setEnabled(bool(self._tracks) and bool(self._session.build.pieces))
        self.save_notes.setEnabled(bool(self._session.build.effects))
        empty = empty_bars(self._session.build)
        told = ", ".join(in_runs(empty)[:12])
        self.bars_told.setText(f"{music.bar_count} bars" + (f"; still empty: {told}." if empty else "; all filled."))

    def _open_notes(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self, "Open notes", "", NOTE_FILES)
        if chosen:
            self.take_notes(Path(chosen))

    def take_notes(self, path: Path) -> None:
        """Read the tracks of a file of notes.

        Args:
            path: the file.
        """
        try:
            self._tracks = read_tracks(path)
        except LanternError as error:
            self._session.refused.emit(error)
            return
        with quiet(self.track):
            self.track.clear()
            for number, track in enumerate(self._tracks):
                span = f"{len(track.notes)} notes, {track.lowest} to {track.highest}"
                self.track.addItem(f"{track.name}: {span}", number)
        self._session.say(f"{path.name} has {len(self._tracks)} tracks of notes.")
        self.refresh()

    def _lay_notes(self) -> None:
        if not self._tracks:
            return
        first, last, _ = self._lights()
        track = self._tracks[int(self.track.currentData())]
        kind = self.kind.currentData()
        edit = partial(lay_notes, track=track, kind=kind, first_slot=first, last_slot=last)
        self._session.apply(f"Laid the notes of {track.name}", edit)

    def _save_notes(self) -> None:
        chosen, _ = QFileDialog.getSaveFileName(self, "Save as notes", "lamps.mid", NOTE_FILES)
        if not chosen:
            return
        first, last, _ = self._lights()
        build, path = self._session.build, Path(chosen)
        try:
            save_notes(notes_of(build, first, last), path, self.on.currentText())
        except LanternError as error:
            self._session.refused.emit(error)
        except OSError as error:
            told = f"cannot be written: {error.strerror}"
            self._session.refused.emit(LanternError(told, str(path), "a place that can be written"))
        else:
            self._session.say(f"Wrote {path.name}.")

    def _lights(self) -> tuple[int, int, str | None]:
        """The first and the last light that a look goes on, and the group that it follows."""
        build = self._session.build
        sort, identity = self.on.currentData()
        if sort == "piece":
            span = build.line.span(identity)
            return span.first, span.stop - 1, None
        if sort == "group":
            slots = [build.line.slot_of(ref) for group in build.groups if group.id == identity for ref in group.slots]
            return min(slots), max(slots), identity
        return 0, build.line.slot_count - 1, None

    def _open(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self, "Open a song", "", FILES)
        if chosen:
            self.take(chosen)

    def take(self, file: str) -> None:
        """Go with a song.

        Args:
            file: its path.
        """
        self._session.apply("Took a song", partial(change_music, file=file))

    def _forget(self) -> None:
        self._session.apply("Left the song out", partial(change_music, file=""))

    def _take_found(self) -> None:
        found = self._session.song.beats
        if found is not None:
            self._session.apply("Took the beats of the song", partial(set_marks, marks_s=found.times_s.tolist()))

    def _set_tempo(self, bpm: float) -> None:
        marks = self._session.build.music.marks_s
        first_s = marks[0] if marks else 0.0
        self._session.apply("Typed a tempo", partial(marks_by_tempo, bpm=bpm, first_s=first_s))
        self.refresh()

    def _set_per_bar(self, count: float) -> None:
        self._session.apply("Changed the beats of a bar", partial(change_music, per_bar=int(count)))
        self.refresh()

    def _tap(self) -> None:
        """A tap where the show is; taps that go on are one tempo, and one step once they are enough."""
        now = time.monotonic()
        if self._taps and now - self._taps[-1][0] > REST_S:
            self._taps.clear()
        self._taps.append((now, self._session.time_s))
        shown = [place for _, place in self._taps]
        if len(shown) >= 2 and shown[-1] <= shown[0]:  # the show stands: the hand's own time counts
            shown = [shown[0] + at - self._taps[0][0] for at, _ in self._taps]
        try:
            edit = partial(marks_from_taps, taps_s=shown)
            edit(self._session.build)
        except LanternError as error:
            self._session.say(f"{len(shown)} taps; {error.accepted} tell a tempo.")
            return
        self._session.apply("Tapped a tempo", edit)

    def _at_caret(self) -> int | None:
        return self._session.build.music.near(self._session.time_s)

    def _nudge(self, by_s: float) -> None:
        mark = self._at_caret()
        if mark is not None:
            self._session.apply("Nudged a beat", partial(nudge_mark, mark=mark, by_s=by_s))

    def _add(self) -> None:
        self._session.apply("Added a beat", partial(add_mark, time_s=self._session.time_s))

    def _remove(self) -> None:
        mark = self._at_caret()
        if mark is not None:
            self._session.apply("Removed a beat", partial(remove_mark, mark=mark))

    def _begin_bar(self) -> None:
        mark = self._at_caret()
        if mark is not None:
            self._session.apply("Began bars with a beat", partial(begin_bars_at, mark=mark))

    def _number(self, field: QuantityEdit, value: float) -> None:
        self._numbers[field] = max(1, int(value))
        field.show_value(self._numbers[field])

    def _lay(self) -> None:
        first, last, group_id = self._lights()
        edit = partial(
            lay_on_beats, kind=self.kind.currentData(), first_slot=first, last_slot=last, group_id=group_id,
            from_bar=self._numbers[self.first], to_bar=self._numbers[self.last], every=self._numbers[self.every],
            again=self.again.currentData(),
        )  # fmt: skip
        self._session.apply(f"Laid {self.kind.currentText()} on beats", edit)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """T taps wherever no field takes it."""
        if event.key() == Qt.Key.Key_T and not event.modifiers() and not event.isAutoRepeat():
            self._tap()
        else:
            super().keyPressEvent(event)


def in_runs(numbers: tuple[int, ...]) -> list[str]:
    """Numbers in words, those that follow one another as one: 1–3, 7.

    Args:
        numbers: rising numbers. [-]
    """
    ends: list[list[int]] = []
    for number in numbers:
        if ends and number == ends[-1][1] + 1:
            ends[-1][1] = number
        else:
            ends.append([number, number])
    return [str(first) if first == last else f"{first}–{last}" for first, last in ends]
