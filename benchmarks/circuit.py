"""One still of a whole circuit beside the operating point of a general circuit simulator, beyond its own start.

Lamps on registers with every wire: so many channels, solved from nothing, and again after one resistor has changed. The
simulator is run where it is installed (Debian has ``ngspice``); the same circuit goes to it as resistors, sources and
currents that climb from a voltage on.

Run by hand: ``.venv/bin/python benchmarks/circuit.py``.
"""

from __future__ import annotations

import shutil
import statistics
import subprocess
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from tiny_lantern.threads import one_thread

one_thread()  # before NumPy loads

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.elements.outputs import Output
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.elements.stages import Regulator
from tiny_lantern.circuit.netlist import Netlist, solve_netlist
from tiny_lantern.circuit.stills import all_lit
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.plans.ways import drive_piece

RUNS, SIZES, SMALL_OHM = 7, (50, 500), 1e-6


def netlist_of(channels: int) -> Netlist:
    """So many lamps on registers, all lit, with their wires."""
    red = shelf().find(LampPart, "led-red-5mm")
    build = add_board(Build(name="Lamps"), shelf().find(BoardPart, "board-8bit-large"))
    build = add_piece(build, red, LampGroup(id="lamps", name="Lamps", part_id=red.id, lamp_count=channels))
    build = drive_piece(build, build.pieces[-1].id, "register")
    still, _ = next(iter(all_lit(build)))
    return whole_circuit(build).netlist(still)


def deck_of(netlist: Netlist) -> str:
    """The same circuit in the simulator's words."""
    lines, names = ["lamps"], {netlist.ground: "0"}

    def node(name: str) -> str:
        return names.setdefault(name, f"n{len(names)}")

    for number, each in enumerate(netlist.elements):
        if isinstance(each, Conducting):
            lines.append(f"R{number} {node(each.a)} {node(each.b)} {each.ohm!r}")
        elif isinstance(each, Led):
            a, k, knee_v = node(each.a), node(each.k), each.test_v - each.slope_ohm * each.test_a
            lines.append(f"B{number} {a} {k} I=max(0,(V({a},{k})-{knee_v!r})/{each.slope_ohm!r})")
        elif isinstance(each, Load):
            plus, minus = node(each.plus), node(each.minus)
            lines.append(f"B{number} {plus} {minus} I={each.current_a!r}*min(1,max(0,V({plus},{minus})))")
        elif isinstance(each, Output):
            other, ohm = (each.rail, each.high_ohm) if each.state == "high" else (each.zero, each.low_ohm)
            lines.append(f"R{number} {node(each.pin)} {node(other)} {ohm!r}")
        elif isinstance(each, Supply):
            lines.append(f"V{number} v{number} {node(each.minus)} {each.set_v!r}")
            lines.append(f"RV{number} v{number} {node(each.plus)} {each.output_ohm or SMALL_OHM!r}")
        elif isinstance(each, Regulator):
            lines.append(f"R{number} {node(each.entry)} {node(each.out)} {each.output_ohm!r}")
    leaks = [f"RL{number} {name} 0 {netlist.leak_ohm!r}" for number, name in enumerate(names.values()) if name != "0"]
    return "\n".join([*lines, *leaks, ".op", ".end", ""])


def timed(act: Callable[[], object]) -> float:
    """The median of some runs. [s]"""
    found = []
    for _ in range(RUNS):
        start = time.perf_counter()
        act()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def simulated(deck: str) -> float | None:
    """How long the simulator takes for its operating point, its own start taken off; None where it is not there. [s]"""
    program = shutil.which("ngspice")
    if program is None:
        return None
    with tempfile.TemporaryDirectory() as folder:
        whole, empty = Path(folder) / "whole.cir", Path(folder) / "empty.cir"
        whole.write_text(deck)
        empty.write_text("nothing\nV1 a 0 1\nR1 a 0 1\n.op\n.end\n")

        def run(path: Path) -> Callable[[], object]:
            return lambda: subprocess.run([program, "-b", str(path)], capture_output=True, check=False)

        return timed(run(whole)) - timed(run(empty))


def with_ten_ohm_more(element: Element) -> Element:
    """The first lamp's resistor changed, all else as it is."""
    if isinstance(element, Conducting) and element.id.endswith("/0/lamp"):
        return replace(element, ohm=element.ohm + 10.0)
    return element


def main() -> None:
    """Print what a still costs here and there, and their ratio."""
    for channels in SIZES:
        netlist = netlist_of(channels)
        cold = timed(lambda netlist=netlist: solve_netlist(replace(netlist)))
        known = solve_netlist(netlist)
        changed = Netlist(tuple(map(with_ten_ohm_more, netlist.elements)), netlist.ground)
        changed.laid  # noqa: B018 - laid out beforehand
        again = timed(lambda changed=changed, known=known: solve_netlist(changed, known))
        print(f"{channels} channels, {len(netlist.elements)} elements")
        print(f"  laid out and solved from nothing {cold * 1000:8.1f} ms")
        print(f"  solved again, one resistor changed {again * 1000:6.1f} ms")
        there = simulated(deck_of(netlist))
        if there is None:
            print("  no general simulator is installed to compare with")
        else:
            ratios = f"{there / cold:.1f} and {there / again:.1f} times as long"
            print(f"  general simulator, beyond its start {there * 1000:5.1f} ms: {ratios}")


if __name__ == "__main__":
    main()
