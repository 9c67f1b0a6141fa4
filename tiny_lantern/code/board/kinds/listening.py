"""A board that listens to a computer: frames that it shows instead of its own, as long as it hears from it."""

from __future__ import annotations

from string import Template

from tiny_lantern.code.names import plain_text
from tiny_lantern.model.listening import Listening

LOOKS_AT = 32
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
/* From a computer, over the cable: messages of a mark, a letter, the length of what they carry, that, and a check
 * over all but the mark. S says that the computer is there, F carries a frame, E ends, ? asks what this board plays.
 * It answers I to ?, else R with how many messages it did not understand and what its inputs read. A frame is taken
 * only after a sign of life has been answered: until then the board's own show has its bytes. Without a word for
 * LANTERN_ALONE_US the board is on its own again: $alone. */
#define LANTERN_ALONE_US UINT32_C($alone_us)
#define FIRST_MARK 0xD7
#define SECOND_MARK 0x4C
static const LANTERN_FLASH char identity[] = "$identity";
static uint8_t live, left;       /* frames come from the computer; it is gone, and the board plays nothing */
static uint8_t place, sort, low; /* where the next byte of a message stands; what it is; the byte before */
static uint16_t length, taken, check, faults;
static uint32_t frame_began, frame_number, heard_at;

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
$gone}

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
    live = 1;
    heard_at = now;
    if (sort == 'F') {
        lantern_put();
    } else if (sort == 'E') {
        go_alone(now);
    }
    begin_answer('R', $answer_bytes);
    answer_two(faults);
$readings    end_answer();
}

/* A byte more of a message. */
static void take(uint8_t byte, uint32_t now)
{
    if (place < 2) {
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
        if ((uint16_t)(((uint32_t)byte << 8) | low) == check) {
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
        if (length != ((sort == 'F' && live) ? lantern_byte_count : 0u)
                || (sort != 'F' && sort != 'S' && sort != 'E' && sort != '?')) {
            faults++;
            place = 0;
        }
    } else {
        lantern_bytes()[taken++] = byte;
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
    if (live && now - heard_at >= LANTERN_ALONE_US) {
        go_alone(now);
    }
    return (uint8_t)(live || left);
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
link = {"live": False, "left": False, "heard": 0, "faults": 0}
came = bytearray()


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

def act(letter, body, now):
    """What a message from the computer says: S it is there, F a frame, E it ends, ? what this board plays."""
    if letter == b"?":
        answer(b"I", IDENTITY.encode())
        return
    if letter == b"F":
        body = show.within_caps(body, 0, True)
        write(body)
        set_levels(show.levels(body))
    link["live"], link["heard"] = True, now
    if letter == b"E":
        go_alone(now)
    told = [link["faults"] & 65535]$readings
    answer(b"R", bytes(half for each in told for half in (each & 255, each >> 8)))


def messages():
    """Messages that are whole; what is none is passed over."""
    while True:
        at = came.find(MARK)
        if at < 0:
            came[:] = came[-1:] if came[-1:] == MARK[:1] else b""
            return
        came[:] = came[at:]
        if len(came) < 5:
            return
        letter, length = bytes(came[2:3]), came[3] + 256 * came[4]
        fits = letter in b"?SFE" and length == (BYTES if letter == b"F" and link["live"] else 0)
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
    for letter, body in messages():
        act(letter, body, now)
    if link["live"] and since(now, link["heard"]) >= ALONE_US:
        go_alone(now)
    return link["live"] or link["left"]

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


def heard(listens: Listening, identity: str, inputs: int) -> str:
    """What hears a computer, in C.

    Args:
        listens: how the board listens.
        identity: what it says of itself.
        inputs: how many inputs it has. [-]
    """
    return Template(C).substitute(
        alone=WORDS[listens.alone], alone_us=round(listens.alone_s * 1e6),
        identity=identity.replace("\n", "\\n"), looks=LOOKS_AT, gone=GONE[listens.alone], answer_bytes=2 + 2 * inputs,
        readings="".join(f"    answer_two(lantern_read({at}));\n" for at in range(inputs)),
    )  # fmt: skip


def python_heard(listens: Listening, identity: str, inputs: int) -> str:
    """What hears a computer, in Python.

    Args:
        listens: how the board listens.
        identity: what it says of itself.
        inputs: how many inputs it has. [-]
    """
    return Template(PYTHON).substitute(
        alone=WORDS[listens.alone], alone_us=round(listens.alone_s * 1e6), identity=repr(identity), looks=LOOKS_AT,
        gone=PYTHON_GONE[listens.alone], readings=f" + [read(at) for at in range({inputs})]" if inputs else "",
    )  # fmt: skip
