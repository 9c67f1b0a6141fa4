.PHONY: install-desktop wheel demo run setup test test-busy soak lint shots bench mutants

setup:
	@tools/setup.sh

demo: setup
	@.venv/bin/tiny-lantern open --demo pier

run: setup
	@.venv/bin/tiny-lantern open

test: setup
	@QT_QPA_PLATFORM=offscreen .venv/bin/python -m pytest -n 2

test-busy: setup
	@tools/test_busy.sh

soak: setup
	@QT_QPA_PLATFORM=offscreen LANTERN_SOAK=20 .venv/bin/python -m pytest -n 2
	@QT_QPA_PLATFORM=offscreen .venv/bin/python tests/soak/kills.py

lint: setup
	@.venv/bin/ruff check . && .venv/bin/ruff format --check . && .venv/bin/mypy

shots: setup
	@.venv/bin/tiny-lantern shots docs/screenshots

install-desktop: setup
	@tools/install_desktop.sh "$(or $(PREFIX),$(HOME)/.local)"

wheel: setup
	@tools/wheel_smoke.sh

mutants: setup
	@QT_QPA_PLATFORM=offscreen .venv/bin/python tools/mutants.py $(MODULE) $(if $(TESTS),--tests $(TESTS)) --most $(or $(MOST),10000)

bench: setup
	@export OPENBLAS_NUM_THREADS=1; for script in power circuit verdict plans effects weave drag pieces big startup; do .venv/bin/python benchmarks/$$script.py; done
