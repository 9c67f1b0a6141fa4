"""What a build answers to, printed: the tables of its inputs and rules, and the state machine that reads them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from string import Template
from textwrap import wrap

from tiny_lantern.code.answers_of import Answers, state_bytes
from tiny_lantern.code.answers_python_text import PYTHON, PYTHON_TOLD
from tiny_lantern.code.answers_texts import (
    C_CLOCKED,
    C_CLOCKS,
    C_CLOCKS_GIVEN,
    C_CLOCKS_TAKEN,
    C_GATES,
    C_HEARING,
    C_NEXT_SCENE,
    C_NO_NEXT_SCENE,
    C_NO_PACE,
    C_PACE,
    C_RUNNING,
    C_SHADE,
    C_STATE,
    C_TOLD,
    C_TYPES,
    C_VALUES,
)
from tiny_lantern.code.names import comment
from tiny_lantern.code.score import Laid, Score
from tiny_lantern.show.answering.machine import begin
from tiny_lantern.show.answering.tables import NEXT, Answer, Shaded, Tables

WHEN = {"turned": "TURNED", "held": "HELD", "pressed": "PRESSED", "released": "RELEASED"}
LONGEST, NO_EFFECT = 100, 65535
COLOURS = ("RED", "GREEN", "BLUE")
CLOCKS_BEGIN = """\
    for (at = 0; at < CLOCKS; at++) {
        clock_now[at] = 0;
        clock_part[at] = 0;
    }
"""


def c_answers(score: Score, laid: Sequence[Laid], place: int = 0) -> str:
    """The tables and the state machine in C; nothing where nothing answers. A board that follows another takes what
    inputs have made of the show from that.

    Args:
        score: the show.
        laid: the effects of the board, in the order of its table.
        place: its place in the chain, the first 0. [-]
    """
    answers = score.answers
    if answers is None or not answers.any:
        return ""
    tables = answers.tables
    clocks, shades = bool(tables.clocks), bool(tables.shaded)
    told = state_bytes(answers, len(score.playing)) > 0
    return "\n".join([
        C_TYPES, *(_c_inputs(answers) if not place else ()), *_c_rules(answers, place), *_c_shades(tables.shaded),
        *_c_clocks(_clock_rows(answers, laid)), *(_c_paces(tables.paced) if not place else ()),
        Template(C_VALUES).substitute(values=", ".join(f"{value}ul" for value in _at_rest(tables))),
        *_c_gates(gate_rows(answers, laid)),
        *([C_STATE] if not place else []), *([C_CLOCKS] if clocks else []), *([C_SHADE] if shades else []),
        *([_c_machine(score, tables)] if not place else []), *([_c_told(clocks)] if told else []),
    ])  # fmt: skip


def _c_machine(score: Score, tables: Tables) -> str:
    """What reads the inputs and goes from frame to frame."""
    clocks, repeats = bool(tables.clocks), score.after_end == "repeat"
    end = f"LANTERN_TICKS * {score.plays}ul"
    scenes = any(not answer.valued and answer.low == NEXT for answer in tables.answers) and bool(tables.scenes)
    return "\n".join([
        C_HEARING, C_PACE if tables.paced else C_NO_PACE,
        *(_c_scenes(tables.scenes) if scenes else [C_NO_NEXT_SCENE]),
        Template(C_RUNNING).substitute(
            shown=shown_in_c(score), clocked=f"{C_CLOCKED}\n" if clocks else "",
            after="(tick + 1u < LANTERN_TICKS) ? tick + 1u : 0" if repeats else f"(tick < {end}) ? tick + 1u : tick",
            ended="0" if repeats else f"frame_now >= {end}", clocks_begin=CLOCKS_BEGIN if clocks else "",
            clocks_run="    run_clocks(before);\n" if clocks else "",
        ),
    ])  # fmt: skip


def _c_told(clocks: bool) -> str:
    """How what inputs have made of the show goes from board to board."""
    given, taken = (C_CLOCKS_GIVEN, C_CLOCKS_TAKEN) if clocks else ("", "")
    return Template(C_TOLD).substitute(given=given, taken=taken)


def has_clocks(score: Score, laid: Sequence[Laid]) -> bool:
    """Whether effects of a board have clocks of their own.

    Args:
        score: the show.
        laid: the effects of the board.
    """
    return score.answers is not None and bool(score.answers.tables.clocks)


def shown_in_c(score: Score) -> str:
    """The frame of the show that is seen at a tick, in C.

    Args:
        score: the show.
    """
    if score.after_end == "repeat":
        return "tick % LANTERN_TICKS"
    return f"(tick < LANTERN_TICKS * {score.plays}ul) ? tick % LANTERN_TICKS : LANTERN_TICKS - 1ul"


def _clock_rows(answers: Answers, laid: Sequence[Laid]) -> list[tuple[int, int, int, int]]:
    """Of each clock the row of its effect in a board's table, ``NO_EFFECT`` of one that lies on no light of the board,
    its frames and its length."""
    at = {each.effect.id: row for row, each in enumerate(laid)}
    return [
        (at.get(effect_id, NO_EFFECT), clock.begin, clock.end, clock.length)
        for effect_id, clock in zip(answers.effect_ids, answers.tables.clocks, strict=True)
    ]


def _c_inputs(answers: Answers) -> Iterator[str]:
    yield f"#define INPUTS {len(answers.tables.hears)}"
    yield "static const LANTERN_FLASH input_t inputs[INPUTS] = {"
    for one, name in zip(answers.tables.hears, answers.names, strict=True):
        yield f"    {{{int(one.volts)}, {one.rest}, {one.full}, {one.dead}, {one.deaf}}}, /* {comment(name)} */"
    yield "};\n"


def _at_rest(tables: Tables) -> tuple[int, ...]:
    """The value of each rule with nothing touched."""
    return begin(tables, [one.rest for one in tables.hears]).values


def _c_rules(answers: Answers, place: int) -> Iterator[str]:
    """The rules; a board that follows another needs their number alone."""
    yield f"#define RULES {len(answers.tables.answers)}"
    if place:
        return
    yield "static const LANTERN_FLASH rule_t rules[RULES] = {"
    for rule, words in zip(answers.tables.answers, answers.words, strict=True):
        yield f"    /* {comment(words)} */"
        low = "NEXT_SCENE" if rule.low == NEXT and not rule.valued else f"{rule.low}ul"
        yield f"    {{{rule.input}, {WHEN[rule.when]}, {int(rule.valued)}, {low}, {rule.high}ul, {_flags(rule)}}},"
    yield "};\n"


def _flags(rule: Answer) -> str:
    return f"{rule.steps}, {int(rule.even)}, {int(rule.stays)}"


def _c_shades(shaded: Sequence[Shaded]) -> Iterator[str]:
    if not shaded:
        return
    yield f"#define SHADES {len(shaded)}"
    yield "static const LANTERN_FLASH shade_t shades[SHADES] = {"
    for one in shaded:
        named = " | ".join(colour for colour, has in zip(COLOURS, one.colours, strict=True) if has)
        yield f"    {{{one.answer}, {one.first}ul, {one.stop}ul, {named}}},"
    yield "};\n"


def _c_clocks(known: Sequence[tuple[int, int, int, int]]) -> Iterator[str]:
    if not known:
        return
    yield f"#define CLOCKS {len(known)}"
    yield "static const LANTERN_FLASH own_clock_t clocks[CLOCKS] = {"
    yield from (f"    {{{row}, {begin}ul, {end}ul, {length}ul}}," for row, begin, end, length in known)
    yield "};\n"


def _c_paces(paced: Sequence[tuple[int, int]]) -> Iterator[str]:
    """Which rule paces which clock."""
    if not paced:
        return
    yield f"#define PACES {len(paced)}"
    yield "static const LANTERN_FLASH pace_t paces[PACES] = {"
    yield from (f"    {{{rule}, {clock}}}," for rule, clock in paced)
    yield "};\n"


def gate_rows(answers: Answers | None, laid: Sequence[Laid]) -> list[tuple[int, int]]:
    """Which rule says of which row of a board's table of effects whether it is seen.

    Args:
        answers: what the build answers to.
        laid: the effects of the board.
    """
    if answers is None:
        return []
    at = {each.effect.id: row for row, each in enumerate(laid)}
    return [(rule, at[effect_id]) for rule, effect_id in answers.gates if effect_id in at]


def _c_gates(rows: Sequence[tuple[int, int]]) -> Iterator[str]:
    """Which rule says of which effect whether it is seen."""
    if not rows:
        return
    yield f"#define GATES {len(rows)}"
    yield "static const LANTERN_FLASH gate_t gates[GATES] = {"
    yield from (f"    {{{rule}, {row}}}," for rule, row in rows)
    yield "};\n"
    yield C_GATES


def _c_scenes(scenes: Sequence[int]) -> Iterator[str]:
    yield f"#define SCENE_COUNT {len(scenes)}"
    yield "static const LANTERN_FLASH uint32_t scene_begins[SCENE_COUNT] = {"
    yield from wrap(", ".join(f"{at}ul" for at in scenes), LONGEST, initial_indent="    ", subsequent_indent="    ")
    yield "};\n"
    yield C_NEXT_SCENE


def python_answers(score: Score, laid: Sequence[Laid], place: int = 0) -> str:
    """The same in Python; nothing where nothing answers.

    Args:
        score: the show.
        laid: the effects of the board, in the order of its table.
        place: its place in the chain, the first 0. [-]
    """
    answers = score.answers
    if answers is None or not answers.any:
        return ""
    tables = answers.tables
    rows = _clock_rows(answers, laid)
    named = [laid[row[0]].name if row[0] != NO_EFFECT else repr(f"elsewhere {at}") for at, row in enumerate(rows)]
    clocks = ", ".join(f"({name}, {row[1]}, {row[2]}, {row[3]})" for name, row in zip(named, rows, strict=True))
    inputs = [
        f"    ({int(one.volts)}, {one.rest}, {one.full}, {one.dead}, {one.deaf}),  # {comment(name)}"
        for one, name in zip(tables.hears, answers.names, strict=True)
    ]
    told = state_bytes(answers, len(score.playing)) > 0
    return "\n".join([
        PYTHON, *([PYTHON_TOLD] if told else []), *_python_after(score), "INPUTS = [", *inputs, "]",
        "RULES = [", *_python_rules(answers), "]",
        f"SHADES = {[(one.answer, one.first, one.stop, tuple(map(int, one.colours))) for one in tables.shaded]}",
        f"CLOCKS = [{clocks}]",
        f"GATES = [{', '.join(f'({rule}, {laid[row].name})' for rule, row in gate_rows(answers, laid))}]",
        f"PACES = {list(tables.paced)}", f"SCENE_BEGINS = {list(tables.scenes)}",
        f"value_of[:] = {list(_at_rest(tables))}", "own_ticks.update({clock[0]: 0 for clock in CLOCKS})", "",
    ])  # fmt: skip


def _python_rules(answers: Answers) -> Iterator[str]:
    for rule, words in zip(answers.tables.answers, answers.words, strict=True):
        low = "NEXT_SCENE" if rule.low == NEXT and not rule.valued else str(rule.low)
        yield f"    # {comment(words)}"
        yield f"    ({rule.input}, {WHEN[rule.when]}, {int(rule.valued)}, {low}, {rule.high}, {_flags(rule)}),"


def _python_after(score: Score) -> Iterator[str]:
    yield "\n\ndef after(tick):"
    if score.after_end == "repeat":
        yield "    return tick + 1 if tick + 1 < TICKS else 0"
        yield "\n\ndef over_at(tick):\n    return False\n"
    else:
        yield f"    return tick + 1 if tick < TICKS * {score.plays} else tick"
        yield f"\n\ndef over_at(tick):\n    return tick >= TICKS * {score.plays}\n"
