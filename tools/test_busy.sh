#!/usr/bin/env bash
# Every test beside four busy loops, as on a machine that has other things to do: nothing may depend on its speed.
set -euo pipefail
cd "$(dirname "$0")/.."

loops=""
trap 'kill $loops 2>/dev/null || true' EXIT
for _ in 1 2 3 4; do
    (while :; do :; done) &
    loops="$loops $!"
done
QT_QPA_PLATFORM=offscreen .venv/bin/python -m pytest -n 2 "$@"
