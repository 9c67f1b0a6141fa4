"""The parts of a board's C99 that are the same for every show."""

from __future__ import annotations

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
    return (sum > 65536) ? 65536 : sum;
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
static void lay_dim(light_t *below, const light_t *above)
{
    below->red = kernel_share(below->red, above->red);
    below->green = kernel_share(below->green, above->green);
    below->blue = kernel_share(below->blue, above->blue);
}
""",
}
BYTE = """\
static uint8_t byte_of(int32_t share)
{
    return (uint8_t)((((uint32_t)share << 8) - (uint32_t)share + 32768u) >> 16); /* 255 / 65536 of it */
}
"""
LAYERS_PLAYED = """\
/* The effects that are on in a frame, found once for all of its lights, and those of them that a run meets. */
static uint16_t on[EFFECTS], here[EFFECTS];
static uint16_t on_count, here_count;

static void find_what_is_on(uint32_t tick)
{
    uint16_t at;
    on_count = 0;
    for (at = 0; at < EFFECTS; at++) {
        if (tick >= effects[at].begin && tick < effects[at].end$seen) {
            on[on_count++] = at;
        }
    }
}

static void find_what_is_here(const LANTERN_FLASH run_t *run)
{
    uint16_t at;
    here_count = 0;
    for (at = 0; at < on_count; at++) {
        const LANTERN_FLASH laid_t *one = &effects[on[at]];
        if (one->first < run->first + run->count && run->first < one->stop) {
            here[here_count++] = on[at];
        }
    }
}

static void light_at(uint32_t slot, uint32_t tick, light_t *light)
{
    light_t above;
    uint16_t at;
    for (at = 0; at < here_count; at++) {
        const LANTERN_FLASH laid_t *one = &effects[here[at]];
        if (slot >= one->first && slot < one->stop) {
            if (one->light((int32_t)(slot - one->first), (int32_t)(tick - one->begin), &above)) {
                one->lay(light, &above);
            }
        }
    }
}

"""
SCENES_PLAYED = """\
/* How far a scene has faded in at a frame: 0 before it begins, 65536 when it alone is seen. */
static int32_t share_at(uint16_t scene, uint32_t tick)
{
    const LANTERN_FLASH scene_t *one = &scenes[scene];
    if (tick < one->begin) {
        return 0;
    }
    if (tick - one->begin >= one->fade) {
        return 65536;
    }
    return (int32_t)((uint64_t)(tick - one->begin) * 65536u / one->fade);
}

/* The scenes that are seen in a frame and how far each has faded in, and the effects that are on in it, those of
 * each scene in a row: found once for all of its lights. Then those of them that a run meets, in the same way. */
static uint16_t on[EFFECTS], here[EFFECTS];
static uint16_t on_stop[SCENES], here_stop[SCENES];
static int32_t shares[SCENES];
static uint16_t first_seen;

static void find_what_is_on(uint32_t tick)
{
    uint16_t scene, count = 0;
    uint32_t at;
    first_seen = 0;
    for (scene = 0; scene < SCENES; scene++) {
        shares[scene] = share_at(scene, tick);
        if (scene > 0 && shares[scene] == 65536) {
            first_seen = scene; /* those before it are not seen any more */
        }
        for (at = scenes[scene].first; at < scenes[scene].stop && shares[scene] > 0; at++) {
            if (tick >= effects[at].begin && tick < effects[at].end$seen) {
                on[count++] = (uint16_t)at;
            }
        }
        on_stop[scene] = count;
    }
}

static void find_what_is_here(const LANTERN_FLASH run_t *run)
{
    uint16_t scene, at = (first_seen == 0) ? 0 : on_stop[first_seen - 1], count = 0;
    for (scene = first_seen; scene < SCENES; scene++) {
        for (; at < on_stop[scene]; at++) {
            const LANTERN_FLASH laid_t *one = &effects[on[at]];
            if (one->first < run->first + run->count && run->first < one->stop) {
                here[count++] = on[at];
            }
        }
        here_stop[scene] = count;
    }
}

static int32_t faded(int32_t below, int32_t above, int32_t share)
{
    return below + kernel_share(above - below, share);
}

static void light_at(uint32_t slot, uint32_t tick, light_t *light)
{
    light_t above;
    uint16_t scene, at = 0;
    for (scene = first_seen; scene < SCENES; scene++) {
        light_t own = {0, 0, 0};
        if (shares[scene] == 0) {
            continue;
        }
        for (; at < here_stop[scene]; at++) {
            const LANTERN_FLASH laid_t *one = &effects[here[at]];
            if (slot >= one->first && slot < one->stop) {
                if (one->light((int32_t)(slot - one->first), (int32_t)(tick - one->begin), &above)) {
                    one->lay(&own, &above);
                }
            }
        }
        if (shares[scene] == 65536) {
            *light = own;
            continue;
        }
        light->red = faded(light->red, own.red, shares[scene]);
        light->green = faded(light->green, own.green, shares[scene]);
        light->blue = faded(light->blue, own.blue, shares[scene]);
    }
}

"""
PLAYING = """\
/* The bytes of one light in the order of its wire; a white die takes what the three colours have in common. */
static uint8_t *put(uint8_t *bytes, const LANTERN_FLASH run_t *run, const light_t *light$slot_given)
{
    uint8_t own[4] = {0, 0, 0, 0};
    uint8_t channel;
    own[0] = byte_of(light->red);
    own[1] = byte_of(light->green);
    own[2] = byte_of(light->blue);
$shaded    if (run->channels == 4) {
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
void (*lantern_between)(void) = 0;

void lantern_dark(void)
{{
    uint32_t at;
    for (at = 0; at < sizeof frame; at++) {{
        frame[at] = 0;
    }}
    lantern_write(frame, (uint32_t)sizeof frame);
{levelled}}}

void lantern_frame(uint32_t tick)
{{
    uint8_t *bytes = frame;
    uint32_t run, light;
    const uint32_t shown = {shown};
    const uint8_t lit = {lit};
{passed_on}    find_what_is_on(shown);
    for (run = 0; run < RUNS; run++) {{
        find_what_is_here(&runs[run]);
        for (light = 0; light < runs[run].count; light++) {{
            light_t found = {{0, 0, 0}};
            if (lit) {{
                light_at(runs[run].first + light, shown, &found);
            }}
            if (lantern_between) {{
                lantern_between();
            }}
            bytes = put(bytes, &runs[run], &found{slot});
        }}
    }}
{capped}    lantern_write(frame, (uint32_t)sizeof frame);
{levelled}}}
"""
BY_255 = """\
/* n / 255, exact for all below 256 * 65536; a division takes a small board several times as long. */
static uint32_t by_255(uint32_t n)
{
    const uint32_t m = n + 1u;
    n = m + (m >> 8);
    n = m + (n >> 8);
    return n >> 8;
}

"""
LEVELLING = """\
/* The level of one channel: its colour's part of the light, what three colours have in common where it has no weights,
 * on from half up where it only switches, on at any light where it holds a lamp. */
static uint16_t level_of(const LANTERN_FLASH channel_t *channel)
{
    const uint8_t *light = &frame[channel->at];
    const uint8_t *least = light;
    uint32_t asked = light[0] * channel->red + light[1] * channel->green + light[2] * channel->blue;
    if ((channel->red | channel->green | channel->blue) == 0) {
        least = (light[1] < *least) ? &light[1] : least;
        least = (light[2] < *least) ? &light[2] : least;
        asked = *least * UINT32_C(65536);
    }
    if (asked > UINT32_C(16711425)) {
        asked = UINT32_C(16711425); /* 65535 * 255 */
    }
    asked = by_255(asked + UINT32_C(127));
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
CAPPING = """\
/* Dims a frame that would draw more than a supply may give: by one share for all of the lights on it. */
static void keep_within_caps($given)
{
    uint64_t share[CAPS];
    uint32_t cap, run, at;
    uint8_t channel;
    uint8_t *bytes;
    for (cap = 0; cap < CAPS; cap++) {
        const uint64_t room = (uint64_t)room_ua[cap] * UINT64_C(255);
        uint64_t drawn = $before;
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
            const LANTERN_FLASH uint32_t *full = full_ua[cap][run];
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
BESIDE = """\
/* What the lights of other boards draw from the supply of a cap, which these boards work out alike. */
static uint64_t drawn_beside(uint32_t cap, uint32_t shown, uint8_t lit)
{
    uint64_t drawn = 0;
    uint32_t run, at;
    uint8_t channel;
    for (run = RUNS; lit && run < ALL_RUNS; run++) {
        find_what_is_here(&runs[run]);
        for (at = 0; at < runs[run].count; at++) {
            light_t found = {0, 0, 0};
            uint8_t bytes[4];
            light_at(runs[run].first + at, shown, &found);
            put(bytes, &runs[run], &found$slot);
            for (channel = 0; channel < runs[run].channels; channel++) {
                drawn += (uint64_t)full_ua[cap][run][runs[run].order[channel]] * bytes[channel];
            }
        }
    }
    return drawn;
}

"""
