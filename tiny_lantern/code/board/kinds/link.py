"""The number of the frame, handed from board to board, and with it what inputs have made of the show."""

from __future__ import annotations

from string import Template

FOLLOWED = """\
/* The number of the frame comes from the board before: a mark, four bytes, the lowest first, what inputs
 * have made of the show where there are any, and the sum of all. */
static uint8_t heard[5 + LANTERN_STATE_BYTES], heard_count;

static uint8_t hear(uint32_t *number)
{
    int16_t byte;
    uint8_t at, sum = 0;
    while ((byte = serial_read()) >= 0) {
        if (heard_count == 0) {
            heard_count = (uint8_t)(byte == FRAME_MARK);
            continue;
        }
        heard[heard_count++ - 1] = (uint8_t)byte;
        if (heard_count < 6 + LANTERN_STATE_BYTES) {
            continue;
        }
        heard_count = 0;
        for (at = 0; at < 4 + LANTERN_STATE_BYTES; at++) {
            sum = (uint8_t)(sum + heard[at]);
        }
        if (sum == heard[4 + LANTERN_STATE_BYTES]) {
            *number = 0;
            for (at = 4; at > 0; at--) {
                *number = (*number << 8) | heard[at - 1];
            }
$taken            return 1;
        }
    }
    return 0;
}

"""
PASSED_ON = """\
void lantern_pass_on(uint32_t number)
{
    uint8_t bytes[4 + LANTERN_STATE_BYTES], at, sum = 0;
    for (at = 0; at < 4; at++) {
        bytes[at] = (uint8_t)(number >> (8 * at));
    }
$given    serial_send(FRAME_MARK);
    for (at = 0; at < 4 + LANTERN_STATE_BYTES; at++) {
        sum = (uint8_t)(sum + bytes[at]);
        serial_send(bytes[at]);
    }
    serial_send(sum);
}

"""
PYTHON_FOLLOWED = '''
heard = []


def hear():
    """The number of a frame from the board before: a mark, four bytes, the lowest first, what inputs have made of the
    show where there are any, and the sum of all."""
    while True:
        byte = pins.serial_read()
        if byte < 0:
            return None
        if not heard and byte != FRAME_MARK:
            continue
        heard.append(byte)
        if len(heard) == 6 + $bytes:
            told, total = heard[1:-1], heard[-1]
            heard.clear()
            if sum(told) & 255 == total:
$taken                return sum(each << 8 * at for at, each in enumerate(told[:4]))

'''
PYTHON_PASSED_ON = """
def pass_on(number):
    told = [number >> 8 * at & 255 for at in range(4)]$given
    for byte in [FRAME_MARK] + told + [sum(told) & 255]:
        pins.serial_send(byte)

"""


def followed(answers: bool) -> str:
    """What hears the board before, in C.

    Args:
        answers: whether it hands on what inputs have made of the show.
    """
    return Template(FOLLOWED).substitute(taken="            lantern_take_state(&heard[4]);\n" if answers else "")


def passed_on(answers: bool) -> str:
    """What tells the next board, in C.

    Args:
        answers: see ``followed``.
    """
    return Template(PASSED_ON).substitute(given="    lantern_give_state(&bytes[4]);\n" if answers else "")


def python_followed(state_bytes: int) -> str:
    """What hears the board before, in Python.

    Args:
        state_bytes: how many bytes say what inputs have made of the show. [-]
    """
    taken = "                show.take_state(told[4:])\n" if state_bytes else ""
    return Template(PYTHON_FOLLOWED).substitute(bytes=state_bytes, taken=taken)


def python_passed_on(answers: bool) -> str:
    """What tells the next board, in Python.

    Args:
        answers: see ``followed``.
    """
    return Template(PYTHON_PASSED_ON).substitute(given=" + show.given_state()" if answers else "")
