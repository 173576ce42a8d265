# make demo: set up, lay out the demo, serve it.   make test: every check and every test; make fast: the quick ones.
PYTHON ?= $(shell command -v python3.11 || command -v python3)
PORT ?= 8000
DATA ?= .data
VENV := .venv
BIN := $(VENV)/bin

# Python that may keep what it compiled starts every server and worker of a test twice as fast.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo test explore fast check format browser others clean
demo: $(VENV)/run.done
	$(BIN)/oak-ledge demo --data $(DATA) --port $(PORT)

# Everything but browsers, processes of our own and long comparisons: for while one works.
fast: $(VENV)/test.done
	$(BIN)/pytest -n 2 --dist worksteal -m "not browser and not process and not thorough" -p no:schemathesis --ignore tests/web/test_described.py

# A process more than two cores: tests with browsers and servers wait for them half of their time.
test: check browser
	$(BIN)/pytest -n 3 --dist worksteal

# New examples and another order, and many more of them, than those that `make test` draws everywhere.
explore: $(VENV)/test.done
	EXPLORE=1 $(BIN)/pytest -n 2 --dist worksteal --randomly-seed=random \
	  -m "not browser and not process"

check: $(VENV)/test.done
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

format: $(VENV)/test.done
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .

# Redis, for the one test of a shared queue, and unzip, which looks into our archives, come from the
# same place; without them those tests say so.
others:
	@command -v redis-server >/dev/null && command -v unzip >/dev/null || { \
	  S=$$(test "$$(id -u)" = 0 || echo sudo); \
	  $$S apt-get update -qq && $$S apt-get install -y -qq --no-install-recommends redis-server unzip || true; }

# Chromium and its driver come from Debian's packages, where they are missing.
browser: others
	@command -v chromium >/dev/null && command -v chromedriver >/dev/null || { \
	  S=$$(test "$$(id -u)" = 0 || echo sudo); \
	  $$S apt-get update -qq && $$S apt-get install -y -qq --no-install-recommends chromium chromium-driver; }

$(VENV)/run.done: pyproject.toml requirements.txt
	$(PYTHON) -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11) and "Oak Ledge needs Python 3.11; say which with PYTHON=…")'
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install -q --disable-pip-version-check -c requirements.txt -e .
	touch $@

$(VENV)/test.done: $(VENV)/run.done
	$(BIN)/python -m pip install -q --disable-pip-version-check -c requirements.txt -e '.[dev]'
	touch $@

clean:
	rm -rf $(VENV) .data
