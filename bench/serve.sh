# Sourced by the commands that measure: a database and a service of their own, to which this shell has
# signed in. Sets WORK, CP (the classes of bench/), ADDRESS, TOKEN, DB_PORT and SERVICE, a process id;
# all of it ends with the shell.
find_java
CP="$ROOT/bench/target/lib/*:$(ls "$ROOT"/bench/target/purser-bench-*.jar | head -1)"
WORK=$(mktemp -d "${TMPDIR:-/tmp}/purser-bench.XXXXXX")
PIDS=()
stop_all() {
  local i
  for ((i = ${#PIDS[@]} - 1; i >= 0; i--)); do
    kill -TERM "${PIDS[i]}" 2>/dev/null || true
    wait "${PIDS[i]}" 2>/dev/null || true
  done
  PIDS=()
}
trap 'stop_all; rm -rf "$WORK"' EXIT

serve() { "$ROOT/bin/service" >"$WORK/service" 2>&1 & SERVICE=$!; PIDS+=($!); }
healthy() { until curl -fs "$ADDRESS/actuator/health" >/dev/null 2>&1; do sleep 0.02; done; }

# agent HOST [FURTHER ARGUMENTS...]: enrols and starts it.
agent() {
  mkdir -p "$WORK/$1"
  "$ROOT/bin/purser" hosts enrol "$1" >"$WORK/$1/token"
  "$ROOT/bin/agent" --service "$ADDRESS" --host "$1" --home "$WORK/$1" --token-file "$WORK/$1/token" "${@:2}" \
    2>"$WORK/$1.log" & PIDS+=($!)
}

PORT=$(free_port); DB_PORT=$(free_port)
start_database "$WORK/database" "$DB_PORT" && PIDS+=("$DATABASE_PID")
export PURSER_DATABASE_URL="jdbc:mariadb://127.0.0.1:$DB_PORT/purser" PURSER_DATABASE_PASSWORD=purser PURSER_PORT=$PORT PURSER_MAY_CALL=127.0.0.1
export BENCH_DESK=made-up-client-secret BENCH_DB=purser # what the benchmark of remote work signs in with
ADDRESS=http://127.0.0.1:$PORT
serve; healthy; sleep 1
sed -n 's/.*one-time password //p' "$WORK/service" >"$WORK/one-time"; echo bench-password-1 >"$WORK/password"
export XDG_CONFIG_HOME="$WORK/config"
"$ROOT/bin/purser" login --service "$ADDRESS" --name admin --password-file "$WORK/one-time" \
  --new-password-file "$WORK/password" >/dev/null
TOKEN=$(sed 's/.*"token":"\([^"]*\)".*/\1/' "$WORK/config/purser/login.json")
