# Sourced by demo.sh and test.sh: a private virtual environment with the pinned packages, made once.
# "setup run" brings what the app needs, "setup test" the test tools as well.

venv=.venv

# Names the Debian packages that are missing with the one line that brings them; as root, brings them.
need_debian_packages() {
    [ $# -eq 0 ] && return 0
    if [ "$(id -u)" -eq 0 ] && command -v apt-get >/dev/null; then
        echo "Installing system packages: $*"
        apt-get update -q >/dev/null && DEBIAN_FRONTEND=noninteractive apt-get install -y -q "$@" >/dev/null && return 0
    fi
    echo "Even Stance needs system packages that are not here. Install them with this line, then start again:" >&2
    echo "    sudo apt-get install $*" >&2
    exit 1
}

find_python() {
    for candidate in python3 python3.13 python3.12 python3.11; do
        if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            echo "$candidate"
            return 0
        fi
    done
    return 1
}

# The Debian packages that hold the shared libraries which Qt's own plugins ask for and the loader cannot find.
missing_qt_packages() {
    local qt
    qt=$("$venv/bin/python" -c 'import importlib.util as u, pathlib; print(pathlib.Path(u.find_spec("PyQt6").origin).parent / "Qt6")')
    ldd "$qt"/plugins/platforms/libqxcb.so "$qt"/plugins/platforms/libqoffscreen.so "$qt"/lib/libQt6Widgets.so.6 2>/dev/null |
        awk '/not found/ {print $1}' | sort -u | while read -r lib; do
        case "$lib" in
            libEGL.so.1) echo libegl1 ;;
            libGL.so.1) echo libgl1 ;;
            libxcb-cursor.so.0) echo libxcb-cursor0 ;;
            libxcb-icccm.so.4) echo libxcb-icccm4 ;;
            libxcb-image.so.0) echo libxcb-image0 ;;
            libxcb-keysyms.so.1) echo libxcb-keysyms1 ;;
            libxcb-render-util.so.0) echo libxcb-render-util0 ;;
            libxcb-randr.so.0) echo libxcb-randr0 ;;
            libxcb-render.so.0) echo libxcb-render0 ;;
            libxcb-shape.so.0) echo libxcb-shape0 ;;
            libxcb-shm.so.0) echo libxcb-shm0 ;;
            libxcb-sync.so.1) echo libxcb-sync1 ;;
            libxcb-xfixes.so.0) echo libxcb-xfixes0 ;;
            libxcb-xkb.so.1) echo libxcb-xkb1 ;;
            libxcb.so.1) echo libxcb1 ;;
            libX11-xcb.so.1) echo libx11-xcb1 ;;
            libX11.so.6) echo libx11-6 ;;
            libxkbcommon.so.0) echo libxkbcommon0 ;;
            libxkbcommon-x11.so.0) echo libxkbcommon-x11-0 ;;
            libfontconfig.so.1) echo libfontconfig1 ;;
            libfreetype.so.6) echo libfreetype6 ;;
            libdbus-1.so.3) echo libdbus-1-3 ;;
            libglib-2.0.so.0 | libgthread-2.0.so.0) echo libglib2.0-0 ;;
            libz.so.1) echo zlib1g ;;
        esac
    done | sort -u
}

setup() {
    local what=$1 python stamp wanted
    python=$(find_python) || { need_debian_packages python3 python3-venv; python=$(find_python); } || {
        echo "Even Stance needs Python 3.11 or newer; this machine has $(python3 --version 2>&1)." >&2
        exit 1
    }
    stamp=$venv/even-stance-$what
    wanted=$(cat pyproject.toml constraints.txt | sha256sum)
    [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ] && return 0
    "$python" -c 'import ensurepip, venv' 2>/dev/null || need_debian_packages python3-venv
    [ -x "$venv/bin/python" ] || "$python" -m venv "$venv"
    echo "Setting up Even Stance ($what): this happens once."
    local target=.
    [ "$what" = test ] && target='.[test]'
    "$venv/bin/pip" install -q --disable-pip-version-check -c constraints.txt -e "$target" || {
        echo "The packages could not be installed: see pip's words above, then start again." >&2
        exit 1
    }
    # shellcheck disable=SC2046
    need_debian_packages $(missing_qt_packages)
    echo "$wanted" >"$stamp"
}
