#!/usr/bin/env bash
# Keep a command running: when it ends, by itself or by a crash, it begins again. TERM ends both, HUP begins it anew.
ended="" child=""
trap 'ended=yes; kill "$child" 2>/dev/null' TERM
trap 'kill "$child" 2>/dev/null' HUP
while [ -z "$ended" ]; do
    "$@" &
    child=$!
    while kill -0 "$child" 2>/dev/null; do wait "$child"; done
    [ -n "$ended" ] || sleep 2
done
