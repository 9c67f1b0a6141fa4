"""The exported program, compiled and run: its pins' edges, through models wired as the printed rows say, light every
lamp as the show asks, and no forbidden state comes about."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings

from tests.circuit.test_agreement import fed_builds
from tests.support.answering import answering_build, frames_of
from tests.support.at_pins import Lamps, lamps_of, play, shares
from tests.support.builds import one_strip, part
from tests.support.compiled import CC
from tests.support.driven import LARGE, OFFSET, ROUTED, driven, flood, hold, lamps, matrix
from tests.support.recorder import Event, run, run_python
from tiny_lantern.code.files import STACK_BYTES, code_files, sizes_of
from tiny_lantern.code.score import score_of, wire_orders
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.edits import change_build, with_part
from tiny_lantern.model.edits_drive import add_board, change_board, change_driver, data_outputs
from tiny_lantern.model.edits_pieces import add_piece, add_strip
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.listening import Listening
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.plans.pins import assign_pins
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.plans.steer import NEW, steer
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.show.answering.tables import tables_of
from tiny_lantern.show.levels import FULL_LEVEL, levels_at, levels_of
from tiny_lantern.show.weave import render
from tiny_lantern.ui.files import demo_build

COLOURS = ("#ffffff", "#000000", "#c08040", "#404040", "#ff0000", "#0a0a0a", "#80ff20")
BEGIN_S, END_S = 0.1, 0.4


def glowing(build: Build, colours: tuple[str, ...] = COLOURS) -> Build:
    """Every lamp at a colour of its own for the whole show."""
    build = change_build(build, show_s=2.0)
    for slot in range(build.line.slot_count):
        look = look_of("steady", colour=colours[slot % len(colours)])
        build = add_effect(build, look, slot, slot, 0.0, 2.0)
    return build


def done(build: Build, folder: Path, board: str = "board", run_s: float = END_S + 0.05, **more: object) -> list[Event]:
    """What the program of a board does."""
    return run(build, board, run_s, folder, **more)  # type: ignore[arg-type]


def seen(
    build: Build, folder: Path, begin_s: float = BEGIN_S, end_s: float = END_S, **more: int
) -> tuple[dict[tuple[str, int], float], Lamps]:
    """Which share of the time each lamp was lit, and the circuit with what went wrong in it."""
    events = done(build, folder, run_s=end_s + 0.05, **more)
    here = lamps_of(build, "Board", code_files(build)["lantern_io_board.c"])
    marks = [begin_s * 1e6, end_s * 1e6]
    lit = shares(play(here, events, marks), marks)
    return {key: float(value[0]) for key, value in lit.items()}, here


def asked(build: Build, driver: Driver, tick: int = 0) -> dict[tuple[str, int], float]:
    """Which share of the time each lamp of a driver is to be lit, by its level and its share of the turns."""
    frames = render(build, np.array([tick]))
    levels = levels_at(levels_of(build, driver), frames)[0] / FULL_LEVEL
    result = solve_drive(build).by_driver[driver.id]
    turns = np.divide(result.average_a, result.on_a * result.case.duties, where=result.on_a > 0,
                      out=np.ones_like(result.on_a))  # fmt: skip
    channels = build.channels_of[driver.id]
    return {(driver.id, each.output): float(levels[at] * turns[at]) for at, each in enumerate(channels)}


def agrees(build: Build, folder: Path, steps: int, within: float = 0.004, **more: int) -> None:
    """Every lamp is lit as it is asked to be, within a step of its dimming, and nothing forbidden happens."""
    lit, here = seen(build, folder, **more)
    assert here.faults == []
    for driver in build.drivers:
        for key, share in asked(build, driver).items():
            assert lit[key] == pytest.approx(share, abs=0.5 / steps + within), key


def steered(kind: str, chain_id: str | None, piece: Piece | None = None, **changes: object) -> Build:
    """Lamps on a register, and others whose inputs hang on it too, or on registers of their own."""
    piece = revise(piece or lamps(4), id="more", name="More")
    build = add_piece(driven("register", lamps(3)), part(piece.part_id), piece)
    build = drive_piece(build, "more", kind)
    if "transistor_id" in changes:
        build = with_part(build, part(str(changes["transistor_id"])))
    build = change_driver(build, f"more-{kind}", **changes) if changes else build
    return steer(build, f"more-{kind}", chain_id) if chain_id else build


def sharing_lines(by: str) -> Build:
    """Three chains on shared lines, each with a latch of its own."""
    build = driven("register", lamps(3))
    for number in (1, 2):
        piece = revise(lamps(4), id=f"more{number}", name=f"More {number}")
        build = add_piece(build, part(piece.part_id), piece)
        build = drive_piece(build, build.pieces[-1].id, "register")
        build = change_way(build, build.drivers[-1].id, bus_of="lamps-register", select_by=by)
    return build


def beside_relays() -> Build:
    """Lamps on pins that sink beside relays that are active low: all of them idle high."""
    build = add_piece(driven("pin", lamps(7), sink=True), part("floodlight-12v"), revise(flood(), name="Flood"))
    build = drive_piece(build, build.pieces[-1].id, "relay")
    return change_driver(with_part(build, part("relay-4")), build.drivers[-1].id, relay_id="relay-4")


ON_OFF: dict[str, Callable[[], Build]] = {
    "pins": lambda: driven("pin", lamps(7)),
    "pins that sink": lambda: driven("pin", lamps(7), sink=True),
    "registers": lambda: driven("register", lamps(17)),
    "registers that sink": lambda: driven("register", lamps(5), sink=True),
    "side by side": lambda: driven("register", lamps(3, wired="parallel")),
    "in series": lambda: driven("pin", lamps(2, wired="series")),
    "colour lamps": lambda: driven("register", lamps(3, "lamp-rgb-anode"), sink=True),
    "demultiplexer": lambda: driven("demux", lamps(5)),
    "two dies": lambda: driven("pair", lamps(3, "lamp-two-colour-2")),
    "matrix": lambda: driven("scanned", matrix(8, 8)),
    "matrix on registers": lambda: driven("scanned", matrix(4, 5), rows=4, columns=5, rows_by="register"),
    "blanked matrix": lambda: driven("scanned", matrix(4, 4), rows=4, columns=4, blank_s=50e-6),
    "counted matrix": lambda: change_way(
        change_way(driven("scanned", matrix(8, 8)), "matrix-scanned", rows_by="counter"), "matrix-scanned",
        reset_wired=True,
    ),
    "relay": lambda: driven("relay", flood()),
    "relay that is active low": lambda: driven("relay", flood(), relay_id="relay-4"),
    "relays beside lamps on pins": beside_relays,
    "held lamps": lambda: driven("hold", hold(3)),
    "switched transistors": lambda: driven("switch", lamps(4), dims=False),
    "switched high sides": lambda: driven(
        "switch", lamps(4), transistor_id="mosfet-high", pull_ohm=10e3, led_v=5.0, dims=False
    ),
    "transistors on the register": lambda: steered("switch", "lamps-register"),
    "high sides on registers": lambda: steered(
        "switch", NEW, transistor_id="mosfet-high", pull_ohm=10e3, led_v=5.0
    ),
    "relays on registers": lambda: steered("relay", NEW, flood()),
    "shared lines": lambda: sharing_lines("pin"),
    "a multiplexed latch": lambda: sharing_lines("multiplexer"),
}  # fmt: skip


@pytest.mark.parametrize("name", list(ON_OFF))
def test_what_is_on_or_off_is_so_at_its_lamps(name: str, tmp_path: Path) -> None:
    agrees(glowing(ON_OFF[name]()), tmp_path, 10**6)


@pytest.mark.parametrize("name", list(ON_OFF))
def test_the_module_in_python_does_the_same(name: str, tmp_path: Path) -> None:
    build = glowing(ON_OFF[name]())
    here = lamps_of(build, "Board", code_files(build)["lantern_io_board.c"])
    marks = [5e4, 15e4]
    lit = shares(play(here, run_python(build, "board", 0.16, tmp_path), marks), marks)
    assert here.faults == []
    for driver in build.drivers:
        for key, share in asked(build, driver).items():
            assert float(lit[key][0]) == pytest.approx(share, abs=0.012), key


@given(build=fed_builds())
@settings(max_examples=14, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much])
def test_random_builds_of_several_ways_light_their_lamps(build: Build) -> None:
    names = [part_.name for part_ in score_of(glowing(build)).playing]
    with tempfile.TemporaryDirectory() as folder:
        lit_build, folder_path = glowing(with_all_pins(build)), Path(folder)
        events = done(lit_build, folder_path, board=names[0], run_s=0.25)
        here = lamps_of(lit_build, lit_build.boards[0].name, code_files(lit_build)[f"lantern_io_{names[0]}.c"])
        marks = [1e5, 2e5]
        lit = shares(play(here, events, marks), marks)
    assert here.faults == []
    for driver in lit_build.drivers:
        for key, share in asked(lit_build, driver).items():
            if key in lit:
                assert float(lit[key][0]) == pytest.approx(share, abs=0.03), (driver.kind, key)


DIMMED: dict[str, tuple[Callable[[], Build], int]] = {
    "pins": (lambda: driven("pwm", lamps(5)), 255),
    "pins that sink": (lambda: driven("pwm", lamps(5), sink=True), 255),
    "twelve bits": (lambda: driven("pwm", lamps(5), board=ROUTED), 4095),
    "transistors": (lambda: driven("switch", lamps(3, "lamp-rgb-anode")), 255),
    "high sides": (
        lambda: driven("switch", lamps(4), transistor_id="mosfet-high", pull_ohm=10e3, led_v=5.0),
        255,
    ),
    "gate drivers": (lambda: driven("switch", lamps(3, "lamp-rgb-cathode"), led_v=12.0, has_driver=True), 255),
    "sinks": (lambda: driven("sink", lamps(7)), 255),
    "registers": (lambda: driven("register", lamps(9), levels_bits=6), 63),
    "a matrix": (lambda: driven("scanned", matrix(4, 4), rows=4, columns=4, levels_bits=4), 15 * 4),
}  # fmt: skip


@pytest.mark.parametrize("name", ["transistors", "sinks", "a matrix"])
def test_what_dims_in_python_is_within_a_step_of_its_level(name: str, tmp_path: Path) -> None:
    build, steps = glowing(DIMMED[name][0]()), DIMMED[name][1]
    here = lamps_of(build, "Board", code_files(build)["lantern_io_board.c"])
    marks = [5e4, 25e4]
    lit = shares(play(here, run_python(build, "board", 0.26, tmp_path), marks), marks)
    assert here.faults == []
    for driver in build.drivers:
        for key, share in asked(build, driver).items():
            assert float(lit[key][0]) == pytest.approx(share, abs=0.5 / steps + 0.03), key


@pytest.mark.parametrize("name", list(DIMMED))
def test_what_dims_is_within_a_step_of_its_level(name: str, tmp_path: Path) -> None:
    build, steps = DIMMED[name]
    agrees(glowing(build()), tmp_path, steps)


@pytest.mark.parametrize(
    ("build", "role", "a_second"),
    [
        (lambda: driven("pair", lamps(1, "lamp-two-colour-2"), alternate_hz=300.0), "lamp 0 end 0", 300),
        (lambda: driven("scanned", matrix(8, 8), row_rate_hz=2000.0), "latch", 2000),
        (lambda: driven("scanned", matrix(4, 4), rows=4, columns=4, levels_bits=3), "latch", 3 * 4000),
        (lambda: driven("demux", lamps(5), dwell_s=0.002), "enable", 500),
        (lambda: driven("sink", lamps(7), levels_bits=6), "latch", 6 / (63 * 17e-6)),
    ],
)
def test_it_comes_round_as_often_as_was_promised(
    build: Callable[[], Build], role: str, a_second: float, tmp_path: Path
) -> None:
    made = glowing(build(), ("#ffffff",))
    events = done(made, tmp_path, run_s=0.5)
    name = next(pin.pin for pin in made.drivers[0].pins if pin.role == role)
    number = next(key for key, pin in lamps_of(made, "Board", code_files(made)["lantern_io_board.c"]).pin_at.items()
                  if pin == name)  # fmt: skip
    high = [event.at_us for event in events if (event.kind, event.pin, event.value) == ("S", number, 1)]
    assert sum(0.1e6 <= at < 0.5e6 for at in high) == pytest.approx(0.4 * a_second, rel=0.02)


def test_a_knob_sets_how_bright_its_lamps_are(tmp_path: Path) -> None:
    build = glowing(change_way(driven("pwm", lamps(3), board=LARGE), "lamps-pwm", knob=True), ("#ffffff",))
    half, _ = seen(build, tmp_path, counts=512)
    assert list(half.values()) == pytest.approx([512 / 1023] * 3, abs=0.005)
    none, _ = seen(build, tmp_path, counts=0)
    assert set(none.values()) == {0.0}


@pytest.mark.parametrize("played", [run, run_python])
def test_what_a_knob_reads_at_rest_is_taken_off_where_that_is_asked(
    played: Callable[..., list[Event]], tmp_path: Path
) -> None:
    build = change_way(driven("pwm", lamps(1), board=OFFSET), "lamps-pwm", knob=True, rest_off=True)
    rest, full = build.shelf.of(BoardPart)[0].adc_offset, 4095
    build = glowing(build, ("#ffffff",))
    for counts, share in ((rest, 0.0), (rest // 2, 0.0), ((rest + full) // 2, 0.5), (full, 1.0)):
        events = played(build, "board", 0.03, tmp_path, counts=counts)
        ended = next(at for at, event in enumerate(events) if event.kind == "E")
        level = [event.value for event in events[:ended] if event.kind == "D"]
        assert level[-1] == pytest.approx(share, abs=0.002), counts


def test_ticks_keep_in_step_over_the_clocks_turn_to_nothing(tmp_path: Path) -> None:
    """A blink of one second on, one off: the same edges wherever the clock of 32 bits stands at the start."""
    build = change_build(driven("pin", lamps(1)), show_s=2.0)
    build = add_effect(build, look_of("steady", colour="#ffffff"), 0, 0, 0.5, 1.0)
    edges = []
    for start_us in (0, 2**32 - 700_000):
        events = done(build, tmp_path, run_s=4.2, start_us=start_us)
        edges.append([event.at_us for event in events if event.kind == "S" and 1e5 < event.at_us < 4.1e6])
    assert edges[0] == pytest.approx([5e5, 15e5, 25e5, 35e5], abs=40), "no drift, within a look at the clock"
    assert edges[1] == pytest.approx(edges[0], abs=40)


def test_a_relay_is_not_switched_faster_than_it_can(tmp_path: Path) -> None:
    build = change_build(driven("relay", flood()), show_s=1.0)
    for number in range(8):
        build = add_effect(build, look_of("steady", colour="#ffffff"), 0, 0, number * 0.12, 0.04)
    _, here = seen(build, tmp_path, 0.0, 0.9)
    assert here.faults == []


def test_frames_that_there_is_no_time_for_are_left_out(tmp_path: Path) -> None:
    build = change_build(glowing(driven("pin", lamps(1))), show_s=2.0)
    slow = done(build, tmp_path, run_s=1.0, look_ns=40_000_000)
    assert [event.value for event in slow if event.kind == "S"] == [0, 0, 1, 0, 0], "lit in time, and dark"


def test_the_loop_tells_what_it_does_where_that_is_switched_on(tmp_path: Path) -> None:
    build = glowing(change_way(driven("pwm", lamps(1), board=LARGE), "lamps-pwm", knob=True), ("#ffffff",))
    told = done(build, tmp_path, run_s=0.12, counts=300, compiler=(*CC, "-DLANTERN_TELL"))
    said = bytes(int(event.value) for event in told if event.kind == "B").decode()
    assert said.splitlines()[:2] == [f"frame {at}, left out 0, Lamps knob 300" for at in (1, 2)]
    quiet = done(build, tmp_path, run_s=0.12)
    assert not [event for event in quiet if event.kind == "B"]


def test_stopping_leaves_everything_dark(tmp_path: Path) -> None:
    for name in ("pins that sink", "registers", "matrix", "demultiplexer", "two dies", "held lamps", "relay"):
        build = glowing(ON_OFF[name](), ("#ffffff",))
        events = done(build, tmp_path, run_s=0.2)
        here = lamps_of(build, "Board", code_files(build)["lantern_io_board.c"])
        play(here, events, [])
        assert set(here.now_lit.values()) == {0.0}, name
        if name == "held lamps":
            assert {here.on_net(f"Festoon {word} switch, gate")[1] for word in ("full", "hold")} == {1.0}, "off"


def test_a_wrong_pin_or_a_swapped_wire_is_seen(tmp_path: Path) -> None:
    """The proof notices what it is there for: two lamps' pins swapped in the program alone."""
    build = glowing(driven("pin", lamps(2)), ("#ffffff", "#000000"))
    events = done(build, tmp_path)
    source = code_files(build)["lantern_io_board.c"]
    here = lamps_of(build, "Board", source)
    one, other = sorted(here.pin_at)
    here.pin_at[one], here.pin_at[other] = here.pin_at[other], here.pin_at[one]
    marks = [BEGIN_S * 1e6, END_S * 1e6]
    lit = shares(play(here, events, marks), marks)
    assert [float(lit[key][0]) for key in sorted(lit)] == pytest.approx([0.0, 1.0], abs=1e-6)


@pytest.mark.parametrize("name", ["pier", "footbridge", "cloak"])
def test_every_demo_lights_as_its_show_asks_frame_by_frame(name: str, tmp_path: Path) -> None:
    """Of what switches: in the middle of each frame a lamp is lit when it is asked to be. Of all: the light of half
    a second is what was asked for. Of data lines: the very bytes."""
    build, board = with_all_pins(demo_build(name)), board_of(demo_build(name))
    events = done(build, tmp_path, board=board, run_s=0.55)
    here = lamps_of(build, build.boards[0].name, code_files(build)[f"lantern_io_{board}.c"])
    tick_us = 1e6 / build.tick_hz
    ticks = np.arange(round(5e5 / tick_us))
    marks = [float(tick * tick_us + 600) for tick in range(len(ticks) + 1)]
    lit = shares(play(here, events, marks), marks)
    assert here.faults == []
    touched = [65535 if one.volts else 1 for one in tables_of(build).hears]  # as the recorder has it
    frames = frames_of(build, [touched] * len(ticks))
    for driver in build.drivers:
        levels = levels_at(levels_of(build, driver), frames) / FULL_LEVEL
        result = solve_drive(build).by_driver[driver.id]
        turns = result.average_a / np.maximum(result.on_a * result.case.duties, 1e-12)
        for at, channel in enumerate(build.channels_of[driver.id]):
            if driver.kind != "hold" or at == 0:
                got = lit[driver.id, channel.output]
                assert got.mean() == pytest.approx(levels[:, at].mean() * turns[at], abs=0.02), channel.id
    sent = [event for event in events if event.kind == "P"]
    if sent:
        wanted = wire_bytes(build, frames)
        assert [event.data for event in sent[: len(wanted)]] == wanted


def with_all_pins(build: Build) -> Build:
    """The build with a pin for everything on its boards; with a board where it has none."""
    build = build if build.boards else add_board(build, part(LARGE))
    for board in build.boards:
        build = assign_pins(build, board.id)
    return build


def board_of(build: Build) -> str:
    """What the first board is called in the files."""
    return score_of(with_all_pins(build)).playing[0].name


def wire_bytes(build: Build, frames: np.ndarray) -> list[bytes]:
    """What the one data line of a build is sent at each frame: red, green, blue and white of each light in the order
    of its wire."""
    columns = []
    for piece in on_data_lines(build)[build.boards[0].id]:
        span = build.line.span(piece.id)
        for index, order in enumerate(wire_orders(build, piece)):
            light = frames[:, span.first + index].astype(int)
            white = light.min(axis=1) if len(order) == 4 else np.zeros(len(frames), int)
            own = {name: light[:, at] - white for at, name in enumerate("RGB")} | {"W": white}
            columns += [own[letter] for letter in order]
    return [row.astype(np.uint8).tobytes() for row in np.stack(columns, axis=1)]


def test_a_data_line_is_sent_its_own_bytes_in_a_row(tmp_path: Path) -> None:
    """A strip before and one behind lamps on pins: one line of two pieces whose bytes lie apart in the frame."""
    build = add_piece(one_strip(5), part("led-red-5mm"), lamps(3))
    build = add_strip(build, part("rgb-5v-60"), 4, "Second")
    build = drive_piece(add_board(build, part(LARGE)), "lamps", "pin")
    build = glowing(with_all_pins(build))
    events = done(build, tmp_path)
    first = next(event for event in events if event.kind == "P")
    assert first.data == wire_bytes(build, render(build, np.array([0])))[0]
    assert len(first.data) == 27
    apart = glowing(with_all_pins(data_outputs(build, True)))
    each = [event for event in done(apart, tmp_path) if event.kind == "P"][:2]
    assert [len(event.data) for event in each] == [15, 12]
    assert len({event.pin for event in each}) == 2
    assert b"".join(event.data for event in each) == first.data


def test_more_than_sixty_five_thousand_bytes_are_sent_whole(tmp_path: Path) -> None:
    build = add_strip(one_strip(1), part("rgb-5v-60"), 22_000, "Long")
    build = with_all_pins(add_board(build, part(ROUTED)))
    build = add_effect(build, look_of("steady", colour="#ffffff"), 0, 22_000, 0.0, 1.0)
    files = code_files(build)
    for name, text in files.items():
        (tmp_path / name).write_text(text)
    assert ", 66003);" in files["lantern_io_board.c"]
    told = [*CC, "-I", str(tmp_path), "-c", str(tmp_path / "lantern_io_board.c"), "-o", str(tmp_path / "x.o")]
    subprocess.run(told, check=True)


def test_boards_in_a_chain_hand_on_the_number_of_the_frame_and_follow_it(tmp_path: Path) -> None:
    build = add_board(driven("pin", lamps(2)), part(LARGE))
    build = add_piece(build, part("led-red-5mm"), revise(lamps(2), id="more", name="More"))
    build = change_build(drive_piece(build, "more", "pin", build.boards[1].id), show_s=1.0)
    build = add_effect(build, look_of("steady", colour="#ffffff"), 0, 3, 0.5, 0.5)
    names = [part_.name for part_ in score_of(build).playing]
    events = done(build, tmp_path, board=names[0], run_s=0.3)
    said = bytes(int(event.value) for event in events if event.kind == "B")
    assert said[:6] == bytes([0xA7, 0, 0, 0, 0, 0])
    assert said[6:12] == bytes([0xA7, 1, 0, 0, 0, 1])
    heard = b"\x00\xa7" + bytes([20, 0, 0, 0, 20]) + b"\xa7" + bytes([21, 0, 0, 0, 99])  # the second is damaged
    for played in (run, run_python):
        told = played(build, names[1], 0.1, tmp_path, heard=heard)
        lit_at = [event.at_us for event in told if event.kind == "S" and event.value == 1]
        assert lit_at, "frame 20 is in the light"
        assert lit_at[0] < 1e3


def test_the_program_compiles_as_c_plus_plus_too(tmp_path: Path) -> None:
    several = steered("relay", NEW, flood())
    pier = with_all_pins(demo_build("pier"))
    listening = change_board(pier, pier.boards[0].id, listens=Listening())
    for build in (pier, listening, glowing(several), glowing(sharing_lines("multiplexer"))):
        for name, text in code_files(build).items():
            (tmp_path / name).write_text(text)
            assert max(map(len, text.splitlines())) <= 120 or name.startswith("lantern_pier"), name
        for name in code_files(build):
            if name.endswith(".c"):
                told = ["c++", "-x", "c++", "-Wall", "-Wextra", "-Werror", "-c", name, "-o", "x.o"]
                subprocess.run(told, check=True, cwd=tmp_path)


MAIN_OF_8_BITS = """
#include "lantern.h"
#include "lantern_pins.h"
volatile uint8_t port;
volatile uint32_t clock;
void pin_output(uint8_t pin) { port = pin; }
void pin_input(uint8_t pin, uint8_t up) { port = pin + up; }
void pin_set(uint8_t pin, uint8_t high) { port = pin + high; }
void pin_dim(uint8_t pin, uint16_t level, uint16_t full) { port = pin + level + full; }
void pixels_send(uint8_t pin, const uint8_t *bytes, uint32_t count) { port = pin + bytes[count - 1]; }
uint16_t pin_counts(uint8_t pin) { return (uint16_t)(port + pin); }
uint8_t pin_read(uint8_t pin) { return port == pin; }
void serial_send(uint8_t byte) { port = byte; }
int16_t serial_read(void) { return (int16_t)(port - 1); }
uint32_t now_us(void) { return clock; }
int main(void) { lantern_start(); for (;;) lantern_loop(); }
"""


def compiled_size(folder: Path, *sources: str) -> np.ndarray:
    """Programme, what is copied to memory, and what is cleared there, of a program for a board of 8 bits. [bytes]"""
    told = ["avr-gcc", "-mmcu=avr6", "-std=gnu11", "-Os", "-ffunction-sections", "-fdata-sections",
            "-nostartfiles", "-Wl,--gc-sections,-e,main", *sources, "-o", "whole.elf"]  # fmt: skip
    subprocess.run(told, check=True, cwd=folder, capture_output=True)
    rows = subprocess.run(["avr-size", "whole.elf"], check=True, cwd=folder, capture_output=True, text=True).stdout
    return np.array(rows.splitlines()[1].split()[:3], int)


@pytest.mark.skipif(shutil.which("avr-gcc") is None, reason="no compiler for a board of 8 bits")
@pytest.mark.parametrize("name", ["pier", "pier that listens", "answering 3", "answering 12", *ON_OFF, *DIMMED])
def test_what_is_estimated_of_its_memory_is_near_what_a_compiler_makes(name: str, tmp_path: Path) -> None:
    made = ON_OFF.get(name) or DIMMED.get(name, (None, 0))[0]
    if made is not None:
        build = glowing(made())
    else:
        build = with_all_pins(demo_build("pier")) if "pier" in name else answering_build(int(name.split()[1]))
    if "listens" in name:
        build = change_board(build, build.boards[0].id, listens=Listening())
    files, ((part_, size),) = code_files(build), sizes_of(build, score_of(build))
    for each, text in files.items():
        (tmp_path / each).write_text(text)
    (tmp_path / "main.c").write_text(MAIN_OF_8_BITS)
    (tmp_path / "empty.c").write_text("int main(void) { return 0; }")
    sources = [*(each for each in files if each.endswith(".c")), "main.c"]
    text, data, bss = compiled_size(tmp_path, *sources) - compiled_size(tmp_path, "empty.c")
    assert size.ram_bytes - STACK_BYTES == pytest.approx(data + bss, rel=0.1, abs=16), part_.title
    assert size.flash_bytes == pytest.approx(text + data, rel=0.25, abs=700)
