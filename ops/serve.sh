# Migrate, serve with gunicorn, say where.

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

serving_pid() {
    local pid
    pid=$(cat "$VOLTAJE_LOCAL/web.pid" 2>/dev/null) || return 1
    tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -q 'gunicorn.*web\.config\.wsgi' || return 1
    echo "$pid"
}

serve() {
    local pid port
    if pid=$(serving_pid); then
        kill -HUP "$pid"
        say "already serving; the workers take up what changed"
    else
        port=$(free_port "${VOLTAJE_PORT:-$(cat "$VOLTAJE_LOCAL/web_port" 2>/dev/null || echo 8321)}")
        echo "$port" >"$VOLTAJE_LOCAL/web_port"
        # A process of its own: it holds neither the lock nor the person's terminal.
        setsid "$VOLTAJE_ROOT/.venv/bin/gunicorn" web.config.wsgi --chdir "$VOLTAJE_ROOT" --bind "${VOLTAJE_BIND:-127.0.0.1}:$port" \
            --workers 2 --threads 4 --no-control-socket --pid "$VOLTAJE_LOCAL/web.pid" --access-logfile - --error-logfile - \
            >>"$VOLTAJE_LOCAL/web.log" 2>&1 </dev/null 9>&- &
    fi
    wait_until_it_answers "$(cat "$VOLTAJE_LOCAL/web_port")" || fail "the server does not answer; its log is $VOLTAJE_LOCAL/web.log"
}

wait_until_it_answers() {
    "$VOLTAJE_ROOT/.venv/bin/python" - "$1" <<'PY'
import sys, time, urllib.error, urllib.request
for attempt in range(150):
    try:
        urllib.request.urlopen(f"http://127.0.0.1:{sys.argv[1]}/health/", timeout=5)
        sys.exit(0)
    except (OSError, urllib.error.URLError):
        time.sleep(0.2)
sys.exit(1)
PY
}

announce() {
    printf 'Voltaje is at http://127.0.0.1:%s/\n' "$(cat "$VOLTAJE_LOCAL/web_port")"
    [ -z "$1" ] || printf 'Demo account: demo, password: %s\n' "$(cat "$VOLTAJE_LOCAL/demo_password")"
}

stop_serving() {
    local pid
    if pid=$(serving_pid); then
        kill "$pid"
        while kill -0 "$pid" 2>/dev/null; do sleep 0.1; done
        say "the server is stopped"
    fi
}
