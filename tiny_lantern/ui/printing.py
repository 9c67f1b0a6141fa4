"""The sheet as a Qt document, for the preview and for PDF."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QObject, QSizeF, Qt, QUrl
from PySide6.QtGui import QGuiApplication, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QTextDocument
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QApplication

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.model.disk import write_atomically
from tiny_lantern.sheets.sheet import EVERY_ROW, NOTHING_OWNED, PICTURE_SOURCE, sheet_html, sheet_picture
from tiny_lantern.ui import theme

PICTURE_WIDTH = 660
SHARPER = 3


def offscreen_application() -> QGuiApplication:
    """The application that is running, or one that needs no display."""
    running = QGuiApplication.instance()
    if isinstance(running, QGuiApplication):
        return running
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    application = QApplication(["tiny-lantern"])
    theme.load_fonts()
    application.setFont(theme.font())
    return application


@dataclass(frozen=True)
class SheetSource:
    """What a sheet is laid out from: its page and its picture."""

    html: str
    picture: QImage


def sheet_source(
    evidence: Evidence, sharper: int = 1, most_rows: int = EVERY_ROW, drawer: Drawer = NOTHING_OWNED
) -> SheetSource:
    """A sheet's page and picture, drawn so many times finer than it is shown; this needs no window's thread."""
    return SheetSource(sheet_html(evidence, False, most_rows, drawer), _picture(sheet_picture(evidence), sharper))


def sheet_document(source: SheetSource, parent: QObject | None = None) -> QTextDocument:
    """The sheet laid out by Qt, its picture in it."""
    document = QTextDocument(parent)
    document.addResource(QTextDocument.ResourceType.ImageResource, QUrl(PICTURE_SOURCE), source.picture)
    document.setDefaultFont(theme.font(9))
    document.setHtml(source.html)
    return document


def save_pdf(evidence: Evidence, path: Path, drawer: Drawer = NOTHING_OWNED) -> None:
    """Write the sheet as PDF on A4.

    Raises:
        LanternError: the folder cannot be written.
    """
    _print(sheet_document(sheet_source(evidence, SHARPER, drawer=drawer)), evidence.build.name, path)


def save_page_pdf(html: str, title: str, path: Path) -> None:
    """Write a page as PDF on A4.

    Raises:
        LanternError: the folder cannot be written.
    """
    document = QTextDocument()
    document.setDefaultFont(theme.font(9))
    document.setHtml(html)
    _print(document, title, path)


def _print(document: QTextDocument, title: str, path: Path) -> None:
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(title)
    writer.setCreator("Tiny Lantern")
    writer.setResolution(96)
    writer.setPageLayout(
        QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, QMarginsF(12, 12, 12, 12),
                    QPageLayout.Unit.Millimeter)
    )  # fmt: skip
    document.setPageSize(QSizeF(writer.width(), writer.height()))
    document.print_(writer)
    del writer
    buffer.close()
    write_atomically(path, bytes(content.data()))


def _picture(svg: str, sharper: int) -> QImage:
    own_font = svg.replace("Lato, sans-serif", theme.FAMILY)
    renderer = QSvgRenderer(QByteArray(own_font.encode("utf-8")))
    size = renderer.defaultSize()
    height = round(PICTURE_WIDTH * size.height() / size.width())
    image = QImage(PICTURE_WIDTH * sharper, height * sharper, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    renderer.render(painter)
    painter.end()
    return image
