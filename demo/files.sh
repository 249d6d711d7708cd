#!/bin/bash
# Plays whoever sends the files. $1 the directory, $2 the business date as yyyyMMdd, $3 the address
# of the stand-in for an object store.
dir=$1 date=$2 store=$3
mkdir -p "$dir/dues" "$dir/pilots"

note() { # number, tonnage
  printf 'due;MV Skerry Light;tonnage %s\ndue;MV Brannoch;tonnage 1900\nEND 2\n' "$2" >"$dir/dues/note-$1.csv"
}
order() {
  curl -fs -X PUT --data "{\"meals\": $2}" "$store/orders/new/order-$1.json" >/dev/null || true
  curl -fs -X PUT --data "{\"received\": \"order-$1\"}" "$store/orders/receipts/receipt-$1.json" >/dev/null || true
}

# The weather comes in time; of the pilots' reports the third is late.
(
  sleep 20
  echo "wind 4, sea slight" >"$dir/weather-$date.txt"
  sleep 3
  : >"$dir/weather-$date.txt.done"
  echo "6 h" >"$dir/pilots/report-$date-a.txt"
  echo "7 h" >"$dir/pilots/report-$date-b.txt"
  sleep 150
  echo "5 h" >"$dir/pilots/report-$date-c.txt"
) &

# Notes of dues, one after the other: one cannot be read, one comes twice, one is cut off.
(
  sleep 15
  note 101 2400
  sleep 8
  note 102 '?'
  sleep 8
  note 103 3100
  printf 'due;MV Skerry Light;tonn' >"$dir/dues/note-104.csv"
  sleep 40
  note 101 2400
  n=105
  while [ $n -lt 140 ]; do
    sleep 30
    note $n $((1000 + n))
    n=$((n + 1))
  done
) &

# Orders in the object store.
(
  n=1
  while [ $n -lt 40 ]; do
    sleep 25
    order $((200 + n)) $((n * 30))
    n=$((n + 1))
  done
) &

# The berth list: first an empty one, then one that grows, then a whole one.
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
wait
