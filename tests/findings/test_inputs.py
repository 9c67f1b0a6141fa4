"""Rules on inputs from both sides of their limits."""

from __future__ import annotations

import pytest

from tests.findings.test_findings import found
from tests.support.answering import answering, with_deed
from tiny_lantern.findings.finding import Severity
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_inputs import add_input, add_rule, change_input
from tiny_lantern.model.edits_scenes import add_scene


def codes(build: Build) -> set[str]:
    """The codes of what is told of a build."""
    return set(found(build, FullWhite()))


@pytest.mark.parametrize(("amps", "severity"), [
    (0.00195, Severity.WONT_WORK), (0.00205, None), (0.0195, None), (0.0205, Severity.DANGER),
])  # fmt: skip
def test_a_coupler_wants_two_to_twenty_milliamperes(amps: float, severity: Severity | None) -> None:
    """12 V less 1.2 V over the series resistor."""
    build = change_input(build := answering("signal"), build.inputs[0].id, series_ohm=10.8 / amps)
    told = found(build, FullWhite()).get("coupler-current")
    assert (told.severity if told is not None else None) is severity
    if told is not None:
        assert f"{abs(amps - (0.002 if amps < 0.01 else 0.02)) * 1e6:.3g}"[:2] in told.message.replace(".", "")


@pytest.mark.parametrize(("fixed_ohm", "speaks"), [(600.0, True), (700.0, False), (5.0e6, True), (2.5e6, False)])
def test_a_sensor_is_to_move_its_reading_by_a_quarter(fixed_ohm: float, speaks: bool) -> None:
    """A quarter of the scale between 1 Mohm and 2 kohm: about 0.67 kohm, and about 3 Mohm."""
    build = change_input(build := answering("press"), build.inputs[0].id, fixed_ohm=min(fixed_ohm, 1e8))
    assert ("sensor-swing" in codes(build)) is speaks


def test_rules_that_can_be_seen_and_heard_are_left_alone() -> None:
    build = add_scene(add_scene(answering(), 0.5), 1.0)
    first, second = (scene.id for scene in build.scenes[1:])
    build = with_deed(build, "scene", "pressed", scene_id=first)
    build = with_deed(add_rule(build, build.inputs[0].id), "scene", "released", scene_id=second)
    build = with_deed(add_rule(build, build.inputs[0].id), "speed", "pressed", piece_id="strip")
    assert not codes(build) & {"rule-idle", "rules-fight", "input-idle", "input-pin", "input-elsewhere"}
    none_alone = with_deed(add_input(build, "knob"), "speed", "turned", group_id=None, piece_id="strip")
    assert "rule-idle" not in codes(none_alone)
