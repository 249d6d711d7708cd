#!/bin/sh
# Plays whoever sends the files: first an empty one, then one that grows, then a whole one. $1 the
# directory, $2 the business date as yyyyMMdd.
dir=$1 date=$2
sleep 75
: >"$dir/berths-$date-1.csv"
sleep 45
i=0
while [ $i -lt 15 ]; do
  echo "berth $i;MV Skerry Light;$date" >>"$dir/berths-$date-1.csv"
  i=$((i + 1))
  sleep 2
done
# later starts of the day wait for files of their own
n=2
while [ $n -lt 7 ]; do
  sleep 840
  echo "berth 1;MV Brannoch;$date" >"$dir/berths-$date-$n.csv"
  n=$((n + 1))
done
