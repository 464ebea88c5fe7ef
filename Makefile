# make demo: install, build, serve the demo project. make test: install, build, run the tests; make test-all runs those
# as well that are marked thorough, before each hand-in.
PYTHON ?= python3
DATA ?= demo-data
PORT ?= 8765
BIN := .venv/bin
SOURCES := $(shell find frontend/src frontend/public -type f) frontend/index.html frontend/vite.config.ts frontend/vite.player.config.ts frontend/tsconfig.json
CORE := $(shell find mudskipper -name '*.py')

# Bytecode is kept wherever this runs: without it every process compiles all of Mudskipper again when it starts.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo serve test test-all search bench lint lint-python lint-page format types wheel build chromium clean

demo: build
	$(BIN)/mudskipper serve --demo --data $(DATA) --port $(PORT)

serve: build
	$(BIN)/mudskipper serve --port $(PORT)

TESTS := -m "not thorough"
test-all: TESTS :=
test-all: export MUDSKIPPER_THOROUGH := yes
test test-all: build .venv/.tested chromium
	cd frontend && npm run --silent test
	$(BIN)/python -m pytest -n 2 --dist loadfile --no-loadscope-reorder $(TESTS)

# Random searches with fresh seeds, round after round for so many minutes; what fails is printed with its seed.
MINUTES ?= 30
search: build .venv/.tested chromium
	$(BIN)/python scripts/search.py $(MINUTES)

bench: build .venv/.tested chromium
	$(BIN)/mudskipper bench

lint: lint-python lint-page

lint-python: .venv/.tested
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy

# The build has checked the types of the page.
lint-page: build
	cd frontend && npx biome check src

format: build .venv/.tested
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	cd frontend && npx biome check --write src

# A wheel with the page in it: whoever installs it needs no Node.
wheel: build
	rm -rf build/lib build/bdist.*
	$(BIN)/python -m pip wheel . --no-deps --quiet --disable-pip-version-check -w dist
	@ls dist/mudskipper-*.whl

# The types of the front end come from the server's OpenAPI document.
types: .venv/.installed frontend/node_modules/.installed
	$(BIN)/mudskipper openapi build/openapi.json
	$(BIN)/mudskipper wire frontend/src/api/wire.ts
	cd frontend && npm run --silent types

build: .venv/.installed mudskipper/web/static/index.html mudskipper/fonts/emoji.ttf

# What is imported is compiled then, and all the rest never: that takes half as long.
.venv/.installed: requirements.txt pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Mudskipper needs Python 3.11 or later; name one with make PYTHON=…"; exit 1; }
	$(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --no-compile --disable-pip-version-check -r requirements.txt
	$(BIN)/python -m pip install --quiet --no-compile --disable-pip-version-check --no-deps -e .
	touch $@

# What tests, the benchmark and the linters need; the application runs without it.
.venv/.tested: .venv/.installed requirements-test.txt
	$(BIN)/python -m pip install --quiet --no-compile --disable-pip-version-check -r requirements.txt -r requirements-test.txt
	touch $@

frontend/node_modules/.installed: frontend/package-lock.json frontend/package.json
	cd frontend && npm ci --no-audit --no-fund --loglevel=error
	touch $@

mudskipper/web/static/index.html: frontend/node_modules/.installed $(SOURCES)
	cd frontend && npm run --silent build -- --logLevel warn
	touch $@

# The font of emoji comes from npm, packed as pages want it.
mudskipper/fonts/emoji.ttf: .venv/.installed frontend/node_modules/.installed scripts/take_emoji.py
	$(BIN)/python scripts/take_emoji.py frontend/node_modules mudskipper/fonts

# The browser of the tests and of the benchmark, from Debian's packages: the engine alone, without the windows of a
# desktop, which took half of the time of every page. And the test files of Unicode's standards,
# and a font for lines that run down.
COLUMNS := /usr/share/fonts/truetype/vlgothic
UNICODE := /usr/share/unicode/BidiCharacterTest.txt
chromium:
	@command -v chromium-headless-shell >/dev/null && test -f $(UNICODE) && test -d $(COLUMNS) || { \
	  as=$$([ "$$(id -u)" = 0 ] || echo sudo); \
	  $$as apt-get update -q && $$as apt-get install -y -q --no-install-recommends chromium-headless-shell unicode-data \
	    fonts-vlgothic; }

clean:
	rm -rf .venv build dist frontend/node_modules mudskipper/web/static mudskipper/export/player mudskipper/fonts demo-data
