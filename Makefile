# Two commands do everything on a fresh machine: make demo, make test.
PYTHON ?= python3
VENV ?= .venv
BIN := $(VENV)/bin
PORT ?= 8760

.PHONY: demo test check bench shots figures scenes css lock clean

$(VENV)/.installed: requirements.lock pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Zesty Plum needs Python 3.11 or newer; $(PYTHON) is older. Try: make PYTHON=python3.11 $(MAKECMDGOALS)"; exit 1; }
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps -e .
	$(BIN)/python -c 'from zesty_plum.cli.serving import ready; ready()'
	touch $@

demo: $(VENV)/.installed
	$(BIN)/zesty-plum demo --port $(PORT)

test: $(VENV)/.installed
	@./tools/outsiders.sh
	$(BIN)/python -m pytest

check: $(VENV)/.installed
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	@./tools/stylesheet.sh --check

css:
	@./tools/stylesheet.sh

bench: $(VENV)/.installed
	@./tools/outsiders.sh
	$(BIN)/python -m benchmarks

shots: $(VENV)/.installed
	@./tools/outsiders.sh
	$(BIN)/python -m tools.shots

figures: $(VENV)/.installed
	$(BIN)/python tools/heart.py
	$(BIN)/python tools/scenes.py

scenes:
	test -x scenes/work/venv/bin/python || $(PYTHON) -m venv scenes/work/venv
	scenes/work/venv/bin/python -m pip install --quiet -r scenes/requirements.txt
	scenes/work/venv/bin/python -m scenes

lock: $(VENV)/.installed
	$(BIN)/pip-compile --quiet --extra dev --strip-extras --allow-unsafe --no-emit-index-url --no-emit-trusted-host --no-emit-find-links -o requirements.lock pyproject.toml

clean:
	rm -rf $(VENV) node_modules data
