"""The functions that a person fills in, in Python, as they are for boards whose pins are called by a machine module."""

from __future__ import annotations

from string import Template

from tiny_lantern.code.names import comment

PINS_MODULE, MAIN = "lantern_pins.py", "main.py"
PINS = '''"""Yours: how your board's pins are called, a line or two each; for boards that have a module "machine"."""

import time

import machine

outputs, levels, dimmed = {}, {}, {}


def pin_output(pin):
    """Make a pin an output, at the level that it was given."""
    outputs[pin] = machine.Pin(pin, machine.Pin.OUT, value=levels.get(pin, 0))


def pin_input(pin, pull_up):
    """Make a pin an input, open, or pulled up."""
    machine.Pin(pin, machine.Pin.IN, machine.Pin.PULL_UP if pull_up else None)


def pin_set(pin, high):
    """Set a pin high or low; one that is no output yet becomes one with that level."""
    levels[pin] = int(high)
    if pin in outputs:
        outputs[pin].value(levels[pin])


def pin_dim(pin, level, full):
    """Dim a pin: level of full steps."""
    if pin not in dimmed:
        dimmed[pin] = machine.PWM(machine.Pin(pin))
        dimmed[pin].freq(1000)
    dimmed[pin].duty_u16(level * 65535 // full)


def pin_counts(pin):
    """Read the counts of a pin that reads volts."""
    return machine.ADC(machine.Pin(pin)).read_u16() >> (16 - $adc_bits)


def pin_read(pin):
    """Read a pin: 1 high, 0 low."""
    return machine.Pin(pin).value()


def pixels_send(pin, data):
    """Send bytes to addressable lamps on a pin: how long a 0 and a 1 are high and low, in billionths of a second."""
    machine.bitstream(machine.Pin(pin, machine.Pin.OUT), 0, (400, 850, 800, 450), data)


${serial}def now_us():
    """The time in microseconds; it begins again at 0 after 2 ** 30."""
    return time.ticks_us() & ((1 << 30) - 1)
'''
SERIAL = '''line = machine.UART($uart, $bits_per_s$room)  # $whose


def serial_send(byte):
    """Send a byte over the serial line."""
    line.write(bytes([byte]))


def serial_read():
    """A byte that came over the serial line, -1 where there is none."""
    return line.read(1)[0] if line.any() else -1


'''


def python_pins(adc_bits: int, bits_per_s: int | None, chained: bool) -> str:
    """The module of the functions that a person fills in.

    Args:
        adc_bits: the bits of a reading. [-]
        bits_per_s: how quick the serial line is, None where none is used. [bit/s]
        chained: whether it leads to other boards, else to a computer.
    """
    uart, whose = (1, "to other boards") if chained else (0, "to a computer, by a cable or an adapter at its pins")
    room = "" if chained else ", rxbuf=4096"
    serial = Template(SERIAL).substitute(uart=uart, bits_per_s=bits_per_s, whose=whose, room=room) if bits_per_s else ""
    return Template(PINS).substitute(adc_bits=adc_bits, serial=serial)


def python_main(name: str, title: str) -> str:
    """What runs a board.

    Args:
        name: the board's name in the files.
        title: what the board is called.
    """
    return "\n".join([
        f"# {comment(title)}: put this file on the board as main.py, beside the three that it needs.",
        f"import lantern_io_{name} as board", "", "board.start()", "try:", "    while True:", "        board.loop()",
        "finally:", "    board.stop()", "",
    ])  # fmt: skip
