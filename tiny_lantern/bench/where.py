"""Where a meter is put, in words."""

from __future__ import annotations

from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.strips.of_build import PAD, StripsAtBench, node_words, pattern_name


def where_words(bench: AtBench, asked: Asked) -> str:
    """Where a meter is put, in words.

    Args:
        bench: the build at the bench.
        asked: where.
    """
    strips = pattern_name(asked.pattern) is not None
    if asked.kind == "A":
        return f"current through {_feed_words(bench, asked.conductor) if strips else bench.words(asked.conductor)}"
    pads = StripsAtBench(bench.build).pads if strips else {}
    plus, minus = (
        pads.get(key) or (bench.ends[key].words if key in bench.ends else _pad_words(bench, key))
        for key in (asked.plus, asked.minus)
    )
    return f"{'ohms' if asked.kind == 'ohm' else 'volts'}: red on {plus}, black on {minus}"


def _feed_words(bench: AtBench, key: str) -> str:
    """A feed's conductor in words, or a supply."""
    row = next((row for row in bench.circuit.conductors if row.key == key), None)
    return row.words if row is not None else bench.words(key)


def _pad_words(bench: AtBench, key: str) -> str:
    """A pad of a strip that is not among those offered."""
    if not key.startswith(PAD):
        return key
    strip_id, node, rail = key.removeprefix(PAD).rsplit("/", 2)
    name = next((strip.name for strip in bench.build.strips if strip.id == strip_id), strip_id)
    return f"{name}, {node_words(int(node) if node.isdigit() else node)}, {'+' if rail == 'pos' else '−'} pad"
