"""How a board hears a computer, in C: the texts, which its signals and its way of being alone are put into."""

from __future__ import annotations

C_SIGNALS = """\
#define SIGNALS $count
#define STAYS 2
static uint8_t told[SIGNALS]; /* of each signal 0 off, 1 on */
static const LANTERN_FLASH uint8_t lost[SIGNALS] = {$lost};
"""
C_LOST = """\
    uint8_t at;
    for (at = 0; at < SIGNALS; at++) {
        told[at] = (lost[at] == STAYS) ? told[at] : lost[at];
    }
"""
C_TELL = """\
        if (known < 2 * SIGNALS) {
            told[known / 2] = (uint8_t)(known % 2);
        }
"""
HEADER = """\
/* The bytes of a frame, how many they are, and showing what they are now: for a board that listens. */
uint8_t *lantern_bytes(void);
extern const uint32_t lantern_byte_count;
void lantern_put(void);
"""
SHOWN = """\
const uint32_t lantern_byte_count = sizeof frame;

uint8_t *lantern_bytes(void)
{
    return frame;
}

void lantern_put(void)
{
$capped    lantern_write(frame, (uint32_t)sizeof frame);
$levels}
"""
C = """\
/* From a computer, over the cable: lines of text, such as a signal's name, "=" and its state; and messages of
 * a mark, a letter, the length of what they carry, that, and a check over all but the mark. S says that the
 * computer is there, F carries a frame, E ends, ? asks what this board plays. It answers I to ?, else R with how
 * many messages it did not understand and what its inputs read. A frame is taken only after a sign of life has
 * been answered: until then the board's own show has its bytes. Without a word for LANTERN_ALONE_US the board is
 * on its own again: $alone. */
#define LANTERN_ALONE_US UINT32_C($alone_us)
#define FIRST_MARK 0xD7
#define SECOND_MARK 0x4C
#define LANTERN_TEST_US UINT32_C(3000000) /* a test lights everything for so long */
#define LONGEST_LINE $longest
static const LANTERN_FLASH char identity[] = "$identity";
$signals/* What may come as a line of text: each signal off and on, and words for the board itself. */
static const LANTERN_FLASH char lines[] =
$lines;
static uint8_t linked;           /* the computer was heard of late */
static uint8_t live, left;       /* frames come from it; it is gone, and the board plays nothing */
static uint8_t whole;            /* all of a frame was taken */
static uint8_t testing;          /* everything is lit for a test */
static char line[LONGEST_LINE + 1];
static uint8_t line_count;
static uint8_t place, sort, low; /* where the next byte of a message stands; what it is; the byte before */
static uint16_t length, taken, check, faults;
static uint32_t frame_began, frame_number, heard_at, tested_at;

static void add_to_check(uint8_t byte)
{
    uint8_t by = (uint8_t)((check >> 8) ^ byte);
    by = (uint8_t)(by ^ (by >> 4));
    check = (uint16_t)(((uint32_t)check << 8) ^ ((uint32_t)by << 12) ^ ((uint32_t)by << 5) ^ by);
}

static void answer(uint8_t byte)
{
    add_to_check(byte);
    serial_send(byte);
}

static void answer_two(uint16_t number)
{
    answer((uint8_t)number);
    answer((uint8_t)(number >> 8));
}

static void begin_answer(uint8_t letter, uint16_t count)
{
    check = 0;
    serial_send(FIRST_MARK);
    serial_send(SECOND_MARK);
    answer(letter);
    answer_two(count);
}

static void end_answer(void)
{
    const uint16_t found = check;
    serial_send((uint8_t)found);
    serial_send((uint8_t)(found >> 8));
}

static void go_alone(uint32_t now)
{
    live = 0;
    whole = 0;
$gone}

static void hear_it(uint32_t now)
{
    linked = 1;
    heard_at = now;
}

/* The link is lost, or was ended. */
static void lose_it(uint32_t now)
{
    linked = 0;
$lost    if (live) {
        go_alone(now);
    }
}

static void say(const char *text)
{
    while (*text) {
        serial_send((uint8_t)*text++);
    }
}

/* A line of text that has ended. */
static void act_on_line(uint32_t now)
{
    uint16_t at = 0, known;
    uint32_t byte;
    for (known = 0; known < $known; known++) {
        uint8_t same = 1, place_in = 0;
        for (; lines[at] != 0; at++, place_in++) {
            same = (uint8_t)(same && place_in < line_count && line[place_in] == lines[at]);
        }
        at++;
        if (!same || place_in != line_count) {
            continue;
        }
        if (known == $asks) {
            for (at = 0; at < sizeof identity - 1u; at++) {
                serial_send((uint8_t)identity[at]);
            }
            say("\\r\\n");
            return;
        }
        hear_it(now);
        if (known == $tests) {
            for (byte = 0; byte < lantern_byte_count; byte++) {
                lantern_bytes()[byte] = 255;
            }
            lantern_put();
            testing = 1;
            tested_at = now;
        }
$tell        say("ok\\r\\n");
        return;
    }
    faults++;
    say("what?\\r\\n");
}

static void take_text(uint8_t byte, uint32_t now)
{
    if (byte == '\\r' || byte == '\\n') {
        if (line_count != 0) {
            act_on_line(now);
        }
        line_count = 0;
    } else if (line_count <= LONGEST_LINE) {
        line[line_count++] = (char)byte; /* one that is too long is none that is known */
    }
}

static void act(uint32_t now)
{
    uint16_t at;
    if (sort == '?') {
        begin_answer('I', (uint16_t)(sizeof identity - 1u));
        for (at = 0; at < sizeof identity - 1u; at++) {
            answer((uint8_t)identity[at]);
        }
        end_answer();
        return;
    }
    hear_it(now);
    live = 1;
    if (sort == 'F') {
        lantern_put();
    } else if (sort == 'E') {
        lose_it(now);
    }
    begin_answer('R', $answer_bytes);
    answer_two(faults);
$readings    end_answer();
}

/* A byte more of a message. */
static void take(uint8_t byte, uint32_t now)
{
    if (place < 2) {
        if (place == 0 && byte != FIRST_MARK) {
            take_text(byte, now);
        }
        place = (place == 1 && byte == SECOND_MARK) ? 2 : (uint8_t)(byte == FIRST_MARK);
        check = 0;
        return;
    }
    if (place >= 6) { /* the check */
        if (place == 6) {
            low = byte;
            place = 7;
            return;
        }
        place = 0;
        if ((uint16_t)(((uint32_t)byte << 8) | low) == check && (sort != 'F' || whole)) {
            act(now);
        } else {
            faults++;
        }
        return;
    }
    add_to_check(byte);
    if (place == 2) {
        sort = byte;
        place = 3;
    } else if (place == 3) {
        low = byte;
        place = 4;
    } else if (place == 4) {
        length = (uint16_t)(((uint32_t)byte << 8) | low);
        taken = 0;
        place = (length == 0) ? 6 : 5;
        whole = live;
        if (length != ((sort == 'F') ? lantern_byte_count : 0u)
                || (sort != 'F' && sort != 'S' && sort != 'E' && sort != '?')) {
            faults++;
            place = 0;
        }
    } else {
        if (whole) {
            lantern_bytes()[taken] = byte;
        }
        taken++;
        place = (taken == length) ? 6 : 5;
    }
}

/* What has come from the computer; whether it has the say over the lamps. */
static uint8_t listen(uint32_t now)
{
    uint8_t looks;
    for (looks = 0; looks < $looks; looks++) {
        const int16_t byte = serial_read();
        if (byte < 0) {
            break;
        }
        take((uint8_t)byte, now);
    }
    if (linked && now - heard_at >= LANTERN_ALONE_US) {
        lose_it(now);
    }
    if (testing && now - tested_at >= LANTERN_TEST_US) {
        testing = 0;
        frame_began = now - LANTERN_TICK_US; /* what is shown now is due */
    }
    return (uint8_t)(live || left || testing);
}

"""
GONE = {
    "show": "    frame_began = now;\n    lantern_frame(frame_number);\n",
    "dark": "    (void)now;\n    left = 1;\n    lantern_dark();\n",
    "hold": "    (void)now;\n    left = 1;\n",
}
