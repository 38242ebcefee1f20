#!/usr/bin/env bash
# Sets up the test tools (first time only), runs the tests offscreen on every core, then those that want a real window under Xvfb.
# Arguments go to the offscreen pytest run, for example: ./test.sh tests/test_units.py
set -eu -o pipefail
cd "$(dirname "$0")"
. scripts/setup.sh
setup test
if [ $# -gt 0 ]; then
    QT_QPA_PLATFORM=offscreen exec .venv/bin/python -m pytest "$@"
fi
QT_QPA_PLATFORM=offscreen .venv/bin/python -m pytest -n logical --dist worksteal -m "not window"
QT_QPA_PLATFORM=xcb xvfb-run -a -s "-screen 0 1400x900x24" .venv/bin/python -m pytest -m window
