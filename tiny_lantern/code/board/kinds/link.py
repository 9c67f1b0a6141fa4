"""The number of the frame, handed from board to board."""

from __future__ import annotations

FOLLOWED = """\
/* The number of the frame comes from the board before: a mark, four bytes, the lowest first, and
 * their sum. */
static uint8_t heard[5], heard_count;

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
        if (heard_count < 6) {
            continue;
        }
        heard_count = 0;
        *number = 0;
        for (at = 4; at > 0; at--) {
            *number = (*number << 8) | heard[at - 1];
            sum = (uint8_t)(sum + heard[at - 1]);
        }
        if (sum == heard[4]) {
            return 1;
        }
    }
    return 0;
}

"""
PASSED_ON = """\
void lantern_pass_on(uint32_t number)
{
    uint8_t at, sum = 0;
    serial_send(FRAME_MARK);
    for (at = 0; at < 4; at++) {
        const uint8_t byte = (uint8_t)(number >> (8 * at));
        sum = (uint8_t)(sum + byte);
        serial_send(byte);
    }
    serial_send(sum);
}

"""
PYTHON_FOLLOWED = '''
heard = []


def hear():
    """The number of a frame from the board before: a mark, four bytes, the lowest first, and their sum."""
    while True:
        byte = pins.serial_read()
        if byte < 0:
            return None
        if not heard and byte != FRAME_MARK:
            continue
        heard.append(byte)
        if len(heard) == 6:
            number, total = heard[1:5], heard[5]
            heard.clear()
            if sum(number) & 255 == total:
                return sum(each << 8 * at for at, each in enumerate(number))

'''
PYTHON_PASSED_ON = """
def pass_on(number):
    number = [number >> 8 * at & 255 for at in range(4)]
    for byte in [FRAME_MARK] + number + [sum(number) & 255]:
        pins.serial_send(byte)

"""
