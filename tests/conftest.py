"""Settings for every test: a fixed hypothesis profile, and Qt without a screen."""

from __future__ import annotations

import os

from hypothesis import HealthCheck, settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
settings.register_profile("house", deadline=None, max_examples=40, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("house")
