"""The sheet as a Qt document, for the preview and for PDF."""

from __future__ import annotations

import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QObject, QRectF, QSizeF, Qt, QUrl
from PySide6.QtGui import QGuiApplication, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QTextDocument
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QApplication

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.model.disk import write_atomically
from tiny_lantern.model.errors import CancelledError
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


@dataclass(frozen=True)
class Page:
    """What is to be printed: a page, the picture in it where there is one, and its title."""

    html: str
    title: str
    picture_svg: str = ""


def sheet_page(evidence: Evidence, drawer: Drawer = NOTHING_OWNED) -> Page:
    """The sheet of a build, to be printed; this needs no window's thread."""
    return Page(sheet_html(evidence, False, drawer=drawer), evidence.build.name, sheet_picture(evidence))


def save_pdf(
    page: Page, path: Path,
    progress: Callable[[float], None] = lambda share: None, cancelled: Callable[[], bool] = lambda: False,
) -> None:  # fmt: skip
    """Write a page as PDF on A4; also in a process of its own, since Qt may take a minute for very many rows.

    Args:
        page: the page.
        path: the file.
        progress: told the share that is drawn, 0 to 1.
        cancelled: asked before each sheet of paper whether to stop.

    Raises:
        LanternError: the folder cannot be written.
        CancelledError: it was stopped; nothing was written.
    """
    offscreen_application()
    document = QTextDocument()
    if page.picture_svg:
        picture = _picture(page.picture_svg, SHARPER)
        document.addResource(QTextDocument.ResourceType.ImageResource, QUrl(PICTURE_SOURCE), picture)
    document.setDefaultFont(theme.font(9))
    document.setHtml(page.html)
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    _print(document, page.title, buffer, progress, cancelled)
    buffer.close()
    write_atomically(path, bytes(content.data()))


def _print(
    document: QTextDocument, title: str, buffer: QBuffer,
    progress: Callable[[float], None], cancelled: Callable[[], bool],
) -> None:  # fmt: skip
    writer = QPdfWriter(buffer)
    writer.setTitle(title)
    writer.setCreator("Tiny Lantern")
    writer.setResolution(96)
    writer.setPageLayout(
        QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, QMarginsF(12, 12, 12, 12),
                    QPageLayout.Unit.Millimeter)
    )  # fmt: skip
    width, height = writer.width(), writer.height()
    document.setPageSize(QSizeF(width, height))
    sheets, painter = document.pageCount(), QPainter(writer)
    for sheet in range(sheets):
        if cancelled():
            painter.end()
            raise CancelledError
        if sheet:
            writer.newPage()
        painter.save()
        painter.translate(0, -sheet * height)
        document.drawContents(painter, QRectF(0, sheet * height, width, height))
        painter.restore()
        progress((sheet + 1) / sheets)
    painter.end()


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
