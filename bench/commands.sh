#!/bin/bash
# What every command takes, beside an empty Java program in the same run. Sourced by bin/bench.
"$ROOT/bin/purser" publish "$ROOT/demo/world" --reason bench >/dev/null
"$ROOT/bin/purser" --make-archive
cat >"$WORK/commands" <<'LIST'
--version
days weekdays --from 2027-01-01 --to 2027-01-31
check demo/world/fleet.yaml demo/world/hosts.yaml
schema
needs
plan
runs --limit 100 --oldest-first
why fleet/rosters/publish-crew
show fleet/rosters/publish-crew
graph passenger/night-manifest
outlook --days 1
streams
next passenger/night-manifest
month
hosts
alerts
audit
calendars
capacity
holds
watches
arrivals
people
tokens
secrets
find manif
doctor
LIST
(cd "$ROOT" && java -cp "$CP" dev.purser.bench.CommandTimes "$ROOT/bin/purser" \
  "$(command -v java) -XX:TieredStopAtLevel=1 -XX:+UseSerialGC -cp $(ls "$ROOT"/bench/target/purser-bench-*.jar | head -1) dev.purser.bench.Empty" \
  "$WORK/commands")
