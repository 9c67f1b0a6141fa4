"""Both sides of what practitioners argue about, with this build's own figures."""

from tests.support.builds import part
from tests.support.driven import driven, lamps, matrix
from tiny_lantern.model.edits_drive import move_pin
from tiny_lantern.plans.compare import compare
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.plans.schools import schools


def here(build) -> dict[str, str]:  # type: ignore[no-untyped-def]
    """What each question says of a build's first piece."""
    rows = list(compare(build, build.pieces[0].id))
    return {school.question: school.here for school in schools(build, rows)}


def test_a_multiplexer_is_laid_beside_a_register_in_this_builds_figures() -> None:
    """Eight lamps on one register keep all their light; a multiplexer lights each for an eighth of the time."""
    build = driven("register", lamps(8))
    rows = {row.way.kind: row for row in compare(build, build.pieces[0].id)}
    told = here(build)["multiplexer or register"]
    assert f"{rows['register'].brightest_cd:.2f} cd" in told
    assert f"{rows['demux'].joints} joints" in told
    assert [rows[kind].joints for kind in ("pin", "register")] == [8 * 2 + 8 * 2 + 8, 8 * 2 + 8 * 2 + 3]
    assert [rows[kind].pins for kind in ("pin", "register")] == [8, 3]
    assert rows["register"].brightest_cd > 7 * rows["demux"].brightest_cd
    assert told.endswith("More light and fewer joints here: latch registers.")


def test_a_side_that_does_not_fit_is_named() -> None:
    told = here(driven("scanned", matrix()))
    assert "does not" in told["multiplexer or register"]
    assert "start is known" in told["counter or two registers"]


def test_a_counter_says_whether_its_reset_is_wired() -> None:
    build = driven("scanned", matrix())
    counted = change_way(build, build.drivers[0].id, rows_by="counter")
    assert "reset is not wired" in here(counted)["counter or two registers"]
    wired = change_way(counted, build.drivers[0].id, reset_wired=True)
    assert "reset is wired" in here(wired)["counter or two registers"]


def test_mirrors_and_used_pins_are_counted() -> None:
    build = driven("pwm", lamps(2), board="board-paired-3v3")
    apart = here(build)
    assert "0 of them mirror" in apart["one output a lamp or one for two"]
    same = move_pin(move_pin(build, "lamps-pwm", "lamp 0", "G0"), "lamps-pwm", "lamp 1", "G16")
    assert "1 of them mirror" in here(same)["one output a lamp or one for two"]
    board = part("board-paired-3v3")
    assert f"uses 2 of {sum(pin.output for pin in board.pins)} pins" in apart["smallest board or the drawer's"]
