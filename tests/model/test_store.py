"""Files: exact round trips, and one clear message with the place for anything that is not a build."""

import json
import time
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import builds, one_strip
from tiny_lantern.model import store
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.schema import schema_text
from tiny_lantern.model.store import dumps, from_dict, load, loads, save

ROOT = Path(__file__).parents[2]


def changed(**changes: object) -> str:
    """A good file with one thing wrong in its first strip."""
    data = json.loads(dumps(one_strip()))
    data["strips"][0].update(changes)
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

    monkeypatch.setattr(store.os, "replace", full)
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
    assert refusal("PK\x03\x04 not json").what.startswith("not JSON")


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
        ({"pixel_count": 10**15}, "strips[0].pixel_count"), ({"pitch_m": 1e300}, "strips[0].pitch_m"),
        ({"pitch_m": float("nan")}, "strips[0].pitch_m"), ({"pitch_m": float("inf")}, "strips[0].pitch_m"),
        ({"pitch_m": "0.5"}, "strips[0].pitch_m"), ({"pitch_m": True}, "strips[0].pitch_m"),
        ({"pixel_count": 12.0}, "strips[0].pixel_count"), ({"name": 5}, "strips[0].name"),
        ({"part_id": "no-such-part"}, "strips[0].part_id"), ({"colour_order": "RRB"}, "strips[0].colour_order"),
        ({"id": "Has Spaces"}, "strips[0].id"), ({"cuts": [999]}, "strips[0].cuts"),
        ({"surprise": 1}, "strips[0].surprise"),
        ({"layout": {"shape": "spiral"}}, "strips[0].layout"), ({"pixel_count": "many"}, "strips[0].pixel_count"),
    ],
)  # fmt: skip
def test_a_bad_value_is_named_by_its_place(changes: dict, place: str) -> None:
    assert place in refusal(changed(**changes)).where


def test_a_number_of_ten_thousand_digits_is_refused() -> None:
    text = dumps(one_strip()).replace('"pixel_count": 60', f'"pixel_count": {"9" * 10_000}')
    assert "digits" in refusal(text).what


def test_an_id_used_twice_names_both_places() -> None:
    data = json.loads(dumps(one_strip()))
    data["strips"].append(data["strips"][0])
    error = refusal(json.dumps(data))
    assert "strips[1].id" in error.where
    assert "strips[0].id" in error.what


def test_a_feed_to_nowhere_names_the_reference() -> None:
    data = json.loads(dumps(one_strip()))
    data["feeds"][0]["supply_id"] = "gone"
    assert "feeds[0].supply_id" in refusal(json.dumps(data)).where


def test_a_field_given_twice_is_refused() -> None:
    assert "twice" in refusal('{"format": "tiny-lantern-build", "version": 1, "version": 1}').what


def test_brackets_without_end_are_refused() -> None:
    assert refusal("[" * 200_000)


def test_a_hundred_megabyte_file_is_refused_within_a_second(tmp_path: Path) -> None:
    path = tmp_path / "huge.lantern"
    with path.open("wb") as file:
        file.truncate(100_000_000)
    start = time.monotonic()
    with pytest.raises(LanternError, match="100 MB"):
        load(path)
    assert time.monotonic() - start < 1


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
    renamed = {0: lambda old: {**{k: v for k, v in old.items() if k != "title"}, "name": old["title"]}}
    assert from_dict(data, "old", renamed) == one_strip()
    with pytest.raises(LanternError, match="never in use"):
        from_dict({**data, "version": -1}, "old", renamed)


def test_the_schema_in_the_docs_is_the_models_own() -> None:
    assert (ROOT / "docs" / "lantern.schema.json").read_text(encoding="utf-8") == schema_text()
