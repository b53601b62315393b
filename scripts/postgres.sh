#!/usr/bin/env bash
# Run a command with TEST_DATABASE_URL naming a PostgreSQL of its own: on this machine's loopback address alone, in a
# folder that goes when the command ends. PostgreSQL runs under no root; where we are root, Debian's `postgres` runs it.
set -euo pipefail
bin=$(ls -d /usr/lib/postgresql/*/bin | tail -1)
here=$(mktemp -d /tmp/elder-postgres.XXXXXX)
port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
as() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }
if [ "$(id -u)" = 0 ]; then chown postgres "$here"; fi
end() { as "$bin/pg_ctl" -D "$here/data" -m immediate stop >/dev/null 2>&1 || true; rm -rf "$here"; }
trap end EXIT
(cd "$here" && as "$bin/initdb" -D "$here/data" -U elder --auth=trust --encoding=UTF8 --locale=C.UTF-8 >/dev/null)
# Nothing it holds is to last: it need not wait for the disk.
(cd "$here" && as "$bin/pg_ctl" -D "$here/data" -w -l "$here/log" \
  -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories=$here -c fsync=off -c max_connections=120" \
  start >/dev/null)
export TEST_DATABASE_URL="postgres://elder@127.0.0.1:$port/postgres"
"$@"
