"""The working behind a figure, in a small window that can be copied from."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QTextBrowser, QVBoxLayout, QWidget

from tiny_lantern.model.working import Working


class WorkingCard(QDialog):
    """Shows one working."""

    def __init__(self, working: Working, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("surface")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(f"Working: {working.title}")
        self.resize(820, 340)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Working")
        self.text.setHtml(working_html(working))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(self.text)
        column.addWidget(buttons)


def working_html(working: Working) -> str:
    """A working as a small table: formula, values, result."""
    rows = "".join(
        f"<tr><td style='padding:3px 14px 3px 0'>{escape(step.formula)}</td>"
        f"<td style='padding:3px 14px 3px 0'>{'= ' + escape(step.values) if step.values else ''}</td>"
        f"<td style='padding:3px 0' align='right'><b>{'= ' + escape(step.result)}</b></td></tr>"
        for step in working.steps
    )
    source = f"<p>Source: {escape(working.source)}</p>" if working.source else ""
    return f"<h3>{escape(working.title)}</h3><table>{rows}</table>{source}"
