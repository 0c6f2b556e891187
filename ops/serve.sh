# Migrate, serve with gunicorn, keep a worker for what takes long, say where.

prepare() {
    say "migrating"
    local arguments=()
    if [ -n "$1" ]; then
        secret_file "$VOLTAJE_LOCAL/demo_password" 16
        export VOLTAJE_DEMO_PASSWORD
        VOLTAJE_DEMO_PASSWORD=$(cat "$VOLTAJE_LOCAL/demo_password")
        arguments=(--demo)
    fi
    "$VOLTAJE_ROOT/.venv/bin/python" -m web.manage prepare "${arguments[@]}" >&2 || fail "the database could not be prepared"
}

# Print the number that a file holds if it is that of a process whose command line is such.
running() {
    local pid
    pid=$(cat "$1" 2>/dev/null) || return 1
    { tr '\0' ' ' <"/proc/$pid/cmdline"; } 2>/dev/null | grep -q "$2" || return 1
    echo "$pid"
}

serving_pid() { running "$VOLTAJE_LOCAL/web.pid" 'gunicorn.*web\.config\.wsgi'; }
worker_pid() { running "$VOLTAJE_LOCAL/worker.pid" 'ops/keep\.sh'; }

# Whether a process was begun for the database that is used now: after a crash that may be at another port.
for_this_database() { { tr '\0' '\n' <"/proc/$1/environ"; } 2>/dev/null | grep -qxF "DATABASE_URL=$DATABASE_URL"; }

# Whether a process does anything still: one that ended and waits to be taken note of does not.
alive() { { tr '\0' ' ' <"/proc/$1/cmdline"; } 2>/dev/null | grep -q .; }

end_and_wait() {
    kill "$1" 2>/dev/null || return 0
    while alive "$1"; do sleep 0.1; done
}

MOST_LOG=20000000 # bytes; a longer log begins anew, the last one is kept beside it
begin_log() {
    [ "$(stat -c %s "$1" 2>/dev/null || echo 0)" -lt "$MOST_LOG" ] || mv "$1" "$1.1"
    (umask 077 && touch "$1")
}

serve() {
    local try
    # Threads share few heaps: else each keeps what it once needed, and the processes grow.
    export MALLOC_ARENA_MAX=2
    if SERVER=$(serving_pid) && ! for_this_database "$SERVER"; then
        say "the server that runs knows another database: it ends"
        end_and_wait "$SERVER"
    fi
    if SERVER=$(serving_pid); then
        kill -HUP "$SERVER"
        say "already serving; the workers take up what changed"
    else
        begin_serving
    fi
    keep_worker
    # A port that was free may have been taken since: a server that ended as it began is begun once more.
    for try in 1 2 3; do
        ! wait_until_it_answers "$SERVER" "$(cat "$VOLTAJE_LOCAL/web_port")" || return 0
        ! alive "$SERVER" || break
        say "the server ended as it began (try $try)"
        [ "$try" = 3 ] || begin_serving
    done
    tail -n 20 "$VOLTAJE_LOCAL/web.log" >&2
    fail "the server does not answer; above is the end of its log, $VOLTAJE_LOCAL/web.log"
}

begin_serving() {
    local port
    # What a crash left behind may name a number that is another process's by now, and nothing begins beside it.
    rm -f "$VOLTAJE_LOCAL/web.pid"
    port=$(free_port "${VOLTAJE_PORT:-$(cat "$VOLTAJE_LOCAL/web_port" 2>/dev/null || echo 8321)}")
    echo "$port" >"$VOLTAJE_LOCAL/web_port"
    begin_log "$VOLTAJE_LOCAL/web.log"
    # A process of its own: it holds neither the lock nor the person's terminal.
    VOLTAJE_PORT=$port setsid "$VOLTAJE_ROOT/.venv/bin/gunicorn" web.config.wsgi --chdir "$VOLTAJE_ROOT" \
        --config "$VOLTAJE_ROOT/src/web/config/gunicorn.py" --pid "$VOLTAJE_LOCAL/web.pid" \
        >>"$VOLTAJE_LOCAL/web.log" 2>&1 </dev/null 9>&- &
    SERVER=$!
}

keep_worker() {
    local pid
    if pid=$(worker_pid); then
        if for_this_database "$pid"; then
            kill -HUP "$pid"
            return
        fi
        end_and_wait "$pid"
    fi
    begin_log "$VOLTAJE_LOCAL/worker.log"
    setsid bash "$VOLTAJE_ROOT/ops/keep.sh" "$VOLTAJE_ROOT/.venv/bin/python" -m web.manage work --max-tasks 100 \
        >>"$VOLTAJE_LOCAL/worker.log" 2>&1 </dev/null 9>&- &
    echo $! >"$VOLTAJE_LOCAL/worker.pid"
}

# A minute at most, and no longer than the process lives.
wait_until_it_answers() {
    "$VOLTAJE_ROOT/.venv/bin/python" - "$1" "$2" <<'PY'
import pathlib, sys, time, urllib.request
process = pathlib.Path("/proc", sys.argv[1], "cmdline")
for attempt in range(300):
    try:
        urllib.request.urlopen(f"http://127.0.0.1:{sys.argv[2]}/health/", timeout=5)
        sys.exit(0)
    except OSError:
        if not process.exists() or not process.read_bytes():
            sys.exit(1)
        time.sleep(0.2)
sys.exit(1)
PY
}

announce() {
    printf 'Voltaje is at http://127.0.0.1:%s/\n' "$(cat "$VOLTAJE_LOCAL/web_port")"
    [ -z "$1" ] || printf 'Demo account: demo, password: %s\n' "$(cat "$VOLTAJE_LOCAL/demo_password")"
}

# What is in flight is finished first.
stop_serving() {
    local pid
    if pid=$(worker_pid); then end_and_wait "$pid"; fi
    if pid=$(serving_pid); then
        end_and_wait "$pid"
        say "the server is stopped"
    fi
}
