# Sourced by the scripts that try things on a bare Debian: lays one out in a folder and runs commands in it, as root or as an
# ordinary user. Needs root and debootstrap. Where packages come from is taken from this machine: its apt sources, and its pip
# settings if it has any; BARE_ALSO names files and folders of this machine that those settings lead to.
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
            # To read alone: what clears the bare system away must not reach into this one.
            mkdir -p "$root$name" && mount --bind "$name" "$root$name" && mount -o remount,ro,bind "$root$name"
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

put_away() {
    umount "$1/proc" 2>/dev/null || true
    for each in ${BARE_ALSO:-}; do umount "$1$each" 2>/dev/null || true; done
}

ended() {
    if [ "$failed" -ne 0 ] || grep -q " $work" /proc/mounts; then
        echo "What was said is in $work."
    else
        rm -rf --one-file-system "$work"
    fi
    exit "$failed"
}
