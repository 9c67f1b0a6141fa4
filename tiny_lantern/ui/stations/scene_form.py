"""The scene under the caret: its name, where it begins, how it fades in; and what is done with scenes as a whole."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.model.edits_scenes import (
    add_scene,
    change_scene,
    double_scene,
    join_scene,
    move_scene,
    remove_scene,
    scene_at,
    scene_ends_s,
)  # fmt: skip
from tiny_lantern.model.quantities import clock
from tiny_lantern.model.scene import Scene
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, faint, heading, quiet, set_choice, show_text, side_by_side
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit


class SceneForm(QWidget):
    """Follows the caret."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("Scenes"))
        self._hint = faint("One scene: the whole show. Begin another at the caret.")
        column.addWidget(self._hint)
        self._body = QWidget()
        inside = QVBoxLayout(self._body)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(6)
        rows = Rows()
        self.scenes = QComboBox()
        self.scenes.setAccessibleName("Scene")
        self.scenes.activated.connect(self._go)
        self.name = QLineEdit()
        self.name.editingFinished.connect(self._rename)
        self.start = QuantityEdit("Begins at", "s", clock)
        self.start.entered.connect(lambda value: self._change("Moved the beginning of", start_s=value))
        self.fade = QuantityEdit("Fades in for", "s", lambda value: f"{value:g} s")
        self.fade.entered.connect(lambda value: self._change("Changed the transition into", fade_s=value))
        for text, field in (("scene", self.scenes), ("name", self.name), ("begins at", self.start),
                            ("fades in", self.fade)):  # fmt: skip
            rows.add(text, field)
        for quantity in (self.start, self.fade):
            quantity.faulty.connect(session.refused)
        inside.addLayout(rows.grid)
        self.alone = QCheckBox("play this one over and over")
        self.alone.clicked.connect(self._loop)
        inside.addWidget(self.alone)
        self.earlier = button("Earlier", partial(self._move, -1), "small", "Change places with the scene before")
        self.later = button("Later", partial(self._move, 1), "small", "Change places with the scene after")
        inside.addLayout(side_by_side(self.earlier, self.later))
        self.double = button("Double", self._double, "small", "Once more right after itself, with its effects")
        self.join = button("Join", self._join, "small", "Make it one with the scene before")
        self.out = button("Take out", self._remove, "small", "With its effects; what comes after moves up")
        inside.addLayout(side_by_side(self.double, self.join, self.out))
        column.addWidget(self._body)
        self.begin = button("New scene at the caret", self.new, tip="Begin a scene at the caret")
        column.addWidget(self.begin)
        in_view = InView(self, self.refresh)
        for signal in (session.build_changed, session.time_changed, session.loop_changed):
            signal.connect(in_view.refresh)
        self.refresh()

    @property
    def scene(self) -> Scene | None:
        """The scene under the caret."""
        build = self._session.build
        at = scene_at(build, self._session.time_s)
        return None if at is None else build.scenes[at]

    def refresh(self) -> None:
        """Show the scene under the caret."""
        build, scene = self._session.build, self.scene
        self._body.setVisible(scene is not None)
        self._hint.setVisible(scene is None)
        if scene is None:
            return
        at = build.scenes.index(scene)
        with quiet(self.scenes, self.alone):
            wanted = [(one.name, one.id) for one in build.scenes]
            if wanted != [(self.scenes.itemText(n), self.scenes.itemData(n)) for n in range(self.scenes.count())]:
                self.scenes.clear()
                for name, identity in wanted:
                    self.scenes.addItem(name, identity)
            set_choice(self.scenes, scene.id)
            self.alone.setChecked(self._session.loop_s == scene_ends_s(build)[at])
        show_text(self.name, scene.name)
        self.start.show_value(scene.start_s if at else 0.0)
        self.start.setEnabled(at > 0)
        self.fade.show_value(scene.fade_s)
        self.earlier.setEnabled(at > 0)
        self.join.setEnabled(at > 0)
        self.later.setEnabled(at < len(build.scenes) - 1)
        self.out.setEnabled(len(build.scenes) > 1)

    def new(self) -> None:
        """Begin a scene at the caret."""
        self._session.apply("Began a scene", partial(add_scene, start_s=self._session.time_s))

    def _go(self, number: int) -> None:
        self._session.set_time(scene_ends_s(self._session.build)[number][0])

    def _change(self, label: str, **changes: Any) -> None:
        scene = self.scene
        if scene:
            self._session.apply(f"{label} {scene.name}", partial(change_scene, scene_id=scene.id, **changes))

    def _rename(self) -> None:
        scene, name = self.scene, self.name.text().strip()
        if scene and name and name != scene.name:
            self._change("Renamed", name=name)

    def _loop(self, on: bool) -> None:
        at = scene_at(self._session.build, self._session.time_s)
        self._session.set_loop(scene_ends_s(self._session.build)[at] if on and at is not None else None)

    def _move(self, by: int) -> None:
        scene = self.scene
        label = f"{scene.name} {'earlier' if by < 0 else 'later'}" if scene else ""
        if scene and self._session.apply(label, partial(move_scene, scene_id=scene.id, by=by)):
            build = self._session.build
            at = next(number for number, one in enumerate(build.scenes) if one.id == scene.id)
            self._session.set_time(scene_ends_s(build)[at][0])

    def _double(self) -> None:
        if self.scene:
            self._session.apply(f"Doubled {self.scene.name}", partial(double_scene, scene_id=self.scene.id))

    def _join(self) -> None:
        if self.scene:
            self._session.apply(f"Joined {self.scene.name}", partial(join_scene, scene_id=self.scene.id))

    def _remove(self) -> None:
        if self.scene:
            self._session.apply(f"Took out {self.scene.name}", partial(remove_scene, scene_id=self.scene.id))
