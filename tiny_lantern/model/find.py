"""Finding things of a build by a word: lights by name or number, pieces, groups, parts, supplies, feeds, effects."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from tiny_lantern.model.build import Build
from tiny_lantern.model.place import Place, Ref

MOST = 60
NUMBERED = re.compile(r"^(?P<words>.*?)\s*(?P<number>\d{1,7})$")


@dataclass(frozen=True)
class Found:
    """Something found: what it is called, what more there is to say of it, and where it is."""

    title: str
    about: str
    place: Place


def found_in(build: Build, word: str) -> list[Found]:
    """What a word finds, the closest first, at most so many.

    Args:
        build: the build.
        word: part of a name, in any case; or a light's number, counted from 0 or from 1, alone or after the name of
            its piece.
    """
    sought = " ".join(word.split()).casefold()
    if not sought:
        return []
    named = [each for each in _named(build) if closeness(sought, each.title, each.about) is not None]
    ranks = {id(each): closeness(sought, each.title, each.about) or 0 for each in named}
    named.sort(key=lambda each: ranks[id(each)])
    together = [*_numbered(build, sought), *named]
    return list(dict.fromkeys(together))[:MOST]


def closeness(sought: str, title: str, about: str = "") -> int | None:
    """How close a title is to what is sought, 0 the closest: the same, begun, a word begun, in it, in what is said of
    it; None when it is not there."""
    text = title.casefold()
    if text == sought:
        return 0
    if text.startswith(sought):
        return 1
    if f" {sought}" in text:
        return 2
    if sought in text:
        return 3
    return 4 if sought in about.casefold() else None


def _numbered(build: Build, sought: str) -> Iterator[Found]:
    """Lights by their number, of the whole Line or of a piece that is named before it."""
    match = NUMBERED.match(sought)
    if match is None:
        return
    number, words = int(match["number"]), match["words"]
    if not words:
        for slot in (number, number - 1):
            if 0 <= slot < build.line.slot_count:
                ref = build.line.ref_at(slot)
                yield _light(build, ref.piece_id, ref.index, f"light {slot} of the Line, the {slot + 1}. from 1")
        return
    for piece in build.pieces:
        if words not in piece.name.casefold():
            continue
        for index in (number - 1, number):
            if 0 <= index < piece.slot_count:
                yield _light(build, piece.id, index, f"number {index} from 0, {index + 1} from 1")


def _light(build: Build, piece_id: str, index: int, about: str) -> Found:
    piece = build.line.piece(piece_id)
    function = piece.function_name(index)
    said = f"{piece.name} · {about}" + (f" · {function}" if function else "")
    return Found(piece.place_name(index), said, Place.at(piece_id, index, Ref("pieces", piece_id)))


def _named(build: Build) -> Iterator[Found]:
    parts = {part.id: part.name for part in build.parts}
    for span in build.line.spans:
        piece = span.piece
        yield Found(piece.name, f"piece · {parts[piece.part_id]}", Place.at(piece.id, 0, Ref("pieces", piece.id)))
        for note in piece.notes:
            yield _light(build, piece.id, note.index, f"number {note.index} from 0, {note.index + 1} from 1")
    for group in build.groups:
        first = group.slots[0]
        yield Found(group.name, f"group of {len(group.slots)}", Place(first, None, (Ref("groups", group.id),)))
    for supply in build.supplies:
        yield Found(supply.name, f"supply · {parts[supply.part_id]}", Place.on("supplies", supply.id))
    for feed in build.feeds:
        yield Found(f"Feed {build.feed_letters[feed.id]}", "feed", Place.on("feeds", feed.id))
    for effect in build.effects:
        name = build.line.piece(effect.first.piece_id).name
        about = f"effect on {name} from {effect.start_s:g} s"
        yield Found(effect.look.word.capitalize(), about, Place(effect.first, None, (Ref("effects", effect.id),)))
    used = {piece.part_id: piece.id for piece in reversed(build.pieces)}
    for part in build.parts:
        if part.id in used:
            yield Found(part.name, "part", Place.on("pieces", used[part.id]))
