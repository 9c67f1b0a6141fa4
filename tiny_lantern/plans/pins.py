"""Assigning pins: every need a pin, those that dim on a compare channel of their own; a flow as cheap as can be.

Needs are matched to pins by way of the compare channels: a need that dims flows through one compare channel, which
takes one, to a pin of it; any other goes to a pin at once. Such a flow has whole numbers at its corners, so the linear
programme's answer is an assignment.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import linprog
from scipy.sparse import coo_array

from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, PinNeed
from tiny_lantern.model.edits_drive import with_pins
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart, BoardPin
from tiny_lantern.model.pin_needs import board_needs, owner_name, pins_of

POOL = "*"
SPOILS_PWM, SPOILS_ADC, TAKES_SERIAL, PER_PLACE = 1.0, 0.6, 3.0, 0.01


@dataclass(frozen=True)
class Free:
    """What a board has left: its free pins in order, and how many needs each compare channel can still take."""

    pins: tuple[BoardPin, ...]
    compares: dict[str, int]


def assign_pins(build: Build, board_id: str) -> Build:
    """The build with every need of a board on a pin; what is pinned down stays.

    Raises:
        LanternError: there are too few pins, or too few that dim; it names the first need that finds none.
    """
    board = next(board for board in build.boards if board.id == board_id)
    part = build.shelf.find(BoardPart, board.part_id)
    needs = board_needs(build, board_id)
    fixed = {key: pin.pin for key, pin in pins_of(build, board_id).items() if pin.pinned}
    open_needs = [need for need in needs if (need.driver_id, need.role) not in fixed]
    dimming = {(need.driver_id, need.role) for need in needs if need.dims}
    free = free_of(part, board, fixed, dimming)
    found = matched(open_needs, free)
    if found is None:
        raise _impossible(build, open_needs, free)
    return with_pins(build, board_id, found)


def free_of(part: BoardPart, board: Board, fixed: Mapping[tuple[str, str], str], dimming: set[tuple[str, str]]) -> Free:
    """What is left of a board besides reserved pins and those pinned down.

    Args:
        part: the board's part.
        board: the board.
        fixed: pins that are pinned down, by driver and role.
        dimming: the needs that dim.
    """
    taken = {each.pin for each in board.reserved} | set(fixed.values())
    timers = {each.timer for each in board.reserved if each.timer}
    pins = tuple(pin for pin in part.pins if (pin.output or pin.adc) and pin.name not in taken)
    dims_on = [part.pin(pin) for key, pin in fixed.items() if key in dimming]
    if part.routed_pwm:
        return Free(pins, {POOL: max(0, part.routed_pwm - len(dims_on))})
    used = {pin.compare for pin in dims_on if pin is not None}
    names = dict.fromkeys(pin.compare for pin in pins if pin.compare and pin.output)
    return Free(pins, {name: 0 if name in used or name[:-1] in timers else 1 for name in names})


def matched(needs: Sequence[PinNeed], free: Free) -> dict[tuple[str, str], str] | None:
    """A pin for each need, by driver and role; None where there is no assignment.

    Args:
        needs: the needs.
        free: what the board has left.
    """
    if not needs:
        return {}
    flow = _Flow(needs, free)
    if not flow.costs:
        return None
    solved = linprog(
        flow.costs, A_eq=flow.equal, b_eq=flow.equal_to, A_ub=flow.below, b_ub=flow.at_most, bounds=(0, 1),
        method="highs-ds",
    )  # fmt: skip
    if solved.status != 0:
        return None
    return _in_order(needs, flow.pins_of(solved.x), free)


class _Flow:
    """The linear programme: a variable a way from a need to a pin or a compare channel, or from a channel to a pin."""

    def __init__(self, needs: Sequence[PinNeed], free: Free) -> None:
        self._needs, self._free = needs, free
        self._ways: list[tuple[int | str, int | str]] = []
        self.costs: list[float] = []
        number = {pin.name: at for at, pin in enumerate(free.pins)}
        for at, need in enumerate(needs):
            if need.dims:
                for name, room in free.compares.items():
                    if room:
                        self._way(at, name, PER_PLACE * at / (len(needs) + 1))
            else:
                for pin in free.pins:
                    if _serves(pin, need):
                        self._way(at, f"pin {pin.name}", _spoilt(pin, free) + PER_PLACE * number[pin.name])
        for pin in free.pins:
            if not pin.output:
                continue
            name = POOL if POOL in free.compares else pin.compare
            if free.compares.get(name):
                self._way(name, f"pin {pin.name}", _dimmed(pin) + PER_PLACE * number[pin.name])
        self._limits()

    def _way(self, start: int | str, end: int | str, cost: float) -> None:
        self._ways.append((start, end))
        self.costs.append(cost)

    def _limits(self) -> None:
        equal: list[tuple[int, int, float]] = []
        below: list[tuple[int, int, float]] = []
        nodes = list(self._free.compares)
        pins = [f"pin {pin.name}" for pin in self._free.pins]
        row_of_pin = {name: len(nodes) + at for at, name in enumerate(pins)}
        row_of_node = {name: at for at, name in enumerate(nodes)}
        count = len(self._needs)
        for column, (start, end) in enumerate(self._ways):
            if isinstance(start, int):
                equal.append((start, column, 1.0))
            else:
                equal.append((count + row_of_node[str(start)], column, -1.0))
            if end in row_of_pin:
                below.append((row_of_pin[str(end)], column, 1.0))
            else:
                equal.append((count + row_of_node[str(end)], column, 1.0))
                below.append((row_of_node[str(end)], column, 1.0))
        self.equal = _sparse(equal, count + len(nodes), len(self._ways))
        self.equal_to = np.array([1.0] * count + [0.0] * len(nodes))
        self.below = _sparse(below, len(nodes) + len(pins), len(self._ways))
        self.at_most = np.array([float(self._free.compares[name]) for name in nodes] + [1.0] * len(pins))

    def pins_of(self, flows: np.ndarray) -> dict[int, str]:
        """The pin of each need, followed along the ways that carry a flow."""
        used = [way for way, flow in zip(self._ways, flows, strict=True) if flow > 0.5]
        out: dict[str, list[str]] = {}
        for start, end in used:
            if isinstance(start, str):
                out.setdefault(start, []).append(str(end))
        found = {}
        for start, end in used:
            if isinstance(start, int):
                found[start] = (str(end) if str(end).startswith("pin ") else out[str(end)].pop(0)).removeprefix("pin ")
        return found


def _serves(pin: BoardPin, need: PinNeed) -> bool:
    """Whether a pin can do what is needed of it, dimming apart."""
    return pin.adc if need.reads else pin.output or (need.hears and pin.adc)


def _spoilt(pin: BoardPin, free: Free) -> float:
    """What is lost when a pin is used for something that it need not be able to."""
    dims = pin.compare and POOL not in free.compares
    return _dimmed(pin) + (SPOILS_PWM if dims else 0.0)


def _dimmed(pin: BoardPin) -> float:
    return (SPOILS_ADC if pin.adc else 0.0) + (TAKES_SERIAL if pin.taken_by else 0.0)


def _sparse(entries: Sequence[tuple[int, int, float]], rows: int, columns: int) -> coo_array:
    if not entries:
        return coo_array((rows, columns))
    at, to, value = zip(*entries, strict=True)
    return coo_array((value, (at, to)), shape=(rows, columns))


def _in_order(needs: Sequence[PinNeed], pins: Mapping[int, str], free: Free) -> dict[tuple[str, str], str]:
    """The same pins in the order of the board: like needs change places so that what belongs together lies together."""
    place = {pin.name: at for at, pin in enumerate(free.pins)}
    groups: dict[tuple[bool, bool], list[int]] = {}
    for at, need in enumerate(needs):
        groups.setdefault((need.dims, need.reads), []).append(at)
    found = {}
    for members in groups.values():
        rising = sorted((pins[at] for at in members), key=place.__getitem__)
        found.update({(needs[at].driver_id, needs[at].role): pin for at, pin in zip(members, rising, strict=True)})
    return found


def _impossible(build: Build, needs: Sequence[PinNeed], free: Free) -> LanternError:
    """The first need that finds no pin beside those before it, in words."""
    low, high = 0, len(needs)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if matched(needs[:middle], free) is not None else (low, middle)
    need = needs[high - 1]
    name = owner_name(build, need.driver_id)
    channels = sum(free.compares.values())
    dimming = sum(each.dims for each in needs)
    if need.dims and dimming > channels:
        what = f"{name}: {dimming} lamps want dimming pins, and this board has {channels} left"
        return LanternError(what, "pins", "a board with more of them, a sink chip, or fewer lamps that dim")
    reading, readers = sum(each.reads for each in needs), sum(pin.adc for pin in free.pins)
    if need.reads and reading > readers:
        what = f"{name}: {reading} knobs and sensors want pins that read volts, and this board has {readers} left"
        return LanternError(what, "pins", "a board with more of them, or fewer knobs and sensors")
    what = f"{name}: {len(needs)} pins are wanted, and this board has {len(free.pins)} left"
    return LanternError(what, "pins", "a larger board, or registers, which take three pins")
