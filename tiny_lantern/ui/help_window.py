"""The guide in the program: its chapters at the left, the page at the right, the key sheet as one of its pages."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextCursor
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QTextBrowser, QWidget

from tiny_lantern.ui.key_sheet import key_sheet_html

KEYS, FIRST = "Keys", "## "


def guide_folder() -> Path:
    """Where the guide lies."""
    return Path(str(resources.files("tiny_lantern.guide")))


def chapters(guide: str) -> dict[str, str]:
    """The chapters of the guide by their titles, in order; what stands before the first is its own.

    Args:
        guide: its text.
    """
    found = {"Guide": ""}
    title = "Guide"
    for line in guide.splitlines(keepends=True):
        if line.startswith(FIRST):
            title = line.removeprefix(FIRST).strip()
            found[title] = ""
        found[title] += line
    return found


class HelpWindow(QWidget):
    """Shows a chapter, and the place in it that was asked for."""

    def __init__(self) -> None:
        super().__init__()
        folder = guide_folder()
        self._chapters = chapters((folder / "guide.md").read_text(encoding="utf-8"))
        self.list = QListWidget()
        self.list.setAccessibleName("Chapters of the guide")
        self.list.addItems(list(self._chapters))
        self.list.setMaximumWidth(150)
        self.list.currentTextChanged.connect(self._show)
        self.page = QTextBrowser()
        self.page.setAccessibleName("The guide")
        self.page.setOpenExternalLinks(False)
        self.page.setOpenLinks(False)
        self._base = QUrl.fromLocalFile(f"{folder}/")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.list)
        row.addWidget(self.page, 1)
        self.list.setCurrentRow(0)

    def show_chapter(self, title: str) -> None:
        """Open a chapter at its beginning; one that there is none of, the first."""
        titles = list(self._chapters)
        self.list.setCurrentRow(titles.index(title) if title in titles else 0)

    def show_line(self, words: str) -> None:
        """Open the chapter that has some words, at the line that begins with them where there is one.

        Args:
            words: what to look for, such as a rule's code.
        """
        told = (title for title, text in self._chapters.items() if f"`{words}`" in text)
        self.show_chapter(next(told, ""))
        self.page.moveCursor(QTextCursor.MoveOperation.Start)
        if self.page.find(words):
            self.page.ensureCursorVisible()
            bar = self.page.verticalScrollBar()
            bar.setValue(bar.value() + self.page.cursorRect().top() - 20)

    def _show(self, title: str) -> None:
        document = self.page.document()
        document.setBaseUrl(self._base)
        if title == KEYS:
            self.page.setHtml(f"<h2>{KEYS}</h2>{key_sheet_html()}")
        else:
            self.page.setMarkdown(self._chapters.get(title, ""))
        self.page.moveCursor(QTextCursor.MoveOperation.Start)
