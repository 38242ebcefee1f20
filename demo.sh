#!/usr/bin/env bash
# Sets Even Stance up (first time only) and starts it with the demo jobs. Arguments go to the app; a path among them is
# seen from the folder it was typed in.
set -eu -o pipefail
words=()
for word in "$@"; do
    case "$word" in
        -* | /*) ;;
        *) if [ -e "$word" ] || [ "${word%.stance}" != "$word" ]; then word=$PWD/$word; fi ;;
    esac
    words+=("$word")
done
cd "$(dirname "$0")"
. scripts/setup.sh
setup run
if [ ${#words[@]} -eq 0 ]; then words=(demo); fi
exec .venv/bin/even-stance "${words[@]}"
