"""The show printed as C99: one header, and a source for each board; nothing is allocated, nothing floats."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from string import Template
from textwrap import wrap

from tiny_lantern.code.answers import c_answers, gate_rows, has_clocks, shown_in_c
from tiny_lantern.code.answers_of import state_bytes
from tiny_lantern.code.board.kinds import listening, listening_c
from tiny_lantern.code.board.kinds.telling import SWITCH
from tiny_lantern.code.c_texts import (
    BESIDE,
    BY_255,
    BYTE,
    CAPPING,
    FRAME,
    LAYERS_PLAYED,
    LAYING,
    LEVELLING,
    PLAYING,
    SCENES_PLAYED,
    TYPES,
)
from tiny_lantern.code.names import comment
from tiny_lantern.code.programs import programs_of
from tiny_lantern.code.score import LETTERS, Laid, Run, Score, Slice, cap_rows
from tiny_lantern.effects.kind import RGB, Number, Parameter
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.c99 import c_constant, c_function, c_list, c_prelude, list_type
from tiny_lantern.kernel.nodes import Node, listed
from tiny_lantern.kernel.program import FIRST, Program
from tiny_lantern.model.quantities import clock
from tiny_lantern.show.levels import HALF_LEVEL

HEADER = "lantern.h"
LONGEST_TEXT, LONGEST_LINE = 40, 100
LAYERS = {"replace": "lay_over", "add": "lay_add", "lighten": "lay_lighten", "dim": "lay_dim"}
SEEN, GATED = "$seen", " && is_seen((uint16_t)at)"
LAID_TICK = "(int32_t)(tick - one->begin)"
ON_FROM = {"dims": 0, "switches": HALF_LEVEL, "holds": 1}


def c_header(score: Score) -> str:
    """The header that every board's source includes.

    Args:
        score: the show.
    """
    lights = [
        f"#define LIGHT_{light.name.upper()} {light.number}ul /* {comment(light.title)} */" for light in score.lights
    ]
    return "\n".join([
        f"/* {comment(score.title)}: its show for boards, stamp {score.stamp}.",
        " * A wiring sheet of the same stamp, before the dash, belongs to it; one of another is older or newer. */",
        "#ifndef LANTERN_H", "#define LANTERN_H", "", "#include <stdint.h>", "",
        "#ifdef __cplusplus", 'extern "C" {', "#endif", "",
        *([SWITCH] if _tells(score) else []),
        f'#define LANTERN_STAMP "{score.stamp}"',
        f"#define LANTERN_TICKS UINT32_C({score.ticks})",
        f"#define LANTERN_TICK_US UINT32_C({score.tick_us}) /* a frame lasts so many microseconds */", "",
        "/* Lights that have names, by their numbers on the Line. */", *lights, "",
        "/* Works one frame out and hands its bytes to lantern_write; call it once a frame with 0, 1, 2 ... */",
        "void lantern_frame(uint32_t tick);", "",
        "/* The same with everything dark. */", "void lantern_dark(void);", "",
        "/* Called between the lights of a frame, which may take long; nothing where it is 0. */",
        "extern void (*lantern_between)(void);", "",
        "/* What a board does at its pins: begin, over and over, between frames, end. */",
        "void lantern_start(void);", "void lantern_loop(void);", "void lantern_step(void);",
        "void lantern_stop(void);", "",
        "/* Sends the bytes to the lights. */",
        "void lantern_write(const uint8_t *bytes, uint32_t count);", "", *_level_hook(score), *_answer_hook(score),
        *([listening_c.HEADER] if any(part.listens for part in score.playing) else []),
        *_chain(score),
        "#ifdef __cplusplus", "}", "#endif", "", "#endif", "",
    ])  # fmt: skip


def _tells(score: Score) -> bool:
    """Whether the loop may tell what it does: a serial line is there, and nothing else goes over it."""
    return len(score.playing) == 1 and bool(score.playing[0].board_id) and score.playing[0].listens is None


def _level_hook(score: Score) -> list[str]:
    if not any(part.levels for part in score.slices):
        return []
    return [
        "/* Sets what the board drives itself, 0 to 65535 each, in the order of the table in its source. */",
        "void lantern_levels(const uint16_t *levels, uint32_t count);", "",
    ]  # fmt: skip


def _answer_hook(score: Score) -> list[str]:
    if not (score.answers and score.answers.any):
        return []
    named = ", ".join(f"{at} {comment(name)}" for at, name in enumerate(score.answers.names))
    return [
        *wrap(f"/* What an input reads now: counts, or 0 and 1. Inputs by number: {named}. */", LONGEST_LINE),
        "uint16_t lantern_read(uint8_t input);", "",
        "/* The first frame, which has to be asked for before any is worked out, and the one after: as inputs and",
        " * rules have it. */",
        "uint32_t lantern_answer_begin(void);", "uint32_t lantern_answer(void);", "",
    ]  # fmt: skip


def _chain(score: Score) -> list[str]:
    """The places of several boards, and how they stay in step."""
    if len(score.playing) < 2:
        return []
    places = [
        f"#define BOARD_{part.name.upper()} {place}ul /* {comment(part.title)}: {_lights_of(part)} */"
        for place, part in enumerate(score.playing)
    ]
    return [
        "/* The boards that play it, by their place in the chain. The first counts the frames; every other one plays",
        " * the frame whose number the board before it has handed on. */",
        f"#define LANTERN_BOARDS {len(places)}ul", *places, "",
        "/* Which board this source is for. */", "extern const uint32_t lantern_board;", "",
        "/* On all but the last: hands the number of the frame to the next board in the chain. */",
        "void lantern_pass_on(uint32_t tick);", "", *_state(score),
    ]  # fmt: skip


def _state(score: Score) -> list[str]:
    """What inputs have made of the show, as it goes from board to board."""
    count = state_bytes(score.answers, len(score.playing))
    found = [f"#define LANTERN_STATE_BYTES {count} /* of what inputs have made of the show, from board to board */"]
    if count:
        found += ["void lantern_give_state(uint8_t *bytes);", "void lantern_take_state(const uint8_t *bytes);"]
    return [*found, ""]


def _lights_of(part: Slice) -> str:
    """Which lights of the Line a board has: ``lights 0 to 59, 120 to 131``."""
    ends: list[list[int]] = []
    for run in part.runs:
        if ends and ends[-1][1] == run.first:
            ends[-1][1] += run.count
        else:
            ends.append([run.first, run.first + run.count])
    return f"lights {', '.join(f'{first} to {stop - 1}' for first, stop in ends)}"


def c_source(score: Score, part: Slice) -> str:
    """The source of one board.

    Args:
        score: the show.
        part: the board's part of it.

    Raises:
        KeyError: an effect is laid in a way that is not known.
    """
    laid = effects_on(score, part)
    layers = sorted({LAYERS[each.effect.layer] for each in laid})
    programs = programs_of(laid)
    functions = [
        f"{_remark([comment(effect_kinds()[kind].help)])}\n{c_function(program, RGB)}"
        for kind, program in programs.items()
    ]
    names = tables_of(laid, programs)
    laying = [LAYING[name] for name in layers]
    gates = gate_rows(score.answers, laid)
    shown = (SCENES_PLAYED if score.windows else LAYERS_PLAYED).replace(SEEN, GATED if gates else "")
    shades = bool(score.answers and score.answers.tables.shaded)
    if has_clocks(score, laid):
        shown = shown.replace(LAID_TICK, "own_tick(here[at], tick)")
    caps = cap_rows(score, part)
    return "\n".join([
        *_head(score, part), f'#include "{HEADER}"', "", *_own_place(score, part),
        c_prelude(tuple(programs.values()), (*functions, *laying, shown)), TYPES, *functions, *laying,
        *_lists(laid, programs), *(_effect(each, programs[each.kind.kind], names) for each in laid),
        *_tables(laid, part), *_scenes(score, laid),
        BYTE, c_answers(score, laid, score.place(part)), shown, Template(PLAYING).substitute(
            slot_given=", uint32_t slot" if shades else "", shaded="    shade(slot, own);\n" if shades else "",
        ),
        *_capping(part, caps, shades), *_levelling(part),
        FRAME.format(
            shown=shown_in_c(score), lit=_lit(score), capped=_capped(part) if caps else "",
            slot=", runs[run].first + light" if shades else "",
            levelled="    set_levels();\n" if part.levels else "",
            passed_on="" if part == score.playing[-1] else "    lantern_pass_on(tick);\n",
        ), *([listening.shown(bool(part.levels), bool(caps))] if part.listens else []),
    ])  # fmt: skip


def effects_on(score: Score, part: Slice) -> tuple[Laid, ...]:
    """The effects that lie on any light of a board, the lowest first.

    Args:
        score: the show.
        part: the board's part of it.
    """
    return tuple(
        laid
        for laid in score.effects
        if any(laid.first < run.first + run.count and run.first < laid.stop for run in (*part.runs, *part.beside))
    )


def _head(score: Score, part: Slice) -> Iterator[str]:
    yield f"/* {comment(score.title)}, {comment(part.title)}: stamp {score.stamp}."
    if len(score.playing) > 1:
        yield f" * Board {score.place(part) + 1} of {len(score.playing)} in the chain: {_lights_of(part)}."
    yield f" * {sum(run.count for run in part.runs)} lights, {part.byte_count} bytes a frame."
    for role, pin in part.pins:
        yield f" * pin {comment(pin):<6} {comment(role)}"
    yield " */"


def _own_place(score: Score, part: Slice) -> Iterator[str]:
    if len(score.playing) > 1:
        yield f"const uint32_t lantern_board = BOARD_{part.name.upper()};\n"


Table = tuple[str, tuple[int, ...]]


def tables_of(laid: Sequence[Laid], programs: Mapping[str, Program]) -> dict[Table, str]:
    """The lists that some effects are given, each once by what it holds, with a name: that of the first that has it.

    Args:
        laid: the effects.
        programs: the program of each kind.
    """
    found: dict[Table, str] = {}
    for each in laid:
        for node in programs[each.kind.kind].lists:
            found.setdefault((list_type(node), each.list(node.name)), f"{each.name}_{node.name}")
        if each.slots is not None:
            found.setdefault((list_type(_places(each)), each.places), f"{each.name}_places")
    return found


def _places(laid: Laid) -> Node:
    """The list of places in the group that an effect follows."""
    return listed("places", -1, len(laid.slots or ()))


def _lists(laid: Sequence[Laid], programs: Mapping[str, Program]) -> Iterator[str]:
    """The lists themselves."""
    for (kind, values), name in tables_of(laid, programs).items():
        yield c_list(name, kind, values)


def _effect(laid: Laid, program: Program, names: Mapping[Table, str]) -> str:
    """One effect as a function: its own numbers put into its kind's program."""
    given = [
        node.name if node.name in FIRST else c_constant(laid.number(node.name), node.type) for node in program.inputs
    ]
    for node in program.lists:
        given += [names[list_type(node), laid.list(node.name)], str(len(laid.list(node.name)))]
    unused = [f"    (void){name};" for name in ("slot", "tick") if name not in given]
    turned = [f"    {line};" for line in turned_lines(laid)]
    if laid.slots is not None:
        places = names[list_type(_places(laid)), laid.places]
        found = [f"    slot = {places}[slot];", "    if (slot < 0) {", "        return 0;", "    }"]
        turned = [*found, *turned]
    played = _once_a_frame(program, given) if alike_everywhere(program) else [_call(program, given, "light->")]
    return "\n".join([
        _remark(effect_comment(laid)),
        f"static uint8_t {laid.name}(int32_t slot, int32_t tick, light_t *light)", "{", *turned, *unused,
        *played, "    return 1;", "}", "",
    ])  # fmt: skip


def _call(program: Program, given: Sequence[str], into: str) -> str:
    return f"    {program.name}({', '.join([*given, *(f'&{into}{name}' for name in RGB)])});"


def _once_a_frame(program: Program, given: Sequence[str]) -> list[str]:
    """What is the same for all lights of a frame is kept for the next one."""
    return [
        "    static light_t known;", "    static int32_t known_at = -1;", "    if (tick != known_at) {",
        f"    {_call(program, given, 'known.')}", "        known_at = tick;", "    }", "    *light = known;",
    ]  # fmt: skip


def alike_everywhere(program: Program) -> bool:
    """Whether a program shows the same on all lights of a frame, and another time something else.

    Args:
        program: the program.
    """
    return [node.name for node in program.inputs[:2] if node.name in FIRST] == ["tick"]


def effect_comment(laid: Laid) -> list[str]:
    """What an effect is and where it lies, then what was chosen for it, in lines.

    Args:
        laid: the effect.
    """
    effect, look = laid.effect, laid.effect.look
    where = f"lights {laid.first} to {laid.stop - 1}"
    if laid.slots is not None:
        where = f"{len(laid.slots)} of {where}, in the order of a group"
    when = f"{clock(effect.start_s)} for {effect.length_s:g} s"
    chosen = ", ".join(f"{each.label} {_chosen(each, look.values[each.name])}" for each in laid.kind.parameters)
    return [comment(f"{look.word}, {where}, {when}"), comment(chosen)]


def _remark(lines: Sequence[str]) -> str:
    """Lines as a remark in C, the long ones broken."""
    broken = [part for line in lines for part in wrap(line, LONGEST_LINE)]
    return "/* " + "\n * ".join(broken) + " */"


def _chosen(parameter: Parameter, value: object) -> str:
    """A value that was chosen, as a person reads it."""
    if isinstance(parameter, Number) and isinstance(value, int | float):
        if parameter.words:
            return parameter.words[round(value - parameter.low)]
        return f"{value:.0%}" if parameter.unit == "ratio" else f"{value:g} {parameter.unit}".rstrip()
    text = " ".join(str(value).split())
    return text if len(text) <= LONGEST_TEXT else f"{text[:LONGEST_TEXT]} ..."


def turned_lines(laid: Laid) -> list[str]:
    """What an effect that is turned round does to the light and the frame that it is asked for, as C and Python say it.

    Args:
        laid: the effect.
    """
    effect, count, lines = laid.effect, laid.count, []
    if effect.mirrored:
        lines.append(f"slot = {count - 1} - slot")
    if effect.turned % count:
        lines.append(f"slot = (slot + {(-effect.turned) % count}) % {count}")
    if effect.backward:
        lines.append(f"tick = {laid.own_end - laid.begin - 1} - tick")
    return lines


def _tables(laid: tuple[Laid, ...], part: Slice) -> Iterator[str]:
    yield f"#define EFFECTS {max(1, len(laid))}ul"
    yield "static const LANTERN_FLASH laid_t effects[EFFECTS] = {"
    for each in laid:
        yield (
            f"    {{{each.begin}ul, {each.end}ul, {each.first}ul, {each.stop}ul, {each.name}, "
            f"{LAYERS[each.effect.layer]}}},"
        )
    if not laid:
        yield "    {0, 0, 0, 0, 0, 0},"
    yield "};\n"
    yield f"#define RUNS {len(part.runs)}ul"
    if part.beside:
        yield "/* Lights of other boards, which a cap counts too, come after the board's own. */"
        yield f"#define ALL_RUNS {len(part.runs) + len(part.beside)}ul"
    yield f"static const LANTERN_FLASH run_t runs[{_all_runs(part)}] = {{"
    yield from (_run(run) for run in (*part.runs, *part.beside))
    yield "};\n"
    yield f"static uint8_t frame[{part.byte_count}];\n"


def _scenes(score: Score, laid: tuple[Laid, ...]) -> Iterator[str]:
    """Where each scene begins, how long it fades in, and which effects are its own."""
    if not score.windows:
        return
    yield "typedef struct {"
    yield "    uint32_t begin, fade; /* frames */"
    yield "    uint32_t first, stop; /* effects from first to before stop */"
    yield "} scene_t;\n"
    yield f"#define SCENES {len(score.windows)}ul"
    yield "static const LANTERN_FLASH scene_t scenes[SCENES] = {"
    for scene, window in enumerate(score.windows):
        first = sum(each.scene < scene for each in laid)
        stop = sum(each.scene <= scene for each in laid)
        yield f"    {{{window.begin}ul, {window.fade}ul, {first}ul, {stop}ul}},"
    yield "};\n"


def _all_runs(part: Slice) -> str:
    return "ALL_RUNS" if part.beside else "RUNS"


def _capped(part: Slice) -> str:
    return f"    keep_within_caps({'shown, lit' if part.beside else ''});\n"


def _capping(part: Slice, caps: list[tuple[int, list[tuple[int, int, int, int]]]], shades: bool) -> Iterator[str]:
    """What each run draws from supplies that have a cap, and how a frame is kept within it."""
    if not caps:
        return
    yield "/* In millionths of an ampere: what a cap leaves for light, and what one light of each run draws at full"
    yield " * red, green, blue and white. */"
    yield f"#define CAPS {len(caps)}ul"
    yield f"static const LANTERN_FLASH uint32_t room_ua[CAPS] = {{{', '.join(f'{room}ul' for room, _ in caps)}}};"
    yield f"static const LANTERN_FLASH uint32_t full_ua[CAPS][{_all_runs(part)}][4] = {{"
    for _, rows in caps:
        yield "    {" + ", ".join("{" + ", ".join(f"{ua}ul" for ua in row) + "}" for row in rows) + "},"
    yield "};\n"
    if part.beside:
        yield Template(BESIDE).substitute(slot=", runs[run].first + at" if shades else "")
        given, before = "uint32_t shown, uint8_t lit", "drawn_beside(cap, shown, lit)"
        yield Template(CAPPING).substitute(given=given, before=before)
    else:
        yield Template(CAPPING).substitute(given="void", before="0")


def _levelling(part: Slice) -> Iterator[str]:
    """The channels that the board drives itself, and how their levels are worked out."""
    if not part.levels:
        return
    yield "typedef struct {"
    yield "    uint32_t at; /* where its light's bytes begin in the frame */"
    yield "    uint32_t red, green, blue; /* what each colour counts for, 65536 for all of it */"
    yield "    uint32_t on_from; /* 0 for one that dims, else the level from which it is on */"
    yield "    uint32_t trim; /* what full means, 65536 for all of it */"
    yield "} channel_t;\n"
    yield f"#define CHANNELS {len(part.levels)}ul"
    yield "static const LANTERN_FLASH channel_t channels[CHANNELS] = {"
    for driven in part.levels:
        numbers = (driven.at, *driven.level.weights, ON_FROM[driven.level.sort], driven.level.trim)
        yield f"    {{{', '.join(f'{number}ul' for number in numbers)}}}, /* {comment(driven.title)} */"
    yield "};\n"
    yield BY_255
    yield LEVELLING


def _run(run: Run) -> str:
    order = [LETTERS.index(letter) for letter in run.order] + [0] * (4 - len(run.order))
    numbers = ", ".join(map(str, order))
    return f"    {{{run.first}ul, {run.count}ul, {len(run.order)}, {{{numbers}}}}}, /* {comment(run.piece_name)} */"


def _lit(score: Score) -> str:
    return f"(uint8_t)(tick < LANTERN_TICKS * {score.plays}ul)" if score.after_end == "dark" else "1"
