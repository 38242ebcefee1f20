#!/usr/bin/env bash
# Tries the set-up on a bare Debian, as a new user of each kind would: as root from nothing, as an ordinary user, killed
# at five moments, moved to another folder, and offline. Needs root and debootstrap; takes some minutes a system.
#
#     scripts/bare_debian.sh [SUITE ...]        bookworm (12) and trixie (13) unless named
#
# BARE_ALSO names files and folders of this machine that its pip settings lead to. Where packages come from is taken from this machine: its apt sources, and its pip settings if it has any.
set -eu -o pipefail
cd "$(dirname "$0")/.."
command -v debootstrap >/dev/null || { echo "debootstrap is needed: apt-get install debootstrap" >&2; exit 1; }
[ "$(id -u)" -eq 0 ] || { echo "Only root can lay out a bare system." >&2; exit 1; }
work=$(mktemp -d "${TMPDIR:-/tmp}/even-stance-bare.XXXXXX")
mirror=${MIRROR:-$(apt-get indextargets --format '$(REPO_URI)' | awk '/debian/ && !/security/ && !seen {print; seen = 1}')}
failed=0

told() {
    local want=$1 what=$2 code=$3
    if [ "$code" -eq "$want" ]; then echo "  ok      $what"; else echo "  FAILED  $what (exit $code, $want wanted)"; failed=1; fi
}

lay_out() {
    local root=$1 suite=$2 name
    debootstrap --variant=minbase "$suite" "$root" "$mirror" >"$work/$suite.log" 2>&1 || {
        tail -n 3 "$work/$suite.log" >&2
        return 1
    }
    for name in /etc/resolv.conf /etc/hosts; do
        [ -e "$name" ] && install -D "$name" "$root$name"
    done
    # Under a name of its own: the bare system's own certificates would take its place.
    [ -e /etc/ssl/certs/ca-certificates.crt ] && install -D /etc/ssl/certs/ca-certificates.crt "$root$certificates"
    [ -d /etc/apt/apt.conf.d ] && cp -n /etc/apt/apt.conf.d/* "$root/etc/apt/apt.conf.d/" 2>/dev/null || true
    for name in ${BARE_ALSO:-}; do
        if [ -d "$name" ]; then
            mkdir -p "$root$name" && mount --bind "$name" "$root$name"
        else
            install -D "$name" "$root$name"
        fi
    done
    mount -t proc proc "$root/proc" 2>/dev/null || true
    [ -e "$root/dev/null" ] || mknod -m 666 "$root/dev/null" c 1 3
    chroot "$root" useradd -m shop
    git archive --prefix=even-stance/ HEAD | tar -x -C "$root/home/shop"
    cp -a "$root/home/shop/even-stance" "$root/root/even-stance"
    chroot "$root" chown -R shop: /home/shop/even-stance
}

as_root() { chroot "$root" env -i HOME=/root PATH=/usr/sbin:/usr/bin:/sbin:/bin LANG=C.UTF-8 "${pip[@]}" bash -c "$1"; }
as_shop() { chroot --userspec=shop:shop "$root" env -i HOME=/home/shop PATH=/usr/bin:/bin LANG=C.UTF-8 "${pip[@]}" bash -c "$1"; }

# What this machine tells pip, told to the bare one as well.
certificates=/etc/ssl/even-stance-try.crt
pip=("PIP_CERT=$certificates")
while IFS= read -r line; do pip+=("$line"); done < <(env | grep -e '^PIP_INDEX_URL=' -e '^PIP_FIND_LINKS=' || true)
while read -r key value; do
    pip+=("PIP_$(tr 'a-z-' 'A-Z_' <<<"$key")=$value")
done < <(python3 -m pip config list 2>/dev/null | sed -n "s/^[a-z]*\.\(index-url\|extra-index-url\|find-links\)='\(.*\)'\$/\1 \2/p" | sed 's/\\n/ /g')

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
    umount "$root/proc" 2>/dev/null || true
    for each in ${BARE_ALSO:-}; do umount "$root$each" 2>/dev/null || true; done
}

for suite in "${@:-bookworm trixie}"; do
    for each in $suite; do try_suite "$each"; done
done
if [ "$failed" -eq 0 ]; then rm -rf --one-file-system "$work"; else echo "What was said is in $work."; fi
exit "$failed"
