"""What a board does at its pins printed as Python, for small boards that run it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from string import Template

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
from tiny_lantern.code.board.kinds import common, knobs, link, listening
from tiny_lantern.code.board.printed import LOW, PARTS, Printed, outputs_before
from tiny_lantern.code.names import comment
from tiny_lantern.code.score import Score, Slice

RUNNING = '''
state = {"frame": 0, "began": 0, "running": False}


def step():
    """What has to be done between frames; a frame that takes long calls it too."""
    if state["running"]:
        for each in STEPS:
            each(pins.now_us())


def show_frame(number):
    BEFORE_FRAME(number)
    found = show.frame(number)
    write(found)
    set_levels(show.levels(found))


def set_levels(levels):
    asked[:] = levels
    for each in SETS:
        each(pins.now_us())


def start():
    """Every pin is given the level that it has while all is dark, and only then made an output; then chips are sent
    their dark state, and the first frame is shown."""
    for pin, level in PINS:
        pins.pin_set(pin, level)
        pins.pin_output(pin)
    for pin, pull_up in READ:
        pins.pin_input(pin, pull_up)
    now = pins.now_us()
    for each in BEGINS:
        each(now)
    show.between = step if STEPS else None
    state["running"] = True
    state["frame"], state["began"] = $first, pins.now_us()
    show_frame(state["frame"])


def loop():
    """To be called over and over."""
    now = pins.now_us()
    if LISTEN(now):
        step()
        return
    heard_now = HEARD()
    if heard_now is not None:
        state["frame"], state["began"] = heard_now, now
        show_frame(heard_now)
    elif since(now, state["began"]) >= show.TICK_US:
        while since(now, state["began"]) >= show.TICK_US:  # frames that there was no time for are left out
            state["began"] = (state["began"] + show.TICK_US) & MOMENTS
            state["frame"] = $next
        show_frame(state["frame"])
    step()


def go_dark():
    write(bytearray(BYTES))
    set_levels([0] * CHANNELS)


def stop():
    """Leave everything dark."""
    state["running"] = False
    go_dark()
    for each in BEGINS:
        each(pins.now_us())
'''


def python_io(score: Score, part: Slice, doings: Doings) -> str:
    """The module of a board's pins.

    Args:
        score: the show.
        part: the board's part of it.
        doings: what it does at its pins.
    """
    parts = [each for each in PARTS if each.rows(doings)]
    chains = [row for each in parts if each.kind is Chain for row in each.rows(doings)]
    turned = doings.of(Knob)
    lines = any(isinstance(each, Chain | Matrix) for each in doings.all)
    return "\n".join([
        f"# {comment(score.title)}, {comment(part.title)}: what the board does at its pins, stamp {score.stamp}.",
        f"import lantern_{part.name} as show", "import lantern_pins as pins", "",
        *_pins(doings), "HIGH_WHILE_LIT, LOW_WHILE_LIT = 0, 1",
        f"DARK = {DARK}  # an output that nothing hangs on", f"CHANNELS = {doings.channels}",
        f"BYTES = {part.byte_count}  # of a frame",
        *(["FRAME_MARK = 0xA7  # before the number of a frame"] if doings.follows or doings.leads else []), "",
        common.PYTHON_LEVELS, common.PYTHON_MOMENTS, *([common.PYTHON_LATCH] if lines else []),
        *([*_outputs(chains), common.PYTHON_SENDING] if chains else []),
        *(line for each in parts for line in (*_table(each, each.rows(doings), chains), each.text.python)),
        *([*_knobs(turned), knobs.PYTHON] if turned else []), *_write(doings),
        *_listening(score, part, doings),
        *([link.python_followed(doings.state_bytes)] if doings.follows else []),
        *([link.python_passed_on(bool(doings.state_bytes))] if doings.leads else []),
        *(_read(doings) if doings.heard else _after(score)), *_called(doings, parts),
        Template(RUNNING).substitute(
            first="show.answer_begin(read)" if doings.heard else "0",
            next="show.answer(read)" if doings.heard else 'after(state["frame"])',
        ),
    ])  # fmt: skip


def _listening(score: Score, part: Slice, doings: Doings) -> Iterator[str]:
    if doings.listens:
        identity = listening.identity_of(score.stamp, part.title, part.byte_count)
        yield listening.python_heard(doings.listens, identity, len(doings.heard), doings.signals)


def _pins(doings: Doings) -> Iterator[str]:
    for pin in doings.pins:
        yield f"{pin.name} = {pin.number}  # pin {comment(pin.at)}: {comment(pin.words)}"
    gives = [f"({pin.name}, {int(pin.idle)})" for pin in doings.pins if pin.use != "reads"]
    reads = [f"({pin.name}, {int(pin.pull_up)})" for pin in doings.pins if pin.use == "reads"]
    yield f"PINS = [{', '.join(gives)}]  # with their levels while all is dark"
    yield f"READ = [{', '.join(reads)}]  # and whether the board pulls them up"


def _called(doings: Doings, parts: Sequence[Printed]) -> Iterator[str]:
    """The functions that are called at the start, at a new frame and in between."""
    knob = ["lambda now: turn_down()"] if doings.of(Knob) else []
    sets = [*knob, *(f"set_{each.name}" for each in parts if each.text.sets)]
    yield ""
    yield f"BEGINS = [{', '.join(f'begin_{each.name}' for each in parts if each.text.begins)}]"
    yield f"SETS = [{', '.join(sets)}]"
    yield f"STEPS = [{', '.join(f'step_{each.name}' for each in parts if each.text.steps)}]"
    yield f"LISTEN = {'listen' if doings.listens else 'lambda now: False'}"
    yield f"HEARD = {'hear' if doings.follows else 'lambda: None'}"
    yield f"BEFORE_FRAME = {'pass_on' if doings.leads else 'lambda number: None'}"


def _table(part: Printed, rows: Sequence[Doing], chains: Sequence[Chain]) -> Iterator[str]:
    yield f"{part.name.upper()} = ["
    for row in rows:
        yield f"    ({_row(row, outputs_before(row, chains))}),  # {comment(row.words)}"
    yield "]"


def _row(row: Doing, first: int) -> str:
    match row:
        case Switched(pin, channel, low, least_ms):
            return f"{pin.name}, {channel}, {LOW[low]}, {least_ms}"
        case Dimmed(pin, channel, low, full):
            return f"{pin.name}, {channel}, {LOW[low]}, {full}"
        case Chain(lines, outputs, bits, unit_us):
            return f"{_lines(lines)}, {first}, {len(outputs)}, {bits}, {unit_us}"
        case Matrix():
            rows_from = None if row.step is not None else row.rows_from
            return (
                f"{_lines(row.lines)}, {row.count}, {row.rows}, {row.columns}, {rows_from}, {LOW[row.row_low]}, "
                f"{_channels(row.channels)}, {row.bits}, {row.row_us}, {row.blank_us}, {_pin(row.step)}, "
                f"{_pin(row.reset)}"
            )
        case Turns():
            selects = ", ".join(pin.name for pin in row.selects)
            return f"[{selects}], {row.enable.name}, {_channels(row.channels)}, {row.dwell_us}"
        case Pair(ends, both, half_us, dead_us):
            return f"({ends[0].name}, {ends[1].name}), {_channels(both)}, {half_us}, {dead_us}"
        case Held():
            return f"{row.full.name}, {row.hold.name}, {row.channel}, {LOW[row.low]}"
    raise TypeError(f"there is no row for {row}")


def _lines(lines: Lines) -> str:
    selects = ", ".join(f"({pin.name}, {int(high)})" for pin, high in lines.selects)
    return f"({lines.data.name}, {lines.clock.name}, {lines.latch.name}, [{selects}])"


def _channels(channels: Sequence[int]) -> str:
    return f"[{', '.join('DARK' if each == DARK else str(each) for each in channels)}]"


def _pin(pin: Pin | None) -> str:
    return "None" if pin is None else pin.name


def _outputs(chains: Sequence[Chain]) -> Iterator[str]:
    yield "OUTPUTS = ["
    for row in (output for chain in chains for output in chain.outputs):
        channel = "DARK" if row.channel == DARK else str(row.channel)
        yield f"    ({channel}, {LOW[row.low]}),  # {comment(row.words)}"
    yield "]"


def _knobs(turned: Sequence[Knob]) -> Iterator[str]:
    yield "KNOBS = ["
    for knob in turned:
        yield f"    ({knob.pin.name}, {knob.first}, {knob.count}, {knob.rest}, {knob.full}),  # {comment(knob.words)}"
    yield "]"


def _write(doings: Doings) -> Iterator[str]:
    """The bytes of each data line."""
    yield "\n\ndef write(found):"
    yield '    """The bytes of each data line."""'
    for line in doings.of(Pixels):
        spans = " + ".join(f"found[{first}:{first + count}]" for first, count in line.spans)
        yield f"    pins.pixels_send({line.pin.name}, {spans})  # {comment(line.words)}"
    yield ""


def _read(doings: Doings) -> Iterator[str]:
    """What each input reads, by its number."""
    yield "\n\nINPUTS = ["
    for one in doings.heard:
        yield f"    ({_reading(one, bool(doings.listens))}),  # {comment(one.words)}"
    yield "]\n\n\ndef read(number):"
    yield '    """What an input reads: counts, or 0 and 1."""'
    yield "    call, pin = INPUTS[number]"
    yield "    return int(call(pin))\n"


def _reading(one: Heard, listens: bool) -> str:
    if one.pin is not None:
        return f"pins.{'pin_counts' if one.volts else 'pin_read'}, {one.pin.name}"
    if not listens:
        return f"lambda _: {one.deaf}, None"
    return 'link.get, "linked"' if one.told is None else f"told.__getitem__, {one.told}"


def _after(score: Score) -> Iterator[str]:
    yield "\n\ndef after(number):"
    yield '    """The frame after one."""'
    if score.after_end == "repeat":
        yield "    return number + 1 if number + 1 < show.TICKS else 0"
    else:
        yield f"    return number + 1 if number < show.TICKS * {score.plays} else number"
    yield ""
