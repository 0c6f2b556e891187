# The whole database to a file, and back; there is no other state but the secret key.

backup() {
    local file=${1:-}
    [ -n "$file" ] || fail "name the file to write: ./voltaje backup FILE"
    need_postgres
    (umask 077 && touch "$file.new")
    "$PG_BIN/pg_dump" --format=custom --no-owner --no-privileges --file="$file.new" "$DATABASE_URL" \
        || { rm -f "$file.new"; fail "the backup was not written"; }
    mv "$file.new" "$file"
    say "written: $file ($(du -h "$file" | cut -f 1)). Keep .local/secret_key or VOLTAJE_SECRET_KEY beside it"
}

# All or nothing: what there was is taken away and what the file holds is put in its place in one transaction.
restore() {
    local file=${1:-} served="" before
    [ -n "$file" ] || fail "name the file to read: ./voltaje restore FILE"
    need_postgres
    "$PG_BIN/pg_restore" --list "$file" >/dev/null 2>&1 || fail "$file is not a backup made by ./voltaje backup"
    before="$VOLTAJE_LOCAL/before-restore-$(date +%Y%m%d-%H%M%S).backup"
    backup "$before"
    ! serving_pid >/dev/null || served=yes
    stop_serving
    {
        echo 'DROP SCHEMA public CASCADE; CREATE SCHEMA public;'
        "$PG_BIN/pg_restore" --no-owner --no-privileges --file=- "$file"
    } | PGOPTIONS="-c client_min_messages=warning" "$PG_BIN/psql" -q -v ON_ERROR_STOP=1 --single-transaction "$DATABASE_URL" >/dev/null \
        || fail "nothing was restored: what there was is as it was"
    prepare ""
    say "restored from $file; what there was before is in $before"
    [ -z "$served" ] || { serve; announce ""; }
}
