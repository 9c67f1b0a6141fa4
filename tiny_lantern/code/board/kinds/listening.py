"""A board that listens to a computer: frames that it shows instead of its own, as long as it hears from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from string import Template

from tiny_lantern.code.names import plain_text
from tiny_lantern.model.listening import Listening


@dataclass(frozen=True)
class Told:
    """A signal that a computer tells: its name, its words for off and on, and what it is when the link is lost."""

    name: str
    states: tuple[str, str]
    lost: str


LOOKS_AT, STAYS = 32, 2
WORDS_OF_ITS_OWN = ("?", "alive", "test")
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
CAPPED = "    keep_within_caps();\n"
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
WORDS = {"show": "its own show", "dark": "dark", "hold": "the light that came last"}
PYTHON = '''
IDENTITY = $identity
ALONE_US = $alone_us  # without a word from the computer for so long the board is on its own again: $alone
MARK = b"\\xd7\\x4c"
TEST_US = 3000000  # a test lights everything for so long
LINES = $lines  # what may come as a line of text: each signal off and on, and words for the board itself
LOST = $lost  # what each signal is when the link is lost, None as it was told
link = {"linked": False, "live": False, "left": False, "heard": 0, "faults": 0, "tested": None}
told = [0] * len(LOST)
came, line = bytearray(), bytearray()


def check_of(data):
    check = 0
    for byte in data:
        by = check >> 8 ^ byte
        by ^= by >> 4
        check = (check << 8 ^ by << 12 ^ by << 5 ^ by) & 65535
    return check


def answer(letter, body):
    checked = letter + bytes([len(body) & 255, len(body) >> 8]) + body
    check = check_of(checked)
    for byte in MARK + checked + bytes([check & 255, check >> 8]):
        pins.serial_send(byte)


def go_alone(now):
    link["live"] = False
$gone

def hear_it(now):
    link["linked"], link["heard"] = True, now


def lose_it(now):
    """The link is lost, or was ended."""
    link["linked"] = False
    for at, state in enumerate(LOST):
        told[at] = told[at] if state is None else state
    if link["live"]:
        go_alone(now)


def say(text):
    for byte in text.encode():
        pins.serial_send(byte)


def act_on_line(text, now):
    """A line of text: a signal's name, "=" and its state, or a word for the board itself."""
    if text not in LINES:
        link["faults"] += 1
        say("what?\\r\\n")
        return
    if text == b"?":
        say(IDENTITY + "\\r\\n")
        return
    hear_it(now)
    if text == b"test":
        lit = show.within_caps(bytearray(b"\\xff" * BYTES), 0, True)
        write(lit)
        set_levels(show.levels(lit))
        link["tested"] = now
    if LINES.index(text) < 2 * len(told):
        told[LINES.index(text) // 2] = LINES.index(text) % 2
    say("ok\\r\\n")


def take_text(text, now):
    for byte in text:
        if byte in b"\\r\\n":
            if line:
                act_on_line(bytes(line), now)
            line[:] = b""
        elif len(line) < 99:
            line.append(byte)


def act(letter, body, now):
    """What a message from the computer says: S it is there, F a frame, E it ends, ? what this board plays."""
    if letter == b"?":
        answer(b"I", IDENTITY.encode())
        return
    if letter == b"F" and not link["live"]:
        link["faults"] += 1
        return
    if letter == b"F":
        body = show.within_caps(body, 0, True)
        write(body)
        set_levels(show.levels(body))
    hear_it(now)
    link["live"] = True
    if letter == b"E":
        lose_it(now)
    found = [link["faults"] & 65535]$readings
    answer(b"R", bytes(half for each in found for half in (each & 255, each >> 8)))


def messages(now):
    """Messages that are whole; what is none is text, or passed over."""
    while True:
        at = came.find(MARK[:1])
        if at < 0:
            at = len(came)
        take_text(bytes(came[:at]), now)
        came[:] = came[at:]
        if len(came) < 2:
            return
        if came[:2] != MARK:
            came[:] = came[1:]
            continue
        if len(came) < 5:
            return
        letter, length = bytes(came[2:3]), came[3] + 256 * came[4]
        fits = letter in b"?SFE" and length == (BYTES if letter == b"F" else 0)
        if fits and len(came) < 7 + length:
            return
        if not fits or check_of(came[2 : 5 + length]) != came[5 + length] + 256 * came[6 + length]:
            link["faults"] += 1
            came[:] = came[2:]
            continue
        body = bytearray(came[5 : 5 + length])
        came[:] = came[7 + length :]
        yield letter, body


def listen(now):
    """What has come from the computer; whether it has the say over the lamps."""
    for _ in range($looks):
        byte = pins.serial_read()
        if byte < 0:
            break
        came.append(byte)
    for letter, body in messages(now):
        act(letter, body, now)
    if link["linked"] and since(now, link["heard"]) >= ALONE_US:
        lose_it(now)
    if link["tested"] is not None and since(now, link["tested"]) >= TEST_US:
        link["tested"] = None
        state["began"] = now - show.TICK_US & MOMENTS  # what is shown now is due
    return link["live"] or link["left"] or link["tested"] is not None

'''
PYTHON_GONE = {
    "show": '    state["began"] = now\n    show_frame(state["frame"])\n',
    "dark": '    link["left"] = True\n    go_dark()\n',
    "hold": '    link["left"] = True\n',
}


def identity_of(stamp: str, title: str, byte_count: int) -> str:
    """What a board says of itself, line by line.

    Args:
        stamp: the stamp of its code.
        title: what it is called.
        byte_count: how many bytes a frame has. [-]
    """
    return f"{stamp}\n{plain_text(title)}\n{byte_count}"


def shown(levels: bool, caps: bool) -> str:
    """What shows a frame that came, in C; within the caps, whatever the computer asks for.

    Args:
        levels: whether the board drives lamps itself.
        caps: whether a supply has a cap.
    """
    return Template(SHOWN).substitute(levels="    set_levels();\n" if levels else "", capped=CAPPED if caps else "")


def heard(listens: Listening, identity: str, inputs: int, signals: Sequence[Told]) -> str:
    """What hears a computer, in C.

    Args:
        listens: how the board listens.
        identity: what it says of itself.
        inputs: how many inputs it has. [-]
        signals: what a computer may tell it.
    """
    lines = lines_of(signals)
    count = len(signals)
    states = ", ".join(str({"off": 0, "on": 1, "stays": STAYS}[each.lost]) for each in signals)
    return Template(C).substitute(
        alone=WORDS[listens.alone], alone_us=round(listens.alone_s * 1e6),
        identity=identity.replace("\n", "\\n"), looks=LOOKS_AT, gone=GONE[listens.alone], answer_bytes=2 + 2 * inputs,
        readings="".join(f"    answer_two(lantern_read({at}));\n" for at in range(inputs)),
        longest=max(map(len, lines)), lines="\n".join(f'    "{each}\\0"' for each in lines), known=len(lines),
        asks=lines.index("?"), tests=lines.index("test"),
        signals=Template(C_SIGNALS).substitute(count=count, lost=states) if count else "",
        lost=C_LOST if count else "", tell=C_TELL if count else "",
    )  # fmt: skip


def python_heard(listens: Listening, identity: str, inputs: int, signals: Sequence[Told]) -> str:
    """What hears a computer, in Python.

    Args:
        listens: how the board listens.
        identity: what it says of itself.
        inputs: how many inputs it has. [-]
        signals: what a computer may tell it.
    """
    return Template(PYTHON).substitute(
        alone=WORDS[listens.alone], alone_us=round(listens.alone_s * 1e6), identity=repr(identity), looks=LOOKS_AT,
        gone=PYTHON_GONE[listens.alone], readings=f" + [read(at) for at in range({inputs})]" if inputs else "",
        lines=[each.encode() for each in lines_of(signals)],
        lost=[{"off": 0, "on": 1, "stays": None}[each.lost] for each in signals],
    )  # fmt: skip


def lines_of(signals: Sequence[Told]) -> list[str]:
    """The lines of text that a board knows: each signal off and on, then words for the board itself.

    Args:
        signals: what a computer may tell it.
    """
    return [*(f"{each.name}={state}" for each in signals for state in each.states), *WORDS_OF_ITS_OWN]
