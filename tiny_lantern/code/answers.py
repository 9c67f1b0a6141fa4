"""What a build answers to, printed: the tables of its inputs and rules, and the state machine that reads them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from string import Template
from textwrap import wrap

from tiny_lantern.code.answers_of import Answers
from tiny_lantern.code.answers_texts import (
    C_CLOCKED,
    C_CLOCKS,
    C_HEARING,
    C_NEXT_SCENE,
    C_NO_NEXT_SCENE,
    C_NO_PACE,
    C_PACE,
    C_RUNNING,
    C_SHADE,
    C_STATE,
    C_TYPES,
    PYTHON,
)
from tiny_lantern.code.names import comment
from tiny_lantern.code.score import Laid, Score
from tiny_lantern.show.answering.tables import NEXT, Answer, Shaded

WHEN = {"turned": "TURNED", "held": "HELD", "pressed": "PRESSED", "released": "RELEASED"}
LONGEST = 100
COLOURS = ("RED", "GREEN", "BLUE")
CLOCKS_BEGIN = """\
    for (at = 0; at < CLOCKS; at++) {
        clock_now[at] = 0;
        clock_part[at] = 0;
    }
"""


def c_answers(score: Score, laid: Sequence[Laid]) -> str:
    """The tables and the state machine in C; nothing where nothing answers.

    Args:
        score: the show.
        laid: the effects of the board, in the order of its table.
    """
    answers = score.answers
    if answers is None or not answers.any:
        return ""
    tables = answers.tables
    rows = _clock_rows(answers, laid)
    paced = [(rule, clock) for rule, clock in tables.paced if not clock or rows[clock - 1] is not None]
    known = [row for row in rows if row is not None]
    repeats = score.after_end == "repeat"
    end = f"LANTERN_TICKS * {score.plays}ul"
    scenes = any(not answer.valued and answer.low == NEXT for answer in tables.answers) and bool(tables.scenes)
    return "\n".join([
        C_TYPES, *_c_inputs(answers), *_c_rules(answers), *_c_shades(tables.shaded), *_c_clocks(known),
        *_c_paces(paced, rows), C_STATE, *([C_CLOCKS] if known else []), *([C_SHADE] if tables.shaded else []),
        C_HEARING, C_PACE if paced else C_NO_PACE, *(_c_scenes(tables.scenes) if scenes else [C_NO_NEXT_SCENE]),
        Template(C_RUNNING).substitute(
            shown=_shown(score), clocked=f"{C_CLOCKED}\n" if known else "",
            after="(tick + 1u < LANTERN_TICKS) ? tick + 1u : 0" if repeats else f"(tick < {end}) ? tick + 1u : tick",
            ended="0" if repeats else f"frame_now >= {end}", clocks_begin=CLOCKS_BEGIN if known else "",
            clocks_run="    run_clocks(before);\n" if known else "",
        ),
    ])  # fmt: skip


def has_clocks(score: Score, laid: Sequence[Laid]) -> bool:
    """Whether effects of a board have clocks of their own.

    Args:
        score: the show.
        laid: the effects of the board.
    """
    return score.answers is not None and any(row is not None for row in _clock_rows(score.answers, laid))


def _shown(score: Score) -> str:
    if score.after_end == "repeat":
        return "tick % LANTERN_TICKS"
    return f"(tick < LANTERN_TICKS * {score.plays}ul) ? tick % LANTERN_TICKS : LANTERN_TICKS - 1ul"


def _clock_rows(answers: Answers, laid: Sequence[Laid]) -> list[tuple[int, int, int, int] | None]:
    """Of each clock the row of its effect in a board's table, its frames and its length; None of one that lies on no
    light of the board."""
    at = {each.effect.id: row for row, each in enumerate(laid)}
    return [
        (at[effect_id], clock.begin, clock.end, clock.length) if effect_id in at else None
        for effect_id, clock in zip(answers.effect_ids, answers.tables.clocks, strict=True)
    ]


def _c_inputs(answers: Answers) -> Iterator[str]:
    yield f"#define INPUTS {len(answers.tables.hears)}"
    yield "static const LANTERN_FLASH input_t inputs[INPUTS] = {"
    for one, name in zip(answers.tables.hears, answers.names, strict=True):
        yield f"    {{{int(one.volts)}, {one.rest}, {one.full}, {one.dead}, {one.deaf}}}, /* {comment(name)} */"
    yield "};\n"


def _c_rules(answers: Answers) -> Iterator[str]:
    yield f"#define RULES {len(answers.tables.answers)}"
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


def _c_paces(
    paced: Sequence[tuple[int, int]], rows: Sequence[tuple[int, int, int, int] | None]
) -> Iterator[str]:  # fmt: skip
    """Which rule paces which clock, clocks counted among those that the board has."""
    if not paced:
        return
    yield f"#define PACES {len(paced)}"
    yield "static const LANTERN_FLASH pace_t paces[PACES] = {"
    for rule, clock in paced:
        own = sum(row is not None for row in rows[:clock])
        yield f"    {{{rule}, {own}}},"
    yield "};\n"


def _c_scenes(scenes: Sequence[int]) -> Iterator[str]:
    yield f"#define SCENE_COUNT {len(scenes)}"
    yield "static const LANTERN_FLASH uint32_t scene_begins[SCENE_COUNT] = {"
    yield from wrap(", ".join(f"{at}ul" for at in scenes), LONGEST, initial_indent="    ", subsequent_indent="    ")
    yield "};\n"
    yield C_NEXT_SCENE


def python_answers(score: Score, laid: Sequence[Laid]) -> str:
    """The same in Python; nothing where nothing answers.

    Args:
        score: the show.
        laid: the effects of the board, in the order of its table.
    """
    answers = score.answers
    if answers is None or not answers.any:
        return ""
    tables = answers.tables
    rows = _clock_rows(answers, laid)
    paced = [
        (rule, sum(row is not None for row in rows[:clock]))
        for rule, clock in tables.paced
        if not clock or rows[clock - 1] is not None
    ]
    clocks = ", ".join(f"({laid[row[0]].name}, {row[1]}, {row[2]}, {row[3]})" for row in rows if row is not None)
    inputs = [
        f"    ({int(one.volts)}, {one.rest}, {one.full}, {one.dead}, {one.deaf}),  # {comment(name)}"
        for one, name in zip(tables.hears, answers.names, strict=True)
    ]
    return "\n".join([
        PYTHON, *_python_after(score), "INPUTS = [", *inputs, "]", "RULES = [", *_python_rules(answers), "]",
        f"SHADES = {[(one.answer, one.first, one.stop, tuple(map(int, one.colours))) for one in tables.shaded]}",
        f"CLOCKS = [{clocks}]", f"PACES = {paced}", f"SCENE_BEGINS = {list(tables.scenes)}", "",
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
