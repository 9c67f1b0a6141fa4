"""What a board does at its pins printed as C99: its pins by name, its rows in words, and how they are carried out."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from textwrap import wrap

from tiny_lantern.code.board.c_pins import PINS_HEADER
from tiny_lantern.code.board.doings import (
    DARK,
    Chain,
    Dimmed,
    Doing,
    Doings,
    Heard,
    Held,
    Knob,
    Lines,
    Matrix,
    Pair,
    Pin,
    Pixels,
    Switched,
    Turns,
)
from tiny_lantern.code.board.kinds import common, knobs, link, listening, telling
from tiny_lantern.code.board.printed import LOW, PARTS, Printed, outputs_before
from tiny_lantern.code.c_show import HEADER
from tiny_lantern.code.names import comment
from tiny_lantern.code.score import Score, Slice
from tiny_lantern.kernel.c99 import WHERE

LONGEST = 100


def io_source(score: Score, part: Slice, doings: Doings) -> str:
    """The source of a board's pins.

    Args:
        score: the show.
        part: the board's part of it.
        doings: what it does at its pins.
    """
    parts = [each for each in PARTS if each.rows(doings)]
    chains = [row for each in parts if each.kind is Chain for row in each.rows(doings)]
    turned = doings.of(Knob)
    return "\n".join([
        *_head(score, part, doings), f'#include "{HEADER}"', f'#include "{PINS_HEADER}"', "",
        WHERE, *_pins(doings), *_words(doings), *_shared(doings),
        *([common.OUTPUT, *_outputs(chains), common.SENDING] if chains else []),
        *(line for each in parts for line in (each.text.type, *_table(each, each.rows(doings), chains),
                                              each.text.c)),
        *([knobs.TYPE, *_knobs(turned), knobs.C] if turned else []),
        *_pixels(doings), *_levels(doings, parts), *_stepping(parts), *_link(score, part, doings),
        *_running(score, doings, parts),
    ])  # fmt: skip


def _head(score: Score, part: Slice, doings: Doings) -> Iterator[str]:
    yield f"/* {comment(score.title)}, {comment(part.title)}: what the board does at its pins, stamp {score.stamp}."
    yield " *"
    yield " * lantern_start() first gives every pin the level that it has while all is dark, and only then"
    yield " * makes it an output; then chips are sent their dark state, and after that the first frame is"
    yield " * shown. Call lantern_loop() over and over; lantern_stop() leaves everything dark. */"


def _pins(doings: Doings) -> Iterator[str]:
    yield "/* Pins by what they are for. */"
    for pin in doings.pins:
        yield f"#define {pin.name} {pin.number} /* pin {comment(pin.at)}: {comment(pin.words)} */"
    yield ""


def _words(doings: Doings) -> Iterator[str]:
    """Words for the numbers of the tables."""
    yield "#define HIGH_WHILE_LIT 0"
    yield "#define LOW_WHILE_LIT 1"
    yield f"#define DARK ({DARK}) /* an output that nothing hangs on */"
    if doings.of(Matrix):
        yield "#define ALL_DARK 255 /* no row */"
        yield "#define NO_PIN 255"
        yield "#define NO_ROWS 65535 /* a counter steps the rows */"
    if doings.follows or doings.leads:
        yield "#define FRAME_MARK 0xA7 /* before the number of a frame */"
    yield ""


def _shared(doings: Doings) -> Iterator[str]:
    """What several kinds of doing use."""
    if doings.channels:
        yield f"#define CHANNELS {doings.channels}"
        texts = [each.text.c for each in PARTS if each.rows(doings)]
        in_steps = doings.of(Chain) or any("in_steps" in text for text in texts)
        yield common.LEVELS if in_steps else common.LEVELS.partition("/* A level")[0]
        if any(" lit(" in text or "!lit(" in text for text in texts):
            yield common.LIT
    if doings.steps:
        yield common.DUE
    if any(isinstance(each, Chain | Matrix) for each in doings.all):
        yield common.LATCH


def _table(part: Printed, rows: Sequence[Doing], chains: Sequence[Chain]) -> Iterator[str]:
    """The rows of one kind, each with its words."""
    name = part.name
    lists = [(f"{name}_channels_{at}", row.channels) for at, row in enumerate(rows) if isinstance(row, Matrix | Turns)]
    for list_name, channels in lists:
        yield f"static const LANTERN_FLASH int16_t {list_name}[{len(channels)}] = {{"
        yield from wrap(", ".join(_channel(each) for each in channels), LONGEST, initial_indent="    ",
                        subsequent_indent="    ")  # fmt: skip
        yield "};"
    yield f"#define {name.upper()} {len(rows)}"
    yield f"static const LANTERN_FLASH {part.type} {name}[{name.upper()}] = {{"
    for at, row in enumerate(rows):
        first = outputs_before(row, chains)
        yield from _told(f"{{{_row(row, first, f'{name}_channels_{at}')}}},", row.words)
    yield "};"


def _row(row: Doing, first: int, channels: str) -> str:
    match row:
        case Switched(pin, channel, low, least_ms):
            return f"{pin.name}, {channel}, {LOW[low]}, {least_ms}"
        case Dimmed(pin, channel, low, full):
            return f"{pin.name}, {channel}, {LOW[low]}, {full}"
        case Chain(lines, outputs, bits, unit_us):
            return f"{_lines(lines)}, {first}, {len(outputs)}, {bits}, {unit_us}"
        case Matrix():
            rows_from = "NO_ROWS" if row.step is not None else str(row.rows_from)
            return (
                f"{_lines(row.lines)}, {row.count}, {row.rows}, {row.columns}, {rows_from}, {LOW[row.row_low]}, "
                f"{channels}, {row.bits}, {row.row_us}, {row.blank_us}, {_pin(row.step)}, {_pin(row.reset)}"
            )
        case Turns():
            return (
                f"{len(row.selects)}, {{{_six(row.selects)}}}, {row.enable.name}, {len(row.channels)}, {channels}, "
                f"{row.dwell_us}"
            )
        case Pair(ends, both, half_us, dead_us):
            told = ", ".join(_channel(each) for each in both)
            return f"{{{ends[0].name}, {ends[1].name}}}, {{{told}}}, {half_us}, {dead_us}"
        case Held():
            return f"{row.full.name}, {row.hold.name}, {row.channel}, {LOW[row.low]}"
    raise TypeError(f"there is no row for {row}")


def _lines(lines: Lines) -> str:
    pins = tuple(pin for pin, _ in lines.selects)
    levels = sum(high << bit for bit, (_, high) in enumerate(lines.selects))
    return f"{{{lines.data.name}, {lines.clock.name}, {lines.latch.name}, {len(pins)}, {{{_six(pins)}}}, {levels}}}"


def _six(pins: Sequence[Pin]) -> str:
    return ", ".join([*(pin.name for pin in pins), *("0" for _ in range(6 - len(pins)))])


def _pin(pin: Pin | None) -> str:
    return "NO_PIN" if pin is None else pin.name


def _channel(number: int) -> str:
    return "DARK" if number == DARK else str(number)


def _told(row: str, words: str) -> Iterator[str]:
    """A row of a table with what it is, behind it where there is room, else above."""
    told = f"/* {comment(words)} */"
    if len(row) + len(told) + 5 <= LONGEST:
        yield f"    {row} {told}"
        return
    lines = wrap(told, LONGEST - 4, break_long_words=False)
    yield from (f"    {'   ' if at else ''}{line}" for at, line in enumerate(lines))
    yield from wrap(row, LONGEST, initial_indent="    ", subsequent_indent="     ")


def _outputs(chains: Sequence[Chain]) -> Iterator[str]:
    rows = [output for chain in chains for output in chain.outputs]
    yield f"#define OUTPUTS {len(rows)}"
    yield "static const LANTERN_FLASH output_t outputs[OUTPUTS] = {"
    for row in rows:
        yield from _told(f"{{{_channel(row.channel)}, {LOW[row.low]}}},", row.words)
    yield "};"


def _knobs(turned: Sequence[Knob]) -> Iterator[str]:
    yield f"#define KNOBS {len(turned)}"
    yield "static const LANTERN_FLASH knob_t knobs[KNOBS] = {"
    for knob in turned:
        numbers = f"{knob.first}, {knob.count}, {knob.rest}, {min(knob.full, 65535)}"
        yield from _told(f"{{{knob.pin.name}, {numbers}}},", knob.words)
    yield "};"


def _pixels(doings: Doings) -> Iterator[str]:
    """The bytes of each data line; those that do not lie in a row are put in one first."""
    lines = doings.of(Pixels)
    apart = [line for line in lines if len(line.spans) > 1]
    if apart:
        yield f"static uint8_t in_a_row[{max(line.count for line in apart)}];\n"
    yield "void lantern_write(const uint8_t *bytes, uint32_t count)"
    yield "{"
    if apart:
        yield "    uint32_t at;"
    yield "    (void)count;" if lines else "    (void)bytes;\n    (void)count; /* no data line */"
    for line in lines:
        yield f"    /* {comment(line.words)} */"
        if len(line.spans) == 1:
            ((first, size),) = line.spans
            yield f"    pixels_send({line.pin.name}, &bytes[{first}], {size});"
            continue
        place = 0
        for first, size in line.spans:
            yield f"    for (at = 0; at < {size}; at++) {{"
            yield f"        in_a_row[{place} + at] = bytes[{first} + at];"
            yield "    }"
            place += size
        yield f"    pixels_send({line.pin.name}, in_a_row, {place});"
    yield "}\n"


def _levels(doings: Doings, parts: Sequence[Printed]) -> Iterator[str]:
    if not doings.channels:
        return
    yield "void lantern_levels(const uint16_t *levels, uint32_t count)"
    yield "{"
    yield "    uint32_t at;"
    yield "    for (at = 0; at < count; at++) {"
    yield "        asked[at] = levels[at];"
    yield "    }"
    if doings.of(Knob):
        yield "    turn_down();"
    yield from (f"    set_{each.name}(now_us());" for each in parts if each.text.sets)
    yield "}\n"


def _stepping(parts: Sequence[Printed]) -> Iterator[str]:
    steps = [each.name for each in parts if each.text.steps]
    yield "static uint8_t running;\n"
    yield "/* What has to be done between frames; a frame that takes long calls it too. */"
    yield "void lantern_step(void)"
    yield "{"
    if steps:
        yield "    if (!running) {"
        yield "        return;"
        yield "    }"
        yield from (f"    step_{name}(now_us());" for name in steps)
    yield "}\n"


def _link(score: Score, part: Slice, doings: Doings) -> Iterator[str]:
    if doings.listens:
        identity = listening.identity_of(score.stamp, part.title, part.byte_count)
        yield listening.heard(doings.listens, identity, len(doings.heard), doings.signals)
    if doings.follows:
        yield link.followed(bool(doings.state_bytes))
    if doings.leads:
        yield link.passed_on(bool(doings.state_bytes))


def _running(score: Score, doings: Doings, parts: Sequence[Printed]) -> Iterator[str]:
    begins = [f"    begin_{each.name}(now);" for each in parts if each.text.begins]
    tells = not (doings.follows or doings.leads or doings.listens)
    if tells:
        yield telling.C
    if not doings.listens:
        yield "static uint32_t frame_began, frame_number;\n"
    next_frame = "lantern_answer()" if doings.heard else "after(frame_number)"
    yield from _read(doings) if doings.heard else _after(score)
    yield "void lantern_start(void)"
    yield "{"
    if begins:
        yield "    uint32_t now;"
    for pin in doings.pins:
        yield from _made(pin)
    if begins:
        yield "    now = now_us();"
        yield from begins
    yield "    running = 1;"
    if doings.steps:
        yield "    lantern_between = lantern_step;"
    yield f"    frame_number = {'lantern_answer_begin()' if doings.heard else '0'};"
    yield "    frame_began = now_us();"
    yield "    lantern_frame(frame_number);"
    yield "}\n"
    yield "void lantern_loop(void)"
    yield "{"
    yield "    const uint32_t now = now_us();"
    if doings.listens:
        yield "    if (listen(now)) {"
        yield "        lantern_step();"
        yield "        return;"
        yield "    }"
    if doings.follows:
        yield "    if (hear(&frame_number)) {"
        yield "        frame_began = now;"
        yield "        lantern_frame(frame_number);"
        yield "    } else if (now - frame_began >= LANTERN_TICK_US) { /* not heard: by its own clock */"
    else:
        yield "    if (now - frame_began >= LANTERN_TICK_US) {"
    yield "        uint32_t left_out = 0;"
    yield "        frame_began += LANTERN_TICK_US;"
    yield f"        frame_number = {next_frame};"
    yield "        while (now - frame_began >= LANTERN_TICK_US) { /* the clock may begin again at 0 in between */"
    yield "            frame_began += LANTERN_TICK_US;"
    yield f"            frame_number = {next_frame};"
    yield "            left_out++; /* a frame that there was no time for */"
    yield "        }"
    yield "        (void)left_out;"
    yield "        lantern_frame(frame_number);"
    if tells:
        knobs = "".join(
            telling.KNOB.format(words=comment(knob.words).replace('"', "'"), pin=knob.pin.name)
            for knob in doings.of(Knob)
        )
        knobs += "".join(
            telling.INPUT.format(words=comment(one.words).replace('"', "'"), at=at)
            for at, one in enumerate(doings.heard)
        )
        yield telling.FRAME.format(knobs=knobs).rstrip()
    yield "    }"
    yield "    lantern_step();"
    yield "}\n"
    yield "void lantern_stop(void)"
    yield "{"
    if begins:
        yield "    const uint32_t now = now_us();"
    yield "    running = 0;"
    yield "    lantern_dark();"
    yield from begins
    yield "}"
    yield ""


def _after(score: Score) -> Iterator[str]:
    yield "/* The frame after one. */"
    yield "static uint32_t after(uint32_t number)"
    yield "{"
    if score.after_end == "repeat":
        yield "    return (number + 1u < LANTERN_TICKS) ? number + 1u : 0;"
    else:
        yield f"    return (number < LANTERN_TICKS * {score.plays}ul) ? number + 1u : number;"
    yield "}\n"


def _read(doings: Doings) -> Iterator[str]:
    """What each input reads, by its number."""
    yield "uint16_t lantern_read(uint8_t input)"
    yield "{"
    yield "    switch (input) {"
    for at, one in enumerate(doings.heard):
        yield f"    case {at}: /* {comment(one.words)} */"
        yield f"        return {_reading(one, bool(doings.listens))};"
    yield "    default:"
    yield "        return 0;"
    yield "    }"
    yield "}\n"


def _reading(one: Heard, listens: bool) -> str:
    if one.pin is not None:
        return f"{'pin_counts' if one.volts else 'pin_read'}({one.pin.name})"
    if not listens:
        return f"{one.deaf} /* nobody tells it */"
    return "linked" if one.told is None else f"told[{one.told}]"


def _made(pin: Pin) -> Iterator[str]:
    """A pin is given its level, then made what it is."""
    if pin.use == "reads":
        yield f"    pin_input({pin.name}, {int(pin.pull_up)});"
        return
    yield f"    pin_set({pin.name}, {int(pin.idle)});"
    yield f"    pin_output({pin.name});"
