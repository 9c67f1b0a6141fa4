"""What keys do on the weave: effects moved, stretched, turned, cut and taken off, one or several; the caret moved."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence

from tiny_lantern.model.edits_many import change_effects, move_effects, remove_effects
from tiny_lantern.model.edits_show import change_effect, nudge_effect, place_effect, remove_effect, split_effect
from tiny_lantern.model.effects import Effect
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_hold import Holder
from tiny_lantern.ui.widgets.ruler import step_selection

SNAP_S = 0.1


class WeaveKeys:
    """Takes the keys of the weave that are no part of a drag."""

    def __init__(self, session: Session, axis: LineAxis, time: TimeAxis, holder: Holder) -> None:
        self._session, self._axis, self._time, self._holder = session, axis, time, holder

    def take(self, event: QKeyEvent) -> bool:
        """Do what a key asks for; False for one that asks for nothing here."""
        session, key = self._session, Qt.Key(event.key())
        chosen = session.selection.all("effects")
        if event.matches(QKeySequence.StandardKey.SelectAll):
            session.select("effects", *(effect.id for effect in session.build.effects))
        elif len(chosen) > 1 and self._together(chosen, event):
            pass
        elif key == Qt.Key.Key_H:
            self._holder.switch(not self._holder.on)
        elif self._holder.on and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._holder.keep()
        elif key in (Qt.Key.Key_N, Qt.Key.Key_P):
            self._next(1 if key == Qt.Key.Key_N else -1)
        elif chosen and self._alone(chosen[0], event):
            pass
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else SNAP_S
            session.set_time(session.time_s + (step if key == Qt.Key.Key_Down else -step))
            self._time.reveal(session.time_s)
        else:
            return step_selection(session, self._axis, event)
        return True

    def _alone(self, effect_id: str, event: QKeyEvent) -> bool:
        """What a key does to the selected effect; False for one that does nothing to it."""
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._session.apply(f"Removed {self._kind(effect_id)}", partial(remove_effect, effect_id=effect_id))
        elif key in _TURNS:
            self._turn(effect_id, key)
        elif key in _ARROWS:
            self._arrow(effect_id, event)
        else:
            return False
        return True

    def _kind(self, effect_id: str) -> str:
        return next(effect.look.word for effect in self._session.build.effects if effect.id == effect_id)

    def _together(self, chosen: tuple[str, ...], event: QKeyEvent) -> bool:
        """Do to all of several selected effects what a key does to one; False for a key that does nothing to them."""
        key, many = Qt.Key(event.key()), f"{len(chosen)} effects"
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._session.apply(f"Removed {many}", partial(remove_effects, ids=chosen))
            return True
        if key in _TURNS and _TURNS[key][0] != "Split":
            label, changes = _TURNS[key]
            self._session.apply(f"{label} {many}", partial(change_effects, ids=chosen, changes=changes))
            return True
        if key in _ARROWS and not event.modifiers() & Qt.KeyboardModifier.AltModifier:
            big = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            right, down = _ARROWS[key]
            slots, seconds = right * (10 if big else 1), down * (1.0 if big else SNAP_S)
            self._session.apply(f"Moved {many}", partial(move_effects, ids=chosen, slots=slots, seconds=seconds))
            return True
        return False

    def _turn(self, effect_id: str, key: Qt.Key) -> None:
        """Mirror the selected effect, play it backward, move it round its lights, or cut it at the caret."""
        effect = next(effect for effect in self._session.build.effects if effect.id == effect_id)
        label, changes = _TURNS[key]
        if label == "Split":
            edit = partial(split_effect, effect_id=effect_id, time_s=self._session.time_s)
        else:
            edit = partial(change_effect, effect_id=effect_id, **changes(effect))
        self._session.apply(f"{label} {effect.look.word}", edit)

    def _next(self, by: int) -> None:
        effects = self._session.build.effects
        if not effects:
            return
        ids = [effect.id for effect in effects]
        chosen = self._session.selection.one("effects")
        at = (ids.index(chosen) + by) % len(ids) if chosen in ids else (0 if by > 0 else len(ids) - 1)
        self._session.select("effects", ids[at])
        self._time.reveal(effects[at].start_s)

    def _arrow(self, effect_id: str, event: QKeyEvent) -> None:
        big = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        right, down = _ARROWS[Qt.Key(event.key())]
        slots, seconds = right * (10 if big else 1), down * (1.0 if big else SNAP_S)
        kind = self._kind(effect_id)
        if event.modifiers() & Qt.KeyboardModifier.AltModifier:
            effect = next(effect for effect in self._session.build.effects if effect.id == effect_id)
            first, stop = self._session.build.line.covered(effect)
            edit = partial(
                place_effect, effect_id=effect_id, first_slot=first, stop_slot=max(first + 1, stop + slots),
                start_s=effect.start_s, length_s=effect.length_s + seconds,
            )  # fmt: skip
            self._session.apply(f"Stretched {kind}", edit)
        else:
            self._session.apply(
                f"Moved {kind}", partial(nudge_effect, effect_id=effect_id, slots=slots, seconds=seconds)
            )


_TURNS: dict[Qt.Key, tuple[str, Callable[[Effect], dict[str, Any]]]] = {
    Qt.Key.Key_M: ("Mirrored", lambda effect: {"mirrored": not effect.mirrored}),
    Qt.Key.Key_B: ("Turned in time", lambda effect: {"backward": not effect.backward}),
    Qt.Key.Key_BracketLeft: ("Moved round", lambda effect: {"turned": effect.turned - 1}),
    Qt.Key.Key_BracketRight: ("Moved round", lambda effect: {"turned": effect.turned + 1}),
    Qt.Key.Key_S: ("Split", lambda effect: {}),
}
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip
