"""Rules on the show."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.light.flash import MOST_FLASHES, FlashRun
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_show import change_look
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import clock
from tiny_lantern.model.working import Step, Working

SAFE_PERIOD_S = 0.4


@rule("flashing", "The show flashes too fast in {n} ways")
def flashing(evidence: Evidence) -> Iterator[Finding]:
    """More than three flashes in a second can bring on a seizure in people who are sensitive to it."""
    for run in evidence.flashes:
        light = evidence.build.line.ref_at(run.slot)
        effect = _effect_at(evidence.build, run)
        fix = None
        if effect and effect.look.values.get("period_s", SAFE_PERIOD_S) < SAFE_PERIOD_S:
            fix = Fix("Slow it to 2.5 a second", partial(change_look, effect_id=effect.id, period_s=SAFE_PERIOD_S))
        sort = "red flashes" if run.red else "flashes"
        step = Step("flashes = opposing changes / 2, in one second", "", f"{run.flashes}, at most {MOST_FLASHES}")
        yield Finding(
            Severity.DANGER, "flashing",
            Place(light, None, (Ref("effects", effect.id),) if effect else (), run.start_s),
            f"{run.flashes} {sort} in a second at {clock(run.start_s)}",
            f"{evidence.build.line.piece(light.piece_id).spoken(light.index)}: more than {MOST_FLASHES} a "
            "second can bring on a seizure. Make it slower, dimmer or softer, and warn people who come to see it.",
            partial(Working, "Flashes in the worst second", (step,), "WCAG 2.2, criterion 2.3.1"),
            (fix,) if fix else (),
        )  # fmt: skip


def _effect_at(build: Build, run: FlashRun) -> Effect | None:
    for effect in reversed(build.effects):
        first, stop = build.line.covered(effect)
        meets = effect.start_s <= run.start_s + 1 and run.start_s < effect.start_s + effect.length_s
        if first <= run.slot < stop and meets:
            return effect
    return None
