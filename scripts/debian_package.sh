#!/usr/bin/env bash
# Builds a Debian package with an environment of its own, for the Python of the system it is built on:
#
#     scripts/debian_package.sh [FOLDER]        even-stance_VERSION_ARCH.deb goes into FOLDER (dist unless named)
#
# Needs python3 with pip, dpkg-deb, gzip; the pinned packages are fetched as ./demo.sh fetches them. Nothing of the system's
# Python is touched: everything lies in /usr/lib/even-stance, and the program is started with that folder alone before it.
set -eu -o pipefail
cd "$(dirname "$0")/.."
out=$(mkdir -p "${1:-dist}" && cd "${1:-dist}" && pwd)
python=${PYTHON:-python3}
version=$("$python" -c 'import tomllib; print(tomllib.load(open("pyproject.toml", "rb"))["project"]["version"])')
arch=$(dpkg --print-architecture)
minor=$("$python" -c 'import sys; print(sys.version_info[1])')
work=$(mktemp -d "${TMPDIR:-/tmp}/even-stance-deb.XXXXXX")
trap 'rm -rf "$work"' EXIT
root=$work/root
lib=$root/usr/lib/even-stance

"$python" -m pip install --quiet --disable-pip-version-check --no-compile --no-input --target "$lib" -c constraints.txt . >&2
# What is only for those who build on these libraries, or test them.
find "$lib" -name '__pycache__' -prune -exec rm -rf {} +
find "$lib" -type d \( -name tests -o -name test -o -name include \) -path '*/numpy/*' -prune -exec rm -rf {} +
find "$lib" -type d -name tests -path '*/scipy/*' -prune -exec rm -rf {} +
rm -rf "$lib/bin" "$lib"/reportlab/fonts/*.pfb
# Of Qt what no widget needs: its other toolkits, films and sensors.
rm -rf "$lib/PyQt6/Qt6/qml"
for part in Bluetooth Designer Help Multimedia MultimediaWidgets Nfc Positioning Qml Quick Quick3D QuickWidgets RemoteObjects \
    Sensors SerialPort SpatialAudio Sql Test TextToSpeech WebChannel WebSockets StateMachine; do
    rm -f "$lib"/PyQt6/Qt"$part".abi3.so "$lib"/PyQt6/Qt"$part".pyi
done
rm -f "$lib"/PyQt6/Qt6/lib/libQt6{Bluetooth,Designer,Help,Multimedia,Nfc,Positioning,Quick,RemoteObjects,Sensors,SerialPort}*.so* \
    "$lib"/PyQt6/Qt6/lib/libQt6{ShaderTools,SpatialAudio,Sql,Test,TextToSpeech,WebChannel,WebSockets,StateMachine}*.so* \
    "$lib"/PyQt6/Qt6/lib/lib{avcodec,avformat,avutil,swscale,swresample}*.so*
rm -rf "$lib"/PyQt6/Qt6/plugins/{multimedia,sqldrivers,sensors,texttospeech,position,qmltooling,qmllint,designer}
find "$lib" -name '*.py' -type f -exec sed -i '1{/^#!/d}' {} +
find "$lib" \( -name '*.a' -o -name '*.la' -o -name '*.pyx' -o -name '*.pxd' -o -name 'direct_url.json' \) -delete
find "$lib" -type f -exec chmod 644 {} +

install -d "$root/usr/bin"
cat >"$root/usr/bin/even-stance" <<'LAUNCH'
#!/usr/bin/python3 -Es
import sys

sys.path.insert(0, "/usr/lib/even-stance")
sys.dont_write_bytecode = True

from even_stance.__main__ import main

sys.exit(main())
LAUNCH
chmod 755 "$root/usr/bin/even-stance"

share=src/even_stance/share
install -D -m 644 "$share/even-stance.desktop" "$root/usr/share/applications/even-stance.desktop"
install -D -m 644 "$share/even-stance.svg" "$root/usr/share/icons/hicolor/scalable/apps/even-stance.svg"
install -D -m 644 "$share/even-stance.xml" "$root/usr/share/mime/packages/even-stance.xml"
install -D -m 644 "$share/even-stance.metainfo.xml" "$root/usr/share/metainfo/org.evenstance.EvenStance.metainfo.xml"
install -D -m 644 "$share/even-stance.bash" "$root/usr/share/bash-completion/completions/even-stance"
install -D -m 644 "$share/_even-stance" "$root/usr/share/zsh/vendor-completions/_even-stance"
install -d "$root/usr/share/man/man1" "$root/usr/share/doc/even-stance" "$root/usr/share/lintian/overrides"
gzip -9 -n -c "$share/even-stance.1" >"$root/usr/share/man/man1/even-stance.1.gz"
{
    echo "even-stance ($version) stable; urgency=medium"
    echo
    echo "  * See CHANGELOG.md in the source."
    echo
    echo " -- Even Stance developers <developers@evenstance.invalid>  $(date -R -u -d "$(sed -n "s/^## $version (\(.*\))/\1/p" CHANGELOG.md)")"
} | gzip -9 -n >"$root/usr/share/doc/even-stance/changelog.gz"
{
    echo "Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/"
    echo "Upstream-Name: even-stance"
    echo
    echo "Files: *"
    echo "Copyright: 2026 Even Stance developers"
    echo "License: GPL-3+"
    echo " This program is free software: you can redistribute it and/or modify it under the terms of the GNU General Public"
    echo " License as published by the Free Software Foundation, either version 3 of the License, or (at your option) any"
    echo " later version. On Debian systems its text is in /usr/share/common-licenses/GPL-3."
    echo
    echo "Files: usr/lib/even-stance/*"
    echo "Copyright: 2026 and before, their own authors, named in the .dist-info folder of each"
    echo "License: their own"
    echo " Each library is shipped as published, with its license in its .dist-info folder; “even-stance” names them all under"
    echo " Job, About and licenses."
} >"$root/usr/share/doc/even-stance/copyright"
# Its own environment is the point of this package: libraries lie in it as they were published, not stripped either, which
# spoils those whose load segments were moved when their wheels were made.
cat >"$root/usr/share/lintian/overrides/even-stance" <<'LINTIAN'
even-stance: custom-library-search-path
even-stance: duplicate-font-file
even-stance: embedded-library
even-stance: library-not-linked-against-libc
even-stance: shared-library-lacks-prerequisites
even-stance: truetype-font-prohibits-installable-embedding
even-stance: unstripped-binary-or-object
even-stance: unstripped-static-library
even-stance: unusual-interpreter
LINTIAN
# Debian 12 has no such tag, and minds the name of one it does not know.
if ! command -v lintian-explain-tags >/dev/null || lintian-explain-tags appstream-metadata-validation-failed >/dev/null 2>&1; then
    {
        echo "# It has no page on the web that its metadata could name."
        echo "even-stance: appstream-metadata-validation-failed"
    } >>"$root/usr/share/lintian/overrides/even-stance"
fi

qt=$(. scripts/setup.sh && qt_libraries | awk '{print $2}' | sort -u | tr '\n' ',' | sed 's/,$//; s/,/, /g')
# Newer systems name the GLib library after its 64-bit times.
qt=${qt/libglib2.0-0/libglib2.0-0t64 | libglib2.0-0}
install -d "$root/DEBIAN"
{
    echo "Package: even-stance"
    echo "Version: $version"
    echo "Architecture: $arch"
    echo "Maintainer: Even Stance developers <developers@evenstance.invalid>"
    echo "Section: science"
    echo "Priority: optional"
    echo "Installed-Size: $(du -sk "$root/usr" | cut -f1)"
    echo "Depends: python3 (>= 3.$minor), python3 (<< 3.$((minor + 1))), libc6, libstdc++6, $qt"
    echo "Recommends: fontconfig"
    echo "Description: design and build solid-axle link suspensions"
    echo " Points taped on a car become a linkage, moved through everything it will do."
    echo " It answers in plain words: is it good, which hole to move and how far, how"
    echo " long to cut, what will hit, and how sure that is."
    echo " ."
    echo " Results are screening figures; qualified people, local codes and licensed"
    echo " engineers decide what may go on the road."
} >"$root/DEBIAN/control"
(cd "$root" && find usr -type f -print0 | sort -z | xargs -0 md5sum) >"$root/DEBIAN/md5sums"
find "$root" -type d -exec chmod 755 {} +
dpkg-deb --root-owner-group --build "$root" "$out/even-stance_${version}_${arch}.deb" >&2
echo "$out/even-stance_${version}_${arch}.deb"
