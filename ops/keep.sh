#!/usr/bin/env bash
# Keep a command running: when it ends, by itself or by a crash, it begins again. TERM ends both, HUP begins it anew.
# However this script ends, the command ends with it: the kernel sends it TERM then.
ended="" child=""
trap 'ended=yes; kill "$child" 2>/dev/null' TERM
trap 'renewed=yes; kill "$child" 2>/dev/null' HUP

tell() {
    printf '{"at": "%s", "level": "%s", "name": "voltaje.worker", "message": "%s"}\n' "$(date -u '+%F %T,000')" "$1" "$2"
}

with_us=()
! command -v setpriv >/dev/null || with_us=(setpriv --pdeathsig TERM --)
while [ -z "$ended" ]; do
    renewed=""
    "${with_us[@]}" "$@" &
    child=$!
    while kill -0 "$child" 2>/dev/null; do wait "$child"; how=$?; done
    [ -z "$ended" ] || break
    if [ -n "$renewed" ] || [ "$how" = 0 ]; then
        tell INFO "the worker ended as it should; another begins"
    else
        tell WARNING "the worker died (exit $how); another begins in 2 s"
    fi
    sleep 2
done
