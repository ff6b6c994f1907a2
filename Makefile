# make demo: start Winnow with the demo shoot.  make test: every check and test.
.PHONY: bench demo test texts setup setup-test check unit lock openapi notices screenshots wheel clean

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
	.venv/bin/python scripts/texts.py
	cd frontend && npm run -s types && npm run -s texts && npm run -s check && npm run -s lint && npm run -s format

unit:
	cd frontend && npm run -s test
	.venv/bin/pytest --ignore=tests/browser -n 2 --dist worksteal
	# A browser needs both processors for itself.
	.venv/bin/pytest tests/browser

# The API's description, from which the page's types are made.
openapi: setup
	.venv/bin/python -m winnow.web.openapi > frontend/openapi.json
	.venv/bin/python -m winnow.web.openapi --page > docs/api.md

# Every text that can be translated, in texts/en: after a change of one.
texts: setup-test
	-.venv/bin/python scripts/texts.py
	-cd frontend && npm run -s texts

# Licences and notices of all that ships, in NOTICES.md: after a change of the lock files.
notices: setup-test
	.venv/bin/python scripts/notices.py

# The pictures in docs/screenshots, taken from the demo.
screenshots: setup-test
	.venv/bin/python scripts/screenshots.py

wheel: setup-test
	.venv/bin/python -m build --wheel --no-isolation

# Every figure of speed and size as one table, kept in docs/benchmarks.md: a quarter of an hour.
bench: setup-test
	.venv/bin/python -m benchmarks.bench

# Pins every Python package anew.
lock:
	scripts/lock.sh

clean:
	rm -rf .venv .work frontend/node_modules src/winnow/web/page src/winnow/photos/gallery \
		src/winnow/photos/fonts dist
