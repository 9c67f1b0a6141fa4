"""Loading what the window shows, in a thread, while the bare window is already there and answers."""

from __future__ import annotations

from importlib import import_module

from PySide6.QtCore import QObject, QThread

MODULES = (
    "numpy",
    "pydantic",
    "tiny_lantern.model.build",
    "tiny_lantern.show.weave",
    "tiny_lantern.ui.files",
    "tiny_lantern.ui.shell",
    "tiny_lantern.ui.declared.anywhere",
    "tiny_lantern.ui.stations.pieces",
    "tiny_lantern.ui.stations.power",
)


class Loading(QThread):
    """Imports the modules; ``fault`` holds what went wrong, if anything did."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.fault: Exception | None = None

    def run(self) -> None:
        try:
            for name in MODULES:
                import_module(name)
            import_module("tiny_lantern.catalogue.shelf").shelf()  # read here once, not at the first list of parts
        except Exception as error:  # noqa: BLE001 - told in the window
            self.fault = error
