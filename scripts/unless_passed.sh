#!/usr/bin/env bash
# Runs a check, unless it passed before on files with exactly these names and contents: it would say the same again.
#   scripts/unless_passed.sh NAME FILES AND FOLDERS... -- COMMAND...
set -euo pipefail
cd "$(dirname "$0")/.."
name=$1
shift
inputs=()
while [ "$1" != -- ]; do
  inputs+=("$1")
  shift
done
shift
hash=$({
  printf '%s\n' "$@"
  find "${inputs[@]}" -type f ! -name '*.pyc' -print0 | LC_ALL=C sort -z | xargs -0 sha256sum
} | sha256sum | cut -c1-16)
mkdir -p .work/passed
passed=.work/passed/$name-$hash
if [ -e "$passed" ]; then
  printf '%s: passed before, and nothing has changed since\n' "$name"
  exit
fi
"$@"
rm -f ".work/passed/$name"-*
touch "$passed"
