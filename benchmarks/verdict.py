"""How long a verdict takes on the pier with ten readings, and a fault in it beside one solved from its beginning.

Run by hand: ``.venv/bin/python benchmarks/verdict.py``.
"""

from __future__ import annotations

import time
from pathlib import Path

from tiny_lantern.threads import one_thread

one_thread()  # before NumPy loads

from tiny_lantern.bench.faults.registry import suspects_of
from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.practice import first_lit
from tiny_lantern.bench.predict import Foresight, settled
from tiny_lantern.bench.ranking import Look, change_of, diagnose
from tiny_lantern.bench.readings import Taken, sigma_of
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.model.store import load

PIER = Path(__file__).parents[1] / "tiny_lantern" / "demo" / "pier.lantern"
READINGS, SAMPLE = 10, 40


def main() -> None:
    """Print the verdict's time, and the ratio of one fault solved beside the plan to one from the beginning."""
    bench = AtBench(load(PIER))
    plan = bench.plan(first_lit(bench.build))
    keys = [key for key in bench.ends if bench.node(key) != bench.node(bench.zero)]
    probes = [bench.probe("V", key) for key in keys[:: len(keys) // READINGS][:READINGS]]
    sight = Foresight(plan, probes)
    suspects = list(suspects_of(plan))
    truth = next(each for each in suspects if each.kind == "resistor_open").faults[0]
    read = sight.shown(change_of(plan, truth)).read.tolist()
    taken = tuple(Taken(probe, value, sigma_of("V", value)) for probe, value in zip(probes, read, strict=True))
    began = time.perf_counter()
    verdict = diagnose([Look(plan, taken)])
    whole_s = time.perf_counter() - began
    print(
        f"verdict of {len(suspects)} suspects from {READINGS} readings: {whole_s:.1f} s, {verdict.causes[0].kind} first"
    )
    changes = [change_of(plan, each.faults[0]) for each in suspects if each.kind == "lamp_open"][:SAMPLE]
    began = time.perf_counter()
    for change in changes:
        sight.shown(change)
    beside_s = (time.perf_counter() - began) / len(changes)
    began = time.perf_counter()
    for change in changes[:5]:
        try:
            settled(change.over(plan.netlist))
        except NotSolvedError:
            continue
    alone_s = (time.perf_counter() - began) / 5
    print(f"a fault beside the plan {beside_s * 1e3:.1f} ms, from its beginning {alone_s * 1e3:.1f} ms: "
          f"{alone_s / beside_s:.0f} times")  # fmt: skip


if __name__ == "__main__":
    main()
