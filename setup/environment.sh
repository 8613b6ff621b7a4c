# Sourced by ./bench-lamp and ./test: makes the project's own Python environment.
# Needs python3 (3.11 or newer) with python3-venv; tells what else is missing, and asks before it
# installs anything of the system.

say() { printf '%s\n' "$*" >&2; }

# Shared libraries that Qt loads, with the Debian package each is in.
# Qt itself names only the first that fails, and often the wrong one.
BASE_LIBRARIES="libEGL.so.1:libegl1 libGL.so.1:libgl1 libglib-2.0.so.0:libglib2.0-0 \
libdbus-1.so.3:libdbus-1-3 libfontconfig.so.1:libfontconfig1 libxkbcommon.so.0:libxkbcommon0"
WINDOW_LIBRARIES="libxcb-cursor.so.0:libxcb-cursor0 libxcb-icccm.so.4:libxcb-icccm4 \
libxcb-keysyms.so.1:libxcb-keysyms1 libxcb-shape.so.0:libxcb-shape0 \
libxkbcommon-x11.so.0:libxkbcommon-x11-0"

find_python() {
    for name in python3 python3.13 python3.12 python3.11; do
        if command -v "$name" >/dev/null 2>&1 &&
            "$name" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$name"
            return 0
        fi
    done
    say "Python 3.11 or newer with venv is needed. On Debian or Ubuntu:"
    say "    sudo apt-get install python3 python3-venv"
    return 1
}

# missing_packages "lib:package ..." prints the packages whose library cannot be loaded.
missing_packages() {
    "$PYTHON" - "$1" <<'PY'
import ctypes, sys

for pair in sys.argv[1].split():
    library, package = pair.split(":")
    try:
        ctypes.CDLL(library)
    except OSError:
        print(package)
PY
}

# may_install WHAT: whether packages may be installed: asked for each time, unless CI or --yes says so.
may_install() {
    if [ -n "${CI:-}" ] || [ "${ASSUME_YES:-}" = 1 ]; then
        return 0
    fi
    if [ ! -t 0 ]; then
        return 1
    fi
    printf 'Install them now: %s? [y/N] ' "$1" >&2
    read -r reply || return 1
    case "$reply" in [yY]*) return 0 ;; *) return 1 ;; esac
}

install_packages() {
    packages=$(printf '%s ' $1)
    say "System libraries that Qt needs are missing: $packages"
    if ! command -v apt-get >/dev/null 2>&1; then
        say "Install them with this system's package manager, then start again."
        return 1
    fi
    # Newer Ubuntu releases carry glib under another name.
    if ! apt-cache show libglib2.0-0 >/dev/null 2>&1; then
        packages=$(printf '%s' "$packages" | sed 's/libglib2.0-0 /libglib2.0-0t64 /')
    fi
    as_root=
    if [ "$(id -u)" != 0 ]; then
        as_root=sudo
        if ! command -v sudo >/dev/null 2>&1; then
            say "Have somebody install them as root: apt-get install $packages"
            return 1
        fi
    fi
    if ! may_install "$as_root apt-get install $packages"; then
        say "Nothing was installed. Install them with: ${as_root:+sudo }apt-get install $packages"
        say "or start once more with --yes."
        return 1
    fi
    say "Installing them with apt-get ..."
    $as_root apt-get update -qq >&2 || true
    # shellcheck disable=SC2086
    DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends $packages >/dev/null 2>&1 || {
        say "apt-get could not install them. Try: ${as_root:+sudo }apt-get install $packages"
        return 1
    }
}

# check_libraries LISTS: make sure that every library can be loaded; looked at once per machine.
check_libraries() {
    stamp="$VENV/libraries-$(printf '%s' "$1" | cksum | cut -d' ' -f1)"
    [ -e "$stamp" ] && return 0
    missing=$(missing_packages "$1")
    if [ -n "$missing" ]; then
        install_packages "$missing" || return 1
        missing=$(missing_packages "$1")
        [ -z "$missing" ] || { say "Still missing: $missing"; return 1; }
    fi
    (: >"$stamp") 2>/dev/null || true
}

# is_usable WANTED: whether the environment is what is wanted, where it is, and whole: its own
# interpreter finds every package that the program imports, and loads one with compiled parts.
is_usable() {
    [ "$(cat "$VENV/wanted" 2>/dev/null)" = "$1" ] || return 1
    "$VENV/bin/python" - <<'PY' 2>/dev/null
import sys
from importlib.util import find_spec

NEEDED = ("PySide6.QtWidgets", "sqlalchemy", "alembic", "pydantic_core", "ruamel.yaml", "jinja2",
          "numpy", "bincopy", "platformdirs", "psycopg")
import msgspec._core

sys.exit(not all(find_spec(name) for name in NEEDED))
PY
}

# make_environment NAME LOCK: a virtual environment with exactly what the lock file names.
make_environment() {
    VENV="$ROOT/$1"
    lock="$ROOT/$2"
    # Whose interpreter is gone, is moved or half made, is made anew.
    wanted="$(cksum <"$lock") $VENV"
    if ! is_usable "$wanted"; then
        if [ ! -w "$ROOT" ]; then
            say "$ROOT cannot be written, and has no environment of its own yet."
            say "Copy it to a folder of yours and start it there, or install it: pipx install $ROOT"
            return 1
        fi
        (
            # Two first starts at once: the second waits, and finds the environment ready.
            if command -v flock >/dev/null 2>&1; then
                flock -n 9 || {
                    say "Another start sets it up; waiting for it ..."
                    flock 9
                }
            fi
            is_usable "$wanted" || set_up "$1" "$2" "$wanted"
        ) 9>"$ROOT/.setup.lock" || return 1
    fi
    if [ -w "$VENV" ]; then
        if [ ! -e "$VENV/compiled" ] ||
            [ -n "$(find "$ROOT/src" -name '*.py' -newer "$VENV/compiled" 2>/dev/null | head -n 1)" ]; then
            "$VENV/bin/python" -m compileall -q "$ROOT/src" >/dev/null 2>&1 || true
            (: >"$VENV/compiled") 2>/dev/null || true
        fi
    fi
    PYTHON="$VENV/bin/python"
    PYTHONPATH="$ROOT/src"
    export PYTHONPATH
}

# set_up NAME LOCK WANTED: make the environment from nothing; WANTED is written last.
set_up() {
    PYTHON=$(find_python) || return 1
    say "First start: setting up in $1 (about half a minute) ..."
    say "  1 of 3  making the Python environment"
    rm -rf "$VENV"
    "$PYTHON" -m venv "$VENV" || return 1
    say "  2 of 3  installing what $2 pins, with its hashes"
    "$VENV/bin/python" -m pip install --quiet --disable-pip-version-check --no-cache-dir \
        --only-binary :all: --require-hashes -r "$lock" || {
        say "The packages could not be installed; is the package index reachable?"
        return 1
    }
    say "  3 of 3  compiling"
    "$VENV/bin/python" -m compileall -q -j 0 "$VENV/lib" >/dev/null 2>&1 || true
    printf '%s' "$3" >"$VENV/wanted"
}
