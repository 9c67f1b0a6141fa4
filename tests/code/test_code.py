"""Code for boards: compiled with every warning an error, it plays the program's own frames byte for byte."""

import re
import shutil
import subprocess
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.support.builds import builds, one_strip, part
from tests.support.compiled import CC, run_c
from tests.support.driven import LARGE, driven, flood, hold, lamps, lit
from tests.support.pieces import pier
from tiny_lantern.code.c_show import HEADER
from tiny_lantern.code.c_texts import BY_255
from tiny_lantern.code.files import code_files, size_of
from tiny_lantern.code.lines import within_page
from tiny_lantern.code.names import Names, comment, identifier
from tiny_lantern.code.score import score_of, wire_orders
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.edits_drive import add_board, change_channel, change_driver, remove_board
from tiny_lantern.model.edits_names import note_lamp
from tiny_lantern.model.edits_pieces import add_piece, add_strip, change_piece
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.edits_scenes import add_scene, change_scene
from tiny_lantern.model.edits_show import add_effect, change_effect, remove_effect
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.show.channels import channel_duties
from tiny_lantern.show.levels import levels_at, levels_of
from tiny_lantern.show.weave import render
from tiny_lantern.ui.files import demo_build

TICKS = 2000
MAIN = """
#include <stdio.h>
#include "lantern.h"
void lantern_levels(const uint16_t *levels, uint32_t count);
void lantern_write(const uint8_t *bytes, uint32_t count) { fwrite(bytes, 1, count, stdout); }
void lantern_pass_on(uint32_t tick);
void lantern_pass_on(uint32_t tick) { fwrite(&tick, 4, 1, stderr); }
void lantern_levels(const uint16_t *levels, uint32_t count) { fwrite(levels, 2, count, stderr); }
int main(void)
{
    uint32_t tick;
    for (tick = 0; tick < %du; tick++) lantern_frame(tick);
    return 0;
}
"""


def shows(build: Build) -> list[str]:
    """The sources of the boards' shows, by name."""
    return [name for name in code_files(build) if name.endswith(".c") and not name.startswith("lantern_io_")]


def played_in_c(build: Build, ticks: int, folder: Path) -> list[bytes]:
    """What each board sends over some ticks, compiled as C99 with every warning an error."""
    return [sent for sent, _ in both_in_c(build, ticks, folder)]


def both_in_c(build: Build, ticks: int, folder: Path) -> list[tuple[bytes, bytes]]:
    """What each board sends over some ticks, and the levels of the channels that it drives itself."""
    files = code_files(build)
    for name, text in files.items():
        (folder / name).write_text(text, encoding="utf-8")
    (folder / "main.c").write_text(MAIN % ticks)
    sent = []
    for name in files:
        if name.endswith(".c") and not name.startswith("lantern_io_"):
            program = folder / name.removesuffix(".c")
            sources = [str(folder / name), str(folder / "main.c")]
            subprocess.run([*CC, "-I", str(folder), *sources, "-o", str(program)], check=True)
            done = subprocess.run([str(program)], check=True, capture_output=True)
            sent.append((done.stdout, done.stderr))
    return sent


def played_in_python(build: Build, ticks: list[int]) -> list[list[bytes]]:
    """What each board sends at some ticks, by its module."""
    sent, files = [], code_files(build, "python")
    for text in (files[f"lantern_{each.name}.py"] for each in score_of(build).playing):
        room: dict[str, object] = {}
        exec(text, room)
        sent.append([bytes(room["frame"](tick)) for tick in ticks])  # type: ignore[operator]
    return sent


def wanted(build: Build, ticks: np.ndarray) -> np.ndarray:
    """The program's own frames at ticks of the show, each light in the order of its wire. (n_ticks, n_bytes)"""
    frames = (
        render(build, ticks) if (np.diff(ticks) >= 0).all() else np.stack([render(build, at[None])[0] for at in ticks])
    )
    columns = []
    for span in build.line.spans:
        for index, order in enumerate(wire_orders(build, span.piece)):
            light = frames[:, span.first + index].astype(int)
            white = light.min(axis=1) if len(order) == 4 else np.zeros(len(ticks), int)
            colours = {name: light[:, at] - white for at, name in enumerate("RGB")} | {"W": white}
            columns += [colours[letter] for letter in order]
    return np.stack(columns, axis=1).astype(np.uint8)


def every_effect() -> Build:
    """All kinds one after another on a strip, on a second one of other colours or across both, in all four ways of
    laying."""
    build = add_strip(one_strip(17), part("rgbw-5v-60"), 9, "Second")
    build = change_build(build, show_s=60.0)
    for number, kind in enumerate(effect_kinds().values()):
        first, last = ((number % 5, 25 - number % 7), (0, 16), (17, 25))[number % 3]
        build = add_effect(build, look_of(kind.kind, **kind.sample), first, last, number * 1.9, 3.1)
        layer = ("replace", "add", "lighten", "dim")[number % 4]
        turned = {"mirrored": number % 3 == 1, "turned": number % 5 - 2, "backward": number % 2 == 1}
        build = change_effect(build, build.effects[-1].id, layer=layer, **turned)
    return build


def test_every_effect_in_every_layer_plays_the_same_over_two_thousand_ticks(tmp_path: Path) -> None:
    build = every_effect()
    (sent,) = played_in_c(build, TICKS, tmp_path)
    ours = wanted(build, np.arange(TICKS))
    assert ours.any(axis=1).mean() > 0.5
    assert sent == ours.tobytes()
    some = list(range(0, TICKS, 53))
    assert b"".join(played_in_python(build, some)[0]) == ours[some].tobytes()


@pytest.mark.parametrize("name", ["footbridge", "cloak"])
def test_the_demos_play_the_same(name: str, tmp_path: Path) -> None:
    build = revise(demo_build(name), rules=())
    (sent,) = played_in_c(build, 600, tmp_path)
    assert sent == wanted(build, np.arange(600) % build.timeline.count).tobytes()


def test_a_board_plays_its_own_lamps_and_the_first_has_the_data_line(tmp_path: Path) -> None:
    build = revise(demo_build("pier"), rules=())
    sent = played_in_c(build, 200, tmp_path)
    assert len(sent) == len(build.boards)
    assert sent[0] == wanted(build, np.arange(200)).tobytes()
    text = code_files(build)[f"lantern_{score_of(build).slices[0].name}.c"]
    driver = build.drivers[0]
    assert f"pin {driver.pins[0].pin:<6} {driver.name}, {driver.pins[0].role}" in text


@pytest.mark.parametrize(("after_end", "plays"), [("repeat", 1), ("hold", 2), ("dark", 1)])
def test_after_the_end_it_repeats_holds_or_goes_dark(after_end: str, plays: int, tmp_path: Path) -> None:
    build = change_build(lit(one_strip(4), kind="breathe", length_s=1.0), show_s=1.0)
    build = change_build(build, after_end=after_end, plays=plays)
    count, ticks = build.timeline.count, np.arange(120)
    (sent,) = played_in_c(build, 120, tmp_path)
    shown = {"repeat": ticks % count, "hold": np.where(ticks < 2 * count, ticks % count, count - 1),
             "dark": np.minimum(ticks, count - 1)}[after_end]  # fmt: skip
    ours = wanted(build, shown)
    if after_end == "dark":
        ours[ticks >= count] = 0
    assert sent == ours.tobytes()
    assert b"".join(played_in_python(build, ticks.tolist())[0]) == ours.tobytes()


def test_scenes_fade_into_one_another_on_the_board_as_they_do_here(tmp_path: Path) -> None:
    build = every_effect()
    for start_s, fade_s in ((9.0, 3.0), (21.0, 0.0), (30.0, 4.55), (47.0, 1.0)):
        build = add_scene(build, start_s)
        scene = next(scene for scene in build.scenes if scene.start_s == start_s)
        build = change_scene(build, scene.id, fade_s=fade_s)
    build = change_scene(build, build.scenes[0].id, fade_s=0.5)
    ours = wanted(build, np.arange(TICKS))
    assert (ours != wanted(revise(build, scenes=()), np.arange(TICKS))).any(axis=1).mean() > 0.05
    (sent,) = played_in_c(build, TICKS, tmp_path)
    assert sent == ours.tobytes()
    some = list(range(0, TICKS, 53))
    assert b"".join(played_in_python(build, some)[0]) == ours[some].tobytes()


def test_a_cap_is_kept_by_the_board_as_it_is_by_the_program(tmp_path: Path) -> None:
    build = every_effect()
    second = revise(build.feeds[0], id="feed-two", attach=revise(build.feeds[0].attach, strip_id="second"))
    build = revise(build, feeds=(*build.feeds, second))
    free = wanted(build, np.arange(TICKS))
    build = change_supply(build, "supply", show_cap_a=0.25)
    ours = wanted(build, np.arange(TICKS))
    dimmed = (ours != free).any(axis=1)
    assert 0.05 < dimmed.mean() < 0.95
    (sent,) = played_in_c(build, TICKS, tmp_path)
    assert sent == ours.tobytes()
    some = list(range(0, TICKS, 53))
    assert b"".join(played_in_python(build, some)[0]) == ours[some].tobytes()


def chained() -> Build:
    """Every effect on two strips, each on the data line of a board of its own, and lamps on pins of a third."""
    build = add_board(every_effect(), part(LARGE))
    for _ in range(2):
        build = add_board(build, part(LARGE))
    build = change_piece(build, "second", board_id=build.boards[1].id)
    build = add_piece(build, part("led-red-5mm"), lamps(3))
    build = drive_piece(build, "lamps", "pwm")
    build = change_driver(build, build.drivers[0].id, board_id=build.boards[2].id, pins=())
    second = revise(build.feeds[0], id="feed-two", attach=revise(build.feeds[0].attach, strip_id="second"))
    return revise(build, feeds=(*build.feeds, second))


@pytest.mark.parametrize("cap_a", [None, 0.25])
def test_boards_in_a_chain_play_one_show_and_count_together_what_a_supply_gives(
    cap_a: float | None, tmp_path: Path
) -> None:
    build = chained()
    build = change_supply(build, "supply", show_cap_a=cap_a)
    ours = wanted(build, np.arange(TICKS))
    slices = [ours[:, :51], ours[:, 51:87], ours[:, 87:]]
    sent = both_in_c(build, TICKS, tmp_path)
    assert [one == wanted_.tobytes() for (one, _), wanted_ in zip(sent, slices, strict=True)] == [True] * 3
    passed = [np.frombuffer(told, np.uint32) for _, told in sent[:2]]
    assert all(np.array_equal(each, np.arange(TICKS)) for each in passed)
    assert len(sent[2][1]) == TICKS * 3 * 2, "the last one hands nothing on, and has levels of its own"
    some = list(range(0, TICKS, 211))
    for told, own in zip(played_in_python(build, some), slices, strict=True):
        assert b"".join(told) == own[some].tobytes()


def test_the_code_says_each_board_s_place_and_lights_and_leaves_out_those_without_any() -> None:
    build = chained()
    files = code_files(build)
    header = files[HEADER]
    assert "#define LANTERN_BOARDS 3ul" in header
    for place, (part_, lights) in enumerate(
        zip(score_of(build).slices, ("0 to 16", "17 to 25", "26 to 28"), strict=True)
    ):
        assert f"#define BOARD_{part_.name.upper()} {place}ul /* {part_.title}: lights {lights} */" in header
        source = files[f"lantern_{part_.name}.c"]
        assert f"const uint32_t lantern_board = BOARD_{part_.name.upper()};" in source
        assert f"Board {place + 1} of 3 in the chain: lights {lights}." in source
    first = change_piece(build, "second", board_id=None)
    assert len(shows(first)) == 2
    assert "LANTERN_BOARDS 2ul" in code_files(first)[HEADER]
    alone = code_files(remove_board(remove_board(build, build.boards[1].id), build.boards[2].id))
    assert len(shows(remove_board(remove_board(build, build.boards[1].id), build.boards[2].id))) == 1
    assert "pass_on" not in "".join(alone.values())


def test_a_board_sets_the_levels_of_what_it_drives_as_they_are_worked_out_here(tmp_path: Path) -> None:
    build = revise(demo_build("pier"), rules=())
    ((_, told),) = both_in_c(build, 400, tmp_path)
    frames = render(build, np.arange(400))
    ours = np.concatenate([levels_at(levels_of(build, driver), frames) for driver in build.drivers], axis=1)
    assert np.array_equal(np.frombuffer(told, np.uint16).reshape(400, -1), ours)
    assert {0, 65535} <= set(ours.ravel().tolist())
    assert len(set(ours[:, 0].tolist())) > 20  # the lighthouse dims
    room: dict[str, object] = {}
    exec(next(iter(code_files(build, "python").values())), room)
    for tick in (0, 123, 399):
        assert room["levels"](room["frame"](tick)) == ours[tick].tolist()  # type: ignore[operator]


def test_a_level_is_divided_exactly_without_a_division(tmp_path: Path) -> None:
    count = "for (n = 0; n < 16777216u; n++) { wrong += by_255(n) != n / 255u; }"
    main = f'int main(void) {{ uint32_t n, wrong = 0; {count} printf("%u\\n", (unsigned)wrong); return 0; }}'
    assert run_c(f"#include <stdint.h>\n#include <stdio.h>\n{BY_255}{main}\n", tmp_path) == "0\n"


@pytest.mark.parametrize("kind", ["register", "pwm", "relay", "hold", "sink"])
def test_whole_levels_are_the_duties_that_are_judged(kind: str) -> None:
    piece = {"relay": flood(), "hold": hold(3)}.get(kind, lamps(3, "led-red-5mm"))
    build = lit(driven(kind, piece), kind="breathe", colour="#c08040", period_s=3.0)
    driver, frames = build.drivers[0], render(build, np.arange(0, 400, 7))
    assert levels_at(levels_of(build, driver), frames) / 65535 == pytest.approx(
        channel_duties(build, driver, frames), abs=2 / 65535
    )


def test_dies_whites_and_trims_count_in_levels() -> None:
    build = lit(driven("pwm", lamps(1, "lamp-rgb-cathode")), colour="#ff8040")
    frames = render(build, np.array([0]))
    levels = levels_of(build, build.drivers[0])
    assert [level.channel.die for level in levels] == ["red", "green", "blue"]
    full = levels_at(levels, frames)[0]
    assert full.tolist() == [min(65535, int(byte) * 65536 // 255) for byte in frames[0, 0]]
    halved = levels_of(change_channel(build, levels[0].channel.id, trim=0.5), build.drivers[0])
    assert levels_at(halved, frames)[0, 0] == full[0] // 2


def test_orders_of_colours_are_applied_last(tmp_path: Path) -> None:
    build = lit(one_strip(3), colour="#ff8000")
    for order in ("GRB", "BRG"):
        turned = change_piece(build, "strip", colour_order=order)
        (sent,) = played_in_c(turned, 1, tmp_path)
        assert sent == wanted(turned, np.arange(1)).tobytes()
        assert sent[order.index("R")] == 255
        assert sent[order.index("B")] == 0


def test_a_chain_of_mixed_lamps_sends_each_lamps_own_order(tmp_path: Path) -> None:
    chain = lamps(3, "lamp-addressable-8mm", colour_order="RGB")
    build = note_lamp(
        add_piece(Build(), part(chain.part_id), chain), SlotRef(piece_id="lamps", index=1), colour_order="BGR"
    )
    (sent,) = played_in_c(lit(build, colour="#ff0000"), 1, tmp_path)
    assert list(sent) == [255, 0, 0, 0, 0, 255, 255, 0, 0]


@settings(max_examples=4, deadline=None, suppress_health_check=list(HealthCheck))
@given(build=builds())
def test_any_build_with_a_show_plays_the_same(build: Build, tmp_path_factory: pytest.TempPathFactory) -> None:
    if not build.effects:
        return
    (sent,) = played_in_c(build, 50, tmp_path_factory.mktemp("c"))
    assert sent == wanted(build, np.arange(50) % build.timeline.count).tobytes()


def test_names_stamp_and_pins_stand_in_the_code() -> None:
    named = note_lamp(
        driven("register", lamps(4)),
        SlotRef(piece_id="lamps", index=2),
        place="Quay, north",
        function="ferry */ at berth",
    )
    build = lit(named)
    files = code_files(build)
    header = files[HEADER]
    stamp = score_of(build).stamp
    assert f'#define LANTERN_STAMP "{stamp}"' in header
    assert "#define LIGHT_QUAY_NORTH 2ul /* Quay, north: ferry * / at berth */" in header
    moved = change_piece(build, "lamps", lamp_count=5)
    assert score_of(moved).stamp != stamp
    assert "float" not in "".join(files.values())
    assert "malloc" not in "".join(files.values())


def test_tables_can_be_told_to_stay_with_the_program(tmp_path: Path) -> None:
    build = demo_build("pier")
    build = change_supply(build, build.supplies[0].id, show_cap_a=0.5)
    files = code_files(build)
    for name, text in files.items():
        (tmp_path / name).write_text(text)
    for name, text in files.items():
        if name.endswith(".c"):  # whatever reads a table as if it lay in memory is refused
            told = ["-DLANTERN_FLASH=volatile", "-c", "-o", str(tmp_path / "board.o")]
            subprocess.run([*CC, *told, str(tmp_path / name)], check=True)
            assert len(re.findall(r"^static const (?!LANTERN_FLASH)\w+ \w+\[", text, re.MULTILINE)) == 0


def test_an_effect_tells_what_was_chosen_and_only_what_differs_is_given_to_it() -> None:
    build = one_strip(60)
    for number, length in enumerate((8, 5)):
        look = look_of("chase", colour="#ffb648", length_px=length, spacing_px=30)
        build = add_effect(build, look, 0, 59, 4 * number, 4)
    source = code_files(build)["lantern_board.c"]
    assert "static void effect_chase(int32_t slot, int32_t tick, int32_t length, int32_t *red" in source
    assert "/* chase, lights 0 to 59, 0:04.0 for 4 s\n * colour #ffb648, length 5, tail" in source
    assert "    effect_chase(slot, tick, 5, &light->red, &light->green, &light->blue);" in source
    assert "int64" not in source


def test_no_line_of_c_is_wider_than_a_page(tmp_path: Path) -> None:
    for build in (demo_build("pier"), demo_build("footbridge"), every_effect()):
        for name, text in code_files(build).items():
            wide = [line for line in text.splitlines() if len(line) > 100]
            assert not wide, (name, wide[:3])


@given(st.lists(st.sampled_from(["alpha(1, 2)", "beta", "+", "*", ", ", "(gamma)", "/* why */"]), max_size=40))
def test_a_line_that_is_broken_has_the_same_words(parts: list[str]) -> None:
    line = "    " + " ".join(parts)
    assert within_page(line).split() == line.split() or "/*" in line
    assert within_page(within_page(line)) == within_page(line)


def test_names_become_identifiers_that_differ() -> None:
    names = Names()
    assert [names.of(name, "light") for name in ("Quai è 3", "quai e 3", "3rd", "…", "")] == [
        "quai_e_3", "quai_e_3_2", "light_3rd", "light", "light_2",
    ]  # fmt: skip
    assert identifier("x" * 99, "a") == "x" * 40
    assert [identifier(name, "lamp") for name in ("Причал", "Γέφυρα", "Straße", "桥")] == [
        "prichal", "gefyra", "strasse", "qiao",
    ]  # fmt: skip
    assert comment("a */ b\\\n c") == "a * / b/ c"


def test_a_larger_show_is_estimated_larger_and_no_show_is_refused() -> None:
    small, large = lit(one_strip(10)), every_effect()
    sizes = [size_of(score_of(build), score_of(build).slices[0]) for build in (small, large)]
    assert sizes[0].flash_bytes < sizes[1].flash_bytes
    longer = score_of(lit(one_strip(17)))
    assert size_of(longer, longer.slices[0]).ram_bytes - sizes[0].ram_bytes == 7 * 3
    blinking = score_of(lit(lit(one_strip(10)), kind="blink"))
    kept = size_of(blinking, blinking.slices[0]).ram_bytes - sizes[0].ram_bytes
    assert kept == 16 + 4, (
        "its light of this frame, kept, and places among those that are on and those that a run meets"
    )
    for build in (one_strip(5), Build(), revise(small, effects=())):
        with pytest.raises(LanternError, match="no show to play"):
            code_files(build)


def test_what_a_person_calls_things_never_breaks_the_code(tmp_path: Path) -> None:
    build = pier()
    nasty = '*/ int main() { } /* " ??/ ü'
    build = change_build(lit(change_piece(build, build.pieces[0].id, name=nasty)), name=nasty)
    played_in_c(build, 1, tmp_path)
    assert played_in_python(build, [0])[0][0]


NARROW = """
#include "lantern.h"
__sfr __at 0xff simulator;
static void put(uint8_t letter) { simulator = 'p'; simulator = letter; }
void lantern_write(const uint8_t *bytes, uint32_t count)
{
    uint16_t at;
    for (at = 0; at < (uint16_t)count; at++) {
        put("0123456789abcdef"[bytes[at] >> 4]);
        put("0123456789abcdef"[bytes[at] & 15]);
    }
    put(10);
}
void main(void)
{
    static const uint16_t ticks[] = {%s};
    uint8_t at;
    put("01234"[sizeof(int)]);
    put(10);
    for (at = 0; at < sizeof ticks / sizeof *ticks; at++) lantern_frame(ticks[at]);
    simulator = 's';
    while (1) {}
}
"""


def in_turn(kinds: list[str]) -> Build:
    """Kinds of effects half a second each over a ground, in all ways of laying, under a cap; then another scene fades
    in."""
    build = change_build(lit(one_strip(4), colour="#604020", length_s=30.0), show_s=30.0)
    for number, kind in enumerate(kinds):
        look = look_of(kind, **effect_kinds()[kind].sample)
        build = add_effect(build, look, number % 2, 3, number * 0.5, 0.5)
        layer = ("replace", "add", "lighten", "dim")[number % 4]
        turned = {"mirrored": number % 3 == 1, "backward": number % 3 == 2, "turned": number % 3}
        build = change_effect(build, build.effects[-1].id, layer=layer, **turned)
    build = add_scene(change_supply(build, "supply", show_cap_a=0.08), len(kinds) * 0.5)
    return change_scene(build, build.scenes[1].id, fade_s=1.0)


@pytest.mark.parametrize("group", range(5))
def test_each_kind_plays_the_same_whoever_is_last_before_a_fade(group: int, tmp_path: Path) -> None:
    build = in_turn(sorted(effect_kinds())[group::5])
    (sent,) = played_in_c(build, 260, tmp_path)
    assert sent == wanted(build, np.arange(260)).tobytes()


@pytest.mark.skipif(
    not (shutil.which("sdcc") and shutil.which("sz80")), reason="no compiler and simulator of 16-bit int"
)
@pytest.mark.parametrize("group", range(3))
def test_where_int_has_sixteen_bits_it_plays_the_same(group: int, tmp_path: Path) -> None:
    kinds = sorted(effect_kinds())[group::3]
    build = in_turn(kinds)
    ticks = [number * 20 + at for number in range(len(kinds) + 2) for at in (3, 17)]
    files = code_files(build)
    for name, text in files.items():
        (tmp_path / name).write_text(text, encoding="utf-8")
    (tmp_path / "main.c").write_text(NARROW % ", ".join(map(str, ticks)))
    for name in ("lantern_board.c", "main.c"):
        quick = ["sdcc", "-mz80", "--std-c99", "--max-allocs-per-node", "100"]
        subprocess.run([*quick, "-c", name], cwd=tmp_path, check=True, capture_output=True)
    subprocess.run(["sdcc", "-mz80", "main.rel", "lantern_board.rel", "-o", "show.ihx"], cwd=tmp_path, check=True,
                   capture_output=True)  # fmt: skip
    told = subprocess.run(
        ["sz80", "-b", "-I", "if=outputs[0xff]", "show.ihx"], cwd=tmp_path, input="run\nquit\n", text=True,
        capture_output=True, timeout=100, check=False,
    ).stdout  # fmt: skip
    lines = re.findall(r"^(?:[0-9a-f]{24}|2)$", told, re.MULTILINE)
    assert lines[0] == "2", "its int has two bytes"
    assert lines[1:] == [bytes(row).hex() for row in wanted(build, np.array(ticks))]


def test_a_list_of_one_effect_never_has_the_name_of_another_effect(tmp_path: Path) -> None:
    build = add_strip(add_strip(Build(), part("rgb-5v-60"), 4, "A"), part("rgb-5v-60"), 4, "A marks")
    for first in (0, 4):
        build = add_effect(build, look_of("morse"), first, first + 3, 0.0, 4.0)
    assert played_in_c(build, 40, tmp_path) == [wanted(build, np.arange(40)).astype(np.uint8).tobytes()]


def test_the_stamp_of_the_code_follows_whatever_the_code_depends_on_and_the_sheet_s_does_not() -> None:
    build = lit(driven("register", lamps(4)))
    code, sheet = score_of(build).stamp, stamp_of(build)
    assert code.startswith(f"{sheet}-")
    effect = build.effects[0].id
    for changed in (
        remove_effect(add_effect(build, build.effects[0].look, 0, 3, 5.0, 2.0), effect),
        change_effect(build, effect, start_s=1.0),
        change_build(build, tick_hz=20.0),
        change_build(build, after_end="dark"),
        change_parts(build, revise(build.shelf.of(LampPart)[0], dies=(revise(
            build.shelf.of(LampPart)[0].dies[0], light=build.shelf.of(LampPart)[0].dies[0].light.model_copy(
                update={"intensity_cd": 9.0})),))),
    ):  # fmt: skip
        assert score_of(changed).stamp != code
        assert stamp_of(changed) == sheet
    moved = revise(build, pieces=(revise(build.pieces[0], spacing_m=0.5),))
    priced = change_parts(build, revise(build.shelf.of(LampPart)[0], cost=7.0))
    assert [score_of(each).stamp for each in (moved, priced)] == [code, code]
