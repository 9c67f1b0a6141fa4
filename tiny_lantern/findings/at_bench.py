"""Rules on what was done at the bench: readings out of their band, on an older build, before what comes first."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Order, asked_of, band_in_words, in_words
from tiny_lantern.bench.where import where_words
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.edits_bench import begin_anew
from tiny_lantern.model.place import Place
from tiny_lantern.model.stamp import stamp_of


@rule("reading-off", "{n} readings are out of their band")
def reading_off(evidence: Evidence) -> Iterator[Finding]:
    """A reading at the bench lies outside what meter and parts allow."""
    readings = evidence.build.bench.readings
    if not readings:
        return
    bench = AtBench(evidence.build)
    order = Order(bench)
    for reading in readings:
        asked = asked_of(reading)
        expected = order.expected(asked)
        if expected is None or expected.holds(reading.value):
            continue
        read, where = in_words(reading.kind, reading.value), where_words(bench, asked)
        edge = expected.low if (reading.value or 0.0) < expected.low else expected.high
        far = in_words(reading.kind, abs((reading.value or 0.0) - edge))
        yield Finding(
            Severity.WEAK_SPOT, "reading-off", Place(),
            f"{read} where {in_words(reading.kind, expected.value)} should be",
            f"{where[0].upper()}{where[1:]}: {far} out of its band. Switch off, change nothing yet, and ask Why? at "
            "the bench.",
            one_step("What the meter should say", "the circuit solved, with what parts and meter may differ", where,
                     band_in_words(reading.kind, expected)),
        )  # fmt: skip


@rule("bench-old", "{n} benches are of an older build")
def bench_old(evidence: Evidence) -> Iterator[Finding]:
    """What was read at the bench is of a build of another stamp."""
    bench = evidence.build.bench
    if not (bench.readings or bench.looks):
        return
    now = stamp_of(evidence.build)
    stamps = [each.stamp for each in bench.readings] + [each.stamp for each in bench.looks]
    old = [stamp for stamp in stamps if stamp not in ("", now)]
    if old:
        yield Finding(
            Severity.HINT, "bench-old", Place(), f"{len(old)} readings and looks are of the build {old[-1]}",
            f"Lamps, power or pins were changed since; the build's stamp is {now}. Read again what may have changed, "
            "or begin anew; the log stays.", None, (Fix("Begin anew at the bench", begin_anew),),
        )  # fmt: skip


@rule("bench-skipped", "{n} benches were powered too early")
def bench_skipped(evidence: Evidence) -> Iterator[Finding]:
    """Volts or amperes were read before every check with the supply off is ticked."""
    bench = evidence.build.bench
    if not any(reading.kind != "ohm" for reading in bench.readings):
        return
    steps = list(Order(AtBench(evidence.build)).unpowered())
    left = [step for step in steps if step.key not in bench.done]
    if left:
        yield Finding(
            Severity.HINT, "bench-skipped", Place(), f"{len(left)} of {len(steps)} checks with the supply off are left",
            f"Volts were read before them. The next one: {left[0].act} What they find costs nothing yet; what they "
            "miss may.",
        )  # fmt: skip


@rule("two-changes", "{n} benches were changed twice at once")
def two_changes(evidence: Evidence) -> Iterator[Finding]:
    """Two things were changed since the last reading, so that nobody will know which of them it was."""
    since: list[str] = []
    read = False
    for entry in evidence.build.bench.log:
        if entry.kind in ("reading", "look"):
            since, read = [], True
        elif entry.kind == "change":
            since.append(entry.text)
    if read and len(since) > 1:
        yield Finding(
            Severity.HINT, "two-changes", Place(), f"{len(since)} things were changed since the last reading",
            f"The last two: {since[-2]} {since[-1]} Read again after each one, or nobody will know which of them it "
            "was; undo takes the last back.",
        )  # fmt: skip
