"""Files: exact round trips, and one clear message with the place for anything that is not a build."""

import json
import os
import re
import subprocess
import sys
import tracemalloc
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import BaseModel

from tests.support.builds import builds, one_strip
from tiny_lantern.model import disk
from tiny_lantern.model.base import Frozen, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.schema import schema_text
from tiny_lantern.model.store import dumps, from_dict, load, loads, save

ROOT = Path(__file__).parents[2]


def changed(**changes: object) -> str:
    """A good file with one thing wrong in its first strip."""
    data = json.loads(dumps(one_strip()))
    data["pieces"][0].update(changes)
    return json.dumps(data)


def refusal(text: str) -> LanternError:
    """What reading a text is refused with."""
    with pytest.raises(LanternError) as caught:
        loads(text, "pier.lantern")
    assert "\n" not in caught.value.sentence()
    return caught.value


@given(builds())
def test_a_build_comes_back_from_a_file_exactly(build: Build) -> None:
    assert loads(dumps(build)) == build
    assert dumps(loads(dumps(build))) == dumps(build)


def test_saving_replaces_the_file_whole_and_leaves_nothing_beside_it(tmp_path: Path) -> None:
    path = tmp_path / "pier.lantern"
    save(one_strip(10), path)
    save(one_strip(20), path)
    assert load(path).strips[0].pixel_count == 20
    assert [entry.name for entry in tmp_path.iterdir()] == ["pier.lantern"]


def test_a_save_that_fails_keeps_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "pier.lantern"
    save(one_strip(10), path)

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(disk.os, "replace", full)
    with pytest.raises(LanternError, match="No space left"):
        save(one_strip(20), path)
    assert load(path).strips[0].pixel_count == 10
    assert len(list(tmp_path.iterdir())) == 1


def test_a_truncated_file_says_where_it_ends() -> None:
    error = refusal(dumps(one_strip())[:-200])
    assert "line" in error.where
    assert "ends too early" in error.what or "not JSON" in error.what


def test_a_foreign_file_is_not_a_build() -> None:
    assert "not a Tiny Lantern build" in refusal('{"format": "something-else", "version": 1}').what
    assert "not a Tiny Lantern build" in refusal("[1, 2]").what
    assert "not JSON" in refusal("PK\x03\x04 not json").what


@pytest.mark.parametrize("sign", ["\\ud800", "\\u0007", "\\u202e"])
def test_a_character_without_a_shape_is_spelled_out_in_the_refusal(sign: str) -> None:
    told = refusal(f'{{"x{sign}": 1, "x{sign}": 2}}').sentence()
    assert told.isprintable()
    assert "x\\" in told


def test_a_newer_version_asks_for_a_newer_program() -> None:
    error = refusal('{"format": "tiny-lantern-build", "version": 99}')
    assert "newer" in error.what
    assert error.where.endswith("version")


@pytest.mark.parametrize("version", ['"1"', "null", "true", "1.5"])
def test_a_version_that_is_no_whole_number_is_refused(version: str) -> None:
    assert "version" in refusal(f'{{"format": "tiny-lantern-build", "version": {version}}}').where


@pytest.mark.parametrize(
    ("changes", "place"),
    [
        ({"pixel_count": 10**15}, "pieces[0].pixel_count"), ({"pitch_m": 1e300}, "pieces[0].pitch_m"),
        ({"pitch_m": float("nan")}, "pieces[0].pitch_m"), ({"pitch_m": float("inf")}, "pieces[0].pitch_m"),
        ({"pitch_m": "0.5"}, "pieces[0].pitch_m"), ({"pitch_m": True}, "pieces[0].pitch_m"),
        ({"pixel_count": 12.0}, "pieces[0].pixel_count"), ({"name": 5}, "pieces[0].name"),
        ({"part_id": "no-such-part"}, "pieces[0].part_id"), ({"colour_order": "RRB"}, "pieces[0].colour_order"),
        ({"id": "Has Spaces"}, "pieces[0].id"), ({"cuts": [999]}, "pieces[0].cuts"),
        ({"surprise": 1}, "pieces[0].surprise"),
        ({"layout": {"shape": "spiral"}}, "pieces[0].layout"), ({"pixel_count": "many"}, "pieces[0].pixel_count"),
    ],
)  # fmt: skip
def test_a_bad_value_is_named_by_its_place(changes: dict, place: str) -> None:
    assert place in refusal(changed(**changes)).where


def test_a_number_of_ten_thousand_digits_is_refused() -> None:
    text = dumps(one_strip()).replace('"pixel_count": 60', f'"pixel_count": {"9" * 10_000}')
    assert "digits" in refusal(text).what


def test_an_id_used_twice_names_both_places() -> None:
    data = json.loads(dumps(one_strip()))
    data["pieces"].append(data["pieces"][0])
    error = refusal(json.dumps(data))
    assert "pieces[1].id" in error.where
    assert "pieces[0].id" in error.what


def test_a_feed_to_nowhere_names_the_reference() -> None:
    data = json.loads(dumps(one_strip()))
    data["feeds"][0]["supply_id"] = "gone"
    assert "feeds[0].supply_id" in refusal(json.dumps(data)).where


def test_a_field_given_twice_is_refused() -> None:
    assert "twice" in refusal('{"format": "tiny-lantern-build", "version": 1, "version": 1}').what


def test_brackets_without_end_are_refused() -> None:
    assert refusal("[" * 200_000)


def test_a_hundred_megabyte_file_is_refused_without_being_read(tmp_path: Path) -> None:
    path = tmp_path / "huge.lantern"
    with path.open("wb") as file:
        file.truncate(100_000_000)
    tracemalloc.start()
    with pytest.raises(LanternError, match="100 MB"):
        load(path)
    _, most_bytes = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert most_bytes < 1_000_000


def hostile(kind: str, folder: Path) -> Path:
    """A file made to hang, fill the memory or blow the stack."""
    path = folder / "hostile.lantern"
    head = '{"format": "tiny-lantern-build", "version": 1'
    wire = '{{"id": "w{}", "name": "w", "area_mm2": 1,"ohm_per_m": 1, "limit_a": 1}}'.format
    cuts = f'"cuts": {list(range(1, 9000))}'
    texts: dict[str, Callable[[], str]] = {
        "zeros": lambda: "0" * 16_000_000,
        "list-of-zeros": lambda: f'{head}, "pieces": [{"0," * 8_000_000}0]}}',
        "nul": lambda: "\0" * 16_000_000,
        "deep": lambda: "[" * 1_000_000,
        "double-key": lambda: "{" + ",".join(f'"k{n}": 1' for n in range(20_000)) + ', "k7": 2}',
        "unknown-keys": lambda: "{" + ",".join(f'"k{n}": 1' for n in range(1_200_000)) + "}",
        "wires": lambda: f'{head}, "parts": {{"wires": [{",".join(map(wire, range(100_000)))}]}}}}',
        "many-cuts": lambda: dumps(one_strip(50_000)).replace('"cuts": []', cuts),
    }
    if kind == "fifo":
        os.mkfifo(path)
    elif kind == "device":
        path.symlink_to("/dev/zero")
    else:
        path.write_text(texts[kind]())
    return path


READER = """
import os, sys, time
from pathlib import Path
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import load
for line in sys.stdin:
    if child := os.fork():
        os.waitpid(child, 0)
        continue
    length, began = 0, time.process_time()
    try: load(Path(line[:-1]))
    except LanternError as error: length = len(error.sentence())
    peak = next(line for line in open('/proc/self/status') if line.startswith('VmHWM'))
    print(length, time.process_time() - began, int(peak.split()[1]) / 1000, flush=True)
    os._exit(0)
"""


@pytest.fixture(scope="module")
def reader() -> Iterator[subprocess.Popen[str]]:
    """A program that tells of each path it is given, read in a process of its own: the length of the refusal, seconds,
    megabytes."""
    command = [sys.executable, "-c", READER]
    with subprocess.Popen(command, cwd=ROOT, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as program:
        yield program
        program.kill()


@pytest.mark.parametrize(
    "kind",
    ["fifo", "device", "zeros", "list-of-zeros", "nul", "deep", "double-key", "unknown-keys", "wires", "many-cuts"],
)
def test_a_hostile_file_is_refused_within_a_second_and_300_megabytes(
    reader: subprocess.Popen[str], tmp_path: Path, kind: str
) -> None:
    reader.stdin.write(f"{hostile(kind, tmp_path)}\n")
    reader.stdin.flush()
    length, seconds, megabytes = map(float, reader.stdout.readline().split())
    assert 0 < length <= 200
    assert seconds < 1
    assert megabytes < 300


@pytest.mark.parametrize(
    ("field", "text"),
    [("name", "a\0b"), ("name", "a\nb"), ("name", "a\x1b[2J"), ("name", "a\u2028b"), ("notes", "a\x07")]
    + [(field, f"a{sign}b") for field in ("name", "notes") for sign in "\u061c\u200f\u202e\u2066"],
)
def test_control_characters_are_refused_in_the_file_and_at_the_field(field: str, text: str) -> None:
    data = {**json.loads(dumps(one_strip())), field: text}
    assert field in refusal(json.dumps(data)).where
    with pytest.raises(LanternError, match=field):
        revise(one_strip(), **{field: text})
    assert loads(json.dumps({**data, field: "Brücke “ü” 蛍 🏮"})).model_dump()[field] == "Brücke “ü” 蛍 🏮"
    revise(one_strip(), notes="two\nlines\tand a tab")


def test_what_each_list_allows_but_all_together_do_not_is_refused() -> None:
    strip = one_strip(50_000).strips[0]
    build = one_strip(3)
    many = tuple(revise(strip, id=f"s-{n}") for n in range(3))
    with pytest.raises(LanternError, match="150,000 lights together"):
        revise(build, pieces=many, feeds=())
    data = json.loads(dumps(revise(build, feeds=())))
    data["pieces"] = [{**data["pieces"][0], "id": f"s-{n}", "pixel_count": 50_000} for n in range(3)]
    assert "100,000" in refusal(json.dumps(data)).accepted


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"pixel_count": 0}, "at least 1"), ({"pixel_count": "many"}, "a whole number is wanted"),
        ({"surprise": 1}, "not known here"), ({"pitch_m": 99}, "at most 10"), ({"name": ""}, "empty"),
        ({"layout": {"shape": "spiral"}}, "not known here"), ({"layout": 7}, "fields is wanted"),
        ({"cuts": 7}, "a list is wanted"), ({"name": "x" * 5000}, "longer than 120"),
    ],
)  # fmt: skip
def test_a_fault_is_told_in_the_reader_s_words(changes: dict, words: str) -> None:
    sentence = refusal(changed(**changes)).sentence()
    assert words in sentence
    assert len(sentence) <= 200
    assert not re.search(r"input|valid|pydantic|instance|dictionary|tuple|literal|tagged", sentence, re.IGNORECASE)


def test_a_link_stays_a_link_and_a_read_only_file_is_not_written(tmp_path: Path) -> None:
    real = tmp_path / "real" / "pier.lantern"
    real.parent.mkdir()
    save(one_strip(10), real)
    link = tmp_path / "link.lantern"
    link.symlink_to(real)
    save(one_strip(20), link)
    assert link.is_symlink()
    assert load(real).strips[0].pixel_count == 20
    real.chmod(0o444)
    with pytest.raises(LanternError, match="read-only"):
        save(one_strip(30), link)
    assert load(real).strips[0].pixel_count == 20
    ring = tmp_path / "ring"
    ring.symlink_to(ring)
    with pytest.raises(LanternError):
        save(one_strip(), ring)


def test_a_name_of_255_bytes_is_written_and_a_longer_one_told(tmp_path: Path) -> None:
    longest = tmp_path / f"{'n' * 247}.lantern"
    save(one_strip(9), longest)
    assert load(longest) == one_strip(9)
    with pytest.raises(LanternError, match="too long"):
        save(one_strip(), tmp_path / f"{'n' * 248}.lantern")


@given(st.text(min_size=1, max_size=200))
def test_any_name_makes_a_short_file_name(name: str) -> None:
    made = disk.short_name(name)
    assert 0 < len(made.encode("utf-8", "surrogatepass")) <= 120
    assert not set(made) & set("/\\\0\n")


def test_bytes_that_are_no_text_are_refused(tmp_path: Path) -> None:
    path = tmp_path / "noise.lantern"
    path.write_bytes(b"\xff\xfe\x00\x80")
    with pytest.raises(LanternError, match="UTF-8"):
        load(path)
    with pytest.raises(LanternError, match="cannot be read"):
        load(tmp_path / "missing.lantern")


@given(st.text(max_size=60))
def test_no_text_whatever_is_read_with_a_traceback(text: str) -> None:
    assert refusal(text)


def test_an_old_file_is_brought_up_step_by_step() -> None:
    data = json.loads(dumps(one_strip()))
    data["version"] = 0
    data["title"] = data.pop("name")
    renamed = {
        0: lambda old: {**{k: v for k, v in old.items() if k != "title"}, "headed": old["title"]},
        1: lambda old: {**{k: v for k, v in old.items() if k != "headed"}, "name": old["headed"]},
        2: lambda old: old,
    }
    assert from_dict(data, "old", renamed) == one_strip()
    with pytest.raises(LanternError, match="never in use"):
        from_dict({**data, "version": -1}, "old", renamed)


def test_the_schema_in_the_docs_is_the_models_own() -> None:
    assert (ROOT / "docs" / "lantern.schema.json").read_text(encoding="utf-8") == schema_text()


SHAPES = {
    "effects of nothing": ("effects", "{}", 300_000), "joints that are noughts": ("joints", "0", 990_000),
    "pieces of nothing": ("pieces", "{}", 300_000), "channels of nothing": ("channels", "{}", 399_000),
    "lists in lists": ("groups", "[[]]", 150_000), "parts that are none": ("parts", "null", 990_000),
    "texts": ("supplies", '"a"', 990_000), "too many objects": ("effects", "{}", 4_000_000),
    "too many lists": ("boards", "[]", 4_000_000), "too many values": ("feeds", "1", 9_000_000),
}  # fmt: skip
LOOK = """
import resource, sys
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import loads
field, item, count = sys.argv[1], sys.argv[2], int(sys.argv[3])
text = '{"format": "tiny-lantern-build", "version": 2, "%s": [%s]}' % (field, ",".join([item] * count))
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
try:
    loads(text, "file")
except LanternError as error:
    print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before, error)
"""


@pytest.mark.parametrize("shape", SHAPES)
def test_a_file_of_very_many_faults_costs_little_and_tells_the_first(shape: str) -> None:
    arguments = [str(each) for each in SHAPES[shape]]
    done = subprocess.run([sys.executable, "-c", LOOK, *arguments], capture_output=True, text=True, check=True)
    kilobytes, told = done.stdout.split(" ", 1)
    assert int(kilobytes) < 300_000
    more = re.search(r"\(and (\d+) more\)", told)
    assert more is None or int(more[1]) < 10
    assert f"{SHAPES[shape][0]}[0]" in told or "a build of at most" in told


def test_every_list_of_a_build_has_a_limit() -> None:
    def kinds(of: type[BaseModel]) -> set[type[BaseModel]]:
        return {of}.union(*(kinds(kind) for kind in of.__subclasses__()))

    bare = []
    for kind in kinds(Frozen):
        for name, schema in kind.model_json_schema().get("properties", {}).items():
            for one in (schema, *schema.get("anyOf", ())):
                if one.get("type") == "array" and "maxItems" not in one:
                    bare.append(f"{kind.__name__}.{name}")
    assert bare == []
