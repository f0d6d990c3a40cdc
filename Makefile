# Two commands do everything: make demo, make test. The others are parts of them or tools of the day.
SHELL := bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help
ifeq ($(MAKELEVEL),0)
MAKEFLAGS += --jobs=3  # what is installed from different places is installed at once
endif
export PYTHONDONTWRITEBYTECODE =
PORT ?= 8000
# Debian's own is built with profiles and runs a fifth faster than one compiled as it comes
PYTHON ?= $(shell /usr/bin/python3.11 -c 'import ensurepip' 2>/dev/null && echo /usr/bin/python3.11 || echo python3.11)
VENV := .venv
BIN := $(VENV)/bin
STAMPS := var/stamps
WEB_SOURCES := $(shell find web/src web/public web/index.html web/*.ts web/*.json -type f ! -name '*.gen.*' 2>/dev/null)
API_SOURCES := $(shell find tutelar -name '*.py' -type f ! -path '*/migrations/*')

.PHONY: help demo serve test dev lint fix bench shots build lock schema tables install install-postgres test-long test-postgres

help:
	@grep -E '^[a-z]+:.*##' Makefile | sed -E 's/:.*## /\t/'

demo: web_dist/app/index.html ## install, build, load the demo site, serve it
	@exec $(BIN)/python -m tutelar.server --demo --port $(PORT)

serve: web_dist/app/index.html ## serve for real work: real devices may be measured, where somebody answers for it
	@exec $(BIN)/python -m tutelar.server --live --port $(PORT)

PROCESSES := 3 # of tests on two cores: each waits now and then, for the browser or a silent device
TESTS := $(STAMPS)/python-dev $(STAMPS)/chromium web_dist/app/index.html

test: $(TESTS) ## lint, type-check, run all tests
	@$(MAKE) -s lint & lint=$$!; $(BIN)/python manage.py test --parallel $(PROCESSES) --noinput tests || failed=1; \
	  wait $$lint || { echo "The linters complain; see above."; exit 1; }; exit $${failed:-0}

test-long: $(TESTS) ## the same with more seeds and examples: for a night, not for every change
	@scripts/need-peers
	@TUTELAR_TESTS=long $(BIN)/python manage.py test --parallel $(PROCESSES) --noinput tests

test-postgres: $(TESTS) ## the tests of server and browser with the rows in PostgreSQL, which it installs
	@scripts/with-postgres $(BIN)/python manage.py test --parallel 2 --noinput tests.server tests.browser

lint: $(STAMPS)/python-dev web/src/api/schema.gen.ts ## format and lint checks, types, floors, schema
	@$(BIN)/ruff check -q . && $(BIN)/ruff format -q --check .
	@$(BIN)/mypy --no-error-summary
	@$(BIN)/lint-imports >/dev/null || $(BIN)/lint-imports
	@$(BIN)/tutelar schema | cmp -s - docs/site-file.schema.json || { echo "docs/site-file.schema.json is old: make schema"; exit 1; }
	@$(BIN)/python -m scripts.tables --check && $(BIN)/python -m scripts.sentences --check
	@cd web && npm run -s biome
	@$(MAKE) -s $(STAMPS)/web-types

fix: $(STAMPS)/python-dev $(STAMPS)/web ## let the linters put right what they can
	@$(BIN)/ruff check -q --fix . ; $(BIN)/ruff format -q . ; cd web && npm run -s fix

dev: $(STAMPS)/python-dev $(STAMPS)/web web/src/api/schema.gen.ts ## servers that follow the sources: http://127.0.0.1:5173
	@trap 'kill 0' EXIT; $(BIN)/python -m tutelar.server --demo --reload --port 8000 & cd web && npm run -s dev

bench: $(STAMPS)/python-dev $(STAMPS)/chromium web_dist/app/index.html ## measurements against references in the same run
	@$(BIN)/python -m bench.planning
	@$(BIN)/python -m bench.proving
	@$(BIN)/python -m bench.sheet
	@$(BIN)/python -m bench.clock
	@$(BIN)/python -m bench.running
	@$(BIN)/python -m bench.links
	@$(BIN)/python -m bench.loads
	@$(BIN)/python -m bench.proposals
	@$(BIN)/python -m bench.levers
	@$(BIN)/python -m bench.access
	@$(BIN)/python -m bench.reach
	@$(BIN)/python -m bench.diagnosis
	@$(BIN)/python -m bench.pack
	@$(BIN)/python -m bench.people
	@$(BIN)/python -m bench.paint

shots: $(STAMPS)/python-dev $(STAMPS)/chromium web_dist/app/index.html ## pictures of the main views for the README
	@$(BIN)/python -m tests.shots

build: web_dist/app/index.html ## build the web application

schema: $(STAMPS)/python ## write the JSON Schema of site files
	@$(BIN)/tutelar schema > docs/site-file.schema.json

tables: $(STAMPS)/python-dev ## write the tables of docs/proof.md, docs/links.md and docs/diagnosis.md
	@$(BIN)/python -m scripts.tables && $(BIN)/python -m scripts.sentences

lock: $(STAMPS)/python ## lock the Python dependencies anew
	@for name in tools base postgres dev; do $(BIN)/uv pip compile -q --python-version 3.11 --generate-hashes \
	  --custom-compile-command "make lock" requirements/$$name.in -o requirements/$$name.txt; done

install: $(STAMPS)/python $(STAMPS)/web ## install what serving needs

install-postgres: install ## and what speaks with PostgreSQL
	@$(BIN)/uv pip install -q --compile-bytecode --require-hashes -r requirements/postgres.txt

# --- what is installed is remembered by stamps ---------------------------------------------------------------

$(STAMPS)/tools: requirements/tools.txt
	@mkdir -p $(STAMPS); test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	@$(BIN)/pip install -q --disable-pip-version-check --require-hashes -r requirements/tools.txt 2>/dev/null \
	  || $(BIN)/pip install --require-hashes -r requirements/tools.txt
	@touch $@

$(STAMPS)/python: $(STAMPS)/tools requirements/base.txt pyproject.toml
	@$(BIN)/uv pip install -q --compile-bytecode --require-hashes -r requirements/base.txt
	@$(BIN)/uv pip install -q --no-deps --no-build-isolation -e .
	@touch $@

$(STAMPS)/python-dev: $(STAMPS)/python requirements/dev.txt
	@$(BIN)/uv pip install -q --compile-bytecode --require-hashes -r requirements/base.txt -r requirements/dev.txt
	@touch $@

$(STAMPS)/web: web/package-lock.json web/.npmrc
	@mkdir -p $(STAMPS); cd web && npm ci --no-progress --loglevel=error
	@touch $@

$(STAMPS)/chromium:
	@mkdir -p $(STAMPS); scripts/need-chromium
	@touch $@

web/src/api/schema.gen.ts: $(STAMPS)/python $(STAMPS)/web $(API_SOURCES)
	@$(BIN)/python manage.py export_openapi_schema --api tutelar.server.api.api --output var/openapi.json >/dev/null
	@cmp -s var/openapi.json web/openapi.gen.json || { cp var/openapi.json web/openapi.gen.json; \
	  cd web && npm run -s types >/dev/null; }
	@touch $@

$(STAMPS)/web-types: $(STAMPS)/web web/src/api/schema.gen.ts $(WEB_SOURCES)
	@cd web && npm run -s typecheck
	@touch $@

web_dist/app/index.html: $(STAMPS)/python $(STAMPS)/web web/src/api/schema.gen.ts $(WEB_SOURCES)
	@cd web && npm run -s build -- --logLevel warn
	@$(BIN)/python -m whitenoise.compress -q web_dist/app
	@touch $@
