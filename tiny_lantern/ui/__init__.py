"""The window: the only place that imports Qt.

The model, with the libraries that it stands on, comes first: Qt's binding reads the source of every module that is
imported after it, which makes those imports slower.
"""

import tiny_lantern.model.build
import tiny_lantern.show.weave  # noqa: F401
