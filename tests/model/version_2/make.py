"""Writes what builds of format 2 gave when that was the format, for which it asks for the program of that time."""

import json
from pathlib import Path

import numpy as np

from tests.circuit.test_agreement import BUILDS
from tests.support.builds import part
from tests.support.driven import driven, hold, lamps, railed
from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.circuit.drive import solve_lit
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_drive import feed_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.store import dumps, load
from tiny_lantern.show.loads import duties_for
from tiny_lantern.show.weave import render

FOLDER = Path(__file__).parent


def lamp_amps(build: Build) -> dict[str, float]:
    """The current of each channel with wires of no resistance and stiff sources. [A]"""
    found = solve_lit(build, compile_circuit(build), 0.0, stiff=True).channel_a
    return {f"{driver_id}/{output}": amps for (driver_id, output), amps in found.items()}


def several() -> Build:
    """A board on its rail, chips on its supply, a switch on a supply of its own, loose lamps."""
    build = railed(6, "bench-30v-5a")
    build = feed_board(build, build.boards[0].id, build.rails[0].id)
    build = add_supply(build, part("mains-12v-5a"), "Twelve")
    build = add_supply(build, part("mains-5v-10a"), "Five")
    return add_piece(build, part("lamp-addressable-8mm"), lamps(5, "lamp-addressable-8mm"))


def main() -> None:
    for name in ("footbridge", "cloak", "pier"):
        build = load(FOLDER / f"{name}.lantern")
        ticks = np.linspace(0, build.timeline.count - 1, 60).astype(int)
        solved = solve_power(build, duties_for(build, FullWhite()))
        pixel_v = np.concatenate([solved.runs[strip.id].pixel_v for strip in build.strips])
        np.savez_compressed(FOLDER / f"{name}.npz", ticks=ticks, frames=render(build, ticks), pixel_v=pixel_v)
    builds = {name: make() for name, make in BUILDS.items()}
    builds |= {"held": driven("hold", hold()), "several": several(), "rail": railed()}
    builds |= {f"demo {name}": load(FOLDER / f"{name}.lantern") for name in ("footbridge", "cloak", "pier")}
    kept = {
        name: {"build": json.loads(dumps(build)), "amps": lamp_amps(build)}
        for name, build in builds.items()
        if not name.startswith("demo")
    }
    kept |= {name: {"amps": lamp_amps(build)} for name, build in builds.items() if name.startswith("demo")}
    (FOLDER / "ways.json").write_text(json.dumps(kept), encoding="utf-8")


if __name__ == "__main__":
    main()
