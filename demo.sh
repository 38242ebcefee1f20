#!/usr/bin/env bash
# Sets Even Stance up (first time only) and starts it with the demo jobs. Arguments go to the app.
set -eu
cd "$(dirname "$0")"
. scripts/setup.sh
setup run
if [ $# -eq 0 ]; then set -- demo; fi
exec .venv/bin/even-stance "$@"
