"""A curve on a plot, apart because pyqtgraph is loaded only after the first paint."""

from __future__ import annotations

from pyqtgraph import PlotCurveItem
from PySide6.QtCore import QRectF


class Curve(PlotCurveItem):
    """Takes the view for its bounds: a plot is scaled to fit its values, so they need not be measured once more."""

    def boundingRect(self) -> QRectF:
        view = self.getViewBox()
        return super().boundingRect() if view is None else view.viewRect()
