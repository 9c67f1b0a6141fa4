"""What a person can do in Power by a command: cut, short, feeds, load cases, curves, workings."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog

from tiny_lantern.findings.registry import subject_of
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_pieces import toggle_cut
from tiny_lantern.model.edits_power import add_load_case
from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui.widgets.load_picker import load_name

if TYPE_CHECKING:
    from tiny_lantern.findings.finding import Finding
    from tiny_lantern.ui.shell import Shell
    from tiny_lantern.ui.stations.power import PowerStation


def cut_here(shell: Shell) -> None:
    """Cut the positive rail before the selected light, or close the cut that is there."""
    run, index = shell.session.pixel_in_hand()
    if run is None or index == 0:
        shell.tell(LanternError("there is no rail before the first light", "cut", "any other light of the strip"))
        return
    edit = partial(toggle_cut, strip_id=run.id, before_pixel=index)
    shell.session.apply(f"Cut or closed the rail of {run.name} before {index}", edit)


def keep_load(shell: Shell) -> None:
    """Put the load in hand among the build's own cases."""
    load = shell.session.load
    if any(case.load == load for case in shell.session.build.load_cases):
        shell.session.say(f"{load_name(load)} is among the load cases already.")
        return
    shell.session.apply(
        f"Kept {load_name(load)} as a load case", partial(add_load_case, name=load_name(load), load=load)
    )


def try_short(shell: Shell) -> None:
    """Put a short at the selected light in Power, or take the one there is off."""
    _curves(shell).posts.try_short_here()


def _curves(shell: Shell) -> PowerStation:
    """Power with its curves along the Line, not the sources."""
    shell.show_station("Power")
    power = shell.stack.power()
    power.show_sources(False)
    return power


def show_snag(shell: Shell, finding: Finding) -> None:
    """Show a snag of Power where it is seen: among the sources, or on the curves along the Line."""
    if subject_of(finding.code) != "sources":
        _curves(shell)
        return
    power = shell.stack.power()
    power.show_sources(True)
    for key in _keys_of(finding)[:1]:
        power.sources.pick(key)


def _keys_of(finding: Finding) -> list[str]:
    """The things among the sources that a snag is at, drivers first."""
    kinds = ("drivers", "boards", "supplies", "rails", "pieces")
    return [ref.id for kind in kinds for ref in finding.place.refs if ref.kind == kind]


def ask_curves(shell: Shell) -> None:
    """Ask for a file and draw the curves of Power, as they are zoomed, into it."""
    shell.show_station("Power")
    name = f"{short_name(shell.session.build.name)} curves.svg"
    chosen, _ = QFileDialog.getSaveFileName(shell, "Save the curves", name, "Drawings (*.svg)")
    if chosen:
        save_curves(shell, Path(chosen))


def save_curves(shell: Shell, path: Path) -> None:
    """Draw the curves of Power into an SVG file; a refusal is told."""
    try:
        write_atomically(path, shell.stack.power().svg())
    except LanternError as error:
        shell.tell(error)
    else:
        shell.session.say(f"Wrote {path.name}.")


def find_feeds_here(shell: Shell) -> None:
    """Find feeds for the selected strip, the first one when none is selected."""
    run, _ = shell.session.pixel_in_hand()
    if run is not None:
        shell.long_work.find_feeds((run.id,), False)


def show_selected_working(shell: Shell) -> None:
    """Show how the selected feed's or light's figures came about."""
    from tiny_lantern.electrical.network import node_name, snap_node  # loaded by the warm-up
    from tiny_lantern.electrical.shorts.study import short_at
    from tiny_lantern.electrical.workings import feed_working, pixel_working, short_working

    solved, chosen = shell.session.solved, shell.session.selection
    if solved is None or solved.solution is None:
        return
    build = solved.build
    feed_id = chosen.one("feeds")
    if feed_id is not None:
        feed = item(build.feeds, feed_id, "feed")
        working = feed_working(build, solved.solution, feed.id)
        if feed.attach.to == "strip":
            strip = build.line.strip(feed.attach.strip_id)
            node = snap_node(strip, feed.attach.position_m)
            course = short_at(build, strip.id, node)
            working = working.followed_by(short_working(build, course, f"{strip.name}, {node_name(strip, node)}"))
        shell.show_working(working)
        return
    run, index = shell.session.pixel_in_hand()
    if run is not None:
        duty = solved.duties[build.strips.index(run)][index]
        shell.show_working(pixel_working(build, solved.solution, run.id, index, duty))


def show_supplies_working(shell: Shell) -> None:
    """Show how the supply gauge's figures came about."""
    from tiny_lantern.electrical.workings import supplies_working  # loaded by the warm-up

    solved = shell.session.solved
    if solved is not None and solved.solution is not None:
        shell.show_working(supplies_working(solved.build, solved.solution))


def show_sources(shell: Shell) -> None:
    """Show the sources in Power; the curves again where they are shown already."""
    shell.show_station("Power")
    power = shell.stack.power()
    power.show_sources(not power.shows_sources)
