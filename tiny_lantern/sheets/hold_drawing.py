"""The hold window of a rail, drawn: where lamps forget, hold and glow, and where each of them stands."""

from __future__ import annotations

from tiny_lantern.electrical.driven.contract import Case
from tiny_lantern.electrical.driven.hold import held_of, lamps_of

WIDTH, HEIGHT, LEFT, TOP = 168, 120, 42, 12


def hold_svg(case: Case, ink: str = "#232d36", faint: str = "#5a646d") -> str:
    """The window with every lamp in it.

    Args:
        case: the driver with its lamps.
        ink: colour of lines and words.
        faint: colour of what is said less loudly.
    """
    held, (foot_v, top_v) = held_of(case), lamps_of(case).window_v
    volts = held.lamp_v
    room = max(0.04, (top_v - foot_v) * 0.6)
    low, high = min(foot_v, float(volts.min())) - room, max(top_v, float(volts.max())) + room
    inner = HEIGHT - 2 * TOP

    def y(value: float) -> float:
        return TOP + (high - value) / (high - low) * inner

    wide = WIDTH - LEFT - 10
    shapes = [
        f'<rect x="{LEFT}" y="{y(top_v):.1f}" width="{wide}" height="{max(0.0, y(foot_v) - y(top_v)):.1f}" '
        f'fill="#17706f" opacity="0.18"/>'
    ]
    for value, word, drop in ((top_v, "glows above", -4), (foot_v, "forgets below", 12)):
        shapes.append(
            f'<line x1="{LEFT}" y1="{y(value):.1f}" x2="{LEFT + wide}" y2="{y(value):.1f}" stroke="{faint}" '
            f'stroke-dasharray="4 3"/><text x="{LEFT - 4}" y="{y(value) + 4:.1f}" font-size="10" text-anchor="end" '
            f'fill="{ink}">{value:.2f} V</text><text x="{LEFT + wide}" y="{y(value) + drop:.1f}" '
            f'font-size="9.5" text-anchor="end" fill="{faint}">{word}</text>'
        )
    step = wide / max(1, len(volts))
    for number, value in enumerate(volts):
        inside = foot_v <= value <= top_v
        shapes.append(
            f'<circle cx="{LEFT + step * (number + 0.5):.1f}" cy="{y(float(value)):.1f}" r="2.6" '
            f'fill="{"#cc7d15" if inside else "#ab2118"}"/>'
        )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" '
        f'font-family="Lato">{"".join(shapes)}</svg>'
    )
