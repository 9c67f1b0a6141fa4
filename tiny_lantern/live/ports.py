"""The serial ports of this machine: which there are, and one opened."""

from __future__ import annotations

import os
from dataclasses import dataclass

import serial
from serial.tools import list_ports

from tiny_lantern.model.errors import LanternError

AT_ONCE = 1 << 16


@dataclass(frozen=True)
class Port:
    """A port: its path, and what this machine says is plugged in there."""

    path: str
    words: str


def ports() -> tuple[Port, ...]:
    """The ports at which something is plugged in, by their paths."""
    found = sorted(list_ports.comports(), key=lambda one: one.device)
    return tuple(Port(one.device, one.description if one.description != "n/a" else "a serial port") for one in found)


class SerialWire:
    """An open port. Nobody else has it as long as it is open.

    Args:
        path: its path.
        bits_per_s: how quick it is. [bit/s]

    Raises:
        LanternError: it cannot be opened: there is none, it is busy, or no port.
    """

    def __init__(self, path: str, bits_per_s: int) -> None:
        try:
            self._port = serial.Serial(path, bits_per_s, timeout=0, write_timeout=0, exclusive=True)
        except (OSError, ValueError, serial.SerialException) as error:
            raise LanternError(f"this port cannot be opened: {_reason(error)}", path, "the port of a board") from None
        self.path = path

    def read(self) -> bytes:
        """What has come.

        Raises:
            LanternError: nobody is at its far end any more.
        """
        try:
            return bytes(self._port.read(AT_ONCE))
        except (OSError, TypeError, serial.SerialException) as error:
            raise self._gone(error) from None

    def write(self, data: bytes) -> int:
        """Send; how many bytes were taken. [-]

        Args:
            data: what goes.

        Raises:
            LanternError: nobody is at its far end any more.
        """
        try:
            return os.write(self._port.fileno(), data)  # the library's own waits for room once the port is full
        except BlockingIOError:
            return 0
        except (OSError, serial.SerialException) as error:
            raise self._gone(error) from None

    def close(self) -> None:
        """Let go of it."""
        self._port.close()

    def fileno(self) -> int:
        """Its number, by which one waits for what comes."""
        return int(self._port.fileno())

    def _gone(self, error: Exception) -> LanternError:
        self.close()
        return LanternError(f"the board is gone: {_reason(error)}", self.path, "its cable plugged in, and a new start")


def _reason(error: Exception) -> str:
    """Why, in a few words."""
    told = getattr(error, "strerror", None) or str(error)
    return "it is busy" if "exclusively lock" in str(error) or "busy" in told.lower() else told.splitlines()[0]
