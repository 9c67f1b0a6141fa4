"""Hold: the selected lights stay at the value that lies under the pointer, until it is let go."""

from __future__ import annotations

from functools import partial

import numpy as np
from PySide6.QtCore import QObject, Signal

from tiny_lantern.model.edits_show import change_look
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.quantities import clock
from tiny_lantern.show.weave import show_of
from tiny_lantern.ui.colours import screen_table
from tiny_lantern.ui.session import Held, Session


class Holder(QObject):
    """Holds lights of a session at places of its weave while it is on."""

    switched = Signal(bool)

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self.on = False
        self._place = (0, 0.0)
        session.build_changed.connect(self._again)
        session.selection_changed.connect(self._at_caret)
        session.time_changed.connect(self._at_caret)
        session.opened.connect(lambda: self.switch(False))

    def switch(self, on: bool) -> None:
        """Begin or end."""
        on = on and bool(self._session.build.effects)
        if on == self.on:
            return
        self.on = on
        if on:
            self._at_caret()
            self._session.say("Hold: the selection follows the pointer on the weave; a click keeps it, Escape ends.")
        else:
            self._session.hold(None)
        self.switched.emit(on)

    def follow(self, slot: int, time_s: float) -> None:
        """Hold the selection at the value of a light at a moment."""
        self._place = (slot, time_s)
        self._again()

    def keep(self) -> None:
        """Give the selected effect the colour that is held, where it has one."""
        effect, held = self._effect(), self._session.held
        if effect is None or held is None or "colour" not in effect.look.values:
            self._session.say("Select an effect that has a colour of its own to keep this one.")
            return
        colour = "#{:02x}{:02x}{:02x}".format(*screen_table()[np.array(held.rgb)])
        edit = partial(change_look, effect_id=effect.id, colour=colour)
        self._session.apply(f"Kept {colour} as the colour of {effect.look.word}", edit)

    def _effect(self) -> Effect | None:
        chosen = self._session.selection.one("effects")
        return next((effect for effect in self._session.build.effects if effect.id == chosen), None)

    def _at_caret(self) -> None:
        slot = self._session.slot
        self.follow(self._place[0] if slot is None else slot, self._session.time_s)

    def _again(self) -> None:
        if not self.on:
            return
        build, (slot, time_s) = self._session.build, self._place
        if not build.effects or not 0 <= slot < build.line.slot_count:
            self._session.hold(None)
            return
        tick = np.array([build.timeline.on_show(time_s)])
        red, green, blue = (int(byte) for byte in show_of(build).render(tick, np.array([slot]))[0, 0])
        first, stop = self._span(slot)
        self._session.hold(Held(first, stop, (red, green, blue)))

    def _span(self, slot: int) -> tuple[int, int]:
        """The lights that are held: those of the selected effect, of the selected piece, or the one under the hand."""
        build, effect = self._session.build, self._effect()
        if effect is not None:
            return build.line.covered(effect)
        chosen = self._session.selection.one("pieces")
        span = next((span for span in build.line.spans if span.piece.id == chosen), None)
        return (span.first, span.stop) if span is not None else (slot, slot + 1)

    def words(self) -> str:
        """What is held, for the tool tip."""
        held = self._session.held
        if held is None:
            return ""
        return f"held as light {self._place[0]} is at {clock(self._place[1])}"
