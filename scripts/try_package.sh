#!/usr/bin/env bash
# Builds the Debian package on a bare Debian, looks through it with lintian, and tries it on another bare one as a new user
# would: installed with all it needs, asked from the command line, its window opened, and taken out again without a trace.
# Takes some ten minutes a system.
#
#     scripts/try_package.sh [SUITE ...]        bookworm (12) and trixie (13) unless named
set -eu -o pipefail
cd "$(dirname "$0")/.."
. scripts/bare.sh
apt="apt-get -q -y -o Dpkg::Use-Pty=0 -o Dpkg::Options::=--force-confold"

try_suite() {
    local suite=$1 root code package
    echo "$suite"
    root=$work/$suite-build
    lay_out "$root" "$suite" || { echo "  the bare system could not be laid out"; failed=1; return; }
    as_root "$apt update && DEBIAN_FRONTEND=noninteractive $apt install --no-install-recommends python3-pip lintian" \
        >"$work/$suite-tools.log" 2>&1 && code=0 || code=$?
    told 0 "what building takes is there" "$code"
    as_root "cd ~/even-stance && PIP_BREAK_SYSTEM_PACKAGES=1 PYTHON=/usr/bin/python3 scripts/debian_package.sh /root/made" \
        >"$work/$suite-build.log" 2>&1 && code=0 || code=$?
    told 0 "the package is built" "$code"
    as_root 'lintian --allow-root --fail-on error,warning /root/made/*.deb' >"$work/$suite-lintian.log" 2>&1 && code=0 || code=$?
    told 0 "lintian has nothing to say" "$code"
    package=$(ls "$root"/root/made/*.deb)
    put_away "$root"

    root=$work/$suite
    lay_out "$root" "$suite" || { failed=1; return; }
    cp "$package" "$root/tmp/even-stance.deb"
    as_root "$apt update && DEBIAN_FRONTEND=noninteractive $apt install --no-install-recommends /tmp/even-stance.deb" \
        >"$work/$suite-install.log" 2>&1 && code=0 || code=$?
    told 0 "installed with all it needs" "$code"
    as_shop 'even-stance --version' >"$work/$suite-version.log" 2>&1 && code=0 || code=$?
    told 0 "an ordinary user is told its version" "$code"
    as_shop 'cd && even-stance answers /usr/lib/even-stance/even_stance/demo/1-trail-pickup.stance >answers.json && python3 -m json.tool answers.json' \
        >"$work/$suite-answers.log" 2>&1 && code=0 || code=$?
    told 0 "it answers for a demo job" "$code"
    as_shop 'cd && even-stance paper report /usr/lib/even-stance/even_stance/demo/2-street-coupe.stance report.pdf && head -c 5 report.pdf' \
        >"$work/$suite-paper.log" 2>&1 && code=0 || code=$?
    told 0 "it writes a report" "$code"
    as_shop 'cd && QT_QPA_PLATFORM=offscreen even-stance shots shots && ls shots/links.png' >"$work/$suite-shots.log" 2>&1 && code=0 || code=$?
    told 0 "its window opens on every main view" "$code"
    as_root "$apt purge even-stance && [ ! -e /usr/lib/even-stance ] && [ ! -e /usr/bin/even-stance ]" \
        >"$work/$suite-purge.log" 2>&1 && code=0 || code=$?
    told 0 "taken out again without a trace" "$code"
    put_away "$root"
}

for suite in "${@:-bookworm trixie}"; do
    for each in $suite; do try_suite "$each"; done
done
ended
