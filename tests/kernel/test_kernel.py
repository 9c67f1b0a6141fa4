"""The kernel: what does not fit is refused, and three ways to work a program out agree."""

import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.support.compiled import by_c, by_python
from tests.support.effort import SOAK
from tiny_lantern.kernel import nodes
from tiny_lantern.kernel.arrays import evaluate
from tiny_lantern.kernel.c99 import c_function, c_prelude
from tiny_lantern.kernel.narrowed import narrowed
from tiny_lantern.kernel.nodes import ONE, KernelError, Node, Type, constant, hashed, muldiv, mulmod, select, turn
from tiny_lantern.kernel.program import Program, decided
from tiny_lantern.kernel.tables import cosine, luminance_of, sine, table_values

LISTS = (nodes.listed("bytes", 0, 255), nodes.listed("words", -70_000, 70_000, Type.Q16), nodes.listed("few", -9, 9))
LOW, HIGH = -(2**31), 2**31 - 1


def by_arrays(program: Program, rows: list[dict[str, int]]) -> list[tuple[int, ...]]:
    """The results of a program for some rows of inputs, from NumPy in one go."""
    columns = {node.name: np.array([row[node.name] for row in rows], np.int64) for node in program.inputs}
    columns |= {node.name: np.array(rows[0][node.name]) for node in program.lists}
    found = [np.broadcast_to(value, len(rows)) for value in evaluate(program, columns)]
    return [tuple(int(value[at]) for value in found) for at in range(len(rows))]


def ways(node: Node) -> list:
    """Ways to make a larger expression of one, those that do not fit left out by the caller."""
    words = node if node.type is Type.U32 else node.seen_as(Type.U32)
    whole = node.type is not Type.U32
    return [
        lambda other, number: node + other,
        lambda other, number: node - other,
        lambda other, number: node * other,
        lambda other, number: node << number % 32,
        lambda other, number: node >> number % 32,
        lambda other, number: node < other,
        lambda other, number: node <= other,
        lambda other, number: node.equals(other),
        lambda other, number: node.least(other),
        lambda other, number: node.most(other),
        lambda other, number: select(node < other, other, node),
        lambda other, number: node.div(number % 999 + 1),
        lambda other, number: node.mod(number % 999 + 1),
        lambda other, number: node.mod(1 << number % 12),
        lambda other, number: muldiv(node, number, number % 777 + 1),
        lambda other, number: mulmod(node, number, number % 777 + 1),
        lambda other, number: turn(node, number, number % 777 + 1),
        lambda other, number: sine(node.seen_as(Type.Q16)) if whole else node,
        lambda other, number: luminance_of(node.seen_as(Type.Q16)) if whole else node,
        lambda other, number: hashed(words, constant(number % 99, Type.U32)),
        lambda other, number: node.seen_as(Type.U32) * constant(number % 2**32, Type.U32) + words,
        lambda other, number: node.seen_as(Type.Q16),
        lambda other, number: (node >> 20).seen_as(Type.I32).as_q16(),
        lambda other, number: node.floor(),
        lambda other, number: nodes.item(LISTS[number % len(LISTS)], node),
    ]


@st.composite
def programs(draw: st.DrawFn) -> Program:
    """A random program on three inputs."""
    low = draw(st.integers(LOW, HIGH))
    known = [
        nodes.given("i", low, draw(st.integers(low, HIGH))),
        nodes.given("q", -4 * ONE, 9 * ONE, Type.Q16),
        nodes.given("u", 0, 2**32 - 1, Type.U32),
    ]
    for _ in range(draw(st.integers(1, 14))):
        node = draw(st.sampled_from(known))
        other = draw(st.sampled_from([node, *(n for n in known if n.type is node.type)]))
        try:
            known.append(draw(st.sampled_from(ways(node)))(other, draw(st.integers(LOW, HIGH))))
        except KernelError:
            continue
    return Program("f", tuple(known[3:][-4:] or known[:1]))


def rows_of(program: Program, draw: st.DrawFn, count: int = 12) -> list[dict[str, int]]:
    """Inputs for a program, the ends of their ranges among them."""
    lows, highs = ({node.name: getattr(node, end) for node in program.inputs} for end in ("low", "high"))
    lists = {n.name: draw(st.lists(st.integers(n.low, n.high), min_size=1, max_size=40)) for n in program.lists}
    drawn = [{n.name: draw(st.integers(n.low, n.high)) for n in program.inputs} for _ in range(count)]
    return [row | lists for row in (lows, highs, *drawn)]


@settings(max_examples=60 * SOAK, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_numpy_and_printed_python_agree_and_stay_in_the_range_that_was_worked_out(data: st.DataObject) -> None:
    program = data.draw(programs())
    rows = rows_of(program, data.draw)
    found = by_arrays(program, rows)
    assert found == by_python(program, rows)
    for row in found:
        for value, node in zip(row, program.results, strict=True):
            assert node.low <= value <= node.high


@settings(max_examples=40 * SOAK, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_a_single_row_of_numbers_has_the_results_that_it_has_among_others(data: st.DataObject) -> None:
    program = data.draw(programs())
    rows = rows_of(program, data.draw, count=4)
    some = data.draw(st.sets(st.sampled_from([node.name for node in program.inputs] or ["none"])))
    for row, wanted in zip(rows, by_arrays(program, rows), strict=True):
        single = {name: np.array([value] * 3) if name in some else value for name, value in row.items()}
        assert tuple(int(np.max(value)) for value in evaluate(program, single)) == wanted


def test_a_place_outside_a_list_is_its_nearer_end_and_a_list_is_checked() -> None:
    program = Program("f", (nodes.item(LISTS[0], nodes.given("i", -5, 9)),))
    at = {"i": np.arange(-2, 6), "bytes": (7, 8, 9)}
    assert evaluate(program, at)[0].tolist() == [7, 7, 7, 8, 9, 9, 9, 9]
    with pytest.raises(ValueError, match="bytes is 7 to 256"):
        evaluate(program, at | {"bytes": (7, 256)})
    with pytest.raises(ValueError, match="empty"):
        evaluate(program, at | {"bytes": ()})
    with pytest.raises(KernelError):
        nodes.item(nodes.given("i", 0, 3), constant(1))


def narrower(draw: st.DrawFn, program: Program) -> tuple[Program, list[dict[str, int]]]:
    """A program for narrower inputs than it was built for, some of them one number, and rows of such inputs."""
    ends = {}
    for node in program.inputs:
        low = draw(st.integers(node.low, node.high) | st.sampled_from([min(max(node.low, 0), node.high), node.low]))
        near = st.integers(low, min(node.high, low + draw(st.sampled_from([0, 1, 9, ONE]))))
        ends[node.name] = (low, draw(near | st.integers(low, node.high)))
    known = frozenset((name, low, high) for name, (low, high) in ends.items())
    rows = [{name: draw(st.integers(*own)) for name, own in ends.items()} for _ in range(8)]
    rows += [{name: own[end] for name, own in ends.items()} for end in (0, 1)]
    lists = {n.name: draw(st.lists(st.integers(n.low, n.high), min_size=1, max_size=9)) for n in program.lists}
    return narrowed(program, known), [row | lists for row in rows]


@settings(max_examples=100 * SOAK, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_a_program_for_narrower_inputs_results_in_the_same(data: st.DataObject) -> None:
    program = data.draw(programs())
    made, rows = narrower(data.draw, program)
    found = by_arrays(program, rows)
    assert by_arrays(made, rows) == found
    assert by_python(made, rows) == found
    for row in found:
        for value, node in zip(row, made.results, strict=True):
            assert node.low <= value <= node.high


def test_what_is_known_of_inputs_is_worked_out_once_and_what_is_alike_stands_once() -> None:
    number, by, far = nodes.given("number", -9, 99), nodes.given("by", 1, 500), nodes.given("far", 0, HIGH)
    share = nodes.given("share", 0, ONE, Type.Q16)
    cases: list[tuple[Node, dict[str, tuple[int, int]], str, int]] = [
        (muldiv(number, 65536, 8192), {}, "number * 8", 0),
        (muldiv(far, by, 500), {"far": (0, 900), "by": (250, 250)}, "far >> 1", 0),
        (number.mod(by), {"number": (0, 6), "by": (7, 9)}, "number", 0),
        (number + 3 - 5 + 2, {}, "number", 0),
        (3 + number - 9, {}, "number - 6", 0),
        ((far >> 3) >> 4, {}, "far >> 7", 0),
        (share * share.least(ONE), {"share": (ONE, ONE)}, "65536", 0),
        (select(number < 50, number, by), {"number": (1, 9)}, "number", 0),
        (number.clamp(0, 50), {"number": (3, 9)}, "number", 0),
        (turn(far, by, 80).seen_as(Type.I32), {"far": (0, 99), "by": (1, 1)}, "far % 80 * 65536 / 80", 0),
        (turn(far, by, 80).seen_as(Type.I32), {"far": (0, 99), "by": (160, 160)}, "0", 0),
        (turn(far, by, 80_000), {"far": (0, 99), "by": (1, 1)}, "kernel_turn(far, 1, 80000)", 0),
        ((number + by) * (number + by), {}, "step1 * step1", 1),
        ((number + by).called("one") * (number + by).called("other"), {}, "one * one", 1),
    ]
    for node, ends, words, lines in cases:
        known = frozenset((name, *both) for name, both in ends.items())
        text = c_function(narrowed(Program("f", (node,)), known)).splitlines()
        assert text[-2] == f"    *result0 = {words};"
        assert len(text) == 4 + lines
    with pytest.raises(KernelError, match="may reach 1 to 2147483648"):
        narrowed(Program("f", (nodes.given("a", 0, 9) + 1,)), frozenset({("a", 0, HIGH)}))


def test_what_is_put_in_32_bits_is_right_at_its_ends(tmp_path: Path) -> None:
    signed, share = nodes.given("a", -ONE, ONE, Type.Q16), nodes.given("b", 0, ONE, Type.Q16)
    below, part = nodes.given("a", -3, ONE), nodes.given("a", 0, ONE - 1)
    cases = [
        (signed * share, [(-1, 32768), (-3, 32768), (1, 32768), (-ONE, ONE - 1), (-ONE, ONE), (ONE, ONE - 1)]),
        (share * share.least(ONE), [(0, ONE), (0, ONE - 1)]),
        (muldiv(below, 60_000, 7), [(-3, 0), (ONE, 0)]),
        (muldiv(part, ONE, nodes.given("b", 1, 9)), [(ONE - 1, 1), (ONE - 1, 9)]),
        (mulmod(below, 60_000, 7), [(-3, 0), (ONE, 0)]),
        (nodes.item(LISTS[0], nodes.given("a", -1, 2)), [(-1, 0), (0, 0), (2, 0)]),
    ]
    programs = [Program(f"f{number}", (node,)) for number, (node, _) in enumerate(cases)]
    rows = [[{"a": a, "b": b, "bytes": [7, 8, 9]} for a, b in pairs] for _, pairs in cases]
    found = by_c(programs, rows, tmp_path)
    assert found == [by_arrays(program, own) for program, own in zip(programs, rows, strict=True)]
    assert found[0][:3] == [(0,), (-1,), (1,)], "halves are rounded up, whatever the sign"


def test_what_is_worked_out_never_takes_the_name_of_a_result() -> None:
    level = (nodes.given("a", 0, 9) + 1).called("red")
    assert "    const int32_t red2 = a + 1;\n    *red = red2;" in c_function(Program("f", (level,)), ("red",))


def test_what_is_compared_with_itself_is_printed_as_what_it_comes_to() -> None:
    a = nodes.given("a", 0, 99)
    for node, value in ((a.equals(a), 1), (a <= a, 1), (a < a, 0)):
        assert f"*result0 = {value};" in c_function(Program("f", (node,)))


def test_a_shift_into_the_sign_is_printed_as_what_it_is(tmp_path: Path) -> None:
    program = Program("f", (nodes.given("a", -1, 0) << 31,))
    assert by_c([program], [[{"a": -1}, {"a": 0}]], tmp_path) == [[(-(2**31),), (0,)]]


def test_what_fits_32_bits_is_not_put_as_more_and_names_are_told_apart() -> None:
    level, front = nodes.given("level", 0, ONE, Type.Q16), nodes.given("front", -99, 99)
    named = (level * sine(level)).called("level"), (front >> 2).called("behind") + front.mod(7)
    program = Program("f", named)
    text = c_function(program)
    assert text.splitlines()[2:] == [
        "    const int32_t level2 = kernel_share(kernel_sine(level & 65535), level);",
        "    const int32_t behind = kernel_down(front, 2);",
        "    *result0 = level2;",
        "    *result1 = behind + kernel_rest(front, 7);",
        "}",
    ]
    assert "int64" not in c_prelude([program], [text])
    wide = c_function(
        Program("f", (nodes.given("wide", -9 * ONE, ONE, Type.Q16) * nodes.given("q", -2 * ONE, ONE, Type.Q16),))
    )
    assert "int64" in c_prelude([], [wide])


@settings(  # a failure is told as it was found: to make it smaller would compile for minutes
    max_examples=3 * SOAK, deadline=None, suppress_health_check=list(HealthCheck), phases=[Phase.generate]
)
@given(data=st.data())
def test_printed_c_agrees_with_numpy(data: st.DataObject, tmp_path_factory: pytest.TempPathFactory) -> None:
    drawn = [data.draw(programs()) for _ in range(25)]
    both = [(program, rows_of(program, data.draw)) for program in drawn]
    both += [narrower(data.draw, program) for program in drawn]
    found = [Program(f"f{number}", program.results) for number, (program, _) in enumerate(both)]
    rows = [own for _, own in both]
    told = by_c(found, rows, tmp_path_factory.mktemp("c"))
    assert told == [by_arrays(program, own) for program, own in zip(found, rows, strict=True)]


def test_what_may_not_fit_is_refused_when_it_is_built_and_what_just_fits_is_not() -> None:
    most, one = nodes.given("most", 0, HIGH), constant(1)
    with pytest.raises(KernelError, match="cannot hold"):
        most + one
    assert (nodes.given("less", 0, HIGH - 1) + one).high == HIGH
    with pytest.raises(KernelError):
        nodes.given("wide", 0, 46341) * nodes.given("too", 0, 46341)
    assert (nodes.given("wide", 0, 46340) * nodes.given("too", 0, 46340)).high == 46340**2
    with pytest.raises(KernelError):
        most << 1
    with pytest.raises(KernelError):
        most.div(nodes.given("perhaps zero", 0, 5))
    with pytest.raises(KernelError):
        nodes.table("sine", table_values("sine"), nodes.given("at", 0, 257))
    with pytest.raises(KernelError):
        most + constant(1, Type.Q16)
    with pytest.raises(KernelError):
        constant(2**31)
    with pytest.raises(KernelError):
        constant(-1, Type.U32)


@pytest.mark.parametrize(("low", "high"), [(0, 13), (0, 26), (-13, 12), (-13, 13), (-26, 12), (-5000, 5000)])
def test_what_is_left_of_many_numbers_is_what_is_left_of_each(low: int, high: int) -> None:
    """Numbers within one turn, two, one below zero, and far beyond; all of them 13 and 26 among others."""
    numbers = np.resize(np.arange(low, high + 1), 6000)
    program = Program("rest", (nodes.given("of", -9000, 9000).mod(nodes.given("by", 1, 99)),))
    (found,) = evaluate(program, {"of": numbers, "by": 13})
    assert found.tolist() == [int(number) % 13 for number in numbers]
    assert found.dtype == np.int32


def test_what_a_known_switch_decides_against_is_left_out_and_nothing_else_changes() -> None:
    on, number = nodes.given("on", 0, 1), nodes.given("number", 0, 99)
    costly = cosine((number * number).seen_as(Type.Q16))
    program = Program("one", (select(on, number + 1, costly.floor()) * 2, select(number < 5, on, 3)))
    for value in (0, 1):
        smaller = decided(program, frozenset({("on", value)}))
        assert (len(smaller.tables) == 1) == (value == 0)
        assert [node.op for node in smaller.steps].count("select") == 1
        for many in (3, 9000):
            inputs = {"on": value, "number": np.resize(np.arange(100), many)}
            plain, short = (evaluate(each, {name: inputs[name] for name in {n.name for n in each.inputs}})
                            for each in (program, smaller))  # fmt: skip
            assert all(
                np.array_equal(np.broadcast_to(a, many), np.broadcast_to(b, many))
                for a, b in zip(plain, short, strict=True)
            )
    mixed = evaluate(program, {"on": np.array([0, 1, 1]), "number": np.array([9, 9, 3])})
    assert mixed[0].tolist()[1:] == [20, 8]
    assert mixed[1].tolist() == [3, 3, 1]
    assert decided(program, frozenset()).steps == program.steps


def test_overflow_is_what_it_is_said_to_be() -> None:
    word = nodes.given("word", 0, 2**32 - 1, Type.U32)
    wraps = Program("wraps", (word + 1, word * 3, word << 4))
    assert by_arrays(wraps, [{"word": 2**32 - 1}]) == [(0, 2**32 - 3, 2**32 - 16)]
    number = nodes.given("number", LOW, HIGH)
    held = Program("held", (muldiv(number, HIGH, 3), mulmod(number, -1, 7)))
    assert by_arrays(held, [{"number": LOW}, {"number": HIGH}]) == [(LOW, 2**31 % 7), (HIGH, -HIGH % 7)]


def test_an_input_outside_what_was_promised_is_refused_and_a_missing_one_too() -> None:
    program = Program("f", (nodes.given("a", 0, 5) + 1,))
    with pytest.raises(ValueError, match="0 to 5 is expected"):
        evaluate(program, {"a": 6})
    with pytest.raises(KeyError):
        evaluate(program, {})


def test_what_is_shared_is_worked_out_once_and_a_deep_program_is_no_trouble() -> None:
    deep = nodes.given("a", 0, 1)
    for _ in range(25):
        deep = deep + deep
    assert len(Program("deep", (deep,)).steps) == 26
    long = nodes.given("a", 0, 1)
    for _ in range(3000):
        long = long + 1
    assert evaluate(Program("long", (long,)), {"a": 1})[0] == 3001


def test_sine_and_lightness_are_near_the_functions_that_they_stand_for() -> None:
    angle = nodes.given("angle", -3 * ONE, 3 * ONE, Type.Q16)
    at = np.arange(-3 * ONE, 3 * ONE + 1, 97)
    sines, cosines = evaluate(Program("waves", (sine(angle), cosine(angle))), {"angle": at})
    assert np.abs(sines / ONE - np.sin(2 * np.pi * at / ONE)).max() < 1e-4
    assert np.abs(cosines / ONE - np.cos(2 * np.pi * at / ONE)).max() < 1e-4
    lightness = nodes.given("lightness", -ONE, 2 * ONE, Type.Q16)
    at = np.array([-5, 0, ONE // 2, ONE, 99_999])
    (light,) = evaluate(Program("light", (luminance_of(lightness),)), {"lightness": at})
    assert light.tolist()[0] == light.tolist()[1] == 0
    assert light[2] / ONE == pytest.approx(0.18419, abs=1e-4)
    assert light[3] == light[4] == ONE


def test_the_hash_spreads_and_does_not_repeat() -> None:
    words = [nodes.given(name, 0, 2**32 - 1, Type.U32) for name in ("seed", "slot", "tick")]
    program = Program("random", (hashed(*words),))
    slots, ticks = np.arange(256)[None], np.arange(256)[:, None]
    (found,) = evaluate(program, {"seed": 7, "slot": slots, "tick": ticks})
    assert len(np.unique(found)) > 65_500
    assert np.abs(found.mean() / 2**32 - 0.5) < 0.01
    assert np.abs(np.corrcoef((found & 255).ravel(), (found >> 24).ravel())[0, 1]) < 0.02
    (other,) = evaluate(program, {"seed": 8, "slot": slots, "tick": ticks})
    flipped = np.unpackbits((found ^ other).view(np.uint8)).mean()
    assert math.isclose(flipped, 0.5, abs_tol=0.01)
