"""What CONTRIBUTING.md shows is true: one of each, put into a scratch copy of the package, is found there."""

import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
WHERE = {
    "An effect": "effects/dim_light.py",
    "A rule": "findings/names.py",
    "A kind of part": "model/parts/switch.py",
    "A command": "ui/declared/hello.py",
    "A way to drive": "model/ways/transistor_array.py",
    "A kind of fault": "bench/faults/other_lamp.py",
    "A kind of piece": "model/kinds/fan.py",
    "A kind of input": "model/inputs/tilt.py",
}
LOOK = """
import json
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.kernel.c99 import c_function
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.parts.registry import PART_TYPES
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.show.weave import render
from tiny_lantern.ui.declared.registry import commands
from tiny_lantern.code.files import code_files
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.schema import schema_text
from tiny_lantern.plans.ways import drive_piece, ways_for
from tiny_lantern.sheets.connections import connections
from tiny_lantern.circuit.paths import paths_of
from tiny_lantern.sheets.schematic import of_output, schematic_svg
import numpy as np
switch = next(part for part in shelf() if part.kind == "switch")
build = add_strip(Build(parts=(switch,)), shelf().of(StripPart)[0], 4, "Rail")
build = add_effect(build, look_of("dim_light", colour="#ffffff", level=0.25), 0, 3, 0, 5)
lamps = LampGroup(id="lamps", name="Lamps", part_id="led-red-5mm", lamp_count=9)
array = add_piece(Build(), shelf().find(LampPart, "led-red-5mm"), lamps)
array = drive_piece(add_board(array, shelf().find(BoardPart, "board-8bit-large")), "lamps", "array")
array = add_effect(array, look_of("steady", colour="#ff0000"), 0, 8, 0, 5)
result = solve_drive(array).by_driver[array.drivers[0].id]
three = drive_piece(add_piece(Build(), shelf().find(LampPart, "led-red-5mm"), lamps.model_copy(
    update={"lamp_count": 4, "wired": "series"})), "lamps", "array")
way = {
    "led_v": three.drivers[0].led_v,
    "offered": [each.word for each in ways_for(array, "lamps")][-1],
    "again": loads(dumps(array)) == array,
    "pins": [pin.role for pin in array.drivers[0].pins],
    "ohm": array.channels[0].resistor_ohm,
    "on_a": float(result.on_a[0]),
    "boxes": [[block.name, block.stop - block.first, block.value, block.limit] for block in result.blocks],
    "rows": [f"{row.start.on} {row.start.terminal} - {row.end.on} {row.end.terminal}" for row in connections(array)],
    "drawn": "output 1" in schematic_svg(of_output(paths_of(array), array.drivers[0].id, 0)),
    "code": "CHANNELS 9ul" in next(iter(text for name, text in code_files(array).items() if name.endswith(".c"))),
    "codes": sorted({finding.code for finding in check(gather(array, FullWhite()))}),
    "schema": "TransistorArray" in schema_text(),
}
from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.of_build import AtBench, lamp_words
from tiny_lantern.bench.practice import Hidden, SimulatedMeter, first_lit
from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.why import why
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.edits_bench import take_reading
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.edits_power import add_supply
pins = drive_piece(add_board(add_piece(Build(), shelf().find(LampPart, "led-red-5mm"), lamps.model_copy(
    update={"lamp_count": 3})), shelf().find(BoardPart, "board-8bit-large")), "lamps", "pin")
pins = add_supply(pins, shelf().of(SupplyPart)[0])
lamp, bench, lit = sorted(lamp_words(pins))[1], AtBench(pins), first_lit(pins)
row = [row for row in bench.rows.values() if row.what == "resistor"][1]
meter = SimulatedMeter(pins, Hidden(Fault("lamp_of_another", lamp), 1, ""))
for end in (row.start, row.end):
    asked = Asked("V", end.node, bench.zero, pattern=lit.key)
    reading = BenchReading(id="r", kind="V", plus=end.node, minus=bench.zero, pattern=lit.key, value=meter.read(asked))
    pins = take_reading(pins, reading, "read")
from tiny_lantern.model.edits_inputs import add_input
from tiny_lantern.show.answering.machine import begin, step
from tiny_lantern.show.answering.tables import tables_of
from tiny_lantern.circuit.bill import whole_bill
tilted = add_input(array, "tilt")
tables = tables_of(tilted)
state = step(tables, begin(tables, [1]), [0])
tilt = {
    "pressed": state.heard[0].pressed,
    "words": tilted.rules[0].told(tilted),
    "rows": [row.end.terminal for row in connections(tilted) if row.start.on == "Tilt switch"],
    "pin": tilted.inputs[0].pin.pin,
    "bill": [line.name for line in whole_bill(tilted)].count("Tilt switch"),
    "code": "Tilt switch" in "".join(code_files(tilted).values()),
    "again": loads(dumps(tilted)) == tilted,
}
print(json.dumps({
    "tilt": tilt,
    "fault": [why(pins).causes[0].words, why(pins).causes[0].place == lamp],
    "way": way,
    "again": loads(dumps(build)) == build,
    "frame": render(build, np.array([0]))[0, 0].tolist(),
    "c": "effect_dim_light" in c_function(effect_kinds()["dim_light"].program),
    "part": [PART_TYPES["switch"].__name__, switch.limit_a],
    "findings": [finding.code for finding in check(gather(build, FullWhite()))],
    "commands": [command.keys for command in commands() if command.id == "say-hello"],
}))
"""

WINDOW = """
import json, sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication
from tiny_lantern.ui import theme
app = QApplication([])
theme.use_fonts(app)
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.model.bill import bill_of
from tiny_lantern.code.files import code_files
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.sheets.connections import connections
from tiny_lantern.ui.declared.registry import commands, stations
from tiny_lantern.ui.widgets.kind_tray import KindTray
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shots import settle, wait_until
faults = []
def hook(kind, error, trace):
    faults.append(f"{kind.__name__}: {error}")
    sys.__excepthook__(kind, error, trace)
sys.excepthook = hook
aside = Path(sys.argv[1])
lamps = LampGroup(id="lamps", name="Lamps", part_id="led-red-5mm", lamp_count=9)
build = add_board(Build(), shelf().find(BoardPart, "board-8bit-large"))
build = add_piece(build, shelf().find(LampPart, "led-red-5mm"), lamps)
build = drive_piece(build, "lamps", "array")
build = add_effect(build, look_of("dim_light", colour="#ff0000", level=0.5), 0, 8, 0, 5)
window, shell = open_window(Session(build, drawer_path=aside / "parts.json"), aside / "drafts")
session = shell.session
session.refused.connect(lambda error: faults.append(f"told: {error}"))
session.warm_up()
judged = lambda: session.evidence is not None and session.evidence.build is session.build
wait_until(app, judged)
for station in stations():
    shell.show_station(station.title)
    for slot in (None, 0, 8):
        session.select_slot(slot)
        settle(app)
    window.grab()
shell.show_station("Drive")
shell.stack.drive().hand.choose_channel(session.build.channels[2].id)
told = [label.text() for label in shell.stack.drive().form.findChildren(type(shell.transport.status))]
for name in ("compare-ways", "what-if", "boards", "sources", "figures", "say-hello"):
    next(command for command in commands() if command.id == name)
    shell.actions_by_id[name].trigger()
    settle(app)
busy = ("compare", "what-if", "sheet", "estimate", "export", "mends", "findings", "code", "wiring")
wait_until(app, lambda: not any(map(session.background.running, busy)))
shell.show_station("Sheets")
sheets = shell.stack.sheets()
wait_until(app, lambda: "Lamps" in sheets.preview.toPlainText())
for suffix in ("html", "csv", "wiring.csv"):
    sheets.save(aside / f"x.{suffix}", suffix)
    wait_until(app, lambda: (aside / f"x.{suffix}").exists() and not any(map(session.background.running, busy)))
for language in ("c", "python"):
    sheets.save_code(language, aside / language)
    wait_until(app, lambda: (aside / language).is_dir() and not any(map(session.background.running, busy)))
settle(app)
pieces = shell.pieces_hand()
settle(app)
tray = next(tray for tray in pieces.findChildren(KindTray))
tray.cards["fan"].click()
wait_until(app, judged)
fan = session.build.pieces[-1]
session.apply("Drove the fan", lambda build: drive_piece(build, fan.id, "pin"))
session.select_slot(session.build.line.span(fan.id).first + 3)
for station in stations():
    shell.show_station(station.title)
    settle(app)
    window.grab()
bench = shell.stack.bench()
wait_until(app, lambda: bench.sheet is not None and any("Fan" in name for name in bench.sheet.terminals.values()))
shell.show_station("Sheets")
wait_until(app, lambda: judged() and not any(map(session.background.running, busy)))
wait_until(app, lambda: "Fan" in sheets.preview.toPlainText())
print(json.dumps({
    "faults": faults, "fan": [fan.kind, fan.slot_count, len(session.build.channels_of[session.build.drivers[-1].id])],
    "again": loads(dumps(session.build)) == session.build,
    "leads": sum("Fan" in f"{row.start.on} {row.end.on}" for row in connections(session.build)),
    "played": any("CHANNELS 16ul" in text for text in code_files(session.build).values()),
    "at": [text for text in told if "output" in text],
    "bill": [[line.amount, line.name] for line in bill_of(session.build)],
    "sheet": (aside / "x.html").read_text(), "wiring": (aside / "x.wiring.csv").read_text(),
    "code": sorted(path.name for path in (aside / "c").iterdir()),
}))
window.close()
"""


def shown(title: str) -> str:
    """The code that a section of the page shows."""
    page = (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8")
    section = re.split(r"^## ", page, flags=re.MULTILINE)
    text = next(part for part in section if part.startswith(title))
    return "\n".join(line[4:] for line in text.splitlines() if line.startswith("    ") or not line)


@pytest.fixture(scope="module")
def copied(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A copy of the package into which each example was put."""
    folder = tmp_path_factory.mktemp("scratch")
    shutil.copytree(ROOT / "tiny_lantern", folder / "tiny_lantern", ignore=shutil.ignore_patterns("__pycache__"))
    for title, place in WHERE.items():
        (folder / "tiny_lantern" / place).write_text(shown(title), encoding="utf-8")
    data = [{"id": "switch-6a", "name": "Switch, 6 A", "limit_a": 6}]
    (folder / "tiny_lantern" / "catalogue" / "data" / "switch.json").write_text(json.dumps(data), encoding="utf-8")
    return folder


def says(folder: Path, script: str, *more: str) -> dict:
    """What a script says that runs in the copy."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, "-c", script, *more], cwd=folder, env=environment, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


@pytest.fixture(scope="module")
def found(copied: Path) -> dict:
    """What the copy says."""
    return says(copied, LOOK)


def test_a_way_to_drive_and_a_kind_of_piece_go_through_the_window_to_bill_wiring_and_code(
    copied: Path, tmp_path: Path
) -> None:
    seen = says(copied, WINDOW, str(tmp_path))
    assert seen["faults"] == []
    assert [text for text in seen["at"] if "on a transistor array, output 2" in text]
    assert [2, "Transistor array"] in seen["bill"]
    assert [9, "Resistor 220 Ω"] in seen["bill"]
    assert "Transistor array" in seen["sheet"]
    assert "Lamps 2" in seen["wiring"]
    assert "lantern.h" in seen["code"]
    assert seen["fan"] == ["fan", 7, 7]
    assert seen["again"]
    assert seen["leads"] == 14
    assert seen["played"]


def test_an_effect_is_one_file(found: dict) -> None:
    assert found["frame"] == [64, 64, 64]
    assert found["again"]
    assert found["c"]


def test_a_rule_is_one_file(found: dict) -> None:
    assert "name-unsaid" in found["findings"]


def test_a_kind_of_part_is_one_file_and_its_data(found: dict) -> None:
    assert found["part"] == ["SwitchPart", 6]


def test_a_command_is_one_file(found: dict) -> None:
    assert found["commands"] == ["Ctrl+Alt+H"]


def test_a_kind_of_fault_is_one_file(found: dict) -> None:
    assert found["fault"] == ["Lamps 2 is of another colour", True]


def test_a_kind_of_input_is_one_file(found: dict) -> None:
    tilt = found["tilt"]
    assert tilt["pressed"]
    assert tilt["words"] == "With each press of Tilt switch, the show begins anew"
    assert tilt["rows"] == [f"pin {tilt['pin']}"]
    assert tilt["bill"] == 1
    assert tilt["code"]
    assert tilt["again"]


def test_a_way_to_drive_is_one_file(found: dict) -> None:
    """9 red lamps of 1.9 V at 10 mA on 5 V less 0.9 V: 2.2 V over 10 mA is 220 ohm, less 1 ohm and a step of the
    series up."""
    way = found["way"]
    assert way["offered"] == "a transistor array"
    assert way["again"]
    assert way["schema"]
    assert way["pins"] == [f"lamp {number}" for number in range(9)]
    assert way["ohm"] == 220
    assert way["led_v"] == 12, "four red ones in series"
    assert way["on_a"] == pytest.approx((4.1 - 1.8) / (220 + 1 + 10), rel=1e-6)
    seven, two = way["boxes"]
    assert (seven[:2], two[:2]) == (["Lamps 1", 7], ["Lamps 2", 2])
    assert seven[2] == pytest.approx(7 * way["on_a"])
    assert seven[3] == 1.0
    assert way["drawn"]
    assert way["code"]
    assert "no-pin" not in way["codes"]
    assert sum("Lamps 2 output 2" in row for row in way["rows"]) == 1
    assert sum(row.endswith("Lamps 1 input 7") for row in way["rows"]) == 1


@pytest.mark.parametrize("title", WHERE)
def test_each_is_shown_in_some_ten_lines(title: str) -> None:
    assert 5 <= len([line for line in shown(title).splitlines() if line.strip()]) <= 19
