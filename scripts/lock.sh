#!/usr/bin/env bash
# Pins the Python packages, with hashes, in requirements/*.txt.
set -euo pipefail
cd "$(dirname "$0")/.."
tools=$(mktemp -d)
trap 'rm -rf "$tools"' EXIT
python3 -m venv "$tools"
"$tools/bin/pip" install -q pip-tools
compile() {
  "$tools/bin/pip-compile" -q --strip-extras --allow-unsafe --no-header --no-emit-index-url \
    --no-emit-find-links --no-emit-trusted-host --generate-hashes "$@"
}
compile -o requirements/run.txt pyproject.toml requirements/build.in
compile -o requirements/dev.txt requirements/dev.in
