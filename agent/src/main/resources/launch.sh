#!/bin/sh
# Supervises one attempt and outlives the agent: keeps its output and writes down its exit code.
# $1 the attempt's folder · $2 working directory · $3 command · $4 check before it, or nothing
cd "$1" || exit 1
# Whoever makes this directory first decides: the launcher that the attempt starts, or an agent that
# came back that it never did. So an attempt is started at most once, whoever is killed when.
mkdir claim 2>/dev/null || exit 0
echo $$ >supervisor
# A check that does not end with 0 leaves its mark, and its exit code is the attempt's.
setsid sh -c 'cd "$1" || exit 126
if [ -n "$3" ]; then
  sh -c "$3"
  code=$?
  if [ $code -ne 0 ]; then
    : >"$4/checked"
    exit $code
  fi
fi
exec sh -c "$2"' sh "$2" "$3" "$4" "$1" >>output 2>&1 </dev/null &
group=$!
echo $group >group.new && mv group.new group
wait $group
echo $? >exit.new && mv exit.new exit
