# Words to the person, all on stderr, and the lock that keeps two set-ups apart.

say() { printf 'voltaje: %s\n' "$*" >&2; }

fail() {
    printf 'voltaje: cannot go on: %s\n' "$*" >&2
    exit 1
}

lock() {
    mkdir -p "$VOLTAJE_LOCAL"
    exec 9>"$VOLTAJE_LOCAL/lock"
    flock 9
}

unlock() { exec 9>&-; }

# Make a file with a random word in it, readable by its owner only, unless it is there.
secret_file() {
    [ -s "$1" ] || (umask 077 && head -c 48 /dev/urandom | base64 | tr -dc 'a-zA-Z0-9' | cut -c "1-$2" >"$1")
}
