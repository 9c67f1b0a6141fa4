"""The command line, in its own process where the exit status matters."""

import json
import os
import re
import subprocess
import sys
from importlib import resources
from pathlib import Path

import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import driven, lit
from tiny_lantern.cli import load_from_text, main
from tiny_lantern.model.build import Build, ColourLoad, FrameLoad, FullWhite, LevelLoad
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_power import set_fuse, set_length
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import load, save
from tiny_lantern.ui.files import demo_build


@pytest.fixture
def bridge(tmp_path: Path) -> Path:
    """The footbridge as a file."""
    save(demo_build("footbridge"), tmp_path / "bridge.lantern")
    return tmp_path / "bridge.lantern"


@pytest.fixture
def small(tmp_path: Path) -> Path:
    """A small sound build as a file."""
    build = one_strip(40)
    save(build.model_copy(update={"show_s": 0.5}), tmp_path / "small.lantern")
    return tmp_path / "small.lantern"


def test_solve_prints_each_strip_feed_and_supply(bridge: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["solve", str(bridge)]) == 0
    text = capsys.readouterr().out
    assert "West rail: lowest 2.60 V at pixel 215" in text
    assert "Feed B: 5.49 A out" in text
    assert "Bank box: 10.98 A at 4.97 V" in text
    assert "approximate" not in text


def test_solve_gives_every_pixel_as_json(bridge: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["solve", str(bridge), "--load", "level:20%", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert len(data["strips"][0]["pixel_v"]) == 216
    power = data["power_w"]
    assert power.pop("sources") == pytest.approx(sum(power.values()), abs=1e-6)


def test_check_exits_with_one_on_danger_and_zero_when_sound(
    bridge: Path, small: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["check", str(bridge), "--json"]) == 1
    findings = json.loads(capsys.readouterr().out)
    assert findings[0]["severity"] == "danger"
    assert {"code", "place", "message", "working", "fix"} <= set(findings[0])
    main(["feeds", str(small), "--guard-shorts", "--apply", str(small)])
    assert main(["check", str(small)]) == 0
    assert "findings" in capsys.readouterr().out


def test_feeds_writes_a_build_that_passes_its_limits(bridge: Path, tmp_path: Path) -> None:
    out = tmp_path / "mended.lantern"
    assert main(["feeds", str(bridge), "--strip", "West rail", "--apply", str(out)]) == 0
    assert len(load(out).feeds) == 3
    assert load(bridge) == demo_build("footbridge")


@pytest.mark.parametrize("name", ["sheet.html", "sheet.csv"])
def test_sheets_are_written(small: Path, tmp_path: Path, name: str) -> None:
    assert main(["sheet", str(small), "-o", str(tmp_path / name)]) == 0
    assert (tmp_path / name).stat().st_size > 100


@pytest.mark.parametrize("name", ["show.gif", "show.png", "show.csv"])
def test_shows_are_rendered(small: Path, tmp_path: Path, name: str) -> None:
    assert main(["render", str(small), "-o", str(tmp_path / name), "--at", "0:00.2", "--width", "160"]) == 0
    assert (tmp_path / name).stat().st_size > 100


@pytest.mark.parametrize(
    ("language", "names"), [("c", ["lantern.h", "lantern_board.c"]), ("python", ["lantern_board.py"])]
)
def test_code_is_written_into_a_folder(small: Path, tmp_path: Path, language: str, names: list[str]) -> None:
    folder = tmp_path / "new" / "code"
    assert main(["code", str(small), "-o", str(folder)]) == 2, "without an effect there is no show"
    save(lit(load(small)), small)
    assert main(["code", str(small), "-o", str(folder), "--language", language]) == 0
    assert sorted(path.name for path in folder.iterdir()) == names


def test_a_folder_that_cannot_be_made_is_told(small: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    save(lit(load(small)), small)
    (tmp_path / "file").write_text("")
    assert main(["code", str(small), "-o", str(tmp_path / "file" / "code")]) == 2
    assert "cannot be made" in capsys.readouterr().err


def test_a_pdf_is_made_with_no_display_at_all(small: Path, tmp_path: Path) -> None:
    done = run_alone("sheet", str(small), "-o", str(tmp_path / "sheet.pdf"))
    assert done.returncode == 0, done.stderr
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")


def test_a_window_without_a_screen_is_refused_in_words() -> None:
    done = run_alone("open")
    assert done.returncode == 2
    assert "there is no screen here" in done.stderr
    assert "Traceback" not in done.stderr


def run_alone(*arguments: str) -> subprocess.CompletedProcess[str]:
    """The command in a process of its own, without any display."""
    environment = {"PATH": "/usr/bin:/bin", "HOME": "/tmp"}
    command = [sys.executable, "-m", "tiny_lantern.cli", *arguments]
    return subprocess.run(
        command, capture_output=True, text=True, env=environment, cwd=Path(__file__).parents[1], check=False
    )


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["solve", "nowhere.lantern"], "cannot be read"),
        (["solve", "{file}", "--load", "purple"], "is no load"),
        (["solve", "{file}", "--load", "level:lots"], "not understood"),
        (["solve", "{file}", "--load", "colour:#12"], "--load"),
        (["sheet", "{file}", "-o", "x.docx"], ".pdf, .html, .csv"),
        (["render", "{file}", "-o", "x.gif", "--width", "5"], "16 to 4096"),
        (["feeds", "{file}", "--strip", "Nobody"], "no strip is called"),
        (["feeds", "{empty}"], "there is nothing to feed yet"),
    ],
)
def test_wrong_input_gets_one_clear_message(
    arguments: list[str], words: str, small: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    empty = small.with_name("empty.lantern")
    save(Build(), empty)
    assert main([part.format(file=small, empty=empty) for part in arguments]) == 2
    told = capsys.readouterr().err
    assert words in told
    assert told.count("\n") == 1


def test_loads_are_named_as_the_help_says() -> None:
    build = demo_build("footbridge")
    assert load_from_text(build, "full-white") == FullWhite()
    assert load_from_text(build, "level:0.25") == LevelLoad(level=0.25)
    assert load_from_text(build, "colour:#FF8800") == ColourLoad(colour="#ff8800")
    assert load_from_text(build, "frame:0:12") == FrameLoad(time_s=12)
    assert load_from_text(build, "Amber") == ColourLoad(colour="#ffb648")
    with pytest.raises(LanternError):
        load_from_text(build, "level:9")


def test_a_schematic_is_drawn_by_name_and_a_wrong_name_lists_what_can_be(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path, out = tmp_path / "one.lantern", tmp_path / "one.svg"
    save(driven("switch"), path)
    assert main(["schematic", str(path), "--of", "Board", "-o", str(out)]) == 0
    assert "Lamps transistor 4" in out.read_text(encoding="utf-8")
    assert main(["schematic", str(path), "--of", "Bored", "-o", str(tmp_path / "two.svg")]) == 2
    assert "Lamps, behind a transistor; Board;" in capsys.readouterr().err
    assert not (tmp_path / "two.svg").exists()
    assert main(["schematic", str(path), "--of", "Board", "-o", str(tmp_path / "two.gif")]) == 2


def test_help_names_every_command(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        main(["--help"])
    text = capsys.readouterr().out
    assert all(name in text for name in ("solve", "check", "sheet", "schematic", "render", "feeds", "shots", "open"))


def test_check_and_solve_say_the_same_of_what_cannot_be_solved(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "bare.lantern"
    save(set_length(set_fuse(one_strip(), "feed", None), "feed", 0.0), path)
    assert main(["check", str(path)]) == 1
    assert "no resistance at all" in capsys.readouterr().out
    assert main(["solve", str(path)]) == 2
    assert "no resistance at all" in capsys.readouterr().err


def test_a_dark_strip_is_named_and_the_others_are_solved(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "dark.lantern"
    save(add_strip(one_strip(40), part("rgb-5v-60"), 9, "Far"), path)
    assert main(["solve", str(path)]) == 1
    text = capsys.readouterr().out
    assert "“Far” has no feed: dark" in text
    assert "Strip: lowest 4." in text
    assert main(["solve", str(path), "--json"]) == 1
    assert json.loads(capsys.readouterr().out)["dark"] == ["“Far” has no feed", "“Far” has no way back to the supply"]
    assert main(["check", str(path)]) == 1


@pytest.mark.parametrize("locale", [{"LC_ALL": "C", "PYTHONUTF8": "0"}, {"PYTHONIOENCODING": "ascii"}])
def test_a_terminal_that_knows_only_ascii_gets_output(bridge: Path, locale: dict[str, str]) -> None:
    environment = {**os.environ, "PYTHONCOERCECLOCALE": "0", **locale}
    command = [sys.executable, "-m", "tiny_lantern.cli", "check", str(bridge)]
    done = subprocess.run(command, env=environment, capture_output=True, check=False)
    assert done.returncode == 1
    assert b"danger" in done.stdout
    assert b"Traceback" not in done.stderr


def test_the_cost_of_an_export_is_said_before_it_starts(
    small: Path, tmp_path: Path, capsys: pytest.CaptureFixture
) -> None:
    assert main(["render", str(small), "-o", str(tmp_path / "frames.csv")]) == 0
    assert re.search(r"writing .*about \d+ kB, \d+ s", capsys.readouterr().err)
    rows = (tmp_path / "frames.csv").read_text().splitlines()
    assert len(rows) == 1 + 20


def test_guarding_shorts_is_more_than_feeding(bridge: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    plain, guarded = tmp_path / "plain.lantern", tmp_path / "guarded.lantern"
    main(["feeds", str(bridge), "--apply", str(plain)])
    main(["feeds", str(bridge), "--guard-shorts", "--apply", str(guarded)])
    codes = []
    for path in (plain, guarded):
        capsys.readouterr()
        main(["check", str(path), "--json"])
        codes.append({finding["code"] for finding in json.loads(capsys.readouterr().out)})
    assert "short-stands" in codes[0]
    assert "short-stands" not in codes[1]


def test_the_order_the_log_and_the_causes_of_the_bench_are_printed(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    cloak = tmp_path / "cloak.lantern"
    save(demo_build("cloak"), cloak)
    assert main(["bench", str(cloak)]) == 0
    order = capsys.readouterr().out
    assert "## Supply off" in order
    assert "- [x] Everything is unplugged" in order
    assert "- [ ] Strips red" in order
    assert main(["bench", str(cloak), "--log"]) == 0
    assert "Everything is unplugged" in capsys.readouterr().out
    assert main(["bench", str(cloak), "--why"]) == 0, "nothing is wrong with it"
    assert "Nothing is wrong" in capsys.readouterr().out.splitlines()[0]


def test_nothing_to_explain_is_told(small: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["bench", str(small), "--why"]) == 2
    assert "nothing to explain" in capsys.readouterr().err


def test_the_beats_of_a_song_are_printed_and_what_is_none_is_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    song = Path(str(resources.files("tiny_lantern"))) / "demo" / "harbour-waltz.flac"
    assert main(["beats", str(song)]) == 0
    told = capsys.readouterr()
    times = [float(line) for line in told.out.splitlines()]
    assert times[1] - times[0] == pytest.approx(60 / 108, abs=0.02)
    assert "108.0 beats a minute" in told.err
    (tmp_path / "x.wav").write_text("x")
    assert main(["beats", str(tmp_path / "x.wav")]) == 2
    assert "no sound can be read" in capsys.readouterr().err
