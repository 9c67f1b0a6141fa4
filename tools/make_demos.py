"""Writes the builds that ship. Run from the repository: ``.venv/bin/python tools/make_demos.py``."""

from __future__ import annotations

from pathlib import Path

from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import UNPOWERED, Order, in_words
from tiny_lantern.bench.readings import OPEN_OHM
from tiny_lantern.bench.where import where_words
from tiny_lantern.catalogue.kinds import add_first, kind_of
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build, ColourLoad, FullWhite, LevelLoad, LoadCase, Site
from tiny_lantern.model.edits import change_build, with_part
from tiny_lantern.model.edits_bench import log, take_reading, tick_step
from tiny_lantern.model.edits_drive import (
    add_board,
    add_rail,
    change_board,
    change_channels,
    change_driver,
    change_rail,
    with_data_pins,
)
from tiny_lantern.model.edits_inputs import add_input, add_rule, change_deed, change_deed_kind
from tiny_lantern.model.edits_music import change_music, lay_on_beats, set_marks
from tiny_lantern.model.edits_names import add_group, note_lamp
from tiny_lantern.model.edits_palette import add_swatch
from tiny_lantern.model.edits_pieces import add_strip, change_piece, change_strip
from tiny_lantern.model.edits_power import add_feed, add_supply, change_feed, change_supply
from tiny_lantern.model.edits_scenes import add_scene, change_scene
from tiny_lantern.model.edits_show import add_effect, change_effect, follow_group
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AroundRing, AsGrid
from tiny_lantern.model.store import save
from tiny_lantern.plans.ways import drive_piece, driver_of, with_resistors
from tiny_lantern.show.music.beats import beats_of
from tiny_lantern.show.music.sound import read_sound

TUNE = "harbour-waltz.flac"
DEMOS = Path(__file__).parents[1] / "tiny_lantern" / "demo"
CASES = (
    LoadCase(id="load-white", name="Full white", load=FullWhite()),
    LoadCase(id="load-half", name="Half level", load=LevelLoad(level=0.5)),
    LoadCase(id="load-amber", name="Amber", load=ColourLoad(colour="#ffb648")),
)


def part(identity: str):
    """A part on the shelf."""
    return next(part for part in shelf() if part.id == identity)


def plug(build: Build, connector_id: str) -> Build:
    """Put a connector into both conductors of every feed."""
    build = with_part(build, part(connector_id))
    for feed in build.feeds:
        sides = {side: revise(getattr(feed, side), connector_id=connector_id) for side in ("positive", "negative")}
        build = change_feed(build, feed.id, **sides)
    return build


def footbridge() -> Build:
    """Two hand-rails fed at one end only, on purpose: the far ends sag."""
    build = Build(
        name="Heron Footbridge",
        notes="Two hand-rails over the mill stream. The supply sits in a sealed box on the west bank, 3 m away.",
        site=Site(outdoor=True),
        show_s=60.0,
        load_cases=CASES,
    )
    strip = part("rgb-5v-30")
    for name, y in (("West rail", 0.0), ("East rail", -1.5)):
        build = add_strip(build, strip, 216, name)
        arc = AlongArc(x_m=0.0, y_m=y, angle_deg=14.0, radius_m=14.8, rightward=True)
        build = change_strip(build, build.strips[-1].id, layout=arc)
    build = add_supply(build, part("mains-5v-20a"), "Bank box")
    build = change_supply(build, build.supplies[0].id, x_m=-2.2, y_m=-0.9, sealed=True)
    for rail in build.strips:
        build = add_feed(build, build.supplies[0].id, rail.id, 0.0, part("mm2-1_5"), 3.0, part("fuse-10a"))
    return with_board(footbridge_show(plug(build, "screw")), "board-routed-3v3", "Bridge board")


def with_board(build: Build, board_id: str, name: str) -> Build:
    """A board for the data line, of 3.3 V behind a level shifter."""
    build = with_data_pins(add_board(build, part(board_id), name))
    return revise(build, data=revise(build.data, shifted=True))


def footbridge_show(build: Build) -> Build:
    """Dusk comes up, lanterns walk across, the water turns, and all breathes out."""
    rail = build.strips[0].pixel_count
    build = add_effect(build, look_of("fade", colour_to="#9c4a12"), 0, 2 * rail - 1, 0.0, 8.0)
    build = add_effect(build, look_of("steady", colour="#3a1a05"), 0, 2 * rail - 1, 8.0, 16.0)
    west = look_of("chase", colour="#ffb648", length_px=8, tail_px=22, spacing_px=72, speed_px_per_s=24)
    east = look_of("chase", colour="#ffd9a0", length_px=4, tail_px=30, spacing_px=108, speed_px_per_s=-18)
    for look, first in ((west, 0), (east, rail)):
        build = add_effect(build, look, first, first + rail - 1, 8.0, 16.0)
        build = change_effect(build, build.effects[-1].id, layer="lighten")
    build = add_effect(build, look_of("wheel", level=0.8, period_s=12, turns=1.5), 0, 2 * rail - 1, 24.0, 18.0)
    build = add_effect(build, look_of("breathe", colour="#2e7f8c", period_s=6, low=0.1), 0, 2 * rail - 1, 42.0, 12.0)
    build = add_effect(
        build, look_of("blink", colour="#fff2dc", period_s=1.5, duty=0.3), rail - 12, rail + 11, 42.0, 12.0
    )
    build = change_effect(build, build.effects[-1].id, layer="add")
    return add_effect(build, look_of("fade", colour="#2e7f8c", colour_to="#000000"), 0, 2 * rail - 1, 54.0, 6.0)


def cloak() -> Build:
    """A hem, two seams and a clasp on a battery bank."""
    build = Build(
        name="Glow-worm Cloak",
        notes="A walking cloak for the lantern parade; the battery bank sits in the hem pocket.",
        site=Site(outdoor=True),
        show_s=40.0,
        load_cases=CASES,
    )
    hem = AlongPath(points_m=((-0.7, 0.0), (-0.3, -0.12), (0.3, -0.12), (0.7, 0.0), (0.72, 0.05)))
    left = AlongPath(points_m=((-0.62, 0.1), (-0.32, 0.8), (-0.2, 1.2)))
    right = AlongPath(points_m=((0.62, 0.1), (0.32, 0.8), (0.2, 1.2)))
    pixels = (("Hem", 48, hem), ("Left seam", 36, left), ("Right seam", 36, right))
    for name, count, layout in pixels:
        build = add_strip(build, part("rgb-5v-30"), count, name)
        build = change_strip(build, build.strips[-1].id, layout=layout)
    build = add_strip(build, part("rgb-5v-144"), 16, "Clasp")
    build = change_strip(build, build.strips[-1].id, layout=AroundRing(x_m=0.0, y_m=1.28))
    build = add_supply(build, part("battery-5v-8a"), "Hem pocket")
    build = change_supply(build, build.supplies[0].id, x_m=-0.45, y_m=0.25)
    for strip, length in zip(build.strips, (0.3, 0.3, 1.4, 1.5), strict=True):
        build = add_feed(build, build.supplies[0].id, strip.id, 0.0, part("awg-22"), length, part("fuse-2a"))
    build = add_effect(build, look_of("breathe", colour="#4f7a1e", period_s=5, low=0.05), 0, 135, 0.0, 40.0)
    worms = look_of("chase", colour="#d6ff7a", length_px=2, tail_px=10, spacing_px=40, speed_px_per_s=10)
    build = add_effect(build, worms, 0, 119, 4.0, 30.0)
    build = change_effect(build, build.effects[-1].id, layer="lighten")
    return with_board(change_build(build, tick_hz=40.0), "board-paired-3v3", "Hem board")


PIER: tuple[tuple[str, str, str, dict[str, object]], ...] = (
    ("single", "led-white-5mm", "Lighthouse", {"layout": AlongLine(x_m=1.53, y_m=0.62)}),
    ("single", "led-white-3mm", "Deck lamps",
     {"lamp_count": 12, "spacing_m": 0.125, "layout": AlongLine(x_m=0.06, y_m=0.26)}),
    ("single", "led-amber-5mm", "Signal panel",
     {"lamp_count": 6, "spacing_m": 0.03, "layout": AlongLine(x_m=0.98, y_m=0.38)}),
    ("colour", "lamp-rgb-anode", "Carousel",
     {"lamp_count": 12, "spacing_m": 0.075, "layout": AroundRing(x_m=0.5, y_m=0.57)}),
    ("two-colour", "lamp-two-colour-2", "Berths",
     {"lamp_count": 4, "spacing_m": 0.07, "layout": AlongLine(x_m=0.16, y_m=-0.02)}),
    ("matrix", "matrix-red-8x8", "Arcade 8×8",
     {"rows": 8, "columns": 8, "pitch_m": 0.024, "layout": AsGrid(x_m=0.98, y_m=0.63)}),
    ("hold", "lamp-self-changing", "Festoon",
     {"lamp_count": 5, "spacing_m": 0.06, "layout": AlongArc(x_m=1.22, y_m=0.43, angle_deg=-30.0, radius_m=0.28)}),
    ("switched", "floodlight-12v", "Flood", {"layout": AsGrid(x_m=1.42, y_m=0.06)}),
    ("strip", "rgb-5v-60", "Deck edge", {"pixel_count": 60, "layout": AlongLine(x_m=0.0, y_m=0.14)}),
)  # fmt: skip
NAMES = (
    ("Berths", 0, "north quay 1", "ferry at berth"), ("Berths", 1, "north quay 2", "ferry due"),
    ("Berths", 2, "south quay 1", "launch at berth"), ("Berths", 3, "south quay 2", "launch due"),
    ("Signal panel", 0, "panel left", "tide rising"), ("Signal panel", 5, "panel right", "tide falling"),
    ("Lighthouse", 0, "lantern room", "beam"),
)  # fmt: skip


def pier() -> Build:
    """A model pier with a piece of nearly every kind, named and driven; with three faults that a button mends."""
    build = Build(
        name="Gull Pier",
        notes="A model pier, 1.6 m long. The board and the supply sit in the box under the deck.",
        show_s=80.0,
        load_cases=CASES,
    )
    for kind_id, part_id, name, changes in PIER:
        build = add_first(build, kind_of(kind_id), part(part_id))
        build = change_piece(build, build.pieces[-1].id, name=name, **changes)
    by_name = {piece.name: piece for piece in build.pieces}
    for name, index, place, function in NAMES:
        ref = SlotRef(piece_id=by_name[name].id, index=index)
        build = note_lamp(build, ref, place=place, function=function)
    for title, name, order in (("Carousel round", "Carousel", "round the middle"),
                               ("Arcade inward", "Arcade 8×8", "inward rings")):  # fmt: skip
        piece = by_name[name]
        slots = [SlotRef(piece_id=piece.id, index=index) for index in range(piece.slot_count)]
        build = add_group(build, title, slots, order)
    build = add_supply(build, part("mains-5v-4a"), "Deck box")
    build = change_supply(build, build.supplies[0].id, x_m=0.06, y_m=-0.14)
    edge = build.strips[0]
    build = add_feed(build, build.supplies[0].id, edge.id, 0.0, part("awg-18"), 0.5, part("fuse-4a"))
    return pier_drive(pier_show(build))


BERTHS = """\
1000 x2
1100 x2
1110 x2
1111 x4
0000 x2"""


def pier_show(build: Build) -> Build:
    """Dusk, an evening with everything turning, and the last boat; each scene fades into the next."""
    spans = {span.piece.name: span for span in build.line.spans}

    def lay(name: str, look, start_s: float, length_s: float, layer: str = "replace") -> None:
        nonlocal build
        span = spans[name]
        build = add_effect(build, look, span.first, span.stop - 1, start_s, length_s)
        build = change_effect(build, build.effects[-1].id, layer=layer)

    deck, edge = look_of("steady", colour="#ffdca8"), look_of("steady", colour="#2a1206")
    beam = look_of("lighthouse", colour="#fff2dc", period_s=4, width=0.3, low=0.05)
    wheel = look_of("wheel", level=0.9, period_s=8, turns=1.0)
    lay("Lighthouse", beam, 0, 24)
    lay("Deck lamps", deck, 0, 24)
    lay("Carousel", look_of("gradient", colour="#301004", colour_to="#ff9a3c", period_s=9, turns=2.0), 0, 24)
    lay("Berths", look_of("steady", colour="#00c040"), 0, 24)
    lay("Arcade 8×8", look_of("text", text="GULL PIER", colour="#ff5a3c", speed=7), 0, 24)
    lay("Deck edge", edge, 0, 24)
    lay("Lighthouse", beam, 24, 38)
    lay("Deck lamps", deck, 24, 38)
    tide = look_of("chase", colour="#ffb648", length_px=2, tail_px=2, spacing_px=6, speed_px_per_s=3)
    lay("Signal panel", tide, 24, 38)
    lay("Carousel", wheel, 24, 38)
    lay("Berths", look_of("steady", colour="#00c040"), 24, 20)
    lay("Berths", look_of("blink", colour="#ff3020", period_s=4, duty=0.5), 44, 18)
    ghosts = look_of("chase", colour="#ff5a3c", length_px=9, tail_px=20, spacing_px=32, speed_px_per_s=16)
    lay("Arcade 8×8", ghosts, 24, 38)
    inward = next(group.id for group in build.groups if group.name == "Arcade inward")
    build = follow_group(build, build.effects[-1].id, inward)
    lay("Festoon", look_of("wheel", level=0.8, period_s=12, turns=0.8), 24, 38)
    lay("Flood", look_of("steady", colour="#fff2dc"), 26, 34)
    lay("Deck edge", edge, 24, 38)
    sparks = look_of("chase", colour="#ff8a4c", length_px=3, tail_px=14, spacing_px=30, speed_px_per_s=12)
    lay("Deck edge", sparks, 26, 34, "lighten")
    lay("Lighthouse", look_of("morse", text="night", colour="#fff2dc", words_per_min=6), 62, 18)
    lay("Deck lamps", deck, 62, 10)
    lay("Carousel", look_of("fade", colour="#ff9a3c", colour_to="#000000", curve="ease out"), 62, 14)
    lay("Berths", look_of("steps", table=BERTHS, colour="#ff3020", step_s=0.5), 62, 18)
    lay("Arcade 8×8", look_of("text", text="LAST BOAT", colour="#ff5a3c", speed=7), 62, 18)
    lay("Deck edge", edge, 62, 18)
    for colour, name in (
        ("#ffdca8", "Deck"),
        ("#ff5a3c", "Arcade"),
        ("#00c040", "Berth free"),
        ("#ff3020", "Berth taken"),
    ):
        build = add_swatch(build, colour, name)
    for start_s, name, fade_s in ((24.0, "Evening", 4.0), (62.0, "Last boat", 3.0)):
        build = add_scene(build, start_s, name)
        build = change_scene(build, build.scenes[-1].id, fade_s=fade_s)
    return change_scene(build, build.scenes[0].id, name="Dusk", fade_s=3.0)


PIER_WAYS = (("Lighthouse", "switch", 0.02), ("Deck lamps", "register", 0.008), ("Signal panel", "register", 0.008),
             ("Carousel", "sink", 0.01), ("Berths", "pair", 0.01), ("Arcade 8×8", "scanned", 0.002),
             ("Festoon", "hold", 0.02), ("Flood", "relay", 0.5))  # fmt: skip


def pier_drive(build: Build) -> Build:
    """Each piece driven in a way of its own. On purpose the signal panel's enable floats, the arcade's rows hang on
    register outputs, the relay may click on while the board boots, and the carousel dims with more bits than the board
    can send often enough."""
    build = add_board(build, part("board-8bit-large"), "Pier board")
    ids = {piece.name: piece.id for piece in build.pieces}
    for name, kind, wanted_a in PIER_WAYS:
        build = drive_piece(build, ids[name], kind)
        driver = driver_of(build, ids[name])
        build = with_resistors(change_channels(build, driver.id, wanted_a=wanted_a), driver.id)
    by_name = {driver.name: driver for driver in build.drivers}
    build = change_driver(build, by_name["Lighthouse"].id, led_v=5.0)
    build = with_resistors(build, by_name["Lighthouse"].id)
    build = change_driver(build, by_name["Signal panel"].id, enable_wired=False)
    build = change_driver(build, by_name["Carousel"].id, led_v=4.2, rext_ohm=1800.0)
    build = change_driver(
        build, by_name["Arcade 8×8"].id, rows_by="register", row_transistor_id=None, row_ohm=35.0, column_ohm=150.0
    )
    return pier_inputs(pier_rails(change_board(build, build.boards[0].id, at_m=(0.2, -0.2))))


def pier_inputs(build: Build) -> Build:
    """A knob turns the carousel faster and slower, a button takes the flood away and brings it back."""
    ids = {piece.name: piece.id for piece in build.pieces}
    build = add_input(build, "knob", name="Carousel knob")
    build = change_deed_kind(build, build.rules[-1].id, "speed")
    build = change_deed(build, build.rules[-1].id, piece_id=ids["Carousel"], low=0.25, high=4.0)
    build = add_input(build, "button", name="Flood button")
    build = change_deed_kind(build, build.rules[-1].id, "brightness")
    build = change_deed(build, build.rules[-1].id, piece_id=ids["Flood"], low=1.0, high=0.0, even=False)
    return pier_song(build, ids["Signal panel"])


def pier_song(build: Build, panel_id: str) -> Build:
    """The organ's waltz, with its beats as they are found, and the signal panel going with half of its bars."""
    beats = beats_of(read_sound(DEMOS / TUNE)).times_s
    build = change_music(set_marks(build, beats.tolist()), file=TUNE, per_bar=3)
    panel = build.line.span(panel_id)
    for first, last in ((1, 13), (37, 44)):
        build = lay_on_beats(build, "chase", panel.first, panel.stop - 1, first, last, every=3, again="turned")
    return build


def cloak_inputs(build: Build) -> Build:
    """The cloak glows up as the palm is pressed, and its worm runs faster."""
    build = add_input(build, "press", name="Palm")
    build = change_deed(build, build.rules[-1].id, low=0.25, high=1.0)
    build = add_rule(build, build.inputs[-1].id)
    build = change_deed_kind(build, build.rules[-1].id, "speed")
    return change_deed(build, build.rules[-1].id, effect_id=build.effects[-1].id, low=1.0, high=3.0)


def pier_rails(build: Build) -> Build:
    """Twelve volts for the flood, and two step-downs on them for what the deck box cannot give."""
    build = add_supply(build, part("mains-12v-5a"), "Flood box")
    build = change_supply(build, build.supplies[-1].id, x_m=0.36, y_m=-0.14)
    for name, target_v in (("Carousel rail", 4.2), ("Festoon rail", 3.3)):
        build = add_rail(build, part("step-down-3a"), "flood-box", target_v)
        build = change_rail(build, build.rails[-1].id, name=name)
    return build


def begun(build: Build, day: str) -> Build:
    """The checks with the supply off are done, and the supplies were read."""
    order = Order(AtBench(build))
    minute = 2
    for step in order.steps():
        at = f"{day} 18:{minute:02d}"
        if step.part == UNPOWERED and step.expected is None:
            build = tick_step(build, step.key, True, step.act, at)
        elif step.part == UNPOWERED or step.key.startswith("on/supply"):
            asked, expected = step.asked, step.expected
            value = None if expected.value > OPEN_OHM else round(expected.value, 2)
            reading = made(BenchReading, id="r", kind=asked.kind, plus=asked.plus, minus=asked.minus,
                           pattern=asked.pattern, value=value, step=step.key, at=at)  # fmt: skip
            build = take_reading(build, reading, f"{in_words(asked.kind, value)}, {where_words(order.bench, asked)}")
            build = tick_step(build, step.key, True, step.act, at)
        minute += 1
    return build


def noted(build: Build, day: str) -> Build:
    """What the pier's log says so far."""
    for minute, kind, text in (
        (2, "note", "Wired to the last step; one lamp of the Signal panel left out, its hole has to be drilled again."),
        (40, "look", "All dark: deck lamp 7 glows a little."),
        (47, "cured", "Cured, because: a hair of wire between legs 6 and 7 of Deck lamps chip 1."),
    ):
        build = log(build, kind, text, f"{day} 18:{minute:02d}")
    return build


def main() -> None:
    """Write every demo."""
    day = "2026-11-21"
    demos = (("pier", noted(pier(), day)), ("footbridge", footbridge()), ("cloak", begun(cloak_inputs(cloak()), day)))
    for name, build in demos:
        save(build, DEMOS / f"{name}.lantern")
        print(name, len(build.pieces), "pieces")


if __name__ == "__main__":
    main()
