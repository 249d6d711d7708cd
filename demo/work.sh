#!/bin/sh
# A made-up piece of work: takes about so many seconds, and says what it does. $1 seconds, $2 what;
# whatever else, as rows=1200, is handed back.
seconds=$1 what=$2 i=0
shift 2
echo "$PURSER_RUN, attempt $PURSER_ATTEMPT on $PURSER_HOST"
while [ $i -lt "$seconds" ]; do
  i=$((i + 1))
  [ $((i % 5)) = 0 ] && echo "$(date +%H:%M:%S) $((i * 100 / seconds)) % done"
  sleep 1
done
for value in "$@"; do echo "$value" >>"$PURSER_VALUES"; done
echo "$what"
