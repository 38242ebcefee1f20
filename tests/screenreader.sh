#!/usr/bin/env bash
# Starts the program beside the bus of screen readers and prints its tree. In a session bus of its own: see test_reach.py.
python=$1
here=$(dirname "$0")
for launcher in /usr/libexec/at-spi-bus-launcher /usr/lib/at-spi2-core/at-spi-bus-launcher; do
    [ -x "$launcher" ] && break
done
"$launcher" --launch-immediately &
bus=$!
sleep 1
"$python" -m even_stance demo &
program=$!
/usr/bin/python3 -W ignore "$here/screenreader.py"
code=$?
kill "$program" "$bus" 2>/dev/null
exit "$code"
