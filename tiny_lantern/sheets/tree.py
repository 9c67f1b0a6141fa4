"""The power tree as a drawing: sources left, loads right, each with its currents against what it may give."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from tiny_lantern.electrical.power_tree import PowerNode
from tiny_lantern.model.quantities import amps, volts

WIDE, HIGH, GAP_X, GAP_Y, EDGE = 232, 58, 46, 12, 12
INK, FAINT, PANEL, RULE, AMBER, DANGER = "#232d36", "#5a646d", "#fcf8ef", "#ddd5c3", "#cc7d15", "#ab2118"


def tree_svg(roots: Sequence[PowerNode], ink: str = INK, faint: str = FAINT, panel: str = PANEL) -> str:
    """The tree of a build.

    Args:
        roots: its supplies with what hangs on them.
        ink: colour of words.
        faint: colour of what is said less loudly.
        panel: colour of the cards.
    """
    shapes: list[str] = []
    y, depth = float(EDGE), 1
    for root in roots:
        y, deep = _branch(root, 0, y, shapes, (ink, faint, panel))
        depth = max(depth, deep)
    width, height = 2 * EDGE + depth * WIDE + (depth - 1) * GAP_X, y + EDGE - GAP_Y
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height:.0f}" width="{width}" '
        f'height="{height:.0f}" font-family="Lato">{"".join(shapes)}</svg>'
    )


def _branch(
    node: PowerNode, level: int, y: float, shapes: list[str], colours: tuple[str, str, str]
) -> tuple[float, int]:
    """Draw a node left of its children; the next free height and how deep it goes."""
    x, top, depth = EDGE + level * (WIDE + GAP_X), y, level + 1
    for child in node.children:
        start = y
        y, deep = _branch(child, level + 1, y, shapes, colours)
        depth = max(depth, deep)
        shapes.append(
            f'<path d="M{x + WIDE} {top + HIGH / 2:.0f} h{GAP_X / 2:.0f} V{start + HIGH / 2:.0f} h{GAP_X / 2:.0f}" '
            f'fill="none" stroke="{colours[1]}"/>'
        )
    shapes += _card(node, x, top, colours)
    return max(y, top + HIGH + GAP_Y), depth


def _card(node: PowerNode, x: float, y: float, colours: tuple[str, str, str]) -> list[str]:
    ink, faint, panel = colours
    edge, told_ink = (DANGER, DANGER) if node.over else (RULE, ink)
    share = node.worst_a / node.allowed_a if node.allowed_a else 0.0
    told = f"{amps(node.idle_a)} idle, {amps(node.worst_a)} at worst"
    if node.allowed_a:
        told += f" of {amps(node.allowed_a)}"
    name = node.name if len(node.name) <= 26 else f"{node.name[:25]}…"
    note = node.note if len(node.note) <= 40 else f"{node.note[:39]}…"
    shapes = [
        f'<rect x="{x}" y="{y:.0f}" width="{WIDE}" height="{HIGH}" rx="4" fill="{panel}" stroke="{edge}"/>',
        f'<text x="{x + 9}" y="{y + 17:.0f}" font-size="12" fill="{ink}">{escape(name)}</text>',
        f'<text x="{x + 9}" y="{y + 32:.0f}" font-size="10.5" fill="{told_ink}">{escape(told)}</text>',
        f'<text x="{x + 9}" y="{y + 50:.0f}" font-size="10" fill="{faint}">{escape(note)}</text>',
    ]
    if node.volts:
        shapes.append(
            f'<text x="{x + WIDE - 9}" y="{y + 17:.0f}" font-size="11" text-anchor="end" fill="{faint}">'
            f"{escape(volts(node.volts))}</text>"
        )
    if share:
        wide = WIDE - 18
        shapes.append(f'<rect x="{x + 9}" y="{y + 37:.0f}" width="{wide}" height="4" fill="{RULE}"/>')
        shapes.append(
            f'<rect x="{x + 9}" y="{y + 37:.0f}" width="{wide * min(1.0, share):.0f}" height="4" '
            f'fill="{DANGER if node.over else AMBER}"/>'
        )
    return shapes
