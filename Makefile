# Everything is made in .venv; each target is quick the second time.
PYTHON ?= python3
BIN := .venv/bin
UV_VERSION := 0.13.9
export PYTHONPATH := .

.PHONY: setup demo serve test lint unittest fuzz soak mutants trials bench screenshots architecture schemas guide demo-shop vendor lock

setup: .venv/runtime

# make demo PORT=8001 where 8000 is taken
demo: setup
	@$(BIN)/cross-staff demo $(if $(PORT),--port $(PORT))

serve: setup
	@$(BIN)/cross-staff serve $(if $(PORT),--port $(PORT))

test: .venv/development
	@tools/browser.sh
	@$(MAKE) --no-print-directory lint
	@$(MAKE) --no-print-directory unittest

unittest:
	$(BIN)/python -m tests

lint: .venv/development
	$(BIN)/ruff format --check --quiet .
	$(BIN)/ruff check --quiet .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo

# every form route, every file, and the calculators, under what nobody would type: some ten minutes; FUZZ_FIRST=1000 for other seeds
fuzz: .venv/development
	FUZZ_EXAMPLES=300 $(BIN)/python -m unittest tests.web.test_fuzz_files
	FUZZ_EXAMPLES=60 FUZZ_SEEDS=5 $(BIN)/python -m unittest tests.web.test_fuzz
	FUZZ_SECONDS=240 $(BIN)/python -m unittest tests.web.api.test_schema
	FUZZ_EXAMPLES=60 $(BIN)/python -m unittest tests.web.carry.test_edited

# the program as it is served, under load, held up, without room, killed: a quarter to half an hour
soak: .venv/development
	$(BIN)/python bench/soak.py

# the core changed a little, a fixed sample of changes, whether its tests notice: most of an hour
mutants: .venv/development
	$(BIN)/python tools/mutants.py

# the simulated archers with ten seeds of each kind of sight in place of one: some minutes
trials: .venv/development
	ARCHER_SEEDS=10 $(BIN)/python -m unittest tests.demo.test_range_walk

bench: .venv/development
	$(BIN)/python bench/compare.py
	$(BIN)/python bench/arrows_to_tape.py 2000 500 docs/arrows-to-tape.svg
	$(BIN)/python bench/coverage.py 400
	$(BIN)/python bench/range.py
	$(BIN)/python bench/level_walks.py
	$(BIN)/python bench/practice.py
	$(BIN)/python bench/proof.py
	$(BIN)/python bench/pages.py 5000 40

screenshots: .venv/development
	@tools/browser.sh
	$(BIN)/python tools/screenshots.py docs/screenshots

# the picture of the house, from the contracts and the registry of stations
architecture: .venv/runtime
	$(BIN)/python tools/architecture.py docs/architecture.svg

# what the files of rigs, sights and instruments hold, from the program's own records
schemas: .venv/runtime
	$(BIN)/python tools/schemas.py docs/files

# docs/guide.md from the help of the application; a test says when it is not up to date
guide: .venv/runtime
	$(BIN)/python -c "from cross_staff.web.guide.texts import markdown; print(markdown(), end='')" > docs/guide.md

# the demo rigs that ship, from their scenario
demo-shop: .venv/runtime
	$(BIN)/python tools/demo_shop.py cross_staff/demo/shop.zip

vendor: .venv/development
	tools/vendor.sh

# exact versions with the sums of their files, without index or download addresses
lock: .venv/runtime
	$(BIN)/uv pip compile --quiet --no-header --no-annotate --no-emit-index-url --generate-hashes --upgrade pyproject.toml -o requirements.txt
	$(BIN)/uv pip compile --quiet --no-header --no-annotate --no-emit-index-url --generate-hashes --upgrade --extra development -c requirements.txt pyproject.toml -o requirements-dev.txt

.venv/bin/uv:
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Cross Staff needs Python 3.11 or newer: make PYTHON=python3.11 demo"; exit 1; }
	@$(PYTHON) -m venv .venv || { echo "Python's venv is missing: on Debian, apt-get install python3-venv"; rm -rf .venv; exit 1; }
	$(BIN)/python -m pip install --quiet --disable-pip-version-check uv==$(UV_VERSION)

.venv/runtime: requirements.txt pyproject.toml .venv/bin/uv
	$(BIN)/uv pip install --quiet --python $(BIN)/python --compile-bytecode --require-hashes -r requirements.txt
	$(BIN)/uv pip install --quiet --python $(BIN)/python --no-deps --editable .
	@touch $@

.venv/development: requirements-dev.txt .venv/runtime
	$(BIN)/uv pip install --quiet --python $(BIN)/python --compile-bytecode --require-hashes -r requirements-dev.txt
	@touch $@
