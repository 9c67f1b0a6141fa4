"""The show printed as one module of Python that needs nothing else, for small boards that run it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from string import Template

from tiny_lantern.code.answers import has_clocks, python_answers
from tiny_lantern.code.c_show import ON_FROM, effect_comment, effects_on, turned_lines
from tiny_lantern.code.names import comment
from tiny_lantern.code.programs import programs_of
from tiny_lantern.code.score import LETTERS, Laid, Score, Slice, cap_rows
from tiny_lantern.kernel.nodes import Node
from tiny_lantern.kernel.plain_python import python_function, python_prelude
from tiny_lantern.kernel.program import Program

PLAYING = '''
between = None  # called between the lights of a frame, which may take long


def added(below, above):
    return min(below + above, 65536)


def dimmed(below, above):
    return (below * above + 32768) >> 16


def over(below, above):
    return above


def share_at(begin, fade, tick):
    """How far a scene has faded in at a frame, 65536 when it alone is seen."""
    if tick < begin:
        return 0
    return 65536 if tick - begin >= fade else (tick - begin) * 65536 // fade


def scenes_at(tick):
    """What is seen in a frame, scene by scene: how far each has faded in, and its effects that are on."""
    seen = []
    for scene, (begin, fade) in enumerate(SCENES):
        share = share_at(begin, fade, tick)
        if share == 65536:
            seen = []  # those before it are not seen any more
        if share:
            seen.append((share, [each for each in EFFECTS if each[0] == scene and each[1] <= tick < each[2]$seen]))
    return seen


def met_by(seen, first, count):
    """What of that some lights in a row meet."""
    return [(share, [each for each in on if each[3] < first + count and first < each[4]]) for share, on in seen]


def light_at(slot, tick, here):
    light = (0, 0, 0)
    for share, on in here:
        own = (0, 0, 0)
        for _, begin, _, first, stop, lay, effect in on:
            if first <= slot < stop:
                above = effect(slot - first, $own_tick)
                if above is not None:
                    own = tuple(lay(own[at], above[at]) for at in range(3))
        light = tuple((light[at] * (65536 - share) + own[at] * share + 32768) >> 16 for at in range(3))
    return light


def bytes_of(light, order, slot):
    own = [(share * 255 + 32768) >> 16 for share in light]
$shaded    own.append(min(own) if len(order) == 4 else 0)
    own = [own[at] - own[3] for at in range(3)] + [own[3]]
    return [own[at] for at in order]


def frame(tick):
    """The bytes of one frame, in the order of the wire."""
    shown, lit = shown_at(tick)
    found, seen = bytearray(), scenes_at(shown)
    for first, count, order in RUNS:
        here = met_by(seen, first, count)
        for slot in range(first, first + count):
            found.extend(bytes_of(light_at(slot, shown, here) if lit else (0, 0, 0), order, slot))
            if between is not None:
                between()
    return within_caps(found, shown, lit)
'''
LEVELLING = '''
def levels(found):
    """What the board drives itself, 0 to 65535 each, from the bytes of a frame."""
    told = []
    for at, red, green, blue, on_from, trim in CHANNELS:
        light = found[at : at + 3]
        asked = light[0] * red + light[1] * green + light[2] * blue
        if not (red or green or blue):
            asked = min(light) * 65536
        asked = min((asked + 127) // 255, 65535)
        told.append((65535 if asked >= on_from else 0) if on_from else asked * trim >> 16)
    return told
'''
CAPPING = '''
def drawn_beside(rows, shown, lit):
    """What the lights of other boards draw from the supply of a cap."""
    drawn, seen = 0, scenes_at(shown)
    for (first, count, order), full in zip(BESIDE, rows[len(RUNS) :]):
        here = met_by(seen, first, count)
        for slot in range(first, first + count if lit else first):
            found = bytes_of(light_at(slot, shown, here), order, slot)
            drawn += sum(full[channel] * byte for channel, byte in zip(order, found))
    return drawn


def within_caps(found, shown, lit):
    """A frame that would draw more than a supply may give, dimmed by one share for all of the lights on it."""
    shares = []
    for room, rows in CAPS:
        drawn, at = drawn_beside(rows, shown, lit), 0
        for (first, count, order), full in zip(RUNS, rows):
            for _ in range(count):
                for channel in order:
                    drawn += full[channel] * found[at]
                    at += 1
        shares.append(room * 255 * 65536 // drawn if drawn > room * 255 else 65536)
    at = 0
    for run, (first, count, order) in enumerate(RUNS):
        least = min([65536] + [share for share, (room, rows) in zip(shares, CAPS) if any(rows[run])])
        for _ in range(count * len(order)):
            found[at] = found[at] * least >> 16
            at += 1
    return found
'''
LAYS = {"replace": "over", "add": "added", "lighten": "max", "dim": "dimmed"}


def python_module(score: Score, part: Slice) -> str:
    """The module of one board: ``frame(tick)`` gives the bytes of a frame.

    Args:
        score: the show.
        part: the board's part of it.
    """
    laid = effects_on(score, part)
    by_kind = programs_of(laid)
    programs = tuple(by_kind.values())
    runs, beside = (
        [(run.first, run.count, tuple(LETTERS.index(letter) for letter in run.order)) for run in runs]
        for runs in (part.runs, part.beside)
    )
    rows = [
        f"    ({each.scene}, {each.begin}, {each.end}, {each.first}, {each.stop}, {LAYS[each.effect.layer]}, "
        f"{each.name}),"
        for each in laid
    ]
    return "\n".join([
        f"# {comment(score.title)}, {comment(part.title)}: stamp {score.stamp}.", f'STAMP = "{score.stamp}"',
        f"TICKS = {score.ticks}", f"TICK_US = {score.tick_us}", *_chain(score, part),
        *(f"LIGHT_{light.name.upper()} = {light.number}" for light in score.lights), "", "",
        python_prelude(programs), *(f"\n{python_function(program)}" for program in programs),
        *(_effect(each, by_kind[each.kind.kind]) for each in laid), _shown(score), LEVELLING, CAPPING,
        _playing(score, laid), "",
        f"RUNS = {runs}", f"BESIDE = {beside}",
        f"CAPS = {cap_rows(score, part)}",
        f"SCENES = {[(window.begin, window.fade) for window in score.windows] or [(0, 0)]}",
        "CHANNELS = [", *_channels(part), "]", "EFFECTS = [", *rows, "]",
        python_answers(score, laid, score.place(part)), "",
    ])  # fmt: skip


def _playing(score: Score, laid: Sequence[Laid]) -> str:
    """How a frame is worked out, its lights dimmed and its effects paced where rules do that."""
    tables = score.answers.tables if score.answers else None
    return Template(PLAYING).substitute(
        own_tick="own_ticks.get(effect, tick - begin)" if has_clocks(score, laid) else "tick - begin",
        seen=" and is_seen(each[6])" if tables and tables.gated else "",
        shaded="    own = shade(slot, own)\n" if tables and tables.shaded else "",
    )


def _chain(score: Score, part: Slice) -> Iterator[str]:
    """Where the board is among several."""
    if len(score.playing) > 1:
        yield "# Its place in the chain of boards; the first, 0, counts the frames and hands their numbers on."
        yield f"BOARD, BOARDS = {score.place(part)}, {len(score.playing)}"


def _channels(part: Slice) -> Iterator[str]:
    for driven in part.levels:
        numbers = (driven.at, *driven.level.weights, ON_FROM[driven.level.sort], driven.level.trim)
        yield f"    {numbers},  # {comment(driven.title)}"


def _effect(laid: Laid, program: Program) -> str:
    given = [node.name if node.name in ("slot", "tick") else str(laid.number(node.name)) for node in program.inputs] + [
        f"{laid.name}_{node.name}" for node in program.lists
    ]
    lists = "".join(f"\n{laid.name}_{node.name} = {_list(node, laid.list(node.name))}\n" for node in program.lists)
    turned = "".join(f"    {line}\n" for line in turned_lines(laid))
    if laid.slots is not None:
        lists += f"\n{laid.name}_places = {laid.places}\n"
        turned = f"    slot = {laid.name}_places[slot]\n    if slot < 0:\n        return None\n{turned}"
    called = f"{program.name}({', '.join(given)})"
    told = "".join(f"# {line}\n" for line in effect_comment(laid))
    return f"{lists}\n{told}def {laid.name}(slot, tick):\n{turned}    return {called}\n"


def _list(items: Node, values: tuple[int, ...]) -> str:
    """A list as text; bytes where they do, which take least of a small board's memory."""
    return repr(bytes(values)) if items.low >= 0 and items.high <= 255 else repr(values)


def _shown(score: Score) -> str:
    if score.after_end == "repeat":
        return "\ndef shown_at(tick):\n    return tick % TICKS, True\n"
    lit = f"tick < {score.plays} * TICKS" if score.after_end == "dark" else "True"
    return f"\ndef shown_at(tick):\n    return (tick % TICKS if tick < {score.plays} * TICKS else TICKS - 1), {lit}\n"
