"""Rules on relays: coils, contacts, how long they last, what they do while the board boots, and mains behind them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.drive.relay import LEAST_INTERVAL_S
from tiny_lantern.electrical.driven.relay import all_coils, relay_of
from tiny_lantern.findings.driven import at_channel, at_driver, called, driven, one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps, volts
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.show.channels import ON_FROM, show_levels
from tiny_lantern.show.contacts import life_of

FEW_NIGHTS = 365.0


@rule("relay-life", "{n} contacts wear out soon")
def relay_life(evidence: Evidence) -> Iterator[Finding]:
    """A contact that the show closes so often that it lasts less than a year of nights."""
    if not evidence.build.effects:
        return
    for driver, result in driven(evidence, RelayBoard):
        part = relay_of(result.case)
        for at, channel in enumerate(result.case.channels):
            on = show_levels(evidence.build, (channel,))[:, 0] >= ON_FROM
            life = life_of(on, driver, part, float(result.on_a[at]), evidence.build.tick_hz)
            name = called(result.case, at)
            if life.too_short:
                shortest = min(each for each in (life.shortest_on_s, life.shortest_off_s) if each is not None)
                yield Finding(
                    Severity.WONT_WORK, "relay-life", at_channel(channel, driver),
                    f"{name} is switched faster than a relay can",
                    f"The shortest interval is {shortest * 1000:.0f} ms, and {LEAST_INTERVAL_S * 1000:.0f} ms is the "
                    f"least: {(LEAST_INTERVAL_S - shortest) * 1000:.0f} ms too short. Never dim through a relay.",
                    one_step("Shortest interval", "ticks / rate", f"{evidence.build.tick_hz:g} ticks a second",
                             f"{shortest * 1000:.0f} ms"),
                )  # fmt: skip
            elif life.nights is not None and life.nights < FEW_NIGHTS:
                yield Finding(
                    Severity.WEAK_SPOT, "relay-life", at_channel(channel, driver),
                    f"The contact of {name} lasts {life.nights:.0f} nights",
                    f"{life.per_show} closings a show, {life.per_night:.0f} a night; a transistor does not wear.",
                    one_step("Nights", "rated / (closings · shows)",
                             f"rated / ({life.per_show} · {driver.shows_per_night:g})", f"{life.nights:.0f}"),
                )  # fmt: skip


@rule("relay-coil", "{n} relay boards do not pull in")
def relay_coil(evidence: Evidence) -> Iterator[Finding]:
    """Coils that together leave too little voltage to pull in, or overload what feeds them."""
    for driver, result in driven(evidence, RelayBoard):
        coils, part = all_coils(result.case), relay_of(result.case)
        if not coils.pulls_in:
            yield Finding(
                Severity.WONT_WORK, "relay-coil", at_driver(evidence.build, driver),
                f"{driver.name}: its coils get {volts(coils.coil_v)}",
                f"They need {volts(part.must_operate_v)}: {volts(part.must_operate_v - coils.coil_v)} too little.",
                one_step("Coil voltage", "V = I · R_coil", f"{amps(coils.coil_a)} · {part.coil_ohm:g} Ω",
                         volts(coils.coil_v)),
            )  # fmt: skip


@rule("relay-contact", "{n} contacts carry more than they bear")
def relay_contact(evidence: Evidence) -> Iterator[Finding]:
    """A contact that carries or breaks more than it is rated for; a filament's inrush counts."""
    for driver, result in driven(evidence, RelayBoard):
        part = relay_of(result.case)
        for at, lamp in enumerate(result.case.lamps):
            load = lamp.part
            if not isinstance(load, LoadPart):
                continue
            peak_a = lamp.load_a * load.inrush
            for value, limit, unit in ((peak_a, part.contact_a, "A"), (load.nominal_v, part.contact_v, "V")):
                if value > limit * (1 + 1e-9):
                    yield Finding(
                        Severity.DANGER, "relay-contact", at_channel(result.case.channels[at], driver),
                        f"{called(result.case, at)}: {value:.3g} {unit} on a contact for {limit:g} {unit}",
                        f"{value - limit:.3g} {unit} too much, {load.inrush:g} times its current at the moment of "
                        "switching on included.",
                        one_step("At the contact", "I = P / V · inrush", f"{load.power_w:g} / {load.nominal_v:g}",
                                 f"{value:.3g} {unit}"),
                    )  # fmt: skip


@rule("relay-boot", "{n} relay boards are on while the board boots")
def relay_boot(evidence: Evidence) -> Iterator[Finding]:
    """Inputs that are on when low, and nothing holds them high until the programme runs."""
    for driver, result in driven(evidence, RelayBoard):
        if relay_of(result.case).active_low and not driver.set_before_boot:
            yield Finding(
                Severity.WEAK_SPOT, "relay-boot", at_driver(evidence.build, driver),
                f"{driver.name} may click on while the board boots",
                "Its inputs are on when low. Set each pin high before it becomes an output, and pull it up with 10 kΩ.",
                None,
                (Fix("Set high first", partial(change_driver, driver_id=driver.id, set_before_boot=True)),),
            )  # fmt: skip


@rule("caution-relay-mains", "{n} loads on the mains are switched by a relay")
def relay_on_mains(evidence: Evidence) -> Iterator[Finding]:
    """Mains behind a relay is work for a licensed person."""
    for driver, result in driven(evidence, RelayBoard):
        for at, lamp in enumerate(result.case.lamps):
            if isinstance(lamp.part, LoadPart) and lamp.part.mains:
                place = at_channel(result.case.channels[at], driver)
                yield Finding(
                    Severity.HINT, "caution-relay-mains", Place(place.first, None, place.refs),
                    f"{lamp.piece.name} is on the mains behind a relay",
                    "Have the mains side done to local code by a licensed person: enclosure, strain relief, earth, its "
                    "own fuse, and a contact rated for the load. Nothing is touched while it is plugged in.",
                )  # fmt: skip
