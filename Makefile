# Two commands from a fresh clone: `make demo` and `make test`.
SHELL := /bin/bash
PY := .venv/bin/python
STAMPS := .stamps
# a machine that keeps no compiled modules reads them all anew at each start: here they are kept
unexport PYTHONDONTWRITEBYTECODE
PORT ?= 8620
DATA ?=
# sheds of tests live in memory where there is room: thousands of small commits wait for a slow disk
IN_MEMORY := $(shell test -w /dev/shm && echo PYTEST_DEBUG_TEMPROOT=/dev/shm)
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/package-lock.json \
	web/vite.config.ts web/postcss.config.cjs

.PHONY: demo start test torture fuzz load phone check bench calibrate format types lock clean wheel

demo: $(STAMPS)/run $(STAMPS)/web
	.venv/bin/racecard demo --data demo-data --port $(PORT)

start: $(STAMPS)/run $(STAMPS)/web
	.venv/bin/racecard start $(if $(DATA),--data $(DATA)) --port $(PORT)

test: $(STAMPS)/dev $(STAMPS)/web
	@bash tools/need_chromium.sh
	$(IN_MEMORY) $(PY) -m pytest -n 2 --dist worksteal --durations=10
	cd web && npm run -s test

torture: $(STAMPS)/dev
	RACECARD_KILLS=100 $(PY) -m pytest tests/cli/test_torture.py tests/store/test_migrating.py

# 20,000 generated calls: no fault, none slower than two seconds
fuzz: $(STAMPS)/dev
	RACECARD_CALLS=185 RACECARD_SLOWEST=2 $(IN_MEMORY) $(PY) -m pytest -q -n 2 tests/api/test_fuzz.py

# 20 and 100 simulated phones for a minute each against a real server
phone: $(STAMPS)/dev $(STAMPS)/web
	PYTHONPATH=. $(PY) -m tools.slow_phone

load: $(STAMPS)/dev
	$(PY) -m tools.load

check: $(STAMPS)/dev $(STAMPS)/npm
	.venv/bin/ruff format --check src tests tools
	.venv/bin/ruff check src tests tools
	.venv/bin/mypy
	.venv/bin/lint-imports
	cd web && npm run -s check
	$(PY) tools/measure.py

bench: $(STAMPS)/dev $(STAMPS)/web
	PYTHONPATH=. $(PY) -m tools.bench $(if $(SAVE),--save)

format: $(STAMPS)/dev $(STAMPS)/npm
	.venv/bin/ruff check --fix src tests tools
	.venv/bin/ruff format src tests tools
	cd web && npm run -s format

types: $(STAMPS)/run $(STAMPS)/npm
	$(PY) tools/write_openapi.py
	cd web && npm run -s types

# writes both lock files, with the hash of every package: pins that stand are kept
lock: .venv/bin/uv
	VIRTUAL_ENV=.venv .venv/bin/uv pip compile -q pyproject.toml --generate-hashes --no-annotate --no-header -o requirements.txt
	VIRTUAL_ENV=.venv .venv/bin/uv pip compile -q pyproject.toml --extra dev --generate-hashes --no-annotate --no-header -o requirements-dev.txt

clean:
	rm -rf .venv .stamps web/node_modules src/racecard/web demo-data

.venv/bin/uv:
	python3 -m venv .venv
	.venv/bin/pip install -q uv

$(STAMPS)/run: requirements.txt pyproject.toml | .venv/bin/uv
	@echo "Setting up Python…"
	VIRTUAL_ENV=.venv .venv/bin/uv pip install -q --compile-bytecode -r requirements.txt
	VIRTUAL_ENV=.venv .venv/bin/uv pip install -q --no-deps -e .
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/dev: requirements-dev.txt $(STAMPS)/run
	VIRTUAL_ENV=.venv .venv/bin/uv pip install -q --compile-bytecode -r requirements-dev.txt
	@touch $@

$(STAMPS)/npm: web/package-lock.json
	@echo "Setting up the front end…"
	cd web && npm ci --no-fund --no-audit --loglevel=error
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/web: $(STAMPS)/npm $(WEB_SOURCES)
	cd web && npm run -s build -- --logLevel warn
	@touch $@

wheel: $(STAMPS)/run $(STAMPS)/web
	VIRTUAL_ENV=.venv .venv/bin/uv build -q --wheel --out-dir dist
	@ls dist/*.whl

calibrate: $(STAMPS)/dev
	PYTHONPATH=. $(PY) -m tools.calibrate
