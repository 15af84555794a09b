# Sourced by ./start and ./check. `setup run` or `setup check` brings the machine to where Sornix
# works: a private .venv with the pinned packages, and the system libraries that Qt links to.
# What was done is remembered in .venv, so that a second run costs only a few checksums.

HERE=$PWD

# apt_install PACKAGE…: through apt as root, otherwise prints the exact line to type and stops.
apt_install() {
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        echo "Installing system packages: $*"
        apt-get update -qq >/dev/null && DEBIAN_FRONTEND=noninteractive \
            apt-get install -y -qq --no-install-recommends "$@" >/dev/null && return
        echo "apt could not install: $*" >&2
    fi
    echo "Sornix needs system packages that only an administrator can install. Please type:" >&2
    echo "    sudo apt-get update && sudo apt-get install --no-install-recommends $*" >&2
    echo "and start again." >&2
    exit 1
}

find_python() {
    local candidate
    for candidate in python3 python3.11 python3.12 python3.13; do
        if command -v "$candidate" >/dev/null &&
            "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
            echo "$candidate"
            return
        fi
    done
    echo "Sornix needs Python 3.11 or newer, and none was found." >&2
    return 1
}

setup() {
    local kind=$1 python stamp now
    now=$(cat requirements/*.lock pyproject.toml tools/setup.sh tools/system_packages.py |
        sha256sum | cut -d' ' -f1)
    stamp=.venv/ready-for-$kind
    if [ "$(cat "$stamp" 2>/dev/null)" = "$now $HERE" ]; then
        return
    fi
    if ! { .venv/bin/python -c 'import pip' && [ "$(cat .venv/made-at)" = "$HERE" ]; } 2>/dev/null; then
        rm -rf .venv
        python=$(find_python)
        "$python" -c 'import ensurepip, venv' 2>/dev/null || apt_install python3-venv
        echo "Making a private Python environment in .venv"
        "$python" -m venv .venv
        echo "$HERE" >.venv/made-at
    fi
    echo "Installing the pinned packages (a minute or two the first time)"
    .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes \
        -r "requirements/$kind.lock"
    .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-index \
        --no-build-isolation -e .
    # Python is not let write compiled modules everywhere, and they halve the time to the window
    .venv/bin/python -m compileall -q src
    local missing
    missing=$(.venv/bin/python tools/system_packages.py "$kind")
    # shellcheck disable=SC2086 # one word a package
    [ -z "$missing" ] || apt_install $missing
    echo "$now $HERE" >"$stamp"
}
