"""The schematic of one channel, drawn from the model with its values, amps and volts."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape

from tiny_lantern.electrical.driven.contract import Case, ChannelResult
from tiny_lantern.electrical.driven.switch import one_switch, transistor_of
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.quantities import amps, engineering, volts
from tiny_lantern.model.ways.boxed import Boxed
from tiny_lantern.model.ways.demux import Demux
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.pair import ReversingPair
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch

STEP, TOP, MIDDLE, WIDTH = 58, 22, 52, 180
INK, AMBER, FAINT = "#232d36", "#cc7d15", "#5a646d"
COLOURS = {"red": "#e0402c", "green": "#2f9e44", "blue": "#3a6fd8", "white": "#f2ead8", "amber": "#f0a63a"}


@dataclass(frozen=True)
class Element:
    """One symbol in the column: what it is, and what is written beside it."""

    symbol: str
    words: tuple[str, ...] = ()
    colour: str = ""


def elements_of(result: ChannelResult, at: int) -> list[Element]:
    """The symbols of a channel from its supply down to 0 V.

    Args:
        result: the driver, solved.
        at: which channel, by its place. [-]
    """
    case = result.case
    driver, channel, lamp = case.driver, case.channels[at], case.lamps[at]
    current_a = float(result.on_a[at])
    across = f"dark, {amps(current_a)}"
    if current_a > 0:
        across = f"{volts(lamp.as_one.voltage_v(current_a))} at {amps(current_a)}" if lamp.as_one else amps(current_a)
    count = f"{lamp.in_series} in series" if lamp.in_series > 1 else ""
    side = f"{lamp.branches} side by side" if lamp.branches > 1 else ""
    led = Element("led", tuple(word for word in (across, count, side) if word), lamp.die.name if lamp.die else "white")
    if lamp.die is None:
        led = Element("load", (lamp.part.name, amps(current_a)))
    resistor = _resistor(result, at)
    output = f"output {channel.output}"
    if isinstance(driver, Switch):
        return _switch(case, at, [Element("supply", (volts(driver.led_v),)), led, *resistor])
    if isinstance(driver, RelayBoard):
        return [Element("supply", (f"{result.lamp_v[at]:g} V", "a circuit of its own")),
                Element("contact", ("relay contact", output)), led, Element("ground")]  # fmt: skip
    if isinstance(driver, HoldRail):
        return [Element("supply", (volts(driver.in_v),)), Element("box", ("hold regulator", volts(driver.out_v))),
                Element("load", (f"{len(channel.slots)} lamps", amps(current_a))), Element("ground")]  # fmt: skip
    if isinstance(driver, SinkChain):
        return [Element("supply", (volts(driver.led_v),)), led, *resistor,
                Element("box", (driver.name, f"{output} sinks")), Element("ground")]  # fmt: skip
    if isinstance(driver, Scanned):
        row, column = divmod(channel.output, driver.columns)
        column_ohm = Element("resistor", (engineering(driver.column_ohm, "ohm"), f"column {column}"))
        return [Element("supply", (volts(driver.led_v),)), Element("box", (f"row {row}", driver.rows_by)), led,
                column_ohm, Element("box", (driver.name, f"column {column} sinks")), Element("ground")]  # fmt: skip
    if isinstance(driver, ReversingPair):
        ends = _pin(driver, f"lamp {channel.output // 2} end {channel.output % 2}"), _pin(
            driver, f"lamp {channel.output // 2} end {1 - channel.output % 2}"
        )  # fmt: skip
        return [Element("box", (ends[0], "high")), *resistor, led, Element("box", (ends[1], "low"))]
    sinks = bool(getattr(driver, "sink", False))
    where = (
        (driver.name, output)
        if isinstance(driver, RegisterChain | Demux | Boxed)
        else (_pin(driver, f"lamp {channel.output}"),)
    )
    box = Element("box", (*where, "sinks" if sinks else volts(result.lamp_rail_v)))
    if sinks:
        return [Element("supply", (volts(result.lamp_rail_v),)), led, *resistor, box, Element("ground")]
    return [box, *resistor, led, Element("ground")]


def _pin(driver: Driver, role: str) -> str:
    pin = next((pin.pin for pin in driver.pins if pin.role == role), None)
    return f"pin {pin}" if pin is not None else "no pin yet"


def _resistor(result: ChannelResult, at: int) -> list[Element]:
    channel = result.case.channels[at]
    if not channel.resistor_ohm:
        return []
    heat_w = float(result.resistor_w[at])
    return [Element("resistor", (engineering(channel.resistor_ohm, "ohm"), engineering(heat_w, "W")))]


def _switch(case: Case, at: int, above: list[Element]) -> list[Element]:
    driver, part = case.driver, transistor_of(case)
    assert isinstance(driver, Switch)
    one = one_switch(driver, part, case.board_part, case.board.ambient_c, case.channels[at], case.lamps[at])
    base = engineering(driver.base_ohm, "ohm") if driver.base_ohm else "no resistor"
    gate = volts(one.gate_v) if one.gate_v is not None else amps(one.pin_a)
    pin = _pin(driver, f"lamp {case.channels[at].output}")
    symbol = Element("transistor", (f"{pin}, {base}", f"{gate}; {one.warm_c:.0f} °C"), part.sort)
    if part.sort == "p_mosfet":
        return [above[0], symbol, *above[1:], Element("ground")]
    return [*above, symbol, Element("ground")]


def schematic_svg(result: ChannelResult, at: int, ink: str = INK, faint: str = FAINT) -> str:
    """The schematic as a drawing.

    Args:
        result: the driver, solved.
        at: which channel, by its place. [-]
        ink: colour of lines and words.
        faint: colour of what is said less loudly.
    """
    elements = elements_of(result, at)
    height = TOP + STEP * (len(elements) - 1) + 30
    shapes, y = [], TOP
    for number, element in enumerate(elements):
        last = number == len(elements) - 1
        shapes += _SYMBOLS[element.symbol](y, element, ink)
        shapes += _words(element, y, ink, faint)
        if not last:
            low, high = y + _HALF[element.symbol], y + STEP - _HALF[elements[number + 1].symbol]
            shapes.append(_line(MIDDLE, low, MIDDLE, high, ink))
        y += STEP
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {height}" width="{WIDTH}" height="{height}" '
        f'font-family="Lato">{"".join(shapes)}</svg>'
    )


def _line(x1: float, y1: float, x2: float, y2: float, ink: str, width: float = 1.6) -> str:
    return f'<line x1="{x1:g}" y1="{y1:g}" x2="{x2:g}" y2="{y2:g}" stroke="{ink}" stroke-width="{width:g}"/>'


def _words(element: Element, y: float, ink: str, faint: str) -> list[str]:
    if element.symbol == "box":
        return [
            f'<text x="{MIDDLE}" y="{y - 2 + 13 * number:g}" font-size="11" text-anchor="middle" '
            f'fill="{ink if number == 0 else faint}">{escape(word)}</text>'
            for number, word in enumerate(element.words[:2])
        ]
    first = y + 4 - 6.5 * (len(element.words) - 1)
    return [
        f'<text x="{MIDDLE + 26}" y="{first + 13 * number:g}" font-size="11" '
        f'fill="{ink if number == 0 else faint}">{escape(word)}</text>'
        for number, word in enumerate(element.words)
    ]


def _supply(y: float, element: Element, ink: str) -> list[str]:
    return [_line(MIDDLE - 16, y, MIDDLE + 16, y, ink, 2)]


def _ground(y: float, element: Element, ink: str) -> list[str]:
    return [_line(MIDDLE - half, y + off, MIDDLE + half, y + off, ink, 1.8) for half, off in ((14, 0), (9, 5), (4, 10))]


def _led(y: float, element: Element, ink: str) -> list[str]:
    colour = COLOURS.get(element.colour, AMBER)
    return [
        f'<polygon points="{MIDDLE - 12},{y - 10} {MIDDLE + 12},{y - 10} {MIDDLE},{y + 10}" '
        f'fill="{colour}" stroke="{ink}"/>',
        _line(MIDDLE - 12, y + 10, MIDDLE + 12, y + 10, ink, 2),
        _line(MIDDLE + 13, y - 1, MIDDLE + 21, y - 7, AMBER, 1.4),
        _line(MIDDLE + 13, y + 6, MIDDLE + 21, y, AMBER, 1.4),
    ]


def _resistor_symbol(y: float, element: Element, ink: str) -> list[str]:
    return [
        f'<rect x="{MIDDLE - 8}" y="{y - 15}" width="16" height="30" fill="none" stroke="{ink}" stroke-width="1.6"/>'
    ]


def _box(y: float, element: Element, ink: str) -> list[str]:
    return [f'<rect x="{MIDDLE - 48}" y="{y - 17}" width="96" height="34" rx="3" fill="none" stroke="{ink}"/>']


def _load(y: float, element: Element, ink: str) -> list[str]:
    cross = [_line(MIDDLE - 9, y - 9, MIDDLE + 9, y + 9, ink), _line(MIDDLE - 9, y + 9, MIDDLE + 9, y - 9, ink)]
    return [f'<circle cx="{MIDDLE}" cy="{y}" r="13" fill="none" stroke="{ink}" stroke-width="1.6"/>', *cross]


def _contact(y: float, element: Element, ink: str) -> list[str]:
    return [_line(MIDDLE, y - 15, MIDDLE, y - 9, ink), _line(MIDDLE, y + 9, MIDDLE + 12, y - 9, ink, 2),
            _line(MIDDLE, y + 9, MIDDLE, y + 15, ink)]  # fmt: skip


def _transistor(y: float, element: Element, ink: str) -> list[str]:
    bar = _line(MIDDLE - 8, y - 12, MIDDLE - 8, y + 12, ink, 2.4)
    gate = [_line(MIDDLE - 34, y, MIDDLE - (8 if element.colour == "bjt" else 13), y, ink)]
    if element.colour != "bjt":
        gate.append(_line(MIDDLE - 13, y - 10, MIDDLE - 13, y + 10, ink, 2))
    legs = [_line(MIDDLE - 8, y - 6, MIDDLE, y - 14, ink), _line(MIDDLE - 8, y + 6, MIDDLE, y + 14, ink)]
    return [bar, *gate, *legs]


_SYMBOLS = {"supply": _supply, "ground": _ground, "led": _led, "resistor": _resistor_symbol, "box": _box, "load": _load,
            "contact": _contact, "transistor": _transistor}  # fmt: skip
_HALF = {"supply": 0, "ground": 0, "led": 10, "resistor": 15, "box": 17, "load": 13, "contact": 15, "transistor": 14}
