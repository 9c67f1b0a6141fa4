"""Rules on trimmed rails and on batteries: windows, headroom, heat, current, and how long a charge lasts."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.electrical.battery import lasting, run_time
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power_tree import battery_draw
from tiny_lantern.electrical.rails import RailState
from tiny_lantern.electrical.supplies import can_be_set
from tiny_lantern.findings.driven import one_step, tenth_up
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_drive import change_rail
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps, volts
from tiny_lantern.plans.sources import STEP_DOWN

MILLI = 3
NEEDS = {"linear": "a dropout", "step_down": "a headroom"}
LEAST_HEADROOM_V = 1e-9


@rule("rail-window", "{n} rails leave their window")
def rail_window(evidence: Evidence) -> Iterator[Finding]:
    """A trimmed rail that, idle or with everything lit, is outside what the things on it bear."""
    for state in evidence.rails:
        if state.serves:
            continue
        rail, low = state.rail, state.low_margin_v < state.high_margin_v
        margin_v = min(state.low_margin_v, state.high_margin_v)
        at_v, limit_v = (state.worst_v, rail.low_v) if low else (state.idle_v, rail.high_v)
        yield Finding(
            Severity.WONT_WORK, "rail-window", Place.on("rails", rail.id),
            f"{rail.name} {'falls to' if low else 'stands at'} {at_v:.3f} V {'all lit' if low else 'with nothing lit'}",
            f"Its window ends at {limit_v:.3f} V: {-margin_v * 1000:.0f} mV beyond. It is trimmed {rail.trimmed} to "
            f"{rail.target_v:.3f} V and moves {(state.idle_v - state.worst_v) * 1000:.0f} mV.",
            one_step("Rail", "V = V_set - R · I" if rail.trimmed == "unloaded" else "V = V_set + R · (I_worst - I)",
                     f"{rail.target_v:.3f} V, {rail.output_ohm:g} Ω, {amps(state.idle_a)} to {amps(state.worst_a)}",
                     f"{state.worst_v:.3f} to {state.idle_v:.3f} V"),
            _trims(state),
        )  # fmt: skip


def _trims(state: RailState) -> tuple[Fix, ...]:
    """Trim it so that both margins are alike, where the window is wide enough."""
    wanted_v = state.target_that_serves_v
    if wanted_v is None or not state.part.least_v <= round(wanted_v, MILLI) <= state.part.most_v:
        return ()
    target_v = round(wanted_v, MILLI)
    return (Fix(f"Trim it to {target_v:.3f} V", partial(change_rail, rail_id=state.rail.id, target_v=target_v)),)


@rule("rail-headroom", "{n} rails are fed with too little")
def rail_headroom(evidence: Evidence) -> Iterator[Finding]:
    """A rail whose supply is less than its voltage and its regulator's dropout."""
    for state in evidence.rails:
        if state.headroom_v < -LEAST_HEADROOM_V:
            yield _starved(evidence.build, state)


def _starved(build: Build, state: RailState) -> Finding:
    rail, part, source = state.rail, state.part, state.source
    boosts = part.sort == "step_up"
    lowest_v = part.least_in_v if boosts else state.idle_v + part.dropout_v
    needs = f"Its regulator runs from {volts(part.least_in_v)}" if boosts else (
        f"{volts(state.idle_v)} and {NEEDS[part.sort]} of {volts(part.dropout_v)}"
    )  # fmt: skip
    needed_v = tenth_up(lowest_v)
    settable = isinstance(source.thing, Supply) and can_be_set(build, source.id, needed_v)
    return Finding(
        Severity.WONT_WORK, "rail-headroom", Place.on("rails", rail.id),
        f"{rail.name} is fed {volts(source.volts)}",
        f"{needs} {'and lacks' if boosts else 'want'} {volts(-state.headroom_v)}{'' if boosts else ' more'}.",
        one_step("Headroom", "V_in - V_least" if boosts else f"V_in - V_out - {NEEDS[part.sort].split()[-1]}",
                 f"{source.volts:g} - {part.least_in_v:g}" if boosts else
                 f"{source.volts:g} - {state.idle_v:.3f} - {part.dropout_v:g}", volts(state.headroom_v)),
        (Fix(f"Set {source.name} to {needed_v:g} V", partial(change_supply, supply_id=source.id, set_v=needed_v)),)
        if settable else (),
    )  # fmt: skip


@rule("rail-step", "{n} step-up rails are lower than what feeds them")
def rail_step(evidence: Evidence) -> Iterator[Finding]:
    """A step-up set to no more than what it is fed with: it cannot lower a voltage, which goes straight through."""
    for state in evidence.rails:
        over_v = state.source.volts - state.rail.target_v
        if state.part.sort == "step_up" and over_v > LEAST_HEADROOM_V:
            yield Finding(
                Severity.DANGER, "rail-step", Place.on("rails", state.rail.id),
                f"{state.rail.name} is a step-up to {volts(state.rail.target_v)} fed {volts(state.source.volts)}",
                f"{volts(over_v)} too much reach what hangs on it: a step-up only raises. Take a step-down, or feed it "
                "from less.",
                one_step("Too much", "V_in - V_set", f"{state.source.volts:g} - {state.rail.target_v:g}",
                         volts(over_v)),
                _steps_down(evidence.build, state),
            )  # fmt: skip


def _steps_down(build: Build, state: RailState) -> tuple[Fix, ...]:
    """A step-down in the place of a step-up, where it is fed with enough for one."""
    part = all_parts(build).find(RegulatorPart, STEP_DOWN)
    if state.source.volts < state.rail.target_v + part.dropout_v:
        return ()
    return (Fix("Take a step-down", partial(_fitted, rail_id=state.rail.id, part=part)),)


def _fitted(build: Build, rail_id: str, part: RegulatorPart) -> Build:
    return change_rail(with_part(build, part), rail_id, regulator_id=part.id)


@rule("rail-hot", "{n} rail regulators get too hot")
def rail_hot(evidence: Evidence) -> Iterator[Finding]:
    """A rail's regulator whose heat takes it over its limit, in the air around it."""
    for state in evidence.rails:
        over_k = state.regulator_c - state.part.limit_c
        if over_k > 1e-9:
            yield Finding(
                Severity.DANGER, "rail-hot", Place.on("rails", state.rail.id),
                f"The regulator of {state.rail.name} reaches {state.regulator_c:.0f} °C",
                f"{over_k:.0f} K over its {state.part.limit_c:g} °C: it makes {state.heat_w:.2f} W. A lower supply, a "
                "heat sink or a switching regulator; do not feel it with a finger.",
                one_step("Junction", "T = T_amb + (V_in - V_out) · I · θ" if state.part.sort == "linear"
                         else "T = T_amb + V_out · I · (1/η - 1) · θ",
                         f"{state.rail.ambient_c:g} + {state.heat_w:.2f} · {state.part.theta_k_per_w:g}",
                         f"{state.regulator_c:.0f} °C"),
            )  # fmt: skip


@rule("rail-current", "{n} rails give more than they may")
def rail_current(evidence: Evidence) -> Iterator[Finding]:
    """A rail that gives more than its regulator may, with everything lit."""
    for state in evidence.rails:
        over_a = state.worst_a - state.part.most_a
        if over_a > 1e-9:
            yield Finding(
                Severity.WONT_WORK, "rail-current", Place.on("rails", state.rail.id),
                f"{state.rail.name} gives {amps(state.worst_a)} of {amps(state.part.most_a)}",
                f"{amps(over_a)} too much; a larger regulator, or fewer things on it.",
                one_step("Rail current", "I = Σ I of what hangs on it", "all lit", amps(state.worst_a)),
            )  # fmt: skip


@rule("battery-short", "{n} batteries do not last the show")
def battery_short(evidence: Evidence) -> Iterator[Finding]:
    """A full battery that, with everything lit, is empty before the show has been played once."""
    build = evidence.build
    for supply in build.supplies:
        part = supply_part(build, supply.id)
        strips_a = 0.0 if evidence.white is None else evidence.white.supplies[supply.id].current_a
        draws_a = strips_a + evidence.lamp_loads_a[supply.id]
        if part.cells is None or draws_a <= 0:
            continue
        lasts = run_time(part.cells, battery_draw(part, supply.set_v, draws_a))
        if lasts.seconds < build.show_s:
            yield Finding(
                Severity.WEAK_SPOT, "battery-short", Place.on("supplies", supply.id),
                f"{supply.name} lasts {lasting(lasts.seconds)} with everything lit",
                f"The show lasts {lasting(build.show_s)}: {build.show_s - lasts.seconds:.0f} s too short. A larger "
                "battery, or less light.",
                one_step("Run time", "∫ until V(charge) - I · R meets the cut-off",
                         f"{amps(lasts.first_a)} from the cells, {part.cells.capacity_ah:g} Ah",
                         lasting(lasts.seconds)),
            )  # fmt: skip
