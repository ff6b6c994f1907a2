# make demo: start Winnow with the demo shoot.  make test: every check and test.
.PHONY: bench demo test setup setup-test check unit lock openapi screenshots wheel clean

demo: setup
	@exec .venv/bin/winnow demo

setup:
	@scripts/setup.sh run

setup-test:
	@scripts/setup.sh test

test: setup-test check unit

check:
	.venv/bin/ruff check src tests scripts benchmarks
	.venv/bin/ruff format --check src tests scripts benchmarks
	.venv/bin/mypy
	cd frontend && npm run -s types && npm run -s check && npm run -s lint && npm run -s format

unit:
	cd frontend && npm run -s test
	.venv/bin/pytest

# The API's description, from which the page's types are made.
openapi: setup
	.venv/bin/python -m winnow.web.openapi > frontend/openapi.json

# The pictures in docs/screenshots, taken from the demo.
screenshots: setup-test
	.venv/bin/python scripts/screenshots.py

wheel: setup-test
	.venv/bin/python -m build --wheel --no-isolation

# Speed as ratios and percentiles; docs/benchmarks.md keeps a table.
bench: setup-test
	.venv/bin/python benchmarks/run.py

# Pins every Python package anew.
lock:
	scripts/lock.sh

clean:
	rm -rf .venv .work frontend/node_modules src/winnow/web/page dist
