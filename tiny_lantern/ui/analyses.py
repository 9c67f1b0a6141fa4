"""What is worked out about the build in hand, in one table: what each reads, what runs it, and where."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from operator import is_
from typing import Any, Literal

from tiny_lantern.model.build import Build

COPPER = ("pieces", "joints", "buses", "supplies", "feeds", "parts")
DRIVE = ("boards", "drivers", "channels", "rails")
SHOW = ("pieces", "effects", "scenes", "groups", "tick_hz", "show_s")
EVERYTHING = tuple(field for field in Build.model_fields if field != "bench")
Where = Literal["helper", "helper when big", "within findings"]


@dataclass(frozen=True)
class Analysis:
    """One analysis: the fields of a build that it reads, the function of the core that does it (loaded by the
    warm-up), and where it runs. A drag that changes what it reads stops it."""

    name: str
    reads: tuple[str, ...]
    function: str
    where: Where

    def run(self) -> Callable[..., Any]:
        """The function itself."""
        module, _, name = self.function.rpartition(".")
        return getattr(import_module(module), name)  # type: ignore[no-any-return]

    def same(self, one: Build, other: Build) -> bool:
        """Whether its result for one build is that for another."""
        return all(_same(getattr(one, field), getattr(other, field)) for field in self.reads)


def _same(one: Any, other: Any) -> bool:
    if isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other) and all(map(is_, one, other)):
        return True
    return bool(one == other)


SOLVE = Analysis("solve", (*COPPER, *DRIVE), "tiny_lantern.show.solved.solve_task", "helper")
FLASHES = Analysis(
    "flashes", (*SHOW, "parts", "supplies"), "tiny_lantern.findings.evidence.find_flashes", "within findings"
)
FINDINGS = Analysis("findings", (*EVERYTHING, "bench"), "tiny_lantern.findings.judge.judge", "helper when big")
MENDS = Analysis("mends", EVERYTHING, "tiny_lantern.findings.judge.mends_of", "helper when big")
DRAW = Analysis("show-draw", (*COPPER, *DRIVE, *SHOW), "tiny_lantern.show.draw.show_draw", "helper when big")
WIRES = Analysis("wires", EVERYTHING, "tiny_lantern.sheets.connections.rows_of", "helper when big")
RIVER = Analysis("river", EVERYTHING, "tiny_lantern.circuit.river.river_task", "helper when big")
PATHS = Analysis("paths", EVERYTHING, "tiny_lantern.circuit.paths.paths_task", "helper when big")
BENCH = Analysis("bench", EVERYTHING, "tiny_lantern.bench.sheet.bench_sheet", "helper when big")
ANALYSES = (SOLVE, FLASHES, FINDINGS, MENDS, DRAW, WIRES, RIVER, PATHS, BENCH)
