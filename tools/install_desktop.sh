#!/usr/bin/env bash
# Puts the menu entry, the icon, the file type and the software-centre data in place: install_desktop.sh PREFIX
set -euo pipefail
cd "$(dirname "$0")/.."
share="${1:?the folder to install into, e.g. ~/.local}/share"
bin="$PWD/.venv/bin/tiny-lantern"
[ -x "$bin" ] || { echo "There is no $bin yet: run make setup first." >&2; exit 1; }
install -d "$share/applications" "$share/mime/packages" "$share/metainfo" "$share/icons/hicolor/scalable/apps"
sed "s|@BIN@|$bin|g" desktop/tiny-lantern.desktop >"$share/applications/tiny-lantern.desktop"
install -m 644 desktop/tiny-lantern-mime.xml "$share/mime/packages/tiny-lantern.xml"
install -m 644 desktop/app.tiny_lantern.TinyLantern.metainfo.xml "$share/metainfo/"
install -m 644 tiny_lantern/ui/assets/icons/lantern.svg "$share/icons/hicolor/scalable/apps/tiny-lantern.svg"
for refresh in "update-mime-database $share/mime" "update-desktop-database $share/applications"; do
    command -v "${refresh%% *}" >/dev/null 2>&1 && $refresh || true # where there is none, the desktop finds out itself
done
echo "Installed into $share."
