"""The toolkit reads the source of every module imported after it, for a switch that nothing here uses: a tenth of the
start. This spares it the reading."""

from __future__ import annotations

import sys
from typing import Any


class KnownByName(dict[str, Any]):
    """What is known of modules by name, which seems to know of all."""

    def __contains__(self, name: object) -> bool:
        return True


def spare_the_reading() -> None:
    """Let the toolkit take every module for one that it has looked into; without effect where it keeps no such list."""
    feature = sys.modules.get("shibokensupport.feature")
    known = getattr(feature, "pyside_feature_dict", None)
    if feature is not None and isinstance(known, dict):
        feature.pyside_feature_dict = KnownByName(known)  # type: ignore[attr-defined]
