"""The state machine of inputs and rules as C99, the same for every build; its tables come before it."""

from __future__ import annotations

C_TYPES = """\
/* An input: what its pin reads at rest and fully moved, counts where it reads volts, else 0 and 1. A
 * reading counts that moved by more than dead counts; after an edge it is deaf for some frames. */
typedef struct {
    uint8_t volts;
    uint16_t rest, full, dead, deaf;
} input_t;

/* A rule: its input and when. A value lies between low and high; a moment begins frame low, the next
 * scene where that is NEXT_SCENE, and plays on to before high over and over where it stays. */
typedef struct {
    uint8_t input, when, valued;
    uint32_t low, high;
    uint8_t steps, even, stays;
} rule_t;

/* Lights from first to before stop that a rule's value dims, in some colours. */
typedef struct {
    uint8_t rule;
    uint32_t first, stop;
    uint8_t colours;
} shade_t;

/* A rule that says whether an effect is seen, by its row. */
typedef struct {
    uint8_t rule;
    uint16_t row;
} gate_t;

/* An effect with a clock of its own: which, in which frames it is seen, and when it begins anew. */
typedef struct {
    uint16_t effect;
    uint32_t begin, end, length;
} own_clock_t;

/* Which rule paces which clock: 0 the show's, n the n-th effect's. */
typedef struct {
    uint8_t rule, clock;
} pace_t;

#define TURNED 0
#define HELD 1
#define PRESSED 2
#define RELEASED 3
#define RED 1
#define GREEN 2
#define BLUE 4
#define NEXT_SCENE UINT32_C(0xFFFFFFFF)
#define ALL_WAY 16384u
#define HELD_FROM 10240u
#define HELD_TO 6144u
"""
C_VALUES = """\
/* The value of each rule; at first that with nothing touched. */
static uint32_t value_of[RULES] = {$values};
"""
C_TOLD = """\
/* What inputs have made of the show, as the next board is told it: the value of each rule in three bytes, then the
 * frame of each clock in four, the lowest byte first. */
void lantern_give_state(uint8_t *bytes)
{
    uint8_t at, byte;
    for (at = 0; at < RULES; at++) {
        for (byte = 0; byte < 3; byte++) {
            *bytes++ = (uint8_t)(value_of[at] >> (8 * byte));
        }
    }
$given}

void lantern_take_state(const uint8_t *bytes)
{
    uint8_t at, byte;
    for (at = 0; at < RULES; at++) {
        value_of[at] = 0;
        for (byte = 0; byte < 3; byte++) {
            value_of[at] |= (uint32_t)*bytes++ << (8 * byte);
        }
    }
$taken}
"""
C_CLOCKS_GIVEN = """\
    for (at = 0; at < CLOCKS; at++) {
        for (byte = 0; byte < 4; byte++) {
            *bytes++ = (uint8_t)(clock_now[at] >> (8 * byte));
        }
    }
"""
C_CLOCKS_TAKEN = """\
    for (at = 0; at < CLOCKS; at++) {
        clock_now[at] = 0;
        for (byte = 0; byte < 4; byte++) {
            clock_now[at] |= (uint32_t)*bytes++ << (8 * byte);
        }
    }
"""
C_GATES = """\
/* Whether an effect is seen: what every rule on it has it. */
static uint8_t is_seen(uint16_t row)
{
    uint8_t at;
    for (at = 0; at < GATES; at++) {
        if (gates[at].row == row && value_of[gates[at].rule] < 32768u) {
            return 0;
        }
    }
    return 1;
}

"""
C_STATE = """\
typedef struct {
    uint16_t counts, way, deaf;
    uint8_t held, pressed, released;
} heard_t;

static heard_t heard[INPUTS];
static uint8_t step_of[RULES];
static uint32_t frame_now;
static uint16_t part_now;
static int16_t staying = -1; /* the rule whose scene stays */
"""
C_CLOCKS = """\
static uint32_t clock_now[CLOCKS];

/* Which of its own frames an effect shows. */
static int32_t own_tick(uint16_t effect, uint32_t tick)
{
    uint8_t at;
    for (at = 0; at < CLOCKS; at++) {
        if (clocks[at].effect == effect) {
            return (int32_t)clock_now[at];
        }
    }
    return (int32_t)(tick - effects[effect].begin);
}
"""
C_SHADE = """\
/* Dims a light as the rules have it: their values, multiplied. */
static void shade(uint32_t slot, uint8_t *own)
{
    uint32_t share[3] = {65536u, 65536u, 65536u};
    uint8_t at, colour;
    for (at = 0; at < SHADES; at++) {
        const LANTERN_FLASH shade_t *one = &shades[at];
        const uint32_t value = value_of[one->rule];
        for (colour = 0; colour < 3 && slot >= one->first && slot < one->stop && value < 65536u; colour++) {
            if (one->colours & (1u << colour)) {
                share[colour] = (share[colour] * value) >> 16;
            }
        }
    }
    for (colour = 0; colour < 3; colour++) {
        own[colour] = (uint8_t)((own[colour] * share[colour] + 32768u) >> 16);
    }
}
"""
C_HEARING = """\
/* How far an input is moved, ALL_WAY for all of it; so much as the dead band belongs to each end. */
static uint16_t way_of(const LANTERN_FLASH input_t *one, uint16_t counts)
{
    const uint8_t rises = one->full > one->rest;
    const int32_t whole = rises ? (int32_t)one->full - one->rest : (int32_t)one->rest - one->full;
    const int32_t gone = rises ? (int32_t)counts - one->rest : (int32_t)one->rest - counts;
    if (gone <= (int32_t)one->dead) {
        return 0;
    }
    if (gone >= whole - (int32_t)one->dead) {
        return ALL_WAY;
    }
    return (uint16_t)((uint32_t)gone * ALL_WAY / (uint32_t)whole);
}

static void hear(const LANTERN_FLASH input_t *one, heard_t *now, uint16_t reading)
{
    const uint8_t before = now->held;
    now->pressed = 0;
    now->released = 0;
    if (one->volts) {
        const uint16_t moved = (uint16_t)((reading > now->counts) ? reading - now->counts
                                                                  : now->counts - reading);
        if (moved > one->dead) {
            now->counts = reading;
        }
        now->way = way_of(one, now->counts);
        now->held = before ? (uint8_t)(now->way > HELD_TO) : (uint8_t)(now->way >= HELD_FROM);
    } else if (now->deaf > 0) {
        now->deaf--;
    } else {
        now->held = (uint8_t)(reading == one->full);
        now->way = now->held ? ALL_WAY : 0;
        now->deaf = (now->held != before) ? one->deaf : 0;
    }
    now->pressed = (uint8_t)(now->held && !before);
    now->released = (uint8_t)(before && !now->held);
}

/* The value of a rule between its ends; even to the eye by the square of the way. */
static uint32_t value_at(const LANTERN_FLASH rule_t *rule, uint8_t at)
{
    const heard_t *now = &heard[rule->input];
    uint32_t way = now->way;
    if (rule->when == HELD) {
        way = now->held ? ALL_WAY : 0;
    } else if (rule->when == PRESSED) {
        way = (uint32_t)at * ALL_WAY / (rule->steps - 1u);
    }
    if (rule->even) {
        way = (way * way) >> 14;
    }
    return (rule->high >= rule->low) ? rule->low + (((rule->high - rule->low) * way) >> 14)
                                     : rule->low - (((rule->low - rule->high) * way) >> 14);
}

static void find_values(void)
{
    uint8_t at;
    for (at = 0; at < RULES; at++) {
        value_of[at] = rules[at].valued ? value_at(&rules[at], step_of[at]) : 0;
    }
}
"""
C_PACE = """\
/* How fast a clock runs, 4096 for as fast as it is laid: the speeds of its rules, multiplied. */
static uint32_t pace_of(uint8_t clock)
{
    uint32_t found = 4096u;
    uint8_t at;
    for (at = 0; at < PACES; at++) {
        if (paces[at].clock == clock) {
            found = (found * value_of[paces[at].rule]) >> 12;
            found = (found > 65535u) ? 65535u : found;
        }
    }
    return found;
}
"""
C_NO_PACE = "#define pace_of(clock) 4096u\n"
C_CLOCKED = """\
static uint16_t clock_part[CLOCKS];

/* The clocks of effects a frame later; one begins with its effect, and anew where that would be over. */
static void run_clocks(uint32_t before)
{
    const uint32_t shown = shown_of(frame_now);
    uint8_t at;
    for (at = 0; at < CLOCKS; at++) {
        const LANTERN_FLASH own_clock_t *one = &clocks[at];
        uint32_t gone;
        if (shown < one->begin || shown >= one->end || before < one->begin || before >= one->end) {
            clock_now[at] = 0;
            clock_part[at] = 0;
            continue;
        }
        gone = clock_part[at] + pace_of((uint8_t)(at + 1u));
        clock_now[at] = (clock_now[at] + (gone >> 12)) % one->length;
        clock_part[at] = (uint16_t)(gone & 4095u);
    }
}
"""
C_RUNNING = """\
static uint32_t shown_of(uint32_t tick)
{
    return $shown;
}

$clocked/* The frame after one; a scene that stays begins anew where it would end. */
static uint32_t frame_after(uint32_t tick)
{
    if (staying >= 0) {
        const uint32_t shown = shown_of(tick);
        if (shown + 1u == rules[staying].high) {
            return tick - shown + rules[staying].low;
        }
    }
    return $after;
}

/* Where a rule's scene begins; a show that is over begins anew with it. */
static void begin_scene(uint8_t at)
{
    const uint32_t shown = shown_of(frame_now);
    const uint32_t first = ($ended) ? 0 : frame_now - shown;
    uint32_t begins = rules[at].low;
    staying = (int16_t)((rules[at].stays && begins != NEXT_SCENE) ? at : -1);
    if (begins == NEXT_SCENE) {
        begins = next_scene(shown);
    }
    frame_now = first + begins;
    part_now = 0;
}

uint32_t lantern_answer_begin(void)
{
    uint8_t at;
    for (at = 0; at < INPUTS; at++) {
        heard_t *now = &heard[at];
        now->counts = lantern_read(at);
        now->way = inputs[at].volts ? way_of(&inputs[at], now->counts)
                                    : (uint16_t)((now->counts == inputs[at].full) ? ALL_WAY : 0);
        now->held = (uint8_t)(now->way >= HELD_FROM);
        now->deaf = 0;
    }
    for (at = 0; at < RULES; at++) {
        step_of[at] = 0;
    }
    find_values();
    frame_now = 0;
    part_now = 0;
    staying = -1;
$clocks_begin    return frame_now;
}

uint32_t lantern_answer(void)
{
    const uint32_t before = shown_of(frame_now);
    int16_t asked = -1;
    uint32_t gone;
    uint8_t at;
    (void)before;
    for (at = 0; at < INPUTS; at++) {
        hear(&inputs[at], &heard[at], lantern_read(at));
    }
    for (at = 0; at < RULES; at++) {
        const LANTERN_FLASH rule_t *rule = &rules[at];
        const heard_t *now = &heard[rule->input];
        if (rule->valued) {
            if (rule->when == PRESSED && now->pressed) {
                step_of[at] = (uint8_t)((step_of[at] + 1u) % rule->steps);
            }
        } else if ((rule->when == PRESSED) ? now->pressed : now->released) {
            asked = at;
        }
    }
    find_values();
    if (asked >= 0) {
        begin_scene((uint8_t)asked);
    } else {
        for (gone = part_now + pace_of(0); gone >= 4096u; gone -= 4096u) {
            frame_now = frame_after(frame_now);
        }
        part_now = (uint16_t)gone;
    }
$clocks_run    return frame_now;
}
"""
C_NEXT_SCENE = """\
static uint32_t next_scene(uint32_t shown)
{
    uint8_t at;
    for (at = 0; at < SCENE_COUNT; at++) {
        if (scene_begins[at] > shown) {
            return scene_begins[at];
        }
    }
    return 0;
}
"""
C_NO_NEXT_SCENE = """\
static uint32_t next_scene(uint32_t shown)
{
    (void)shown;
    return 0;
}
"""
