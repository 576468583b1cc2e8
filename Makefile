# Two commands matter: `make demo` and `make test`.
PYTHON ?= python3.11
VENV := .venv
BIN := $(VENV)/bin
UI_SOURCES := $(shell find ui/src ui/public -type f ! -name schema.d.ts 2>/dev/null) ui/index.html ui/vite.config.ts ui/licences.ts ui/tsconfig.json
PIP := $(BIN)/pip install --quiet --disable-pip-version-check
PYTEST := $(BIN)/python -m pytest -n auto --dist loadfile --durations=10
PORT ?= 8760
# compiled modules are kept, whatever the shell says: without them each start takes a second more
export PYTHONDONTWRITEBYTECODE :=
# lock files without the address they were made from
COMPILE := $(BIN)/pip-compile --quiet --allow-unsafe --strip-extras --no-header --no-annotate --no-emit-index-url --no-emit-find-links --no-emit-trusted-host

.PHONY: demo dev test test-thorough lint types chromium facts history bench bench-cards soak meshes shots rooms mutants wheel clean lock openapi

demo: $(VENV)/.stamp-run src/haze/web/static/index.html
	$(BIN)/haze demo --port $(PORT)

dev: $(VENV)/.stamp-dev ui/src/api/schema.d.ts
	@echo "Front end with reload: http://127.0.0.1:5173/"
	$(BIN)/haze demo --port 8760 --no-browser & cd ui && npm run --silent dev

$(VENV)/bin/python:
	@command -v $(PYTHON) >/dev/null || { echo "Haze needs Python 3.11 ($(PYTHON)) with venv."; exit 1; }
	$(PYTHON) -m venv $(VENV)

$(VENV)/.stamp-run: $(VENV)/bin/python requirements.lock pyproject.toml
	$(PIP) -r requirements.lock
	$(PIP) --no-deps -e .
	@touch $@

$(VENV)/.stamp-dev: $(VENV)/.stamp-run requirements-dev.lock
	$(PIP) -r requirements-dev.lock
	@touch $@

ui/node_modules/.stamp: ui/package-lock.json ui/package.json
	@command -v npm >/dev/null || { echo "Haze needs Node 20 with npm."; exit 1; }
	cd ui && npm ci --silent --no-audit --no-fund
	@touch $@

src/haze/web/static/index.html: ui/node_modules/.stamp $(UI_SOURCES)
	cd ui && npm run --silent build
	@touch $@

ui/src/api/schema.d.ts: ui/openapi.json ui/node_modules/.stamp
	cd ui && npm run --silent types

chromium:
	@command -v chromium >/dev/null || { \
	  if [ "$$(id -u)" = 0 ]; then apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium; \
	  else echo "The browser tests need Chromium. Install it with: sudo apt-get install chromium"; exit 1; fi; }

openapi: $(VENV)/.stamp-dev
	$(BIN)/python tools/write_openapi.py
	$(BIN)/python tools/write_craft.py
	$(BIN)/python tools/write_schema.py
	$(MAKE) --no-print-directory ui/src/api/schema.d.ts

# the picture of the rooms and their imports in docs/architecture.md
rooms: $(VENV)/.stamp-dev
	$(BIN)/python tools/draw_rooms.py

lint: $(VENV)/.stamp-dev ui/node_modules/.stamp
	$(BIN)/ruff format --check --quiet src tests tools
	$(BIN)/ruff check --quiet src tests tools
	$(BIN)/lint-imports
	$(BIN)/python tools/draw_rooms.py --check
	$(BIN)/python tools/write_openapi.py --check
	$(BIN)/python tools/write_craft.py --check && $(BIN)/python tools/write_schema.py --check
	cd ui && npm run --silent lint

types: $(VENV)/.stamp-dev ui/src/api/schema.d.ts
	$(BIN)/mypy
	cd ui && npm run --silent typecheck

test: chromium lint types src/haze/web/static/index.html
	cd ui && npm run --silent test
	$(PYTEST) -m "not thorough"

# what `make test` leaves out because it is slow; the build server runs both
test-thorough: chromium $(VENV)/.stamp-dev src/haze/web/static/index.html
	$(PYTEST) -m thorough

# wheel and source archive with the page in them, under dist/
wheel: $(VENV)/.stamp-dev src/haze/web/static/index.html
	rm -rf build dist
	$(BIN)/python -m build --no-isolation --outdir dist .

meshes: $(VENV)/.stamp-dev
	cd tools && ../$(BIN)/python -m meshes.build

history: $(VENV)/.stamp-dev
	$(BIN)/python tools/demo_history.py

facts: $(VENV)/.stamp-dev
	cd tests && ../$(BIN)/python -m core.spray.facts > ../docs/facts.md

# about an hour: cards drawn, photographed and read, on our own renderer and on a second
bench-cards: $(VENV)/.stamp-dev
	cd tests && ../$(BIN)/python -m bench.cards

bench: chromium $(VENV)/.stamp-dev src/haze/web/static/index.html
	$(BIN)/python tests/bench/bench.py

soak: $(VENV)/.stamp-dev src/haze/web/static/index.html
	$(BIN)/python tests/soak/soak.py

# small faults planted in a room, and how many its own tests catch: make mutants ROOM=core/day/schedule
mutants: $(VENV)/.stamp-dev
	$(BIN)/python tools/mutants.py $(ROOM)

shots: chromium $(VENV)/.stamp-dev src/haze/web/static/index.html
	$(BIN)/python tools/shots.py

lock: $(VENV)/.stamp-dev
	$(PIP) pip-tools
	$(COMPILE) -o requirements.lock pyproject.toml
	$(COMPILE) --extra dev -c requirements.lock -o requirements-dev.lock pyproject.toml

clean:
	rm -rf $(VENV) ui/node_modules ui/src/api/schema.d.ts src/haze/web/static
