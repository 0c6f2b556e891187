# A PostgreSQL cluster of its own: on loopback, own port, own password, never as root.

find_postgres() {
    PG_BIN=$(find /usr/lib/postgresql -mindepth 2 -maxdepth 2 -name bin 2>/dev/null | sort -V | tail -n 1)
    [ -n "$PG_BIN" ] && [ -x "$PG_BIN/initdb" ]
}

need_postgres() {
    find_postgres || { install_debian postgresql; find_postgres || fail "PostgreSQL is installed but has no initdb"; }
}

# Run as the database's user: the person, or postgres where the person is root.
as_database_user() {
    if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi
}

# The data lie under .local/, or in a folder of their own where the database's user cannot enter the clone.
choose_data_folder() {
    PG_DATA="$VOLTAJE_LOCAL/postgres"
    if [ "$(id -u)" = 0 ] && ! runuser -u postgres -- test -x "$VOLTAJE_LOCAL" 2>/dev/null; then
        PG_DATA="/var/lib/voltaje/$(printf '%s' "$VOLTAJE_LOCAL" | sha256sum | cut -c 1-12)"
        [ -d "$PG_DATA" ] || say "the database's user cannot enter this folder: data go to $PG_DATA"
    fi
}

make_cluster() {
    say "making a database cluster in $PG_DATA"
    local words="$PG_DATA.words"
    mkdir -p "$PG_DATA"
    cp "$VOLTAJE_LOCAL/database_password" "$words"
    chmod 700 "$PG_DATA"
    [ "$(id -u)" != 0 ] || chown postgres "$PG_DATA" "$words"
    (cd / && as_database_user "$PG_BIN/initdb" -D "$PG_DATA" -U voltaje --pwfile="$words" \
        --auth=scram-sha-256 --encoding=UTF8 --locale=C.UTF-8 >/dev/null) || fail "initdb failed in $PG_DATA"
    rm -f "$words"
}

free_port() {
    "$VOLTAJE_ROOT/.venv/bin/python" - "$1" <<'PY'
import socket, sys
port = int(sys.argv[1])
while True:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
            break
        except OSError:
            port += 1
print(port)
PY
}

# The port it had, once what held it has gone; another where that stays taken.
keep_or_find_port() {
    local had try
    had=$(cat "$1" 2>/dev/null || echo 54329)
    for try in $(seq 10); do
        [ "$(free_port "$had")" != "$had" ] || break
        [ -e "$1" ] || break
        sleep 0.3
    done
    free_port "$had" >"$1.new" && mv "$1.new" "$1"
}

# Whether the process that postmaster.pid names is a PostgreSQL: after a crash its number may be another's, or a zombie's.
postmaster_runs() {
    local pid
    pid=$(as_database_user head -n 1 "$PG_DATA/postmaster.pid" 2>/dev/null) || return 1
    { tr "\0" " " <"/proc/$pid/cmdline"; } 2>/dev/null | grep -qF "postgres -D $PG_DATA "
}

start_postmaster() {
    (cd / && as_database_user "$PG_BIN/pg_ctl" -D "$PG_DATA" -s -w -l "$PG_DATA/server.log" \
        -o "-p $1 -c listen_addresses=127.0.0.1 -c unix_socket_directories=''" start 9>&- >/dev/null 2>&1)
}

start_database() {
    local port_file="$VOLTAJE_LOCAL/database_port" try
    if as_database_user test -e "$PG_DATA/postmaster.pid" && ! postmaster_runs; then
        say "the database ended without a word the last time; it recovers"
        as_database_user rm -f "$PG_DATA/postmaster.pid"
    fi
    postmaster_runs && return 0
    # What an ended database left behind may need a moment to go; a port that was free may have been taken since.
    for try in 1 2 3 4 5; do
        keep_or_find_port "$port_file"
        say "starting the database on 127.0.0.1:$(cat "$port_file")"
        ! start_postmaster "$(cat "$port_file")" || return 0
        sleep 2
    done
    fail "PostgreSQL did not start ($try tries); its log is $PG_DATA/server.log"
}

# After a crash it first makes good what was under way.
wait_for_database() {
    local try
    for try in $(seq 100); do
        ! "$PG_BIN/psql" -q "$(own_url postgres)" -c '' >/dev/null 2>&1 || return 0
        sleep 0.3
    done
    fail "the database does not take connections; its log is $PG_DATA/server.log"
}

own_url() {
    printf 'postgres://voltaje:%s@127.0.0.1:%s/%s' \
        "$(cat "$VOLTAJE_LOCAL/database_password")" "$(cat "$VOLTAJE_LOCAL/database_port")" "$1"
}

setup_database() {
    need_postgres
    choose_data_folder
    secret_file "$VOLTAJE_LOCAL/database_password" 32
    as_database_user test -s "$PG_DATA/PG_VERSION" || make_cluster
    start_database
    wait_for_database
    DATABASE_URL=$(own_url voltaje)
    export DATABASE_URL
    if ! "$PG_BIN/psql" -q "$DATABASE_URL" -c '' >/dev/null 2>&1; then
        "$PG_BIN/psql" -q "$(own_url postgres)" -c 'CREATE DATABASE voltaje' >/dev/null || fail "could not make the database"
    fi
}

# The database to work on: the outside one that was named, else the own one.
reach_database() {
    if [ -z "${DATABASE_URL:-}" ]; then
        setup_database
    else
        local why
        why=$("$VOLTAJE_ROOT/.venv/bin/python" -m web.config.reach 2>&1) || fail "$why"
    fi
}

stop_database() {
    find_postgres || return 0
    choose_data_folder
    if as_database_user test -s "$PG_DATA/PG_VERSION" && postmaster_runs; then
        (cd / && as_database_user "$PG_BIN/pg_ctl" -D "$PG_DATA" -s -m fast -w stop)
        say "the database is stopped; its data stay in $PG_DATA"
    fi
}
