"""The caps of a build, for whoever only has to show it: the electrical core is loaded only where there are any."""

from __future__ import annotations

from tiny_lantern.model.build import Build
from tiny_lantern.show.limit import Cap


def caps_of(build: Build) -> tuple[Cap, ...]:
    """The caps of a build's supplies that have one; none of supplies that feed no strip."""
    if all(supply.show_cap_a is None for supply in build.supplies):
        return ()
    from tiny_lantern.show.caps import worked_out  # the whole of the electrical core, which few shows need to be seen

    return worked_out(build)
