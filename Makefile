# Two commands do everything on a fresh machine: make demo, make test.
SHELL := bash
.SHELLFLAGS := -o pipefail -c
PYTHON ?= python3
VENV ?= .venv
BIN := $(VENV)/bin
PORT ?= 8760

.PHONY: demo test check bench bench-quick prepared attack shots figures scenes front lock clean

COMPILE := $(BIN)/pip-compile --quiet --generate-hashes --strip-extras --allow-unsafe --no-annotate --no-header --no-emit-index-url --no-emit-trusted-host --no-emit-find-links
PIP := $(BIN)/python -m pip --disable-pip-version-check

# What running needs. The lock has a digest of every file, so that nothing else can come in its place.
$(VENV)/.installed: requirements.lock pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Zesty Plum needs Python 3.11 or newer; $(PYTHON) is older. Try: make PYTHON=python3.11 $(MAKECMDGOALS)"; exit 1; }
	@echo "1 of 3: a Python environment in $(VENV)"
	@test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	@echo "2 of 3: the libraries, 210 MB to fetch; the list is in docs/libraries.md"
	@$(PIP) install --progress-bar off --only-binary :all: --require-hashes -r requirements.lock | sed -un 's/^Collecting \([^ ]*\).*/  \1/p'
	@$(PIP) install --quiet --no-deps --no-build-isolation --editable .
	@echo "3 of 3: compiling the program and the loops that develop pictures, once"
	@$(BIN)/python -m compileall -q zesty_plum
	@$(BIN)/python -c 'from zesty_plum.cli.warming import ready; ready()'
	@touch $@

# What tests and checks need on top.
$(VENV)/.equipped: $(VENV)/.installed requirements-dev.lock
	@echo "The tools of tests and checks"
	@$(PIP) install --progress-bar off --quiet --require-hashes -r requirements-dev.lock
	@touch $@

demo: $(VENV)/.installed
	$(BIN)/zesty-plum demo --port $(PORT)

test: $(VENV)/.equipped
	@./tools/outsiders.sh
	$(BIN)/python -m pytest tests/browser -n 2 --dist load
	$(BIN)/python -m pytest tests --ignore tests/browser -n 2 --dist loadfile

check: $(VENV)/.equipped
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	@./tools/front.sh --check

front:
	@./tools/front.sh

bench: $(VENV)/.equipped
	@./tools/outsiders.sh
	$(BIN)/python -W ignore -m benchmarks

bench-quick: $(VENV)/.equipped
	@./tools/outsiders.sh
	$(BIN)/python -W ignore -m benchmarks --quick

prepared: $(VENV)/.equipped
	$(BIN)/python -m tools.prepare
	$(BIN)/python -m tools.engine

attack: $(VENV)/.equipped
	$(BIN)/python -m tests.attack

shots: $(VENV)/.equipped
	@./tools/outsiders.sh
	$(BIN)/python -m tools.shots

figures: $(VENV)/.equipped
	$(BIN)/python -m tools.heart
	$(BIN)/python -m tools.dials
	$(BIN)/python -m tools.catalogue
	$(BIN)/python -m tools.taken
	$(BIN)/python -m tools.scenes
	$(BIN)/python -m tools.learning
	$(BIN)/python -m tools.speed
	$(BIN)/python -m tools.formats

scenes:
	test -x scenes/work/venv/bin/python || $(PYTHON) -m venv scenes/work/venv
	scenes/work/venv/bin/python -m pip install --quiet -r scenes/requirements.txt
	scenes/work/venv/bin/python -m scenes

lock: $(VENV)/.equipped
	$(COMPILE) --extra setup --output-file requirements.lock pyproject.toml
	$(COMPILE) --extra dev --extra setup --constraint requirements.lock --output-file requirements-dev.lock pyproject.toml

clean:
	rm -rf $(VENV) node_modules data
