"""What a short on the Line does: who feeds it, which fuse goes first, what stands, and what gets hot."""

from __future__ import annotations

from html import escape

from tiny_lantern.electrical.network import node_name, node_position_m
from tiny_lantern.electrical.ohms import fuse_of
from tiny_lantern.electrical.shorts.sequence import FuseOpens
from tiny_lantern.electrical.shorts.study import DANGER, STANDING, ShortCourse, short_at
from tiny_lantern.electrical.workings import copper_name
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import amps, metres
from tiny_lantern.model.wording import listed
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import ShortPlace

NAMED = 4


def course_at(build: Build, place: ShortPlace) -> ShortCourse | None:
    """The course of the short; None where the build's feeds cannot be solved."""
    try:
        return short_at(build, place.strip_id, place.node)
    except LanternError:
        return None


def card_text(build: Build, place: ShortPlace, course: ShortCourse | None, palette: theme.Palette) -> str:
    """What the short does, in lines of rich text."""
    strip = build.line.strip(place.strip_id)
    where = f"{strip.name}, {node_name(strip, place.node)} ({metres(node_position_m(strip, place.node))})"
    lines = [f"<b>Short at {escape(where)}</b>"]
    if course is None:
        return "<br>".join([*lines, "The feeds cannot be solved, so nothing is known of it."])
    letters = build.feed_letters
    flowing = [
        f"{letters[feed.id]} {amps(float(current))}"
        for feed, current in zip(build.feeds, course.first.out_a, strict=True)
        if abs(current) > 1e-6
    ]
    shown = listed(flowing, NAMED)
    lines.append(f"at first {amps(course.first.short_a)}, " + (f"from {escape(shown)}" if shown else "nobody feeds it"))
    lines += [escape(text) for text in _events(build, course)]
    colour = palette.danger if course.severity == DANGER else palette.teal
    lines.append(f"<span style='color:{colour}'>{escape(_end(course))}</span>")
    hot = [f"{copper_name(build, over.copper)} {amps(over.current_a)} of {amps(over.limit_a)}" for over in course.over]
    if course.how == STANDING and hot:
        lines.append("gets hot:")
        lines += [f"&nbsp;&nbsp;{escape(text)}" for text in hot[:3]]
    lines.append(f"<span style='color:{palette.faint}'>drag it, or arrow keys; Esc or Del takes it off</span>")
    return "<br>".join(lines)


def _events(build: Build, course: ShortCourse) -> list[str]:
    letters = build.feed_letters
    found = []
    for number, event in enumerate(course.events):
        when = "first" if number == 0 else "then"
        if isinstance(event, FuseOpens):
            feed = build.feeds[event.feed]
            fuse = fuse_of(build, feed)
            rating = f"{fuse.rating_a:g} A fuse" if fuse else "fuse"
            found.append(f"{when} {letters[feed.id]}'s {rating} opens, at {event.times_rating:.1f} times its rating")
        else:
            names = " and ".join(build.supplies[supply].name for supply in event.supplies)
            found.append(f"{when} {names} shuts down, at {event.times_limit[0]:.1f} times its limit")
    if len(found) > NAMED:
        return [*found[:NAMED], f"and {len(found) - NAMED} more events"]
    return found


def _end(course: ShortCourse) -> str:
    if course.how == STANDING:
        return f"{amps(course.end.short_a)} go on flowing: nothing clears it"
    return "cleared by the supply alone; it comes back when switched on" if course.shut_down else "cleared"
