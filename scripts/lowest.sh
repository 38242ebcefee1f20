#!/usr/bin/env bash
# Tries the lowest versions of libraries that pyproject.toml allows: an environment with just those, and the tests in it.
#
#     scripts/lowest.sh [PYTEST ARGUMENTS]      all offscreen tests unless named
set -eu -o pipefail
cd "$(dirname "$0")/.."
work=$(mktemp -d "${TMPDIR:-/tmp}/even-stance-lowest.XXXXXX")
trap 'rm -rf "$work"' EXIT
python3 -m venv "$work/venv"
# The lowest of each; Qt itself goes with its bindings, which ask for no more than "this or newer".
sed -n '/^dependencies = \[/,/^\]/s/^ *"\([A-Za-z0-9-]*\)>=\([0-9.]*\),.*/\1==\2/p' pyproject.toml >"$work/lowest.txt"
qt=$(sed -n 's/^PyQt6==//p' "$work/lowest.txt")
echo "PyQt6-Qt6==$qt.*" >>"$work/lowest.txt"
sed -i 's/==\([0-9]*\(\.[0-9]*\)\{0,1\}\)$/==\1.*/' "$work/lowest.txt"
"$work/venv/bin/python" -m pip install --quiet --disable-pip-version-check --no-input -c "$work/lowest.txt" -e . \
    pytest pytest-qt pytest-xdist pytest-check pytest-benchmark hypothesis mujoco python-fcl jsonschema PyNiteFEA pypdf \
    sectionproperties sympy shtab colorspacious >&2
"$work/venv/bin/python" -m pip list --disable-pip-version-check | grep -i -E "^($(cut -d= -f1 "$work/lowest.txt" | paste -sd'|')) "
if [ $# -eq 0 ]; then set -- -n logical --dist worksteal -m "not window"; fi
# The schema that is shipped is written by the newest pydantic: an older one says the same in other words.
QT_QPA_PLATFORM=offscreen "$work/venv/bin/python" -m pytest "$@" \
    --deselect tests/test_jobfile.py::test_shipped_schema_is_the_generated_one_and_takes_the_demo_jobs
