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

# What is tried, under which name its words are kept, and the command.
try_it() {
    local what=$1 log=$2 code
    shift 2
    "$@" >"$work/$log.log" 2>&1 && code=0 || code=$?
    told 0 "$what" "$code"
}

try_suite() {
    local suite=$1 root package demo=/usr/lib/even-stance/even_stance/demo
    echo "$suite"
    root=$work/$suite-build
    lay_out "$root" "$suite" || { echo "  the bare system could not be laid out"; failed=1; return; }
    try_it "what building takes is there" "$suite-tools" as_root \
        "$apt update && DEBIAN_FRONTEND=noninteractive $apt install --no-install-recommends python3-pip lintian"
    try_it "the package is built" "$suite-build" as_root \
        "cd ~/even-stance && PIP_BREAK_SYSTEM_PACKAGES=1 PYTHON=/usr/bin/python3 scripts/debian_package.sh ~/made"
    try_it "lintian has nothing to say" "$suite-lintian" as_root 'lintian --allow-root --fail-on error,warning ~/made/*.deb'
    package=$(ls "$root"/root/made/*.deb)
    put_away "$root"

    root=$work/$suite
    lay_out "$root" "$suite" || { failed=1; return; }
    cp "$package" "$root/srv/even-stance.deb"
    try_it "installed with all it needs" "$suite-install" as_root \
        "$apt update && DEBIAN_FRONTEND=noninteractive $apt install --no-install-recommends /srv/even-stance.deb"
    try_it "an ordinary user is told its version" "$suite-version" as_shop 'even-stance --version'
    try_it "it answers for a demo job" "$suite-answers" as_shop \
        "cd && even-stance answers $demo/1-trail-pickup.stance >answers.json && python3 -m json.tool answers.json"
    try_it "it writes a report" "$suite-paper" as_shop \
        "cd && even-stance paper report $demo/2-street-coupe.stance report.pdf && head -c 5 report.pdf"
    try_it "its window opens on every main view" "$suite-shots" as_shop \
        'cd && QT_QPA_PLATFORM=offscreen even-stance shots shots && ls shots/links.png'
    try_it "taken out again without a trace" "$suite-purge" as_root \
        "$apt purge even-stance && [ ! -e /usr/lib/even-stance ] && [ ! -e /usr/bin/even-stance ]"
    put_away "$root"
}

for suite in "${@:-bookworm trixie}"; do
    for each in $suite; do try_suite "$each"; done
done
ended
