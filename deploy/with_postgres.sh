#!/bin/bash
# Run a command with a PostgreSQL of its own in DATABASE_URL: made in a folder that is thrown away.
set -euo pipefail
folder=$(mktemp -d /tmp/pelk-postgres.XXXXXX)
programs=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)
[ -n "$programs" ] || { echo "install Debian's postgresql first: apt-get install postgresql" >&2; exit 2; }
as_owner() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }
[ "$(id -u)" != 0 ] || chown postgres "$folder"
as_owner "$programs/initdb" -D "$folder/data" -U pelk --auth=trust --encoding=UTF8 --locale=C.UTF-8 >/dev/null
as_owner "$programs/pg_ctl" -D "$folder/data" -w -l "$folder/log" \
  -o "-k $folder -c listen_addresses='' -c fsync=off -c max_connections=60" start >/dev/null
trap 'as_owner "$programs/pg_ctl" -D "$folder/data" -m immediate stop >/dev/null; rm -rf "$folder"' EXIT
chmod 755 "$folder"
as_owner "$programs/createdb" -h "$folder" -U pelk pelk
DATABASE_URL="postgres://pelk@/pelk?host=$folder" "$@"
