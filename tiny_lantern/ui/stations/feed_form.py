"""The selected feed's connectors, and its conductors' resistances as worked out or as measured."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.electrical.ohms import conductor_ohm, fuse_of
from tiny_lantern.model.build import Feed
from tiny_lantern.model.edits_power import set_connector, set_measured
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.quantities import engineering
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, combo, heading, quiet, set_choice
from tiny_lantern.ui.widgets.quantity import QuantityEdit


class FeedForm(QWidget):
    """Shown while a feed is selected."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(5)
        self._title = heading("Feed")
        column.addWidget(self._title)
        rows = Rows()
        self.connector = combo([], "Connector in both conductors", self._set_connector)
        rows.add("joint", self.connector)
        self.out, self.back = (self._resistance(name) for name in ("positive", "negative"))
        rows.add("R out", self.out)
        rows.add("R back", self.back)
        column.addLayout(rows.grid)
        self._again = button("work it out again", self._forget, "link", "Forget the measured resistances")
        column.addWidget(self._again)
        session.selection_changed.connect(self.refresh)
        session.build_changed.connect(self.refresh)
        self.refresh()

    def _resistance(self, side: str) -> QuantityEdit:
        name = f"Resistance {'out' if side == 'positive' else 'back'}"
        field = QuantityEdit(name, "ohm", lambda value: engineering(value, "ohm"))
        field.setToolTip(f"{name}: wire, fuse and connector; type what you measured, e.g. 90 mohm")
        field.entered.connect(partial(self._set_measured, side))
        field.faulty.connect(self._session.refused)
        return field

    @property
    def feed(self) -> Feed | None:
        """The selected feed."""
        chosen = self._session.selection.one("feeds")
        return next((feed for feed in self._session.build.feeds if feed.id == chosen), None)

    def refresh(self) -> None:
        """Show the selected feed."""
        feed, build = self.feed, self._session.build
        self.setVisible(feed is not None)
        if feed is None or self._session.dragging:
            return
        self._title.setText(f"Feed {build.feed_letters[feed.id]}")
        with quiet(self.connector):
            self.connector.clear()
            for part in (None, *self._session.parts.of(ConnectorPart)):
                self.connector.addItem(part.name if part else "none", part.id if part else None)
            set_choice(self.connector, feed.positive.connector_id)
        self.out.show_value(conductor_ohm(build, feed.positive, fuse_of(build, feed)))
        self.back.show_value(conductor_ohm(build, feed.negative))
        measured = feed.positive.measured_ohm is not None or feed.negative.measured_ohm is not None
        self._again.setVisible(measured)

    def _set_connector(self, identity: object) -> None:
        if self.feed:
            parts = self._session.parts.of(ConnectorPart)
            connector = next((part for part in parts if part.id == identity), None)
            edit = partial(set_connector, feed_id=self.feed.id, connector=connector)
            self._session.apply(f"Changed the connectors of {self._title.text().lower()}", edit)

    def _set_measured(self, side: str, ohm: float) -> None:
        if self.feed:
            edit = partial(set_measured, feed_id=self.feed.id, side=side, ohm=ohm)  # type: ignore[arg-type]
            self._session.apply(f"Took a measured resistance for {self._title.text().lower()}", edit)
            self.refresh()

    def _forget(self) -> None:
        feed = self.feed
        if feed:
            self._session.apply(
                f"Worked out {self._title.text().lower()} again",
                lambda build: set_measured(set_measured(build, feed.id, "positive", None), feed.id, "negative", None),
            )
