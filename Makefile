# Everything starts here. `make demo` and `make test` do their own set-up.
.DEFAULT_GOAL := help
SHELL := /bin/bash
.SHELLFLAGS := -euo pipefail -c
.DELETE_ON_ERROR:

PYTHON ?= python3
BIN := .venv/bin
PY := $(BIN)/python
STAMPS := .stamps
CHROMIUM := /usr/bin/chromium

PY_SOURCES := $(shell find src/yarrowdew -name '*.py' -not -path '*/web/*')
WEB_SOURCES := $(shell find docs/guide docs/screenshots docs/statistics.md web/src web/public -type f -not -name 'schema.d.ts' -not -name 'vocabulary.ts' -not -name '*.test.ts') \
  web/index.html web/vite.config.ts web/vite.viewer.config.ts web/vite.script.config.ts web/package.json

# What the front end knows of documents, families and kinds comes from the models of the server.
GENERATED := web/src/api/schema.d.ts web/src/figure-model/vocabulary.ts

.PHONY: help setup demo dev test check check-python check-web test-browser test-browser-and-check test-all-else tried-again test-web format shots bench calibrate texts crucible clean

help: ## Show what can be made
	@grep -E '^[a-z-]+:.*## ' Makefile | sed -E 's/:.*## /\t/' | expand -t 14

setup: $(STAMPS)/python $(STAMPS)/web ## Make .venv with the command yarrowdew, and the front end

demo: setup ## Start the app with the demo study, and print its address
	@exec $(BIN)/yarrowdew demo

dev: setup ## Start server and front end, both reloading when a file changes
	@trap 'kill 0' EXIT; \
	$(BIN)/uvicorn --factory yarrowdew.cli.serving:development_app --reload --reload-dir src --port 8420 & \
	cd web && npm run --silent dev

# Once all is set up, in two lanes that take about as long: the browser and then the checks, and beside
# them everything else. What failed is said last, where only the end of it all is kept.
test: ## Check and test everything
	@$(MAKE) --no-print-directory -j2 setup
	@mkdir -p build; rm -f build/*-tests.txt; failed=0; \
	$(MAKE) --no-print-directory -j2 test-browser-and-check test-all-else || failed=1; \
	$(MAKE) --no-print-directory tried-again || failed=1; \
	{ grep -hE '^(E  |FAILED|ERROR)' build/*-tests.txt || true; } | cut -c1-300; exit $$failed

check: check-python check-web ## Format, lint, types, layers

check-python: $(STAMPS)/python
	$(BIN)/ruff format --check .
	$(BIN)/ruff check --quiet .
	$(BIN)/mypy --no-error-summary
	$(BIN)/lint-imports --no-logo > build/layers.txt || (cat build/layers.txt; exit 1)

check-web: $(STAMPS)/node $(GENERATED)
	cd web && npm run --silent format:check > /dev/null
	cd web && npm run --silent lint
	cd web && npm run --silent house
	cd web && npm run --silent typecheck

test-web: $(STAMPS)/node $(GENERATED)
	cd web && npm run --silent test

test-all-else:
	@MAKEFLAGS= $(MAKE) --no-print-directory test-web
	@$(BIN)/pytest tests --ignore tests/web > build/other-tests.txt 2>&1 || (cat build/other-tests.txt; exit 1)
	@tail -n 1 build/other-tests.txt

test-browser-and-check: test-browser
	@MAKEFLAGS= $(MAKE) --no-print-directory check

test-browser: $(CHROMIUM)
	@status=0; $(BIN)/pytest tests/web -o cache_dir=build/cache-browser > build/browser-tests.txt 2>&1 \
		|| status=$$?; echo $$status > build/browser-status; tail -n 1 build/browser-tests.txt

# On a busy machine a browser may fail where nothing is wrong: up to three tests that failed are tried
# again by themselves, and said.
tried-again:
	@status=$$(cat build/browser-status); [ $$status != 0 ] || exit 0; cat build/browser-tests.txt; \
	[ $$status = 1 ] && [ $$(grep -cE '^(FAILED|ERROR)' build/browser-tests.txt) -le 3 ] || exit 1; \
	echo 'Tried again by themselves:'; \
	$(BIN)/pytest tests/web --last-failed -o cache_dir=build/cache-browser

format: $(STAMPS)/python $(STAMPS)/node ## Format all code
	$(BIN)/ruff format --quiet .
	$(BIN)/ruff check --quiet --fix .
	cd web && npm run --silent format > /dev/null

shots: setup $(CHROMIUM) ## Take every picture in docs/screenshots anew
	$(PY) -m tests.web.shots

bench: setup $(CHROMIUM) build/bench/marks.js ## Measure speed, each as a ratio to a yardstick of the same run
	$(PY) -m benchmarks

texts: setup ## List every text that a person can meet in build/texts.md
	$(PY) -m tools.texts

calibrate: setup ## Measure how often intervals cover, and write docs/statistics.md
	$(PY) -m benchmarks.calibration

crucible: setup $(CHROMIUM) ## Try to break it for a quarter of an hour, and write docs/measurements.md
	LONG_TESTS=1 $(BIN)/pytest tests
	$(PY) -m tests.adversary.crucible

clean: ## Take away everything that was made
	rm -rf .venv .stamps build dist web/node_modules src/yarrowdew/web $(GENERATED)

$(STAMPS)/python: requirements.lock pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11) and "Python 3.11 or newer is needed.")'
	@mkdir -p $(STAMPS) build
	@echo "Setting up Python …"
	@test -x $(PY) || $(PYTHON) -m venv .venv
	@$(PY) -m pip install --quiet --disable-pip-version-check uv
	@$(BIN)/uv pip install --quiet --compile-bytecode --python $(PY) --require-hashes -r requirements.lock
	@$(BIN)/uv pip install --quiet --python $(PY) --no-deps --editable .
	@$(PY) -m compileall -q src
	@touch $@

$(STAMPS)/node: web/package-lock.json web/package.json web/.npmrc
	@mkdir -p $(STAMPS)
	@command -v npm > /dev/null || (echo "Node 20.19 or newer, with npm, is needed."; exit 1)
	@echo "Setting up the front end …"
	@cd web && npm ci --silent --no-progress
	@touch $@

# Written only where it changed, so that a change of the server alone builds no front end.
build/openapi.json: $(STAMPS)/python $(PY_SOURCES)
	@mkdir -p build
	@$(BIN)/yarrowdew openapi > build/openapi.new
	@cmp --silent build/openapi.new $@ && rm build/openapi.new || mv build/openapi.new $@

web/src/api/schema.d.ts: build/openapi.json $(STAMPS)/node
	@cd web && npm run --silent types > /dev/null

web/src/figure-model/vocabulary.ts: $(STAMPS)/python $(PY_SOURCES)
	@mkdir -p $(@D) build
	@(echo "/** Generated by \`yarrowdew vocabulary\`; do not edit. */"; \
	  echo "import type { Vocabulary } from '@/api/types'"; echo; \
	  echo -n "export const VOCABULARY: Vocabulary = "; $(BIN)/yarrowdew vocabulary) > build/vocabulary.new
	@cmp --silent build/vocabulary.new $@ && rm build/vocabulary.new || mv build/vocabulary.new $@

$(STAMPS)/web: $(STAMPS)/node $(GENERATED) $(WEB_SOURCES)
	@echo "Building the front end …"
	@cd web && npm run --silent build
	@touch $@

build/bench/marks.js: $(STAMPS)/node $(WEB_SOURCES) web/bench/marks.ts
	@cd web && npx vite build --config bench/vite.config.ts --logLevel warn

$(CHROMIUM):
	@if [ "$$(id -u)" = 0 ] && command -v apt-get > /dev/null; then \
	  echo "Installing Chromium …"; \
	  apt-get install -qq -y chromium > /dev/null 2>&1 || \
	    (apt-get update -qq > /dev/null && apt-get install -qq -y chromium > /dev/null); \
	else \
	  echo "Chromium is needed at $(CHROMIUM). On Debian: sudo apt-get install chromium"; exit 1; \
	fi
