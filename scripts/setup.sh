# Sourced by demo.sh and test.sh: a private virtual environment with the pinned packages, made once.
# "setup run" brings what the app needs, "setup test" the test tools as well.
#
# An environment counts only when it was made whole, here, with this Python: one that was moved, carried over from
# another system, or whose making was killed is made anew.

venv=.venv

say() { echo "Even Stance: $*" >&2; }

# The shared libraries that Qt's plugins load, and the Debian packages that hold them.
qt_libraries() {
    cat <<'LIST'
libEGL.so.1 libegl1
libGL.so.1 libgl1
libX11.so.6 libx11-6
libX11-xcb.so.1 libx11-xcb1
libxcb.so.1 libxcb1
libxcb-cursor.so.0 libxcb-cursor0
libxcb-icccm.so.4 libxcb-icccm4
libxcb-image.so.0 libxcb-image0
libxcb-keysyms.so.1 libxcb-keysyms1
libxcb-randr.so.0 libxcb-randr0
libxcb-render.so.0 libxcb-render0
libxcb-render-util.so.0 libxcb-render-util0
libxcb-shape.so.0 libxcb-shape0
libxcb-shm.so.0 libxcb-shm0
libxcb-sync.so.1 libxcb-sync1
libxcb-xfixes.so.0 libxcb-xfixes0
libxcb-xkb.so.1 libxcb-xkb1
libxkbcommon.so.0 libxkbcommon0
libxkbcommon-x11.so.0 libxkbcommon-x11-0
libfontconfig.so.1 libfontconfig1
libfreetype.so.6 libfreetype6
libdbus-1.so.3 libdbus-1-3
libglib-2.0.so.0 libglib2.0-0
libz.so.1 zlib1g
LIST
}

find_python() {
    local candidate
    for candidate in python3 python3.13 python3.12 python3.11; do
        if command -v "$candidate" >/dev/null 2>&1 &&
            "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            echo "$candidate"
            return 0
        fi
    done
    return 1
}

# Everything of the system that is missing for "run" or "test", one package a line: asked for before any download.
missing_packages() {
    local python=$1 what=$2 known lib package
    if [ -z "$python" ]; then
        echo python3
        echo python3-venv
    elif ! "$python" -c 'import ensurepip, venv' 2>/dev/null; then
        echo python3-venv
    fi
    if [ "$what" = test ] && ! command -v Xvfb >/dev/null 2>&1; then
        echo xvfb
        command -v xauth >/dev/null 2>&1 || echo xauth
    fi
    if [ "$what" = test ]; then
        # What the files for menus, file types and man pages are checked with.
        command -v desktop-file-validate >/dev/null 2>&1 || echo desktop-file-utils
        command -v appstreamcli >/dev/null 2>&1 || echo appstream
        command -v update-mime-database >/dev/null 2>&1 || echo shared-mime-info
        command -v man >/dev/null 2>&1 || echo man-db
        command -v zsh >/dev/null 2>&1 || echo zsh
        # What screen readers see is looked at through their own bus.
        command -v dbus-run-session >/dev/null 2>&1 || echo dbus
        [ -e /usr/libexec/at-spi-bus-launcher ] || echo at-spi2-core
        /usr/bin/python3 -c 'import gi; gi.require_version("Atspi", "2.0")' 2>/dev/null || echo python3-gi gir1.2-atspi-2.0
    fi
    known=$( (PATH=$PATH:/sbin:/usr/sbin ldconfig -p) 2>/dev/null) || return 0
    [ -n "$known" ] || return 0
    qt_libraries | while read -r lib package; do
        case "$known" in
            *"$lib "*) ;;
            *) echo "$package" ;;
        esac
    done
}

# Names the packages that are missing with the one line that brings them; as root, brings them.
need_packages() {
    [ $# -eq 0 ] && return 0
    if [ "$(id -u)" -eq 0 ] && command -v apt-get >/dev/null 2>&1; then
        say "installing $# system packages: $*"
        if apt-get update -q >/dev/null 2>&1 &&
            DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "$@" >/dev/null; then
            return 0
        fi
        say "they could not be installed. Is this machine offline?"
    fi
    say "system packages are missing. Install them with this line, then start again:"
    echo "    sudo apt-get install $*" >&2
    exit 1
}

# What tells this environment from one made elsewhere: its place, the Python it stands on, the kind of machine.
here_and_now() {
    echo "$(pwd -P) $(uname -m) $("$1" -c 'import sys; print(sys.version.split()[0], sys.base_prefix)' 2>&1)"
}

# Whether there is an environment that was made whole, here, with this Python, and still works.
is_sound() {
    [ -f "$venv/even-stance-made" ] && [ ! -e "$venv/even-stance-unfinished" ] &&
        [ "$(cat "$venv/even-stance-made")" = "$(here_and_now "$1")" ] &&
        [ "$(here_and_now "$venv/bin/python")" = "$(here_and_now "$1")" ] &&
        "$venv/bin/python" -m pip --version >/dev/null 2>&1
}

make_environment() {
    local python=$1
    is_sound "$python" && return 0
    [ -e "$venv" ] && say "the environment in $venv was moved, is of another system or was never finished: made anew."
    rm -rf "$venv"
    say "making the environment (1 of 3)"
    "$python" -m venv "$venv" || {
        say "the environment could not be made: see the words above."
        exit 1
    }
    here_and_now "$python" >"$venv/even-stance-made"
}

install_packages() {
    local target=$1 log=$venv/even-stance-log
    say "fetching and installing packages (2 of 3): some minutes the first time"
    touch "$venv/even-stance-unfinished"
    if ! "$venv/bin/python" -m pip install --disable-pip-version-check --no-input --retries 2 --progress-bar off \
        -c constraints.txt -e "$target" 2>&1 | tee "$log" |
        awk '/^Collecting / {print "    " $2; fflush()} /^Installing collected/ {print "    installing all of them"; fflush()}' >&2 ||
        [ ! -s "$log" ] || ! grep -q -e '^Successfully installed' "$log"; then
        if grep -q -e 'new connection' -e 'name resolution' -e 'unreachable' -e 'Connection refused' -e 'timed out' \
            -e 'No matching distribution' "$log"; then
            say "this machine is offline, or cannot reach its Python package index. Connect it, then start again."
        else
            say "the packages could not be installed. The last words of pip:"
            tail -n 5 "$log" >&2
        fi
        exit 1
    fi
    rm -f "$venv/even-stance-unfinished"
}

setup() {
    local what=$1 python stamp wanted target
    python=$(find_python) || python=""
    stamp=$venv/even-stance-$what
    wanted=$(cat pyproject.toml constraints.txt | sha256sum)
    if [ -n "$python" ] && [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ] && is_sound "$python"; then
        return 0
    fi
    # shellcheck disable=SC2046
    need_packages $(missing_packages "$python" "$what")
    python=$(find_python) || {
        say "Python 3.11 or newer is needed; this machine has $(python3 --version 2>&1)."
        exit 1
    }
    make_environment "$python"
    target=.
    [ "$what" = test ] && target='.[test]'
    install_packages "$target"
    say "looking whether it works (3 of 3)"
    QT_QPA_PLATFORM=offscreen "$venv/bin/python" -c 'import numpy, scipy, PyQt6.QtWidgets' || {
        say "the packages are there but do not load: see the words above."
        exit 1
    }
    echo "$wanted" >"$stamp"
}
