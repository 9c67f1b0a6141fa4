"""Edits of the connectors between halves of a build."""

from __future__ import annotations

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id, item, numbered_name, replaced, with_part
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.plug import Plug

NAME = "Connector"


def plug_of(build: Build, piece_id: str) -> Plug | None:
    """The connector that a piece lies beyond; None of one on this side.

    Args:
        build: the build.
        piece_id: the piece.
    """
    return next((plug for plug in build.plugs if piece_id in plug.piece_ids), None)


def put_behind(build: Build, piece_id: str, plug_id: str | None) -> Build:
    """A piece beyond a connector, and no longer beyond another; a connector that has nothing beyond it goes.

    Args:
        build: the build.
        piece_id: the piece.
        plug_id: the connector; None puts the piece on this side.

    Raises:
        LanternError: there is no such piece or connector.
    """
    build.line.piece(piece_id)
    if plug_id is not None:
        item(build.plugs, plug_id, "connector")
    left = (plug.without({piece_id}) for plug in build.plugs if plug.id != plug_id)
    kept = {plug.id: plug for plug in left if plug is not None}
    plugs = []
    for plug in build.plugs:
        if plug.id != plug_id:
            plugs += [kept[plug.id]] if plug.id in kept else []
        elif piece_id in plug.piece_ids:
            plugs.append(plug)
        else:
            plugs.append(revise(plug, piece_ids=(*plug.piece_ids, piece_id)))
    return revise(build, plugs=tuple(plugs))


def add_plug(build: Build, part: ConnectorPart, piece_id: str) -> Build:
    """A new connector with a piece beyond it.

    Args:
        build: the build.
        part: the connector's part.
        piece_id: the piece.
    """
    build = put_behind(with_part(build, part), piece_id, None)
    taken = {plug.name for plug in build.plugs}
    name = numbered_name(NAME, taken) if NAME in taken else NAME
    plug = made(Plug, id=fresh_id(build, "plug"), name=name, part_id=part.id, piece_ids=(piece_id,))
    return revise(build, plugs=(*build.plugs, plug))


def change_plug(build: Build, plug_id: str, part: ConnectorPart) -> Build:
    """A connector of another part.

    Args:
        build: the build.
        plug_id: the connector.
        part: its part.
    """
    build = with_part(build, part)
    plug = item(build.plugs, plug_id, "connector")
    return revise(build, plugs=replaced(build.plugs, plug_id, revise(plug, part_id=part.id)))
