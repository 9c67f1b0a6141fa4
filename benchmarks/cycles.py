"""Clock cycles of a frame on a board of 8 bits, counted by a simulator, beside what is estimated.

Run by hand: ``.venv/bin/python benchmarks/cycles.py DEVICE`` with the simulator's name for the device; wants the
compiler for such boards and its simulator (avr-gcc, simavr and their headers from Debian).
"""

from __future__ import annotations

import random
import re
import subprocess
import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.support.builds import one_strip, part
from tiny_lantern.code.files import code_files
from tiny_lantern.code.score import score_of
from tiny_lantern.code.work import NARROW, work_of
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_show import add_effect, change_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui.files import demo_build

HEADERS, SECTION = "/usr/include/simavr/avr", "-Wl,--undefined=_mmcu,--section-start=.mmcu=0x910000"
MAIN = """
#include <avr/io.h>
#include <avr/interrupt.h>
#include <avr/sleep.h>
#include "avr_mcu_section.h"
#include "lantern.h"
AVR_MCU(16000000, "DEVICE");
AVR_MCU_SIMAVR_CONSOLE(&GPIOR0);
volatile uint8_t sink;
void lantern_pass_on(uint32_t tick);
void lantern_levels(const uint16_t *levels, uint32_t count);
void lantern_write(const uint8_t *bytes, uint32_t count) { sink = bytes[count - 1]; }
void lantern_pass_on(uint32_t tick) { sink = (uint8_t)tick; }
void lantern_levels(const uint16_t *levels, uint32_t count) { sink = (uint8_t)levels[count - 1]; }
static void tell(uint32_t number)
{
    char figures[11];
    uint8_t at = 10;
    figures[at] = 0;
    do { figures[--at] = (char)('0' + number % 10); number /= 10; } while (number);
    while (figures[at]) GPIOR0 = figures[at++];
    GPIOR0 = '\\r';
}
int main(void)
{
    static const uint32_t ticks[] = {TICKS};
    uint8_t at;
    for (at = 0; at < sizeof ticks / sizeof *ticks; at++) {
        uint16_t gone;
        TCNT1 = 0;
        TCCR1B = 4; /* clock / 256 */
        lantern_frame(ticks[at]);
        gone = TCNT1;
        TCCR1B = 0;
        tell(gone);
    }
    cli();
    sleep_enable();
    sleep_cpu();
    return 0;
}
"""


def counted(build: Build, device: str, ticks: list[int]) -> int:
    """The most cycles that a frame took."""
    name = score_of(build).playing[0].name
    with tempfile.TemporaryDirectory() as folder:
        for file, text in code_files(build).items():
            (Path(folder) / file).write_text(text)
        main = MAIN.replace("DEVICE", device).replace("TICKS", ", ".join(f"{tick}ul" for tick in ticks))
        (Path(folder) / "main.c").write_text(main)
        told = ["avr-gcc", f"-mmcu={device}", "-std=gnu11", "-Os", SECTION, "-I", HEADERS,
                f"lantern_{name}.c", "main.c", "-o", "show.elf"]  # fmt: skip
        subprocess.run(told, cwd=folder, check=True, capture_output=True)
        ran = subprocess.run(
            ["simavr", "-m", device, "show.elf"], cwd=folder, capture_output=True, text=True, check=False
        )
        return max(int(found) * 256 for found in re.findall(r"O:(\d+)", ran.stdout + ran.stderr))


def random_build(chance: random.Random) -> Build:
    """One to three strips with one to four effects of any kind."""
    build = one_strip(chance.randint(20, 70))
    for number in range(chance.randint(0, 2)):
        build = add_strip(build, part(chance.choice(["rgb-5v-60", "rgbw-5v-60"])), chance.randint(5, 30), f"S{number}")
    build = change_build(build, show_s=10.0)
    lights = build.line.slot_count
    for _ in range(chance.randint(1, 4)):
        kind = effect_kinds()[chance.choice(sorted(effect_kinds()))]
        first = chance.randrange(lights - 2)
        last = chance.randrange(first + 1, lights)
        build = add_effect(build, look_of(kind.kind, **kind.sample), first, last, chance.choice([0.0, 1.0, 2.0]), 4.0)
        build = change_effect(build, build.effects[-1].id, layer=chance.choice(["replace", "add", "lighten", "dim"]))
    return build


def main() -> None:
    """Print what is estimated, what was counted, and the ratio."""
    device, chance = sys.argv[1], random.Random(5)
    builds = [(name, demo_build(name)) for name in ("pier", "footbridge", "cloak")]
    builds += [(f"random {number}", random_build(chance)) for number in range(20)]
    near = 0
    for name, build in builds:
        score = score_of(build)
        work = work_of(score, score.playing[0], NARROW)
        real = counted(build, device, [work.tick, work.tick + 1, work.tick + 7])
        near += 0.75 <= work.cycles / real <= 1.25
        print(f"{name:12} estimated {work.cycles:9,} counted {real:9,} ratio {work.cycles / real:.2f}")
    print(f"{near} of {len(builds)} within a quarter")


if __name__ == "__main__":
    main()
