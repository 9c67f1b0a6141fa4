"""The worst frame of a show, by what lights an output at all."""

from tests.support.driven import driven, lamps, lit
from tiny_lantern.electrical.driven.contract import case_of
from tiny_lantern.plans.worst import worst_of_show


def test_an_output_that_only_switches_is_on_from_half_and_one_that_dims_from_anything() -> None:
    seen = {}
    for bits in (1, 4):
        for colour in ("#303030", "#ffffff"):
            build = lit(driven("register", lamps(4), levels_bits=bits), colour=colour)
            driver = build.drivers[0]
            seen[bits, colour] = len(worst_of_show(case_of(build, driver, build.channels_of[driver.id])))
    assert seen == {(1, "#303030"): 0, (1, "#ffffff"): 1, (4, "#303030"): 1, (4, "#ffffff"): 1}
