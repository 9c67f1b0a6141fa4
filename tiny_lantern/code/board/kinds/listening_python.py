"""How a board hears a computer, in Python: the texts."""

from __future__ import annotations

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
