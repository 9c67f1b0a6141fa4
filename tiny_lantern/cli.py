"""The command line: everything that needs no window, and the command that opens one.

Heavy modules are imported by the command that needs them, so that ``--help`` and the window start at once.
"""

from __future__ import annotations

import argparse
import builtins
import gc
import io
import json
import os
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tiny_lantern import __version__
from tiny_lantern.memory import keep_freed_memory
from tiny_lantern.model.errors import LanternError
from tiny_lantern.stopwatch import Stopwatch
from tiny_lantern.threads import one_thread

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build, Load

MENDS_WITHIN_S = 1.0
LOADS = "full-white, level:0.5, colour:#ffb648, frame:12.5 (seconds), or the name of a load case in the build"


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status: 0 fine, 1 the build has faults, 2 the input cannot be used."""
    one_thread()
    keep_freed_memory()
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")
    given = list(sys.argv[1:] if arguments is None else arguments)
    if not given or (given[0] not in _COMMANDS and not given[0].startswith("-")):
        given.insert(0, "open")
    options = _parser().parse_args(given)
    try:
        return int(_COMMANDS[options.command](options))
    except LanternError as error:
        print(f"tiny-lantern: {error.sentence()}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stdout = open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115 - whoever read us has gone
        return 0
    except KeyboardInterrupt:
        print("\ntiny-lantern: stopped; nothing was written.", file=sys.stderr)
        return 130


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="tiny-lantern",
        description="Plans the power, the wiring and the show of decorative and model LED builds.",
        epilog="Without a command the window opens: tiny-lantern [FILE].",
    )
    parser.add_argument("--version", action="version", version=f"tiny-lantern {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def command(name: str, text: str) -> argparse.ArgumentParser:
        return commands.add_parser(name, help=text, description=text)

    window = command("open", "Open the window, with a build or a demo.")
    window.add_argument("file", nargs="?", type=Path, help="a .lantern file")
    window.add_argument("--demo", choices=("pier", "footbridge", "cloak"), help="open a build that ships")
    window.add_argument("--timing", action="store_true", help="print how long each phase of the start takes")
    window.add_argument("--quit-after-paint", action="store_true", help=argparse.SUPPRESS)

    solve = command("solve", "Solve voltages and currents and print the worst of each strip, feed and supply.")
    _file(solve)
    _load(solve)
    solve.add_argument("--json", action="store_true", help="print everything as JSON, each pixel included")

    check = command("check", "Print the findings; exit status 1 when something is dangerous or won't work.")
    _file(check)
    _load(check)
    check.add_argument("--json", action="store_true", help="print the findings as JSON")

    sheet = command("sheet", "Write the printed sheet, or the feed and wire list.")
    _file(sheet)
    _out(sheet, "a .pdf, .html or .csv file")
    sheet.add_argument("--stock", type=Path, metavar="FILE", help="a .json file of parts and stock that are owned")

    moving = command(
        "render", "Write the show: an animated picture, a still, the weave, its steps, arrays, or a table of frames."
    )
    _file(moving)
    _out(moving, "a .gif, .apng, .png, .csv, .npz, .weave.png or .steps.svg file")
    moving.add_argument("--at", default="0", metavar="TIME", help="moment of the still, e.g. 12.5 or 1:05")
    moving.add_argument("--width", type=int, default=640, help="width of the picture in screen pixels (default 640)")

    code = command("code", "Write the show as code for boards: C99, or Python for small boards.")
    _file(code)
    _out(code, "a folder")
    code.add_argument("--language", choices=("c", "python"), default="c")

    schematic = command("schematic", "Draw the schematic of lamps, a chip, a board, a rail or a supply.")
    _file(schematic)
    _out(schematic, "a .svg file")
    schematic.add_argument("--of", required=True, metavar="NAME", help="what is drawn; a wrong name lists what can be")

    beats = command("beats", "Print the beats of a song, a time in seconds a line.")
    beats.add_argument("song", type=Path, help="a WAV, FLAC or OGG file")
    bench = command("bench", "Print the order of the first power, the log of the bench, or why it reads otherwise.")
    _file(bench)
    bench.add_argument("--why", action="store_true", help="what is likely to be wrong, by the readings in the file")
    bench.add_argument("--log", action="store_true", help="the log as Markdown")

    feeds = command("feeds", "Find the fewest feeds for each strip and write the build with them.")
    _file(feeds)
    _load(feeds)
    feeds.add_argument("--strip", help="only the strip of this id or name")
    feeds.add_argument(
        "--guard-shorts", action="store_true", help="also leave no short standing in copper over its limit"
    )
    feeds.add_argument("--apply", type=Path, metavar="OUT", help="write the build with the feeds found")

    shots = command("shots", "Write a picture of each main view, made from the demo.")
    shots.add_argument("folder", type=Path, metavar="DIR")
    return parser


def _file(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("file", type=Path, metavar="FILE", help="a .lantern file")


def _load(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--load", default="full-white", help=LOADS)


def _out(parser: argparse.ArgumentParser, what: str) -> None:
    parser.add_argument("-o", "--output", type=Path, required=True, metavar="OUT", help=what)


def load_from_text(build: Build, text: str) -> Load:
    """The load case that a person names on the command line.

    Raises:
        LanternError: it is none.
    """
    from pydantic import ValidationError

    from tiny_lantern.model.build import ColourLoad, FrameLoad, FullWhite, LevelLoad
    from tiny_lantern.model.faults import first_fault
    from tiny_lantern.model.quantities import parse_quantity

    for case in build.load_cases:
        if text in (case.id, case.name):
            return case.load
    kind, _, value = text.partition(":")
    try:
        if kind == "full-white":
            return FullWhite()
        if kind == "level":
            return LevelLoad(level=parse_quantity(value, "ratio", "--load level"))
        if kind == "colour":
            return ColourLoad(colour=value.lower())
        if kind == "frame":
            return FrameLoad(time_s=parse_quantity(value, "s", "--load frame"))
    except ValidationError as error:
        raise LanternError(first_fault(error).what, f"--load {text}", LOADS) from None
    raise LanternError(f"“{text}” is no load", "--load", LOADS)


def _progress(text: str) -> Callable[[float], None]:
    """Tells the share done on the error stream when a person is watching."""

    def told(share: float) -> None:
        if sys.stderr.isatty():
            print(f"\r{text} {share:4.0%}", end="" if share < 1 else "\n", file=sys.stderr, flush=True)

    return told


def _open(options: argparse.Namespace) -> int:
    watch = Stopwatch(options.timing)
    gc.disable()  # what loads now stays, so to look for what can go only costs time; once painted, the window does
    usual_import = builtins.__import__
    try:
        from tiny_lantern.ui.start import run  # Qt only when a window is wanted

        # the toolkit's own import reads the source of every module after it, to look for switches that are unused here
        builtins.__import__ = usual_import
        watch.mark("Qt")
        return run(options.file, options.demo, watch, options.quit_after_paint)
    finally:
        gc.enable()


def _solve(options: argparse.Namespace) -> int:
    from tiny_lantern.electrical.power import is_approximate, power_balance, solve_power
    from tiny_lantern.electrical.power_tree import beside_strips_a
    from tiny_lantern.electrical.reach import stranded
    from tiny_lantern.model.quantities import amps, volts
    from tiny_lantern.model.store import load
    from tiny_lantern.show.loads import duties_for

    build = load(options.file)
    duties = duties_for(build, load_from_text(build, options.load))
    solved = solve_power(build, duties, beside_strips_a(build))
    approximate = is_approximate(solved, duties)
    dark = [piece.what for piece in stranded(build)]
    if options.json:
        print(json.dumps(_solution_json(build, solved, approximate, power_balance(solved), dark), indent=1))
        return 1 if dark else 0
    for what in dark:
        print(f"{what}: dark")
    for strip in build.strips:
        v = solved.runs[strip.id].pixel_v
        print(
            f"{strip.name}: lowest {volts(float(v.min()))} at pixel {int(v.argmin())}, highest {volts(float(v.max()))}"
        )
    letters = build.feed_letters
    for feed in solved.feeds.values():
        print(f"Feed {letters[feed.feed_id]}: {amps(feed.pos_a)} out, {amps(feed.neg_a)} back")
    for supply in build.supplies:
        given = solved.supplies[supply.id]
        print(f"{supply.name}: {amps(given.current_a)} at {volts(given.terminal_v)}")
    if approximate:
        print("approximate: some pixels no longer hold their current (compare --load full-white)")
    return 1 if dark else 0


def _solution_json(
    build: Build, solved: Any, approximate: bool, balance: dict[str, float], dark: list[str]
) -> dict[str, Any]:
    return {
        "build": build.name,
        "dark": dark,
        "approximate": approximate,
        "strips": [
            {"id": run.strip_id, "pixel_v": run.pixel_v.tolist(), "pixel_a": run.pixel_a.tolist()}
            for run in (solved.runs[strip.id] for strip in build.strips)
        ],
        "feeds": [{"id": f.feed_id, "out_a": f.pos_a, "back_a": f.neg_a} for f in solved.feeds.values()],
        "supplies": [
            {"id": s.supply_id, "current_a": s.current_a, "terminal_v": s.terminal_v} for s in solved.supplies.values()
        ],
        "power_w": balance,
    }


def _check(options: argparse.Namespace) -> int:
    from tiny_lantern.findings.check import check, stops_the_build
    from tiny_lantern.findings.evidence import find_flashes, gather
    from tiny_lantern.findings.together import grouped
    from tiny_lantern.model.store import load

    until = time.monotonic() + MENDS_WITHIN_S
    build = load(options.file)
    flashes = find_flashes(build, _progress("Looking for flashes"))
    evidence = gather(build, load_from_text(build, options.load), flashes)
    found = check(evidence) if options.json else grouped(check(evidence))
    findings, untried = _with_mends_in_time(evidence, found, until)
    if options.json:
        print(json.dumps([_finding_json(finding) for finding in findings], indent=1, ensure_ascii=False))
    else:
        for finding in findings:
            print(f"{finding.severity.sign} {finding.severity.label}: {finding.title}. {finding.message}")
            if finding.fix:
                print(f"    fix: {finding.fix.label}" + (f", or: {finding.also.label}" if finding.also else ""))
        print(
            f"{len(findings)} findings" + (f"; mends of {untried} were not tried for lack of time" if untried else "")
        )
    return 1 if stops_the_build(findings) else 0


def _with_mends_in_time(evidence: Any, findings: list[Any], until: float) -> tuple[list[Any], int]:
    """The findings with the mends that could be tried by a moment, and how many were left untried."""
    from tiny_lantern.findings.mends import Trials, severities
    from tiny_lantern.model.errors import CancelledError

    untried = 0
    before = severities(each for group in findings for each in group.each)
    trials = Trials(evidence, before, lambda: time.monotonic() > until)
    found: list[Any] = []
    for finding in findings:
        try:
            found.append(trials.mended(finding))
        except CancelledError:
            untried += bool(finding.tries)
            found.append(finding)
    return found, untried


def _finding_json(finding: Any) -> dict[str, Any]:
    return {
        "severity": finding.severity.label,
        "code": finding.code,
        "place": finding.place.record(),
        "title": finding.title,
        "message": finding.message,
        "working": finding.working.text() if finding.working else None,
        "fix": finding.fix.label if finding.fix else None,
        "also": finding.also.label if finding.also else None,
    }


def _sheet(options: argparse.Namespace) -> int:
    from tiny_lantern.catalogue.drawer import Drawer
    from tiny_lantern.catalogue.drawer import load as load_drawer
    from tiny_lantern.findings.evidence import find_flashes, gather
    from tiny_lantern.model.build import FullWhite
    from tiny_lantern.model.disk import write_atomically
    from tiny_lantern.model.store import load
    from tiny_lantern.sheets.schedule import feeds_csv
    from tiny_lantern.sheets.sheet import sheet_html

    build = load(options.file)
    drawer = load_drawer(options.stock, needed=True) if options.stock else Drawer()
    suffix = _suffix(options.output, (".pdf", ".html", ".csv"))
    evidence = gather(build, FullWhite(), find_flashes(build, _progress("Looking for flashes")))
    if suffix == ".html":
        write_atomically(options.output, sheet_html(evidence, drawer=drawer).encode("utf-8"))
    elif suffix == ".csv":
        write_atomically(options.output, feeds_csv(evidence).encode("utf-8"))
    else:
        from tiny_lantern.ui.printing import offscreen_application, save_pdf, sheet_page  # Qt lays out the page

        _application = offscreen_application()
        save_pdf(sheet_page(evidence, drawer), options.output)
    print(f"wrote {options.output}")
    return 0


def _bench(options: argparse.Namespace) -> int:
    from tiny_lantern.bench.journal import journal, order_page
    from tiny_lantern.bench.order import first_power
    from tiny_lantern.bench.why import why
    from tiny_lantern.model.store import load

    build = load(options.file)
    if options.log:
        print(journal(build))
        return 0
    if not options.why:
        print(order_page(build, first_power(build)))
        return 0
    found = why(build, _progress("Comparing every fault that may be"))
    for cause in found.causes:
        print(f"{cause.posterior:6.1%}  {cause.words}")
    print(f"{found.others:6.1%}  all others together")
    if found.next is not None:
        print(f"Read next, {found.next.where}.\n  {found.next.leader}\n  {found.next.other}")
    return 0 if found.healthy else 1


def _beats(options: argparse.Namespace) -> int:
    from tiny_lantern.show.music.heard import heard

    sound, beats = heard(options.song, _progress("Reading the song"), lambda: False)
    print(f"# {sound.name}: {sound.length_s:.2f} s, {beats.bpm:.1f} beats a minute", file=sys.stderr)
    print("\n".join(f"{time_s:.3f}" for time_s in beats.times_s))
    return 0


def _schematic(options: argparse.Namespace) -> int:
    from tiny_lantern.circuit.equations import NotSolvedError
    from tiny_lantern.circuit.paths import paths_of
    from tiny_lantern.model.disk import write_atomically
    from tiny_lantern.model.store import load
    from tiny_lantern.sheets.schematic import of_subject, schematic_svg, subjects

    _suffix(options.output, (".svg",))
    build = load(options.file)
    try:
        paths = paths_of(build)
    except NotSolvedError as error:
        raise LanternError(
            f"the circuit has no solution: {error}", str(options.file), "one that check finds no danger in"
        ) from None
    offered = subjects(build, paths)
    chosen = next((each for each in offered if options.of in (each.name, each.key)), None)
    if chosen is None:
        names = "; ".join(each.name for each in offered) or "nothing yet: drive a lamp or feed a strip"
        raise LanternError(f"nothing here is called “{options.of}”", "--of", names)
    write_atomically(options.output, schematic_svg(of_subject(paths, chosen.key)).encode("utf-8"))
    print(f"wrote {options.output}")
    return 0


def _render(options: argparse.Namespace) -> int:
    from tiny_lantern.model.quantities import parse_quantity
    from tiny_lantern.model.store import load
    from tiny_lantern.sheets.moving import estimate, save_frames_csv, save_gif, save_still
    from tiny_lantern.sheets.show_files import writer_for

    build = load(options.file)
    write = writer_for(options.output)
    if write is not None:
        write(build, options.output, _progress("Writing"), lambda: False)
        print(f"wrote {options.output}")
        return 0
    suffix = _suffix(options.output, (".gif", ".apng", ".png", ".csv", ".npz", ".svg"))
    if suffix == ".svg":
        raise LanternError("a drawing of what?", "-o", "a name that ends in .steps.svg")
    if not 16 <= options.width <= 4096:
        raise LanternError(f"{options.width} is not a width", "--width", "16 to 4096")
    height = options.width * 9 // 16
    if suffix != ".png":
        print(f"writing {options.output}, {estimate(build, suffix).words()}", file=sys.stderr)
    if suffix == ".gif":
        save_gif(build, options.output, options.width, height, _progress("Drawing"))
    elif suffix == ".png":
        save_still(build, parse_quantity(options.at, "s", "--at"), options.output, options.width, height)
    else:
        save_frames_csv(build, options.output, _progress("Writing frames"))
    print(f"wrote {options.output}")
    return 0


def _code(options: argparse.Namespace) -> int:
    from tiny_lantern.code.board.plan import refuse_without_pins
    from tiny_lantern.code.files import code_files, save_code, sizes_of
    from tiny_lantern.code.score import score_of
    from tiny_lantern.model.store import load

    build = load(options.file)
    score = score_of(build)
    refuse_without_pins(build)
    for name in save_code(code_files(build, options.language), options.output):
        print(f"wrote {options.output / name}")
    for part, size in sizes_of(build, score):
        print(f"{part.title}: about {size.ram_bytes:,} bytes of memory, {size.flash_bytes:,} bytes of programme")
    return 0


def _suffix(path: Path, known: tuple[str, ...]) -> str:
    suffix = path.suffix.lower()
    if suffix not in known:
        raise LanternError(f"“{path.name}” is of no kind that can be written here", "-o", ", ".join(known))
    return suffix


def _feeds(options: argparse.Namespace) -> int:
    from tiny_lantern.electrical.corner import corner_words
    from tiny_lantern.model.store import load, save
    from tiny_lantern.model.wording import feeds_in_words
    from tiny_lantern.plans.feeds import plan_feeds
    from tiny_lantern.plans.line import line_of

    build = load(options.file)
    if not build.strips:
        raise LanternError("there is nothing to feed yet", "strips", "at least one strip")
    wanted = [s.id for s in build.strips if options.strip in (None, s.id, s.name)]
    if not wanted:
        names = ", ".join(strip.name for strip in build.strips)
        raise LanternError(f"no strip is called “{options.strip}”", "--strip", names)
    done: set[str] = set()
    for strip_id in wanted:
        if strip_id in done:
            continue
        done |= line_of(build, strip_id).ids
        load_case = load_from_text(build, options.load)
        plans = plan_feeds(
            build, strip_id, load_case, _progress("Searching"), guard_shorts=options.guard_shorts, alternatives=True
        )
        plan = plans[0]
        places = ", ".join(f"{f.attach.position_m:.2f} m" for f in plan.feeds if f.attach.to == "strip")
        print(f"{plan.summary}: at {places}, fuse {plan.fuse.rating_a:g} A. {plan.why}")
        for other in plans[1:]:
            print(f"    or {other.kind}: {feeds_in_words(other.count)}, {other.why}")
        build = plan.apply(build)
    print(f"judged with {corner_words(build.corner)}")
    if options.apply:
        save(build, options.apply)
        print(f"wrote {options.apply}")
    return 0


def _shots(options: argparse.Namespace) -> int:
    from tiny_lantern.ui.shots import take_shots  # Qt draws the pictures

    for path in take_shots(options.folder):
        print(f"wrote {path}")
    return 0


_COMMANDS: dict[str, Callable[[argparse.Namespace], int]] = {
    "open": _open, "solve": _solve, "check": _check, "sheet": _sheet, "schematic": _schematic,
    "bench": _bench, "beats": _beats,
    "render": _render, "feeds": _feeds,
    "code": _code, "shots": _shots,
}  # fmt: skip


if __name__ == "__main__":
    sys.exit(main())
