#!/usr/bin/env bash
# Builds the wheel, installs it by itself into a folder, and judges the demo from there with no source in reach.
set -euo pipefail
cd "$(dirname "$0")/.."
root=$PWD
place=$(mktemp -d)
trap 'rm -rf "$place"' EXIT
.venv/bin/python -m pip wheel -q --disable-pip-version-check --no-deps -w "$place" .
.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --target "$place/site" "$place"/*.whl
cd "$place"
export PYTHONPATH="$place/site" QT_QPA_PLATFORM=offscreen HOME="$place"
"$root/.venv/bin/python" -P - "$place" <<'PY'
import sys
from pathlib import Path
import tiny_lantern
here = Path(tiny_lantern.__file__).parent
assert here.is_relative_to(sys.argv[1]), here
assert (here / "py.typed").is_file()
PY
# The pier has snags on purpose, so its check ends with 1; what counts here is that it is judged.
judged=$("$root/.venv/bin/python" -P -m tiny_lantern.cli check site/tiny_lantern/demo/pier.lantern || [ $? -eq 1 ])
grep -q "Enable of Signal panel is not wired" <<<"$judged"
"$root/.venv/bin/python" -P -m tiny_lantern.cli open --demo pier --quit-after-paint
echo "The wheel works by itself."
