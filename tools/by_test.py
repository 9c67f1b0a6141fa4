"""A plugin of the test runner, for use under coverage: which test runs which line, and how long each takes."""

from __future__ import annotations

import json
import os
from collections import Counter
from collections.abc import Generator
from pathlib import Path

import pytest
from coverage import Coverage

SECONDS: Counter[str] = Counter()
FAILED: set[str] = set()


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Generator[None, None, None]:
    """Lay what runs from here on to the test."""
    coverage = Coverage.current()
    if coverage is not None:
        coverage.switch_context(item.nodeid)
    yield


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """Note how long it took, and whether it failed."""
    SECONDS[report.nodeid] += report.duration
    if report.failed:
        FAILED.add(report.nodeid)


def pytest_sessionfinish() -> None:
    """Write it down."""
    told = {"seconds": SECONDS, "failed": sorted(FAILED)}
    Path(os.environ["BY_TEST"]).write_text(json.dumps(told), encoding="utf-8")
