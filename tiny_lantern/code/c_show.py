"""The show printed as C99: one header, and a source for each board; nothing is allocated, nothing floats."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.names import comment
from tiny_lantern.code.score import LETTERS, Laid, Run, Score, Slice, cap_rows
from tiny_lantern.kernel.c99 import c_constant, c_function, c_list, c_prelude
from tiny_lantern.kernel.nodes import listed
from tiny_lantern.model.quantities import clock
from tiny_lantern.show.levels import HALF_LEVEL

HEADER = "lantern.h"
LAYERS = {"replace": "lay_over", "add": "lay_add", "lighten": "lay_lighten", "dim": "lay_dim"}
TYPES = """\
typedef struct {
    int32_t red, green, blue; /* linear light, 65536 is full */
} light_t;

typedef struct {
    uint32_t begin, end; /* frames from begin to before end */
    uint32_t first, stop; /* lights from first to before stop */
    uint8_t (*light)(int32_t slot, int32_t tick, light_t *light); /* 0 for a light that it leaves alone */
    void (*lay)(light_t *below, const light_t *above);
} laid_t;

typedef struct {
    uint32_t first, count; /* lights in a row */
    uint8_t channels; /* bytes a light */
    uint8_t order[4]; /* what is sent: 0 red, 1 green, 2 blue, 3 white */
} run_t;
"""
LAYING = {
    "lay_over": """\
static void lay_over(light_t *below, const light_t *above)
{
    below->red = above->red;
    below->green = above->green;
    below->blue = above->blue;
}
""",
    "lay_add": """\
static int32_t added(int32_t below, int32_t above)
{
    const int32_t sum = below + above;
    return (sum > INT32_C(65536)) ? INT32_C(65536) : sum;
}

static void lay_add(light_t *below, const light_t *above)
{
    below->red = added(below->red, above->red);
    below->green = added(below->green, above->green);
    below->blue = added(below->blue, above->blue);
}
""",
    "lay_lighten": """\
static int32_t lighter(int32_t below, int32_t above)
{
    return (below > above) ? below : above;
}

static void lay_lighten(light_t *below, const light_t *above)
{
    below->red = lighter(below->red, above->red);
    below->green = lighter(below->green, above->green);
    below->blue = lighter(below->blue, above->blue);
}
""",
    "lay_dim": """\
static int32_t dimmed(int32_t below, int32_t above)
{
    return (int32_t)(((int64_t)below * above + INT64_C(32768)) / INT64_C(65536));
}

static void lay_dim(light_t *below, const light_t *above)
{
    below->red = dimmed(below->red, above->red);
    below->green = dimmed(below->green, above->green);
    below->blue = dimmed(below->blue, above->blue);
}
""",
}
BYTE = """\
static uint8_t byte_of(int32_t share)
{
    return (uint8_t)((share * INT32_C(255) + INT32_C(32768)) / INT32_C(65536));
}
"""
LAYERS_PLAYED = """\
static void light_at(uint32_t slot, uint32_t tick, light_t *light)
{
    light_t above;
    uint32_t at;
    for (at = 0; at < EFFECTS; at++) {
        const laid_t *one = &effects[at];
        if (tick >= one->begin && tick < one->end && slot >= one->first && slot < one->stop) {
            if (one->light((int32_t)(slot - one->first), (int32_t)(tick - one->begin), &above)) {
                one->lay(light, &above);
            }
        }
    }
}

"""
SCENES_PLAYED = """\
/* How far a scene has faded in at a frame: 0 before it begins, 65536 when it alone is seen. */
static int32_t share_at(uint32_t scene, uint32_t tick)
{
    const scene_t *one = &scenes[scene];
    if (tick < one->begin) {
        return 0;
    }
    if (tick - one->begin >= one->fade) {
        return INT32_C(65536);
    }
    return (int32_t)((uint64_t)(tick - one->begin) * UINT64_C(65536) / one->fade);
}

static int32_t faded(int32_t below, int32_t above, int32_t share)
{
    const int64_t both = (int64_t)below * (INT32_C(65536) - share) + (int64_t)above * share;
    return (int32_t)((both + INT64_C(32768)) / INT64_C(65536));
}

static void light_at(uint32_t slot, uint32_t tick, light_t *light)
{
    light_t above;
    uint32_t scene, at, first = 0;
    for (scene = 1; scene < SCENES; scene++) {
        if (share_at(scene, tick) == INT32_C(65536)) {
            first = scene; /* those before it are not seen any more */
        }
    }
    for (scene = first; scene < SCENES; scene++) {
        const int32_t share = share_at(scene, tick);
        light_t own = {0, 0, 0};
        if (share == 0) {
            continue;
        }
        for (at = scenes[scene].first; at < scenes[scene].stop; at++) {
            const laid_t *one = &effects[at];
            if (tick >= one->begin && tick < one->end && slot >= one->first && slot < one->stop) {
                if (one->light((int32_t)(slot - one->first), (int32_t)(tick - one->begin), &above)) {
                    one->lay(&own, &above);
                }
            }
        }
        light->red = faded(light->red, own.red, share);
        light->green = faded(light->green, own.green, share);
        light->blue = faded(light->blue, own.blue, share);
    }
}

"""
PLAYING = """\
/* The bytes of one light in the order of its wire; a white die takes what the three colours have in common. */
static uint8_t *put(uint8_t *bytes, const run_t *run, const light_t *light)
{
    uint8_t own[4] = {0, 0, 0, 0};
    uint8_t channel;
    own[0] = byte_of(light->red);
    own[1] = byte_of(light->green);
    own[2] = byte_of(light->blue);
    if (run->channels == 4) {
        own[3] = (own[0] < own[1]) ? own[0] : own[1];
        own[3] = (own[2] < own[3]) ? own[2] : own[3];
        for (channel = 0; channel < 3; channel++) {
            own[channel] = (uint8_t)(own[channel] - own[3]);
        }
    }
    for (channel = 0; channel < run->channels; channel++) {
        *bytes++ = own[run->order[channel]];
    }
    return bytes;
}
"""
FRAME = """\
void lantern_frame(uint32_t tick)
{{
    uint8_t *bytes = frame;
    uint32_t run, light;
    const uint32_t shown = {shown};
    const uint8_t lit = {lit};
    for (run = 0; run < RUNS; run++) {{
        for (light = 0; light < runs[run].count; light++) {{
            light_t found = {{0, 0, 0}};
            if (lit) {{
                light_at(runs[run].first + light, shown, &found);
            }}
            bytes = put(bytes, &runs[run], &found);
        }}
    }}
{capped}    lantern_write(frame, (uint32_t)sizeof frame);
{levelled}}}
"""
LEVELLING = """\
/* The level of one channel: its colour's part of the light, what three colours have in common where it has no weights,
 * on from half up where it only switches, on at any light where it holds a lamp. */
static uint16_t level_of(const channel_t *channel)
{
    const uint8_t *light = &frame[channel->at];
    const uint8_t *least = light;
    uint32_t asked = light[0] * channel->red + light[1] * channel->green + light[2] * channel->blue;
    if ((channel->red | channel->green | channel->blue) == 0) {
        least = (light[1] < *least) ? &light[1] : least;
        least = (light[2] < *least) ? &light[2] : least;
        asked = *least * UINT32_C(65536);
    }
    asked = (asked + UINT32_C(127)) / UINT32_C(255);
    if (asked > UINT32_C(65535)) {
        asked = UINT32_C(65535);
    }
    if (channel->on_from != 0) {
        return (asked >= channel->on_from) ? UINT16_C(65535) : 0;
    }
    return (uint16_t)((asked * channel->trim) >> 16);
}

static void set_levels(void)
{
    static uint16_t levels[CHANNELS];
    uint32_t at;
    for (at = 0; at < CHANNELS; at++) {
        levels[at] = level_of(&channels[at]);
    }
    lantern_levels(levels, CHANNELS);
}
"""
ON_FROM = {"dims": 0, "switches": HALF_LEVEL, "holds": 1}
CAPPING = """\
/* Dims a frame that would draw more than a supply may give: by one share for all of the lights on it. */
static void keep_within_caps(void)
{
    uint64_t share[CAPS];
    uint32_t cap, run, at;
    uint8_t channel;
    uint8_t *bytes;
    for (cap = 0; cap < CAPS; cap++) {
        const uint64_t room = (uint64_t)room_ua[cap] * UINT64_C(255);
        uint64_t drawn = 0;
        bytes = frame;
        for (run = 0; run < RUNS; run++) {
            for (at = 0; at < runs[run].count; at++) {
                for (channel = 0; channel < runs[run].channels; channel++) {
                    drawn += (uint64_t)full_ua[cap][run][runs[run].order[channel]] * *bytes++;
                }
            }
        }
        share[cap] = (drawn > room) ? room * UINT64_C(65536) / drawn : UINT64_C(65536);
    }
    bytes = frame;
    for (run = 0; run < RUNS; run++) {
        uint64_t least = UINT64_C(65536);
        for (cap = 0; cap < CAPS; cap++) {
            const uint32_t *full = full_ua[cap][run];
            if ((full[0] | full[1] | full[2] | full[3]) != 0 && share[cap] < least) {
                least = share[cap];
            }
        }
        for (at = 0; at < runs[run].count * runs[run].channels; at++) {
            *bytes = (uint8_t)((*bytes * least) >> 16);
            bytes++;
        }
    }
}
"""


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
        " * A wiring sheet of the same stamp belongs to it; one of another stamp is older or newer. */",
        "#ifndef LANTERN_H", "#define LANTERN_H", "", "#include <stdint.h>", "",
        f'#define LANTERN_STAMP "{score.stamp}"',
        f"#define LANTERN_TICKS UINT32_C({score.ticks})",
        f"#define LANTERN_TICK_US UINT32_C({score.tick_us}) /* a frame lasts so many microseconds */", "",
        "/* Lights that have names, by their numbers on the Line. */", *lights, "",
        "/* Works one frame out and hands its bytes to lantern_write; call it once a frame with 0, 1, 2 ... */",
        "void lantern_frame(uint32_t tick);", "",
        "/* Yours: send the bytes to the lights. */",
        "void lantern_write(const uint8_t *bytes, uint32_t count);", "", *_level_hook(score), "#endif", "",
    ])  # fmt: skip


def _level_hook(score: Score) -> list[str]:
    if not any(part.levels for part in score.slices):
        return []
    return [
        "/* Yours: set what the board drives itself, 0 to 65535 each, in the order of the table in its source. */",
        "void lantern_levels(const uint16_t *levels, uint32_t count);", "",
    ]  # fmt: skip


def c_source(score: Score, part: Slice) -> str:
    """The source of one board.

    Args:
        score: the show.
        part: the board's part of it.

    Raises:
        KeyError: an effect is laid in a way that is not known.
    """
    laid = effects_on(score, part)
    kinds = tuple({each.kind.kind: each.kind for each in laid}.values())
    layers = sorted({LAYERS[each.effect.layer] for each in laid})
    programs = [kind.program for kind in kinds]
    caps = cap_rows(score, part)
    return "\n".join([
        *_head(score, part), f'#include "{HEADER}"', "", c_prelude(programs), TYPES,
        *map(c_function, programs), *(LAYING[name] for name in layers), *(_effect(each) for each in laid),
        *_tables(laid, part), *_scenes(score, laid), BYTE, SCENES_PLAYED if score.windows else LAYERS_PLAYED, PLAYING,
        *_capping(caps), *_levelling(part),
        FRAME.format(
            shown=_shown(score), lit=_lit(score), capped="    keep_within_caps();\n" if caps else "",
            levelled="    set_levels();\n" if part.levels else "",
        ),
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
        if any(laid.first < run.first + run.count and run.first < laid.stop for run in part.runs)
    )


def _head(score: Score, part: Slice) -> Iterator[str]:
    yield f"/* {comment(score.title)}, {comment(part.title)}: stamp {score.stamp}."
    yield f" * {sum(run.count for run in part.runs)} lights, {part.byte_count} bytes a frame."
    for role, pin in part.pins:
        yield f" * pin {comment(pin):<6} {comment(role)}"
    yield " */"


def _effect(laid: Laid) -> str:
    """One effect as a function: its numbers put into its kind's program."""
    effect = laid.effect
    given = [
        node.name if node.name in ("slot", "tick") else c_constant(laid.number(node.name), node.type)
        for node in laid.kind.program.inputs
    ]
    lists = []
    for node in laid.kind.program.lists:
        name = f"{laid.name}_{node.name}"
        lists.append(c_list(name, node, laid.list(node.name)))
        given += [name, f"INT32_C({len(laid.list(node.name))})"]
    unused = [f"    (void){name};" for name in ("slot", "tick") if name not in given]
    turned = [f"    {line};" for line in turned_lines(laid)]
    if laid.slots is not None:
        node = listed("places", -1, len(laid.slots))
        lists.append(c_list(f"{laid.name}_places", node, laid.places))
        found = [f"    slot = {laid.name}_places[slot];", "    if (slot < 0) {", "        return 0;", "    }"]
        turned = [*found, *turned]
    call = ", ".join([*given, "&light->red", "&light->green", "&light->blue"])
    return "\n".join([
        *lists, f"/* {effect.look.word}, lights {laid.first} to {laid.stop - 1}, {clock(effect.start_s)} for "
        f"{effect.length_s:g} s */",
        f"static uint8_t {laid.name}(int32_t slot, int32_t tick, light_t *light)", "{", *turned, *unused,
        f"    {laid.kind.program.name}({call});", "    return 1;", "}", "",
    ])  # fmt: skip


def _where(laid: Laid) -> str:
    ends = f"lights {laid.first} to {laid.stop - 1}"
    return ends if laid.slots is None else f"{len(laid.slots)} of {ends}, in the order of a group"


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
    yield "static const laid_t effects[EFFECTS] = {"
    for each in laid:
        yield (
            f"    {{{each.begin}ul, {each.end}ul, {each.first}ul, {each.stop}ul, {each.name}, "
            f"{LAYERS[each.effect.layer]}}},"
        )
    if not laid:
        yield "    {0, 0, 0, 0, 0, 0},"
    yield "};\n"
    yield f"#define RUNS {len(part.runs)}ul"
    yield "static const run_t runs[RUNS] = {"
    yield from (_run(run) for run in part.runs)
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
    yield "static const scene_t scenes[SCENES] = {"
    for scene, window in enumerate(score.windows):
        first = sum(each.scene < scene for each in laid)
        stop = sum(each.scene <= scene for each in laid)
        yield f"    {{{window.begin}ul, {window.fade}ul, {first}ul, {stop}ul}},"
    yield "};\n"


def _capping(caps: list[tuple[int, list[tuple[int, int, int, int]]]]) -> Iterator[str]:
    """What each run draws from supplies that have a cap, and how a frame is kept within it."""
    if not caps:
        return
    yield "/* In millionths of an ampere: what a cap leaves for light, and what one light of each run draws at full"
    yield " * red, green, blue and white. */"
    yield f"#define CAPS {len(caps)}ul"
    yield f"static const uint32_t room_ua[CAPS] = {{{', '.join(f'{room}ul' for room, _ in caps)}}};"
    yield "static const uint32_t full_ua[CAPS][RUNS][4] = {"
    for _, rows in caps:
        yield "    {" + ", ".join("{" + ", ".join(f"{ua}ul" for ua in row) + "}" for row in rows) + "},"
    yield "};\n"
    yield CAPPING


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
    yield "static const channel_t channels[CHANNELS] = {"
    for driven in part.levels:
        numbers = (driven.at, *driven.level.weights, ON_FROM[driven.level.sort], driven.level.trim)
        yield f"    {{{', '.join(f'{number}ul' for number in numbers)}}}, /* {comment(driven.title)} */"
    yield "};\n"
    yield LEVELLING


def _run(run: Run) -> str:
    order = [LETTERS.index(letter) for letter in run.order] + [0] * (4 - len(run.order))
    numbers = ", ".join(map(str, order))
    return f"    {{{run.first}ul, {run.count}ul, {len(run.order)}, {{{numbers}}}}}, /* {comment(run.piece_name)} */"


def _shown(score: Score) -> str:
    """The frame of the show that is seen at a tick."""
    if score.after_end == "repeat":
        return "tick % LANTERN_TICKS"
    return f"(tick < LANTERN_TICKS * {score.plays}ul) ? tick % LANTERN_TICKS : LANTERN_TICKS - 1ul"


def _lit(score: Score) -> str:
    return f"(uint8_t)(tick < LANTERN_TICKS * {score.plays}ul)" if score.after_end == "dark" else "1"
