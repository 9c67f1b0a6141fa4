"""The menu entry, the file type, the icon and the software-centre data, installed into a folder."""

import configparser
import subprocess
import xml.etree.ElementTree as ET
from pathlib import Path

from tiny_lantern.model.store import SUFFIX

ROOT = Path(__file__).parents[1]
MIME = "{http://www.freedesktop.org/standards/shared-mime-info}"


def test_everything_a_desktop_needs_is_installed_and_agrees(tmp_path: Path) -> None:
    subprocess.run([ROOT / "tools" / "install_desktop.sh", tmp_path], check=True, capture_output=True)
    share = tmp_path / "share"
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str
    entry.read(share / "applications" / "tiny-lantern.desktop")
    said = entry["Desktop Entry"]
    program = said["Exec"].split()[0]
    assert Path(program).is_file()
    assert said["Exec"].split()[1:] == ["open", "%f"]
    assert (share / "icons/hicolor/scalable/apps" / f"{said['Icon']}.svg").read_text().lstrip().startswith("<svg")
    (kind,) = ET.parse(share / "mime/packages/tiny-lantern.xml").getroot()
    assert f"{kind.get('type')};" == said["MimeType"]
    assert kind.find(f"{MIME}glob").get("pattern") == f"*{SUFFIX}"
    about = ET.parse(next((share / "metainfo").iterdir())).getroot()
    assert about.findtext("launchable") == "tiny-lantern.desktop"
    assert about.findtext("provides/mediatype") == kind.get("type")


def test_without_the_program_nothing_is_installed(tmp_path: Path) -> None:
    (tmp_path / "tools").mkdir()
    script = tmp_path / "tools" / "install_desktop.sh"
    script.write_text((ROOT / "tools" / "install_desktop.sh").read_text())
    done = subprocess.run(["bash", script, tmp_path / "into"], check=False, capture_output=True, text=True)
    assert done.returncode == 1
    assert "run make setup first" in done.stderr
    assert not (tmp_path / "into").exists()
