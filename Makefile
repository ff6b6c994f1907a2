# make demo: start Winnow with the demo shoot.  make test: every check and test.
# make dev: build on it, with hot reload.  make fast: what is quick of the checks and tests.
.PHONY: bench check check-lint check-rest clean container coverage demo dev docs fast fast-lint fast-tests lock notices openapi \
	screenshots setup setup-test soak test texts unit wheel

# How much longer than in `make test` the long loops go on over night.
ROUNDS ?= 20
# What builds containers here.
CONTAINERS ?= $(shell command -v podman || echo docker)
PY = .venv/bin
PAGE = npm --prefix frontend run -s
# What the checks of the page, and of Python, read. A check that passed on just these files is not made again.
PAGE_FILES = frontend/src frontend/*.json frontend/*.js frontend/*.mjs frontend/*.ts texts/en
PYTHON_FILES = src tests scripts benchmarks pyproject.toml requirements

demo: setup
	@exec $(PY)/winnow demo

dev: setup
	@exec $(PY)/python scripts/dev.py

setup:
	@scripts/setup.sh run

setup-test:
	@scripts/setup.sh test

test: setup-test check unit

# The checks of the page and of Python, beside each other.
check:
	@$(MAKE) --no-print-directory -j2 --output-sync=target check-lint check-rest

check-lint:
	scripts/unless_passed.sh lint $(PAGE_FILES) -- $(PAGE) lint

check-rest:
	$(PAGE) types
	scripts/unless_passed.sh texts $(PAGE_FILES) -- $(PAGE) texts
	scripts/unless_passed.sh format $(PAGE_FILES) -- $(PAGE) format
	scripts/unless_passed.sh types $(PAGE_FILES) -- $(PAGE) check
	$(PY)/ruff check src tests scripts benchmarks docs/examples
	$(PY)/ruff format --check src tests scripts benchmarks docs/examples
	scripts/unless_passed.sh mypy $(PYTHON_FILES) -- $(PY)/mypy
	$(PY)/python scripts/texts.py
	$(PAGE) test

unit:
	$(PY)/pytest -n 2 --dist worksteal

# Lint, types, unit and component tests: no browser, no demo, no long loops. What was linted before is remembered.
fast: setup-test
	@$(MAKE) --no-print-directory -j2 --output-sync=target fast-tests fast-lint

fast-lint:
	$(PY)/ruff check src tests scripts benchmarks docs/examples
	$(PY)/ruff format --check src tests scripts benchmarks docs/examples
	$(PAGE) lint -- --cache --cache-strategy content --cache-location ../.work/eslint
	$(PAGE) format -- --cache --cache-location ../.work/prettier
	$(PY)/mypy
	$(PAGE) check
	$(PAGE) test

fast-tests:
	$(PY)/pytest tests/core tests/photos tests/store tests/test_layers.py tests/test_docs.py \
		-m "not browser and not demo and not soak" -n 2 --dist worksteal

# The long loops and the generated examples, many times as many: an hour or two. From `make soak ROUNDS=50` on each step
# is broken at every one of its boundaries, which takes days.
soak: setup-test
	WINNOW_ROUNDS=$(ROUNDS) $(PY)/pytest -m "soak or hypothesis" -n 2 --dist worksteal -v --durations=0

# What the tests run, branch by branch and module by module: Python's in .work/coverage, the page's below it.
coverage: setup-test
	$(PY)/pytest -n 2 --dist worksteal --ignore=tests/browser --ignore=tests/test_guards.py \
		--cov=winnow --cov-branch --cov-report=term --cov-report=html:.work/coverage
	$(PAGE) test -- --coverage

# What the docs and the page's types take from the code: the API's description, and the facts of filters.
openapi: setup
	$(PY)/python scripts/filter_facts.py
	$(PY)/python -m winnow.web.openapi > frontend/openapi.json
	$(PY)/python -m winnow.web.openapi --page > docs/api.md

# Every text that can be translated, in texts/en: after a change of one.
texts: setup-test
	-$(PY)/python scripts/texts.py
	-$(PAGE) texts

# Licences and notices of all that ships, in NOTICES.md, and its list in sbom.cdx.json: after a change of the lock files.
notices: setup-test
	$(PY)/python scripts/notices.py
	$(PY)/python -m scripts.sbom

# The docs as a site in .work/site, read without a network.
docs: setup-test
	$(PY)/mkdocs build -q --strict

# The pictures in docs/screenshots, taken from the demo.
screenshots: setup-test
	$(PY)/python scripts/screenshots.py

wheel: setup-test
	rm -f dist/winnow-*.whl
	$(PY)/python -m build --wheel --no-isolation

# The image for a studio's machine, from the wheel: docs/studio.md says how it is started.
container: wheel
	$(CONTAINERS) build -t winnow -f Containerfile .

# Every figure of speed and size as one table, kept in docs/benchmarks.md: a quarter of an hour.
bench: setup-test
	$(PY)/python -m benchmarks.bench

# Pins every Python package anew.
lock:
	scripts/lock.sh

clean:
	rm -rf .venv .work frontend/node_modules src/winnow/web/page src/winnow/photos/gallery \
		src/winnow/photos/fonts dist
