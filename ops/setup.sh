# What the machine must have: Debian packages, a Python, the virtual environment.

install_debian() {
    command -v apt-get >/dev/null || fail "please install: $*"
    local as_root=""
    if [ "$(id -u)" != 0 ]; then
        command -v sudo >/dev/null || fail "as root, please run: apt-get install --no-install-recommends $*"
        as_root=sudo
    fi
    say "installing Debian packages: $*"
    $as_root apt-get update -qq >&2 || fail "apt-get update failed"
    DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "$@" >&2 \
        || fail "apt-get could not install: $*"
}

# Print a Python of 3.11 or later that can make virtual environments.
find_python() {
    local name
    for name in python3.11 python3 python3.12 python3.13; do
        if "$name" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$name"
            return
        fi
    done
    return 1
}

# setup_venv run|test: the virtual environment with the packages of that lock file; quick when nothing changed.
setup_venv() {
    local locked="$VOLTAJE_ROOT/requirements/$1.txt" python stamp have
    stamp=$(sha256sum <"$locked")
    for have in "$VOLTAJE_ROOT/.venv/.$1" "$VOLTAJE_ROOT/.venv/.test"; do
        # The packages for testing hold those for running, in the same versions.
        if [ -e "$have" ] && [ "$(cat "$have")" = "$(sha256sum <"$VOLTAJE_ROOT/requirements/$(basename "$have" | tr -d .).txt")" ]; then
            return
        fi
    done
    python=$(find_python) || { install_debian python3 python3-venv; python=$(find_python) || fail "no Python 3.11 or later"; }
    say "making the virtual environment (once, a minute or two)"
    [ -x "$VOLTAJE_ROOT/.venv/bin/python" ] || "$python" -m venv "$VOLTAJE_ROOT/.venv" >&2 || fail "no virtual environment"
    "$VOLTAJE_ROOT/.venv/bin/python" -m pip install -qq --disable-pip-version-check --require-hashes -r "$locked" >&2 \
        || fail "pip could not install the packages of $locked"
    printf '%s\n' "$stamp" >"$VOLTAJE_ROOT/.venv/.$1"
}

# The browser, and what its driver needs that a bare Debian lacks.
setup_chromium() {
    command -v chromium >/dev/null || install_debian chromium
    ldconfig -p | grep -q 'libatomic\.so\.1' || install_debian libatomic1
}

# The circuit simulator that currents and voltage drop are checked against.
setup_simulator() {
    command -v ngspice >/dev/null || install_debian ngspice
}

secret_key() {
    secret_file "$VOLTAJE_LOCAL/secret_key" 50
    export VOLTAJE_SECRET_KEY="${VOLTAJE_SECRET_KEY:-$(cat "$VOLTAJE_LOCAL/secret_key")}"
}
