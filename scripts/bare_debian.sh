#!/usr/bin/env bash
# Tries the set-up on a bare Debian, as a new user of each kind would: as root from nothing, as an ordinary user, killed
# at five moments, moved to another folder, and offline. Takes some minutes a system.
#
#     scripts/bare_debian.sh [SUITE ...]        bookworm (12) and trixie (13) unless named
set -eu -o pipefail
cd "$(dirname "$0")/.."
. scripts/bare.sh

try_suite() {
    local suite=$1 root=$work/$1 code said moment
    echo "$suite"
    lay_out "$root" "$suite" || { echo "  the bare system could not be laid out"; failed=1; return; }

    said=$(as_shop 'cd ~/even-stance && ./demo.sh --version' 2>&1) && code=0 || code=$?
    told 1 "ordinary user on a bare system is told one apt line" "$code"
    [ "$(grep -c 'apt-get install' <<<"$said")" -eq 1 ] || { echo "  FAILED  one apt line: $said"; failed=1; }
    grep -q -i 'traceback' <<<"$said" && { echo "  FAILED  a raw error was shown"; failed=1; }

    as_root 'cd ~/even-stance && ./demo.sh --version' >"$work/$suite-root.log" 2>&1 && code=0 || code=$?
    told 0 "root, from nothing to a program that says its version" "$code"

    # Just the one line that was told, and nothing more, makes it work for the ordinary user.
    for moment in 1 4 10 20 35; do
        chroot --userspec=shop:shop "$root" env -i HOME=/home/shop PATH=/usr/bin:/bin "${pip[@]}" \
            setsid bash -c 'cd ~/even-stance && ./demo.sh --version' >/dev/null 2>&1 &
        local child=$!
        sleep "$moment"
        pkill -KILL -s "$(ps -o sid= -p "$child" | tr -d ' ')" 2>/dev/null || pkill -KILL -P "$child" 2>/dev/null || true
        chroot "$root" pkill -KILL -u shop 2>/dev/null || pkill -KILL -u "$(stat -c %u "$root/home/shop")" 2>/dev/null || true
        wait "$child" 2>/dev/null || true
    done 2>/dev/null
    as_shop 'cd ~/even-stance && ./demo.sh --version' >"$work/$suite-shop.log" 2>&1 && code=0 || code=$?
    told 0 "ordinary user, after the set-up was killed at five moments" "$code"

    as_shop 'mv ~/even-stance ~/elsewhere && cd / && ~/elsewhere/demo.sh --version' >"$work/$suite-moved.log" 2>&1 && code=0 || code=$?
    told 0 "moved to another folder" "$code"
    as_shop 'cd ~/elsewhere/src/even_stance/demo && ~/elsewhere/demo.sh check 1-trail-pickup.stance' >/dev/null 2>&1 && code=0 || code=$?
    told 0 "a path typed in another folder is that folder's" "$code"
    said=$(as_shop 'cd ~/elsewhere && ./demo.sh' 2>&1) && code=0 || code=$?
    told 2 "no display: a sentence" "$code"
    grep -q 'There is no display' <<<"$said" || { echo "  FAILED  no display: $said"; failed=1; }

    said=$(unshare -n chroot --userspec=shop:shop "$root" env -i HOME=/home/shop PATH=/usr/bin:/bin "${pip[@]}" PIP_DEFAULT_TIMEOUT=2 PIP_RETRIES=0 \
        bash -c 'cd ~/elsewhere && ./demo.sh --version' 2>&1) && code=0 || code=$?
    told 0 "offline, set up already" "$code"
    said=$(unshare -n chroot --userspec=shop:shop "$root" env -i HOME=/home/shop PATH=/usr/bin:/bin "${pip[@]}" PIP_DEFAULT_TIMEOUT=2 PIP_RETRIES=0 \
        bash -c 'cd ~/elsewhere && rm -rf .venv && ./demo.sh --version' 2>&1) && code=0 || code=$?
    told 1 "offline, nothing set up" "$code"
    grep -q 'offline' <<<"$said" || { echo "  FAILED  offline says offline: $said"; failed=1; }
    put_away "$root"
}

for suite in "${@:-bookworm trixie}"; do
    for each in $suite; do try_suite "$each"; done
done
ended
