#!/bin/sh
# A made-up piece of work: takes about so many seconds, and says what it does. $1 seconds, $2 what.
seconds=$1 i=0
echo "$PURSER_RUN, attempt $PURSER_ATTEMPT on $PURSER_HOST"
while [ $i -lt "$seconds" ]; do
  i=$((i + 1))
  [ $((i % 5)) = 0 ] && echo "$(date +%H:%M:%S) $((i * 100 / seconds)) % done"
  sleep 1
done
echo "$2"
