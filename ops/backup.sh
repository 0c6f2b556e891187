# The whole database to a file, and back; there is no other state but the secret key.
#
# The file is one line, padded to 128 bytes, with the checksum of what follows: a dump in PostgreSQL's custom format.

HEAD_BYTES=128
HEAD_WORDS="voltaje-backup 1 sha256"

backup() {
    local file=${1:-} sum
    [ -n "$file" ] || fail "name the file to write: ./voltaje backup FILE"
    need_postgres
    (umask 077 && : >"$file.dump" && : >"$file.new") || fail "$file cannot be written"
    if ! "$PG_BIN/pg_dump" --format=custom --no-owner --no-privileges --file="$file.dump" "$DATABASE_URL"; then
        rm -f "$file.dump" "$file.new"
        fail "the backup was not written"
    fi
    sum=$(sha256sum <"$file.dump" | cut -d ' ' -f 1)
    # What is read again is what stands in the file, not what was meant to.
    if ! { printf "%-$((HEAD_BYTES - 1))s\n" "$HEAD_WORDS $sum" && cat "$file.dump"; } >"$file.new" \
        || ! verified "$file.new"; then
        rm -f "$file.dump" "$file.new"
        fail "the backup was not written: what was read back is not what was dumped; is the disk full?"
    fi
    rm -f "$file.dump"
    mv "$file.new" "$file"
    say "written and read back: $file ($(du -h "$file" | cut -f 1)). Keep .local/secret_key or VOLTAJE_SECRET_KEY beside it"
}

# Print the dump that a backup holds. Backups of earlier versions are the bare dump.
dump_in() {
    if [ "$(head -c "${#HEAD_WORDS}" "$1" | tr -d '\0')" = "$HEAD_WORDS" ]; then tail -c "+$((HEAD_BYTES + 1))" "$1"; else cat "$1"; fi
}

# Whether a backup is whole: its checksum, and every row of it read.
verified() {
    local said
    if [ "$(head -c "${#HEAD_WORDS}" "$1" | tr -d '\0')" = "$HEAD_WORDS" ]; then
        said=$(head -c "$HEAD_BYTES" "$1" | cut -d ' ' -f 4)
        [ "$(dump_in "$1" | sha256sum | cut -d ' ' -f 1)" = "$said" ] || return 1
    fi
    dump_in "$1" | "$PG_BIN/pg_restore" --no-owner --file=- >/dev/null 2>&1
}

# All or nothing: what there was is taken away and what the file holds is put in its place in one transaction.
put_in_place() {
    {
        echo 'DROP SCHEMA public CASCADE; CREATE SCHEMA public;'
        dump_in "$1" | "$PG_BIN/pg_restore" --no-owner --no-privileges --file=-
    } | PGOPTIONS="-c client_min_messages=warning" "$PG_BIN/psql" -q -v ON_ERROR_STOP=1 --single-transaction "$DATABASE_URL" >/dev/null
}

# Whatever goes wrong, what served before serves again, with what there was.
restore() {
    local file=${1:-} served="" before why=""
    [ -n "$file" ] || fail "name the file to read: ./voltaje restore FILE"
    [ -r "$file" ] || fail "there is no file $file that can be read"
    need_postgres
    [ "$(dump_in "$file" 2>/dev/null | head -c 5 | tr -d '\0')" = PGDMP ] || fail "$file is not a backup made by ./voltaje backup"
    verified "$file" || fail "$file is damaged or cut short: its checksum or its rows do not hold. Nothing was touched"
    before="$VOLTAJE_LOCAL/before-restore-$(date +%Y%m%d-%H%M%S).backup"
    backup "$before"
    ! serving_pid >/dev/null || served=yes
    stop_serving
    if ! put_in_place "$file"; then
        why="nothing was restored: what there was is as it was"
    elif ! (prepare ""); then
        put_in_place "$before" || fail "$file could not be brought up to date, and $before could not be put back: restore it by hand"
        why="$file could not be brought up to date by this version: what there was is back"
    else
        say "restored from $file; what there was before is in $before"
    fi
    [ -z "$served" ] || { serve; announce ""; }
    [ -z "$why" ] || fail "$why"
}
