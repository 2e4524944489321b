# Sourced by start, test and screenshots: system libraries, the environment in .venv, compiled kernels.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
unset PYTHONDONTWRITEBYTECODE # what is compiled is kept: a start takes a second less

QT_PACKAGES="libegl1 libgl1 libopengl0 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libglib2.0-0 libxcb-cursor0 libxcb-icccm4 \
libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1"

need_packages() { # Debian packages: install what is missing when root, else print the exact command
    command -v dpkg-query >/dev/null || return 0
    local missing="" name
    for name in "$@"; do
        dpkg-query -W -f '${Status}' "$name" 2>/dev/null | grep -q "ok installed" || missing="$missing $name"
    done
    [ -z "$missing" ] && return 0
    if [ "$(id -u)" = 0 ]; then
        echo "Installing system packages:$missing"
        apt-get update -qq >/dev/null
        DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
    else
        echo "System packages are missing. Run this once, then try again:" >&2
        echo "    sudo apt-get install$missing" >&2
        exit 1
    fi
}

find_python() { # the newest Python from 3.11 on
    local name
    for name in python3.13 python3.12 python3.11 python3; do
        if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$name"
            return 0
        fi
    done
    echo "Python 3.11 or newer is needed and was not found." >&2
    return 1
}

make_environment() { # $1: nothing, or [dev]
    local python stamp
    stamp="$(cat pyproject.toml constraints.txt | sha256sum | cut -c1-16)$1"
    if [ -f ".venv/stamp$1" ] && [ "$(cat ".venv/stamp$1")" = "$stamp" ]; then return 0; fi
    if [ ! -x .venv/bin/python ]; then
        python=$(find_python)
        "$python" -c 'import ensurepip, venv' 2>/dev/null || need_packages python3-venv
        echo "Making the environment in .venv (once, a few minutes)"
        "$python" -m venv .venv
    fi
    .venv/bin/python -m pip install -q -q --disable-pip-version-check -c constraints.txt -e ".$1"
    echo "$stamp" > ".venv/stamp$1"
}

warm_kernels() { # compile the painter's kernels once; they are cached for this user
    .venv/bin/python -m under_lattice.render.warm
}
