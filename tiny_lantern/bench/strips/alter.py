"""Copper that was built otherwise than planned: one resistance, one end, one source at a time."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tiny_lantern.electrical.network import GROUND, Branches, FeedEnd, Network, with_others

OPEN_OHM = 1e9
SIDES = {"pos": 0, "neg": 1}


def with_gap(network: Network, run: int, rail: str, before_pixel: int, more_ohm: float) -> Network:
    """A rail with more resistance between a pixel and the one before it.

    Args:
        network: the copper.
        run: which run.
        rail: ``pos`` or ``neg``.
        before_pixel: the pixel. [-]
        more_ohm: how much more. [ohm]
    """
    at = network.runs[run].first_node + 2 * before_pixel + SIDES[rail]
    rail_s = network.rail_s.copy()
    rail_s[at] = 1 / (1 / rail_s[at] + more_ohm)
    return replace(network, rail_s=rail_s)


def with_joint(network: Network, joint: int, rail: str, more_ohm: float) -> Network:
    """A joint between two strips with more resistance in one rail.

    Args:
        network: the copper.
        joint: which joint, in the order of the build.
        rail: ``pos`` or ``neg``.
        more_ohm: how much more. [ohm]
    """
    joints = network.others[0]
    ohm = joints.ohm.copy()
    ohm[2 * joint + SIDES[rail]] += more_ohm
    return with_others(network, (replace_ohm(joints, ohm), *network.others[1:]))


def replace_ohm(branches: Branches, ohm: np.ndarray) -> Branches:
    """Branches with other resistances.

    Args:
        branches: the branches.
        ohm: of each, (n_branches,). [ohm]
    """
    return Branches(branches.kind, branches.start, branches.stop, ohm)


def with_feeds(network: Network, feeds: tuple[FeedEnd, ...]) -> Network:
    """A network with other feeds in place of its own.

    Args:
        network: the copper.
        feeds: the feeds, in their order.
    """
    out, back = network.others[-2:]
    pos = np.array([feed.pos_node for feed in feeds], np.int64)
    neg = np.array([feed.neg_node for feed in feeds], np.int64)
    wires = (
        Branches(out.kind, out.start, pos, np.array([feed.pos_ohm for feed in feeds])),
        Branches(back.kind, neg, back.stop, np.array([feed.neg_ohm for feed in feeds])),
    )
    return with_others(replace(network, feeds=feeds), (*network.others[:-2], *wires))


def with_feed(network: Network, number: int, feed: FeedEnd) -> Network:
    """A network with one feed in place of its own.

    Args:
        network: the copper.
        number: which feed.
        feed: what it is instead.
    """
    return with_feeds(network, tuple(feed if at == number else own for at, own in enumerate(network.feeds)))


def tied_at(network: Network, feed: FeedEnd) -> Network:
    """A network where a feed's planned place still has a billion ohm to supply and ground, so that a strip that has no
    other feed is dark and not undefined.

    Args:
        network: the copper.
        feed: the feed as planned.
    """
    ohm = np.array([OPEN_OHM])
    supply = network.supplies[feed.supply].node
    ties = (
        Branches("beside", np.array([supply]), np.array([feed.pos_node]), ohm),
        Branches("beside", np.array([feed.neg_node]), np.array([GROUND]), ohm),
    )
    return with_others(network, (*network.others[:1], *ties, *network.others[1:]))


def with_supply(network: Network, number: int, open_v: float) -> Network:
    """A network one of whose supplies is set to another voltage.

    Args:
        network: the copper.
        number: which supply.
        open_v: its open voltage. [V]
    """
    supplies = tuple(
        replace(supply, open_v=open_v) if at == number else supply for at, supply in enumerate(network.supplies)
    )
    return replace(network, supplies=supplies)


def with_bridge(network: Network, pos_node: int, ohm: float) -> Network:
    """A network with a resistance from a positive rail node to the return node beside it.

    Args:
        network: the copper.
        pos_node: the positive node.
        ohm: the resistance. [ohm]
    """
    bridge = Branches("beside", np.array([pos_node]), np.array([pos_node + 1]), np.array([ohm]))
    return with_others(network, (*network.others[:1], bridge, *network.others[1:]))
