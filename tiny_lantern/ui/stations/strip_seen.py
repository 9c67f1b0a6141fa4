"""What pixels of strips are seen to do while a pattern is sent."""

from __future__ import annotations

from PySide6.QtGui import QIntValidator
from PySide6.QtWidgets import QLineEdit, QListWidget, QVBoxLayout, QWidget

from tiny_lantern.bench.strips.of_build import pattern_name
from tiny_lantern.model.bench import BenchLook, SeenWord
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_bench import see_strip
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, combo, faint, quiet, set_choice, side_by_side

SEEN: tuple[tuple[str, SeenWord], ...] = (
    ("dark", "dark"), ("dim", "dim"), ("reddish", "reddish"), ("flicker", "flicker"), ("wrong colours", "wrong"),
)  # fmt: skip


class StripSeen(QWidget):
    """A word for a range of pixels, or that a strip shows what was sent."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pattern = ""
        self.strip = combo([], "The strip", lambda _: self.refresh())
        self.word = combo(list(SEEN), "What its pixels do", lambda _: None)
        self.first, self.last = QLineEdit(), QLineEdit()
        for field, name in ((self.first, "first pixel"), (self.last, "last pixel")):
            field.setAccessibleName(name)
            field.setPlaceholderText(name)
            field.setValidator(QIntValidator(0, 100_000, self))
        self.add = button("Keep", self.keep, "primary", "These pixels do that")
        self.well = button("As sent", self.as_sent, "small", "The whole strip shows what was sent")
        self.list = QListWidget()
        self.list.setAccessibleName("What was seen of strips")
        rows = Rows()
        rows.add("strip", self.strip)
        rows.add("is", self.word)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(rows.grid)
        column.addLayout(side_by_side(self.first, self.last, self.add, self.well))
        column.addWidget(self.list, 1)
        column.addWidget(faint("Pixels count from 0. Look past bright strips, not into them."))
        session.build_changed.connect(self.refresh)

    def show_pattern(self, key: str) -> None:
        """Show what was seen in a pattern.

        Args:
            key: the pattern's key.
        """
        self._pattern = key
        self.refresh()

    def refresh(self) -> None:
        """The strips and looks of the build in hand."""
        build = self._session.build
        strips = [(strip.id, strip.name) for strip in build.strips]
        if [(self.strip.itemData(at), self.strip.itemText(at)) for at in range(self.strip.count())] != strips:
            chosen = self.strip.currentData()
            with quiet(self.strip):
                self.strip.clear()
                for identity, name in strips:
                    self.strip.addItem(name, identity)
                set_choice(self.strip, chosen)
                self.strip.setCurrentIndex(max(0, self.strip.currentIndex()))
        names = dict(strips)
        looks = [look for look in build.bench.looks if look.pattern == self._pattern and look.lamp in names]
        self.list.clear()
        self.list.addItems([f"{names[look.lamp]}: {_told(look)}" for look in looks])
        self.add.setEnabled(bool(strips))
        self.well.setEnabled(bool(strips))

    def keep(self) -> None:
        """Keep what is written; a range that is empty is of the whole strip."""
        strip = next((each for each in self._session.build.strips if each.id == self.strip.currentData()), None)
        if strip is None:
            return
        first = int(self.first.text() or 0)
        last = min(int(self.last.text() or strip.pixel_count - 1), strip.pixel_count - 1)
        span = (min(first, last), last)
        words = f"{strip.name}: {self.word.currentText()} from pixel {span[0]} to {span[1]}, {self._name()} sent."
        self._apply(strip.id, self.word.currentData(), span, words)
        self.first.clear()
        self.last.clear()

    def as_sent(self) -> None:
        """Keep that the strip shows what was sent."""
        self._apply(self.strip.currentData(), "normal", None, f"{self.strip.currentText()}: {self._name()} as sent.")

    def _name(self) -> str:
        return pattern_name(self._pattern) or self._pattern

    def _apply(self, strip_id: str, word: SeenWord, span: tuple[int, int] | None, words: str) -> None:
        def edit(build: Build) -> Build:
            return see_strip(build, self._pattern, strip_id, word, span, words, at)

        at = now()
        self._session.apply(words, edit)


def _told(look: BenchLook) -> str:
    if look.first is None:
        return "as sent"
    words = {word: text for text, word in SEEN}
    return f"{words.get(look.word, look.word)}, pixels {look.first} to {look.last}"
